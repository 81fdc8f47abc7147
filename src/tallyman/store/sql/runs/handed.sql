-- name: keep
-- A file that a run handed over; one of the same name takes the place of the former.
INSERT INTO run_file (run_id, name, digest, size, at) VALUES (%(run)s, %(name)s, %(digest)s, %(size)s, %(now)s)
ON DUPLICATE KEY UPDATE digest = VALUES(digest), size = VALUES(size), at = VALUES(at);

-- name: of_run
-- The files that a run handed over, by name.
-- gives: RunFile
SELECT id, name, size, at FROM run_file WHERE run_id = %(run)s ORDER BY name;

-- name: one
-- A file that a run handed over.
-- gives: HandedFile
SELECT name, digest FROM run_file WHERE run_id = %(run)s AND id = %(id)s;

-- name: set_progress
-- How far a run that is running says it is.
UPDATE run SET progress_json = %(progress)s WHERE id = %(run)s AND state = 'running';
