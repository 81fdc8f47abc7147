-- name: listed
-- Systems whose name, note or owner has the words, or in one state, with how many ideas and routines use each.
-- always: ideas, routines
SELECT s.id, s.name, s.access, s.owner_id, p.name AS owner, p.email AS owner_mail, s.test_system, s.note, s.state, s.version,
  (SELECT COUNT(*) FROM idea_system i WHERE i.name = s.name) AS ideas,
  (SELECT COUNT(DISTINCT c.routine_id) FROM idea_system i JOIN counting_point c ON c.idea_id = i.idea_id AND c.ended_at IS NULL WHERE i.name = s.name) AS routines
FROM business_system s LEFT JOIN person p ON p.id = s.owner_id
WHERE (s.name LIKE %(words)s OR s.note LIKE %(words)s OR p.name LIKE %(words)s) AND (%(state)s IS NULL OR s.state = %(state)s)
ORDER BY s.state = 'retired', s.state <> 'new', s.name;

-- name: names
-- Systems that can be chosen.
-- gives: SystemChoice
SELECT name, access, state FROM business_system WHERE state <> 'retired' ORDER BY name;

-- name: one
-- One system.
-- gives: System
SELECT s.id, s.name, s.access, s.owner_id, p.name AS owner, s.test_system, s.note, s.state, s.version, b.name AS made_by, s.made_at,
  s.changed_at FROM business_system s LEFT JOIN person p ON p.id = s.owner_id JOIN person b ON b.id = s.made_by WHERE s.id = %(id)s;

-- name: by_name
-- A system by its name.
SELECT id, access, state FROM business_system WHERE name = %(name)s;

-- name: add
-- Enters a system.
INSERT INTO business_system (name, access, owner_id, test_system, note, state, made_by, made_at, changed_at)
VALUES (%(name)s, %(access)s, %(owner_id)s, %(test_system)s, %(note)s, %(state)s, %(person)s, %(now)s, %(now)s);

-- name: change
-- Changes a system, which makes it known.
UPDATE business_system SET name = %(name)s, access = %(access)s, owner_id = %(owner_id)s, test_system = %(test_system)s,
  note = %(note)s, state = 'known', version = version + 1, changed_at = %(now)s WHERE id = %(id)s;

-- name: set_state
-- Takes a system out of what can be chosen, or back.
UPDATE business_system SET state = %(state)s, version = version + 1, changed_at = %(now)s WHERE id = %(id)s AND state <> %(state)s;

-- name: ideas
-- Ideas that use a system, as far as the reader may see them.
-- gives: UsingIdea
SELECT i.id, i.title, i.stage FROM idea_system s JOIN idea i ON i.id = s.idea_id
WHERE s.name = %(name)s AND i.stage <> 'draft' AND (%(everywhere)s OR i.area_id IN %(areas)s) ORDER BY i.id;

-- name: routines
-- Routines that serve ideas that use a system, as far as the reader may see them.
-- gives: UsingRoutine
SELECT DISTINCT o.id, o.name, c.idea_id FROM idea_system s JOIN counting_point c ON c.idea_id = s.idea_id AND c.ended_at IS NULL
JOIN routine o ON o.id = c.routine_id WHERE s.name = %(name)s AND (%(everywhere)s OR o.area_id IN %(areas)s) ORDER BY o.name;

-- name: use
-- How many ideas and routines use a system, whoever may see them.
SELECT (SELECT COUNT(*) FROM idea_system WHERE name = %(name)s) AS all_ideas,
  (SELECT COUNT(DISTINCT c.routine_id) FROM idea_system i JOIN counting_point c ON c.idea_id = i.idea_id AND c.ended_at IS NULL WHERE i.name = %(name)s) AS all_routines;

-- name: facts
-- Sizings that name a system.
SELECT f.idea_id, f.value_json FROM fact f JOIN idea_system s ON s.idea_id = f.idea_id
WHERE f.field = 'systems' AND s.name = %(name)s FOR UPDATE;

-- name: rename_in_fact
-- A sizing names its systems anew.
-- moves worths: idea
UPDATE fact SET value_json = %(value)s WHERE idea_id = %(idea)s AND field = 'systems';

-- name: rename_in_ideas
-- Ideas go over to another name of a system.
UPDATE IGNORE idea_system SET name = %(new)s WHERE name = %(old)s;
