-- A person's own computer: whose it is, and since when they are using it, as its runner says.
ALTER TABLE host
  ADD COLUMN IF NOT EXISTS owner_id BIGINT NULL,
  ADD COLUMN IF NOT EXISTS in_use_since DATETIME(6) NULL,
  ADD FOREIGN KEY IF NOT EXISTS fk_host_owner (owner_id) REFERENCES person (id);
-- A routine that works on a person's own computer: whether they have to be there (whole) or only answer, and for whom
-- it is; without a name for whoever starts it.
ALTER TABLE routine
  ADD COLUMN IF NOT EXISTS attended VARCHAR(10) NOT NULL DEFAULT '',
  ADD COLUMN IF NOT EXISTS attended_for BIGINT NULL,
  ADD CONSTRAINT IF NOT EXISTS ck_routine_attended CHECK (attended IN ('','answer','whole')),
  ADD FOREIGN KEY IF NOT EXISTS fk_routine_attended (attended_for) REFERENCES person (id);
-- A run that is meant for a person: asked since, and from when on they said that it may begin.
ALTER TABLE run
  ADD COLUMN IF NOT EXISTS attended VARCHAR(10) NOT NULL DEFAULT '',
  ADD COLUMN IF NOT EXISTS for_person BIGINT NULL,
  ADD COLUMN IF NOT EXISTS asked_at DATETIME(6) NULL,
  ADD COLUMN IF NOT EXISTS agreed_at DATETIME(6) NULL,
  ADD CONSTRAINT IF NOT EXISTS ck_run_attended CHECK (attended IN ('','answer','whole')),
  ADD KEY IF NOT EXISTS ix_run_waiting_for (state, for_person),
  ADD KEY IF NOT EXISTS ix_run_attended (attended),
  ADD FOREIGN KEY IF NOT EXISTS fk_run_for (for_person) REFERENCES person (id);
-- A run of a person's takes one of their attended seats, or of a group's: a place of the row that gives it.
ALTER TABLE slot DROP CONSTRAINT IF EXISTS ck_slot_kinds;
ALTER TABLE slot ADD CONSTRAINT IF NOT EXISTS ck_slot_kinds CHECK (kind IN ('robot','seat','trial','attended','limit','lock'));
INSERT IGNORE INTO slot (kind, owner_id, n)
SELECT 'attended', v.id, q.seq FROM seat_given v JOIN seq_0_to_9999 q ON q.seq < v.number WHERE v.kind = 'attended';
