-- What nobody needs any more goes out of use and stays on record; its name is free for another.
ALTER TABLE host
  ADD COLUMN IF NOT EXISTS retired_at DATETIME(6) NULL,
  ADD COLUMN IF NOT EXISTS name_in_use VARCHAR(80) AS (IF(retired_at IS NULL, name, NULL)) PERSISTENT INVISIBLE,
  DROP INDEX IF EXISTS uq_host_name, ADD UNIQUE KEY uq_host_name (name_in_use);
ALTER TABLE robot
  ADD COLUMN IF NOT EXISTS name_in_use VARCHAR(80) AS (IF(retired_at IS NULL, name, NULL)) PERSISTENT INVISIBLE,
  DROP INDEX IF EXISTS uq_robot_name, ADD UNIQUE KEY uq_robot_name (name_in_use);
ALTER TABLE routine
  ADD COLUMN IF NOT EXISTS name_in_use VARCHAR(120) AS (IF(retired_at IS NULL, name, NULL)) PERSISTENT INVISIBLE,
  DROP INDEX IF EXISTS uq_routine_name, ADD UNIQUE KEY uq_routine_name (name_in_use);
ALTER TABLE package_release ADD COLUMN IF NOT EXISTS retired_at DATETIME(6) NULL;
-- A routine that is retired counted until then; another may count for its idea from then on.
ALTER TABLE counting_point
  ADD COLUMN IF NOT EXISTS ended_at DATETIME(6) NULL,
  ADD COLUMN IF NOT EXISTS counts_for BIGINT AS (IF(ended_at IS NULL, idea_id, NULL)) PERSISTENT INVISIBLE,
  ADD INDEX IF NOT EXISTS ix_counting_idea (idea_id),
  DROP INDEX IF EXISTS uq_counting_now, ADD UNIQUE KEY uq_counting_now (counts_for),
  DROP INDEX IF EXISTS uq_counting_routine, DROP PRIMARY KEY, ADD PRIMARY KEY (routine_id);
-- A proposed rate that another one takes the place of.
ALTER TABLE rate DROP CONSTRAINT IF EXISTS ck_rate_state;
ALTER TABLE rate ADD CONSTRAINT ck_rate_state CHECK (state IN ('proposed','approved','refused','withdrawn'));
