-- name: heads
-- The words that stand on an idea itself.
SELECT i.title, i.what, i.measure, d.name AS division FROM idea i LEFT JOIN division d ON d.id = i.division_id WHERE i.id = %(idea)s;

-- name: answers
-- What was answered and remarked.
SELECT question, value_json, remark FROM idea_answer WHERE idea_id = %(idea)s;

-- name: talk
-- What was said about an idea.
SELECT text FROM idea_comment WHERE idea_id = %(idea)s AND taken_back_at IS NULL ORDER BY id;

-- name: files
-- What is shown on an idea, and what stands in it.
SELECT f.name, f.title, f.remark, v.text FROM idea_file f LEFT JOIN file_view v ON v.digest = f.digest
WHERE f.idea_id = %(idea)s AND f.removed_at IS NULL ORDER BY f.id;

-- name: keep
-- All text of an idea in one place.
INSERT INTO idea_text (idea_id, text) VALUES (%(idea)s, %(text)s) ON DUPLICATE KEY UPDATE text = VALUE(text);

-- name: without
-- Ideas whose text was never gathered; 500 at once.
-- reads all: any idea may be without its text; looked for now and then, by the engine
SELECT i.id FROM idea i LEFT JOIN idea_text t ON t.idea_id = i.id WHERE t.idea_id IS NULL
  AND NOT EXISTS (SELECT 1 FROM hitch h WHERE h.work = 'texts' AND h.row_key = CAST(i.id AS CHAR) AND h.due_at > %(now)s) ORDER BY i.id LIMIT 500;

-- name: shown_with
-- The ideas that show a file with this content.
SELECT DISTINCT idea_id FROM idea_file WHERE digest = %(digest)s AND removed_at IS NULL;

-- name: view
-- What is known of a file's content.
SELECT state, picture, text FROM file_view WHERE digest = %(digest)s;

-- name: keep_view
-- A picture and the text of a file, once per content.
INSERT IGNORE INTO file_view (digest, state, picture, text, at) VALUES (%(digest)s, %(state)s, %(picture)s, %(text)s, %(now)s);

-- name: names_of_systems
-- Every system that some idea names.
-- gives: SystemRow
-- reads all: the systems that ideas name, counted
SELECT name, COUNT(*) AS ideas FROM idea_system GROUP BY name ORDER BY name;

-- name: drop_systems
-- Takes an idea's systems out of the list.
DELETE FROM idea_system WHERE idea_id = %(idea)s;

-- name: add_system
-- A system that an idea names.
INSERT IGNORE INTO idea_system (idea_id, name) VALUES (%(idea)s, %(name)s);

-- name: unseen_files
-- Files that nobody looked into yet; 5 at once.
SELECT f.id, f.digest, f.name, f.idea_id FROM idea_file f WHERE f.looked_into = 0
  AND NOT EXISTS (SELECT 1 FROM hitch h WHERE h.work = 'files' AND h.row_key = CAST(f.id AS CHAR) AND h.due_at > %(now)s) ORDER BY f.id LIMIT 5;

-- name: looked_into
-- A file was looked into.
UPDATE idea_file SET looked_into = 1 WHERE id = %(id)s;

-- name: picture_of
-- The picture of a file on an idea.
SELECT v.picture, v.text FROM idea_file f JOIN file_view v ON v.digest = f.digest
WHERE f.id = %(id)s AND f.idea_id = %(idea)s AND f.removed_at IS NULL;
