-- Claims that a runner confirms, bounded attempts, outcomes that come late, tokens bound to a machine,
-- counts that wait for a yes. Only additions: processes of the release before go on as they are.
ALTER TABLE started_once ADD COLUMN IF NOT EXISTS said_digest CHAR(64) NOT NULL DEFAULT '';
-- Until when a claim waits for its runner to begin it; the state is still waiting.
ALTER TABLE run
  ADD COLUMN IF NOT EXISTS handed_until DATETIME(6) NULL,
  ADD COLUMN IF NOT EXISTS attempt INT NOT NULL DEFAULT 1,
  ADD COLUMN IF NOT EXISTS late_json JSON NULL,
  ADD COLUMN IF NOT EXISTS late_at DATETIME(6) NULL;
ALTER TABLE run ADD KEY IF NOT EXISTS ix_run_handed (handed_until);
ALTER TABLE run ADD KEY IF NOT EXISTS ix_run_late (late_at);
-- Which run an ask for work was given, so that the same ask gets the same again.
CREATE TABLE IF NOT EXISTS run_ask (
  host_id BIGINT NOT NULL,
  ask_key CHAR(32) NOT NULL,
  run_id BIGINT NOT NULL,
  fence INT NOT NULL,
  at DATETIME(6) NOT NULL,
  PRIMARY KEY (host_id, ask_key),
  KEY ix_ask_at (at)
);
-- Which files a host sent here itself: of others it is told nothing, not even that they are here.
CREATE TABLE IF NOT EXISTS host_file (
  host_id BIGINT NOT NULL,
  digest CHAR(64) NOT NULL,
  at DATETIME(6) NOT NULL,
  PRIMARY KEY (host_id, digest),
  KEY ix_host_file_at (at)
);
ALTER TABLE routine ADD COLUMN IF NOT EXISTS most_attempts INT NOT NULL DEFAULT 3;
ALTER TABLE routine ADD CONSTRAINT IF NOT EXISTS ck_routine_attempts CHECK (most_attempts BETWEEN 1 AND 20);
-- What a machine says of itself, by its digest; from where and when its token was used; the token that
-- takes its place once it is used.
ALTER TABLE host
  ADD COLUMN IF NOT EXISTS machine CHAR(64) NOT NULL DEFAULT '',
  ADD COLUMN IF NOT EXISTS token_at DATETIME(6) NULL,
  ADD COLUMN IF NOT EXISTS next_token_hash CHAR(64) NULL,
  ADD COLUMN IF NOT EXISTS used_at DATETIME(6) NULL,
  ADD COLUMN IF NOT EXISTS used_from VARCHAR(60) NOT NULL DEFAULT '',
  ADD COLUMN IF NOT EXISTS told_elsewhere_at DATETIME(6) NULL,
  ADD COLUMN IF NOT EXISTS leaving_at DATETIME(6) NULL;
ALTER TABLE host ADD UNIQUE KEY IF NOT EXISTS uq_host_next_token (next_token_hash);
-- Counts far from the usual: noted, and held from the tally until a person says yes, if the house wants so.
CREATE TABLE IF NOT EXISTS unusual_count (
  run_id BIGINT PRIMARY KEY,
  units DECIMAL(24,6) NOT NULL,
  usual DECIMAL(24,6) NOT NULL,
  held BOOLEAN NOT NULL,
  noted_at DATETIME(6) NOT NULL,
  settled_by BIGINT NULL,
  settled_at DATETIME(6) NULL,
  KEY ix_unusual_open (held, settled_at),
  CONSTRAINT fk_unusual_run FOREIGN KEY (run_id) REFERENCES run (id)
);
