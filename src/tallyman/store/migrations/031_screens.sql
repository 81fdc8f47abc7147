-- Whether a picture of the screen is taken when a run of an area stalls; and the picture of each such run.
ALTER TABLE area ADD COLUMN IF NOT EXISTS screens BOOLEAN NOT NULL DEFAULT FALSE;
CREATE TABLE IF NOT EXISTS run_screen (
  run_id BIGINT PRIMARY KEY,
  stalled_at DATETIME(6) NOT NULL,
  at DATETIME(6) NOT NULL,
  digest CHAR(64) NULL,
  said VARCHAR(300) NOT NULL DEFAULT '',
  KEY ix_screen_digest (digest),
  CONSTRAINT fk_screen_run FOREIGN KEY (run_id) REFERENCES run (id),
  CONSTRAINT fk_screen_file FOREIGN KEY (digest) REFERENCES file_body (digest)
);
