-- name: audit
-- Records who did what to which object.
INSERT INTO audit (at, person_id, who, address, action, object, words, before_json, after_json, salt, content_digest)
VALUES (%(at)s, %(person)s, %(who)s, %(address)s, %(action)s, %(object)s, %(words)s, %(before)s, %(after)s, %(salt)s, %(digest)s);

-- name: history
-- What happened to one object, latest first.
SELECT id, at, who, action, words, before_json, after_json FROM audit
WHERE object = %(object)s ORDER BY id DESC LIMIT 60;

-- name: effect
-- Writes down what must follow from a change; the engine carries it out.
INSERT INTO effect (kind, object, payload_json, made_at, due_at)
VALUES (%(kind)s, %(object)s, %(payload)s, %(now)s, %(now)s);

-- name: effects_due
-- Open effects whose time has come, oldest first; none of an object that waits after a failure; a hundred at once.
SELECT e.id, e.kind, e.object, e.payload_json, e.made_at FROM effect e WHERE e.done_at IS NULL AND e.due_at <= %(now)s
  AND NOT EXISTS (SELECT 1 FROM hitch h WHERE h.work = 'effects' AND h.row_key = e.object AND h.due_at > %(now)s)
ORDER BY e.id LIMIT 100;

-- name: effect_take
-- Marks an effect done in the transaction that carries it out; 0 rows if it was done already.
UPDATE effect SET done_at = %(now)s, fault = NULL WHERE id = %(id)s AND done_at IS NULL;

-- name: effect_first
-- The oldest open effect of an object.
SELECT id, kind FROM effect WHERE object = %(object)s AND done_at IS NULL ORDER BY id LIMIT 1;

-- name: effect_set_aside
-- An effect that failed is given up by a person, with the reason; what waits behind it goes on.
UPDATE effect SET done_at = %(now)s, aside_by = %(person)s, aside_why = %(why)s, fault = %(fault)s WHERE id = %(id)s AND done_at IS NULL;

-- name: changed
-- A hint for live pages that an object of this subject changed.
INSERT INTO change_note (subject, object_id, at) VALUES (%(subject)s, %(id)s, %(now)s);

-- name: changes_since
-- Hints after a number; numbers may commit out of order, so the reader asks with an overlap; 500 at once.
SELECT id, subject, object_id FROM change_note WHERE id > %(after)s ORDER BY id LIMIT 500;

-- name: last_change
-- The newest hint.
SELECT COALESCE(MAX(id), 0) FROM change_note;

-- name: prune_changes
-- Hints are of use for minutes only.
DELETE FROM change_note WHERE at < %(before)s LIMIT 5000;

-- name: notify
-- Tells a person something once per effect.
INSERT INTO notification (person_id, effect_id, at, text, link, kind, digest_at)
VALUES (%(person)s, %(effect)s, %(now)s, %(text)s, %(link)s, %(kind)s, %(digest)s)
ON DUPLICATE KEY UPDATE text = VALUE(text);

-- name: mail
-- Puts a mail into the outbox once per effect and address.
INSERT INTO mail (effect_id, to_address, subject, body, made_at, due_at, kind, person_id)
VALUES (%(effect)s, %(to)s, %(subject)s, %(body)s, %(now)s, %(now)s, %(kind)s, %(person)s)
ON DUPLICATE KEY UPDATE subject = VALUE(subject);

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

-- name: mails_due
-- Unsent mails whose time has come, that no engine is at and none waits with after a failure; 20 at once.
SELECT m.id, m.to_address, m.subject, m.body, m.made_at, m.claimed_at, m.link_id, l.kind AS link_kind, l.person_id AS link_person
FROM mail m LEFT JOIN link l ON l.id = m.link_id
WHERE m.sent_at IS NULL AND m.dropped_at IS NULL AND m.due_at <= %(now)s AND (m.claimed_until IS NULL OR m.claimed_until < %(now)s)
  AND NOT EXISTS (SELECT 1 FROM hitch h WHERE h.work = 'mails' AND h.row_key = CAST(m.id AS CHAR) AND h.due_at > %(now)s)
ORDER BY m.due_at, m.id LIMIT 20;

-- name: mail_claim
-- An engine takes a mail to hand it over, if no other has it.
UPDATE mail SET claimed_by = %(claim)s, claimed_at = %(now)s, claimed_until = %(until)s, tries = tries + 1
WHERE id = %(id)s AND sent_at IS NULL AND dropped_at IS NULL AND (claimed_until IS NULL OR claimed_until < %(now)s);

-- name: mail_sent
-- The mail server took it.
UPDATE mail SET sent_at = %(now)s, answer = %(answer)s, claimed_by = NULL, claimed_until = NULL WHERE id = %(id)s AND claimed_by = %(claim)s;

-- name: mail_failed
-- The mail server refused it, or it is not known whether it took it: no engine has it any more.
UPDATE mail SET answer = %(answer)s, claimed_by = NULL, claimed_at = %(unheard)s, claimed_until = NULL WHERE id = %(id)s AND claimed_by = %(claim)s;

-- name: mail_dropped
-- A mail is given up by a person.
UPDATE mail SET dropped_at = %(now)s, answer = %(answer)s WHERE id = %(id)s AND sent_at IS NULL;

-- name: my_notifications
-- A person's notifications, latest first.
SELECT id, at, text, link, read_at FROM notification
WHERE person_id = %(person)s ORDER BY at DESC, id DESC LIMIT 30;

-- name: unread
-- How many notifications a person has not read.
SELECT COUNT(*) FROM notification WHERE person_id = %(person)s AND read_at IS NULL;

-- name: mark_read
-- The person has read everything up to one notification.
UPDATE notification SET read_at = %(now)s
WHERE person_id = %(person)s AND read_at IS NULL AND id <= %(upto)s;

-- name: file_put
-- A stored file by its digest; 0 rows if it is stored already.
INSERT IGNORE INTO file_body (digest, size, made_at) VALUES (%(digest)s, %(size)s, %(now)s);

-- name: file_known
-- The size of a stored file.
SELECT size FROM file_body WHERE digest = %(digest)s;

-- name: chunk_put
-- One piece of a file.
INSERT INTO file_chunk (digest, n, data) VALUES (%(digest)s, %(n)s, %(data)s);

-- name: chunks
-- All pieces of a file in order.
SELECT data FROM file_chunk WHERE digest = %(digest)s ORDER BY n;

-- name: company
-- Whose installation this is, its zone and currency.
SELECT name, zone, currency FROM company WHERE id = 1;

-- name: set_company
-- Names the company once.
INSERT INTO company (id, name, zone, currency) VALUES (1, %(name)s, %(zone)s, %(currency)s)
ON DUPLICATE KEY UPDATE name = VALUE(name), zone = VALUE(zone), currency = VALUE(currency);

-- name: closed_days
-- The company's closed days.
SELECT day, name FROM closed_day ORDER BY day;

-- name: closed_days_of
-- The closed days of an area and of all above it, beside the company's.
SELECT c.day, c.name, c.area_id FROM area_above p JOIN area_closed_day c ON c.area_id = p.above_id WHERE p.area_id = %(area)s ORDER BY c.day;

-- name: closed_days_of_many
-- The closed days of some areas, each with those of all above it, beside the company's.
SELECT p.area_id, c.day FROM area_above p JOIN area_closed_day c ON c.area_id = p.above_id WHERE p.area_id IN %(areas)s;

-- name: add_closed_day
-- A day on which nobody works.
INSERT INTO closed_day (day, name) VALUES (%(day)s, %(name)s) ON DUPLICATE KEY UPDATE name = VALUE(name);

-- name: start_once
-- Claims a start key; fails if the same start was asked for before.
INSERT INTO started_once (start_key, object, said_digest, at) VALUES (%(key)s, %(object)s, %(said)s, %(now)s);

-- name: started
-- What an earlier start with this key made, and by which words.
SELECT object, said_digest FROM started_once WHERE start_key = %(key)s;

-- name: database_now
-- The database's own clock, only to compare it with ours.
SELECT UTC_TIMESTAMP(6);

-- name: prune_marks
-- Marks of commits are asked for within seconds only.
DELETE FROM commit_mark WHERE at < UTC_TIMESTAMP(6) - INTERVAL 1 HOUR LIMIT 20000;
