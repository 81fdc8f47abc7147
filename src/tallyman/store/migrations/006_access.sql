-- Roles by area, groups, invitations, sign-ins, requests, the safe, tokens, mail choices, seals of the audit trail.
-- Only additions: processes of the release before go on reading person_role, which is not written any more.
CREATE TABLE IF NOT EXISTS role (
  id BIGINT AUTO_INCREMENT PRIMARY KEY,
  name VARCHAR(60) NOT NULL,
  about VARCHAR(300) NOT NULL DEFAULT '',
  built_in BOOLEAN NOT NULL DEFAULT FALSE,
  permissions_json JSON NOT NULL,
  copied_from VARCHAR(60) NOT NULL DEFAULT '',
  second_factor BOOLEAN NOT NULL DEFAULT FALSE,
  version INT NOT NULL DEFAULT 1,
  made_by BIGINT NULL,
  made_at DATETIME(6) NOT NULL,
  retired_at DATETIME(6) NULL,
  UNIQUE KEY uq_role_name (name)
);
INSERT IGNORE INTO role (name, built_in, permissions_json, made_at) VALUES
  ('proposer', TRUE, '[]', '2026-01-01'), ('work owner', TRUE, '[]', '2026-01-01'), ('expert', TRUE, '[]', '2026-01-01'),
  ('reviewer', TRUE, '[]', '2026-01-01'), ('analyst', TRUE, '[]', '2026-01-01'), ('builder', TRUE, '[]', '2026-01-01'),
  ('operator', TRUE, '[]', '2026-01-01'), ('lead', TRUE, '[]', '2026-01-01'), ('backer', TRUE, '[]', '2026-01-01');
CREATE TABLE IF NOT EXISTS person_group (
  id BIGINT AUTO_INCREMENT PRIMARY KEY,
  name VARCHAR(80) NOT NULL,
  about VARCHAR(300) NOT NULL DEFAULT '',
  claim VARCHAR(120) NULL,
  version INT NOT NULL DEFAULT 1,
  made_at DATETIME(6) NOT NULL,
  retired_at DATETIME(6) NULL,
  UNIQUE KEY uq_group_name (name),
  UNIQUE KEY uq_group_claim (claim)
);
CREATE TABLE IF NOT EXISTS group_member (
  group_id BIGINT NOT NULL,
  person_id BIGINT NOT NULL,
  by_claim BOOLEAN NOT NULL DEFAULT FALSE,
  at DATETIME(6) NOT NULL,
  PRIMARY KEY (group_id, person_id),
  KEY ix_member_person (person_id),
  CONSTRAINT fk_member_group FOREIGN KEY (group_id) REFERENCES person_group (id),
  CONSTRAINT fk_member_person FOREIGN KEY (person_id) REFERENCES person (id)
);
CREATE TABLE IF NOT EXISTS held_role (
  id BIGINT AUTO_INCREMENT PRIMARY KEY,
  role_id BIGINT NOT NULL,
  person_id BIGINT NULL,
  group_id BIGINT NULL,
  area_id BIGINT NULL,
  holder VARCHAR(30) NOT NULL,
  area_key BIGINT NOT NULL DEFAULT 0,
  given_by BIGINT NULL,
  at DATETIME(6) NOT NULL,
  UNIQUE KEY uq_held (role_id, holder, area_key),
  KEY ix_held_person (person_id),
  KEY ix_held_group (group_id),
  KEY ix_held_area (area_id),
  CONSTRAINT ck_held_one CHECK ((person_id IS NULL) <> (group_id IS NULL)),
  CONSTRAINT fk_held_role FOREIGN KEY (role_id) REFERENCES role (id),
  CONSTRAINT fk_held_person FOREIGN KEY (person_id) REFERENCES person (id),
  CONSTRAINT fk_held_group FOREIGN KEY (group_id) REFERENCES person_group (id),
  CONSTRAINT fk_held_area FOREIGN KEY (area_id) REFERENCES area (id)
);
INSERT IGNORE INTO held_role (role_id, person_id, holder, at)
SELECT r.id, p.person_id, CONCAT('person:', p.person_id), '2026-01-01' FROM person_role p JOIN role r ON r.name = p.role;
ALTER TABLE person
  ADD COLUMN IF NOT EXISTS state VARCHAR(10) NOT NULL DEFAULT 'active',
  ADD COLUMN IF NOT EXISTS locale VARCHAR(12) NOT NULL DEFAULT 'en-GB',
  ADD COLUMN IF NOT EXISTS mail_json JSON NULL,
  ADD COLUMN IF NOT EXISTS away_from DATE NULL,
  ADD COLUMN IF NOT EXISTS away_until DATE NULL,
  ADD COLUMN IF NOT EXISTS stand_in_id BIGINT NULL,
  ADD COLUMN IF NOT EXISTS outside_id VARCHAR(190) NULL,
  ADD COLUMN IF NOT EXISTS left_at DATETIME(6) NULL,
  ADD COLUMN IF NOT EXISTS version INT NOT NULL DEFAULT 1,
  ADD UNIQUE INDEX IF NOT EXISTS uq_person_outside (outside_id),
  ADD INDEX IF NOT EXISTS ix_person_stand_in (stand_in_id, away_until),
  ADD INDEX IF NOT EXISTS ix_person_name (name, id),
  ADD CONSTRAINT IF NOT EXISTS ck_person_state CHECK (state IN ('invited','active','left','erased'));
ALTER TABLE session
  ADD COLUMN IF NOT EXISTS address VARCHAR(60) NOT NULL DEFAULT '-',
  ADD COLUMN IF NOT EXISTS agent VARCHAR(200) NOT NULL DEFAULT '',
  ADD COLUMN IF NOT EXISTS how VARCHAR(20) NOT NULL DEFAULT 'password',
  ADD INDEX IF NOT EXISTS ix_session_person (person_id, ends_at);
CREATE TABLE IF NOT EXISTS link (
  id BIGINT AUTO_INCREMENT PRIMARY KEY,
  kind VARCHAR(20) NOT NULL,
  person_id BIGINT NOT NULL,
  made_by BIGINT NULL,
  made_at DATETIME(6) NOT NULL,
  ends_at DATETIME(6) NOT NULL,
  used_at DATETIME(6) NULL,
  KEY ix_link_person (person_id, kind, id),
  CONSTRAINT ck_link_kind CHECK (kind IN ('invitation','password')),
  CONSTRAINT fk_link_person FOREIGN KEY (person_id) REFERENCES person (id)
);
CREATE TABLE IF NOT EXISTS sign_in_step (
  token_hash CHAR(64) PRIMARY KEY,
  person_id BIGINT NOT NULL,
  how VARCHAR(20) NOT NULL,
  tries INT NOT NULL DEFAULT 0,
  ends_at DATETIME(6) NOT NULL,
  CONSTRAINT fk_step_person FOREIGN KEY (person_id) REFERENCES person (id)
);
CREATE TABLE IF NOT EXISTS secret (
  id BIGINT AUTO_INCREMENT PRIMARY KEY,
  name VARCHAR(120) NOT NULL,
  kind VARCHAR(20) NOT NULL,
  area_id BIGINT NULL,
  about VARCHAR(300) NOT NULL DEFAULT '',
  key_id VARCHAR(20) NOT NULL,
  wrapped VARBINARY(200) NOT NULL,
  sealed VARBINARY(20000) NOT NULL,
  expires_on DATE NULL,
  told_on DATE NULL,
  version INT NOT NULL DEFAULT 1,
  made_by BIGINT NULL,
  made_at DATETIME(6) NOT NULL,
  changed_at DATETIME(6) NOT NULL,
  retired_at DATETIME(6) NULL,
  UNIQUE KEY uq_secret_name (kind, name),
  KEY ix_secret_key (key_id, id),
  KEY ix_secret_area (area_id),
  KEY ix_secret_expires (expires_on),
  CONSTRAINT fk_secret_area FOREIGN KEY (area_id) REFERENCES area (id)
);
CREATE TABLE IF NOT EXISTS secret_use (
  id BIGINT AUTO_INCREMENT PRIMARY KEY,
  secret_id BIGINT NOT NULL,
  at DATETIME(6) NOT NULL,
  who VARCHAR(120) NOT NULL,
  what VARCHAR(200) NOT NULL,
  KEY ix_use_secret (secret_id, id),
  CONSTRAINT fk_use_secret FOREIGN KEY (secret_id) REFERENCES secret (id)
);
CREATE TABLE IF NOT EXISTS second_factor (
  person_id BIGINT PRIMARY KEY,
  secret_id BIGINT NOT NULL,
  last_step BIGINT NOT NULL DEFAULT 0,
  on_since DATETIME(6) NULL,
  CONSTRAINT fk_factor_person FOREIGN KEY (person_id) REFERENCES person (id),
  CONSTRAINT fk_factor_secret FOREIGN KEY (secret_id) REFERENCES secret (id)
);
CREATE TABLE IF NOT EXISTS recovery_code (
  person_id BIGINT NOT NULL,
  code_hash CHAR(64) NOT NULL,
  used_at DATETIME(6) NULL,
  PRIMARY KEY (person_id, code_hash),
  CONSTRAINT fk_recovery_person FOREIGN KEY (person_id) REFERENCES person (id)
);
CREATE TABLE IF NOT EXISTS program_token (
  id BIGINT AUTO_INCREMENT PRIMARY KEY,
  person_id BIGINT NOT NULL,
  name VARCHAR(80) NOT NULL,
  token_hash CHAR(64) NOT NULL,
  scope_json JSON NOT NULL,
  made_at DATETIME(6) NOT NULL,
  ends_at DATETIME(6) NOT NULL,
  used_at DATETIME(6) NULL,
  used_from VARCHAR(60) NULL,
  revoked_at DATETIME(6) NULL,
  UNIQUE KEY uq_token_hash (token_hash),
  KEY ix_token_person (person_id, id),
  CONSTRAINT fk_token_person FOREIGN KEY (person_id) REFERENCES person (id)
);
CREATE TABLE IF NOT EXISTS access_request (
  id BIGINT AUTO_INCREMENT PRIMARY KEY,
  person_id BIGINT NOT NULL,
  permission VARCHAR(40) NOT NULL DEFAULT '',
  area_id BIGINT NULL,
  words VARCHAR(500) NOT NULL,
  state VARCHAR(10) NOT NULL DEFAULT 'open',
  made_at DATETIME(6) NOT NULL,
  decided_by BIGINT NULL,
  decided_at DATETIME(6) NULL,
  answer VARCHAR(500) NOT NULL DEFAULT '',
  KEY ix_request_state (state, id),
  KEY ix_request_person (person_id, id),
  CONSTRAINT ck_request_state CHECK (state IN ('open','granted','refused')),
  CONSTRAINT fk_request_person FOREIGN KEY (person_id) REFERENCES person (id),
  CONSTRAINT fk_request_area FOREIGN KEY (area_id) REFERENCES area (id)
);
CREATE TABLE IF NOT EXISTS idea_helper (
  idea_id BIGINT NOT NULL,
  person_id BIGINT NOT NULL,
  task VARCHAR(300) NOT NULL DEFAULT '',
  asked_by BIGINT NULL,
  at DATETIME(6) NOT NULL,
  PRIMARY KEY (idea_id, person_id),
  KEY ix_helper_person (person_id, idea_id),
  CONSTRAINT fk_helper_idea FOREIGN KEY (idea_id) REFERENCES idea (id),
  CONSTRAINT fk_helper_person FOREIGN KEY (person_id) REFERENCES person (id)
);
ALTER TABLE division
  ADD COLUMN IF NOT EXISTS area_id BIGINT NULL,
  ADD FOREIGN KEY IF NOT EXISTS fk_division_area (area_id) REFERENCES area (id);
ALTER TABLE idea
  ADD COLUMN IF NOT EXISTS area_id BIGINT NULL,
  ADD INDEX IF NOT EXISTS ix_idea_area (area_id, id);
ALTER TABLE area
  ADD COLUMN IF NOT EXISTS version INT NOT NULL DEFAULT 1;
CREATE TABLE IF NOT EXISTS area_closed_day (
  area_id BIGINT NOT NULL,
  day DATE NOT NULL,
  name VARCHAR(80) NOT NULL,
  PRIMARY KEY (area_id, day),
  CONSTRAINT fk_closed_area FOREIGN KEY (area_id) REFERENCES area (id)
);
CREATE TABLE IF NOT EXISTS setting (
  name VARCHAR(40) PRIMARY KEY,
  value_json JSON NOT NULL,
  version INT NOT NULL DEFAULT 1,
  changed_by BIGINT NULL,
  changed_at DATETIME(6) NOT NULL
);
ALTER TABLE notification
  ADD COLUMN IF NOT EXISTS kind VARCHAR(20) NOT NULL DEFAULT 'news',
  ADD COLUMN IF NOT EXISTS digest_at DATETIME(6) NULL,
  ADD INDEX IF NOT EXISTS ix_notification_digest (digest_at, person_id);
ALTER TABLE mail
  ADD COLUMN IF NOT EXISTS kind VARCHAR(20) NOT NULL DEFAULT 'news',
  ADD COLUMN IF NOT EXISTS person_id BIGINT NULL,
  ADD COLUMN IF NOT EXISTS link_id BIGINT NULL,
  MODIFY effect_id BIGINT NULL,
  ADD INDEX IF NOT EXISTS ix_mail_made (made_at, id);
ALTER TABLE audit
  ADD COLUMN IF NOT EXISTS salt CHAR(32) NULL,
  ADD COLUMN IF NOT EXISTS content_digest CHAR(64) NULL,
  ADD COLUMN IF NOT EXISTS erased_at DATETIME(6) NULL,
  ADD INDEX IF NOT EXISTS ix_audit_action (action, id);
CREATE TABLE IF NOT EXISTS audit_seal (
  id BIGINT AUTO_INCREMENT PRIMARY KEY,
  first_id BIGINT NOT NULL,
  last_id BIGINT NOT NULL,
  ids_json JSON NOT NULL,
  entries INT NOT NULL,
  root CHAR(64) NOT NULL,
  previous CHAR(64) NOT NULL,
  seal CHAR(64) NOT NULL,
  at DATETIME(6) NOT NULL,
  UNIQUE KEY uq_seal_previous (previous),
  UNIQUE KEY uq_seal_first (first_id)
);
CREATE TABLE IF NOT EXISTS lease (
  name VARCHAR(40) PRIMARY KEY,
  holder CHAR(32) NOT NULL,
  until DATETIME(6) NOT NULL
);
