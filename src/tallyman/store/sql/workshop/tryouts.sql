-- name: routine_of
-- The routine by which a release is tried out.
-- gives: RoutineUsing
SELECT id, name, area_id FROM routine WHERE tryout_of = %(release)s FOR UPDATE;

-- name: add
-- The routine by which a release is tried out.
INSERT INTO routine (name, area_id, release_id, inputs_json, tags_json, priority, limit_minutes, memory_mb, tryout_of, made_by, made_at)
VALUES (%(name)s, %(area)s, %(release)s, '{}', '[]', 3, 60, 1024, %(release)s, %(person)s, %(now)s);

-- name: set_area
-- It is tried out in another area.
UPDATE routine SET area_id = %(area)s, version = version + 1 WHERE id = %(id)s;

-- name: open_of
-- The try-outs of a release that have not ended, as they are now: of two who begin one at once the second finds it.
SELECT r.id FROM routine o JOIN run r ON r.routine_id = o.id WHERE o.tryout_of = %(release)s AND r.state IN ('waiting','running','held') ORDER BY r.id LOCK IN SHARE MODE;

-- name: last
-- The last twenty try-outs of a release.
-- gives: TryoutRun
SELECT r.id, r.state, r.outcome, r.reason, r.made_at, r.started_at, r.ended_at, a.name AS area, b.name AS robot, r.inputs_json FROM routine o
JOIN run r ON r.routine_id = o.id JOIN area a ON a.id = o.area_id LEFT JOIN robot b ON b.id = r.robot_id
WHERE o.tryout_of = %(release)s ORDER BY r.id DESC LIMIT 20;
