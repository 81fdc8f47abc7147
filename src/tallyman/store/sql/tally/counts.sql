-- name: of_idea
-- The units that were given for an idea by hand, the latest first.
SELECT c.id, c.first_on, c.last_on, c.units, c.evidence, c.source, c.at, c.taken_back_at, p.name AS person,
  (SELECT COUNT(*) FROM tally_entry e WHERE e.source = CONCAT('count:', c.id)) AS entries
FROM idea_count c JOIN person p ON p.id = c.person_id WHERE c.idea_id = %(idea)s ORDER BY c.first_on DESC, c.id DESC;

-- name: one
-- One count.
-- gives: HandCounted
SELECT c.id, c.idea_id, c.first_on, c.last_on, c.units, c.evidence, c.source, c.taken_back_at, c.person_id, i.area_id, i.title, p.name AS person
FROM idea_count c JOIN idea i ON i.id = c.idea_id JOIN person p ON p.id = c.person_id WHERE c.id = %(id)s;

-- name: lock
-- A count, before it is changed or posted.
SELECT id FROM idea_count WHERE id = %(id)s FOR UPDATE;

-- name: overlapping
-- A count of an idea that holds a day of a span.
SELECT id, first_on, last_on, units FROM idea_count
WHERE idea_id = %(idea)s AND taken_back_at IS NULL AND first_on <= %(last)s AND last_on >= %(first)s AND id <> %(but)s LIMIT 1;

-- name: add
-- Units of a span of days.
INSERT INTO idea_count (idea_id, first_on, last_on, units, evidence, source, person_id, at)
VALUES (%(idea)s, %(first)s, %(last)s, %(units)s, %(evidence)s, %(source)s, %(person)s, %(now)s);

-- name: change
-- What a count says by now.
UPDATE idea_count SET units = %(units)s, evidence = %(evidence)s, person_id = %(person)s WHERE id = %(id)s AND taken_back_at IS NULL;

-- name: take_back
-- A count that was none.
UPDATE idea_count SET taken_back_at = %(now)s, person_id = %(person)s WHERE id = %(id)s AND taken_back_at IS NULL;

-- name: post_again_since
-- Counts since a day are posted anew, for a reason; of one idea or of all (0).
INSERT INTO effect (kind, object, payload_json, made_at, due_at)
SELECT 'count by hand', CONCAT('count:', c.id), JSON_OBJECT('count', c.id, 'why', %(why)s), %(now)s, %(now)s FROM idea_count c
WHERE c.last_on >= %(since)s AND c.taken_back_at IS NULL AND (%(idea)s = 0 OR c.idea_id = %(idea)s);

-- name: counted_since
-- From when to when routines counted for an idea, also while a next release was tried; the one that counts now has no end.
SELECT o.live_at, c.ended_at FROM counting_point c JOIN routine o ON o.id = c.routine_id
WHERE c.idea_id = %(idea)s AND o.live_at IS NOT NULL ORDER BY o.live_at;

-- name: unposted_in
-- How many counts by hand of some days are not in the tally: the minutes saved are not approved.
SELECT COUNT(*) FROM idea_count c WHERE c.last_on >= %(first)s AND c.last_on <= %(last)s AND c.taken_back_at IS NULL
  AND NOT EXISTS (SELECT 1 FROM tally_entry e WHERE e.source = CONCAT('count:', c.id));

-- name: posted_since
-- How many counts by hand since a day are in the tally, of one idea or of all (0).
SELECT COUNT(*) FROM idea_count c WHERE c.last_on >= %(since)s AND c.taken_back_at IS NULL AND (%(idea)s = 0 OR c.idea_id = %(idea)s)
  AND EXISTS (SELECT 1 FROM tally_entry e WHERE e.source = CONCAT('count:', c.id));

-- name: standing
-- What stands in the tally for each count by hand, but for those that are about to be posted.
-- always: units, money
-- reads all: every count by hand, which people give one by one
SELECT c.id, COALESCE(SUM(e.units), 0) AS units, COALESCE(SUM(e.money), 0) AS money FROM idea_count c
LEFT JOIN tally_entry e ON e.source = CONCAT('count:', c.id)
WHERE NOT EXISTS (SELECT 1 FROM effect f WHERE f.object = CONCAT('count:', c.id) AND f.done_at IS NULL) GROUP BY c.id;
