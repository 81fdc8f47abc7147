-- name: rate_in_force
-- The approved rate of a kind in force on a day; the latest approved one of a day wins.
-- gives: RateInForce
SELECT id, value, since FROM rate
WHERE kind = %(kind)s AND idea_id = %(idea)s AND what = '' AND division_id = 0 AND state = 'approved' AND since <= %(day)s
ORDER BY since DESC, id DESC LIMIT 1;

-- name: rate_in_force_for
-- The approved rate of a kind in force on a day for one thing, else the one for all.
-- gives: RateInForce
SELECT id, value, since FROM rate
WHERE kind = %(kind)s AND idea_id = 0 AND what IN ('', %(what)s) AND division_id = 0 AND state = 'approved' AND since <= %(day)s
ORDER BY what = '', since DESC, id DESC LIMIT 1;

-- name: rates
-- All rates by kind, the newest first.
SELECT r.id, r.kind, r.idea_id, i.title AS idea, r.what, r.division_id, d.name AS division, r.value, r.since, r.state, r.source,
  r.made_by, p.name AS proposer, r.made_at, a.name AS approver, r.approved_at, i.area_id FROM rate r JOIN person p ON p.id = r.made_by
LEFT JOIN person a ON a.id = r.approved_by LEFT JOIN idea i ON i.id = r.idea_id LEFT JOIN division d ON d.id = r.division_id
WHERE %(everywhere)s OR r.idea_id = 0 OR i.area_id IN %(areas)s
ORDER BY r.kind, r.idea_id, r.what, d.name, r.since DESC, r.id DESC;

-- name: rate
-- One rate.
SELECT r.id, r.kind, r.idea_id, r.value, r.since, r.state, r.made_by, i.area_id FROM rate r LEFT JOIN idea i ON i.id = r.idea_id
WHERE r.id = %(id)s;

-- name: add_rate
-- A dated rate.
-- moves worths: all
INSERT INTO rate (kind, idea_id, what, division_id, value, since, state, source, made_by, made_at, approved_by, approved_at)
VALUES (%(kind)s, %(idea)s, %(what)s, %(division)s, %(value)s, %(since)s, %(state)s, %(source)s, %(person)s, %(now)s, %(approved_by)s, %(approved_at)s);

-- name: settle_rate
-- Approves, refuses or withdraws a proposed rate.
-- moves worths: all
UPDATE rate SET state = %(state)s, approved_by = %(person)s, approved_at = %(now)s
WHERE id = %(id)s AND state = 'proposed';

-- name: rates_to_settle
-- Proposed rates that somebody else may approve.
SELECT r.id, r.kind, r.idea_id, i.title AS idea, r.value, r.since, r.source, p.name AS proposer FROM rate r
JOIN person p ON p.id = r.made_by LEFT JOIN idea i ON i.id = r.idea_id
WHERE r.state = 'proposed' AND r.made_by <> %(person)s AND (%(everywhere)s OR i.area_id IN %(areas)s) ORDER BY r.id;

-- name: newest_minutes_rate
-- The newest rate of minutes by hand of an idea that is approved, or may still be.
SELECT id, value, since, state FROM rate WHERE kind = 'minutes_by_hand' AND idea_id = %(idea)s AND state IN ('proposed','approved')
ORDER BY id DESC LIMIT 1;

-- name: open_month
-- Makes sure that a month has its row.
INSERT IGNORE INTO tally_month (month) VALUES (%(month)s);

-- name: first_month
-- The month from which there is something to tally: of the first posting, or the first promised idea in service.
-- reads all: the earliest go-live of all promises
SELECT MIN(f.month) FROM (SELECT MIN(month) AS month FROM tally_month
  UNION ALL SELECT DATE_FORMAT(MIN(i.live_on), '%%Y-%%m') FROM promise r JOIN idea i ON i.id = r.idea_id) f;

-- name: lock_month
-- Locks a month's row before posting or closing.
SELECT state FROM tally_month WHERE month = %(month)s FOR UPDATE;

-- name: close_month
-- Closes a month by name.
UPDATE tally_month SET state = 'closed', closed_by = %(person)s, closed_at = %(now)s, entries = %(entries)s, hours = %(hours)s,
  money = %(money)s, open_json = %(open)s WHERE month = %(month)s AND state = 'open';

-- name: runs_since
-- How many runs ended since some time, of the routine that counts for an idea or of all (0).
SELECT COUNT(*) FROM run r WHERE r.ended_at >= %(since)s AND r.trial = FALSE AND r.started_at IS NOT NULL
  AND (%(idea)s = 0 OR EXISTS (SELECT 1 FROM counting_point c WHERE c.routine_id = r.routine_id AND c.idea_id = %(idea)s));

-- name: post_again_since
-- Those runs are posted anew, for a reason.
INSERT INTO effect (kind, object, payload_json, made_at, due_at)
SELECT 'tally', CONCAT('run:', r.id), JSON_OBJECT('run', r.id, 'why', %(why)s), %(now)s, %(now)s FROM run r
WHERE r.ended_at >= %(since)s AND r.trial = FALSE AND r.started_at IS NOT NULL
  AND (%(idea)s = 0 OR EXISTS (SELECT 1 FROM counting_point c WHERE c.routine_id = r.routine_id AND c.idea_id = %(idea)s));

-- name: runs_unended
-- How many runs began in a month and have not ended.
SELECT COUNT(*) FROM run WHERE state IN ('running','held') AND started_at >= %(since)s AND started_at < %(until)s AND trial = FALSE;

-- name: runs_unposted
-- How many runs ended in a month and wait to be posted.
SELECT COUNT(*) FROM effect f JOIN run r ON f.object = CONCAT('run:', r.id)
WHERE f.done_at IS NULL AND f.kind = 'tally' AND r.ended_at >= %(since)s AND r.ended_at < %(until)s;

-- name: counts_waiting
-- How many counts of a month's runs are far from the usual and wait for a yes.
SELECT COUNT(*) FROM unusual_count u JOIN run r ON r.id = u.run_id
WHERE u.held AND u.settled_at IS NULL AND r.ended_at >= %(since)s AND r.ended_at < %(until)s;

-- name: cautions_in
-- How many runs that ended in a month have a caution.
SELECT COUNT(*) FROM run r JOIN tally_caution c ON c.run_id = r.id WHERE r.ended_at >= %(since)s AND r.ended_at < %(until)s;

-- name: rates_proposed
-- How many rates are proposed from a day before the end of a month.
SELECT COUNT(*) FROM rate WHERE state = 'proposed' AND since < %(until)s;

-- name: months
-- All months with their state.
SELECT m.month, m.state, m.closed_at, m.month_end_at, m.open_json, p.name AS closed_by FROM tally_month m
LEFT JOIN person p ON p.id = m.closed_by ORDER BY m.month;

-- name: post
-- Posts one entry; the unique key keeps it from being posted twice.
INSERT INTO tally_entry (source, line, correction, month, belongs_to, idea_id, routine_id, run_id, area_id, units, hours, money,
  rates_json, at, posted_at, kind, why, facts_json, posted_by)
VALUES (%(source)s, %(line)s, %(correction)s, %(month)s, %(belongs_to)s, %(idea)s, %(routine)s, %(run)s, %(area)s, %(units)s,
  %(hours)s, %(money)s, %(rates)s, %(at)s, %(now)s, %(kind)s, %(why)s, %(facts)s, %(person)s);

-- name: posted
-- What stands posted for a source: by line its net amounts and its last correction number.
-- always: units, hours, money, correction
SELECT line, SUM(units) AS units, SUM(hours) AS hours, SUM(money) AS money, MAX(correction) AS correction
FROM tally_entry WHERE source = %(source)s GROUP BY line;

-- name: add_to_sum
-- Rolls an entry up into its month.
INSERT INTO tally_sum (month, idea_id, line, units, hours, money, entries)
VALUES (%(month)s, %(idea)s, %(line)s, %(units)s, %(hours)s, %(money)s, 1)
ON DUPLICATE KEY UPDATE units = units + VALUE(units), hours = hours + VALUE(hours), money = money + VALUE(money),
  entries = entries + 1;

-- name: sums_of_idea
-- The roll-ups of an idea by month and line.
-- always: units, hours, money, entries
SELECT month, line, units, hours, money, entries FROM tally_sum WHERE idea_id = %(idea)s ORDER BY month, line;

-- name: sums_of_all
-- The roll-ups of every idea over all months.
-- always: units, hours, money, entries
-- reads all: the sums of everything, from one row for an idea, month and line
SELECT idea_id, line, SUM(units) AS units, SUM(hours) AS hours, SUM(money) AS money, SUM(entries) AS entries
FROM tally_sum GROUP BY idea_id, line;

-- name: sums_by_month
-- The roll-ups of every month over all ideas.
-- always: units, hours, money, entries
-- reads all: the sums of everything, from one row for an idea, month and line
SELECT month, line, SUM(units) AS units, SUM(hours) AS hours, SUM(money) AS money, SUM(entries) AS entries
FROM tally_sum WHERE %(everywhere)s OR idea_id IN (SELECT id FROM idea WHERE area_id IN %(areas)s)
GROUP BY month, line ORDER BY month, line;

-- name: entries_of_month
-- The entries of an idea in a month, after an entry number.
SELECT e.id, e.run_id, e.line, e.units, e.hours, e.money, e.at, e.belongs_to, e.rates_json, o.name AS routine, e.routine_id, e.kind,
  e.why, e.facts_json, p.name AS person
FROM tally_entry e LEFT JOIN routine o ON o.id = e.routine_id LEFT JOIN person p ON p.id = e.posted_by
WHERE e.idea_id = %(idea)s AND e.month = %(month)s AND e.id > %(after)s ORDER BY e.id LIMIT %(limit)s;

-- name: entries_of_run
-- What one run posted.
SELECT e.id, e.idea_id, e.line, e.month, e.units, e.hours, e.money, e.at, e.posted_at, e.rates_json, e.kind, e.why FROM tally_entry e
WHERE e.run_id = %(run)s ORDER BY e.id;

-- name: rates_by_ids
-- Rates that entries were reckoned with.
SELECT id, kind, value, since FROM rate WHERE id IN %(ids)s;

-- name: add_caution
-- A caution about what a run posted.
INSERT INTO tally_caution (run_id, words, at) VALUES (%(run)s, %(words)s, %(now)s)
ON DUPLICATE KEY UPDATE words = VALUE(words);

-- name: usual_counts
-- The counts of a routine's last runs that worked, before one of them.
SELECT counts_json FROM run WHERE routine_id = %(routine)s AND state = 'done' AND outcome = 'worked' AND trial = FALSE
AND id < %(run)s ORDER BY id DESC LIMIT 40;

-- name: note_unusual
-- A count far from the usual; noted once.
INSERT IGNORE INTO unusual_count (run_id, units, usual, held, noted_at) VALUES (%(run)s, %(units)s, %(usual)s, %(held)s, %(now)s);

-- name: unusual
-- Whether a run's count is far from the usual, and what was said of it.
SELECT run_id, units, usual, held, noted_at, settled_by, settled_at FROM unusual_count WHERE run_id = %(run)s;

-- name: settle_unusual
-- A person looked at the count.
UPDATE unusual_count SET settled_by = %(person)s, settled_at = %(now)s WHERE run_id = %(run)s AND settled_at IS NULL;

-- name: unusual_open
-- Counts that wait for a yes.
SELECT u.run_id, u.units, u.usual, u.noted_at, o.name AS routine, i.id AS idea_id, i.title AS idea, i.area_id FROM unusual_count u
JOIN run r ON r.id = u.run_id JOIN routine o ON o.id = r.routine_id JOIN counting_point c ON c.routine_id = o.id
JOIN idea i ON i.id = c.idea_id WHERE u.held AND u.settled_at IS NULL AND (%(everywhere)s OR i.area_id IN %(areas)s)
ORDER BY u.run_id;

-- name: caution_of_run
-- The caution about one run, if any.
SELECT words FROM tally_caution WHERE run_id = %(run)s;

-- name: promised
-- The promises of all ideas, with their going into service.
-- reads all: Value sets every promise beside what was delivered
SELECT r.idea_id, i.title, i.stage, i.live_on, r.at, r.go_live_on, r.result_json, r.input_json, i.area_id, d.name AS division FROM promise r
JOIN idea i ON i.id = r.idea_id LEFT JOIN division d ON d.id = i.division_id ORDER BY r.idea_id;

-- name: promised_of_idea
-- The promise of one idea, with its going into service.
SELECT r.idea_id, i.title, i.stage, i.live_on, r.at, r.go_live_on, r.result_json, r.input_json, i.area_id, d.name AS division FROM promise r
JOIN idea i ON i.id = r.idea_id LEFT JOIN division d ON d.id = i.division_id WHERE r.idea_id = %(idea)s;

-- name: former_promised
-- The promises of some ideas that a later one took the place of, in the order in which they were made.
SELECT idea_id, number, at, go_live_on, result_json, input_json FROM former_promise WHERE idea_id IN %(ideas)s ORDER BY idea_id, number;

-- name: fix
-- A person says what a run is to be counted as.
INSERT INTO tally_fix (run_id, units, handed_back, why, person_id, at)
VALUES (%(run)s, %(units)s, %(handed_back)s, %(why)s, %(person)s, %(now)s)
ON DUPLICATE KEY UPDATE units = VALUE(units), handed_back = VALUE(handed_back), why = VALUE(why), person_id = VALUE(person_id),
  at = VALUE(at);

-- name: fix_of_run
-- What a person said a run is to be counted as.
SELECT x.units, x.handed_back, x.why, x.at, p.name AS person FROM tally_fix x JOIN person p ON p.id = x.person_id
WHERE x.run_id = %(run)s;

-- name: sum_of_month
-- What a month holds, over all its entries.
SELECT COUNT(*) AS entries, COALESCE(SUM(hours), 0) AS hours, COALESCE(SUM(money), 0) AS money FROM tally_entry
WHERE month = %(month)s;

-- name: month_ends_due
-- Open months that are over and whose month-end costs are not posted.
SELECT month FROM tally_month WHERE month < %(this)s AND month_end_at IS NULL AND state = 'open' ORDER BY month;

-- name: month_end_done
-- The month-end costs of a month are posted.
UPDATE tally_month SET month_end_at = %(now)s WHERE month = %(month)s;

-- name: in_service
-- Promised ideas in service in a month, with what their costs are reckoned from.
-- always: live_on
-- reads all: every promised idea in service costs something each month
SELECT r.idea_id, i.title, i.live_on, i.retired_on, r.input_json, r.result_json FROM promise r JOIN idea i ON i.id = r.idea_id
WHERE i.live_on <= %(last)s AND (i.retired_on IS NULL OR i.retired_on >= %(first)s) ORDER BY r.idea_id;

-- name: robot_hours
-- How many hours robots worked in the segments of runs that ended in a span of time.
SELECT COALESCE(SUM(TIMESTAMPDIFF(MICROSECOND, g.started_at, g.ended_at)), 0) / 3600000000 FROM run_segment g
WHERE g.ended_at >= %(since)s AND g.ended_at < %(until)s;

-- name: seats
-- How many seats all hosts have.
SELECT COALESCE(SUM(seats), 0) FROM host;

-- name: check_sums
-- Roll-ups that differ from their entries.
SELECT s.month, s.idea_id, s.line FROM tally_sum s LEFT JOIN (
  SELECT month, COALESCE(idea_id, 0) AS idea_id, line, SUM(units) AS units, SUM(hours) AS hours, SUM(money) AS money,
    COUNT(*) AS entries FROM tally_entry GROUP BY month, COALESCE(idea_id, 0), line) e
ON e.month = s.month AND e.idea_id = s.idea_id AND e.line = s.line
WHERE e.entries IS NULL OR e.entries <> s.entries OR e.units <> s.units OR e.hours <> s.hours OR e.money <> s.money;

-- name: check_entries
-- Entries of a month and line that no roll-up holds.
SELECT e.month, e.line, COUNT(*) AS entries FROM tally_entry e LEFT JOIN tally_sum s
ON s.month = e.month AND s.idea_id = COALESCE(e.idea_id, 0) AND s.line = e.line WHERE s.month IS NULL GROUP BY e.month, e.line;

-- name: check_unposted
-- Ended runs in service whose entries are missing although no effect is open for them; the first 20.
SELECT r.id FROM run r WHERE r.trial = FALSE AND r.state IN ('done','failed','lost') AND r.started_at IS NOT NULL
AND NOT EXISTS (SELECT 1 FROM tally_entry e WHERE e.run_id = r.id)
AND NOT EXISTS (SELECT 1 FROM effect f WHERE f.object = CONCAT('run:', r.id) AND f.done_at IS NULL) LIMIT 20;

-- name: check_closed
-- Closed months whose entries are no more what was signed.
SELECT m.month FROM tally_month m LEFT JOIN (
  SELECT month, COUNT(*) AS entries, SUM(hours) AS hours, SUM(money) AS money FROM tally_entry GROUP BY month) e ON e.month = m.month
WHERE m.state = 'closed' AND m.entries IS NOT NULL
AND (m.entries <> COALESCE(e.entries, 0) OR m.hours <> COALESCE(e.hours, 0) OR m.money <> COALESCE(e.money, 0));

-- name: check_corrections
-- Sources whose corrections do not follow one another without a gap; the first 20.
SELECT source, line FROM tally_entry GROUP BY source, line HAVING COUNT(*) <> MAX(correction) + 1 LIMIT 20;

-- name: check_reversals
-- Reversals that do not take back exactly what stood before them; the first 20.
SELECT e.source, e.line, e.correction FROM tally_entry e WHERE e.kind = 'reversal' AND (
  SELECT SUM(b.money) FROM tally_entry b WHERE b.source = e.source AND b.line = e.line AND b.correction <= e.correction) <> 0 LIMIT 20;

-- name: anything_posted
-- Whether anything was posted yet.
SELECT id FROM tally_entry ORDER BY id LIMIT 1;
