-- name: add_package
-- A new package; the number of the known one if the name exists.
INSERT INTO package (name, made_at) VALUES (%(name)s, %(now)s) ON DUPLICATE KEY UPDATE id = LAST_INSERT_ID(id);

-- name: add_release
-- A numbered version of a package.
INSERT INTO package_release (package_id, version, entry, about, note, inputs_json, outputs_json, tags_json, files_json, digest, size,
  checkpoints, wheels_json, secrets_json, counts_json, says, origin, signature, signing_key_id, seen_by, area_id, person_id, at)
VALUES (%(package)s, %(version)s, %(entry)s, %(about)s, %(note)s, %(inputs)s, %(outputs)s, %(tags)s, %(files)s, %(digest)s,
  %(size)s, %(checkpoints)s, %(wheels)s, %(secrets)s, %(counts)s, %(says)s, %(origin)s, %(signature)s, %(key)s, %(seen_by)s, %(area)s, %(person)s, %(now)s);

-- name: releases
-- All releases, the newest first, with the routines that use each.
-- gives: ReleaseRow
SELECT r.id, p.name AS package, r.version, r.about, r.note, r.entry, r.tags_json, r.size, r.at, r.retired_at AS withdrawn_at, w.name AS person, r.seen_by, a.name AS area,
  (SELECT COUNT(*) FROM routine o WHERE o.release_id = r.id AND o.retired_at IS NULL AND NOT o.aside) AS routines
FROM package_release r JOIN package p ON p.id = r.package_id JOIN person w ON w.id = r.person_id LEFT JOIN area a ON a.id = r.area_id
ORDER BY r.at DESC, r.id DESC;

-- name: release
-- One release, whole.
-- gives: ReleaseWhole
SELECT r.id, p.name AS package, r.version, r.about, r.note, r.entry, r.inputs_json, r.outputs_json, r.tags_json, r.files_json,
  r.digest, r.size, r.at, r.retired_at AS withdrawn_at, r.withdrawn_why, r.checkpoints, r.wheels_json, r.secrets_json, r.counts_json,
  r.says, r.origin, r.seen_by, r.area_id, a.name AS area, r.signature, k.public_half, k.name AS key_name, r.person_id, w.name AS person,
  y.at AS approved_at, y.note AS approval_note, z.name AS approved_by FROM package_release r
JOIN package p ON p.id = r.package_id
JOIN person w ON w.id = r.person_id LEFT JOIN signing_key k ON k.id = r.signing_key_id LEFT JOIN area a ON a.id = r.area_id
LEFT JOIN release_approval y ON y.release_id = r.id LEFT JOIN person z ON z.id = y.person_id WHERE r.id = %(id)s;

-- name: versions
-- The versions of a package, the newest first.
-- gives: Version
SELECT r.id, r.version, r.seen_by FROM package_release r JOIN package p ON p.id = r.package_id WHERE p.name = %(name)s AND r.retired_at IS NULL ORDER BY r.id DESC;

-- name: numbers
-- The numbers of a package's releases, withdrawn ones too; a try-out has none.
SELECT r.id, r.version, r.digest FROM package_release r JOIN package p ON p.id = r.package_id
WHERE p.name = %(name)s AND r.version NOT LIKE 'try-out %%' ORDER BY r.id;

-- name: count_tryouts
-- How many try-outs of a package there ever were, those that were released since too.
SELECT tryouts FROM package WHERE id = %(id)s;

-- name: one_more_tryout
-- A package has another try-out.
UPDATE package SET tryouts = tryouts + 1 WHERE id = %(id)s;

-- name: unseen
-- The releases that somebody does not see: try-outs of others, and those of areas that are none of theirs.
SELECT r.id, p.name AS package, r.seen_by FROM package_release r JOIN package p ON p.id = r.package_id
WHERE r.seen_by = 'maker' AND r.person_id <> %(me)s
UNION ALL SELECT r.id, p.name, r.seen_by FROM package_release r JOIN package p ON p.id = r.package_id
WHERE r.seen_by = 'area' AND NOT %(everywhere)s
  AND NOT EXISTS (SELECT 1 FROM area_above u WHERE u.above_id = r.area_id AND u.area_id IN %(areas)s);

-- name: move
-- Others see a release from now on, perhaps under a number of its own.
UPDATE package_release SET seen_by = %(seen_by)s, area_id = %(area)s, version = %(version)s, note = %(note)s, says = %(says)s WHERE id = %(id)s;

-- name: set_up_outside
-- The routines in use of a release that lie in no area of some.
-- gives: RoutineUsing
SELECT o.id, o.name, o.area_id FROM routine o WHERE o.release_id = %(release)s AND o.retired_at IS NULL AND NOT o.aside
  AND o.area_id NOT IN %(areas)s ORDER BY o.name;

-- name: add_wheel
-- A wheel that packages may require, known by its digest.
INSERT IGNORE INTO wheel (digest, name, person_id, at) VALUES (%(digest)s, %(name)s, %(person)s, %(now)s);

-- name: wheels_by_digest
-- Which of some wheels are kept.
SELECT digest, name FROM wheel WHERE digest IN %(digests)s;

-- name: wheels
-- All wheels, by name.
-- gives: WheelRow
SELECT w.digest, w.name, f.size, w.at, p.name AS person FROM wheel w JOIN file_body f ON f.digest = w.digest
JOIN person p ON p.id = w.person_id ORDER BY w.name, w.at;


-- name: lock_release
-- A release's row, locked.
SELECT id, retired_at FROM package_release WHERE id = %(id)s FOR UPDATE;

-- name: waiting_runs
-- How many runs of a release wait.
SELECT COUNT(*) FROM run WHERE release_id = %(release)s AND state = 'waiting';

-- name: set_withdrawn
-- Withdraws a release, or brings it back (NULL).
UPDATE package_release SET retired_at = %(at)s, withdrawn_why = %(why)s WHERE id = %(id)s AND (retired_at IS NULL) = (%(at)s IS NOT NULL);
