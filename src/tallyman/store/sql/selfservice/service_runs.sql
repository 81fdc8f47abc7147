-- name: note_run
-- Somebody started a run on a page.
INSERT INTO service_run (run_id, page_id, person_id) VALUES (%(run)s, %(page)s, %(person)s);

-- name: follow
-- The run that takes another's place is of the same page and person.
INSERT INTO service_run (run_id, page_id, person_id) SELECT %(run)s, page_id, person_id FROM service_run WHERE run_id = %(before)s;

-- name: runs_of
-- The runs that a person started on pages before one, the latest first; so many.
-- gives: ServiceRun
-- always: files
SELECT s.run_id AS id, s.page_id, x.title, r.state, r.outcome, r.reason, r.made_at, r.started_at, r.ended_at, r.due_at, r.inputs_json, r.outputs_json,
  r.progress_json, r.cancel_at, r.routine_id, l.inputs_json AS schema_json, l.outputs_json AS outputs_schema_json, x.asks_json, w.name AS keeper,
  w.email AS keeper_email, (SELECT COUNT(*) FROM run_file f WHERE f.run_id = s.run_id) AS files FROM service_run s JOIN service_page x ON x.id = s.page_id
JOIN run r ON r.id = s.run_id JOIN package_release l ON l.id = r.release_id JOIN person w ON w.id = x.keeper_id
WHERE s.person_id = %(person)s AND s.run_id < %(before)s ORDER BY s.run_id DESC LIMIT %(limit)s;

-- name: own_run
-- A run that a person started on a page.
-- gives: ServiceRun
-- always: files
SELECT s.run_id AS id, s.page_id, x.title, r.state, r.outcome, r.reason, r.made_at, r.started_at, r.ended_at, r.due_at, r.inputs_json, r.outputs_json,
  r.progress_json, r.cancel_at, r.routine_id, l.inputs_json AS schema_json, l.outputs_json AS outputs_schema_json, x.asks_json, w.name AS keeper,
  w.email AS keeper_email, (SELECT COUNT(*) FROM run_file f WHERE f.run_id = s.run_id) AS files FROM service_run s JOIN service_page x ON x.id = s.page_id
JOIN run r ON r.id = s.run_id JOIN package_release l ON l.id = r.release_id JOIN person w ON w.id = x.keeper_id
WHERE s.person_id = %(person)s AND s.run_id = %(run)s;

-- name: who_asked
-- Who started a run on which page.
-- gives: ServiceRunOf
SELECT s.person_id, s.page_id, x.title FROM service_run s JOIN service_page x ON x.id = s.page_id WHERE s.run_id = %(run)s;

-- name: say
-- What somebody says about a page; thanks and marks of theirs take the place of the former.
INSERT INTO service_word (page_id, person_id, kind, marks, remark, idea_id, at, once)
VALUES (%(page)s, %(person)s, %(kind)s, %(marks)s, %(remark)s, %(idea)s, %(now)s, %(once)s)
ON DUPLICATE KEY UPDATE marks = VALUES(marks), remark = VALUES(remark), at = VALUES(at);

-- name: said
-- What was said about a page, the latest first; the newest 100.
-- gives: ServiceWord
SELECT v.id, v.kind, v.marks, v.remark, v.idea_id, v.at, w.name AS person, i.title AS idea FROM service_word v JOIN person w ON w.id = v.person_id
LEFT JOIN idea i ON i.id = v.idea_id WHERE v.page_id = %(page)s ORDER BY v.id DESC LIMIT 100;

-- name: sums
-- What was said about a page, in figures.
-- gives: ServiceSums
-- always: thanks, ratings, wishes
SELECT COALESCE(SUM(kind = 'thanks'), 0) AS thanks, COALESCE(SUM(kind = 'rating'), 0) AS ratings, COALESCE(SUM(kind = 'wish'), 0) AS wishes, AVG(marks) AS marks
FROM service_word WHERE page_id = %(page)s;

-- name: mine
-- The marks that a person gave a page, and whether they thanked.
-- gives: ServiceMine
SELECT kind, marks, remark FROM service_word WHERE page_id = %(page)s AND person_id = %(person)s AND once IS NOT NULL ORDER BY id;

-- name: ran
-- How often colleagues ran a page, and how many of them.
-- gives: ServiceRan
-- always: runs, people
SELECT COUNT(*) AS runs, COUNT(DISTINCT person_id) AS people FROM service_run WHERE page_id = %(page)s;
