-- Sizing and business case: systems, cost tables by role, division and name, asked experts, points of an
-- agreement, variants, former promises, and what was delivered. Only additions: processes of the release
-- before go on as they are.
CREATE TABLE IF NOT EXISTS business_system (
  id BIGINT AUTO_INCREMENT PRIMARY KEY,
  name VARCHAR(80) NOT NULL,
  access VARCHAR(20) NOT NULL,
  owner_id BIGINT NULL,
  test_system VARCHAR(10) NOT NULL DEFAULT 'not known',
  note VARCHAR(500) NOT NULL DEFAULT '',
  state VARCHAR(10) NOT NULL,
  version INT NOT NULL DEFAULT 1,
  made_by BIGINT NOT NULL,
  made_at DATETIME(6) NOT NULL,
  changed_at DATETIME(6) NOT NULL,
  UNIQUE KEY uq_system_name (name),
  KEY ix_system_state (state, name),
  CONSTRAINT ck_system_access CHECK (access IN ('API','web','desktop','remote screen','paper or image')),
  CONSTRAINT ck_system_test CHECK (test_system IN ('yes','no','not known')),
  CONSTRAINT ck_system_state CHECK (state IN ('new','known','retired')),
  CONSTRAINT fk_system_owner FOREIGN KEY (owner_id) REFERENCES person (id),
  CONSTRAINT fk_system_by FOREIGN KEY (made_by) REFERENCES person (id)
);
-- Systems that sizings name already, to be looked at.
INSERT IGNORE INTO business_system (name, access, state, made_by, made_at, changed_at)
SELECT j.name, MIN(j.access), 'new', MIN(f.person_id), MIN(f.at), MIN(f.at) FROM fact f,
  JSON_TABLE(f.value_json, '$[*]' COLUMNS (name VARCHAR(80) PATH '$.name', access VARCHAR(20) PATH '$.access')) j
WHERE f.field = 'systems' AND j.name IS NOT NULL AND j.access IS NOT NULL GROUP BY j.name;
-- Whose hour, which seat, which software, which currency; and for which division. Empty: for all.
ALTER TABLE rate
  ADD COLUMN IF NOT EXISTS what VARCHAR(60) NOT NULL DEFAULT '',
  ADD COLUMN IF NOT EXISTS division_id BIGINT NOT NULL DEFAULT 0,
  ADD INDEX IF NOT EXISTS ix_rate_house (idea_id, state, kind, since, id);
ALTER TABLE link
  DROP CONSTRAINT IF EXISTS ck_link_kind,
  ADD CONSTRAINT ck_link_kind CHECK (kind IN ('invitation','password','sizing'));
-- An expert asked by a link that shows just the sizing sheet.
CREATE TABLE IF NOT EXISTS sizing_request (
  id BIGINT AUTO_INCREMENT PRIMARY KEY,
  idea_id BIGINT NOT NULL,
  person_id BIGINT NOT NULL,
  asked_by BIGINT NOT NULL,
  words VARCHAR(1000) NOT NULL DEFAULT '',
  fields_json JSON NOT NULL,
  link_id BIGINT NULL,
  state VARCHAR(10) NOT NULL,
  asked_at DATETIME(6) NOT NULL,
  opened_at DATETIME(6) NULL,
  ended_at DATETIME(6) NULL,
  remark VARCHAR(1000) NOT NULL DEFAULT '',
  KEY ix_request_idea (idea_id, id),
  KEY ix_request_link (link_id),
  CONSTRAINT ck_asked_state CHECK (state IN ('open','answered','taken back')),
  CONSTRAINT fk_asked_idea FOREIGN KEY (idea_id) REFERENCES idea (id),
  CONSTRAINT fk_asked_person FOREIGN KEY (person_id) REFERENCES person (id)
);
-- A point of a sizing that was sent back.
CREATE TABLE IF NOT EXISTS sizing_point (
  id BIGINT AUTO_INCREMENT PRIMARY KEY,
  idea_id BIGINT NOT NULL,
  field VARCHAR(40) NOT NULL,
  words VARCHAR(500) NOT NULL,
  made_by BIGINT NOT NULL,
  made_at DATETIME(6) NOT NULL,
  met_by BIGINT NULL,
  met_at DATETIME(6) NULL,
  answer VARCHAR(500) NOT NULL DEFAULT '',
  KEY ix_point_idea (idea_id, id),
  CONSTRAINT fk_point_idea FOREIGN KEY (idea_id) REFERENCES idea (id)
);
-- A variant of a case: other figures for some of its inputs.
CREATE TABLE IF NOT EXISTS case_variant (
  id BIGINT AUTO_INCREMENT PRIMARY KEY,
  idea_id BIGINT NOT NULL,
  name VARCHAR(60) NOT NULL,
  input_json JSON NOT NULL,
  version INT NOT NULL DEFAULT 1,
  person_id BIGINT NOT NULL,
  at DATETIME(6) NOT NULL,
  UNIQUE KEY uq_variant_name (idea_id, name),
  CONSTRAINT fk_variant_idea FOREIGN KEY (idea_id) REFERENCES idea (id)
);
-- Promises that a later one took the place of.
ALTER TABLE promise
  ADD COLUMN IF NOT EXISTS number INT NOT NULL DEFAULT 1,
  ADD COLUMN IF NOT EXISTS reason VARCHAR(1000) NOT NULL DEFAULT '',
  ADD COLUMN IF NOT EXISTS rows_json JSON NULL;
CREATE TABLE IF NOT EXISTS former_promise (
  idea_id BIGINT NOT NULL,
  number INT NOT NULL,
  at DATETIME(6) NOT NULL,
  person_id BIGINT NOT NULL,
  input_json JSON NOT NULL,
  result_json JSON NOT NULL,
  plan_json JSON NOT NULL,
  sizing_json JSON NOT NULL,
  rows_json JSON NULL,
  rules_version VARCHAR(60) NOT NULL,
  start_on DATE NOT NULL,
  go_live_on DATE NOT NULL,
  reason VARCHAR(1000) NOT NULL DEFAULT '',
  PRIMARY KEY (idea_id, number),
  CONSTRAINT fk_former_idea FOREIGN KEY (idea_id) REFERENCES idea (id)
);
-- What was delivered, to correct later estimates: days spent by phase, items that came by month.
CREATE TABLE IF NOT EXISTS phase_spent (
  idea_id BIGINT NOT NULL,
  phase VARCHAR(80) NOT NULL,
  person_days DECIMAL(18,6) NOT NULL,
  ended_on DATE NULL,
  version INT NOT NULL DEFAULT 1,
  person_id BIGINT NOT NULL,
  at DATETIME(6) NOT NULL,
  PRIMARY KEY (idea_id, phase),
  CONSTRAINT fk_spent_idea FOREIGN KEY (idea_id) REFERENCES idea (id)
);
CREATE TABLE IF NOT EXISTS month_demand (
  idea_id BIGINT NOT NULL,
  month CHAR(7) NOT NULL,
  items DECIMAL(18,6) NOT NULL,
  source VARCHAR(200) NOT NULL DEFAULT '',
  version INT NOT NULL DEFAULT 1,
  person_id BIGINT NOT NULL,
  at DATETIME(6) NOT NULL,
  PRIMARY KEY (idea_id, month),
  CONSTRAINT fk_demand_idea FOREIGN KEY (idea_id) REFERENCES idea (id)
);
