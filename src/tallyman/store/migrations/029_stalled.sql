-- A run that reports nothing and uses no processor: since when it is called stalled; and the longest silence it had.
ALTER TABLE run
  ADD COLUMN IF NOT EXISTS stalled_at DATETIME(6) NULL,
  ADD COLUMN IF NOT EXISTS longest_quiet_s INT NULL;
