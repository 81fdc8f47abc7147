-- name: by_email
-- A person who may sign in, by address.
SELECT id, name, email, password_hash, zone FROM person WHERE email = %(email)s AND active AND state = 'active';

-- name: by_id
-- A person by number.
-- gives: Person
SELECT id, name, email, zone, division_id, state, active, locale, mail_json, away_from, away_until, stand_in_id, left_at, version
FROM person WHERE id = %(id)s;

-- name: hold
-- Holds a person's row, so that what they ask at the same time is done one after the other.
SELECT id FROM person WHERE id = %(id)s FOR UPDATE;

-- name: away_for
-- Who is away about now and named this person as stand-in.
SELECT id, name, away_from, away_until FROM person WHERE stand_in_id = %(id)s AND away_until >= %(until)s
AND (away_from IS NULL OR away_from <= %(since)s) AND state = 'active';

-- name: here_by_email
-- Which of some mail addresses are in use here, whatever became of the person.
SELECT email FROM person WHERE email IN %(emails)s;

-- name: directory
-- First of those who can be picked, by name: all, or whom some words fit.
-- gives: Pickable
SELECT p.id, p.name, p.email, p.state, d.name AS division,
  (SELECT GROUP_CONCAT(DISTINCT r.name ORDER BY r.id SEPARATOR ', ') FROM held_role h JOIN role r ON r.id = h.role_id WHERE h.person_id = p.id) AS roles
FROM person p LEFT JOIN division d ON d.id = p.division_id WHERE p.active AND p.state IN ('active','invited')
AND (%(text)s IS NULL OR p.name LIKE %(text)s OR p.email LIKE %(text)s OR d.name LIKE %(text)s)
ORDER BY p.name, p.id LIMIT %(limit)s;

-- name: pickable
-- Some people as the directory shows them, whatever became of them.
-- gives: Pickable
SELECT p.id, p.name, p.email, p.state, d.name AS division,
  (SELECT GROUP_CONCAT(DISTINCT r.name ORDER BY r.id SEPARATOR ', ') FROM held_role h JOIN role r ON r.id = h.role_id WHERE h.person_id = p.id) AS roles
FROM person p LEFT JOIN division d ON d.id = p.division_id WHERE p.id IN %(ids)s AND p.state <> 'erased' ORDER BY p.name, p.id;

-- name: divisions
-- Where work belongs, as a tree: each with the names above it.
-- always: id, own, name, depth
WITH RECURSIVE tree AS (
  SELECT id, parent_id, name AS own, CAST(name AS CHAR(1000)) AS path, 0 AS depth FROM division
  WHERE parent_id IS NULL AND merged_into IS NULL
  UNION ALL SELECT d.id, d.parent_id, d.name, CONCAT(t.path, ' › ', d.name), t.depth + 1 FROM division d
  JOIN tree t ON d.parent_id = t.id WHERE d.merged_into IS NULL AND t.depth < 20)
SELECT id, parent_id, own, path AS name, depth FROM tree ORDER BY path, id;

-- name: place_division
-- Where the ideas of a division belong.
UPDATE division SET area_id = %(area)s WHERE id = %(id)s;

-- name: add_division
-- A new division.
INSERT INTO division (name, parent_id, parent_key) VALUES (%(name)s, %(parent)s, COALESCE(%(parent)s, 0));

-- name: add
-- A new person.
INSERT INTO person (name, email, password_hash, zone, division_id, made_at)
VALUES (%(name)s, %(email)s, %(password_hash)s, %(zone)s, %(division)s, %(now)s);

-- name: give_role
-- Gives a person a role for the whole company.
INSERT INTO held_role (role_id, person_id, holder, at)
SELECT id, %(person)s, CONCAT('person:', %(person)s), %(now)s FROM role WHERE name = %(role)s;

-- name: add_session
-- A new session.
INSERT INTO session (token_hash, person_id, made_at, seen_at, ends_at, address, agent, how, outside_token)
VALUES (%(token)s, %(person)s, %(now)s, %(now)s, %(ends)s, %(address)s, %(agent)s, %(how)s, %(outside)s);

-- name: session
-- An open session with its person.
-- gives: Session
SELECT s.person_id, s.seen_at, s.ends_at, s.how FROM session s JOIN person p ON p.id = s.person_id
WHERE s.token_hash = %(token)s AND s.ends_at > %(now)s AND s.seen_at > %(idle)s AND p.active AND p.state = 'active';

-- name: touch_session
-- The session was used.
UPDATE session SET seen_at = %(now)s WHERE token_hash = %(token)s;

-- name: end_session
-- Signs out.
DELETE FROM session WHERE token_hash = %(token)s;

-- name: prune_sessions
-- Sessions that have ended are of no use.
DELETE FROM session WHERE ends_at < %(now)s LIMIT 1000;

-- name: tries
-- Failed sign-ins of an account or address.
SELECT failures, last_at FROM sign_in_try WHERE who = %(who)s FOR UPDATE;

-- name: hold_try
-- Holds the row of a counter, so that tries at the same time are counted one after the other.
INSERT INTO sign_in_try (who, failures, last_at) VALUES (%(who)s, 0, %(now)s) ON DUPLICATE KEY UPDATE failures = failures;

-- name: try_given_back
-- A try that was counted under several names was right.
UPDATE sign_in_try SET failures = failures - 1 WHERE who = %(who)s AND failures > 0;

-- name: prune_tries
-- Counters that are long forgotten are of no use.
DELETE FROM sign_in_try WHERE last_at < %(before)s LIMIT 1000;

-- name: try_failed
-- Counts a failed sign-in; an old count starts again.
INSERT INTO sign_in_try (who, failures, last_at) VALUES (%(who)s, 1, %(now)s)
ON DUPLICATE KEY UPDATE failures = IF(last_at < %(forget)s, 1, failures + 1), last_at = %(now)s;

-- name: try_worked
-- A sign-in worked, so its failures are forgotten.
DELETE FROM sign_in_try WHERE who = %(who)s;

-- name: any_by_email
-- A person of any state, by address.
SELECT id, name, state FROM person WHERE email = %(email)s;

-- name: invited_by
-- How many people somebody invited since a time.
SELECT COUNT(DISTINCT person_id) FROM link WHERE kind = 'invitation' AND made_by = %(person)s AND made_at >= %(since)s;

-- name: invite
-- Somebody who was invited: can be picked, cannot sign in yet.
INSERT INTO person (name, email, password_hash, zone, division_id, state, made_at)
VALUES (%(name)s, %(email)s, '', %(zone)s, %(division)s, 'invited', %(now)s);

-- name: accept
-- The invited person accepted.
UPDATE person SET name = %(name)s, zone = %(zone)s, password_hash = %(password)s, state = 'active', version = version + 1
WHERE id = %(id)s AND state = 'invited';

-- name: set_password
-- Another password.
UPDATE person SET password_hash = %(password)s WHERE id = %(id)s AND state = 'active';

-- name: password_of
-- The digest of a person's password.
SELECT password_hash FROM person WHERE id = %(id)s;

-- name: sessions_of
-- A person's open sessions.
-- always: handle
SELECT LEFT(token_hash, 16) AS handle, made_at, seen_at, ends_at, address, agent, how FROM session
WHERE person_id = %(person)s AND ends_at > %(now)s ORDER BY seen_at DESC;

-- name: end_sessions_of
-- Ends a person's sessions, but one.
DELETE FROM session WHERE person_id = %(person)s AND token_hash <> %(but)s;

-- name: end_by_handle
-- Ends one of a person's sessions.
DELETE FROM session WHERE person_id = %(person)s AND LEFT(token_hash, 16) = %(handle)s;

-- name: change_profile
-- A person changes their own profile, unless it was changed meanwhile.
UPDATE person SET name = %(name)s, zone = %(zone)s, locale = %(locale)s, mail_json = %(mail)s, version = version + 1
WHERE id = %(id)s AND version = %(version)s;

-- name: set_away
-- From when to when somebody is away, and who stands in.
UPDATE person SET away_from = %(start)s, away_until = %(end)s, stand_in_id = %(stand_in)s WHERE id = %(id)s;

-- name: by_state
-- How many people are in each state, but for those erased.
SELECT state, COUNT(*) AS people FROM person WHERE state <> 'erased' GROUP BY state;

-- name: listed
-- Some people, with division, roles and groups.
SELECT p.id, p.name, p.email, p.state, p.zone, p.version, p.away_until, p.division_id, d.name AS division, s.name AS stand_in,
  (SELECT GROUP_CONCAT(DISTINCT CONCAT(r.name, IF(a.name IS NULL, '', CONCAT(' for ', a.name))) ORDER BY r.id SEPARATOR ', ')
   FROM held_role h JOIN role r ON r.id = h.role_id LEFT JOIN area a ON a.id = h.area_id WHERE h.person_id = p.id) AS roles,
  (SELECT GROUP_CONCAT(g.name ORDER BY g.name SEPARATOR ', ') FROM group_member m JOIN person_group g ON g.id = m.group_id
   WHERE m.person_id = p.id AND g.retired_at IS NULL) AS groups_in,
  (SELECT MAX(x.seen_at) FROM session x WHERE x.person_id = p.id) AS seen_at,
  EXISTS (SELECT 1 FROM second_factor f WHERE f.person_id = p.id AND f.on_since IS NOT NULL) AS factor
FROM person p LEFT JOIN division d ON d.id = p.division_id LEFT JOIN person s ON s.id = p.stand_in_id
WHERE p.id IN %(ids)s AND p.state <> 'erased' ORDER BY p.name, p.id;

-- name: change_person
-- Changes a person, unless somebody else did meanwhile.
UPDATE person SET name = %(name)s, division_id = %(division)s, version = version + 1 WHERE id = %(id)s AND version = %(version)s;

-- name: open_work
-- What of the ideas under way somebody has a part in.
SELECT i.id, i.title, i.stage, 'owns' AS part FROM idea i WHERE i.owner_id = %(person)s
  AND i.stage IN ('draft','noted','screened','sized','backed','building')
UNION ALL SELECT i.id, i.title, i.stage, 'expert' FROM idea i WHERE i.expert_id = %(person)s AND i.stage IN ('screened')
UNION ALL SELECT i.id, i.title, i.stage, 'builds' FROM idea i WHERE i.builder_id = %(person)s AND i.stage = 'building'
UNION ALL SELECT i.id, i.title, i.stage, 'proposed' FROM idea i WHERE i.proposer_id = %(person)s
  AND i.stage IN ('draft','noted','screened','sized','backed','building')
UNION ALL SELECT i.id, i.title, i.stage, 'helps' FROM idea_helper h JOIN idea i ON i.id = h.idea_id WHERE h.person_id = %(person)s
  AND i.stage IN ('noted','screened','sized','backed','building');

-- name: hand_owner
-- Somebody else owns the work of open ideas.
UPDATE idea SET owner_id = %(to)s, changed_at = %(now)s, version = version + 1 WHERE owner_id = %(person)s
AND stage IN ('draft','noted','screened','sized','backed','building');

-- name: hand_expert
-- Somebody else is the expert of ideas to be sized.
UPDATE idea SET expert_id = %(to)s, changed_at = %(now)s, version = version + 1 WHERE expert_id = %(person)s AND stage = 'screened';

-- name: hand_builder
-- Somebody else builds.
UPDATE idea SET builder_id = %(to)s, changed_at = %(now)s, version = version + 1 WHERE builder_id = %(person)s AND stage = 'building';

-- name: hand_helper
-- Somebody else helps.
INSERT IGNORE INTO idea_helper (idea_id, person_id, task, asked_by, at)
SELECT idea_id, %(to)s, task, asked_by, %(now)s FROM idea_helper WHERE person_id = %(person)s;

-- name: drop_helping
-- Somebody helps with nothing any more.
DELETE FROM idea_helper WHERE person_id = %(person)s;

-- name: leave
-- Somebody left.
UPDATE person SET state = 'left', active = FALSE, left_at = %(now)s, away_from = NULL, away_until = NULL, stand_in_id = NULL,
  version = version + 1 WHERE id = %(id)s AND state IN ('active','invited');

-- name: come_back
-- Somebody came back; without a password yet they are invited again.
UPDATE person SET state = IF(password_hash = '', 'invited', 'active'), active = TRUE, left_at = NULL, version = version + 1
WHERE id = %(id)s AND state = 'left';

-- name: drop_roles
-- Somebody holds no role of their own any more.
DELETE FROM held_role WHERE person_id = %(person)s;

-- name: drop_groups
-- Somebody is in no group any more.
DELETE FROM group_member WHERE person_id = %(person)s;

-- name: anybody
-- Whether anybody is here.
SELECT id FROM person LIMIT 1;

-- name: first
-- The first person came; there is one such row.
INSERT INTO setting (name, value_json, changed_at) VALUES ('first person', '{}', %(at)s);
