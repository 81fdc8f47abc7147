-- name: of_person
-- A person's second factor, if one was begun.
SELECT f.person_id, f.secret_id, f.last_step, f.on_since,
  (SELECT COUNT(*) FROM recovery_code c WHERE c.person_id = f.person_id AND c.used_at IS NULL) AS codes_left
FROM second_factor f WHERE f.person_id = %(person)s;

-- name: begin
-- A second factor that is not proved yet.
INSERT INTO second_factor (person_id, secret_id) VALUES (%(person)s, %(secret)s)
ON DUPLICATE KEY UPDATE secret_id = IF(on_since IS NULL, VALUE(secret_id), secret_id);

-- name: turn_on
-- It was proved, so it is asked for from now on.
UPDATE second_factor SET on_since = %(now)s, last_step = %(step)s WHERE person_id = %(person)s AND on_since IS NULL;

-- name: use_step
-- A code counts once: of two uses at the same time one finds it used.
UPDATE second_factor SET last_step = %(step)s WHERE person_id = %(person)s AND last_step < %(step)s;

-- name: turn_off
-- No second factor any more.
DELETE FROM second_factor WHERE person_id = %(person)s;

-- name: drop_codes
-- The recovery codes so far are worth nothing.
DELETE FROM recovery_code WHERE person_id = %(person)s;

-- name: add_code
-- A recovery code, by its digest.
INSERT INTO recovery_code (person_id, code_hash) VALUES (%(person)s, %(code)s);

-- name: use_code
-- A recovery code works once.
UPDATE recovery_code SET used_at = %(now)s WHERE person_id = %(person)s AND code_hash = %(code)s AND used_at IS NULL;

-- name: add_step
-- A password was right; the second factor is still to come.
INSERT INTO sign_in_step (token_hash, person_id, how, ends_at) VALUES (%(token)s, %(person)s, %(how)s, %(ends)s);

-- name: step
-- A sign-in that waits for its second factor.
SELECT s.person_id, s.how, s.tries, p.name, p.email FROM sign_in_step s JOIN person p ON p.id = s.person_id
WHERE s.token_hash = %(token)s AND s.ends_at > %(now)s AND p.active AND p.state = 'active' FOR UPDATE;

-- name: step_failed
-- A wrong code.
UPDATE sign_in_step SET tries = tries + 1 WHERE token_hash = %(token)s;

-- name: end_step
-- The sign-in is through, or given up.
DELETE FROM sign_in_step WHERE token_hash = %(token)s;

-- name: prune_steps
-- Sign-ins that were not finished in time.
DELETE FROM sign_in_step WHERE ends_at < %(now)s LIMIT 1000;
