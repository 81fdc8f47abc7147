-- Runs that somebody started together: several times the same, or one for each row of a table; with the rows that were refused.
CREATE TABLE IF NOT EXISTS run_group (
  id BIGINT AUTO_INCREMENT PRIMARY KEY,
  routine_id BIGINT NOT NULL,
  person_id BIGINT NULL,
  words VARCHAR(200) NOT NULL,
  refused_json JSON NOT NULL,
  made_at DATETIME(6) NOT NULL,
  KEY ix_group_routine (routine_id, id),
  CONSTRAINT fk_group_routine FOREIGN KEY (routine_id) REFERENCES routine (id),
  CONSTRAINT fk_group_person FOREIGN KEY (person_id) REFERENCES person (id)
);
-- Of which group a run is, and which one of it: the line of the table, or the number of times.
ALTER TABLE run
  ADD COLUMN IF NOT EXISTS group_id BIGINT NULL,
  ADD COLUMN IF NOT EXISTS group_line INT NULL,
  ADD KEY IF NOT EXISTS ix_run_group (group_id, group_line),
  ADD FOREIGN KEY IF NOT EXISTS fk_run_group (group_id) REFERENCES run_group (id);
