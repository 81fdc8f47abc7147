-- name: add_run
-- A run of the past, written in bulk.
INSERT INTO run (routine_id, release_id, started_words, trial, due_at, order_at, state, outcome, reason, robot_id, host_id, fence, segment,
  inputs_json, outputs_json, counts_json, made_at, started_at, ended_at, changed_at)
VALUES (%(routine)s, %(release)s, %(words)s, %(trial)s, %(began)s, %(began)s, %(state)s, %(outcome)s, %(reason)s, %(robot)s,
  %(host)s, 1, 1, '{}', NULL, %(counts)s, %(began)s, %(began)s, %(ended)s, %(ended)s);

-- name: add_segments
-- Each run of the past worked in one segment.
INSERT IGNORE INTO run_segment (run_id, n, fence, robot_id, host_id, started_at, ended_at, ended_as)
SELECT id, 1, fence, robot_id, host_id, started_at, ended_at, state FROM run
WHERE started_at IS NOT NULL AND ended_at IS NOT NULL AND robot_id IS NOT NULL;

-- name: robots_for
-- Robots that may work for a routine.
SELECT b.id, b.host_id FROM robot b JOIN robot_area ra ON ra.robot_id = b.id JOIN routine o ON o.area_id = ra.area_id
WHERE o.id = %(routine)s ORDER BY b.id;

-- name: to_post
-- Ended runs of a routine with what is reckoned.
SELECT r.id, r.routine_id, r.state, r.outcome, r.trial, r.counts_json, r.started_at, r.ended_at, o.area_id, c.idea_id, c.basis,
  c.count_name, p.input_json, NULL AS fixed_units, NULL AS fixed_back, 0 AS segments, 0 AS worked_micros
FROM run r JOIN routine o ON o.id = r.routine_id
JOIN counting_point c ON c.routine_id = o.id JOIN promise p ON p.idea_id = c.idea_id
WHERE r.routine_id = %(routine)s AND r.trial = FALSE ORDER BY r.id;

-- name: add_sum
-- A roll-up of entries written in bulk.
INSERT INTO tally_sum (month, idea_id, line, units, hours, money, entries)
VALUES (%(month)s, %(idea)s, %(line)s, %(units)s, %(hours)s, %(money)s, %(entries)s);

-- name: mails_sent
-- Mails of the past were sent then.
UPDATE mail SET sent_at = made_at, answer = 'taken' WHERE sent_at IS NULL AND made_at < %(before)s;

-- name: notices_read
-- Notifications of the past were read then.
UPDATE notification SET read_at = %(now)s WHERE read_at IS NULL AND at < %(before)s;
