-- name: all
-- All areas with the one above.
-- gives: AreaBelow
SELECT a.id, a.name, a.parent_id, u.name AS above FROM area a LEFT JOIN area u ON u.id = a.parent_id ORDER BY a.name;

-- name: area
-- One area.
-- gives: Area
SELECT id, name, parent_id FROM area WHERE id = %(id)s;

-- name: add
-- A new area.
INSERT INTO area (name, parent_id) VALUES (%(name)s, %(parent)s);

-- name: add_above
-- An area lies below itself and below all that its parent lies below.
INSERT INTO area_above (area_id, above_id, depth)
SELECT %(id)s, %(id)s, 0 UNION ALL SELECT %(id)s, above_id, depth + 1 FROM area_above WHERE area_id = %(parent)s;

-- name: tree
-- Every area with the one above and what lives in it.
-- always: routines, robots, held
SELECT a.id, a.name, a.parent_id, a.version, a.screens, a.approve_releases,
  (SELECT COUNT(*) FROM routine o WHERE o.area_id = a.id AND o.retired_at IS NULL AND NOT o.aside) AS routines,
  (SELECT COUNT(*) FROM robot_area ra JOIN robot b ON b.id = ra.robot_id WHERE ra.area_id = a.id AND b.retired_at IS NULL) AS robots,
  (SELECT COUNT(*) FROM held_role h WHERE h.area_id = a.id) AS held,
  (SELECT COUNT(*) FROM area_closed_day c WHERE c.area_id = a.id) AS closed_days
FROM area a ORDER BY a.name;

-- name: one
-- One area, locked.
SELECT id, name, parent_id, version FROM area WHERE id = %(id)s FOR UPDATE;

-- name: rename
-- Another name for an area, if nobody else changed it meanwhile.
UPDATE area SET name = %(name)s, version = version + 1 WHERE id = %(id)s AND version = %(version)s;

-- name: set_screens
-- Whether a picture of the screen is taken when a run of an area, or of one below it, stalls.
UPDATE area SET screens = %(on)s WHERE id = %(id)s AND screens <> %(on)s;

-- name: set_approving
-- Whether an area asks for a second person's yes to each release.
UPDATE area SET approve_releases = %(on)s WHERE id = %(id)s AND approve_releases <> %(on)s;

-- name: set_parent
-- An area lies below another from now on, if nobody else changed it meanwhile.
UPDATE area SET parent_id = %(parent)s, version = version + 1 WHERE id = %(id)s AND version = %(version)s;

-- name: lock_all
-- All areas, locked in order, before the tree is changed.
SELECT id, parent_id FROM area ORDER BY id FOR UPDATE;

-- name: cut
-- An area and all below it lie below nothing above it any more.
-- moves worths: all
DELETE t FROM area_above t JOIN area_above s ON s.area_id = t.area_id AND s.above_id = %(id)s
LEFT JOIN area_above x ON x.area_id = t.above_id AND x.above_id = %(id)s WHERE x.area_id IS NULL;

-- name: graft
-- An area and all below it lie below a new parent and all above that.
-- moves worths: all
INSERT INTO area_above (area_id, above_id, depth)
SELECT s.area_id, p.above_id, s.depth + p.depth + 1 FROM area_above s JOIN area_above p ON p.area_id = %(parent)s
WHERE s.above_id = %(id)s;

-- name: held_above
-- Roles held for areas on a path, with everybody who holds them.
SELECT h.area_id, a.name AS area, r.name AS role, r.built_in, r.permissions_json, p.id AS person_id, p.name AS person, g.name AS grp
FROM held_role h JOIN role r ON r.id = h.role_id JOIN area a ON a.id = h.area_id
LEFT JOIN group_member m ON m.group_id = h.group_id LEFT JOIN person_group g ON g.id = h.group_id
JOIN person p ON p.id = COALESCE(h.person_id, m.person_id)
WHERE h.area_id IN %(areas)s AND p.state = 'active' AND r.retired_at IS NULL ORDER BY p.name, r.name;

-- name: robots_above
-- Robots allowed in areas on a path.
SELECT ra.area_id, b.name FROM robot_area ra JOIN robot b ON b.id = ra.robot_id
WHERE ra.area_id IN %(areas)s AND b.retired_at IS NULL ORDER BY b.name;

-- name: closed_days
-- An area's own closed days.
SELECT day, name FROM area_closed_day WHERE area_id = %(id)s ORDER BY day;

-- name: close_day
-- A day on which an area does not work.
-- moves worths: all
INSERT INTO area_closed_day (area_id, day, name) VALUES (%(id)s, %(day)s, %(name)s) ON DUPLICATE KEY UPDATE name = VALUE(name);

-- name: open_day
-- An area works on this day again.
-- moves worths: all
DELETE FROM area_closed_day WHERE area_id = %(id)s AND day = %(day)s;

-- name: open_company_day
-- The company works on this day again.
-- moves worths: all
DELETE FROM closed_day WHERE day = %(day)s;

-- name: ids
-- The numbers of all areas.
SELECT id FROM area ORDER BY id;
