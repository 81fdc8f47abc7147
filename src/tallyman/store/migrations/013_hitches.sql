-- What a loop of the engine could not do: one table for every loop. Only additions: processes of the
-- release before go on counting in `effect` and `mail`, whose `tries` and `fault` are not read any more.
CREATE TABLE IF NOT EXISTS hitch (
  id BIGINT AUTO_INCREMENT PRIMARY KEY,
  work VARCHAR(40) NOT NULL,
  -- Compared as it is, whatever the words of the other side are compared by.
  row_key VARCHAR(160) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NOT NULL,
  object VARCHAR(60) NOT NULL DEFAULT '',
  about VARCHAR(250) NOT NULL DEFAULT '',
  tries INT NOT NULL,
  first_at DATETIME(6) NOT NULL,
  last_at DATETIME(6) NOT NULL,
  due_at DATETIME(6) NOT NULL,
  stuck BOOLEAN NOT NULL DEFAULT FALSE,
  fault VARCHAR(500) NOT NULL,
  aside_at DATETIME(6) NULL,
  aside_by BIGINT NULL,
  aside_why VARCHAR(500) NULL,
  UNIQUE KEY uq_hitch_row (work, row_key),
  KEY ix_hitch_open (aside_at, id),
  KEY ix_hitch_due (due_at),
  CONSTRAINT fk_hitch_person FOREIGN KEY (aside_by) REFERENCES person (id)
);
-- Which engine hands a mail over, and until when it may take for it.
ALTER TABLE mail
  ADD COLUMN IF NOT EXISTS claimed_by CHAR(32) NULL,
  ADD COLUMN IF NOT EXISTS claimed_at DATETIME(6) NULL,
  ADD COLUMN IF NOT EXISTS claimed_until DATETIME(6) NULL,
  ADD COLUMN IF NOT EXISTS dropped_at DATETIME(6) NULL;
-- What was given up before there was one table for it.
INSERT IGNORE INTO hitch (work, row_key, object, tries, first_at, last_at, due_at, stuck, fault, aside_at, aside_by, aside_why)
SELECT 'effects', CONCAT(object, ' #', id), object, tries, made_at, done_at, '9999-12-31', TRUE, COALESCE(fault, ''), done_at, aside_by,
  COALESCE(aside_why, '') FROM effect WHERE aside_by IS NOT NULL;
