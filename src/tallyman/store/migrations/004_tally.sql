-- The ledger: months, entries, and what a caution says about them.
CREATE TABLE IF NOT EXISTS tally_month (
  month CHAR(7) PRIMARY KEY,
  state VARCHAR(10) NOT NULL DEFAULT 'open',
  closed_by BIGINT NULL,
  closed_at DATETIME(6) NULL,
  CONSTRAINT ck_month_state CHECK (state IN ('open','closed'))
);
CREATE TABLE IF NOT EXISTS tally_entry (
  id BIGINT AUTO_INCREMENT PRIMARY KEY,
  source VARCHAR(40) NOT NULL,
  line VARCHAR(40) NOT NULL,
  correction INT NOT NULL DEFAULT 0,
  month CHAR(7) NOT NULL,
  belongs_to CHAR(7) NOT NULL,
  idea_id BIGINT NULL,
  routine_id BIGINT NOT NULL,
  run_id BIGINT NULL,
  area_id BIGINT NOT NULL,
  units DECIMAL(18,6) NOT NULL,
  hours DECIMAL(18,6) NOT NULL,
  money DECIMAL(18,6) NOT NULL,
  rates_json JSON NOT NULL,
  at DATETIME(6) NOT NULL,
  posted_at DATETIME(6) NOT NULL,
  UNIQUE KEY uq_entry_source (source, line, correction),
  KEY ix_entry_idea (idea_id, month, id),
  KEY ix_entry_month (month, id),
  KEY ix_entry_run (run_id),
  KEY ix_entry_routine (routine_id, month),
  CONSTRAINT fk_entry_month FOREIGN KEY (month) REFERENCES tally_month (month)
);
CREATE TABLE IF NOT EXISTS tally_caution (
  run_id BIGINT PRIMARY KEY,
  words VARCHAR(500) NOT NULL,
  at DATETIME(6) NOT NULL
);
CREATE TABLE IF NOT EXISTS tally_sum (
  month CHAR(7) NOT NULL,
  idea_id BIGINT NOT NULL,
  line VARCHAR(40) NOT NULL,
  units DECIMAL(24,6) NOT NULL,
  hours DECIMAL(24,6) NOT NULL,
  money DECIMAL(24,6) NOT NULL,
  entries BIGINT NOT NULL,
  PRIMARY KEY (idea_id, month, line),
  KEY ix_sum_month (month, idea_id)
);
