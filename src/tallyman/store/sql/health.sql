-- name: seen
-- A web or engine process says that it lives, and how its loops do.
INSERT INTO process (id, kind, machine, pid, version, started_at, seen_at, apart_ms, loops_json)
VALUES (%(id)s, %(kind)s, %(machine)s, %(pid)s, %(version)s, %(started)s, %(now)s, %(apart)s, %(loops)s)
ON DUPLICATE KEY UPDATE seen_at = VALUE(seen_at), apart_ms = VALUE(apart_ms), loops_json = VALUE(loops_json);

-- name: gone
-- A process ended in order.
DELETE FROM process WHERE id = %(id)s;

-- name: forget
-- Processes that were not heard from for long.
DELETE FROM process WHERE seen_at < %(before)s;

-- name: processes
-- All web and engine processes heard from lately.
SELECT id, kind, machine, pid, version, started_at, seen_at, apart_ms, loops_json FROM process ORDER BY kind, started_at LIMIT 200;

-- name: open_effects
-- How many effects are open, and since when the oldest is due.
SELECT COUNT(*) AS open, COALESCE(SUM(tries > 0), 0) AS failing, MIN(due_at) AS oldest FROM effect WHERE done_at IS NULL;

-- name: stuck_effects
-- Effects that failed at least once and are not done.
SELECT id, kind, object, made_at, due_at, tries, fault FROM effect WHERE done_at IS NULL AND tries > 0 ORDER BY id LIMIT 50;

-- name: behind
-- How many open effects wait behind one of the same object.
SELECT COUNT(*) FROM effect WHERE object = %(object)s AND done_at IS NULL AND id > %(id)s;

-- name: try_now
-- A stuck effect is tried again at once.
UPDATE effect SET due_at = %(now)s WHERE id = %(id)s AND done_at IS NULL;

-- name: set_aside
-- A stuck effect is given up by a person, with the reason.
UPDATE effect SET done_at = %(now)s, aside_by = %(person)s, aside_why = %(why)s WHERE id = %(id)s AND done_at IS NULL;

-- name: effect
-- One open effect.
SELECT id, kind, object, fault FROM effect WHERE id = %(id)s AND done_at IS NULL;

-- name: set_aside_rows
-- What persons gave up, the latest first.
SELECT e.id, e.kind, e.object, e.fault, e.done_at, e.aside_why, p.name AS person FROM effect e JOIN person p ON p.id = e.aside_by
WHERE e.aside_by IS NOT NULL ORDER BY e.id DESC LIMIT 20;

-- name: outbox
-- How the mails stand.
SELECT COUNT(*) AS open, COALESCE(SUM(tries > 0), 0) AS failing, MIN(made_at) AS oldest FROM mail WHERE sent_at IS NULL;

-- name: stuck_mails
-- Mails that were refused at least once and are not sent.
SELECT id, to_address, subject, made_at, due_at, tries, answer FROM mail WHERE sent_at IS NULL AND tries > 0 ORDER BY id LIMIT 50;

-- name: mail_now
-- A stuck mail is tried again at once.
UPDATE mail SET due_at = %(now)s WHERE id = %(id)s AND sent_at IS NULL;

-- name: overdue_triggers
-- How many triggers are due, and since when the first one is.
SELECT COUNT(*) AS due, MIN(next_at) AS oldest FROM clock_trigger WHERE next_at <= %(now)s;

-- name: runs_by_state
-- How many runs are open, and since when the first waiting one is due.
SELECT state, COUNT(*) AS runs, MIN(due_at) AS oldest FROM run WHERE state IN ('waiting','running','held') GROUP BY state;

-- name: ended_lately
-- How the runs of the last hour ended.
SELECT state, COUNT(*) AS runs FROM run WHERE state IN ('done','failed','cancelled','lapsed','lost') AND ended_at >= %(since)s
GROUP BY state;

-- name: database
-- The database's version, how long it runs, and its connections.
SELECT VERSION() AS version,
  (SELECT VARIABLE_VALUE FROM information_schema.GLOBAL_STATUS WHERE VARIABLE_NAME = 'UPTIME') AS uptime_seconds,
  (SELECT VARIABLE_VALUE FROM information_schema.GLOBAL_STATUS WHERE VARIABLE_NAME = 'THREADS_CONNECTED') AS connections,
  (SELECT VARIABLE_VALUE FROM information_schema.GLOBAL_VARIABLES WHERE VARIABLE_NAME = 'MAX_CONNECTIONS') AS most_connections,
  (SELECT VARIABLE_VALUE FROM information_schema.GLOBAL_STATUS WHERE VARIABLE_NAME = 'WSREP_CLUSTER_SIZE') AS cluster_size;

-- name: database_size
-- How large the tables are, in bytes.
SELECT COALESCE(SUM(data_length + index_length), 0) FROM information_schema.TABLES WHERE table_schema = DATABASE();

-- name: migrations
-- The newest migration that was applied.
SELECT MAX(name) FROM schema_migration;
