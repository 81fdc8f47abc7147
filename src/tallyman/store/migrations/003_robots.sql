-- Areas, hosts, robots, packages, routines, runs.
CREATE TABLE IF NOT EXISTS area (
  id BIGINT AUTO_INCREMENT PRIMARY KEY,
  name VARCHAR(80) NOT NULL,
  parent_id BIGINT NULL,
  UNIQUE KEY uq_area_name (name),
  CONSTRAINT fk_area_parent FOREIGN KEY (parent_id) REFERENCES area (id)
);
CREATE TABLE IF NOT EXISTS area_above (
  area_id BIGINT NOT NULL,
  above_id BIGINT NOT NULL,
  depth INT NOT NULL,
  PRIMARY KEY (area_id, above_id),
  KEY ix_above (above_id, area_id),
  CONSTRAINT fk_above_area FOREIGN KEY (area_id) REFERENCES area (id),
  CONSTRAINT fk_above_above FOREIGN KEY (above_id) REFERENCES area (id)
);
CREATE TABLE IF NOT EXISTS host (
  id BIGINT AUTO_INCREMENT PRIMARY KEY,
  name VARCHAR(80) NOT NULL,
  code_hash CHAR(64) NULL,
  code_until DATETIME(6) NULL,
  token_hash CHAR(64) NULL,
  heard_at DATETIME(6) NULL,
  connected_at DATETIME(6) NULL,
  account VARCHAR(80) NULL,
  facts_json JSON NULL,
  clock_ahead_ms BIGINT NULL,
  silent_told BOOLEAN NOT NULL DEFAULT FALSE,
  seats INT NOT NULL DEFAULT 0,
  made_at DATETIME(6) NOT NULL,
  UNIQUE KEY uq_host_name (name),
  UNIQUE KEY uq_host_code (code_hash),
  UNIQUE KEY uq_host_token (token_hash),
  CONSTRAINT ck_host_seats CHECK (seats BETWEEN 0 AND 200)
);
CREATE TABLE IF NOT EXISTS robot (
  id BIGINT AUTO_INCREMENT PRIMARY KEY,
  name VARCHAR(80) NOT NULL,
  host_id BIGINT NOT NULL,
  tags_json JSON NOT NULL,
  retired_at DATETIME(6) NULL,
  version INT NOT NULL DEFAULT 1,
  made_at DATETIME(6) NOT NULL,
  UNIQUE KEY uq_robot_name (name),
  KEY ix_robot_host (host_id),
  CONSTRAINT fk_robot_host FOREIGN KEY (host_id) REFERENCES host (id)
);
CREATE TABLE IF NOT EXISTS robot_area (
  robot_id BIGINT NOT NULL,
  area_id BIGINT NOT NULL,
  PRIMARY KEY (robot_id, area_id),
  KEY ix_robot_area (area_id),
  CONSTRAINT fk_ra_robot FOREIGN KEY (robot_id) REFERENCES robot (id),
  CONSTRAINT fk_ra_area FOREIGN KEY (area_id) REFERENCES area (id)
);
CREATE TABLE IF NOT EXISTS package (
  id BIGINT AUTO_INCREMENT PRIMARY KEY,
  name VARCHAR(80) NOT NULL,
  made_at DATETIME(6) NOT NULL,
  UNIQUE KEY uq_package_name (name)
);
CREATE TABLE IF NOT EXISTS package_release (
  id BIGINT AUTO_INCREMENT PRIMARY KEY,
  package_id BIGINT NOT NULL,
  version VARCHAR(40) NOT NULL,
  entry VARCHAR(200) NOT NULL,
  about VARCHAR(500) NOT NULL DEFAULT '',
  note VARCHAR(1000) NOT NULL DEFAULT '',
  inputs_json JSON NOT NULL,
  outputs_json JSON NOT NULL,
  tags_json JSON NOT NULL,
  files_json JSON NOT NULL,
  digest CHAR(64) NOT NULL,
  size BIGINT NOT NULL,
  person_id BIGINT NOT NULL,
  at DATETIME(6) NOT NULL,
  UNIQUE KEY uq_release_version (package_id, version),
  KEY ix_release_at (at, id),
  CONSTRAINT fk_release_package FOREIGN KEY (package_id) REFERENCES package (id),
  CONSTRAINT fk_release_file FOREIGN KEY (digest) REFERENCES file_body (digest)
);
CREATE TABLE IF NOT EXISTS routine (
  id BIGINT AUTO_INCREMENT PRIMARY KEY,
  name VARCHAR(120) NOT NULL,
  area_id BIGINT NOT NULL,
  release_id BIGINT NOT NULL,
  inputs_json JSON NOT NULL,
  tags_json JSON NOT NULL,
  priority INT NOT NULL DEFAULT 3,
  run_limit INT NOT NULL DEFAULT 1,
  lease_minutes INT NOT NULL DEFAULT 15,
  limit_minutes INT NOT NULL DEFAULT 60,
  again_after_lost BOOLEAN NOT NULL DEFAULT FALSE,
  on_trial BOOLEAN NOT NULL DEFAULT TRUE,
  live_at DATETIME(6) NULL,
  retired_at DATETIME(6) NULL,
  version INT NOT NULL DEFAULT 1,
  made_by BIGINT NOT NULL,
  made_at DATETIME(6) NOT NULL,
  UNIQUE KEY uq_routine_name (name),
  KEY ix_routine_release (release_id),
  KEY ix_routine_area (area_id),
  CONSTRAINT ck_routine_priority CHECK (priority BETWEEN 1 AND 5),
  CONSTRAINT ck_routine_limit CHECK (run_limit BETWEEN 1 AND 100),
  CONSTRAINT fk_routine_area FOREIGN KEY (area_id) REFERENCES area (id),
  CONSTRAINT fk_routine_release FOREIGN KEY (release_id) REFERENCES package_release (id)
);
CREATE TABLE IF NOT EXISTS counting_point (
  idea_id BIGINT PRIMARY KEY,
  routine_id BIGINT NOT NULL,
  basis VARCHAR(10) NOT NULL,
  count_name VARCHAR(40) NOT NULL DEFAULT '',
  made_at DATETIME(6) NOT NULL,
  UNIQUE KEY uq_counting_routine (routine_id),
  CONSTRAINT ck_counting_basis CHECK (basis IN ('run','count')),
  CONSTRAINT fk_counting_idea FOREIGN KEY (idea_id) REFERENCES idea (id),
  CONSTRAINT fk_counting_routine FOREIGN KEY (routine_id) REFERENCES routine (id)
);
CREATE TABLE IF NOT EXISTS clock_trigger (
  id BIGINT AUTO_INCREMENT PRIMARY KEY,
  routine_id BIGINT NOT NULL,
  expression VARCHAR(300) NOT NULL,
  zone VARCHAR(60) NOT NULL,
  on_closed VARCHAR(10) NOT NULL DEFAULT 'run',
  next_at DATETIME(6) NULL,
  next_nominal DATETIME(6) NULL,
  retired_at DATETIME(6) NULL,
  version INT NOT NULL DEFAULT 1,
  made_by BIGINT NOT NULL,
  made_at DATETIME(6) NOT NULL,
  CONSTRAINT ck_trigger_closed CHECK (on_closed IN ('run','skip','next','previous')),
  KEY ix_trigger_next (next_at, id),
  KEY ix_trigger_routine (routine_id, id),
  CONSTRAINT fk_trigger_routine FOREIGN KEY (routine_id) REFERENCES routine (id)
);
CREATE TABLE IF NOT EXISTS run (
  id BIGINT AUTO_INCREMENT PRIMARY KEY,
  routine_id BIGINT NOT NULL,
  release_id BIGINT NOT NULL,
  trigger_id BIGINT NULL,
  nominal_at DATETIME(6) NULL,
  started_by BIGINT NULL,
  started_words VARCHAR(200) NOT NULL,
  again_of BIGINT NULL,
  trial BOOLEAN NOT NULL,
  due_at DATETIME(6) NOT NULL,
  order_at DATETIME(6) NOT NULL,
  lapses_at DATETIME(6) NULL,
  state VARCHAR(10) NOT NULL,
  outcome VARCHAR(10) NULL,
  reason VARCHAR(1000) NOT NULL DEFAULT '',
  robot_id BIGINT NULL,
  host_id BIGINT NULL,
  fence INT NOT NULL DEFAULT 0,
  lease_until DATETIME(6) NULL,
  cancel_at DATETIME(6) NULL,
  cancel_by BIGINT NULL,
  inputs_json JSON NOT NULL,
  outputs_json JSON NULL,
  counts_json JSON NULL,
  made_at DATETIME(6) NOT NULL,
  started_at DATETIME(6) NULL,
  ended_at DATETIME(6) NULL,
  changed_at DATETIME(6) NOT NULL,
  UNIQUE KEY uq_run_nominal (trigger_id, nominal_at),
  UNIQUE KEY uq_run_again (again_of),
  KEY ix_run_queue (state, order_at, id),
  KEY ix_run_state (state, id),
  KEY ix_run_routine (routine_id, id),
  KEY ix_run_routine_state (routine_id, state, id),
  KEY ix_run_robot (robot_id, state),
  KEY ix_run_host (host_id, state),
  KEY ix_run_lease (state, lease_until),
  KEY ix_run_lapse (state, lapses_at),
  CONSTRAINT ck_run_state CHECK (state IN ('waiting','running','held','done','failed','cancelled','lapsed','lost')),
  CONSTRAINT ck_run_outcome CHECK (outcome IS NULL OR outcome IN ('worked','nothing')),
  CONSTRAINT fk_run_routine FOREIGN KEY (routine_id) REFERENCES routine (id),
  CONSTRAINT fk_run_release FOREIGN KEY (release_id) REFERENCES package_release (id),
  CONSTRAINT fk_run_robot FOREIGN KEY (robot_id) REFERENCES robot (id)
) AUTO_INCREMENT = 10001;
CREATE TABLE IF NOT EXISTS slot (
  kind VARCHAR(10) NOT NULL,
  owner_id BIGINT NOT NULL,
  n INT NOT NULL,
  run_id BIGINT NULL,
  PRIMARY KEY (kind, owner_id, n),
  KEY ix_slot_run (run_id),
  CONSTRAINT ck_slot_kind CHECK (kind IN ('robot','seat','limit'))
);
CREATE TABLE IF NOT EXISTS run_step (
  run_id BIGINT NOT NULL,
  n INT NOT NULL,
  name VARCHAR(200) NOT NULL,
  started_at DATETIME(6) NOT NULL,
  ended_at DATETIME(6) NULL,
  fault VARCHAR(1000) NULL,
  data_in_json JSON NULL,
  data_out_json JSON NULL,
  PRIMARY KEY (run_id, n),
  CONSTRAINT fk_step_run FOREIGN KEY (run_id) REFERENCES run (id)
);
CREATE TABLE IF NOT EXISTS run_report (
  run_id BIGINT NOT NULL,
  fence INT NOT NULL,
  seq INT NOT NULL,
  at DATETIME(6) NOT NULL,
  lines_total INT NOT NULL,
  lines_packed MEDIUMBLOB NOT NULL,
  PRIMARY KEY (run_id, fence, seq),
  CONSTRAINT fk_report_run FOREIGN KEY (run_id) REFERENCES run (id)
);
