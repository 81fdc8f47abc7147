-- name: add
-- The public half of a key of a person's.
INSERT INTO signing_key (person_id, name, public_half, made_at) VALUES (%(person)s, %(name)s, %(public)s, %(now)s);

-- name: of_person
-- A person's keys, the newest first.
-- gives: SigningKey
SELECT id, person_id, name, public_half, made_at, retired_at FROM signing_key WHERE person_id = %(person)s ORDER BY id DESC;

-- name: retire
-- A key signs no more; what it signed stays signed.
UPDATE signing_key SET retired_at = %(now)s WHERE id = %(id)s AND person_id = %(person)s AND retired_at IS NULL;
