-- name: add
-- A page on which colleagues run a routine.
INSERT INTO service_page (routine_id, title, does, needs, asks_json, keeper_id, for_all, state_at, made_by, made_at)
VALUES (%(routine)s, %(title)s, %(does)s, %(needs)s, %(asks)s, %(keeper)s, %(for_all)s, %(now)s, %(person)s, %(now)s);

-- name: set
-- A page says and asks something else, or has another keeper or readers; one that was taken back is open again.
UPDATE service_page SET title = %(title)s, does = %(does)s, needs = %(needs)s, asks_json = %(asks)s, keeper_id = %(keeper)s,
  for_all = %(for_all)s, state = IF(state = 'taken back', 'open', state), why = IF(state = 'open', '', why), version = version + 1
WHERE id = %(id)s AND version = %(version)s;

-- name: set_state
-- A page is paused, goes on or is taken back.
UPDATE service_page SET state = %(state)s, why = %(why)s, state_at = %(now)s, version = version + 1 WHERE id = %(id)s AND version = %(version)s;

-- name: drop_groups
-- A page is for no group by name any more.
DELETE FROM service_group WHERE page_id = %(page)s;

-- name: add_group
-- A page is for a group.
INSERT INTO service_group (page_id, group_id) VALUES (%(page)s, %(grp)s);

-- name: groups_of
-- The groups that a page is for, by name.
-- gives: PageGroup
SELECT g.id, g.name FROM service_group x JOIN person_group g ON g.id = x.group_id WHERE x.page_id = %(page)s ORDER BY g.name;

-- name: groups
-- The groups that a page can be for, by name.
-- gives: PageGroup
SELECT id, name FROM person_group WHERE retired_at IS NULL ORDER BY name;

-- name: one
-- A page with whoever looks after it, and whether it is for a person, in their favourites.
-- gives: ServicePage
-- yes or no: reaches, favourite, keeper_here
SELECT x.*, w.name AS keeper, w.email AS keeper_email, w.active AND w.state = 'active' AS keeper_here, o.name AS routine, o.area_id, o.retired_at, r.retired_at AS withdrawn_at,
  (x.keeper_id = %(person)s OR (x.state <> 'taken back' AND (x.for_all OR EXISTS (SELECT 1 FROM service_group s JOIN group_member m ON m.group_id = s.group_id
  JOIN person_group g ON g.id = s.group_id AND g.retired_at IS NULL WHERE s.page_id = x.id AND m.person_id = %(person)s)))) AS reaches,
  EXISTS (SELECT 1 FROM service_favourite f WHERE f.page_id = x.id AND f.person_id = %(person)s) AS favourite
FROM service_page x JOIN person w ON w.id = x.keeper_id JOIN routine o ON o.id = x.routine_id JOIN package_release r ON r.id = o.release_id
WHERE x.id = %(id)s;

-- name: of_routine
-- The page of a routine.
SELECT id FROM service_page WHERE routine_id = %(routine)s;

-- name: lock
-- The row of a routine's page, locked.
-- gives: ServicePageLocked
SELECT id, state, version FROM service_page WHERE id = %(id)s FOR UPDATE;

-- name: reaching
-- The pages that reach a person: for all, for a group of theirs, or looked after by them; and those they keep at hand; favourites first.
-- gives: ServicePageRow
-- yes or no: reaches, favourite
SELECT x.id, x.title, x.does, x.state, x.why, x.routine_id, o.area_id, o.retired_at, r.retired_at AS withdrawn_at,
  (x.keeper_id = %(person)s OR (x.state <> 'taken back' AND (x.for_all OR EXISTS (SELECT 1 FROM service_group s JOIN group_member m ON m.group_id = s.group_id
  JOIN person_group g ON g.id = s.group_id AND g.retired_at IS NULL WHERE s.page_id = x.id AND m.person_id = %(person)s)))) AS reaches,
  f.page_id IS NOT NULL AS favourite
FROM service_page x JOIN routine o ON o.id = x.routine_id JOIN package_release r ON r.id = o.release_id
LEFT JOIN service_favourite f ON f.page_id = x.id AND f.person_id = %(person)s
HAVING favourite OR (reaches AND state <> 'taken back') ORDER BY f.page_id IS NULL, x.title, x.id;

-- name: kept_by
-- The pages that a person looks after, but for those taken back.
SELECT title FROM service_page WHERE keeper_id = %(person)s AND state <> 'taken back' ORDER BY title, id;

-- name: hand_keeper
-- Somebody else looks after the pages of a person.
UPDATE service_page SET keeper_id = %(to)s, version = version + 1 WHERE keeper_id = %(person)s;

-- name: managed
-- The pages of routines in some areas, with what came of them.
-- gives: ManagedPage
-- always: runs, people
SELECT x.id, x.title, x.state, x.why, x.for_all, x.routine_id, o.name AS routine, a.name AS area, w.name AS keeper, o.retired_at,
  (SELECT COUNT(*) FROM service_run s WHERE s.page_id = x.id) AS runs,
  (SELECT COUNT(DISTINCT s.person_id) FROM service_run s WHERE s.page_id = x.id) AS people,
  (SELECT AVG(v.marks) FROM service_word v WHERE v.page_id = x.id AND v.kind = 'rating') AS marks
FROM service_page x JOIN routine o ON o.id = x.routine_id JOIN area a ON a.id = o.area_id JOIN person w ON w.id = x.keeper_id
WHERE (%(everywhere)s OR o.area_id IN %(areas)s) ORDER BY x.title, x.id;

-- name: last_worked
-- When a routine last worked well.
SELECT ended_at FROM run WHERE routine_id = %(routine)s AND state = 'done' ORDER BY id DESC LIMIT 1;

-- name: passed
-- Whether a run of a release ended well, anywhere.
SELECT 1 FROM routine o JOIN run r ON r.routine_id = o.id AND r.state = 'done' AND r.release_id = o.release_id WHERE o.release_id = %(release)s LIMIT 1;

-- name: favour
-- Somebody keeps a page at hand.
INSERT IGNORE INTO service_favourite (person_id, page_id) VALUES (%(person)s, %(page)s);

-- name: favour_not
-- Somebody does not keep a page at hand any more.
DELETE FROM service_favourite WHERE person_id = %(person)s AND page_id = %(page)s;
