-- name: person
-- Nothing personal is left of a person; the number stays, so that what hangs on it stays whole.
UPDATE person SET name = %(shown)s, email = %(address)s, password_hash = '', zone = 'UTC', division_id = NULL, state = 'erased',
  active = FALSE, mail_json = NULL, outside_id = NULL, away_from = NULL, away_until = NULL, stand_in_id = NULL, version = version + 1
WHERE id = %(id)s AND state = 'left';

-- name: sessions
-- Sign-ins of a person.
DELETE FROM session WHERE person_id = %(id)s;

-- name: links
-- Links that were mailed to a person.
DELETE FROM link WHERE person_id = %(id)s;

-- name: tokens
-- Tokens of a person's programs.
DELETE FROM program_token WHERE person_id = %(id)s;

-- name: notifications
-- What a person was told.
DELETE FROM notification WHERE person_id = %(id)s;

-- name: requests
-- What a person wrote when asking for access.
UPDATE access_request SET words = 'erased', answer = '' WHERE person_id = %(id)s;

-- name: mails
-- Mails to a person.
UPDATE mail SET to_address = 'erased', subject = 'erased', body = '', answer = NULL WHERE person_id = %(id)s OR to_address = %(email)s;

-- name: mails_about
-- Mails to others that name the person.
UPDATE mail SET subject = REPLACE(subject, %(name)s, %(shown)s), body = REPLACE(REPLACE(body, %(name)s, %(shown)s), %(email)s, '')
WHERE subject LIKE %(like)s OR body LIKE %(like)s OR body LIKE %(email_like)s;

-- name: told_about
-- What others were told that names the person.
UPDATE notification SET text = REPLACE(text, %(name)s, %(shown)s) WHERE text LIKE %(like)s;

-- name: effects
-- Effects carried out that name the person.
UPDATE effect SET payload_json = '{}' WHERE done_at IS NOT NULL AND (payload_json LIKE %(like)s OR payload_json LIKE %(email_like)s);

-- name: trail
-- Entries of the audit trail by or about a person: their content goes, its digest stays in the chain.
UPDATE audit SET who = REPLACE(who, %(name)s, %(shown)s), address = IF(person_id = %(id)s, '-', address),
  words = REPLACE(REPLACE(words, %(name)s, %(shown)s), %(email)s, ''),
  before_json = IF(object = %(object)s OR before_json LIKE %(like)s OR before_json LIKE %(email_like)s, NULL, before_json),
  after_json = IF(object = %(object)s OR after_json LIKE %(like)s OR after_json LIKE %(email_like)s, NULL, after_json),
  salt = NULL, erased_at = %(now)s
WHERE (person_id = %(id)s OR object = %(object)s OR who LIKE %(like)s OR words LIKE %(like)s OR words LIKE %(email_like)s
  OR before_json LIKE %(like)s OR after_json LIKE %(like)s OR before_json LIKE %(email_like)s OR after_json LIKE %(email_like)s)
  AND content_digest IS NOT NULL;

-- name: tries
-- Failed sign-ins of an address.
DELETE FROM sign_in_try WHERE who = SHA2(CONCAT('account:', %(email)s), 256);

-- name: uses
-- Uses of secrets by the person.
UPDATE secret_use SET who = %(shown)s WHERE who = %(name)s;

-- name: open_effects
-- Effects still to be carried out that name a person.
SELECT COUNT(*) FROM effect WHERE done_at IS NULL AND (payload_json LIKE %(like)s OR payload_json LIKE %(email_like)s);
