-- The address under which other programs start a routine: its token (by digest alone), from where, and how often.
CREATE TABLE IF NOT EXISTS start_address (
  routine_id BIGINT PRIMARY KEY,
  token_digest CHAR(64) NOT NULL,
  token_end CHAR(4) NOT NULL,
  old_digest CHAR(64) NULL,
  old_until DATETIME(6) NULL,
  networks_json JSON NOT NULL,
  a_minute INT NOT NULL DEFAULT 60,
  made_by BIGINT NOT NULL,
  made_at DATETIME(6) NOT NULL,
  version INT NOT NULL DEFAULT 1,
  UNIQUE KEY uq_address_token (token_digest),
  CONSTRAINT ck_address_minute CHECK (a_minute BETWEEN 1 AND 600),
  CONSTRAINT fk_address_routine FOREIGN KEY (routine_id) REFERENCES routine (id),
  CONSTRAINT fk_address_person FOREIGN KEY (made_by) REFERENCES person (id)
);
-- Each call: from where, what it started, or why it was refused.
CREATE TABLE IF NOT EXISTS start_call (
  id BIGINT AUTO_INCREMENT PRIMARY KEY,
  routine_id BIGINT NOT NULL,
  at DATETIME(6) NOT NULL,
  came_from VARCHAR(45) NOT NULL,
  outcome VARCHAR(10) NOT NULL,
  why VARCHAR(500) NOT NULL DEFAULT '',
  run_id BIGINT NULL,
  KEY ix_call_routine (routine_id, id),
  KEY ix_call_pace (routine_id, at),
  KEY ix_call_at (at),
  CONSTRAINT ck_call_outcome CHECK (outcome IN ('started', 'repeated', 'refused')),
  CONSTRAINT fk_call_routine FOREIGN KEY (routine_id) REFERENCES routine (id),
  CONSTRAINT fk_call_run FOREIGN KEY (run_id) REFERENCES run (id)
);
-- Where the end of a run is told, if whoever called asked for that.
CREATE TABLE IF NOT EXISTS run_call_back (
  run_id BIGINT PRIMARY KEY,
  address VARCHAR(500) NOT NULL,
  state VARCHAR(10) NOT NULL DEFAULT 'waits',
  words VARCHAR(500) NOT NULL DEFAULT '',
  claim CHAR(32) NULL,
  claimed_at DATETIME(6) NULL,
  sent_at DATETIME(6) NULL,
  KEY ix_call_back (state, run_id),
  CONSTRAINT ck_call_back_state CHECK (state IN ('waits', 'sent', 'given up')),
  CONSTRAINT fk_call_back_run FOREIGN KEY (run_id) REFERENCES run (id)
);
