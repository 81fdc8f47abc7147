-- name: add
-- Runs that somebody starts together, with the rows that were refused.
INSERT INTO run_group (routine_id, person_id, words, refused_json, made_at)
VALUES (%(routine)s, %(person)s, %(words)s, %(refused)s, %(now)s);

-- name: one
-- A group of runs, with its routine and who started it.
-- gives: RunGroup
SELECT g.id, g.routine_id, o.name AS routine, o.area_id, a.name AS area, g.words, g.refused_json, g.made_at, p.name AS person FROM run_group g
JOIN routine o ON o.id = g.routine_id JOIN area a ON a.id = o.area_id LEFT JOIN person p ON p.id = g.person_id WHERE g.id = %(id)s;

-- name: runs
-- The runs of a group in their order.
-- gives: GroupRun
SELECT r.id, r.group_line AS line, r.state, r.outcome, r.reason, r.due_at, r.started_at, r.ended_at, b.name AS robot, r.inputs_json FROM run r
LEFT JOIN robot b ON b.id = r.robot_id WHERE r.group_id = %(id)s ORDER BY r.group_line, r.id;

-- name: waiting
-- The runs of a group that nothing began yet.
SELECT r.id FROM run r WHERE r.group_id = %(id)s AND r.state = 'waiting' AND r.started_at IS NULL ORDER BY r.id;
