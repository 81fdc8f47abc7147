-- Which release a routine has had since when, by whom and why: the marks in its pictures over time.
CREATE TABLE IF NOT EXISTS routine_release (
  id BIGINT AUTO_INCREMENT PRIMARY KEY,
  routine_id BIGINT NOT NULL,
  release_id BIGINT NOT NULL,
  rollout_id BIGINT NULL,
  person_id BIGINT NULL,
  why VARCHAR(500) NOT NULL DEFAULT '',
  since DATETIME(6) NOT NULL,
  KEY ix_routine_release (routine_id, since, id),
  CONSTRAINT fk_routine_release_routine FOREIGN KEY (routine_id) REFERENCES routine (id),
  CONSTRAINT fk_routine_release_release FOREIGN KEY (release_id) REFERENCES package_release (id)
);
-- Of routines from before: each release since its first run, and the one of now at least since the routine is there.
INSERT INTO routine_release (routine_id, release_id, since)
SELECT r.routine_id, r.release_id, MIN(r.made_at) AS since FROM run r
WHERE NOT EXISTS (SELECT 1 FROM routine_release h WHERE h.routine_id = r.routine_id)
GROUP BY r.routine_id, r.release_id ORDER BY since;
INSERT INTO routine_release (routine_id, release_id, person_id, since)
SELECT o.id, o.release_id, o.made_by, o.made_at FROM routine o
WHERE NOT EXISTS (SELECT 1 FROM routine_release h WHERE h.routine_id = o.id);
-- A release takes another's place in some routines: at once, on trial, or in stages.
CREATE TABLE IF NOT EXISTS rollout (
  id BIGINT AUTO_INCREMENT PRIMARY KEY,
  release_id BIGINT NOT NULL,
  how VARCHAR(10) NOT NULL,
  why VARCHAR(500) NOT NULL,
  first_robot BIGINT NULL,
  first_area BIGINT NULL,
  good_wanted INT NOT NULL DEFAULT 0,
  bad_allowed INT NOT NULL DEFAULT 0,
  state VARCHAR(10) NOT NULL,
  person_id BIGINT NOT NULL,
  made_at DATETIME(6) NOT NULL,
  ended_at DATETIME(6) NULL,
  ended_by BIGINT NULL,
  ended_words VARCHAR(500) NOT NULL DEFAULT '',
  KEY ix_rollout_state (state, id),
  KEY ix_rollout_release (release_id, id),
  KEY ix_rollout_robot (first_robot, state),
  CONSTRAINT ck_rollout_how CHECK (how IN ('at once', 'on trial', 'staged')),
  CONSTRAINT ck_rollout_state CHECK (state IN ('under way', 'done', 'gone back')),
  CONSTRAINT fk_rollout_release FOREIGN KEY (release_id) REFERENCES package_release (id),
  CONSTRAINT fk_rollout_robot FOREIGN KEY (first_robot) REFERENCES robot (id),
  CONSTRAINT fk_rollout_area FOREIGN KEY (first_area) REFERENCES area (id),
  CONSTRAINT fk_rollout_person FOREIGN KEY (person_id) REFERENCES person (id)
);
-- One routine of it: what it had, what it gets, and what became of it. `open_routine` holds it while the roll-out is under way.
CREATE TABLE IF NOT EXISTS rollout_routine (
  id BIGINT AUTO_INCREMENT PRIMARY KEY,
  rollout_id BIGINT NOT NULL,
  routine_id BIGINT NOT NULL,
  open_routine BIGINT NULL,
  goes_first BOOLEAN NOT NULL,
  state VARCHAR(10) NOT NULL,
  words VARCHAR(500) NOT NULL DEFAULT '',
  old_release BIGINT NOT NULL,
  old_inputs_json JSON NOT NULL,
  new_inputs_json JSON NOT NULL,
  was_on_trial BOOLEAN NOT NULL,
  changed_at DATETIME(6) NULL,
  KEY ix_rollout_routine (rollout_id, id),
  KEY ix_rollout_of (routine_id, id),
  UNIQUE KEY uq_rollout_open (open_routine),
  CONSTRAINT ck_rollout_part CHECK (state IN ('waits', 'changed', 'back', 'left')),
  CONSTRAINT fk_rollout_part FOREIGN KEY (rollout_id) REFERENCES rollout (id),
  CONSTRAINT fk_rollout_routine FOREIGN KEY (routine_id) REFERENCES routine (id),
  CONSTRAINT fk_rollout_old FOREIGN KEY (old_release) REFERENCES package_release (id)
);
ALTER TABLE routine_release ADD FOREIGN KEY IF NOT EXISTS fk_routine_release_rollout (rollout_id) REFERENCES rollout (id);
ALTER TABLE run ADD KEY IF NOT EXISTS ix_run_routine_started (routine_id, started_at);
