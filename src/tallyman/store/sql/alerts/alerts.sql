-- name: notify
-- Tells a person something once per effect.
INSERT INTO notification (person_id, effect_id, at, text, link, kind, digest_at)
VALUES (%(person)s, %(effect)s, %(now)s, %(text)s, %(link)s, %(kind)s, %(digest)s)
ON DUPLICATE KEY UPDATE text = VALUE(text);

-- name: digests_due
-- Who has news for a daily mail whose hour has come; 200 at once.
SELECT DISTINCT n.person_id FROM notification n WHERE n.digest_at <= %(now)s
  AND NOT EXISTS (SELECT 1 FROM hitch h WHERE h.work = 'digests' AND h.row_key = CAST(n.person_id AS CHAR) AND h.due_at > %(now)s) LIMIT 200;

-- name: digest_of
-- A person's news for the daily mail, locked; the first 200.
SELECT id, text, link, at FROM notification WHERE person_id = %(person)s AND digest_at <= %(now)s ORDER BY id LIMIT 200 FOR UPDATE;

-- name: digested
-- They are in a mail now.
UPDATE notification SET digest_at = NULL WHERE person_id = %(person)s AND digest_at <= %(now)s;

-- name: mine
-- A person's notifications, latest first.
-- gives: Notification
SELECT id, at, text, link, read_at FROM notification
WHERE person_id = %(person)s ORDER BY at DESC, id DESC LIMIT 30;

-- name: unread
-- How many notifications a person has not read.
SELECT COUNT(*) FROM notification WHERE person_id = %(person)s AND read_at IS NULL;

-- name: mark_read
-- The person has read everything up to one notification.
UPDATE notification SET read_at = %(now)s
WHERE person_id = %(person)s AND read_at IS NULL AND id <= %(upto)s;

-- name: told_last
-- When people were told last of a kind of thing about an object.
SELECT MAX(made_at) FROM effect WHERE object = %(object)s AND kind = 'tell' AND JSON_VALUE(payload_json, '$.kind') = %(kind)s;
