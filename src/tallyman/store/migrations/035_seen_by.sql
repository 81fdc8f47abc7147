-- Who sees a release: the company, one area (and those below it), or its maker alone (a try-out).
ALTER TABLE package_release ADD COLUMN IF NOT EXISTS seen_by VARCHAR(8) NOT NULL DEFAULT 'company';
ALTER TABLE package_release ADD COLUMN IF NOT EXISTS area_id BIGINT NULL;
ALTER TABLE package_release ADD KEY IF NOT EXISTS ix_release_seen (seen_by, area_id);
ALTER TABLE package_release DROP CONSTRAINT IF EXISTS ck_release_seen_by;
ALTER TABLE package_release ADD CONSTRAINT ck_release_seen_by CHECK (
  seen_by IN ('company', 'area', 'maker') AND (area_id IS NOT NULL) = (seen_by LIKE 'area')
);
ALTER TABLE package_release ADD FOREIGN KEY IF NOT EXISTS fk_release_area (area_id) REFERENCES area (id);
-- How many try-outs a package ever had: their numbers are given once.
ALTER TABLE package ADD COLUMN IF NOT EXISTS tryouts INT NOT NULL DEFAULT 0;
-- A builder tries a release of their own with a routine that is the release's; it stands aside like a robot's trial.
ALTER TABLE routine
  ADD COLUMN IF NOT EXISTS tryout_of BIGINT NULL,
  ADD UNIQUE KEY IF NOT EXISTS uq_routine_tryout_of (tryout_of),
  ADD FOREIGN KEY IF NOT EXISTS fk_routine_tryout_of (tryout_of) REFERENCES package_release (id);
ALTER TABLE routine ADD COLUMN IF NOT EXISTS aside BOOLEAN AS (trial_of IS NOT NULL OR tryout_of IS NOT NULL) VIRTUAL;
-- A run that one robot alone may take, because whoever started it chose it.
ALTER TABLE run
  ADD COLUMN IF NOT EXISTS only_robot BIGINT NULL,
  ADD KEY IF NOT EXISTS ix_run_waiting_robot (state, only_robot),
  ADD FOREIGN KEY IF NOT EXISTS fk_run_only_robot (only_robot) REFERENCES robot (id);
-- A try-out takes one of its maker's builder seats, or of a group's: a place of the row that gives it.
ALTER TABLE slot DROP CONSTRAINT IF EXISTS ck_slot_kinds;
ALTER TABLE slot ADD CONSTRAINT IF NOT EXISTS ck_slot_kinds
  CHECK (kind IN ('robot','seat','trial','attended','builder','limit','lock'));
INSERT IGNORE INTO slot (kind, owner_id, n)
SELECT 'builder', v.id, q.seq FROM seat_given v JOIN seq_0_to_9999 q ON q.seq < v.number WHERE v.kind = 'builder';
