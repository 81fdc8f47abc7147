-- name: wanted
-- Of which stalled runs a picture of the screen is to be taken: where the area, or one above it, wants it, and none came yet; never of a person's own computer.
SELECT r.id FROM run r JOIN routine o ON o.id = r.routine_id WHERE r.id IN %(ids)s AND r.stalled_at IS NOT NULL AND r.attended = ''
  AND EXISTS (SELECT 1 FROM area_above x JOIN area a ON a.id = x.above_id WHERE x.area_id = o.area_id AND a.screens)
  AND NOT EXISTS (SELECT 1 FROM run_screen s WHERE s.run_id = r.id AND s.stalled_at = r.stalled_at);

-- name: keep
-- The picture of a run's screen when it stalled, in place of the one of a stall before; or why there is none.
INSERT INTO run_screen (run_id, stalled_at, at, digest, said) SELECT id, stalled_at, %(now)s, %(digest)s, %(said)s FROM run
WHERE id = %(run)s AND stalled_at IS NOT NULL
ON DUPLICATE KEY UPDATE stalled_at = VALUES(stalled_at), at = VALUES(at), digest = VALUES(digest), said = VALUES(said);

-- name: of_run
-- The picture of a run's screen when it stalled last.
-- gives: RunScreen
SELECT at, digest, said FROM run_screen WHERE run_id = %(run)s;
