-- name: routine_of
-- The routine of a robot's own trial runs.
SELECT id, name, area_id, release_id FROM routine WHERE trial_of = %(robot)s FOR UPDATE;

-- name: add
-- The routine of a robot's own trial runs.
INSERT INTO routine (name, area_id, release_id, inputs_json, tags_json, priority, limit_minutes, memory_mb, trial_of, made_by, made_at)
VALUES (%(name)s, %(area)s, %(release)s, '{}', '[]', 1, 10, 512, %(robot)s, %(person)s, %(now)s);

-- name: set
-- The same under the robot's name, area and the newest release.
UPDATE routine SET name = %(name)s, area_id = %(area)s, release_id = %(release)s, version = version + 1 WHERE id = %(id)s;

-- name: latest
-- The latest trial run of each robot that had one.
-- gives: LatestTrial
SELECT o.trial_of AS robot_id, r.id, r.state, r.made_at, r.ended_at, r.reason FROM routine o
JOIN run r ON r.id = (SELECT MAX(x.id) FROM run x WHERE x.routine_id = o.id) WHERE o.trial_of IS NOT NULL;

-- name: latest_of
-- The latest trial run of one robot.
-- gives: LatestTrial
SELECT o.trial_of AS robot_id, r.id, r.state, r.made_at, r.ended_at, r.reason FROM routine o
JOIN run r ON r.id = (SELECT MAX(x.id) FROM run x WHERE x.routine_id = o.id) WHERE o.trial_of = %(robot)s;

-- name: release_of
-- A release by its package and number.
SELECT r.id, r.digest FROM package_release r JOIN package p ON p.id = r.package_id WHERE p.name = %(package)s AND r.version = %(version)s;

-- name: open_of
-- A robot's own trial runs that have not ended, as they are now: of two who begin one at once the second finds it.
SELECT r.id FROM routine o JOIN run r ON r.routine_id = o.id WHERE o.trial_of = %(robot)s AND r.state IN ('waiting','running','held') ORDER BY r.id LOCK IN SHARE MODE;

-- name: last_done
-- The latest run that each robot in work finished.
-- gives: LastDone
SELECT b.id AS robot_id, r.id, r.state, r.made_at, r.ended_at, r.reason FROM robot b
JOIN run r ON r.id = (SELECT MAX(x.id) FROM run x WHERE x.robot_id = b.id AND x.state = 'done') WHERE b.retired_at IS NULL;

-- name: last_done_of
-- The latest run that one robot finished.
-- gives: LastDone
SELECT b.id AS robot_id, r.id, r.state, r.made_at, r.ended_at, r.reason FROM robot b
JOIN run r ON r.id = (SELECT MAX(x.id) FROM run x WHERE x.robot_id = b.id AND x.state = 'done') WHERE b.id = %(robot)s;
