-- name: of_idea
-- The variants of a case that people kept.
SELECT v.id, v.name, v.input_json, v.version, v.at, p.name AS person FROM case_variant v JOIN person p ON p.id = v.person_id
WHERE v.idea_id = %(idea)s ORDER BY v.id;

-- name: add
-- Keeps a variant.
INSERT INTO case_variant (idea_id, name, input_json, person_id, at) VALUES (%(idea)s, %(name)s, %(input)s, %(person)s, %(now)s);

-- name: change
-- Changes a variant.
UPDATE case_variant SET name = %(name)s, input_json = %(input)s, person_id = %(person)s, at = %(now)s, version = version + 1
WHERE id = %(id)s;

-- name: drop
-- Takes a variant away.
DELETE FROM case_variant WHERE id = %(id)s;
