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
SELECT id, kind, machine, pid, version, started_at, seen_at, apart_ms, loops_json FROM process ORDER BY kind, started_at;

-- name: open_effects
-- How many effects are open, and since when the oldest is due.
SELECT COUNT(*) AS open, MIN(due_at) AS oldest FROM effect WHERE done_at IS NULL;

-- name: outbox
-- How the mails stand.
SELECT COUNT(*) AS open, MIN(made_at) AS oldest FROM mail WHERE sent_at IS NULL AND dropped_at IS NULL;

-- name: overdue_triggers
-- How many triggers are due, and since when the first one is.
SELECT COUNT(*) AS due, MIN(next_at) AS oldest FROM start_trigger WHERE next_at <= %(now)s;

-- name: runs_by_state
-- How many runs are open, and since when the first waiting one is due.
SELECT state, COUNT(*) AS runs, MIN(due_at) AS oldest FROM run WHERE state IN ('waiting','running','held') GROUP BY state;

-- name: ended_lately
-- How the runs of the last hour ended.
SELECT state, COUNT(*) AS runs FROM run WHERE ended_at >= %(since)s AND state IN ('done','failed','cancelled','lapsed','lost')
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
