-- name: claim
-- Claims a start key; fails if the same start was asked for before.
INSERT INTO started_once (start_key, object, said_digest, at) VALUES (%(key)s, %(object)s, %(said)s, %(now)s);

-- name: found
-- What an earlier start with this key made, and by which words.
SELECT object, said_digest FROM started_once WHERE start_key = %(key)s;
