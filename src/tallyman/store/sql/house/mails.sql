-- name: add
-- Puts a mail into the outbox once per effect and address.
INSERT INTO mail (effect_id, to_address, subject, body, made_at, due_at, kind, person_id)
VALUES (%(effect)s, %(to)s, %(subject)s, %(body)s, %(now)s, %(now)s, %(kind)s, %(person)s)
ON DUPLICATE KEY UPDATE subject = VALUE(subject);

-- name: due
-- Unsent mails whose time has come, that no engine is at and none waits with after a failure; 20 at once.
SELECT m.id, m.to_address, m.subject, m.body, m.made_at, m.claimed_at, m.link_id, l.kind AS link_kind, l.person_id AS link_person
FROM mail m LEFT JOIN link l ON l.id = m.link_id
WHERE m.sent_at IS NULL AND m.dropped_at IS NULL AND m.due_at <= %(now)s AND (m.claimed_until IS NULL OR m.claimed_until < %(now)s)
  AND NOT EXISTS (SELECT 1 FROM hitch h WHERE h.work = 'mails' AND h.row_key = CAST(m.id AS CHAR) AND h.due_at > %(now)s)
ORDER BY m.due_at, m.id LIMIT 20;

-- name: claim
-- An engine takes a mail to hand it over, if no other has it.
UPDATE mail SET claimed_by = %(claim)s, claimed_at = %(now)s, claimed_until = %(until)s, tries = tries + 1
WHERE id = %(id)s AND sent_at IS NULL AND dropped_at IS NULL AND (claimed_until IS NULL OR claimed_until < %(now)s);

-- name: sent
-- The mail server took it.
UPDATE mail SET sent_at = %(now)s, answer = %(answer)s, claimed_by = NULL, claimed_until = NULL WHERE id = %(id)s AND claimed_by = %(claim)s;

-- name: failed
-- The mail server refused it, or it is not known whether it took it: no engine has it any more.
UPDATE mail SET answer = %(answer)s, claimed_by = NULL, claimed_at = %(unheard)s, claimed_until = NULL WHERE id = %(id)s AND claimed_by = %(claim)s;

-- name: dropped
-- A mail is given up by a person.
UPDATE mail SET dropped_at = %(now)s, answer = %(answer)s WHERE id = %(id)s AND sent_at IS NULL;
