-- name: start
-- A waiting run, as the release before writes it.
INSERT INTO run (routine_id, release_id, trigger_id, nominal_at, started_by, started_words, again_of, trial, due_at, order_at, lapses_at,
  state, reason, inputs_json, made_at, changed_at)
VALUES (%(routine)s, %(release)s, %(trigger)s, %(nominal)s, NULL, 'the clock', NULL, FALSE, %(now)s, %(now)s, NULL, 'waiting', '', '{}',
  %(now)s, %(now)s);

-- name: claim
UPDATE run SET state = 'running', robot_id = %(robot)s, host_id = %(host)s, fence = fence + 1, lease_until = %(lease)s,
  started_at = %(now)s, changed_at = %(now)s, reason = '' WHERE id = %(id)s AND state = 'waiting';

-- name: take_slot
UPDATE slot SET run_id = %(run)s WHERE kind = %(kind)s AND owner_id = %(owner)s AND n = %(n)s AND run_id IS NULL;

-- name: finish
UPDATE run SET state = 'done', outcome = 'worked', reason = '', outputs_json = '{}', counts_json = '{"rows": "3"}',
  ended_at = %(now)s, changed_at = %(now)s, lease_until = NULL WHERE id = %(id)s AND fence = 1 AND state = 'running';

-- name: free
UPDATE slot SET run_id = NULL WHERE run_id = %(run)s;

-- name: effect
INSERT INTO effect (kind, object, payload_json, made_at, due_at) VALUES ('tally', CONCAT('run:', %(run)s),
  CONCAT('{"run": ', %(run)s, '}'), %(now)s, %(now)s);

-- name: add_trigger
INSERT INTO clock_trigger (routine_id, expression, zone, on_closed, next_at, next_nominal, made_by, made_at)
VALUES (%(routine)s, '0 * * * *', 'UTC', 'run', %(next)s, %(next)s, %(person)s, %(now)s);

-- name: post
INSERT INTO tally_entry (source, line, correction, month, belongs_to, idea_id, routine_id, run_id, area_id, units, hours, money,
  rates_json, at, posted_at)
VALUES (CONCAT('run:', %(run)s), 'robot time', 0, '2026-03', '2026-03', NULL, %(routine)s, %(run)s, %(area)s, 0, 0, -1, '[]', %(now)s,
  %(now)s);

-- name: add_to_sum
INSERT INTO tally_sum (month, idea_id, line, units, hours, money, entries) VALUES ('2026-03', 0, 'robot time', 0, 0, -1, 1)
ON DUPLICATE KEY UPDATE money = money + VALUE(money), entries = entries + 1;
