-- name: mark
-- What one idea is worth is to be reckoned anew, once it has a fact to reckon from.
UPDATE idea SET worth_key = 0 WHERE id = %(idea)s
  AND (worth_key > 0 OR (worth_key IS NULL AND EXISTS (SELECT 1 FROM fact f WHERE f.idea_id = %(idea)s)));

-- name: mark_all
-- What every idea is worth is to be reckoned anew: something of the house moved.
INSERT INTO worth_mark (id, revision) VALUES (1, 1) ON DUPLICATE KEY UPDATE revision = revision + 1;

-- name: revision
-- How often something of the house moved what ideas are worth.
SELECT revision FROM worth_mark WHERE id = 1;

-- name: waiting
-- The first ideas whose worth is of another day, or of before something moved it, but for those that failed just now.
SELECT i.id FROM idea i WHERE (i.worth_key < %(key)s OR i.worth_key > %(key)s)
  AND NOT EXISTS (SELECT 1 FROM hitch h WHERE h.work = 'worths' AND h.row_key = CAST(i.id AS CHAR) AND h.due_at > %(now)s)
ORDER BY i.worth_key, i.id LIMIT %(most)s;

-- name: set
-- What an idea is worth and the effort it takes, with the day and the versions that it was reckoned by.
UPDATE idea SET worth = %(worth)s, effort_days = %(effort)s, worth_key = %(key)s, worth_on = %(on)s, worth_by_json = %(by)s
WHERE id = %(id)s;

-- name: kept
-- What every idea with a fact is worth as it was reckoned last.
-- reads all: proving is of every idea
SELECT id, title, stage, worth, effort_days, worth_key, worth_on FROM idea WHERE worth_key IS NOT NULL ORDER BY id;

-- name: open
-- The next open ideas that somebody began to size, which a change of the factors would move.
SELECT id, title, stage, worth, effort_days FROM idea
WHERE id > %(after)s AND worth_key IS NOT NULL AND stage IN ('noted','screened','sized','backed') ORDER BY id LIMIT %(most)s;

-- name: count_open
-- How many open ideas somebody began to size.
SELECT COUNT(*) FROM idea WHERE worth_key IS NOT NULL AND stage IN ('noted','screened','sized','backed');

-- name: ideas
-- Every idea that was handed in.
-- reads all: proving is of every idea
SELECT id FROM idea WHERE stage <> 'draft' ORDER BY id;
