-- name: add
-- A waiting run.
INSERT INTO run (routine_id, release_id, trigger_id, nominal_at, started_by, started_words, again_of, attempt, trial, due_at, order_at, lapses_at,
  window_from, window_to, window_zone, open_days, state, reason, inputs_json, attended, for_person, agreed_at, only_robot, group_id, group_line, made_at, changed_at)
VALUES (%(routine)s, %(release)s, %(trigger)s, %(nominal)s, %(person)s, %(words)s, %(again_of)s, %(attempt)s, %(trial)s, %(due)s, %(order)s,
  %(lapses)s, %(window_from)s, %(window_to)s, %(window_zone)s, %(open_days)s, 'waiting', %(reason)s, %(inputs)s, %(attended)s,
  %(for_person)s, %(agreed)s, %(only_robot)s, %(group)s, %(line)s, %(now)s, %(now)s);

-- name: one
-- One run with names.
-- gives: Run
SELECT r.*, o.name AS routine, o.area_id, o.limit_minutes, o.trial_of, o.tryout_of, a.name AS area, p.name AS package, l.version AS release_version,
  b.name AS robot, h.name AS host, w.name AS canceller, n.id AS tried_again_as,
  l.checkpoints, z.name AS pauser, h.heard_at, q.name AS meant_for
FROM run r JOIN routine o ON o.id = r.routine_id JOIN area a ON a.id = o.area_id JOIN package_release l ON l.id = r.release_id
JOIN package p ON p.id = l.package_id LEFT JOIN robot b ON b.id = r.robot_id LEFT JOIN host h ON h.id = r.host_id
LEFT JOIN person w ON w.id = r.cancel_by LEFT JOIN person z ON z.id = r.pause_by LEFT JOIN run n ON n.again_of = r.id
LEFT JOIN person q ON q.id = r.for_person WHERE r.id = %(id)s;

-- name: lock
-- A run's row, locked.
-- gives: LockedRun
SELECT id, routine_id, release_id, state, fence, host_id, robot_id, trial, cancel_at, pause_at, inputs_json, started_at, due_at, lease_until,
  segment, saved_digest, handed_until, ended_at, attempt, for_person, lapses_at FROM run WHERE id = %(id)s FOR UPDATE;

-- name: anything_for_host
-- Whether any run waits that a free robot of a host may take; none does for a host that leaves or is in maintenance.
(SELECT w.routine_id FROM (SELECT DISTINCT routine_id FROM run WHERE state = 'waiting') w JOIN routine o ON o.id = w.routine_id
JOIN area_above ab ON ab.area_id = o.area_id JOIN robot_area ra ON ra.area_id = ab.above_id JOIN robot b ON b.id = ra.robot_id
JOIN slot s ON s.kind = 'robot' AND s.owner_id = b.id AND s.run_id IS NULL JOIN host h ON h.id = b.host_id
WHERE b.host_id = %(host)s AND b.retired_at IS NULL AND h.leaving_at IS NULL
  AND (h.maintenance_at IS NULL OR h.maintenance_until <= %(now)s) LIMIT 1)
UNION ALL (SELECT r.routine_id FROM host h JOIN run r ON r.for_person = h.owner_id AND r.state = 'waiting' WHERE h.id = %(host)s
  AND h.leaving_at IS NULL AND r.agreed_at <= %(now)s AND (h.maintenance_at IS NULL OR h.maintenance_until <= %(now)s) LIMIT 1) LIMIT 1;

-- name: waiting_routines
-- What the routines that have waiting runs ask of a robot; few, however many runs wait.
-- always: active
SELECT w.routine_id, o.area_id, a.name AS area, o.run_limit, o.tags_json, l.tags_json AS release_tags_json, o.asked_json, o.trial_of, o.tryout_of, o.made_by, o.attended,
  (SELECT COUNT(*) FROM slot s WHERE s.kind = 'limit' AND s.owner_id = w.routine_id AND s.run_id IS NOT NULL) AS active
FROM (SELECT DISTINCT routine_id FROM run WHERE state = 'waiting') w JOIN routine o ON o.id = w.routine_id
JOIN area a ON a.id = o.area_id JOIN package_release l ON l.id = o.release_id;

-- name: waiting_first
-- Due waiting runs of some routines, after a place in the order in which they start; none that failed to be handed out just now, none of a release that was withdrawn, or waits for a second yes.
SELECT r.id, r.routine_id, r.due_at, r.order_at, r.window_from, r.window_to, r.window_zone, r.open_days, r.for_person, r.agreed_at, r.only_robot,
  EXISTS (SELECT 1 FROM hitch f WHERE f.work = 'claims' AND f.row_key = CONCAT('run:', r.id)) AS failed_before FROM run r
WHERE r.state = 'waiting' AND r.handed_until IS NULL AND r.routine_id IN %(routines)s AND r.due_at <= %(now)s
  AND (r.order_at > %(order)s OR (r.order_at = %(order)s AND r.id > %(after)s))
  AND NOT EXISTS (SELECT 1 FROM hitch h WHERE h.work = 'claims' AND h.row_key = CONCAT('run:', r.id) AND h.due_at > %(now)s)
  AND NOT EXISTS (SELECT 1 FROM package_release l WHERE l.id = r.release_id AND l.retired_at IS NOT NULL)
  AND NOT EXISTS (SELECT 1 FROM routine o WHERE o.id = r.routine_id AND o.trial_of IS NULL AND EXISTS (SELECT 1 FROM area_above u JOIN area e
  ON e.id = u.above_id WHERE u.area_id = o.area_id AND e.approve_releases) AND NOT EXISTS (SELECT 1 FROM release_approval y WHERE y.release_id = r.release_id))
ORDER BY r.order_at, r.id LIMIT %(limit)s;

-- name: wanted
-- What some waiting runs ask of a robot.
-- gives: WantedRun
-- always: active
-- yes or no: unapproved
SELECT r.id, r.routine_id, r.due_at, r.window_from, r.window_to, r.window_zone, r.open_days, o.area_id, a.name AS area, o.run_limit,
  r.handed_until, r.release_id, b.name AS robot, h.name AS host, r.for_person, r.agreed_at, q.name AS person, r.only_robot,
  o.tags_json, l.tags_json AS release_tags_json, o.asked_json, o.trial_of, o.tryout_of, o.made_by, k.name AS package, l.version AS release_version,
  l.retired_at AS withdrawn_at, l.withdrawn_why,
  (EXISTS (SELECT 1 FROM area_above u JOIN area e ON e.id = u.above_id WHERE u.area_id = o.area_id AND e.approve_releases)
  AND NOT EXISTS (SELECT 1 FROM release_approval y WHERE y.release_id = r.release_id) AND o.trial_of IS NULL) AS unapproved,
  (SELECT COUNT(*) FROM slot s WHERE s.kind = 'limit' AND s.owner_id = r.routine_id AND s.run_id IS NOT NULL) AS active
FROM run r JOIN routine o ON o.id = r.routine_id JOIN area a ON a.id = o.area_id JOIN package_release l ON l.id = r.release_id
JOIN package k ON k.id = l.package_id LEFT JOIN robot b ON b.id = r.robot_id LEFT JOIN host h ON h.id = r.host_id LEFT JOIN person q ON q.id = r.for_person
WHERE r.id IN %(ids)s;

-- name: chosen_robots
-- The robots that alone may take some run that waits and is due.
SELECT DISTINCT only_robot FROM run WHERE state = 'waiting' AND only_robot IS NOT NULL AND due_at <= %(now)s;

-- name: claim
-- Hands a waiting run to a robot and raises its fencing number; it still waits until the runner begins it. None of a release that was withdrawn, or waits for a second yes.
UPDATE run SET robot_id = %(robot)s, host_id = %(host)s, fence = fence + 1, handed_until = %(until)s,
  changed_at = %(now)s
WHERE id = %(id)s AND state = 'waiting' AND handed_until IS NULL AND (for_person IS NULL OR agreed_at <= %(now)s)
  AND (only_robot IS NULL OR only_robot = %(robot)s)
  AND NOT EXISTS (SELECT 1 FROM package_release l WHERE l.id = run.release_id AND l.retired_at IS NOT NULL)
  AND NOT EXISTS (SELECT 1 FROM routine o WHERE o.id = run.routine_id AND o.trial_of IS NULL AND EXISTS (SELECT 1 FROM area_above u JOIN area e
  ON e.id = u.above_id WHERE u.area_id = o.area_id AND e.approve_releases) AND NOT EXISTS (SELECT 1 FROM release_approval y WHERE y.release_id = run.release_id));

-- name: begin
-- The runner begins what it was handed: from now on it is running, in its next segment.
UPDATE run r JOIN routine o ON o.id = r.routine_id SET r.state = 'running', r.segment = r.segment + 1,
  r.lease_until = DATE_ADD(%(now)s, INTERVAL o.lease_minutes MINUTE), r.started_at = COALESCE(r.started_at, %(now)s),
  r.handed_until = NULL, r.changed_at = %(now)s, r.pause_at = NULL, r.pause_by = NULL, r.stalled_at = NULL
WHERE r.id = %(id)s AND r.fence = %(fence)s AND r.host_id = %(host)s AND r.state = 'waiting' AND r.handed_until IS NOT NULL;

-- name: take_back
-- What was handed out and not begun waits again, as if it had not been.
UPDATE run SET handed_until = NULL, robot_id = NULL, host_id = NULL, changed_at = %(now)s
WHERE id = %(id)s AND fence = %(fence)s AND state = 'waiting' AND handed_until IS NOT NULL;

-- name: handed_too_long
-- Claims that no runner began in time; a hundred at once.
SELECT r.id, r.fence FROM run r WHERE r.handed_until < %(now)s
  AND NOT EXISTS (SELECT 1 FROM hitch h WHERE h.work = 'handed' AND h.row_key = CAST(r.id AS CHAR) AND h.due_at > %(now)s) ORDER BY r.handed_until LIMIT 100;

-- name: handed_to
-- Claims of a host that it has not begun.
SELECT id, fence FROM run WHERE host_id = %(host)s AND state = 'waiting' AND handed_until IS NOT NULL;

-- name: begin_segment
-- Where and from when a run works, until it ends or is held.
INSERT INTO run_segment (run_id, n, fence, robot_id, host_id, started_at)
SELECT id, segment, fence, robot_id, host_id, %(now)s FROM run WHERE id = %(run)s;

-- name: asked
-- The run a host was given for an ask whose answer may not have arrived, if it still works on it.
SELECT r.id AS run_id, r.robot_id FROM run_ask a JOIN run r ON r.id = a.run_id AND r.fence = a.fence AND r.host_id = a.host_id
WHERE a.host_id = %(host)s AND a.ask_key = %(key)s AND (r.state = 'running' OR (r.state = 'waiting' AND r.handed_until IS NOT NULL));

-- name: add_ask
-- What an ask was given; of two processes that answer the same ask, one does.
INSERT INTO run_ask (host_id, ask_key, run_id, fence, at) VALUES (%(host)s, %(key)s, %(run)s, %(fence)s, %(now)s);

-- name: prune_asks
-- Asks are made again within seconds only.
DELETE FROM run_ask WHERE at < %(before)s LIMIT 5000;

-- name: due_by_routine
-- How many runs of each routine wait whose time has come.
SELECT routine_id, COUNT(*) AS runs FROM run WHERE state = 'waiting' AND handed_until IS NULL AND due_at <= %(now)s GROUP BY routine_id;

-- name: close_segments
-- Segments of runs that a process of a release before segments ended.
UPDATE run_segment g JOIN run r ON r.id = g.run_id SET g.ended_at = r.ended_at, g.ended_as = r.state
WHERE g.ended_at IS NULL AND r.ended_at IS NOT NULL;

-- name: end_segment
-- The segment with this fencing number is over.
UPDATE run_segment SET ended_at = GREATEST(started_at, COALESCE(ended_at, %(now)s)), ended_as = %(state)s WHERE run_id = %(run)s AND fence = %(fence)s
AND (ended_at IS NULL OR ended_as = 'lost');

-- name: segments
-- The segments of a run.
SELECT g.n, g.fence, b.name AS robot, h.name AS host, g.host_id, g.started_at, g.ended_at, g.ended_as FROM run_segment g
JOIN robot b ON b.id = g.robot_id JOIN host h ON h.id = g.host_id WHERE g.run_id = %(run)s ORDER BY g.n;

-- name: told_of
-- What a telling under a fencing number is held against: whose segment, the package's secrets, the lines so far.
-- always: lines_so_far
SELECT g.host_id, g.ended_at, p.secrets_json,
  (SELECT COALESCE(SUM(l.lines_total), 0) FROM run_report l WHERE l.run_id = r.id) AS lines_so_far
FROM run r JOIN package_release p ON p.id = r.release_id LEFT JOIN run_segment g ON g.run_id = r.id AND g.fence = %(fence)s
WHERE r.id = %(run)s;

-- name: worked_seconds
-- How long a run has worked in its ended segments.
SELECT COALESCE(SUM(TIMESTAMPDIFF(MICROSECOND, started_at, ended_at)), 0) / 1000000 FROM run_segment
WHERE run_id = %(run)s AND ended_at IS NOT NULL;

-- name: ask_pause
-- Asks the runner to have a run save its state and stop.
UPDATE run SET pause_at = %(now)s, pause_by = %(person)s, changed_at = %(now)s
WHERE id = %(id)s AND state = 'running' AND pause_at IS NULL AND cancel_at IS NULL;

-- name: hold
-- A run saved its state and gave its robot free.
UPDATE run SET state = 'held', held_at = %(now)s, saved_digest = %(saved)s, saved_at = %(now)s, reason = %(reason)s,
  lease_until = NULL, changed_at = %(now)s WHERE id = %(id)s AND fence = %(fence)s AND state = 'running';

-- name: go_on
-- A held run waits again, with the state it saved; whose computer it is for is asked anew, unless they say so themselves.
UPDATE run SET state = 'waiting', due_at = %(now)s, order_at = %(order)s, reason = %(reason)s, lapses_at = NULL,
  agreed_at = IF(for_person <=> %(by)s, %(now)s, NULL), asked_at = NULL, changed_at = %(now)s WHERE id = %(id)s AND state = 'held';

-- name: files_of_host
-- What a host may fetch: packages, saved states and inputs of the runs it works on.
SELECT l.digest, l.wheels_json, r.saved_digest, r.inputs_json, l.inputs_json AS schema_json FROM run r JOIN package_release l ON l.id = r.release_id
WHERE r.host_id = %(host)s AND r.state = 'running';

-- name: renew
-- A heartbeat renews the lease of a run that is still the runner's.
UPDATE run r JOIN routine o ON o.id = r.routine_id
SET r.lease_until = DATE_ADD(%(now)s, INTERVAL o.lease_minutes MINUTE)
WHERE r.id = %(id)s AND r.fence = %(fence)s AND r.host_id = %(host)s AND r.state = 'running';

-- name: of_host
-- What a host is working on.
SELECT id, fence, cancel_at, pause_at, lease_until, routine_id, stalled_at FROM run WHERE host_id = %(host)s AND state = 'running';

-- name: finish
-- Ends a run that stands in one of the states seen.
UPDATE run SET state = %(state)s, outcome = %(outcome)s, reason = %(reason)s, outputs_json = %(outputs)s, counts_json = %(counts)s,
  ended_at = %(ended)s, changed_at = %(now)s, lease_until = NULL, late_json = NULL, late_at = NULL WHERE id = %(id)s AND fence = %(fence)s AND state = %(from_state)s;

-- name: end_waiting
-- Ends a run that waits or is held.
UPDATE run SET state = %(state)s, reason = %(reason)s, ended_at = %(now)s, changed_at = %(now)s, cancel_by = %(person)s, handed_until = NULL
WHERE id = %(id)s AND state = %(from_state)s;

-- name: ask_cancel
-- Asks the runner to end a run.
UPDATE run SET cancel_at = %(now)s, cancel_by = %(person)s, changed_at = %(now)s
WHERE id = %(id)s AND state = 'running' AND cancel_at IS NULL;

-- name: leases_ended
-- Running runs whose lease has ended; a hundred at once.
SELECT r.id FROM run r WHERE r.state = 'running' AND r.lease_until < %(now)s
  AND NOT EXISTS (SELECT 1 FROM hitch h WHERE h.work = 'leases' AND h.row_key = CAST(r.id AS CHAR) AND h.due_at > %(now)s) ORDER BY r.lease_until LIMIT 100;

-- name: lose
-- A run is lost, if its lease is still over.
UPDATE run SET state = 'lost', reason = %(reason)s, ended_at = %(now)s, changed_at = %(now)s
WHERE id = %(id)s AND fence = %(fence)s AND state = 'running' AND lease_until < %(now)s;

-- name: end_lease
-- The lease of a run that its runner knows nothing of is over.
UPDATE run SET lease_until = %(over)s WHERE id = %(id)s AND fence = %(fence)s AND state = 'running';

-- name: keep_late
-- An outcome that came too late waits for a person to decide.
UPDATE run SET late_json = %(late)s, late_at = %(now)s WHERE id = %(id)s AND fence = %(fence)s AND state = 'lost' AND late_at IS NULL;

-- name: late
-- A lost run's late outcome, locked.
SELECT id, routine_id, release_id, state, fence, late_json, late_at, ended_at FROM run WHERE id = %(id)s FOR UPDATE;

-- name: late_open
-- Outcomes that came late and wait for a person.
SELECT r.id, o.name AS routine, r.late_at FROM run r JOIN routine o ON o.id = r.routine_id
WHERE r.late_at IS NOT NULL AND r.late_json IS NOT NULL AND r.state = 'lost' AND (%(everywhere)s OR o.area_id IN %(areas)s)
ORDER BY r.late_at;

-- name: drop_late
-- A late outcome is not to count.
UPDATE run SET late_json = NULL, reason = %(reason)s, changed_at = %(now)s WHERE id = %(id)s AND state = 'lost' AND late_json IS NOT NULL;

-- name: lapsed
-- Waiting runs past their latest start; a hundred at once.
SELECT r.id FROM run r WHERE r.state = 'waiting' AND r.lapses_at < %(now)s
  AND NOT EXISTS (SELECT 1 FROM hitch h WHERE h.work = 'lapses' AND h.row_key = CAST(r.id AS CHAR) AND h.due_at > %(now)s) ORDER BY r.lapses_at LIMIT 100;

-- name: lapses
-- When a waiting run lapses.
SELECT lapses_at FROM run WHERE id = %(id)s AND state = 'waiting' FOR UPDATE;

-- name: later_attempt
-- The run that was made when this one was lost.
SELECT id FROM run WHERE again_of = %(id)s;

-- name: add_report
-- One numbered batch of a runner's report; a repeated one changes nothing.
INSERT IGNORE INTO run_report (run_id, fence, seq, at, lines_total, lines_packed)
VALUES (%(run)s, %(fence)s, %(seq)s, %(now)s, %(total)s, %(packed)s);

-- name: reports
-- The batches of a run that hold the lines after a number, up to another; with how many lines stand before each.
SELECT r.lines_packed, w.lines_before FROM (SELECT fence, seq, lines_total,
  SUM(lines_total) OVER (ORDER BY fence, seq) - lines_total AS lines_before FROM run_report WHERE run_id = %(run)s) w
JOIN run_report r ON r.run_id = %(run)s AND r.fence = w.fence AND r.seq = w.seq
WHERE w.lines_before + w.lines_total > %(after)s AND w.lines_before < %(upto)s ORDER BY r.fence, r.seq;

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
-- gives: Step
SELECT n, name, started_at, ended_at, fault, data_in_json, data_out_json FROM run_step WHERE run_id = %(run)s ORDER BY n;

-- name: current_steps
-- The last step of some runs.
SELECT s.run_id, s.n, s.name FROM run_step s JOIN (
  SELECT run_id, MAX(n) AS n FROM run_step WHERE run_id IN %(ids)s GROUP BY run_id) m ON m.run_id = s.run_id AND m.n = s.n;

-- name: counts_by_state
-- How many runs are open now.
SELECT r.state, COUNT(*) AS runs FROM run r JOIN routine o ON o.id = r.routine_id
WHERE r.state IN ('waiting','running','held') AND (%(everywhere)s OR o.area_id IN %(areas)s) GROUP BY r.state;

-- name: idea_area
-- The area of the idea that a routine counts for.
SELECT i.area_id FROM counting_point c JOIN idea i ON i.id = c.idea_id WHERE c.routine_id = %(routine)s;

-- name: went_wrong
-- Runs that ended badly since a time, the latest first.
SELECT r.id, o.name AS routine, r.state, r.reason, r.ended_at FROM run r JOIN routine o ON o.id = r.routine_id
WHERE r.state IN ('failed','lost','lapsed') AND r.ended_at >= %(since)s
  AND (%(everywhere)s OR o.area_id IN %(areas)s) ORDER BY r.id DESC LIMIT 12;

-- name: usual_minutes
-- The lengths of a routine's last good runs, in seconds.
SELECT TIMESTAMPDIFF(SECOND, started_at, ended_at) AS seconds FROM run
WHERE routine_id = %(routine)s AND state = 'done' AND started_at IS NOT NULL ORDER BY id DESC LIMIT 21;

-- name: for_posting
-- What of an ended run is reckoned.
-- always: worked_micros, segments
SELECT r.id, r.routine_id, r.state, r.outcome, r.trial, r.attended, r.counts_json, r.started_at, r.ended_at, o.area_id, c.idea_id, c.basis,
  c.count_name, p.input_json, x.units AS fixed_units, x.handed_back AS fixed_back, x.why AS fixed_why, x.person_id AS fixed_by,
  (SELECT COALESCE(SUM(TIMESTAMPDIFF(MICROSECOND, g.started_at, g.ended_at)), 0) FROM run_segment g
    WHERE g.run_id = r.id AND g.ended_at IS NOT NULL) AS worked_micros,
  (SELECT COUNT(*) FROM run_segment g WHERE g.run_id = r.id) AS segments
FROM run r LEFT JOIN tally_fix x ON x.run_id = r.id JOIN routine o ON o.id = r.routine_id
LEFT JOIN counting_point c ON c.routine_id = o.id LEFT JOIN promise p ON p.idea_id = c.idea_id WHERE r.id = %(id)s;

-- name: check_slots
-- Places held by runs that do not run; the first 20.
SELECT s.kind, s.owner_id, s.n, s.run_id FROM slot s LEFT JOIN run r ON r.id = s.run_id
WHERE s.run_id IS NOT NULL AND (r.id IS NULL OR (r.state <> 'running' AND r.handed_until IS NULL)) LIMIT 20;

-- name: check_handed
-- Claims that are handed out but do not wait; the first 20.
SELECT id, state FROM run WHERE handed_until IS NOT NULL AND state <> 'waiting' LIMIT 20;

-- name: check_running
-- Running runs that lack a place: a robot, a seat, or their routine's limit; the first 20.
SELECT r.id, COUNT(s.n) AS places FROM run r LEFT JOIN slot s ON s.run_id = r.id AND s.kind IN ('robot','seat','trial','attended','builder','limit')
WHERE r.state = 'running' GROUP BY r.id HAVING COUNT(s.n) <> 3 LIMIT 20;

-- name: check_locks
-- Running runs that do not hold a lock their routine takes; the first 20.
SELECT r.id, k.name FROM run r JOIN routine_lock rl ON rl.routine_id = r.routine_id JOIN named_lock k ON k.id = rl.lock_id
LEFT JOIN slot s ON s.kind = 'lock' AND s.owner_id = rl.lock_id AND s.run_id = r.id
WHERE r.state = 'running' AND s.n IS NULL AND r.started_at > k.made_at LIMIT 20;

-- name: check_states
-- Runs whose times do not fit their state; the first 20.
SELECT id, state FROM run WHERE (state IN ('done','failed','cancelled','lapsed','lost') AND ended_at IS NULL)
OR (state IN ('waiting','running','held') AND ended_at IS NOT NULL) OR (state = 'running' AND (lease_until IS NULL OR robot_id IS NULL))
OR (state IN ('done','failed') AND started_at IS NULL) LIMIT 20;

-- name: check_segments
-- Segments that go on although their run does not run, and running runs without one; the first 20.
SELECT r.id, r.state FROM run r JOIN run_segment g ON g.run_id = r.id
WHERE g.ended_at IS NULL AND (r.state <> 'running' OR g.fence <> r.fence) LIMIT 20;

-- name: check_stuck
-- Runs that nobody works on any more: their lease ended long ago; the first 20.
SELECT id, lease_until FROM run WHERE state = 'running' AND lease_until < %(before)s LIMIT 20;

-- name: check_starts
-- Starts that are noted with a run that is not theirs; the first 20.
SELECT s.id, s.run_id FROM trigger_start s LEFT JOIN run r ON r.id = s.run_id
WHERE s.what = 'started' AND (r.id IS NULL OR r.trigger_id <> s.trigger_id OR r.nominal_at <> s.nominal_at) LIMIT 20;

-- name: bad_since
-- How many other runs of a routine came to no good end since some time.
SELECT COUNT(*) FROM run WHERE routine_id = %(routine)s AND state IN ('failed','lost','lapsed') AND trial = FALSE
  AND ended_at > %(since)s AND id <> %(run)s;
