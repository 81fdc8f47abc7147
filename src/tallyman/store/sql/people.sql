-- name: by_email
-- A person who may sign in, by address.
SELECT id, name, email, password_hash, zone FROM person WHERE email = %(email)s AND active;

-- name: by_id
-- A person by number.
SELECT id, name, email, zone, division_id, state, active, locale, mail_json, away_from, away_until, stand_in_id, left_at, version
FROM person WHERE id = %(id)s;

-- name: away_for
-- Who is away today and named this person as stand-in.
SELECT id, name FROM person WHERE stand_in_id = %(id)s AND away_until >= %(today)s AND (away_from IS NULL OR away_from <= %(today)s)
AND state = 'active';

-- name: directory
-- Everyone who can be picked, by name.
SELECT p.id, p.name, p.email, d.name AS division,
  (SELECT GROUP_CONCAT(DISTINCT r.name ORDER BY r.id SEPARATOR ', ') FROM held_role h JOIN role r ON r.id = h.role_id WHERE h.person_id = p.id) AS roles
FROM person p LEFT JOIN division d ON d.id = p.division_id WHERE p.active ORDER BY p.name LIMIT 500;

-- name: divisions
-- Where work belongs.
SELECT id, name FROM division ORDER BY name;

-- name: add_division
-- A new division.
INSERT INTO division (name) VALUES (%(name)s);

-- name: add
-- A new person.
INSERT INTO person (name, email, password_hash, zone, division_id, made_at)
VALUES (%(name)s, %(email)s, %(password_hash)s, %(zone)s, %(division)s, %(now)s);

-- name: give_role
-- Gives a person a role for the whole company.
INSERT INTO held_role (role_id, person_id, holder, at)
SELECT id, %(person)s, CONCAT('person:', %(person)s), %(now)s FROM role WHERE name = %(role)s;

-- name: add_session
-- A new session.
INSERT INTO session (token_hash, person_id, made_at, seen_at, ends_at)
VALUES (%(token)s, %(person)s, %(now)s, %(now)s, %(ends)s);

-- name: session
-- An open session with its person.
SELECT s.person_id, s.seen_at, s.ends_at, p.name, p.email, p.zone FROM session s
JOIN person p ON p.id = s.person_id
WHERE s.token_hash = %(token)s AND s.ends_at > %(now)s AND s.seen_at > %(idle)s AND p.active;

-- name: touch_session
-- The session was used.
UPDATE session SET seen_at = %(now)s WHERE token_hash = %(token)s;

-- name: end_session
-- Signs out.
DELETE FROM session WHERE token_hash = %(token)s;

-- name: prune_sessions
-- Sessions that have ended are of no use.
DELETE FROM session WHERE ends_at < %(now)s LIMIT 1000;

-- name: tries
-- Failed sign-ins of an account or address.
SELECT failures, last_at FROM sign_in_try WHERE who = %(who)s;

-- name: try_failed
-- Counts a failed sign-in; an old count starts again.
INSERT INTO sign_in_try (who, failures, last_at) VALUES (%(who)s, 1, %(now)s)
ON DUPLICATE KEY UPDATE failures = IF(last_at < %(forget)s, 1, failures + 1), last_at = %(now)s;

-- name: try_worked
-- A sign-in worked, so its failures are forgotten.
DELETE FROM sign_in_try WHERE who = %(who)s;
