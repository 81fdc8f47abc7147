-- name: of_idea
-- The points of a sizing that were sent back, the open ones first.
SELECT q.id, q.field, q.words, p.name AS person, q.made_at, m.name AS met_by, q.met_at, q.answer FROM sizing_point q
JOIN person p ON p.id = q.made_by LEFT JOIN person m ON m.id = q.met_by WHERE q.idea_id = %(idea)s
ORDER BY q.met_at IS NOT NULL, q.id;

-- name: add
-- A point that has to be looked at again.
INSERT INTO sizing_point (idea_id, field, words, made_by, made_at) VALUES (%(idea)s, %(field)s, %(words)s, %(person)s, %(now)s);

-- name: met
-- The field of open points was changed.
UPDATE sizing_point SET met_by = %(person)s, met_at = %(now)s, answer = 'changed'
WHERE idea_id = %(idea)s AND field = %(field)s AND met_at IS NULL;

-- name: answer
-- A point is answered in words, the field left as it is.
UPDATE sizing_point SET met_by = %(person)s, met_at = %(now)s, answer = %(answer)s
WHERE id = %(id)s AND idea_id = %(idea)s AND met_at IS NULL;
