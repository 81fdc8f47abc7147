-- A host in maintenance: what runs goes on to its end, nothing new is taken; until a time, or until somebody ends it.
ALTER TABLE host
  ADD COLUMN IF NOT EXISTS maintenance_at DATETIME(6) NULL,
  ADD COLUMN IF NOT EXISTS maintenance_until DATETIME(6) NULL,
  ADD COLUMN IF NOT EXISTS maintenance_why VARCHAR(200) NOT NULL DEFAULT '';
