-- name: routine
-- One routine with its release, area and counting point.
-- gives: Routine
-- yes or no: unapproved
SELECT o.*, a.name AS area, p.name AS package, r.version AS release_version, r.inputs_json AS schema_json, r.tags_json AS release_tags_json, r.secrets_json AS release_secrets_json,
  w.name AS attended_by, r.checkpoints, r.retired_at AS withdrawn_at, r.withdrawn_why,
  (EXISTS (SELECT 1 FROM area_above u JOIN area e ON e.id = u.above_id WHERE u.area_id = o.area_id AND e.approve_releases)
  AND NOT EXISTS (SELECT 1 FROM release_approval y WHERE y.release_id = o.release_id) AND o.trial_of IS NULL) AS unapproved,
  c.idea_id, c.basis, c.count_name, i.title AS idea, i.stage AS idea_stage, i.building AS idea_building
FROM routine o JOIN area a ON a.id = o.area_id JOIN package_release r ON r.id = o.release_id JOIN package p ON p.id = r.package_id
LEFT JOIN counting_point c ON c.routine_id = o.id LEFT JOIN idea i ON i.id = c.idea_id LEFT JOIN person w ON w.id = o.attended_for WHERE o.id = %(id)s;

-- name: area_of
-- The area of a routine.
SELECT area_id FROM routine WHERE id = %(id)s;

-- name: routines
-- All routines in use with the last run of each.
SELECT o.id, o.name, o.on_trial, o.priority, o.area_id, a.name AS area, p.name AS package, r.version AS release_version, c.idea_id, i.title AS idea,
  (SELECT MAX(x.id) FROM run x WHERE x.routine_id = o.id) AS last_run,
  (SELECT MIN(t.next_at) FROM start_trigger t WHERE t.routine_id = o.id AND t.retired_at IS NULL) AS next_at
FROM routine o JOIN area a ON a.id = o.area_id JOIN package_release r ON r.id = o.release_id JOIN package p ON p.id = r.package_id
LEFT JOIN counting_point c ON c.routine_id = o.id LEFT JOIN idea i ON i.id = c.idea_id
WHERE o.retired_at IS NULL AND NOT o.aside AND (%(everywhere)s OR o.area_id IN %(areas)s) ORDER BY o.name;

-- name: last_states
-- The state of some runs.
SELECT id, state, outcome, ended_at, made_at FROM run WHERE id IN %(ids)s;

-- name: add
-- A new routine, on trial.
INSERT INTO routine (name, area_id, release_id, inputs_json, tags_json, priority, run_limit, lease_minutes, limit_minutes,
  again_after_lost, most_attempts, memory_mb, asked_json, attended, attended_for, made_by, made_at)
VALUES (%(name)s, %(area)s, %(release)s, %(inputs)s, %(tags)s, %(priority)s, %(run_limit)s, %(lease_minutes)s, %(limit_minutes)s,
  %(again)s, %(most_attempts)s, %(memory_mb)s, %(asked)s, %(attended)s, %(attended_for)s, %(person)s, %(now)s);

-- name: change
-- Changes a routine, if nobody else did meanwhile.
UPDATE routine SET name = %(name)s, area_id = %(area)s, release_id = %(release)s, inputs_json = %(inputs)s, tags_json = %(tags)s,
  priority = %(priority)s, run_limit = %(run_limit)s, lease_minutes = %(lease_minutes)s, limit_minutes = %(limit_minutes)s,
  again_after_lost = %(again)s, most_attempts = %(most_attempts)s, memory_mb = %(memory_mb)s, asked_json = %(asked)s, attended = %(attended)s,
  attended_for = %(attended_for)s, version = version + 1
WHERE id = %(id)s AND version = %(version)s AND retired_at IS NULL;

-- name: move
-- A routine lies in another area from now on.
UPDATE routine SET area_id = %(area)s, version = version + 1 WHERE id = %(id)s AND area_id <> %(area)s AND retired_at IS NULL;

-- name: lock
-- A routine's row, locked.
SELECT id, on_trial, live_at, retired_at FROM routine WHERE id = %(id)s FOR UPDATE;

-- name: go_live
-- From now on its runs count.
UPDATE routine SET on_trial = FALSE, live_at = %(now)s, version = version + 1 WHERE id = %(id)s AND on_trial = TRUE;

-- name: set_counting
-- The counting point of an idea.
INSERT INTO counting_point (idea_id, routine_id, basis, count_name, made_at)
VALUES (%(idea)s, %(routine)s, %(basis)s, %(count_name)s, %(now)s);

-- name: counting_of_idea
-- Which routine counts for an idea.
SELECT c.routine_id, o.name FROM counting_point c JOIN routine o ON o.id = c.routine_id WHERE c.idea_id = %(idea)s AND c.ended_at IS NULL;

-- name: ideas_to_count
-- Ideas being built, what ran before it was registered, and what a retired routine counted for, that none counts for now.
-- gives: IdeaName
SELECT i.id, i.title FROM idea i LEFT JOIN counting_point c ON c.idea_id = i.id AND c.ended_at IS NULL
WHERE i.stage IN ('building','in service') AND (i.stage = 'building' OR i.source = 'runs already'
  OR EXISTS (SELECT 1 FROM counting_point e WHERE e.idea_id = i.id)) AND c.idea_id IS NULL AND (%(everywhere)s OR i.area_id IN %(areas)s) ORDER BY i.id;

-- name: worked_trial
-- A run of a release that worked for a routine.
SELECT id FROM run WHERE routine_id = %(id)s AND release_id = %(release)s AND state = 'done' AND outcome = 'worked' ORDER BY id DESC LIMIT 1;

-- name: on_trial_again
-- A routine whose next release is tried before it counts.
UPDATE routine SET on_trial = TRUE WHERE id = %(id)s;

-- name: locks_of
-- The locks a routine takes, and which run holds each now.
SELECT k.id, k.name, s.run_id AS held_by FROM routine_lock rl JOIN named_lock k ON k.id = rl.lock_id
LEFT JOIN slot s ON s.kind = 'lock' AND s.owner_id = k.id AND s.n = 0 WHERE rl.routine_id = %(routine)s ORDER BY k.id;

-- name: locks_of_many
-- The locks that some routines take, and which run holds each now.
SELECT rl.routine_id, k.name, s.run_id AS held_by FROM routine_lock rl JOIN named_lock k ON k.id = rl.lock_id
LEFT JOIN slot s ON s.kind = 'lock' AND s.owner_id = k.id AND s.n = 0 WHERE rl.routine_id IN %(routines)s ORDER BY rl.routine_id, k.id;

-- name: locks_held
-- Which run holds each of some named locks now.
-- gives: LockHeld
SELECT k.name, s.run_id AS held_by FROM named_lock k
LEFT JOIN slot s ON s.kind = 'lock' AND s.owner_id = k.id AND s.n = 0 WHERE k.name IN %(names)s;

-- name: locks
-- All named locks.
SELECT id, name FROM named_lock ORDER BY name;

-- name: add_lock
-- A named lock; the number of the known one if the name exists.
INSERT INTO named_lock (name, made_at) VALUES (%(name)s, %(now)s) ON DUPLICATE KEY UPDATE id = LAST_INSERT_ID(id);

-- name: lock_with
-- A routine takes a lock while it runs.
INSERT IGNORE INTO routine_lock (routine_id, lock_id) VALUES (%(routine)s, %(lock)s);

-- name: unlock_all
-- A routine takes no locks any more.
DELETE FROM routine_lock WHERE routine_id = %(routine)s;

-- name: ready_to_go_live
-- Routines on trial that count for an idea.
SELECT o.id, o.name, c.idea_id FROM routine o JOIN counting_point c ON c.routine_id = o.id
WHERE o.on_trial = TRUE AND o.retired_at IS NULL AND (%(everywhere)s OR o.area_id IN %(areas)s) ORDER BY o.id;

-- name: active
-- How many runs of a routine are under way, each with a place of its limit.
SELECT COUNT(*) FROM slot WHERE kind = 'limit' AND owner_id = %(routine)s AND run_id IS NOT NULL;

-- name: retire
-- Takes a routine out of use.
UPDATE routine SET retired_at = %(now)s, version = version + 1 WHERE id = %(id)s AND retired_at IS NULL;

-- name: counted_last
-- The routine that counted for an idea last, and until when; the one that counts now has no end.
SELECT c.routine_id, o.name, c.ended_at FROM counting_point c JOIN routine o ON o.id = c.routine_id
WHERE c.idea_id = %(idea)s ORDER BY c.ended_at IS NULL DESC, c.ended_at DESC LIMIT 1;

-- name: end_counting
-- A routine counts for its idea no more.
UPDATE counting_point SET ended_at = %(now)s WHERE routine_id = %(id)s AND ended_at IS NULL;

-- name: using_release
-- The routines in use of a release.
-- gives: RoutineUsing
SELECT id, name, area_id FROM routine WHERE release_id = %(release)s AND retired_at IS NULL AND NOT aside ORDER BY name;

-- name: open_runs
-- Runs of a routine that wait, work or are held; the first 20, and one more that tells that there are others.
SELECT id, state FROM run WHERE routine_id = %(routine)s AND state IN ('waiting','running','held') ORDER BY id LIMIT 21;

-- name: asking
-- What each routine in use asks of a robot; not those that work on people's own computers.
SELECT o.id, o.name, o.area_id, o.tags_json, r.tags_json AS release_tags_json, o.asked_json FROM routine o
JOIN package_release r ON r.id = o.release_id WHERE o.retired_at IS NULL AND NOT o.aside AND o.attended = '' ORDER BY o.name;

-- name: retired
-- Routines that are out of use, the latest first.
-- gives: RetiredRoutine
-- always: retired_at
SELECT o.id, o.name, o.retired_at, a.name AS area FROM routine o JOIN area a ON a.id = o.area_id
WHERE o.retired_at IS NOT NULL AND NOT o.aside AND (%(everywhere)s OR o.area_id IN %(areas)s) ORDER BY o.retired_at DESC LIMIT 200;
