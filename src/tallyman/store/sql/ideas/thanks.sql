-- name: add
-- A notch, once for a person, a kind and an idea; the first of its kind is marked.
INSERT IGNORE INTO notch (person_id, kind, idea_id, first, at)
SELECT %(person)s, %(kind)s, %(idea)s, NOT EXISTS (SELECT 1 FROM notch n WHERE n.person_id = %(person)s AND n.kind = %(kind)s), %(now)s;

-- name: was_first
-- Whether a notch is the first of its kind for a person.
SELECT first FROM notch WHERE person_id = %(person)s AND kind = %(kind)s AND idea_id = %(idea)s;

-- name: evidence_by
-- Who put evidence on an idea's file.
SELECT DISTINCT person_id AS id FROM idea_file WHERE idea_id = %(idea)s AND removed_at IS NULL AND kind <> 'something else';

-- name: helpers_of
-- Who helped with an idea.
SELECT person_id AS id FROM idea_helper WHERE idea_id = %(idea)s;

-- name: joined
-- Who joined an idea.
SELECT person_id AS id FROM idea_voice WHERE idea_id = %(idea)s;

-- name: between
-- Notches of a span of time, of people who do not hide themselves.
SELECT p.id, p.name, d.name AS division, n.kind, COUNT(*) AS notches, MAX(n.first) AS first FROM notch n
JOIN person p ON p.id = n.person_id LEFT JOIN division d ON d.id = p.division_id
WHERE n.at >= %(since)s AND n.at < %(until)s AND NOT p.thanks_hidden AND p.state <> 'left'
GROUP BY p.id, p.name, d.name, n.kind ORDER BY p.name;

-- name: months
-- The first and the last notch.
SELECT MIN(at) AS oldest, MAX(at) AS newest FROM notch;

-- name: of_person
-- One's own notches, the newest first.
SELECT n.kind, n.idea_id, i.title, n.first, n.at FROM notch n JOIN idea i ON i.id = n.idea_id
WHERE n.person_id = %(person)s ORDER BY n.id DESC;

-- name: hidden
-- Whether somebody hides themselves from the thanks page.
SELECT thanks_hidden FROM person WHERE id = %(person)s;

-- name: hide
-- Hides somebody from the thanks page, or shows them again.
UPDATE person SET thanks_hidden = %(hidden)s WHERE id = %(person)s;
