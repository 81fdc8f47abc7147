-- People, sign-ins, what is common to every subject.
CREATE TABLE IF NOT EXISTS division (
  id BIGINT AUTO_INCREMENT PRIMARY KEY,
  name VARCHAR(80) NOT NULL,
  UNIQUE KEY uq_division_name (name)
);
CREATE TABLE IF NOT EXISTS person (
  id BIGINT AUTO_INCREMENT PRIMARY KEY,
  name VARCHAR(120) NOT NULL,
  email VARCHAR(190) NOT NULL,
  password_hash VARCHAR(200) NOT NULL,
  zone VARCHAR(60) NOT NULL,
  division_id BIGINT NULL,
  active BOOLEAN NOT NULL DEFAULT TRUE,
  made_at DATETIME(6) NOT NULL,
  UNIQUE KEY uq_person_email (email),
  CONSTRAINT fk_person_division FOREIGN KEY (division_id) REFERENCES division (id)
);
CREATE TABLE IF NOT EXISTS person_role (
  person_id BIGINT NOT NULL,
  role VARCHAR(40) NOT NULL,
  PRIMARY KEY (person_id, role),
  KEY ix_role (role),
  CONSTRAINT fk_role_person FOREIGN KEY (person_id) REFERENCES person (id)
);
CREATE TABLE IF NOT EXISTS session (
  token_hash CHAR(64) PRIMARY KEY,
  person_id BIGINT NOT NULL,
  made_at DATETIME(6) NOT NULL,
  seen_at DATETIME(6) NOT NULL,
  ends_at DATETIME(6) NOT NULL,
  KEY ix_session_ends (ends_at),
  CONSTRAINT fk_session_person FOREIGN KEY (person_id) REFERENCES person (id)
);
CREATE TABLE IF NOT EXISTS sign_in_try (
  who VARCHAR(200) PRIMARY KEY,
  failures INT NOT NULL,
  last_at DATETIME(6) NOT NULL
);
CREATE TABLE IF NOT EXISTS notification (
  id BIGINT AUTO_INCREMENT PRIMARY KEY,
  person_id BIGINT NOT NULL,
  effect_id BIGINT NULL,
  at DATETIME(6) NOT NULL,
  text VARCHAR(500) NOT NULL,
  link VARCHAR(200) NOT NULL,
  read_at DATETIME(6) NULL,
  UNIQUE KEY uq_notification_effect (effect_id, person_id),
  KEY ix_notification_person (person_id, at, id),
  KEY ix_notification_unread (person_id, read_at),
  CONSTRAINT fk_notification_person FOREIGN KEY (person_id) REFERENCES person (id)
);
CREATE TABLE IF NOT EXISTS effect (
  id BIGINT AUTO_INCREMENT PRIMARY KEY,
  kind VARCHAR(40) NOT NULL,
  object VARCHAR(60) NOT NULL,
  payload_json JSON NOT NULL,
  made_at DATETIME(6) NOT NULL,
  due_at DATETIME(6) NOT NULL,
  tries INT NOT NULL DEFAULT 0,
  done_at DATETIME(6) NULL,
  fault VARCHAR(500) NULL,
  KEY ix_effect_open (done_at, due_at, id),
  KEY ix_effect_object (object, done_at, id)
);
CREATE TABLE IF NOT EXISTS mail (
  id BIGINT AUTO_INCREMENT PRIMARY KEY,
  effect_id BIGINT NOT NULL,
  to_address VARCHAR(190) NOT NULL,
  subject VARCHAR(200) NOT NULL,
  body TEXT NOT NULL,
  made_at DATETIME(6) NOT NULL,
  due_at DATETIME(6) NOT NULL,
  tries INT NOT NULL DEFAULT 0,
  sent_at DATETIME(6) NULL,
  answer VARCHAR(500) NULL,
  UNIQUE KEY uq_mail_effect (effect_id, to_address),
  KEY ix_mail_open (sent_at, due_at, id)
);
CREATE TABLE IF NOT EXISTS audit (
  id BIGINT AUTO_INCREMENT PRIMARY KEY,
  at DATETIME(6) NOT NULL,
  person_id BIGINT NULL,
  who VARCHAR(120) NOT NULL,
  address VARCHAR(60) NOT NULL,
  action VARCHAR(60) NOT NULL,
  object VARCHAR(60) NOT NULL,
  words VARCHAR(500) NOT NULL,
  before_json JSON NULL,
  after_json JSON NULL,
  KEY ix_audit_object (object, id),
  KEY ix_audit_person (person_id, id)
);
CREATE TABLE IF NOT EXISTS change_note (
  id BIGINT AUTO_INCREMENT PRIMARY KEY,
  subject VARCHAR(40) NOT NULL,
  object_id BIGINT NULL,
  at DATETIME(6) NOT NULL,
  KEY ix_change_at (at)
);
CREATE TABLE IF NOT EXISTS started_once (
  start_key VARCHAR(120) PRIMARY KEY,
  object VARCHAR(60) NOT NULL,
  at DATETIME(6) NOT NULL,
  KEY ix_started_at (at)
);
CREATE TABLE IF NOT EXISTS file_body (
  digest CHAR(64) PRIMARY KEY,
  size BIGINT NOT NULL,
  made_at DATETIME(6) NOT NULL
);
CREATE TABLE IF NOT EXISTS file_chunk (
  digest CHAR(64) NOT NULL,
  n INT NOT NULL,
  data MEDIUMBLOB NOT NULL,
  PRIMARY KEY (digest, n),
  CONSTRAINT fk_chunk_file FOREIGN KEY (digest) REFERENCES file_body (digest)
);
CREATE TABLE IF NOT EXISTS closed_day (
  day DATE PRIMARY KEY,
  name VARCHAR(80) NOT NULL
);
CREATE TABLE IF NOT EXISTS company (
  id TINYINT PRIMARY KEY,
  name VARCHAR(120) NOT NULL,
  zone VARCHAR(60) NOT NULL,
  currency CHAR(3) NOT NULL,
  CONSTRAINT ck_company_one CHECK (id = 1)
);
