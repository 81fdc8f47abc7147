-- name: counts
-- How much there is of what the house rules gather.
SELECT (SELECT COUNT(*) FROM person WHERE state IN ('active','invited')) AS people,
  (SELECT COUNT(*) FROM person_group WHERE retired_at IS NULL) AS groups_there,
  (SELECT COUNT(*) FROM role WHERE retired_at IS NULL) AS roles,
  (SELECT COUNT(*) FROM role WHERE retired_at IS NULL AND NOT built_in) AS own_roles,
  (SELECT COUNT(*) FROM rule_set) AS rule_versions,
  (SELECT COUNT(*) FROM area WHERE %(all_areas)s OR id IN %(areas)s) AS areas, (SELECT COUNT(*) FROM division WHERE merged_into IS NULL) AS divisions,
  (SELECT COUNT(*) FROM closed_day) AS closed_days,
  (SELECT COUNT(*) FROM business_system WHERE state <> 'retired') AS systems,
  (SELECT COUNT(*) FROM secret WHERE retired_at IS NULL AND kind <> 'second factor'
    AND (%(all_secrets)s OR area_id IN %(secret_areas)s)) AS secrets,
  (SELECT COUNT(*) FROM program_token WHERE revoked_at IS NULL AND ends_at > %(now)s) AS tokens,
    (SELECT COUNT(*) FROM mail WHERE sent_at IS NULL) AS mails_waiting,
  (SELECT COUNT(DISTINCT kind) FROM rate WHERE state = 'approved' AND kind IN %(kinds)s) AS rates,
  (SELECT COUNT(*) FROM rate WHERE state = 'approved' AND idea_id = 0) AS `rows`;

-- name: first_steps
-- What of the first steps of an installation was done: the first of each, or nothing.
SELECT (SELECT COUNT(*) FROM person WHERE state IN ('active','invited')) AS people,
  (SELECT COUNT(DISTINCT kind) FROM rate WHERE state = 'approved' AND kind IN %(kinds)s) AS rates,
  (SELECT id FROM idea WHERE stage <> 'draft' ORDER BY id LIMIT 1) AS idea,
  (SELECT MIN(h.id) FROM host h WHERE h.retired_at IS NULL) AS host,
  (SELECT MIN(h.id) FROM host h WHERE h.retired_at IS NULL AND h.heard_at IS NOT NULL) AS heard,
  (SELECT MIN(r.id) FROM robot r WHERE r.retired_at IS NULL) AS robot,
  (SELECT MIN(r.id) FROM routine o JOIN run r ON r.routine_id = o.id WHERE o.trial_of IS NOT NULL AND r.state = 'done' AND r.outcome = 'worked') AS trial,
  (SELECT r.id FROM run r JOIN routine o ON o.id = r.routine_id WHERE r.state = 'done' AND r.outcome = 'worked' AND o.trial_of IS NULL AND o.tryout_of IS NULL
    ORDER BY r.id LIMIT 1) AS run;

-- name: rename_division
-- Another name for a division.
UPDATE division SET name = %(name)s WHERE id = %(id)s;

-- name: division
-- One division in use.
SELECT id, name, parent_id FROM division WHERE id = %(id)s AND merged_into IS NULL;

-- name: lock_divisions
-- All divisions, locked in one order, so that two moves at once cannot make a circle.
SELECT id FROM division ORDER BY id FOR UPDATE;

-- name: divisions_below
-- A division and all below it.
WITH RECURSIVE tree AS (SELECT id, 0 AS depth FROM division WHERE id = %(id)s
  UNION ALL SELECT d.id, t.depth + 1 FROM division d JOIN tree t ON d.parent_id = t.id WHERE t.depth < 20)
SELECT id FROM tree;

-- name: division_top
-- The division at the top of the branch that a division is in.
WITH RECURSIVE way AS (SELECT id, parent_id, 0 AS depth FROM division WHERE id = %(id)s
  UNION ALL SELECT d.id, d.parent_id, w.depth + 1 FROM division d JOIN way w ON d.id = w.parent_id WHERE w.depth < 20)
SELECT id FROM way WHERE parent_id IS NULL;

-- name: move_division
-- A division lies below another, or at the top.
-- moves worths: all
UPDATE division SET parent_id = %(parent)s, parent_key = COALESCE(%(parent)s, 0) WHERE id = %(id)s;

-- name: merge_division
-- A division went into another; its name is free again.
UPDATE division SET merged_into = %(into)s, name = CONCAT(LEFT(name, 60), ' #', id) WHERE id = %(id)s;

-- name: merge_children
-- What lay below a merged division lies below the one it went into.
-- moves worths: all
UPDATE division SET parent_id = %(into)s, parent_key = %(into)s WHERE parent_id = %(id)s;

-- name: merge_ideas
-- The ideas of a merged division belong to the one it went into.
-- moves worths: all
UPDATE idea SET division_id = %(into)s, version = version + 1 WHERE division_id = %(id)s;

-- name: merge_answers
-- So do the answers that named it.
UPDATE idea_answer SET value_json = %(into_json)s WHERE question = 'division' AND idea_id IN
  (SELECT id FROM idea WHERE division_id = %(into)s) AND value_json = %(id_json)s;

-- name: merge_people
-- So do its people.
UPDATE person SET division_id = %(into)s, version = version + 1 WHERE division_id = %(id)s;

-- name: division_counts
-- How many ideas and people belong to each division.
-- always: ideas, people
SELECT d.id, (SELECT COUNT(*) FROM idea i WHERE i.division_id = d.id AND i.stage <> 'draft') AS ideas,
  (SELECT COUNT(*) FROM person p WHERE p.division_id = d.id AND p.state IN ('active','invited')) AS people
FROM division d WHERE d.merged_into IS NULL;

-- name: area_of_division
-- Where the ideas of a division belong: its own area, or that of the nearest one above it.
WITH RECURSIVE up AS (SELECT id, parent_id, area_id, 0 AS depth FROM division WHERE id = %(id)s
  UNION ALL SELECT d.id, d.parent_id, d.area_id, u.depth + 1 FROM division d JOIN up u ON d.id = u.parent_id
  WHERE u.area_id IS NULL AND u.depth < 20)
SELECT area_id FROM up WHERE area_id IS NOT NULL ORDER BY depth LIMIT 1;
