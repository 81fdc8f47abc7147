-- name: to_ask
-- Runs whose person is to be asked now, and was not; the first 100.
SELECT r.id, r.for_person, o.name AS routine, o.area_id, r.lapses_at FROM run r JOIN routine o ON o.id = r.routine_id
WHERE r.state = 'waiting' AND r.for_person > 0 AND r.agreed_at IS NULL AND r.asked_at IS NULL AND r.due_at <= %(now)s
  AND NOT EXISTS (SELECT 1 FROM hitch h WHERE h.work = 'asking' AND h.row_key = CONCAT('run:', r.id) AND h.due_at > %(now)s)
ORDER BY r.id LIMIT 100;

-- name: ask
-- A person is asked; whoever writes it first tells them.
UPDATE run SET asked_at = %(now)s WHERE id = %(id)s AND state = 'waiting' AND agreed_at IS NULL AND asked_at IS NULL;

-- name: agree
-- Its person says from when on it may begin; one that was put off comes back.
UPDATE run SET agreed_at = %(at)s, asked_at = COALESCE(asked_at, %(now)s), due_at = LEAST(due_at, %(at)s),
  order_at = LEAST(order_at, %(order)s), changed_at = %(now)s
WHERE id = %(id)s AND for_person = %(person)s AND state = 'waiting' AND handed_until IS NULL;

-- name: put_off
-- Its person does not want it today: it asks again then.
UPDATE run SET due_at = %(due)s, order_at = %(order)s, agreed_at = NULL, asked_at = NULL, changed_at = %(now)s
WHERE id = %(id)s AND for_person = %(person)s AND state = 'waiting' AND handed_until IS NULL;

-- name: open_of
-- What waits, works or is held for a person, the first due first.
-- gives: RunFor
SELECT r.id, r.state, r.attended, r.started_words, r.made_at, r.due_at, r.lapses_at, r.agreed_at, r.started_at, r.ended_at, r.reason,
  r.inputs_json, r.trial, r.cancel_at, r.routine_id, o.name AS routine, o.area_id, a.name AS area, p.name AS package,
  l.version AS release_version, l.about, l.inputs_json AS schema_json FROM run r JOIN routine o ON o.id = r.routine_id
JOIN area a ON a.id = o.area_id JOIN package_release l ON l.id = r.release_id JOIN package p ON p.id = l.package_id
WHERE r.state IN ('waiting','running','held') AND r.for_person = %(person)s ORDER BY r.due_at, r.id LIMIT 100;

-- name: ended_of
-- What ended of a person's, the last first.
-- gives: RunFor
SELECT r.id, r.state, r.attended, r.started_words, r.made_at, r.due_at, r.lapses_at, r.agreed_at, r.started_at, r.ended_at, r.reason,
  r.inputs_json, r.trial, r.cancel_at, r.routine_id, o.name AS routine, o.area_id, a.name AS area, p.name AS package,
  l.version AS release_version, l.about, l.inputs_json AS schema_json FROM run r JOIN routine o ON o.id = r.routine_id
JOIN area a ON a.id = o.area_id JOIN package_release l ON l.id = r.release_id JOIN package p ON p.id = l.package_id
WHERE r.for_person = %(person)s AND r.ended_at IS NOT NULL ORDER BY r.id DESC LIMIT 10;

-- name: asking
-- Runs that wait for a person's answer now; the first 20.
SELECT r.id, o.name AS routine, r.lapses_at FROM run r JOIN routine o ON o.id = r.routine_id WHERE r.state = 'waiting' AND r.for_person = %(person)s
  AND r.agreed_at IS NULL AND r.due_at <= %(now)s ORDER BY r.due_at, r.id LIMIT 20;

-- name: on_the_clock
-- How many triggers start a routine.
SELECT COUNT(*) FROM start_trigger WHERE routine_id = %(routine)s AND retired_at IS NULL;

-- name: waiting_of_routine
-- Runs of a routine that wait; the first 5.
SELECT id FROM run WHERE routine_id = %(routine)s AND state = 'waiting' ORDER BY id LIMIT 5;
