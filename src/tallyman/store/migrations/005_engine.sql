-- Segments, locks, windows, histories of triggers, processes, and the ledger in its final shape.
-- Only additions, so that processes of the release before go on working beside the new ones.
CREATE TABLE IF NOT EXISTS commit_mark (
  token CHAR(32) PRIMARY KEY,
  at DATETIME(6) NOT NULL,
  KEY ix_mark_at (at)
);
CREATE TABLE IF NOT EXISTS process (
  id CHAR(32) PRIMARY KEY,
  kind VARCHAR(10) NOT NULL,
  machine VARCHAR(120) NOT NULL,
  pid INT NOT NULL,
  version VARCHAR(40) NOT NULL,
  started_at DATETIME(6) NOT NULL,
  seen_at DATETIME(6) NOT NULL,
  apart_ms BIGINT NOT NULL DEFAULT 0,
  loops_json JSON NOT NULL,
  KEY ix_process_seen (seen_at)
);
ALTER TABLE effect
  ADD COLUMN IF NOT EXISTS aside_by BIGINT NULL,
  ADD COLUMN IF NOT EXISTS aside_why VARCHAR(500) NULL,
  ADD INDEX IF NOT EXISTS ix_effect_stuck (done_at, tries, id);
-- Once more only while the table has this name.
BEGIN NOT ATOMIC IF EXISTS (SELECT 1 FROM information_schema.tables WHERE table_schema = DATABASE() AND table_name = 'clock_trigger' AND table_type = 'BASE TABLE') THEN ALTER TABLE clock_trigger ADD COLUMN IF NOT EXISTS form_json JSON NULL, ADD COLUMN IF NOT EXISTS window_from CHAR(5) NULL, ADD COLUMN IF NOT EXISTS window_to CHAR(5) NULL, ADD COLUMN IF NOT EXISTS missed VARCHAR(10) NOT NULL DEFAULT 'once', ADD COLUMN IF NOT EXISTS missed_hours INT NOT NULL DEFAULT 24, ADD COLUMN IF NOT EXISTS latest_minutes INT NULL, ADD COLUMN IF NOT EXISTS handled_to DATETIME(6) NULL, ADD CONSTRAINT IF NOT EXISTS ck_trigger_missed CHECK (missed IN ('once','all','skip')); END IF; END;
UPDATE clock_trigger SET form_json = JSON_OBJECT('expr', expression) WHERE form_json IS NULL;
CREATE TABLE IF NOT EXISTS trigger_start (
  id BIGINT AUTO_INCREMENT PRIMARY KEY,
  trigger_id BIGINT NOT NULL,
  nominal_at DATETIME(6) NOT NULL,
  at DATETIME(6) NOT NULL,
  what VARCHAR(10) NOT NULL,
  why VARCHAR(300) NOT NULL DEFAULT '',
  run_id BIGINT NULL,
  noted_at DATETIME(6) NOT NULL,
  UNIQUE KEY uq_trigger_start (trigger_id, nominal_at),
  KEY ix_trigger_start (trigger_id, id),
  CONSTRAINT ck_trigger_start CHECK (what IN ('started','merged','skipped','missed')),
  CONSTRAINT fk_start_trigger FOREIGN KEY (trigger_id) REFERENCES clock_trigger (id)
);
ALTER TABLE run
  ADD COLUMN IF NOT EXISTS segment INT NOT NULL DEFAULT 0,
  ADD COLUMN IF NOT EXISTS pause_at DATETIME(6) NULL,
  ADD COLUMN IF NOT EXISTS pause_by BIGINT NULL,
  ADD COLUMN IF NOT EXISTS held_at DATETIME(6) NULL,
  ADD COLUMN IF NOT EXISTS saved_digest CHAR(64) NULL,
  ADD COLUMN IF NOT EXISTS saved_at DATETIME(6) NULL,
  ADD COLUMN IF NOT EXISTS window_from CHAR(5) NULL,
  ADD COLUMN IF NOT EXISTS window_to CHAR(5) NULL,
  ADD COLUMN IF NOT EXISTS window_zone VARCHAR(60) NULL,
  ADD COLUMN IF NOT EXISTS open_days BOOLEAN NOT NULL DEFAULT FALSE,
  ADD INDEX IF NOT EXISTS ix_run_waiting (state, routine_id, order_at, id);
CREATE TABLE IF NOT EXISTS run_segment (
  run_id BIGINT NOT NULL,
  n INT NOT NULL,
  fence INT NOT NULL,
  robot_id BIGINT NOT NULL,
  host_id BIGINT NOT NULL,
  started_at DATETIME(6) NOT NULL,
  ended_at DATETIME(6) NULL,
  ended_as VARCHAR(10) NULL,
  ask_key CHAR(32) NULL,
  PRIMARY KEY (run_id, n),
  UNIQUE KEY uq_segment_ask (host_id, ask_key),
  KEY ix_segment_robot (robot_id, started_at),
  KEY ix_segment_ended (ended_at),
  CONSTRAINT fk_segment_run FOREIGN KEY (run_id) REFERENCES run (id)
);
CREATE TABLE IF NOT EXISTS named_lock (
  id BIGINT AUTO_INCREMENT PRIMARY KEY,
  name VARCHAR(80) NOT NULL,
  made_at DATETIME(6) NOT NULL,
  UNIQUE KEY uq_lock_name (name)
);
CREATE TABLE IF NOT EXISTS routine_lock (
  routine_id BIGINT NOT NULL,
  lock_id BIGINT NOT NULL,
  PRIMARY KEY (routine_id, lock_id),
  KEY ix_routine_lock (lock_id),
  CONSTRAINT fk_rl_routine FOREIGN KEY (routine_id) REFERENCES routine (id),
  CONSTRAINT fk_rl_lock FOREIGN KEY (lock_id) REFERENCES named_lock (id)
);
ALTER TABLE slot DROP CONSTRAINT IF EXISTS ck_slot_kind;
ALTER TABLE slot ADD CONSTRAINT IF NOT EXISTS ck_slot_kinds CHECK (kind IN ('robot','seat','limit','lock'));
ALTER TABLE host
  ADD COLUMN IF NOT EXISTS hours_from CHAR(5) NULL,
  ADD COLUMN IF NOT EXISTS hours_to CHAR(5) NULL,
  ADD COLUMN IF NOT EXISTS hours_zone VARCHAR(60) NULL,
  ADD COLUMN IF NOT EXISTS accounts_json JSON NULL;
ALTER TABLE robot ADD COLUMN IF NOT EXISTS account VARCHAR(80) NOT NULL DEFAULT '';
ALTER TABLE routine ADD COLUMN IF NOT EXISTS memory_mb INT NOT NULL DEFAULT 1024;
ALTER TABLE package_release
  ADD COLUMN IF NOT EXISTS checkpoints BOOLEAN NOT NULL DEFAULT FALSE,
  ADD COLUMN IF NOT EXISTS wheels_json JSON NULL;
CREATE TABLE IF NOT EXISTS wheel (
  digest CHAR(64) PRIMARY KEY,
  name VARCHAR(200) NOT NULL,
  person_id BIGINT NOT NULL,
  at DATETIME(6) NOT NULL,
  KEY ix_wheel_name (name),
  CONSTRAINT fk_wheel_file FOREIGN KEY (digest) REFERENCES file_body (digest)
);
CREATE TABLE IF NOT EXISTS upload (
  digest CHAR(64) PRIMARY KEY,
  size BIGINT NOT NULL,
  made_at DATETIME(6) NOT NULL,
  KEY ix_upload_made (made_at)
);
CREATE TABLE IF NOT EXISTS upload_chunk (
  digest CHAR(64) NOT NULL,
  n INT NOT NULL,
  data MEDIUMBLOB NOT NULL,
  PRIMARY KEY (digest, n),
  CONSTRAINT fk_upload_chunk FOREIGN KEY (digest) REFERENCES upload (digest)
);
ALTER TABLE tally_entry
  MODIFY COLUMN routine_id BIGINT NULL,
  MODIFY COLUMN area_id BIGINT NULL,
  ADD COLUMN IF NOT EXISTS kind VARCHAR(12) NOT NULL DEFAULT 'run',
  ADD COLUMN IF NOT EXISTS why VARCHAR(300) NOT NULL DEFAULT '',
  ADD COLUMN IF NOT EXISTS facts_json JSON NULL,
  ADD COLUMN IF NOT EXISTS posted_by BIGINT NULL,
  ADD CONSTRAINT IF NOT EXISTS ck_entry_kind CHECK (kind IN ('run','reversal','correction','month end'));
ALTER TABLE tally_month
  ADD COLUMN IF NOT EXISTS month_end_at DATETIME(6) NULL,
  ADD COLUMN IF NOT EXISTS entries BIGINT NULL,
  ADD COLUMN IF NOT EXISTS hours DECIMAL(24,6) NULL,
  ADD COLUMN IF NOT EXISTS money DECIMAL(24,6) NULL;
CREATE TABLE IF NOT EXISTS tally_fix (
  run_id BIGINT PRIMARY KEY,
  units DECIMAL(18,6) NOT NULL,
  handed_back DECIMAL(18,6) NOT NULL,
  why VARCHAR(300) NOT NULL,
  person_id BIGINT NOT NULL,
  at DATETIME(6) NOT NULL,
  CONSTRAINT fk_fix_run FOREIGN KEY (run_id) REFERENCES run (id)
);
