-- Seats of every kind: bought in lots with dates and a price, given to hosts, people and groups, and how many were used.
CREATE TABLE IF NOT EXISTS seat_lot (
  id BIGINT AUTO_INCREMENT PRIMARY KEY,
  kind VARCHAR(10) NOT NULL,
  number INT NOT NULL,
  first_on DATE NOT NULL,
  last_on DATE NULL,
  price DECIMAL(19,6) NULL,
  note VARCHAR(200) NOT NULL DEFAULT '',
  told INT NULL,
  gifts INT NOT NULL DEFAULT 0,
  version INT NOT NULL DEFAULT 1,
  made_by BIGINT NOT NULL,
  made_at DATETIME(6) NOT NULL,
  retired_at DATETIME(6) NULL,
  KEY ix_lot_last (last_on),
  CONSTRAINT ck_lot_kind CHECK (kind IN ('unattended','attended','trial','builder')),
  CONSTRAINT ck_lot_number CHECK (number BETWEEN 1 AND 10000),
  CONSTRAINT fk_lot_by FOREIGN KEY (made_by) REFERENCES person (id)
);
-- Seats that a person has, or that the members of a group share; those of hosts stand on the host.
CREATE TABLE IF NOT EXISTS seat_given (
  id BIGINT AUTO_INCREMENT PRIMARY KEY,
  kind VARCHAR(10) NOT NULL,
  person_id BIGINT NULL,
  group_id BIGINT NULL,
  number INT NOT NULL,
  made_by BIGINT NOT NULL,
  made_at DATETIME(6) NOT NULL,
  UNIQUE KEY uq_seat_person (person_id, kind),
  UNIQUE KEY uq_seat_group (group_id, kind),
  CONSTRAINT ck_given_kind CHECK (kind IN ('attended','builder')),
  CONSTRAINT ck_given_number CHECK (number BETWEEN 1 AND 10000),
  CONSTRAINT ck_given_whom CHECK ((person_id IS NULL) <> (group_id IS NULL)),
  CONSTRAINT fk_given_person FOREIGN KEY (person_id) REFERENCES person (id),
  CONSTRAINT fk_given_group FOREIGN KEY (group_id) REFERENCES person_group (id),
  CONSTRAINT fk_given_by FOREIGN KEY (made_by) REFERENCES person (id)
);
-- The most seats of a kind that were used at once on a day of the company: on one host, or (0) on all of them.
CREATE TABLE IF NOT EXISTS seat_peak (
  day DATE NOT NULL,
  kind VARCHAR(10) NOT NULL,
  host_id BIGINT NOT NULL,
  most INT NOT NULL,
  at DATETIME(6) NULL,
  PRIMARY KEY (kind, host_id, day),
  KEY ix_peak_day (day),
  CONSTRAINT ck_peak_kind CHECK (kind IN ('unattended','attended','trial','builder'))
);
ALTER TABLE slot DROP CONSTRAINT IF EXISTS ck_slot_kinds;
ALTER TABLE slot ADD CONSTRAINT IF NOT EXISTS ck_slot_kinds CHECK (kind IN ('robot','seat','trial','limit','lock'));
-- A trial run takes a seat of its own, so that it takes no room from work: each host begins with one.
ALTER TABLE host ADD COLUMN IF NOT EXISTS trial_seats INT NOT NULL DEFAULT 1;
INSERT IGNORE INTO slot (kind, owner_id, n) SELECT 'trial', id, 0 FROM host WHERE retired_at IS NULL;
