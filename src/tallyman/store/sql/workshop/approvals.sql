-- name: add
-- A second person's yes to a release.
INSERT INTO release_approval (release_id, person_id, at, note) VALUES (%(release)s, %(person)s, %(now)s, %(note)s);

-- name: areas_asking
-- The areas in which a release is set up and that ask for a second person's yes, by name.
SELECT DISTINCT a.name FROM routine o JOIN area a ON a.id = o.area_id WHERE o.release_id = %(release)s AND o.retired_at IS NULL
  AND EXISTS (SELECT 1 FROM area_above x JOIN area y ON y.id = x.above_id WHERE x.area_id = o.area_id AND y.approve_releases)
ORDER BY a.name;
