-- name: of_owner
-- A person's own computer.
-- gives: OwnComputer
-- yes or no: connected
SELECT h.id, h.name, h.heard_at, h.code_until, h.token_hash IS NOT NULL AS connected, h.revoked_at, h.in_use_since, b.id AS robot_id
FROM host h LEFT JOIN robot b ON b.host_id = h.id AND b.retired_at IS NULL WHERE h.owner_id = %(person)s AND h.retired_at IS NULL
ORDER BY h.id, b.id LIMIT 1;

-- name: lock_person
-- A person's row, locked.
SELECT id FROM person WHERE id = %(person)s FOR UPDATE;

-- name: belongs
-- Whose own computer a host is.
UPDATE host SET owner_id = %(person)s WHERE id = %(id)s;

-- name: in_use
-- Since when a host's owner uses it, as its runner says; NULL: they do not.
UPDATE host SET in_use_since = %(since)s WHERE id = %(id)s;

-- name: seats_of
-- The attended seats that a person has, and those that groups of theirs share, with how many are in use.
-- always: number, used
SELECT v.id, v.number, g.name AS group_name, COUNT(s.run_id) AS used FROM seat_given v LEFT JOIN person_group g ON g.id = v.group_id
LEFT JOIN slot s ON s.kind = 'attended' AND s.owner_id = v.id
WHERE v.kind = 'attended' AND (v.person_id = %(person)s OR v.group_id IN (SELECT m.group_id FROM group_member m WHERE m.person_id = %(person)s))
GROUP BY v.id, v.number, g.name ORDER BY v.id;

-- name: free_seat
-- A free attended or builder seat of a person's, or of a group of theirs.
SELECT s.owner_id, s.n FROM slot s JOIN seat_given v ON v.id = s.owner_id
WHERE s.kind = %(kind)s AND s.run_id IS NULL AND v.kind = %(kind)s
  AND (v.person_id = %(person)s OR v.group_id IN (SELECT m.group_id FROM group_member m WHERE m.person_id = %(person)s))
ORDER BY v.person_id IS NULL, RAND() LIMIT 1;
