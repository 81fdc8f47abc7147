-- name: add
-- Long work that waits for an engine.
INSERT INTO errand (kind, person_id, state, total, input_json, made_at) VALUES (%(kind)s, %(person)s, 'waiting', %(total)s, %(input)s, %(now)s);

-- name: one
-- An errand.
-- gives: Errand
SELECT e.id, e.kind, e.person_id, e.state, e.done, e.total, e.words, e.input_json, e.result_json, e.made_at, e.ended_at, p.name AS person
FROM errand e JOIN person p ON p.id = e.person_id WHERE e.id = %(id)s;

-- name: open
-- Errands that wait, or whose engine fell silent, the oldest first; ten at once.
SELECT e.id, e.kind FROM errand e WHERE (e.state = 'waiting' OR (e.state = 'running' AND e.lease_until < %(now)s))
  AND NOT EXISTS (SELECT 1 FROM hitch h WHERE h.work = 'errands' AND h.row_key = CAST(e.id AS CHAR) AND h.due_at > %(now)s) ORDER BY e.id LIMIT 10;

-- name: take
-- An engine takes an errand, if nobody else has it.
UPDATE errand SET state = 'running', holder = %(holder)s, lease_until = %(until)s
WHERE id = %(id)s AND (state = 'waiting' OR (state = 'running' AND lease_until < %(now)s));

-- name: progress
-- How far the engine that has it came.
UPDATE errand SET done = %(done)s, words = %(words)s, lease_until = %(until)s, result_json = COALESCE(%(result)s, result_json) WHERE id = %(id)s AND state = 'running' AND holder = %(holder)s;

-- name: end
-- It is done, or failed.
UPDATE errand SET state = %(state)s, done = %(done)s, words = %(words)s, holder = NULL, lease_until = NULL, ended_at = %(now)s,
  result_json = COALESCE(%(result)s, result_json)
WHERE id = %(id)s AND state = 'running' AND holder = %(holder)s;

-- name: say
-- What stands in its way.
UPDATE errand SET words = %(words)s WHERE id = %(id)s AND state IN ('waiting','running');

-- name: give_up
-- A person gave it up after it got stuck.
UPDATE errand SET state = 'failed', words = %(words)s, holder = NULL, lease_until = NULL, ended_at = %(now)s
WHERE id = %(id)s AND state IN ('waiting','running');

-- name: cancel
-- Whoever began it lets it be.
UPDATE errand SET state = 'cancelled', holder = NULL, lease_until = NULL, ended_at = %(now)s WHERE id = %(id)s AND state IN ('waiting','running');

-- name: of_person
-- What somebody has under way, or had lately, the latest 20.
SELECT id, kind, state, done, total, words, made_at, ended_at FROM errand WHERE person_id = %(person)s ORDER BY id DESC LIMIT 20;

-- name: keep_file
-- A file that long work made; made twice, the newer one.
INSERT INTO errand_file (errand_id, name, media_type, data, at) VALUES (%(id)s, %(name)s, %(media_type)s, %(data)s, %(now)s)
ON DUPLICATE KEY UPDATE data = VALUE(data), at = VALUE(at);

-- name: file
-- The file that long work made.
SELECT name, media_type, data FROM errand_file WHERE errand_id = %(id)s;

-- name: prune_files
-- Files that were made long ago; whoever wants one has it made anew.
DELETE FROM errand_file WHERE at < %(before)s LIMIT 1000;
