-- name: keep
-- The last reading of a host; what its runner left out stays as it was.
UPDATE host SET read_at = %(now)s, facts_json = %(facts)s, disk_free_mb = %(disk_free_mb)s, apps_json = %(apps)s, known_json = %(known)s
WHERE id = %(id)s;

-- name: note
-- A row of the history of a host.
INSERT IGNORE INTO host_reading (host_id, at, cpu_percent, memory_free_mb, disk_free_mb, clock_ahead_ms, screen)
VALUES (%(id)s, %(now)s, %(cpu_percent)s, %(memory_free_mb)s, %(disk_free_mb)s, %(clock_ahead_ms)s, %(screen)s);

-- name: last_noted
-- When a row of the history of a host was noted last.
SELECT MAX(at) FROM host_reading WHERE host_id = %(id)s;

-- name: of_host
-- The history of a host since a time.
-- gives: ReadingRow
SELECT at, cpu_percent, memory_free_mb, disk_free_mb, clock_ahead_ms, screen FROM host_reading
WHERE host_id = %(id)s AND at >= %(since)s ORDER BY at;

-- name: prune
-- Rows of the history that are too old.
DELETE FROM host_reading WHERE at < %(before)s LIMIT 20000;

-- name: again
-- Every host is to be read anew with its next heartbeat.
UPDATE host SET read_at = NULL WHERE read_at IS NOT NULL;
