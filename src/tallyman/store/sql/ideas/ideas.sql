-- name: by_id
-- One idea with names.
-- gives: Idea
SELECT i.*, k.name AS knows, a.title AS amends_title, z.name AS area, d.name AS division, p.name AS proposer, o.name AS owner, s.name AS sizer, g.name AS agreer,
  b.name AS builder, x.name AS expert, m.name AS measure_owner, n.title AS merged_title
FROM idea i JOIN person p ON p.id = i.proposer_id LEFT JOIN division d ON d.id = i.division_id
LEFT JOIN person o ON o.id = i.owner_id LEFT JOIN person s ON s.id = i.sized_by
LEFT JOIN person g ON g.id = i.agreed_by LEFT JOIN person b ON b.id = i.builder_id
LEFT JOIN person x ON x.id = i.expert_id LEFT JOIN area z ON z.id = i.area_id
LEFT JOIN person m ON m.id = i.measure_owner_id LEFT JOIN idea n ON n.id = i.merged_into
LEFT JOIN person k ON k.id = i.knows_id LEFT JOIN idea a ON a.id = i.amends_id WHERE i.id = %(id)s;

-- name: has_part
-- Whether somebody was asked to help with an idea, or joined it.
SELECT 1 FROM idea_helper WHERE idea_id = %(id)s AND person_id = %(person)s
UNION ALL SELECT 1 FROM idea_voice WHERE idea_id = %(id)s AND person_id = %(person)s LIMIT 1;

-- name: set_asked
-- Since when the proposer is asked back; with the answer the due date moves on.
UPDATE idea SET asked_on = %(asked)s, due_on = %(due)s WHERE id = %(id)s;

-- name: set_parked
-- Until when an idea is parked.
UPDATE idea SET parked_until = %(until)s WHERE id = %(id)s;

-- name: due_back
-- Parked ideas whose date has come; a hundred at once.
SELECT i.id FROM idea i WHERE i.parked_until <= %(today)s AND i.stage = 'parked'
  AND NOT EXISTS (SELECT 1 FROM hitch h WHERE h.work = 'parked' AND h.row_key = CAST(i.id AS CHAR) AND h.due_at > %(now)s) ORDER BY i.parked_until, i.id LIMIT 100;

-- name: set_retired
-- From which day on an idea is out of service.
UPDATE idea SET retired_on = %(day)s WHERE id = %(id)s;

-- name: set_merged
-- Which idea another was merged into.
UPDATE idea SET merged_into = %(into)s WHERE id = %(id)s;

-- name: merged_in
-- The ideas that were merged into one.
-- gives: MergedIn
SELECT i.id, i.title, p.name AS proposer, i.stage_since FROM idea i JOIN person p ON p.id = i.proposer_id
WHERE i.merged_into = %(id)s ORDER BY i.id;

-- name: set_route
-- Another remedy than a robot: its measure, who answers for it, and by when.
UPDATE idea SET route = %(route)s, measure = %(measure)s, measure_owner_id = %(owner)s, due_on = %(due)s,
  changed_at = %(now)s, version = version + 1 WHERE id = %(id)s;

-- name: set_stuck
-- What a build or measure is stuck at.
UPDATE idea SET building = %(building)s, stuck_why = %(why)s, changed_at = %(now)s, version = version + 1
WHERE id = %(id)s AND stage = 'building';

-- name: measures_of
-- Measures that somebody answers for.
SELECT id, title, stage, building, due_on, asked_on, measure FROM idea WHERE measure_owner_id = %(person)s AND stage = 'building'
ORDER BY due_on, id;

-- name: came_from
-- The stage that an idea stood in before the one it is in now.
SELECT from_stage FROM idea_stage WHERE idea_id = %(idea)s ORDER BY id DESC LIMIT 1;

-- name: helpers
-- Who helps with an idea, and with what.
-- gives: Helper
SELECT h.person_id AS id, p.name, h.task, h.at FROM idea_helper h JOIN person p ON p.id = h.person_id
WHERE h.idea_id = %(idea)s ORDER BY h.at;

-- name: add_helper
-- Somebody is asked to help with an idea.
INSERT INTO idea_helper (idea_id, person_id, task, asked_by, at) VALUES (%(idea)s, %(person)s, %(task)s, %(by)s, %(now)s)
ON DUPLICATE KEY UPDATE task = VALUE(task);

-- name: drop_helper
-- Somebody helps no more.
DELETE FROM idea_helper WHERE idea_id = %(idea)s AND person_id = %(person)s;

-- name: set_area
-- Where an idea belongs.
-- moves worths: id
UPDATE idea SET area_id = %(area)s, changed_at = %(now)s, version = version + 1 WHERE id = %(id)s;

-- name: lock
-- The idea's row, locked, before it is moved on.
SELECT id, stage, proposer_id, owner_id, sizing_state, sized_by, asked_on, due_on, version FROM idea WHERE id = %(id)s FOR UPDATE;

-- name: add
-- A new draft.
INSERT INTO idea (what, proposer_id, stage, interview, source, amends_id, stage_since, made_at, changed_at)
VALUES ('', %(person)s, 'draft', %(interview)s, %(source)s, %(amends)s, %(now)s, %(now)s, %(now)s);

-- name: set_interview
-- By which interview a draft is asked.
UPDATE idea SET interview = %(interview)s WHERE id = %(id)s AND stage = 'draft';

-- name: set_amends
-- Which idea in service this one wants changed; NULL makes it an idea of its own.
UPDATE idea SET amends_id = %(amends)s, changed_at = %(now)s, version = version + 1 WHERE id = %(id)s;

-- name: amendments
-- Wanted changes to an idea in service.
-- gives: AmendmentRow
SELECT i.id, i.title, i.stage, p.name AS proposer FROM idea i JOIN person p ON p.id = i.proposer_id
WHERE i.amends_id = %(id)s AND i.stage NOT IN ('draft','withdrawn') ORDER BY i.id DESC;

-- name: set_running
-- What an automation that ran already works on.
-- moves worths: id
UPDATE idea SET runs_on = %(runs_on)s, live_on = %(day)s WHERE id = %(id)s;

-- name: untouched_draft
-- A draft of a person without any answer or file.
SELECT i.id FROM idea i WHERE i.proposer_id = %(person)s AND i.stage = 'draft' AND i.amends_id IS NULL
AND NOT EXISTS (SELECT 1 FROM idea_answer a WHERE a.idea_id = i.id)
AND NOT EXISTS (SELECT 1 FROM idea_file f WHERE f.idea_id = i.id) LIMIT 1;

-- name: add_stage
-- A stage was reached.
INSERT INTO idea_stage (idea_id, from_stage, stage, at, person_id, reason)
VALUES (%(idea)s, %(from_stage)s, %(stage)s, %(now)s, %(person)s, %(reason)s);

-- name: stages
-- The way of an idea so far.
-- gives: WayStep
SELECT s.from_stage, s.stage, s.at, s.reason, COALESCE(p.name, 'Tallyman') AS person FROM idea_stage s
LEFT JOIN person p ON p.id = s.person_id WHERE s.idea_id = %(idea)s ORDER BY s.id;

-- name: move
-- Moves an idea on, if it still stands where it was seen.
-- moves worths: id
UPDATE idea SET stage = %(stage)s, building = %(building)s, stage_since = %(now)s, due_on = %(due)s,
  changed_at = %(now)s, version = version + 1 WHERE id = %(id)s AND stage = %(from_stage)s;

-- name: set_heads
-- What the answers say of title, description, division and owner.
-- moves worths: id
UPDATE idea SET title = %(title)s, what = %(what)s, owner_id = %(owner)s, knows_id = %(knows)s,
  area_id = IF(COALESCE(%(division)s, 0) <> COALESCE(division_id, 0), %(area)s, area_id),
  division_id = %(division)s, changed_at = %(now)s, version = version + 1 WHERE id = %(id)s;

-- name: set_look
-- The first look as last computed.
-- moves worths: id
UPDATE idea SET fit_low = %(fit_low)s, fit_high = %(fit_high)s, hours_low = %(hours_low)s,
  hours_high = %(hours_high)s, factors_version = %(factors)s WHERE id = %(id)s;

-- name: touch
-- An idea changed just now.
UPDATE idea SET changed_at = %(now)s WHERE id = %(id)s;

-- name: put_answer
-- Keeps an answer; a changed one is to be accepted again.
-- moves worths: idea
INSERT INTO idea_answer (idea_id, question, value_json, remark, state, person_id, at)
VALUES (%(idea)s, %(question)s, %(value)s, %(remark)s, 'given', %(person)s, %(now)s)
ON DUPLICATE KEY UPDATE value_json = VALUE(value_json), remark = VALUE(remark), state = 'given',
  state_note = NULL, person_id = VALUE(person_id), at = VALUE(at);

-- name: answers
-- All answers of an idea.
SELECT a.question, a.value_json, a.remark, a.state, a.state_note, a.at, p.name AS person
FROM idea_answer a JOIN person p ON p.id = a.person_id WHERE a.idea_id = %(idea)s;

-- name: set_answer_state
-- A reviewer accepts an answer or sends it back.
UPDATE idea_answer SET state = %(state)s, state_note = %(note)s WHERE idea_id = %(idea)s AND question = %(question)s;

-- name: confirm_owner
-- The work owner confirmed the answers.
UPDATE idea SET owner_confirmed_at = %(now)s WHERE id = %(id)s AND owner_confirmed_at IS NULL;

-- name: add_file
-- A file on an idea.
INSERT INTO idea_file (idea_id, digest, name, kind, title, remark, size, person_id, at)
VALUES (%(idea)s, %(digest)s, %(name)s, %(kind)s, %(title)s, %(remark)s, %(size)s, %(person)s, %(now)s);

-- name: describe_file
-- Title, kind and remark of a file.
UPDATE idea_file SET title = %(title)s, kind = %(kind)s, remark = %(remark)s WHERE id = %(id)s AND idea_id = %(idea)s AND removed_at IS NULL;

-- name: files
-- The files of an idea.
-- gives: FileRow
SELECT f.id, f.name, f.kind, f.size, f.at, f.title, f.remark, p.name AS person,
  COALESCE(v.state, 'making') AS view, v.picture IS NOT NULL AS pictured
FROM idea_file f LEFT JOIN file_view v ON v.digest = f.digest
JOIN person p ON p.id = f.person_id WHERE f.idea_id = %(idea)s AND f.removed_at IS NULL ORDER BY f.id;

-- name: file
-- One file of an idea.
-- gives: IdeaFile
SELECT id, idea_id, digest, name FROM idea_file WHERE id = %(id)s AND idea_id = %(idea)s AND removed_at IS NULL;

-- name: remove_file
-- Takes a file off an idea; the file itself stays.
UPDATE idea_file SET removed_at = %(now)s WHERE id = %(id)s AND idea_id = %(idea)s AND removed_at IS NULL;

-- name: alike
-- The ideas that use most of some words, as far as they can be looked at one by one.
SELECT id, title, what, stage FROM idea WHERE MATCH (title, what) AGAINST (%(words)s IN BOOLEAN MODE)
  AND stage NOT IN ('draft','withdrawn','merged') ORDER BY MATCH (title, what) AGAINST (%(words)s IN BOOLEAN MODE) DESC, id DESC LIMIT 300;

-- name: count_alike
-- How many ideas others are compared with.
-- reads all: counted, to weigh how rare a word is among them
SELECT COUNT(*) FROM idea WHERE stage NOT IN ('draft','withdrawn','merged');

-- name: count_with_word
-- How many ideas use a word, in title or description.
-- reads all: counted, from the index of words
SELECT COUNT(*) FROM idea WHERE MATCH (title, what) AGAINST (%(word)s IN BOOLEAN MODE);

-- name: to_review
-- The first ideas that wait for a review and not for their proposer, the first due first.
SELECT id, title, due_on FROM idea WHERE stage = 'noted' AND asked_on IS NULL AND (%(everywhere)s OR area_id IN %(areas)s)
ORDER BY due_on IS NULL, due_on, id LIMIT 2001;

-- name: matches
-- Close matches that were settled.
SELECT m.other_id, m.verdict, m.at, p.name AS person FROM idea_match m
JOIN person p ON p.id = m.person_id WHERE m.idea_id = %(idea)s;

-- name: settle
-- Settles a close match.
INSERT INTO idea_match (idea_id, other_id, verdict, person_id, at)
VALUES (%(idea)s, %(other)s, %(verdict)s, %(person)s, %(now)s)
ON DUPLICATE KEY UPDATE verdict = VALUE(verdict), person_id = VALUE(person_id), at = VALUE(at);

-- name: standing
-- How many live ideas have a higher low end, and how many there are.
SELECT COALESCE(SUM(hours_low > %(low)s), 0) AS ahead, COUNT(*) AS ideas FROM idea
WHERE stage IN ('noted','screened','sized','backed') AND hours_low IS NOT NULL;

-- name: by_stage
-- How many ideas stand in each stage.
-- gives: StageCount
SELECT i.stage, COUNT(*) AS ideas FROM idea i WHERE (%(everywhere)s OR i.area_id IN %(areas)s)
AND i.stage <> 'draft' AND (i.stage <> 'withdrawn' OR NOT EXISTS (
  SELECT 1 FROM idea_stage s WHERE s.idea_id = i.id AND s.stage = 'withdrawn' AND s.from_stage = 'draft')) GROUP BY i.stage;

-- name: waiting_in
-- Ideas that wait in a stage and not for their proposer, the longest due first; the first 50, and how many there are in all.
SELECT i.id, i.title, i.stage, i.building, i.stage_since, i.due_on, i.sizing_state, i.sized_by, i.hours_low, i.hours_high,
  i.worth, i.builder_id, i.area_id, i.asked_on, p.name AS proposer, b.name AS builder, COUNT(*) OVER () AS of_all
FROM idea i JOIN person p ON p.id = i.proposer_id LEFT JOIN person b ON b.id = i.builder_id
WHERE i.stage = %(stage)s AND i.asked_on IS NULL AND (%(everywhere)s OR i.area_id IN %(areas)s) ORDER BY i.due_on IS NULL, i.due_on, i.id LIMIT 50;

-- name: waiting_for_yes
-- Ideas whose sizing waits for somebody else's agreement, the longest due first; the first 50, and how many there are in all.
SELECT i.id, i.title, i.stage, i.building, i.stage_since, i.due_on, i.sizing_state, i.sized_by, i.hours_low, i.hours_high,
  i.worth, i.builder_id, i.area_id, i.asked_on, p.name AS proposer, b.name AS builder, COUNT(*) OVER () AS of_all
FROM idea i JOIN person p ON p.id = i.proposer_id LEFT JOIN person b ON b.id = i.builder_id
WHERE i.stage = 'screened' AND i.sizing_state = 'offered' AND (i.sized_by IS NULL OR i.sized_by <> %(me)s)
  AND (%(everywhere)s OR i.area_id IN %(areas)s) ORDER BY i.due_on IS NULL, i.due_on, i.id LIMIT 50;

-- name: waiting_for_size
-- Ideas that wait to be sized, the longest due first; the first 50, and how many there are in all.
SELECT i.id, i.title, i.stage, i.building, i.stage_since, i.due_on, i.sizing_state, i.sized_by, i.hours_low, i.hours_high,
  i.worth, i.builder_id, i.area_id, i.asked_on, p.name AS proposer, b.name AS builder, COUNT(*) OVER () AS of_all
FROM idea i JOIN person p ON p.id = i.proposer_id LEFT JOIN person b ON b.id = i.builder_id
WHERE i.stage = 'screened' AND i.sizing_state <> 'offered'
  AND (%(everywhere)s OR i.area_id IN %(areas)s) ORDER BY i.due_on IS NULL, i.due_on, i.id LIMIT 50;

-- name: taken_up_by
-- Ideas that some people took up to build, the longest due first.
SELECT i.id, i.title, i.stage, i.building, i.stage_since, i.due_on, i.sizing_state, i.sized_by, i.hours_low, i.hours_high,
  i.worth, i.builder_id, i.area_id, i.asked_on, p.name AS proposer, b.name AS builder
FROM idea i JOIN person p ON p.id = i.proposer_id LEFT JOIN person b ON b.id = i.builder_id
WHERE i.stage = 'building' AND i.building = 'taken up' AND i.builder_id IN %(people)s
  AND (%(everywhere)s OR i.area_id IN %(areas)s) ORDER BY i.due_on IS NULL, i.due_on, i.id;

-- name: mine
-- A proposer's own ideas, the last changed first.
SELECT i.id, i.title, i.stage, i.building, i.due_on, i.asked_on, i.stage_since,
  (SELECT COUNT(*) FROM idea_answer a WHERE a.idea_id = i.id AND a.state = 'sent back') AS sent_back
FROM idea i WHERE i.proposer_id = %(person)s ORDER BY i.changed_at DESC LIMIT 20;

-- name: to_confirm
-- Ideas whose answers the work owner has not confirmed.
SELECT i.id, i.title, i.stage, p.name AS proposer, o.name AS owner FROM idea i JOIN person p ON p.id = i.proposer_id
JOIN person o ON o.id = i.owner_id WHERE i.owner_id = %(person)s AND i.owner_confirmed_at IS NULL AND i.stage IN ('noted','screened') ORDER BY i.id;

-- name: facts
-- The facts given on an idea's sizing and case.
SELECT f.field, f.person_id, f.value_json, f.source, f.at, f.version, p.name AS person FROM fact f
JOIN person p ON p.id = f.person_id WHERE f.idea_id = %(idea)s;

-- name: fact
-- One fact.
SELECT f.value_json, f.version, p.name AS person FROM fact f JOIN person p ON p.id = f.person_id
WHERE f.idea_id = %(idea)s AND f.field = %(field)s;

-- name: put_fact
-- Keeps a fact with its source.
-- moves worths: idea
INSERT INTO fact (idea_id, field, value_json, source, person_id, at)
VALUES (%(idea)s, %(field)s, %(value)s, %(source)s, %(person)s, %(now)s)
ON DUPLICATE KEY UPDATE value_json = VALUE(value_json), source = VALUE(source), person_id = VALUE(person_id),
  at = VALUE(at), version = version + 1;

-- name: drop_fact
-- Takes back a fact, so that the value it replaced counts again.
-- moves worths: idea
DELETE FROM fact WHERE idea_id = %(idea)s AND field = %(field)s;

-- name: set_sizing
-- The sizing was offered, agreed, sent back or opened again.
-- moves worths: id
UPDATE idea SET sizing_state = %(state)s, sized_by = %(sized_by)s, sized_at = %(sized_at)s, agreed_by = %(agreed_by)s,
  agreed_at = %(agreed_at)s, sizing_note = %(note)s, changed_at = %(now)s WHERE id = %(id)s AND sizing_state = %(from_state)s;

-- name: freeze
-- Freezes the promise of a backed idea.
-- moves worths: idea
INSERT INTO promise (idea_id, number, reason, at, person_id, input_json, result_json, plan_json, sizing_json, rows_json, rules_version, start_on, go_live_on)
VALUES (%(idea)s, %(number)s, %(reason)s, %(now)s, %(person)s, %(input)s, %(result)s, %(plan)s, %(sizing)s, %(rows)s, %(rules)s, %(start)s, %(go_live)s);

-- name: keep_promise
-- Keeps a promise that another one takes the place of.
INSERT INTO former_promise (idea_id, number, at, person_id, input_json, result_json, plan_json, sizing_json, rows_json, rules_version, start_on, go_live_on, reason)
SELECT idea_id, number, at, person_id, input_json, result_json, plan_json, sizing_json, rows_json, rules_version, start_on, go_live_on, reason
FROM promise WHERE idea_id = %(idea)s;

-- name: drop_promise
-- Makes room for another promise; the one before is kept apart.
-- moves worths: idea
DELETE FROM promise WHERE idea_id = %(idea)s;

-- name: former_promises
-- The promises before the one that counts, the newest first.
SELECT r.*, p.name AS person FROM former_promise r JOIN person p ON p.id = r.person_id WHERE r.idea_id = %(idea)s
ORDER BY r.number DESC;

-- name: promise
-- The frozen promise.
-- gives: Promise
SELECT r.*, p.name AS person FROM promise r JOIN person p ON p.id = r.person_id WHERE r.idea_id = %(idea)s;

-- name: take_up
-- A builder takes up a backed idea.
UPDATE idea SET builder_id = %(person)s WHERE id = %(id)s;

-- name: set_building
-- How the building stands.
UPDATE idea SET building = %(building)s, changed_at = %(now)s WHERE id = %(id)s AND stage = 'building';

-- name: set_live
-- The day an idea went into service.
-- moves worths: id
UPDATE idea SET live_on = %(day)s WHERE id = %(id)s;

-- name: ranked
-- Ideas that can be chosen or were, with their worth and effort.
SELECT i.id, i.title, i.stage, i.worth, i.worth_on, i.worth_key, i.worth_by_json, i.factors_version, i.effort_days, i.hours_low, i.hours_high,
  i.sizing_state, d.name AS division, i.due_on, i.live_on, i.building, i.area_id, JSON_VALUE(r.result_json, '$.npv_3y') AS promised_worth,
  r.go_live_on AS promised_go_live FROM idea i LEFT JOIN division d ON d.id = i.division_id LEFT JOIN promise r ON r.idea_id = i.id
WHERE i.stage IN ('screened','sized','backed','building','in service') AND (%(everywhere)s OR i.area_id IN %(areas)s)
ORDER BY i.id;

-- name: of_person
-- Everything somebody proposed, the last changed first, with what its next step names.
SELECT i.id, i.title, i.stage, i.building, i.stage_since, i.due_on, i.asked_on, i.parked_until, i.merged_into, i.route, i.measure,
  i.stuck_why, i.sizing_state, s.name AS sizer, p.name AS proposer, m.name AS measure_owner, n.title AS merged_title
FROM idea i JOIN person p ON p.id = i.proposer_id LEFT JOIN person s ON s.id = i.sized_by
LEFT JOIN person m ON m.id = i.measure_owner_id LEFT JOIN idea n ON n.id = i.merged_into
WHERE i.proposer_id = %(person)s ORDER BY i.changed_at DESC, i.id DESC;

-- name: standing_by_stage
-- Where every idea that may be seen stands, since when, and whether that is too long.
SELECT i.id, i.stage, i.stage_since, (i.due_on < %(today)s AND i.asked_on IS NULL) AS late, i.asked_on IS NOT NULL AS asked
FROM idea i WHERE i.stage NOT IN ('draft','retired') AND (%(everywhere)s OR i.area_id IN %(areas)s)
AND (i.stage <> 'withdrawn' OR NOT EXISTS (
  SELECT 1 FROM idea_stage s WHERE s.idea_id = i.id AND s.stage = 'withdrawn' AND s.from_stage = 'draft'));

-- name: moved_since
-- Moves from stage to stage since some time, with the days that the idea stood in the one it left.
SELECT s.from_stage, s.stage, TIMESTAMPDIFF(DAY, (SELECT MAX(e.at) FROM idea_stage e WHERE e.idea_id = s.idea_id AND e.id < s.id), s.at)
  AS stayed_days FROM idea_stage s JOIN idea i ON i.id = s.idea_id
WHERE s.at >= %(since)s AND s.stage <> 'draft' AND i.stage <> 'draft' AND (%(everywhere)s OR i.area_id IN %(areas)s);

-- name: set_proposer
-- For whom an idea was entered.
UPDATE idea SET proposer_id = %(person)s WHERE id = %(id)s;

-- name: set_handed_in
-- When an idea was handed in before it came here.
UPDATE idea SET handed_in_on = %(day)s WHERE id = %(id)s;

-- name: ranked_open
-- Ideas that are ranked today, by the low end of their hours in reach.
SELECT id, title, stage, owner_confirmed_at, hours_low, hours_high, factors_version FROM idea
WHERE stage IN ('noted','screened','sized','backed') ORDER BY hours_low IS NULL, hours_low DESC, id;

-- name: answers_of_many
-- The answers of some ideas that the first look uses.
SELECT idea_id, question, value_json FROM idea_answer WHERE idea_id IN %(ids)s
AND question IN ('volume','minutes','judge','off','arrives','changed','announced');

-- name: file_kinds_of_many
-- What kinds of evidence some ideas have on file.
SELECT DISTINCT idea_id, kind FROM idea_file WHERE idea_id IN %(ids)s AND removed_at IS NULL;

-- name: volumes_of_many
-- The volumes of those who joined some ideas.
SELECT idea_id, volume_json FROM idea_voice WHERE idea_id IN %(ids)s AND volume_json IS NOT NULL;

-- name: by_other_factors
-- Open ideas whose first look was reckoned by another version of the factors, but for those that failed just now.
SELECT i.id FROM idea i WHERE i.stage IN ('noted','screened','sized','backed') AND i.factors_version <> %(version)s AND i.id > %(after)s
  AND NOT EXISTS (SELECT 1 FROM hitch h WHERE h.work = 'first looks' AND h.row_key = CONCAT(%(version)s, ':', i.id) AND h.due_at > %(now)s) ORDER BY i.id LIMIT %(most)s;

-- name: count_by_other_factors
-- How many those are.
SELECT COUNT(*) FROM idea WHERE stage IN ('noted','screened','sized','backed') AND factors_version <> %(version)s;
