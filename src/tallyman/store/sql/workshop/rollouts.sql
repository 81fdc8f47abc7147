-- name: note_release
-- A routine has another release from now on.
INSERT INTO routine_release (routine_id, release_id, rollout_id, person_id, why, since)
VALUES (%(routine)s, %(release)s, %(rollout)s, %(person)s, %(why)s, %(now)s);

-- name: releases_of
-- The releases a routine has had, the first one first.
-- gives: RoutineRelease
SELECT h.id, h.release_id, r.version, h.since, w.name AS person, h.why, h.rollout_id FROM routine_release h
JOIN package_release r ON r.id = h.release_id LEFT JOIN person w ON w.id = h.person_id
WHERE h.routine_id = %(routine)s ORDER BY h.since, h.id;

-- name: could_take
-- The routines in use of a package that have another release than one.
SELECT o.id FROM package p JOIN package_release r ON r.package_id = p.id JOIN routine o ON o.release_id = r.id
WHERE p.name = %(package)s AND r.id <> %(release)s AND o.retired_at IS NULL AND NOT o.aside ORDER BY o.name;

-- name: add
-- A roll-out, under way.
INSERT INTO rollout (release_id, how, why, first_robot, first_area, good_wanted, bad_allowed, state, person_id, made_at)
VALUES (%(release)s, %(how)s, %(why)s, %(robot)s, %(area)s, %(good)s, %(bad)s, 'under way', %(person)s, %(now)s);

-- name: add_part
-- A routine of a roll-out, which no other one may change meanwhile.
INSERT INTO rollout_routine (rollout_id, routine_id, open_routine, goes_first, state, old_release, old_inputs_json, new_inputs_json, was_on_trial)
VALUES (%(rollout)s, %(routine)s, %(routine)s, %(first)s, 'waits', %(old)s, %(old_inputs)s, %(new_inputs)s, %(trial)s);

-- name: lock
-- A roll-out's row, locked.
SELECT id, release_id, state FROM rollout WHERE id = %(id)s FOR UPDATE;

-- name: one
-- A roll-out, with its release and what goes first.
-- gives: Rollout
SELECT x.*, p.name AS package, r.version, r.retired_at AS withdrawn_at, r.withdrawn_why, r.inputs_json AS schema_json, w.name AS person,
  b.name AS robot, b.retired_at AS robot_retired_at, a.name AS area, e.name AS ended_by_name FROM rollout x JOIN package_release r ON r.id = x.release_id
JOIN package p ON p.id = r.package_id JOIN person w ON w.id = x.person_id LEFT JOIN robot b ON b.id = x.first_robot
LEFT JOIN area a ON a.id = x.first_area LEFT JOIN person e ON e.id = x.ended_by WHERE x.id = %(id)s;

-- name: parts
-- The routines of a roll-out, those that go first before the others.
-- gives: RolloutPart
SELECT t.*, o.name AS routine, o.area_id, a.name AS area, o.release_id, o.retired_at, r.version AS old_version, r.inputs_json AS old_schema_json
FROM rollout_routine t JOIN routine o ON o.id = t.routine_id JOIN area a ON a.id = o.area_id JOIN package_release r ON r.id = t.old_release
WHERE t.rollout_id = %(id)s ORDER BY t.goes_first DESC, o.name;

-- name: open_of
-- The roll-out that changes a routine now.
SELECT rollout_id FROM rollout_routine WHERE open_routine = %(routine)s;

-- name: under_way
-- The roll-outs that are under way, the oldest first; none that failed to be carried on just now.
SELECT x.id FROM rollout x WHERE x.state = 'under way' AND NOT EXISTS (SELECT 1 FROM hitch h
  WHERE h.work = 'rollouts' AND h.row_key = CAST(x.id AS CHAR) AND h.due_at > %(now)s) ORDER BY x.id;

-- name: trial_runs
-- How runs of the new release ended in the routines that go first, since a roll-out began.
SELECT r.routine_id, r.state, COUNT(*) AS runs FROM rollout x JOIN rollout_routine t ON t.rollout_id = x.id AND t.goes_first
JOIN run r ON r.routine_id = t.routine_id AND r.release_id = x.release_id AND r.started_at >= x.made_at
WHERE x.id = %(id)s GROUP BY r.routine_id, r.state;

-- name: set_part
-- What became of a routine of a roll-out.
UPDATE rollout_routine SET state = %(state)s, words = %(words)s, changed_at = %(now)s WHERE id = %(id)s;

-- name: end
-- A roll-out is over.
UPDATE rollout SET state = %(state)s, ended_at = %(now)s, ended_by = %(person)s, ended_words = %(words)s WHERE id = %(id)s;

-- name: let_go
-- Other roll-outs may change its routines from now on.
UPDATE rollout_routine SET open_routine = NULL WHERE rollout_id = %(id)s;

-- name: give
-- A routine takes another release, if it still has the one it had and is in use.
UPDATE routine SET release_id = %(release)s, inputs_json = %(inputs)s, on_trial = %(trial)s, version = version + 1
WHERE id = %(id)s AND release_id = %(had)s AND retired_at IS NULL;

-- name: waiting_of
-- Runs of a routine with one release that nothing began yet.
SELECT r.id, r.inputs_json FROM run r WHERE r.routine_id = %(routine)s AND r.state = 'waiting' AND r.release_id = %(release)s
  AND r.started_at IS NULL AND r.handed_until IS NULL ORDER BY r.id;

-- name: run_takes
-- A run that nothing began yet takes another release.
UPDATE run SET release_id = %(release)s, inputs_json = %(inputs)s
WHERE id = %(id)s AND release_id = %(had)s AND state = 'waiting' AND started_at IS NULL AND handed_until IS NULL;

-- name: tried_on
-- The roll-out that begins with one robot and changes the routine of a run that nothing began yet.
-- gives: TriedOn
SELECT x.id, x.first_robot, x.release_id, t.id AS part_id, t.old_release, r.release_id AS had, r.inputs_json, l.inputs_json AS schema_json,
  l.retired_at AS withdrawn_at FROM run r JOIN rollout_routine t ON t.open_routine = r.routine_id AND t.state = 'waits'
JOIN rollout x ON x.id = t.rollout_id AND x.first_robot IS NOT NULL JOIN package_release l ON l.id = x.release_id
WHERE r.id = %(run)s AND r.started_at IS NULL;

-- name: listed
-- The last 100 roll-outs, those under way before the others.
-- gives: RolloutRow
SELECT x.id, x.how, x.state, x.made_at, x.ended_at, p.name AS package, r.version, x.release_id, w.name AS person,
  (SELECT COUNT(*) FROM rollout_routine t WHERE t.rollout_id = x.id) AS routines FROM rollout x JOIN package_release r ON r.id = x.release_id
JOIN package p ON p.id = r.package_id JOIN person w ON w.id = x.person_id
WHERE %(everywhere)s OR EXISTS (SELECT 1 FROM rollout_routine t JOIN routine o ON o.id = t.routine_id WHERE t.rollout_id = x.id AND o.area_id IN %(areas)s)
ORDER BY x.state = 'under way' DESC, x.id DESC LIMIT 100;

-- name: ended_since
-- The runs of a routine that began since a day and ended, each with how and when.
-- gives: EndedRun
SELECT r.id, r.state, r.ended_at, r.release_id FROM run r WHERE r.routine_id = %(routine)s AND r.started_at >= %(since)s AND r.ended_at IS NOT NULL ORDER BY r.id;

-- name: waiting_ids
-- The runs of a routine with one release that nothing began yet.
SELECT id FROM run WHERE routine_id = %(routine)s AND state = 'waiting' AND release_id = %(release)s AND started_at IS NULL;
