-- name: unsealed
-- The entries after a number, oldest first.
SELECT id, at, person_id, who, address, action, object, words, before_json AS before_text, after_json AS after_text, salt, content_digest, erased_at
FROM audit WHERE id > %(after)s ORDER BY id LIMIT %(limit)s;

-- name: entries_between
-- The entries of a range of numbers.
SELECT id, at, person_id, who, address, action, object, words, before_json AS before_text, after_json AS after_text, salt, content_digest, erased_at
FROM audit WHERE id BETWEEN %(first)s AND %(last)s ORDER BY id;

-- name: last_seal
-- The newest seal.
SELECT id, first_id, last_id, seal FROM audit_seal ORDER BY id DESC LIMIT 1;

-- name: add_seal
-- Seals a batch; what the seal before it is named by can be named once only.
INSERT INTO audit_seal (first_id, last_id, ids_json, entries, root, previous, seal, at)
VALUES (%(first)s, %(last)s, %(ids)s, %(entries)s, %(root)s, %(previous)s, %(seal)s, %(now)s);

-- name: seals
-- Seals after a number, in order; 500 at once.
SELECT id, first_id, last_id, ids_json, entries, root, previous, seal, at FROM audit_seal WHERE id > %(after)s ORDER BY id LIMIT 500;

-- name: summary
-- How much is sealed, and by when.
-- reads all: how much is sealed is counted, from one row for each sealed piece
SELECT COUNT(*) AS seals, COALESCE(SUM(entries), 0) AS entries, MAX(last_id) AS last_id, MAX(at) AS at FROM audit_seal;

-- name: actions
-- Which kinds of action there are.
SELECT DISTINCT action FROM audit ORDER BY action;

-- name: take_lease
-- A lease for one holder, if nobody holds it now.
INSERT INTO lease (name, holder, until) VALUES (%(name)s, %(holder)s, %(until)s)
ON DUPLICATE KEY UPDATE holder = IF(until < %(now)s OR holder = VALUE(holder), VALUE(holder), holder),
  until = IF(holder = VALUE(holder), VALUE(until), until);

-- name: lease
-- Who holds a lease.
SELECT holder, until FROM lease WHERE name = %(name)s;
