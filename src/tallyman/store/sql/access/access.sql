-- name: roles
-- Every role, the built-in ones first.
-- always: holders
SELECT r.id, r.name, r.about, r.built_in, r.permissions_json, r.copied_from, r.second_factor, r.version, r.retired_at,
  (SELECT COUNT(*) FROM held_role h WHERE h.role_id = r.id) AS holders
FROM role r ORDER BY r.built_in DESC, r.id;

-- name: role
-- One role.
-- gives: Role
SELECT id, name, about, built_in, permissions_json, copied_from, second_factor, version, retired_at FROM role WHERE id = %(id)s;

-- name: add_role
-- A role of one's own.
INSERT INTO role (name, about, permissions_json, copied_from, second_factor, made_by, made_at)
VALUES (%(name)s, %(about)s, %(permissions)s, %(copied_from)s, %(second_factor)s, %(person)s, %(now)s);

-- name: change_role
-- Changes a role, if nobody else did meanwhile; what a built-in one allows stays.
UPDATE role SET name = IF(built_in, name, %(name)s), about = IF(built_in, about, %(about)s),
  permissions_json = IF(built_in, permissions_json, %(permissions)s), second_factor = %(second_factor)s, version = version + 1
WHERE id = %(id)s AND version = %(version)s AND retired_at IS NULL;

-- name: retire_role
-- Takes a role of one's own out of use.
UPDATE role SET retired_at = %(now)s, name = CONCAT(LEFT(name, 40), ' #', id), version = version + 1
WHERE id = %(id)s AND NOT built_in AND retired_at IS NULL;

-- name: held_by
-- The roles of a person, in person and by groups, each with the area it is held for.
-- yes or no: built_in, second_factor
SELECT h.id, r.id AS role_id, r.name AS role, r.built_in, r.permissions_json, r.second_factor, h.area_id, a.name AS area, NULL AS grp
FROM held_role h JOIN role r ON r.id = h.role_id LEFT JOIN area a ON a.id = h.area_id
WHERE h.person_id = %(person)s AND r.retired_at IS NULL
UNION ALL
SELECT h.id, r.id, r.name, r.built_in, r.permissions_json, r.second_factor, h.area_id, a.name, g.name
FROM group_member m JOIN person_group g ON g.id = m.group_id JOIN held_role h ON h.group_id = g.id JOIN role r ON r.id = h.role_id
LEFT JOIN area a ON a.id = h.area_id
WHERE m.person_id = %(person)s AND g.retired_at IS NULL AND r.retired_at IS NULL;

-- name: below
-- Some areas, each with all below it.
SELECT above_id, area_id FROM area_above WHERE above_id IN %(areas)s;

-- name: people_with
-- Active people who hold any of some roles for the whole company or for any of some areas.
SELECT DISTINCT p.id, p.name, p.email FROM held_role h LEFT JOIN group_member m ON m.group_id = h.group_id
LEFT JOIN person_group g ON g.id = h.group_id
JOIN person p ON p.id = COALESCE(h.person_id, m.person_id)
WHERE h.role_id IN %(roles)s AND (h.area_id IS NULL OR h.area_id IN %(areas)s) AND p.active AND p.state = 'active'
  AND (g.id IS NULL OR g.retired_at IS NULL) ORDER BY p.id;

-- name: people_with_anywhere
-- Active people who hold any of some roles, for the whole company or for whatever area.
-- gives: AccessPeopleWith
SELECT DISTINCT p.id, p.name, p.email FROM held_role h LEFT JOIN group_member m ON m.group_id = h.group_id
LEFT JOIN person_group g ON g.id = h.group_id
JOIN person p ON p.id = COALESCE(h.person_id, m.person_id)
WHERE h.role_id IN %(roles)s AND p.active AND p.state = 'active' AND (g.id IS NULL OR g.retired_at IS NULL) ORDER BY p.id;

-- name: give
-- A person or group holds a role from now on.
INSERT INTO held_role (role_id, person_id, group_id, area_id, holder, area_key, given_by, at)
VALUES (%(role)s, %(person)s, %(group)s, %(area)s, %(holder)s, COALESCE(%(area)s, 0), %(by)s, %(now)s);

-- name: held
-- One held role.
SELECT h.id, h.role_id, r.name AS role, h.person_id, p.name AS person, h.group_id, g.name AS grp, h.area_id, a.name AS area
FROM held_role h JOIN role r ON r.id = h.role_id LEFT JOIN person p ON p.id = h.person_id
LEFT JOIN person_group g ON g.id = h.group_id LEFT JOIN area a ON a.id = h.area_id WHERE h.id = %(id)s FOR UPDATE;

-- name: take_away
-- A role is held no more.
DELETE FROM held_role WHERE id = %(id)s;

-- name: holders
-- Who holds roles for what, persons and groups.
SELECT h.id, h.role_id, r.name AS role, h.person_id, p.name AS person, h.group_id, g.name AS grp, h.area_id, a.name AS area,
  h.at, y.name AS given_by
FROM held_role h JOIN role r ON r.id = h.role_id LEFT JOIN person p ON p.id = h.person_id
LEFT JOIN person_group g ON g.id = h.group_id LEFT JOIN area a ON a.id = h.area_id LEFT JOIN person y ON y.id = h.given_by
WHERE r.retired_at IS NULL AND (g.id IS NULL OR g.retired_at IS NULL) AND (p.id IS NULL OR p.state IN ('active','invited'))
ORDER BY COALESCE(p.name, g.name), r.id, h.id;

-- name: others_deciding
-- How many active people beside one could still give roles for the whole company, by some roles.
SELECT COUNT(DISTINCT p.id) FROM held_role h LEFT JOIN group_member m ON m.group_id = h.group_id
JOIN person p ON p.id = COALESCE(h.person_id, m.person_id)
WHERE h.role_id IN %(roles)s AND h.area_id IS NULL AND p.active AND p.state = 'active' AND h.id <> %(but)s AND p.id <> %(but_person)s;

-- name: groups
-- Groups with how many are in each.
-- gives: GroupOut
SELECT g.id, g.name, g.about, g.claim, g.version, (SELECT COUNT(*) FROM group_member m WHERE m.group_id = g.id) AS members
FROM person_group g WHERE g.retired_at IS NULL ORDER BY g.name;

-- name: group
-- One group.
-- gives: Group
SELECT id, name, about, claim, version FROM person_group WHERE id = %(id)s AND retired_at IS NULL;

-- name: add_group
-- A new group.
INSERT INTO person_group (name, about, claim, made_at) VALUES (%(name)s, %(about)s, %(claim)s, %(now)s);

-- name: change_group
-- Changes a group, if nobody else did meanwhile.
UPDATE person_group SET name = %(name)s, about = %(about)s, claim = %(claim)s, version = version + 1
WHERE id = %(id)s AND version = %(version)s AND retired_at IS NULL;

-- name: retire_group
-- Takes a group out of use; its name is free again.
UPDATE person_group SET retired_at = %(now)s, name = CONCAT(LEFT(name, 60), ' #', id), claim = NULL, version = version + 1
WHERE id = %(id)s AND retired_at IS NULL;

-- name: members
-- Who is in a group.
-- gives: Member
SELECT m.person_id AS id, p.name, m.by_claim FROM group_member m JOIN person p ON p.id = m.person_id
WHERE m.group_id = %(group)s AND p.state <> 'erased' ORDER BY p.name;

-- name: groups_of
-- The groups a person is in.
SELECT g.id, g.name, m.by_claim FROM group_member m JOIN person_group g ON g.id = m.group_id
WHERE m.person_id = %(person)s AND g.retired_at IS NULL ORDER BY g.name;

-- name: join
-- A person is in a group.
INSERT IGNORE INTO group_member (group_id, person_id, by_claim, at) VALUES (%(group)s, %(person)s, %(by_claim)s, %(now)s);

-- name: leave
-- A person is in a group no more.
DELETE FROM group_member WHERE group_id = %(group)s AND person_id = %(person)s;

-- name: add_request
-- Somebody asks for access.
INSERT INTO access_request (person_id, permission, area_id, words, made_at)
VALUES (%(person)s, %(permission)s, %(area)s, %(words)s, %(now)s);

-- name: same_request
-- An open request of the same person for the same.
SELECT id FROM access_request WHERE person_id = %(person)s AND state = 'open' AND permission = %(permission)s
AND COALESCE(area_id, 0) = COALESCE(%(area)s, 0) LIMIT 1;

-- name: requests
-- Requests for access in a state, oldest first.
SELECT q.id, q.person_id, p.name AS person, q.permission, q.area_id, a.name AS area, q.words, q.state, q.made_at,
  d.name AS decided_by, q.decided_at, q.answer
FROM access_request q JOIN person p ON p.id = q.person_id LEFT JOIN area a ON a.id = q.area_id
LEFT JOIN person d ON d.id = q.decided_by WHERE q.state = %(state)s ORDER BY q.id;

-- name: requests_of
-- The requests of one person, latest first.
SELECT q.id, q.permission, q.area_id, a.name AS area, q.words, q.state, q.made_at, d.name AS decided_by, q.decided_at, q.answer
FROM access_request q LEFT JOIN area a ON a.id = q.area_id LEFT JOIN person d ON d.id = q.decided_by
WHERE q.person_id = %(person)s ORDER BY q.id DESC LIMIT 20;

-- name: open_requests
-- How many of a person's requests are open.
SELECT COUNT(*) FROM access_request WHERE person_id = %(person)s AND state = 'open';

-- name: request
-- One request.
SELECT id, person_id, permission, area_id, words, state FROM access_request WHERE id = %(id)s FOR UPDATE;

-- name: decide_request
-- Answers a request that is still open.
UPDATE access_request SET state = %(state)s, decided_by = %(person)s, decided_at = %(now)s, answer = %(answer)s
WHERE id = %(id)s AND state = 'open';
