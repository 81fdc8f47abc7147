-- name: of_idea
-- What work of an idea took before and after, the newest first.
SELECT m.id, m.phase, m.minutes, m.items, m.measured_on, m.evidence, m.at, p.name AS person
FROM idea_measured m JOIN person p ON p.id = m.person_id WHERE m.idea_id = %(idea)s ORDER BY m.id DESC;

-- name: add
-- Work that was measured.
INSERT INTO idea_measured (idea_id, phase, minutes, items, measured_on, evidence, person_id, at)
VALUES (%(idea)s, %(phase)s, %(minutes)s, %(items)s, %(day)s, %(evidence)s, %(person)s, %(now)s);
