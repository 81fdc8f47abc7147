-- name: counts
-- How much there is of what the house rules gather.
SELECT (SELECT COUNT(*) FROM person WHERE state IN ('active','invited')) AS people,
  (SELECT COUNT(*) FROM person_group WHERE retired_at IS NULL) AS groups_there,
  (SELECT COUNT(*) FROM role WHERE retired_at IS NULL) AS roles,
  (SELECT COUNT(*) FROM role WHERE retired_at IS NULL AND NOT built_in) AS own_roles,
  (SELECT COUNT(*) FROM area WHERE %(all_areas)s OR id IN %(areas)s) AS areas, (SELECT COUNT(*) FROM division) AS divisions,
  (SELECT COUNT(*) FROM closed_day) AS closed_days,
  (SELECT COUNT(*) FROM secret WHERE retired_at IS NULL AND kind <> 'second factor'
    AND (%(all_secrets)s OR area_id IN %(secret_areas)s)) AS secrets,
  (SELECT COUNT(*) FROM program_token WHERE revoked_at IS NULL AND ends_at > %(now)s) AS tokens,
    (SELECT COUNT(*) FROM mail WHERE sent_at IS NULL) AS mails_waiting,
  (SELECT COUNT(DISTINCT kind) FROM rate WHERE state = 'approved' AND kind IN %(kinds)s) AS rates;

-- name: first_steps
-- What of the first steps of an installation was done: the first of each, or nothing.
SELECT (SELECT COUNT(*) FROM person WHERE state IN ('active','invited')) AS people,
  (SELECT COUNT(DISTINCT kind) FROM rate WHERE state = 'approved' AND kind IN %(kinds)s) AS rates,
  (SELECT MIN(id) FROM idea WHERE stage <> 'draft') AS idea,
  (SELECT MIN(r.id) FROM robot r JOIN host h ON h.id = r.host_id WHERE h.heard_at IS NOT NULL) AS robot,
  (SELECT MIN(id) FROM run WHERE state = 'done' AND outcome = 'worked') AS run;

-- name: rename_division
-- Another name for a division.
UPDATE division SET name = %(name)s WHERE id = %(id)s;

-- name: division
-- One division.
SELECT id, name FROM division WHERE id = %(id)s;
