-- name: due
-- Open effects whose time has come, oldest first; none of an object that waits after a failure; a hundred at once.
-- gives: DueEffect
SELECT e.id, e.kind, e.object, e.payload_json, e.made_at FROM effect e WHERE e.done_at IS NULL AND e.due_at <= %(now)s
  AND NOT EXISTS (SELECT 1 FROM hitch h WHERE h.work = 'effects' AND h.row_key = e.object AND h.due_at > %(now)s)
ORDER BY e.id LIMIT 100;

-- name: take
-- Marks an effect done in the transaction that carries it out; 0 rows if it was done already.
UPDATE effect SET done_at = %(now)s, fault = NULL WHERE id = %(id)s AND done_at IS NULL;

-- name: first
-- The oldest open effect of an object.
SELECT id, kind FROM effect WHERE object = %(object)s AND done_at IS NULL ORDER BY id LIMIT 1;

-- name: set_aside
-- An effect that failed is given up by a person, with the reason; what waits behind it goes on.
UPDATE effect SET done_at = %(now)s, aside_by = %(person)s, aside_why = %(why)s, fault = %(fault)s WHERE id = %(id)s AND done_at IS NULL;
