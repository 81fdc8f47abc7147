-- name: of_work
-- The rows of one kind of work that failed and may be tried again now.
SELECT row_key FROM hitch WHERE work = %(work)s AND due_at <= %(now)s;

-- name: note
-- One more failed try of a row; an engine that failed at it at the same time is not counted again.
INSERT INTO hitch (work, row_key, object, about, tries, first_at, last_at, due_at, stuck, fault)
VALUES (%(work)s, %(key)s, %(object)s, %(about)s, 1, %(now)s, %(now)s, %(due)s, %(stuck)s, %(fault)s)
ON DUPLICATE KEY UPDATE tries = %(tries)s, last_at = VALUE(last_at), due_at = VALUE(due_at), stuck = VALUE(stuck),
  fault = VALUE(fault), object = VALUE(object), about = VALUE(about);

-- name: waiting
-- The rows of one kind of work that wait after a failure, or are stuck or given up.
SELECT row_key, stuck FROM hitch WHERE work = %(work)s AND due_at > %(now)s;

-- name: one
-- How often a row failed, locked.
SELECT tries, due_at FROM hitch WHERE work = %(work)s AND row_key = %(key)s FOR UPDATE;

-- name: clear
-- A row was done, or is not there any more.
DELETE FROM hitch WHERE work = %(work)s AND row_key = %(key)s;

-- name: open
-- What failed and was not given up, the stuck ones first; and how many effects wait behind one of theirs.
-- gives: OpenHitch
SELECT h.id, h.work, h.object, h.about, h.tries, h.first_at, h.due_at, h.stuck, h.fault,
  (SELECT COUNT(*) FROM effect e WHERE h.work = 'effects' AND e.object = h.row_key AND e.done_at IS NULL) AS effects
FROM hitch h WHERE h.aside_at IS NULL ORDER BY h.stuck DESC, h.id LIMIT %(most)s;

-- name: open_by_work
-- How many rows of each kind of work failed, and how many of them are stuck.
SELECT work, COUNT(*) AS failing, COALESCE(SUM(stuck), 0) AS stuck FROM hitch WHERE aside_at IS NULL GROUP BY work;

-- name: find
-- One that was not given up, locked.
SELECT id, work, row_key, object, about, tries, fault FROM hitch WHERE id = %(id)s AND aside_at IS NULL FOR UPDATE;

-- name: try_now
-- It is tried again at once, with all its tries before it.
UPDATE hitch SET due_at = %(now)s, tries = 0, stuck = FALSE WHERE id = %(id)s;

-- name: set_aside
-- A person gave it up, with the reason; it is not tried any more.
UPDATE hitch SET aside_at = %(now)s, aside_by = %(person)s, aside_why = %(why)s, due_at = %(never)s, row_key = %(key)s WHERE id = %(id)s;

-- name: set_aside_rows
-- What persons gave up, the latest first.
-- always: aside_at, aside_why
SELECT h.id, h.work, h.object, h.about, h.fault, h.aside_at, h.aside_why, p.name AS person FROM hitch h JOIN person p ON p.id = h.aside_by
WHERE h.aside_at IS NOT NULL ORDER BY h.aside_at DESC LIMIT 20;

-- name: prune
-- Whatever was not tried long after it could have been is not there any more.
DELETE FROM hitch WHERE due_at < %(before)s LIMIT 1000;
