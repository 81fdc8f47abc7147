-- name: of_host
-- The passwords kept for accounts of a host, and how signing in with each went; a secret that is retired is none.
-- gives: AccountKept
SELECT c.host_id, c.account, c.secret_id, c.asked_at, c.for_version, c.answered_at, c.proved, c.said, s.name AS secret, s.version, s.expires_on, s.area_id
FROM host_account c JOIN secret s ON s.id = c.secret_id WHERE c.host_id = %(host)s AND s.retired_at IS NULL;

-- name: all
-- The passwords kept for accounts of every host.
-- gives: AccountKept
-- reads all: a page of all robots says of each how its password stands; there are as many as robots
SELECT c.host_id, c.account, c.secret_id, c.asked_at, c.for_version, c.answered_at, c.proved, c.said, s.name AS secret, s.version, s.expires_on, s.area_id
FROM host_account c JOIN secret s ON s.id = c.secret_id WHERE s.retired_at IS NULL;

-- name: lock
-- One of them, locked.
SELECT c.account, c.secret_id, c.answered_at, c.for_version, s.kind, s.name AS secret, s.version, s.area_id FROM host_account c JOIN secret s ON s.id = c.secret_id
WHERE c.host_id = %(host)s AND c.account = %(account)s AND s.retired_at IS NULL FOR UPDATE;

-- name: put
-- A password is kept for an account of a host, and a sign-in with it is asked for.
INSERT INTO host_account (host_id, account, secret_id, asked_at) VALUES (%(host)s, %(account)s, %(secret)s, %(now)s)
ON DUPLICATE KEY UPDATE secret_id = VALUES(secret_id), asked_at = VALUES(asked_at), fetched_at = NULL, for_version = NULL, answered_at = NULL, proved = NULL, said = '';

-- name: fetched
-- The runner took a password to try it.
UPDATE host_account SET fetched_at = %(now)s, for_version = %(version)s, answered_at = NULL, proved = NULL, said = ''
WHERE host_id = %(host)s AND account = %(account)s;

-- name: answered
-- How the sign-in went.
UPDATE host_account SET answered_at = %(now)s, proved = %(proved)s, said = %(said)s
WHERE host_id = %(host)s AND account = %(account)s AND fetched_at IS NOT NULL AND answered_at IS NULL;
