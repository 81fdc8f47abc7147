-- name: add
-- A second person's yes to a release.
INSERT INTO release_approval (release_id, person_id, at, note) VALUES (%(release)s, %(person)s, %(now)s, %(note)s);

-- name: asked_in
-- Whether an area, or one above it, asks for a second person's yes to each release.
SELECT EXISTS (SELECT 1 FROM area_above x JOIN area y ON y.id = x.above_id WHERE x.area_id = %(area)s AND y.approve_releases) AS asks;

-- name: waiting
-- Releases that are set up where a second person's yes is asked for, and wait for one of somebody else than who released them.
-- gives: ReleaseToApprove
SELECT DISTINCT r.id, p.name AS package, r.version, q.name AS person, r.at FROM routine o JOIN package_release r ON r.id = o.release_id
JOIN package p ON p.id = r.package_id JOIN person q ON q.id = r.person_id
WHERE o.retired_at IS NULL AND NOT o.aside AND r.retired_at IS NULL AND r.person_id <> %(me)s
  AND EXISTS (SELECT 1 FROM area_above x JOIN area y ON y.id = x.above_id WHERE x.area_id = o.area_id AND y.approve_releases)
  AND NOT EXISTS (SELECT 1 FROM release_approval v WHERE v.release_id = r.id)
ORDER BY r.id;

-- name: areas_asking
-- The areas in which a release is set up and that ask for a second person's yes, by name.
SELECT DISTINCT a.name FROM routine o JOIN area a ON a.id = o.area_id WHERE o.release_id = %(release)s AND o.retired_at IS NULL AND NOT o.aside
  AND EXISTS (SELECT 1 FROM area_above x JOIN area y ON y.id = x.above_id WHERE x.area_id = o.area_id AND y.approve_releases)
ORDER BY a.name;
