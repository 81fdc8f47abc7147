-- name: seen
-- Saved views of a list: one's own, and those that others share.
SELECT v.id, v.name, v.query, v.shared, v.person_id, p.name AS person FROM saved_view v JOIN person p ON p.id = v.person_id
WHERE v.list = %(list)s AND (v.person_id = %(person)s OR v.shared) ORDER BY v.person_id <> %(person)s, v.name, v.id;

-- name: add
-- A view of one's own.
INSERT INTO saved_view (person_id, list, name, query, shared, made_at) VALUES (%(person)s, %(list)s, %(name)s, %(query)s, %(shared)s, %(now)s);

-- name: change
-- Another name, other filters, shared or not.
UPDATE saved_view SET name = %(name)s, query = %(query)s, shared = %(shared)s WHERE id = %(id)s AND person_id = %(person)s;

-- name: one
-- A view.
SELECT id, name, query, shared, person_id FROM saved_view WHERE id = %(id)s;

-- name: drop
-- A view goes.
DELETE FROM saved_view WHERE id = %(id)s AND person_id = %(person)s;
