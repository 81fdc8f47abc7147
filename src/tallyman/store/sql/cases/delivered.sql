-- name: demand
-- Items that came by month, as counted by hand.
SELECT m.month, m.items, m.source, m.version, p.name AS person FROM month_demand m JOIN person p ON p.id = m.person_id
WHERE m.idea_id = %(idea)s ORDER BY m.month;

-- name: demand_of
-- Items that came in one month.
SELECT m.month, m.items, m.version, p.name AS person FROM month_demand m JOIN person p ON p.id = m.person_id
WHERE m.idea_id = %(idea)s AND m.month = %(month)s;

-- name: put_demand
-- Records the items of a month.
INSERT INTO month_demand (idea_id, month, items, source, person_id, at)
VALUES (%(idea)s, %(month)s, %(items)s, %(source)s, %(person)s, %(now)s)
ON DUPLICATE KEY UPDATE items = VALUE(items), source = VALUE(source), person_id = VALUE(person_id), at = VALUE(at),
  version = version + 1;

-- name: spent
-- Person-days by phase, and when each ended.
SELECT s.phase, s.person_days, s.ended_on, s.version, s.at, p.name AS person FROM phase_spent s JOIN person p ON p.id = s.person_id
WHERE s.idea_id = %(idea)s ORDER BY s.phase;

-- name: spent_of
-- Person-days of one phase.
SELECT s.phase, s.person_days, s.ended_on, s.version, p.name AS person FROM phase_spent s JOIN person p ON p.id = s.person_id
WHERE s.idea_id = %(idea)s AND s.phase = %(phase)s;

-- name: put_spent
-- Records the person-days of a phase.
INSERT INTO phase_spent (idea_id, phase, person_days, ended_on, person_id, at)
VALUES (%(idea)s, %(phase)s, %(days)s, %(ended)s, %(person)s, %(now)s)
ON DUPLICATE KEY UPDATE person_days = VALUE(person_days), ended_on = VALUE(ended_on), person_id = VALUE(person_id),
  at = VALUE(at), version = version + 1;

-- name: promised
-- Ideas in service with what was promised first, who sized them, and where each belongs.
-- reads all: what is learnt from is every promised idea in service
SELECT r.idea_id, COALESCE(f.input_json, r.input_json) AS input_json, COALESCE(f.sizing_json, r.sizing_json) AS sizing_json,
  p.name AS sizer, i.division_id FROM promise r JOIN idea i ON i.id = r.idea_id LEFT JOIN person p ON p.id = i.sized_by
LEFT JOIN former_promise f ON f.idea_id = r.idea_id AND f.number = 1
WHERE i.stage IN ('in service', 'retired') ORDER BY r.idea_id;

-- name: spent_whole
-- Person-days of ideas whose phases have all ended.
-- always: days
-- reads all: what is learnt from is every idea that was built
SELECT s.idea_id, SUM(s.person_days) AS days FROM phase_spent s JOIN promise r ON r.idea_id = s.idea_id
GROUP BY s.idea_id, r.plan_json HAVING COUNT(*) >= JSON_LENGTH(r.plan_json, '$.phases') AND COUNT(s.ended_on) = COUNT(*);

-- name: all_demand
-- Items that came, of every idea by month.
-- reads all: what is learnt from is every idea that was counted
SELECT idea_id, month, items FROM month_demand ORDER BY idea_id, month;

-- name: units
-- Units that robots finished, of every idea with counted months.
-- reads all: what is learnt from is every idea that was counted
SELECT t.idea_id, t.month, t.units FROM tally_sum t JOIN month_demand m ON m.idea_id = t.idea_id AND m.month = t.month
WHERE t.line = 'time saved';

-- name: minutes
-- The newest approved minutes by hand of every idea.
SELECT r.idea_id, r.value FROM rate r WHERE r.kind = 'minutes_by_hand' AND r.state = 'approved'
AND r.id = (SELECT x.id FROM rate x WHERE x.kind = 'minutes_by_hand' AND x.idea_id = r.idea_id AND x.state = 'approved'
  ORDER BY x.since DESC, x.id DESC LIMIT 1);

-- name: functions
-- Every division with the top of where it belongs.
-- always: top
WITH RECURSIVE down AS (
  SELECT id, name AS top FROM division WHERE parent_id IS NULL
  UNION ALL SELECT d.id, u.top FROM division d JOIN down u ON d.parent_id = u.id)
SELECT id, top FROM down;
