-- name: add_run
-- A run of the past, written in bulk.
INSERT INTO run (routine_id, release_id, started_words, trial, due_at, order_at, state, outcome, reason, robot_id, host_id, fence, segment,
  inputs_json, outputs_json, counts_json, made_at, started_at, ended_at, changed_at)
VALUES (%(routine)s, %(release)s, %(words)s, %(trial)s, %(began)s, %(began)s, %(state)s, %(outcome)s, %(reason)s, %(robot)s,
  %(host)s, 1, 1, '{}', NULL, %(counts)s, %(began)s, %(began)s, %(ended)s, %(ended)s);

-- name: run_begun
-- The run of a routine that began at a moment.
SELECT id FROM run WHERE routine_id = %(routine)s AND started_at = %(began)s;

-- name: add_segments
-- Each run of the past worked in one segment.
INSERT IGNORE INTO run_segment (run_id, n, fence, robot_id, host_id, started_at, ended_at, ended_as)
SELECT id, 1, fence, robot_id, host_id, started_at, ended_at, state FROM run
WHERE started_at IS NOT NULL AND ended_at IS NOT NULL AND robot_id IS NOT NULL;

-- name: robots_for
-- Robots that may work for a routine, with the seats of their hosts.
SELECT b.id, b.host_id, h.seats FROM robot b JOIN host h ON h.id = b.host_id JOIN robot_area ra ON ra.robot_id = b.id JOIN routine o ON o.area_id = ra.area_id
WHERE o.id = %(routine)s ORDER BY b.id;

-- name: to_post
-- Ended runs of a routine with what is reckoned.
SELECT r.id, r.routine_id, r.state, r.outcome, r.trial, r.counts_json, r.started_at, r.ended_at, o.area_id, c.idea_id, c.basis,
  c.count_name, p.input_json
FROM run r JOIN routine o ON o.id = r.routine_id
JOIN counting_point c ON c.routine_id = o.id JOIN promise p ON p.idea_id = c.idea_id
WHERE r.routine_id = %(routine)s AND r.trial = FALSE ORDER BY r.id;

-- name: add_sum
-- A roll-up of entries written in bulk.
INSERT INTO tally_sum (month, idea_id, line, units, hours, money, entries)
VALUES (%(month)s, %(idea)s, %(line)s, %(units)s, %(hours)s, %(money)s, %(entries)s);

-- name: mails_sent
-- Mails of the past were sent then.
UPDATE mail SET sent_at = made_at, answer = 'taken' WHERE sent_at IS NULL AND made_at < %(before)s;

-- name: notices_read
-- Notifications of the past were read then.
UPDATE notification SET read_at = %(now)s WHERE read_at IS NULL AND at < %(before)s;

-- name: many_ideas
-- Ten thousand ideas for measuring, each with other words.
INSERT INTO idea (title, what, proposer_id, stage, stage_since, due_on, hours_low, hours_high, fit_low, fit_high, worth, source,
  made_at, changed_at)
SELECT CONCAT(ELT(1 + seq MOD 11, 'Valve', 'Meter', 'Permit', 'Sample', 'Tanker', 'Letter', 'Stock', 'Leak', 'Pump', 'Refund', 'Notice'), ' ',
    ELT(1 + (seq DIV 11) MOD 13, 'list', 'readings', 'requests', 'labels', 'log', 'checks', 'counts', 'records', 'orders', 'claims',
    'returns', 'dates', 'bills'), ' ', ELT(1 + (seq DIV 143) MOD 9, 'of the north', 'by depot', 'for homes', 'into the job book',
    'of contractors', 'by street', 'each month', 'from the mail', 'onto the map'), ' ', seq),
  CONCAT('Somebody types what comes in number ', seq, ' over, looks whether it fits, and sends it on to the desk that answers for it.'),
  %(person)s, ELT(1 + seq MOD 7, 'noted', 'screened', 'sized', 'declined', 'in service', 'building', 'parked'),
  %(now)s - INTERVAL (seq MOD 400) DAY, DATE(%(now)s) + INTERVAL CAST(seq MOD 60 AS SIGNED) - 20 DAY, (seq * 37) MOD 900, (seq * 37) MOD 900 + 120,
  0.4, 0.7, IF(seq MOD 7 IN (2, 4, 5), (seq * 53) MOD 40000, NULL), ELT(1 + seq MOD 3, 'interview', 'spreadsheet', 'the team'),
  %(now)s, %(now)s - INTERVAL (seq MOD 300) HOUR FROM seq_1_to_10000;

-- name: many_texts
-- All that is written about them.
INSERT INTO idea_text (idea_id, text) SELECT id, CONCAT(title, '\n', what, '\nremark ', id, ' of the ', ELT(1 + id MOD 5, 'lantern',
  'ladder', 'sluice', 'weir', 'culvert'), ' keeper') FROM idea;

-- name: many_answers
-- What their first looks are reckoned from.
INSERT INTO idea_answer (idea_id, question, value_json, person_id, at) SELECT i.id, q.question, q.value, i.proposer_id, i.made_at FROM idea i JOIN (
  SELECT 'volume' AS question, '{"amount": "40", "rhythm": "week"}' AS value UNION ALL SELECT 'minutes', '"9"' UNION ALL SELECT 'judge', '"2"'
  UNION ALL SELECT 'off', '"1"' UNION ALL SELECT 'arrives', '[{"kind": "screen", "part": "1"}]' UNION ALL SELECT 'changed', '"small"'
  UNION ALL SELECT 'announced', '"nothing"') q;

-- name: ideas_at
-- Ideas at a stage and, if given, a state of their sizing, the latest first.
SELECT id, worth FROM idea WHERE stage = %(stage)s AND (%(state)s = '' OR sizing_state = %(state)s) ORDER BY id DESC LIMIT 20;
