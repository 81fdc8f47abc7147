-- name: address
-- The address of a routine, with whoever gave it.
-- gives: StartAddress
SELECT s.*, p.name AS person FROM start_address s JOIN person p ON p.id = s.made_by WHERE s.routine_id = %(routine)s;

-- name: lock_address
-- The row of a routine's address, locked.
-- gives: AddressLocked
SELECT routine_id, version FROM start_address WHERE routine_id = %(routine)s FOR UPDATE;

-- name: give
-- A routine can be started by its address from now on.
INSERT INTO start_address (routine_id, token_digest, token_end, networks_json, a_minute, made_by, made_at)
VALUES (%(routine)s, %(token)s, %(end)s, %(networks)s, %(a_minute)s, %(person)s, %(now)s);

-- name: change
-- From where and how often an address may be called, if nobody else changed it meanwhile.
UPDATE start_address SET networks_json = %(networks)s, a_minute = %(a_minute)s, version = version + 1
WHERE routine_id = %(routine)s AND version = %(version)s;

-- name: rotate
-- An address has another token; the one of before works until a time.
UPDATE start_address SET old_digest = token_digest, old_until = %(until)s, token_digest = %(token)s, token_end = %(end)s, version = version + 1
WHERE routine_id = %(routine)s;

-- name: take
-- A routine has no address any more.
DELETE FROM start_address WHERE routine_id = %(routine)s;

-- name: calls_since
-- How often an address was called since a time.
SELECT COUNT(*) FROM start_call WHERE routine_id = %(routine)s AND at > %(since)s;

-- name: note
-- A call, and what became of it.
INSERT INTO start_call (routine_id, at, came_from, outcome, why, run_id)
VALUES (%(routine)s, %(now)s, %(came_from)s, %(outcome)s, %(why)s, %(run)s);

-- name: calls
-- The calls of an address before one, the latest first; so many.
-- gives: StartCall
SELECT id, at, came_from, outcome, why, run_id FROM start_call WHERE routine_id = %(routine)s AND id < %(before)s ORDER BY id DESC LIMIT %(limit)s;

-- name: called_run
-- A run that a routine's address started, as its caller is told of it.
-- gives: CalledRun
SELECT r.id, r.state, r.outcome, r.reason, r.made_at, r.started_at, r.ended_at, r.outputs_json FROM run r
WHERE r.id = %(run)s AND r.routine_id = %(routine)s AND EXISTS (SELECT 1 FROM start_call c WHERE c.routine_id = r.routine_id AND c.run_id = r.id);

-- name: prune
-- Calls of long ago go.
DELETE FROM start_call WHERE at < %(before)s LIMIT 1000;

-- name: call_back
-- The end of a run is to be told at an address.
INSERT INTO run_call_back (run_id, address) VALUES (%(run)s, %(address)s);

-- name: call_backs_due
-- Runs that ended and whose end is still to be told, fifty at once; none that is being told, or failed to be just now.
-- gives: CallBackDue
-- reads all: those that wait are few, as each goes once its run has ended
SELECT b.run_id AS id, b.address, b.claimed_at, r.routine_id, r.state, r.outcome, r.reason, r.made_at, r.started_at, r.ended_at, r.outputs_json
FROM run_call_back b JOIN run r ON r.id = b.run_id WHERE b.state = 'waits' AND r.ended_at IS NOT NULL
  AND (b.claimed_at IS NULL OR b.claimed_at <= %(late)s)
  AND NOT EXISTS (SELECT 1 FROM hitch h WHERE h.work = 'call backs' AND h.row_key = CAST(b.run_id AS CHAR) AND h.due_at > %(now)s)
ORDER BY b.run_id LIMIT 50;

-- name: claim_call_back
-- One engine tells the end of a run.
UPDATE run_call_back SET claim = %(claim)s, claimed_at = %(now)s
WHERE run_id = %(run)s AND state = 'waits' AND (claimed_at IS NULL OR claimed_at <= %(late)s);

-- name: end_call_back
-- What came of it.
UPDATE run_call_back SET state = %(state)s, words = %(words)s, sent_at = %(sent)s, claim = NULL, claimed_at = NULL
WHERE run_id = %(run)s AND claim = %(claim)s;

-- name: drop_call_back
-- The end of a run is told no more.
UPDATE run_call_back SET state = 'given up', words = %(words)s WHERE run_id = %(run)s AND state = 'waits';

-- name: call_back_of
-- Where the end of a run is told, and what came of it.
-- gives: RunCallBack
SELECT address, state, words, sent_at FROM run_call_back WHERE run_id = %(run)s;
