-- name: routine
-- One routine with its release, area and counting point.
SELECT o.*, a.name AS area, p.name AS package, r.version AS release_version, r.inputs_json AS schema_json, r.tags_json AS release_tags_json,
  c.idea_id, c.basis, c.count_name, i.title AS idea, i.stage AS idea_stage, i.building AS idea_building
FROM routine o JOIN area a ON a.id = o.area_id JOIN package_release r ON r.id = o.release_id JOIN package p ON p.id = r.package_id
LEFT JOIN counting_point c ON c.routine_id = o.id LEFT JOIN idea i ON i.id = c.idea_id WHERE o.id = %(id)s;

-- name: routines
-- All routines in use with the last run of each.
SELECT o.id, o.name, o.on_trial, o.priority, a.name AS area, p.name AS package, r.version AS release_version, c.idea_id, i.title AS idea,
  (SELECT MAX(x.id) FROM run x WHERE x.routine_id = o.id) AS last_run,
  (SELECT MIN(t.next_at) FROM clock_trigger t WHERE t.routine_id = o.id AND t.retired_at IS NULL) AS next_at
FROM routine o JOIN area a ON a.id = o.area_id JOIN package_release r ON r.id = o.release_id JOIN package p ON p.id = r.package_id
LEFT JOIN counting_point c ON c.routine_id = o.id LEFT JOIN idea i ON i.id = c.idea_id
WHERE o.retired_at IS NULL ORDER BY o.name LIMIT 1000;

-- name: last_states
-- The state of some runs.
SELECT id, state, outcome, ended_at, made_at FROM run WHERE id IN %(ids)s;

-- name: add
-- A new routine, on trial.
INSERT INTO routine (name, area_id, release_id, inputs_json, tags_json, priority, run_limit, lease_minutes, limit_minutes,
  again_after_lost, made_by, made_at)
VALUES (%(name)s, %(area)s, %(release)s, %(inputs)s, %(tags)s, %(priority)s, %(run_limit)s, %(lease_minutes)s, %(limit_minutes)s,
  %(again)s, %(person)s, %(now)s);

-- name: change
-- Changes a routine, if nobody else did meanwhile.
UPDATE routine SET name = %(name)s, area_id = %(area)s, release_id = %(release)s, inputs_json = %(inputs)s, tags_json = %(tags)s,
  priority = %(priority)s, run_limit = %(run_limit)s, lease_minutes = %(lease_minutes)s, limit_minutes = %(limit_minutes)s,
  again_after_lost = %(again)s, version = version + 1 WHERE id = %(id)s AND version = %(version)s;

-- name: lock
-- A routine's row, locked.
SELECT id, on_trial, live_at FROM routine WHERE id = %(id)s FOR UPDATE;

-- name: go_live
-- From now on its runs count.
UPDATE routine SET on_trial = FALSE, live_at = %(now)s, version = version + 1 WHERE id = %(id)s AND on_trial = TRUE;

-- name: set_counting
-- The counting point of an idea.
INSERT INTO counting_point (idea_id, routine_id, basis, count_name, made_at)
VALUES (%(idea)s, %(routine)s, %(basis)s, %(count_name)s, %(now)s);

-- name: counting_of_idea
-- Which routine counts for an idea.
SELECT c.routine_id, o.name FROM counting_point c JOIN routine o ON o.id = c.routine_id WHERE c.idea_id = %(idea)s;

-- name: ideas_to_count
-- Ideas being built that no routine counts for yet.
SELECT i.id, i.title FROM idea i LEFT JOIN counting_point c ON c.idea_id = i.id
WHERE i.stage = 'building' AND c.idea_id IS NULL ORDER BY i.id LIMIT 200;

-- name: worked_trial
-- A trial run of a routine that worked.
SELECT id FROM run WHERE routine_id = %(id)s AND state = 'done' AND outcome = 'worked' ORDER BY id DESC LIMIT 1;

-- name: triggers
-- The triggers of a routine.
SELECT id, expression, zone, on_closed, next_at, version FROM clock_trigger
WHERE routine_id = %(id)s AND retired_at IS NULL ORDER BY id;

-- name: add_trigger
-- A start on the clock.
INSERT INTO clock_trigger (routine_id, expression, zone, on_closed, next_at, next_nominal, made_by, made_at)
VALUES (%(routine)s, %(expression)s, %(zone)s, %(on_closed)s, %(next_at)s, %(next_nominal)s, %(person)s, %(now)s);

-- name: retire_trigger
-- Ends a trigger; its runs stay.
UPDATE clock_trigger SET retired_at = %(now)s, next_at = NULL WHERE id = %(id)s AND routine_id = %(routine)s AND retired_at IS NULL;

-- name: triggers_due
-- Triggers whose time has come.
SELECT id FROM clock_trigger WHERE next_at <= %(now)s ORDER BY next_at LIMIT 200;

-- name: lock_trigger
-- A trigger's row, locked, with what its runs need.
SELECT t.id, t.routine_id, t.expression, t.zone, t.on_closed, t.next_at, t.next_nominal, o.retired_at, o.name
FROM clock_trigger t JOIN routine o ON o.id = t.routine_id WHERE t.id = %(id)s FOR UPDATE;

-- name: set_next
-- When a trigger starts next.
UPDATE clock_trigger SET next_at = %(next_at)s, next_nominal = %(next_nominal)s WHERE id = %(id)s;

-- name: coming
-- What the clock starts next.
SELECT t.id, t.routine_id, o.name AS routine, t.expression, t.zone, t.on_closed, t.next_at FROM clock_trigger t
JOIN routine o ON o.id = t.routine_id WHERE t.next_at IS NOT NULL ORDER BY t.next_at LIMIT 8;

-- name: ready_to_go_live
-- Routines on trial that count for an idea.
SELECT o.id, o.name, c.idea_id FROM routine o JOIN counting_point c ON c.routine_id = o.id
WHERE o.on_trial = TRUE AND o.retired_at IS NULL ORDER BY o.id LIMIT 50;
