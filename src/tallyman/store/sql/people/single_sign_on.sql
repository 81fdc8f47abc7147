-- name: begin
-- A sign-in that goes by way of the identity provider.
INSERT INTO outside_sign_in (state_hash, nonce, verifier, back, ends_at) VALUES (%(state)s, %(nonce)s, %(verifier)s, %(back)s, %(ends)s);

-- name: begun
-- A sign-in that comes back from the identity provider.
SELECT nonce, verifier, back FROM outside_sign_in WHERE state_hash = %(state)s AND ends_at > %(now)s FOR UPDATE;

-- name: end
-- It came back; it works once.
DELETE FROM outside_sign_in WHERE state_hash = %(state)s;

-- name: prune
-- Sign-ins that never came back.
DELETE FROM outside_sign_in WHERE ends_at < %(now)s LIMIT 1000;

-- name: person
-- Who is known by an identity outside.
SELECT id, name, email, state, active FROM person WHERE outside_id = %(outside)s FOR UPDATE;

-- name: by_email
-- Who has an address and no identity outside yet.
SELECT id, name, email, state, active FROM person WHERE email = %(email)s AND outside_id IS NULL FOR UPDATE;

-- name: bind
-- A person is known by an identity outside from now on; an invitation counts as accepted.
UPDATE person SET outside_id = %(outside)s, state = IF(state = 'invited', 'active', state), version = version + 1
WHERE id = %(id)s AND outside_id IS NULL;

-- name: add
-- A person who came by single sign-on, without a password.
INSERT INTO person (name, email, password_hash, zone, division_id, state, outside_id, made_at)
VALUES (%(name)s, %(email)s, '', %(zone)s, NULL, 'active', %(outside)s, %(now)s);

-- name: groups_by_claim
-- Groups that follow claims.
-- always: claim
SELECT id, name, claim FROM person_group WHERE claim IS NOT NULL AND retired_at IS NULL ORDER BY id;

-- name: claimed
-- The groups a person is in because of claims.
SELECT group_id FROM group_member WHERE person_id = %(person)s AND by_claim;

-- name: token_of
-- What ending a session at the identity provider needs.
SELECT outside_token FROM session WHERE token_hash = %(token)s;
