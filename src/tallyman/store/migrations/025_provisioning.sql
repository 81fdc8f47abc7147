-- What a runner tells of its host beside being there: the last reading, and one row every five minutes of those.
ALTER TABLE host
  ADD COLUMN IF NOT EXISTS read_at DATETIME(6) NULL,
  ADD COLUMN IF NOT EXISTS disk_free_mb BIGINT NULL,
  ADD COLUMN IF NOT EXISTS apps_json JSON NULL,
  ADD COLUMN IF NOT EXISTS known_json JSON NULL,
  ADD COLUMN IF NOT EXISTS revoked_at DATETIME(6) NULL;
CREATE TABLE IF NOT EXISTS host_reading (
  host_id BIGINT NOT NULL,
  at DATETIME(6) NOT NULL,
  cpu_percent DECIMAL(5,1) NULL,
  memory_free_mb BIGINT NULL,
  disk_free_mb BIGINT NULL,
  clock_ahead_ms BIGINT NULL,
  screen VARCHAR(20) NOT NULL DEFAULT '',
  PRIMARY KEY (host_id, at),
  KEY ix_reading_at (at),
  CONSTRAINT fk_reading_host FOREIGN KEY (host_id) REFERENCES host (id)
);
-- The password of a run-as account on a host: where it is kept, and how a sign-in with it went there.
CREATE TABLE IF NOT EXISTS host_account (
  host_id BIGINT NOT NULL,
  account VARCHAR(40) NOT NULL,
  secret_id BIGINT NOT NULL,
  asked_at DATETIME(6) NOT NULL,
  fetched_at DATETIME(6) NULL,
  for_version INT NULL,
  answered_at DATETIME(6) NULL,
  proved BOOLEAN NULL,
  said VARCHAR(300) NOT NULL DEFAULT '',
  PRIMARY KEY (host_id, account),
  KEY ix_account_secret (secret_id),
  CONSTRAINT fk_account_host FOREIGN KEY (host_id) REFERENCES host (id),
  CONSTRAINT fk_account_secret FOREIGN KEY (secret_id) REFERENCES secret (id)
);
-- When a robot's host or account changed last: a trial run from before does not count.
ALTER TABLE robot ADD COLUMN IF NOT EXISTS set_up_at DATETIME(6) NULL;
-- What a routine asks of a host beside tags; and the routine of a robot's own trial runs.
ALTER TABLE routine
  ADD COLUMN IF NOT EXISTS asked_json JSON NULL,
  ADD COLUMN IF NOT EXISTS trial_of BIGINT NULL,
  ADD UNIQUE KEY IF NOT EXISTS uq_routine_trial_of (trial_of),
  ADD FOREIGN KEY IF NOT EXISTS fk_routine_trial_of (trial_of) REFERENCES robot (id);
