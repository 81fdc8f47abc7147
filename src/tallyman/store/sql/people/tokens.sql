-- name: add
-- A token for a program of a person's.
INSERT INTO program_token (person_id, name, token_hash, scope_json, made_at, ends_at)
VALUES (%(person)s, %(name)s, %(token)s, %(scope)s, %(now)s, %(ends)s);

-- name: by_hash
-- An open token with its person.
SELECT t.id, t.person_id, t.name, t.scope_json, t.used_at, t.used_from FROM program_token t JOIN person p ON p.id = t.person_id
WHERE t.token_hash = %(token)s AND t.ends_at > %(now)s AND t.revoked_at IS NULL AND p.active AND p.state = 'active';

-- name: used
-- A token was used.
UPDATE program_token SET used_at = %(now)s, used_from = %(address)s WHERE id = %(id)s;

-- name: of_person
-- A person's tokens, the newest first.
SELECT t.id, t.person_id, p.name AS person, t.name, t.scope_json, t.made_at, t.ends_at, t.used_at, t.used_from, t.revoked_at
FROM program_token t JOIN person p ON p.id = t.person_id WHERE t.person_id = %(person)s ORDER BY t.id DESC;

-- name: all
-- Everybody's tokens, the newest first.
SELECT t.id, t.person_id, p.name AS person, t.name, t.scope_json, t.made_at, t.ends_at, t.used_at, t.used_from, t.revoked_at
FROM program_token t JOIN person p ON p.id = t.person_id ORDER BY t.id DESC;

-- name: one
-- One token.
-- gives: Token
SELECT id, person_id, name FROM program_token WHERE id = %(id)s;

-- name: open_of
-- How many open tokens a person has.
SELECT COUNT(*) FROM program_token WHERE person_id = %(person)s AND revoked_at IS NULL AND ends_at > %(now)s;

-- name: revoke
-- A token works no more.
UPDATE program_token SET revoked_at = %(now)s WHERE id = %(id)s AND revoked_at IS NULL;

-- name: revoke_of
-- None of a person's tokens works any more.
UPDATE program_token SET revoked_at = %(now)s WHERE person_id = %(person)s AND revoked_at IS NULL;
