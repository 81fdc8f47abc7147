-- name: begin
-- An upload that comes in pieces; a known one stays as it is.
INSERT IGNORE INTO upload (digest, size, made_at) VALUES (%(digest)s, %(size)s, %(now)s);

-- name: sent
-- The size of a file that a host sent here itself.
SELECT b.size FROM host_file f JOIN file_body b ON b.digest = f.digest WHERE f.host_id = %(host)s AND f.digest = %(digest)s;

-- name: note_sent
-- A host sent a whole file.
INSERT IGNORE INTO host_file (host_id, digest, at) VALUES (%(host)s, %(digest)s, %(now)s);

-- name: prune_sent
-- Who sent a file is asked for within a day only.
DELETE FROM host_file WHERE at < %(before)s LIMIT 5000;

-- name: lock
-- An upload, locked.
SELECT digest, size FROM upload WHERE digest = %(digest)s FOR UPDATE;

-- name: have
-- How many bytes of an upload are here.
SELECT SUM(LENGTH(data)) FROM upload_chunk WHERE digest = %(digest)s;

-- name: pieces
-- How many pieces of an upload are here.
SELECT COUNT(*) FROM upload_chunk WHERE digest = %(digest)s;

-- name: piece
-- The next piece.
INSERT INTO upload_chunk (digest, n, data) VALUES (%(digest)s, %(n)s, %(data)s);

-- name: chunks
-- All pieces in order.
SELECT data FROM upload_chunk WHERE digest = %(digest)s ORDER BY n;

-- name: drop_chunks
-- The pieces of an upload that is over.
DELETE FROM upload_chunk WHERE digest = %(digest)s;

-- name: drop
-- An upload that is over.
DELETE FROM upload WHERE digest = %(digest)s;

-- name: old
-- Uploads begun long ago; a hundred at once.
SELECT digest FROM upload WHERE made_at < %(before)s ORDER BY made_at LIMIT 100;
