-- name: usual
-- The longest silences of a routine's last good runs, in seconds, the latest first.
-- always: longest_quiet_s
SELECT longest_quiet_s FROM run WHERE routine_id = %(routine)s AND state = 'done' AND longest_quiet_s IS NOT NULL ORDER BY id DESC LIMIT 20;

-- name: stalls
-- A run that works reports nothing and uses no processor since then; whoever writes it first tells.
UPDATE run SET stalled_at = %(since)s, changed_at = %(now)s WHERE id = %(id)s AND state = 'running' AND stalled_at IS NULL;

-- name: goes_on
-- A run that was called stalled gives a sign again.
UPDATE run SET stalled_at = NULL, changed_at = %(now)s WHERE id = %(id)s AND stalled_at IS NOT NULL;

-- name: note_longest
-- The longest silence of a run so far, as its runner says at the end of a segment.
UPDATE run SET longest_quiet_s = GREATEST(COALESCE(longest_quiet_s, 0), %(seconds)s) WHERE id = %(id)s AND fence = %(fence)s;

-- name: now
-- Runs that are stalled now, the first 20.
SELECT r.id, o.name AS routine, r.stalled_at FROM run r JOIN routine o ON o.id = r.routine_id
WHERE r.state = 'running' AND r.stalled_at IS NOT NULL AND (%(everywhere)s OR o.area_id IN %(areas)s) ORDER BY r.stalled_at LIMIT 20;
