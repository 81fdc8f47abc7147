-- name: rows
-- All approved rows of the cost tables.
SELECT r.id, r.kind, r.what, r.division_id, r.value, r.since, p.name AS person FROM rate r JOIN person p ON p.id = r.made_by
WHERE r.idea_id = 0 AND r.state = 'approved' ORDER BY r.kind, r.since, r.id;

-- name: hour_costs
-- What an hour costs by a day, for some roles in some divisions.
SELECT r.id, r.kind, r.what, r.division_id, r.value, r.since, p.name AS person FROM rate r JOIN person p ON p.id = r.made_by
WHERE r.kind = 'hour_cost' AND r.idea_id = 0 AND r.state = 'approved' AND r.since <= %(on)s AND r.what IN %(roles)s
  AND r.division_id IN %(divisions)s;

-- name: divisions_above
-- A division and all above it, the nearest first.
WITH RECURSIVE up AS (
  SELECT id, parent_id, 0 AS depth FROM division WHERE id = %(division)s
  UNION ALL SELECT d.id, d.parent_id, u.depth + 1 FROM division d JOIN up u ON d.id = u.parent_id
  WHERE u.depth < 20)
SELECT id FROM up ORDER BY depth;

-- name: host_hours
-- Hosts with seats, and the hours within which each works.
SELECT name, hours_from, hours_to, seats FROM host WHERE seats > 0 ORDER BY id;

-- name: people_of
-- Where an idea belongs, and the role of those who do the work.
SELECT i.division_id, JSON_UNQUOTE(f.value_json) AS role FROM idea i
LEFT JOIN fact f ON f.idea_id = i.id AND f.field = 'role' WHERE i.id = %(idea)s;

-- name: used_names
-- What the rows of a kind are for, and the roles named on sizings.
SELECT DISTINCT kind, what FROM rate WHERE idea_id = 0 AND state = 'approved' AND what <> '' ORDER BY kind, what;
