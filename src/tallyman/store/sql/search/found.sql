-- name: titles
-- Ideas whose title or description has the words; the first 500, the nearest first.
SELECT i.id FROM idea i WHERE MATCH (i.title, i.what) AGAINST (%(words)s IN BOOLEAN MODE)
ORDER BY MATCH (i.title, i.what) AGAINST (%(words)s IN BOOLEAN MODE) DESC LIMIT 500;

-- name: texts
-- Ideas about which the words are written anywhere; the first 500, the nearest first.
SELECT t.idea_id FROM idea_text t WHERE MATCH (t.text) AGAINST (%(words)s IN BOOLEAN MODE)
ORDER BY MATCH (t.text) AGAINST (%(words)s IN BOOLEAN MODE) DESC LIMIT 500;

-- name: titles_digest
-- What the titles of all ideas come to, so that it is seen whether any changed.
-- always: digest
-- reads all: one number of every title, made by the database
SELECT COUNT(*) AS ideas, BIT_XOR(CRC32(CONCAT(i.id, ' ', i.title))) AS digest FROM idea i WHERE i.stage <> 'draft';

-- name: newest_titles
-- Titles of the newest 20,000 ideas, for finding what is misspelt.
-- reads all: any title may be like what was typed; asked only once no idea was found by the letter
SELECT i.id, i.title FROM idea i WHERE i.stage <> 'draft' ORDER BY i.id DESC LIMIT 20000;

-- name: files
-- The newest 500 files of some ideas.
SELECT f.id, f.idea_id, f.name, f.title, i.title AS idea FROM idea_file f JOIN idea i ON i.id = f.idea_id
WHERE f.idea_id IN %(ideas)s AND f.removed_at IS NULL ORDER BY f.id DESC LIMIT 500;

-- name: routines
-- Routines in use, by name.
SELECT o.id, o.name, a.name AS area, o.area_id FROM routine o JOIN area a ON a.id = o.area_id
WHERE o.retired_at IS NULL AND NOT o.aside AND (%(everywhere)s OR o.area_id IN %(areas)s) ORDER BY o.name;

-- name: packages
-- All releases with their packages, the newest of each first.
SELECT p.id, p.name, r.id AS release_id FROM package p JOIN package_release r ON r.package_id = p.id ORDER BY p.name, r.id DESC;

-- name: run
-- A run by its number, as far as the reader may see it.
SELECT r.id, o.name AS routine, r.state, r.made_at FROM run r JOIN routine o ON o.id = r.routine_id
WHERE r.id = %(number)s AND (%(everywhere)s OR o.area_id IN %(areas)s);

-- name: last_runs
-- The latest run of each of some routines.
SELECT r.id, o.name AS routine, r.state, r.made_at FROM routine o JOIN run r ON r.id = (
  SELECT MAX(x.id) FROM run x WHERE x.routine_id = o.id) WHERE o.id IN %(routines)s ORDER BY r.id DESC;

-- name: systems
-- Systems in use, by name.
SELECT s.id, s.name, s.access FROM business_system s WHERE s.state <> 'retired' ORDER BY s.name;

-- name: people
-- Everybody who is here or invited, by name.
SELECT p.id, p.name, p.email, d.name AS division FROM person p LEFT JOIN division d ON d.id = p.division_id
WHERE p.active AND p.state IN ('active', 'invited') ORDER BY p.name;
