-- Where work belongs is a tree: divisions lie below others, are moved, and go into others.
-- Processes of the release before add divisions at the top, where names stay apart.
ALTER TABLE division
  ADD COLUMN IF NOT EXISTS parent_id BIGINT NULL,
  ADD COLUMN IF NOT EXISTS parent_key BIGINT NOT NULL DEFAULT 0,
  ADD COLUMN IF NOT EXISTS merged_into BIGINT NULL,
  DROP INDEX IF EXISTS uq_division_name,
  ADD UNIQUE INDEX IF NOT EXISTS uq_division_place (parent_key, name),
  ADD INDEX IF NOT EXISTS ix_division_parent (parent_id),
  ADD FOREIGN KEY IF NOT EXISTS fk_division_parent (parent_id) REFERENCES division (id),
  ADD FOREIGN KEY IF NOT EXISTS fk_division_merged (merged_into) REFERENCES division (id);
