-- Gathering and finding: rule sets with versions, other ways in, notes on files, all text in one place,
-- saved views, thanks, and long work. Only additions: processes of the release before go on as they are.
ALTER TABLE idea
  ADD COLUMN IF NOT EXISTS source VARCHAR(20) NOT NULL DEFAULT 'interview',
  ADD COLUMN IF NOT EXISTS interview VARCHAR(20) NOT NULL DEFAULT 'full',
  ADD COLUMN IF NOT EXISTS factors_version INT NOT NULL DEFAULT 0,
  ADD COLUMN IF NOT EXISTS knows_id BIGINT NULL,
  ADD COLUMN IF NOT EXISTS amends_id BIGINT NULL,
  ADD COLUMN IF NOT EXISTS runs_on VARCHAR(200) NOT NULL DEFAULT '',
  ADD INDEX IF NOT EXISTS ix_idea_source (source, id),
  ADD INDEX IF NOT EXISTS ix_idea_amends (amends_id, id),
  ADD INDEX IF NOT EXISTS ix_idea_since (stage, stage_since, id),
  ADD INDEX IF NOT EXISTS ix_idea_worth (worth, id),
  ADD FOREIGN KEY IF NOT EXISTS fk_idea_knows (knows_id) REFERENCES person (id),
  ADD FOREIGN KEY IF NOT EXISTS fk_idea_amends (amends_id) REFERENCES idea (id);
ALTER TABLE idea_answer
  MODIFY question VARCHAR(60) NOT NULL;
ALTER TABLE idea_file
  ADD COLUMN IF NOT EXISTS title VARCHAR(200) NOT NULL DEFAULT '',
  ADD COLUMN IF NOT EXISTS remark VARCHAR(1000) NOT NULL DEFAULT '',
  ADD COLUMN IF NOT EXISTS looked_into BOOLEAN NOT NULL DEFAULT FALSE,
  ADD INDEX IF NOT EXISTS ix_file_unseen (looked_into, id);
-- What stands in a file, and a picture of it made anew, once per content.
CREATE TABLE IF NOT EXISTS file_view (
  digest CHAR(64) PRIMARY KEY,
  state VARCHAR(10) NOT NULL,
  picture CHAR(64) NULL,
  text MEDIUMTEXT NOT NULL,
  at DATETIME(6) NOT NULL,
  CONSTRAINT ck_view_state CHECK (state IN ('ready','none','failed')),
  CONSTRAINT fk_view_body FOREIGN KEY (digest) REFERENCES file_body (digest)
);
-- All that is written about an idea, for finding it.
CREATE TABLE IF NOT EXISTS idea_text (
  idea_id BIGINT PRIMARY KEY,
  text MEDIUMTEXT NOT NULL,
  FULLTEXT KEY ft_idea_text (text),
  CONSTRAINT fk_text_idea FOREIGN KEY (idea_id) REFERENCES idea (id)
);
-- Systems named on an idea's sizing, for lists.
CREATE TABLE IF NOT EXISTS idea_system (
  idea_id BIGINT NOT NULL,
  name VARCHAR(80) NOT NULL,
  PRIMARY KEY (idea_id, name),
  KEY ix_system_name (name, idea_id),
  CONSTRAINT fk_system_idea FOREIGN KEY (idea_id) REFERENCES idea (id)
);
-- What the lead sets as data: every edit is a version of its own.
CREATE TABLE IF NOT EXISTS rule_set (
  kind VARCHAR(40) NOT NULL,
  version INT NOT NULL,
  content_json JSON NOT NULL,
  note VARCHAR(500) NOT NULL DEFAULT '',
  made_by BIGINT NOT NULL,
  made_at DATETIME(6) NOT NULL,
  PRIMARY KEY (kind, version),
  CONSTRAINT fk_rule_set_by FOREIGN KEY (made_by) REFERENCES person (id)
);
CREATE TABLE IF NOT EXISTS saved_view (
  id BIGINT AUTO_INCREMENT PRIMARY KEY,
  person_id BIGINT NOT NULL,
  list VARCHAR(20) NOT NULL,
  name VARCHAR(60) NOT NULL,
  query VARCHAR(1000) NOT NULL,
  shared BOOLEAN NOT NULL DEFAULT FALSE,
  made_at DATETIME(6) NOT NULL,
  UNIQUE KEY uq_view_name (person_id, list, name),
  KEY ix_view_shared (list, shared, name),
  CONSTRAINT fk_view_person FOREIGN KEY (person_id) REFERENCES person (id)
);
CREATE TABLE IF NOT EXISTS notch (
  id BIGINT AUTO_INCREMENT PRIMARY KEY,
  person_id BIGINT NOT NULL,
  kind VARCHAR(20) NOT NULL,
  idea_id BIGINT NOT NULL,
  first BOOLEAN NOT NULL,
  at DATETIME(6) NOT NULL,
  UNIQUE KEY uq_notch_once (person_id, kind, idea_id),
  KEY ix_notch_at (at, id),
  CONSTRAINT fk_notch_person FOREIGN KEY (person_id) REFERENCES person (id),
  CONSTRAINT fk_notch_idea FOREIGN KEY (idea_id) REFERENCES idea (id)
);
ALTER TABLE person
  ADD COLUMN IF NOT EXISTS thanks_hidden BOOLEAN NOT NULL DEFAULT FALSE;
-- Long work, done by the engine: taken by a lease, with progress and cancel.
CREATE TABLE IF NOT EXISTS errand (
  id BIGINT AUTO_INCREMENT PRIMARY KEY,
  kind VARCHAR(30) NOT NULL,
  person_id BIGINT NOT NULL,
  state VARCHAR(10) NOT NULL,
  done INT NOT NULL DEFAULT 0,
  total INT NOT NULL DEFAULT 0,
  words VARCHAR(500) NOT NULL DEFAULT '',
  input_json JSON NOT NULL,
  holder VARCHAR(40) NULL,
  lease_until DATETIME(6) NULL,
  made_at DATETIME(6) NOT NULL,
  ended_at DATETIME(6) NULL,
  CONSTRAINT ck_errand_state CHECK (state IN ('waiting','running','done','cancelled','failed')),
  KEY ix_errand_state (state, id),
  KEY ix_errand_person (person_id, id),
  CONSTRAINT fk_errand_person FOREIGN KEY (person_id) REFERENCES person (id)
);
-- A spreadsheet as it was read; its lines come in one by one.
CREATE TABLE IF NOT EXISTS idea_sheet (
  id BIGINT AUTO_INCREMENT PRIMARY KEY,
  person_id BIGINT NOT NULL,
  name VARCHAR(200) NOT NULL,
  digest CHAR(64) NOT NULL,
  page VARCHAR(120) NOT NULL DEFAULT '',
  head_json JSON NOT NULL,
  match_json JSON NOT NULL,
  errand_id BIGINT NULL,
  version INT NOT NULL DEFAULT 1,
  made_at DATETIME(6) NOT NULL,
  KEY ix_sheet_person (person_id, id),
  CONSTRAINT fk_sheet_person FOREIGN KEY (person_id) REFERENCES person (id),
  CONSTRAINT fk_sheet_errand FOREIGN KEY (errand_id) REFERENCES errand (id)
);
CREATE TABLE IF NOT EXISTS idea_line (
  sheet_id BIGINT NOT NULL,
  line INT NOT NULL,
  cells_json JSON NOT NULL,
  state VARCHAR(10) NOT NULL DEFAULT 'open',
  idea_id BIGINT NULL,
  said_json JSON NULL,
  PRIMARY KEY (sheet_id, line),
  CONSTRAINT ck_line_state CHECK (state IN ('open','in','here','fault','repeat')),
  KEY ix_line_state (sheet_id, state, line),
  CONSTRAINT fk_line_sheet FOREIGN KEY (sheet_id) REFERENCES idea_sheet (id),
  CONSTRAINT fk_line_idea FOREIGN KEY (idea_id) REFERENCES idea (id)
);
-- What came in from outside, by its own mark, so that it comes in once.
CREATE TABLE IF NOT EXISTS idea_origin (
  mark CHAR(64) PRIMARY KEY,
  idea_id BIGINT NOT NULL,
  at DATETIME(6) NOT NULL,
  KEY ix_origin_idea (idea_id),
  CONSTRAINT fk_origin_idea FOREIGN KEY (idea_id) REFERENCES idea (id)
);
ALTER TABLE idea_stage
  ADD INDEX IF NOT EXISTS ix_stage_at (at, id);
