-- One table for every kind of trigger; processes of the release before see those on the clock by its former name.
BEGIN NOT ATOMIC IF EXISTS (SELECT 1 FROM information_schema.tables WHERE table_schema = DATABASE() AND table_name = 'clock_trigger' AND table_type = 'BASE TABLE') THEN RENAME TABLE clock_trigger TO start_trigger; END IF; END;
ALTER TABLE start_trigger ADD COLUMN IF NOT EXISTS kind VARCHAR(20) NOT NULL DEFAULT 'clock' AFTER id;
ALTER TABLE start_trigger ADD CONSTRAINT IF NOT EXISTS ck_trigger_kind CHECK (kind IN ('clock'));
CREATE OR REPLACE VIEW clock_trigger AS SELECT id, routine_id, expression, form_json, zone, on_closed, window_from, window_to, missed, missed_hours, latest_minutes, next_at, next_nominal, handled_to, retired_at, version, made_by, made_at FROM start_trigger WHERE kind = 'clock';
-- What became of each occasion of a trigger, once. An occasion of the clock is its nominal time.
ALTER TABLE trigger_start MODIFY nominal_at DATETIME(6) NULL;
ALTER TABLE trigger_start ADD COLUMN IF NOT EXISTS occasion VARCHAR(190) NULL AFTER trigger_id;
ALTER TABLE trigger_start ADD UNIQUE KEY IF NOT EXISTS uq_trigger_occasion (trigger_id, occasion);
