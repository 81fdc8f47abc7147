-- name: put
-- A stored file by its digest; 0 rows if it is stored already.
INSERT IGNORE INTO file_body (digest, size, made_at) VALUES (%(digest)s, %(size)s, %(now)s);

-- name: known
-- The size of a stored file.
SELECT size FROM file_body WHERE digest = %(digest)s;

-- name: put_chunk
-- One piece of a file.
INSERT INTO file_chunk (digest, n, data) VALUES (%(digest)s, %(n)s, %(data)s);

-- name: chunks
-- All pieces of a file in order.
SELECT data FROM file_chunk WHERE digest = %(digest)s ORDER BY n;
