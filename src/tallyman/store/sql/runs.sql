-- name: add
-- A waiting run.
INSERT INTO run (routine_id, release_id, trigger_id, nominal_at, started_by, started_words, again_of, trial, due_at, order_at, lapses_at,
  state, reason, inputs_json, made_at, changed_at)
VALUES (%(routine)s, %(release)s, %(trigger)s, %(nominal)s, %(person)s, %(words)s, %(again_of)s, %(trial)s, %(due)s, %(order)s,
  %(lapses)s, 'waiting', %(reason)s, %(inputs)s, %(now)s, %(now)s);

-- name: one
-- One run with names.
SELECT r.*, o.name AS routine, o.area_id, o.limit_minutes, a.name AS area, p.name AS package, l.version AS release_version,
  b.name AS robot, h.name AS host, w.name AS canceller, n.id AS tried_again_as
FROM run r JOIN routine o ON o.id = r.routine_id JOIN area a ON a.id = o.area_id JOIN package_release l ON l.id = r.release_id
JOIN package p ON p.id = l.package_id LEFT JOIN robot b ON b.id = r.robot_id LEFT JOIN host h ON h.id = r.host_id
LEFT JOIN person w ON w.id = r.cancel_by LEFT JOIN run n ON n.again_of = r.id WHERE r.id = %(id)s;

-- name: lock
-- A run's row, locked.
SELECT id, routine_id, release_id, state, fence, host_id, robot_id, trial, cancel_at, inputs_json, started_at, due_at, lease_until FROM run
WHERE id = %(id)s FOR UPDATE;

-- name: waiting_due
-- Waiting runs in the order in which they start.
SELECT r.id, r.routine_id, r.due_at, o.area_id, a.name AS area, o.run_limit, o.lease_minutes, o.limit_minutes, o.tags_json,
  l.tags_json AS release_tags_json,
  (SELECT COUNT(*) FROM slot s WHERE s.kind = 'limit' AND s.owner_id = r.routine_id AND s.run_id IS NOT NULL) AS active
FROM run r JOIN routine o ON o.id = r.routine_id JOIN area a ON a.id = o.area_id JOIN package_release l ON l.id = r.release_id
WHERE r.state = 'waiting' ORDER BY r.order_at, r.id LIMIT %(limit)s;

-- name: wanted
-- What some waiting runs ask of a robot.
SELECT r.id, r.routine_id, r.due_at, o.area_id, a.name AS area, o.run_limit, o.tags_json, l.tags_json AS release_tags_json,
  (SELECT COUNT(*) FROM slot s WHERE s.kind = 'limit' AND s.owner_id = r.routine_id AND s.run_id IS NOT NULL) AS active
FROM run r JOIN routine o ON o.id = r.routine_id JOIN area a ON a.id = o.area_id JOIN package_release l ON l.id = r.release_id
WHERE r.id IN %(ids)s;

-- name: claim
-- Gives a waiting run to a robot and raises its fencing number.
UPDATE run SET state = 'running', robot_id = %(robot)s, host_id = %(host)s, fence = fence + 1, lease_until = %(lease)s,
  started_at = %(now)s, changed_at = %(now)s, reason = '' WHERE id = %(id)s AND state = 'waiting';

-- name: renew
-- A heartbeat renews the lease of a run that is still the runner's.
UPDATE run r JOIN routine o ON o.id = r.routine_id
SET r.lease_until = DATE_ADD(%(now)s, INTERVAL o.lease_minutes MINUTE)
WHERE r.id = %(id)s AND r.fence = %(fence)s AND r.host_id = %(host)s AND r.state = 'running';

-- name: of_host
-- What a host is working on.
SELECT id, fence, cancel_at, lease_until FROM run WHERE host_id = %(host)s AND state = 'running';

-- name: finish
-- Ends a run that stands in one of the states seen.
UPDATE run SET state = %(state)s, outcome = %(outcome)s, reason = %(reason)s, outputs_json = %(outputs)s, counts_json = %(counts)s,
  ended_at = %(ended)s, changed_at = %(now)s, lease_until = NULL WHERE id = %(id)s AND fence = %(fence)s AND state = %(from_state)s;

-- name: end_waiting
-- Ends a run that never started.
UPDATE run SET state = %(state)s, reason = %(reason)s, ended_at = %(now)s, changed_at = %(now)s, cancel_by = %(person)s
WHERE id = %(id)s AND state = 'waiting';

-- name: ask_cancel
-- Asks the runner to end a run.
UPDATE run SET cancel_at = %(now)s, cancel_by = %(person)s, changed_at = %(now)s
WHERE id = %(id)s AND state = 'running' AND cancel_at IS NULL;

-- name: leases_ended
-- Running runs whose lease has ended.
SELECT id FROM run WHERE state = 'running' AND lease_until < %(now)s ORDER BY lease_until LIMIT 100;

-- name: lose
-- A run is lost, if its lease is still over.
UPDATE run SET state = 'lost', reason = %(reason)s, ended_at = %(now)s, changed_at = %(now)s
WHERE id = %(id)s AND state = 'running' AND lease_until < %(now)s;

-- name: lapsed
-- Waiting runs past their latest start.
SELECT id FROM run WHERE state = 'waiting' AND lapses_at < %(now)s ORDER BY lapses_at LIMIT 100;

-- name: later_attempt
-- The run that was made when this one was lost.
SELECT id FROM run WHERE again_of = %(id)s;

-- name: add_report
-- One numbered batch of a runner's report; a repeated one changes nothing.
INSERT IGNORE INTO run_report (run_id, fence, seq, at, lines_total, lines_packed)
VALUES (%(run)s, %(fence)s, %(seq)s, %(now)s, %(total)s, %(packed)s);

-- name: reports
-- The batches of a run in order.
SELECT fence, seq, lines_packed FROM run_report WHERE run_id = %(run)s ORDER BY fence, seq LIMIT 2000;

-- name: lines_so_far
-- How many lines a run has reported.
SELECT COALESCE(SUM(lines_total), 0) FROM run_report WHERE run_id = %(run)s;

-- name: put_step
-- A step as last reported.
INSERT INTO run_step (run_id, n, name, started_at, ended_at, fault, data_in_json, data_out_json)
VALUES (%(run)s, %(n)s, %(name)s, %(started)s, %(ended)s, %(fault)s, %(data_in)s, %(data_out)s)
ON DUPLICATE KEY UPDATE name = VALUE(name), ended_at = VALUE(ended_at), fault = VALUE(fault), data_in_json = VALUE(data_in_json),
  data_out_json = VALUE(data_out_json);

-- name: steps
-- The steps of a run.
SELECT n, name, started_at, ended_at, fault, data_in_json, data_out_json FROM run_step WHERE run_id = %(run)s ORDER BY n LIMIT 1000;

-- name: current_steps
-- The last step of some runs.
SELECT s.run_id, s.n, s.name FROM run_step s JOIN (
  SELECT run_id, MAX(n) AS n FROM run_step WHERE run_id IN %(ids)s GROUP BY run_id) m ON m.run_id = s.run_id AND m.n = s.n;

-- name: counts_by_state
-- How many runs are open now.
SELECT state, COUNT(*) AS runs FROM run WHERE state IN ('waiting','running','held') GROUP BY state;

-- name: went_wrong
-- Runs that ended badly since a time, the latest first.
SELECT r.id, o.name AS routine, r.state, r.reason, r.ended_at FROM run r JOIN routine o ON o.id = r.routine_id
WHERE r.state IN ('failed','lost','lapsed') AND r.ended_at >= %(since)s ORDER BY r.id DESC LIMIT 12;

-- name: usual_minutes
-- The lengths of a routine's last good runs, in seconds.
SELECT TIMESTAMPDIFF(SECOND, started_at, ended_at) AS seconds FROM run
WHERE routine_id = %(routine)s AND state = 'done' AND started_at IS NOT NULL ORDER BY id DESC LIMIT 21;

-- name: for_posting
-- What of an ended run is reckoned.
SELECT r.id, r.routine_id, r.state, r.outcome, r.trial, r.counts_json, r.started_at, r.ended_at, o.area_id, c.idea_id, c.basis,
  c.count_name, p.input_json FROM run r JOIN routine o ON o.id = r.routine_id
LEFT JOIN counting_point c ON c.routine_id = o.id LEFT JOIN promise p ON p.idea_id = c.idea_id WHERE r.id = %(id)s;

-- name: check_slots
-- Places held by runs that do not run.
SELECT s.kind, s.owner_id, s.n, s.run_id FROM slot s LEFT JOIN run r ON r.id = s.run_id
WHERE s.run_id IS NOT NULL AND (r.id IS NULL OR r.state <> 'running') LIMIT 20;

-- name: check_running
-- Running runs without a robot's place.
SELECT r.id FROM run r LEFT JOIN slot s ON s.kind = 'robot' AND s.owner_id = r.robot_id AND s.run_id = r.id
WHERE r.state = 'running' AND s.run_id IS NULL LIMIT 20;
