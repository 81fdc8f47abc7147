-- name: lots
-- Seats bought, lot by lot, the newest first; those taken back stand no more.
-- gives: SeatLot
SELECT l.id, l.kind, l.number, l.first_on, l.last_on, l.price, l.note, l.version, l.made_at, p.name AS made_by FROM seat_lot l
JOIN person p ON p.id = l.made_by WHERE l.retired_at IS NULL ORDER BY l.kind, l.first_on DESC, l.id DESC;

-- name: lot
-- One lot, locked.
SELECT id, kind, number, first_on, last_on, price, note, version FROM seat_lot WHERE id = %(id)s AND retired_at IS NULL FOR UPDATE;

-- name: buy
-- A lot of seats.
INSERT INTO seat_lot (kind, number, first_on, last_on, price, note, made_by, made_at)
VALUES (%(kind)s, %(number)s, %(first_on)s, %(last_on)s, %(price)s, %(note)s, %(person)s, %(now)s);

-- name: change_lot
-- Changes a lot, if nobody else did meanwhile; with another last day its end is told anew.
UPDATE seat_lot SET number = %(number)s, told = IF(last_on <=> %(last_on)s, told, NULL), first_on = %(first_on)s, last_on = %(last_on)s,
  price = %(price)s, note = %(note)s, version = version + 1 WHERE id = %(id)s AND version = %(version)s AND retired_at IS NULL;

-- name: take_back
-- A lot that was entered by mistake stands no more.
UPDATE seat_lot SET retired_at = %(now)s, version = version + 1 WHERE id = %(id)s AND version = %(version)s AND retired_at IS NULL;

-- name: ending
-- Lots whose last day is near, and how near it was when that was told last.
SELECT l.id, l.kind, l.number, l.last_on, l.told FROM seat_lot l WHERE l.retired_at IS NULL AND l.last_on BETWEEN %(today)s AND %(soon)s
  AND NOT EXISTS (SELECT 1 FROM hitch h WHERE h.work = 'seats' AND h.row_key = CAST(l.id AS CHAR) AND h.due_at > %(now)s) ORDER BY l.last_on, l.id LIMIT 100;

-- name: told
-- The end of a lot was told so many days before; whoever writes it first tells.
UPDATE seat_lot SET told = %(days)s WHERE id = %(id)s AND (told IS NULL OR told > %(days)s);

-- name: give_of
-- Seats of a kind are about to be given: of two who give at once the second looks again.
UPDATE seat_lot SET gifts = gifts + 1 WHERE kind = %(kind)s AND retired_at IS NULL;

-- name: given
-- Seats that people have, and those that groups share.
-- gives: SeatGiven
-- always: used
-- yes or no: gone
SELECT v.id, v.kind, v.number, v.person_id, p.name AS person, v.group_id, g.name AS group_name,
  p.active = FALSE OR g.retired_at IS NOT NULL AS gone,
  (SELECT COUNT(*) FROM slot s WHERE s.kind = v.kind AND s.owner_id = v.id AND s.run_id IS NOT NULL) AS used FROM seat_given v
LEFT JOIN person p ON p.id = v.person_id LEFT JOIN person_group g ON g.id = v.group_id ORDER BY v.kind, COALESCE(g.name, p.name);

-- name: give_person
-- How many seats of a kind a person has.
INSERT INTO seat_given (kind, person_id, number, made_by, made_at) VALUES (%(kind)s, %(to)s, %(number)s, %(person)s, %(now)s)
ON DUPLICATE KEY UPDATE number = %(number)s, made_by = %(person)s, made_at = %(now)s;

-- name: give_group
-- How many seats of a kind the members of a group share.
INSERT INTO seat_given (kind, group_id, number, made_by, made_at) VALUES (%(kind)s, %(to)s, %(number)s, %(person)s, %(now)s)
ON DUPLICATE KEY UPDATE number = %(number)s, made_by = %(person)s, made_at = %(now)s;

-- name: take_given
-- A person or a group has none of them any more.
DELETE FROM seat_given WHERE id = %(id)s;

-- name: in_use
-- How many seats of each kind are in use now.
SELECT s.kind, COUNT(*) AS used FROM slot s WHERE s.kind IN ('seat','trial','attended','builder') AND s.run_id IS NOT NULL GROUP BY s.kind;

-- name: uses
-- Segments of runs that took a seat within a span of time, on which host, and of which kind it was.
-- gives: SeatUse
-- yes or no: of_trial, of_tryout, attended
SELECT g.host_id, g.started_at, g.ended_at, o.trial_of IS NOT NULL AS of_trial, o.tryout_of IS NOT NULL AS of_tryout, r.attended <> '' AS attended FROM run_segment g JOIN run r ON r.id = g.run_id
JOIN routine o ON o.id = r.routine_id WHERE g.ended_at >= %(since)s AND g.started_at < %(until)s
UNION ALL SELECT g.host_id, g.started_at, g.ended_at, o.trial_of IS NOT NULL, o.tryout_of IS NOT NULL, r.attended <> '' FROM run_segment g JOIN run r ON r.id = g.run_id
JOIN routine o ON o.id = r.routine_id WHERE g.ended_at IS NULL AND g.started_at < %(until)s;

-- name: first_use
-- When the first run took a seat.
SELECT MIN(ended_at) FROM run_segment;

-- name: note_peak
-- The most seats used at once on a day; reckoned anew it says the same.
INSERT INTO seat_peak (day, kind, host_id, most, at) VALUES (%(day)s, %(kind)s, %(host)s, %(most)s, %(at)s)
ON DUPLICATE KEY UPDATE most = %(most)s, at = %(at)s;

-- name: last_peak
-- Up to which day the peaks are noted.
SELECT MAX(day) FROM seat_peak WHERE kind = 'unattended' AND host_id = 0;

-- name: peaks
-- The peaks of days since one, of all hosts together, the oldest first.
SELECT day, kind, most, at FROM seat_peak WHERE kind IN ('unattended','trial','attended','builder') AND host_id = 0 AND day >= %(since)s ORDER BY kind, day;

-- name: peaks_of_hosts
-- The highest peak of each host in days since one, by kind.
-- always: most
SELECT host_id, kind, MAX(most) AS most FROM seat_peak WHERE day >= %(since)s AND host_id <> 0 GROUP BY host_id, kind;

-- name: given_for_trials
-- How many trial seats all hosts have.
SELECT COALESCE(SUM(trial_seats), 0) FROM host WHERE retired_at IS NULL;

-- name: of_builders
-- The builder seats that some people have, with those that groups of theirs share, and how many are in use.
-- always: number, used
SELECT q.id, q.name, COALESCE(SUM(t.number), 0) AS number, COALESCE(SUM(t.used), 0) AS used FROM person q
LEFT JOIN (SELECT v.id, v.person_id, v.group_id, v.number,
  (SELECT COUNT(*) FROM slot s WHERE s.kind = 'builder' AND s.owner_id = v.id AND s.run_id IS NOT NULL) AS used
  FROM seat_given v WHERE v.kind = 'builder') t
  ON t.person_id = q.id OR t.group_id IN (SELECT m.group_id FROM group_member m WHERE m.person_id = q.id)
WHERE q.id IN %(people)s GROUP BY q.id, q.name;

-- name: person
-- Whose seats they are to be.
SELECT name FROM person WHERE id = %(id)s AND active;

-- name: group
-- Which group is to share them.
SELECT name FROM person_group WHERE id = %(id)s AND retired_at IS NULL;
