-- name: add
-- Asks somebody for facts of a sizing.
INSERT INTO sizing_request (idea_id, person_id, asked_by, words, fields_json, link_id, state, asked_at)
VALUES (%(idea)s, %(person)s, %(by)s, %(words)s, %(fields)s, %(link)s, 'open', %(now)s);

-- name: of_idea
-- Who was asked about an idea, the latest first.
SELECT r.id, r.person_id, p.name AS person, a.name AS asker, r.words, r.fields_json, r.link_id, r.state, r.asked_at, r.opened_at,
  r.ended_at, r.remark, l.ends_at FROM sizing_request r JOIN person p ON p.id = r.person_id JOIN person a ON a.id = r.asked_by
LEFT JOIN link l ON l.id = r.link_id WHERE r.idea_id = %(idea)s ORDER BY r.id DESC;

-- name: by_link
-- The request that a link belongs to.
SELECT r.id, r.idea_id, r.person_id, r.asked_by, p.name AS person, p.zone, a.name AS asker, r.words, r.fields_json, r.state,
  r.link_id, r.asked_at FROM sizing_request r JOIN person p ON p.id = r.person_id JOIN person a ON a.id = r.asked_by
WHERE r.link_id = %(link)s;

-- name: opened
-- When somebody who was asked gave the first answer.
UPDATE sizing_request SET opened_at = COALESCE(opened_at, %(now)s) WHERE id = %(id)s;

-- name: open_again
-- A request goes out again by another link.
UPDATE sizing_request SET state = 'open', link_id = %(link)s, ended_at = NULL WHERE id = %(id)s;

-- name: end
-- A request is answered or taken back.
UPDATE sizing_request SET state = %(state)s, remark = %(remark)s, ended_at = %(now)s WHERE id = %(id)s AND state = 'open';
