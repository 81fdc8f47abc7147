-- What work took before and after something was done about it, each with its evidence; the newest of each counts.
CREATE TABLE IF NOT EXISTS idea_measured (
  id BIGINT AUTO_INCREMENT PRIMARY KEY,
  idea_id BIGINT NOT NULL,
  phase VARCHAR(10) NOT NULL,
  minutes DECIMAL(18,6) NOT NULL,
  items INT NULL,
  measured_on DATE NOT NULL,
  evidence VARCHAR(1000) NOT NULL,
  person_id BIGINT NOT NULL,
  at DATETIME(6) NOT NULL,
  KEY ix_measured_idea (idea_id, phase, id),
  CONSTRAINT ck_measured_phase CHECK (phase IN ('before','after')),
  CONSTRAINT fk_measured_idea FOREIGN KEY (idea_id) REFERENCES idea (id),
  CONSTRAINT fk_measured_person FOREIGN KEY (person_id) REFERENCES person (id)
);
-- How many units something in service did in a span of days of one month, while no routine counts for it.
CREATE TABLE IF NOT EXISTS idea_count (
  id BIGINT AUTO_INCREMENT PRIMARY KEY,
  idea_id BIGINT NOT NULL,
  first_on DATE NOT NULL,
  last_on DATE NOT NULL,
  units DECIMAL(18,6) NOT NULL,
  evidence VARCHAR(1000) NOT NULL,
  source VARCHAR(20) NOT NULL,
  person_id BIGINT NOT NULL,
  at DATETIME(6) NOT NULL,
  taken_back_at DATETIME(6) NULL,
  KEY ix_count_idea (idea_id, first_on),
  KEY ix_count_since (last_on, idea_id),
  CONSTRAINT ck_count_source CHECK (source IN ('by hand','a list','a program')),
  CONSTRAINT fk_count_idea FOREIGN KEY (idea_id) REFERENCES idea (id),
  CONSTRAINT fk_count_person FOREIGN KEY (person_id) REFERENCES person (id)
);
ALTER TABLE tally_entry DROP CONSTRAINT IF EXISTS ck_entry_kind;
ALTER TABLE tally_entry
  ADD CONSTRAINT ck_entry_kind CHECK (kind IN ('run','reversal','correction','month end','by hand'));
