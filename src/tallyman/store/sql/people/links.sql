-- name: add
-- A link that is sent by mail.
INSERT INTO link (kind, person_id, made_by, made_at, ends_at) VALUES (%(kind)s, %(person)s, %(by)s, %(now)s, %(ends)s);

-- name: one
-- A link, locked, with its person.
-- gives: Link
SELECT l.id, l.kind, l.person_id, l.made_at, l.ends_at, l.used_at, p.name, p.email, p.state, p.zone FROM link l
JOIN person p ON p.id = l.person_id WHERE l.id = %(id)s FOR UPDATE;

-- name: use
-- The link is used up.
UPDATE link SET used_at = %(now)s WHERE id = %(id)s AND used_at IS NULL AND ends_at > %(now)s;

-- name: end_others
-- Other links of the same kind for a person are of no use any more.
UPDATE link SET used_at = %(now)s WHERE person_id = %(person)s AND kind = %(kind)s AND used_at IS NULL AND id <> %(but)s;

-- name: latest
-- The latest link of a kind for some people.
-- always: made_at, ends_at
SELECT person_id, MAX(made_at) AS made_at, MAX(ends_at) AS ends_at, COUNT(*) AS sent FROM link
WHERE kind = %(kind)s AND person_id IN %(people)s GROUP BY person_id;

-- name: made_by
-- Who sent somebody the latest link of a kind.
SELECT made_by FROM link WHERE kind = %(kind)s AND person_id = %(person)s ORDER BY id DESC LIMIT 1;

-- name: mail
-- A mail that carries a link, put into the outbox.
INSERT INTO mail (to_address, subject, body, made_at, due_at, kind, person_id, link_id)
VALUES (%(to)s, %(subject)s, %(body)s, %(now)s, %(now)s, 'link', %(person)s, %(link)s);
