-- name: areas_of_areas
-- Which areas lie in some areas.
-- gives: UsesPair
-- always: upper
SELECT parent_id AS upper, id AS lower FROM area WHERE parent_id IN %(ids)s ORDER BY name;

-- name: routines_of_areas
-- Which routines in use lie in some areas.
-- gives: UsesPair
SELECT area_id AS upper, id AS lower FROM routine
WHERE area_id IN %(ids)s AND retired_at IS NULL AND NOT aside ORDER BY name;

-- name: robots_of_areas
-- Which robots are allowed in some areas.
-- gives: UsesPair
SELECT ra.area_id AS upper, b.id AS lower FROM robot_area ra JOIN robot b ON b.id = ra.robot_id
WHERE ra.area_id IN %(ids)s AND b.retired_at IS NULL ORDER BY b.name;

-- name: secrets_of_areas
-- Which secrets of people are kept for some areas.
-- gives: UsesPair
-- always: upper
SELECT area_id AS upper, id AS lower FROM secret
WHERE area_id IN %(ids)s AND kind IN %(kinds)s AND retired_at IS NULL AND own_of IS NULL ORDER BY name;

-- name: ideas_of_areas
-- Which ideas that are on their way, or in service, lie in some areas.
-- gives: UsesPair
-- always: upper
SELECT area_id AS upper, id AS lower FROM idea WHERE area_id IN %(ids)s AND stage NOT IN %(kinds)s ORDER BY id;

-- name: robots_of_hosts
-- Which robots work on some hosts.
-- gives: UsesPair
SELECT host_id AS upper, id AS lower FROM robot WHERE host_id IN %(ids)s AND retired_at IS NULL ORDER BY name;

-- name: routines_of_owners
-- Which routines are meant for the people on whose own computers some robots work.
-- gives: UsesPair
SELECT b.id AS upper, o.id AS lower FROM robot b JOIN host h ON h.id = b.host_id JOIN routine o ON o.attended_for = h.owner_id
WHERE b.id IN %(ids)s AND o.attended <> '' AND o.retired_at IS NULL AND NOT o.aside ORDER BY o.name;

-- name: robots_with_accounts
-- Under which accounts the robots of some hosts work.
SELECT id, host_id, account FROM robot WHERE host_id IN %(ids)s AND account <> '' AND retired_at IS NULL ORDER BY name;

-- name: accounts_of_secrets
-- Of which accounts some secrets are the password.
SELECT secret_id, host_id, account FROM host_account WHERE secret_id IN %(ids)s ORDER BY host_id, account;

-- name: releases_of_packages
-- The releases of some packages, the newest first.
-- gives: UsesPair
SELECT package_id AS upper, id AS lower FROM package_release WHERE package_id IN %(ids)s ORDER BY id DESC;

-- name: routines_of_releases
-- Which routines in use run some releases.
-- gives: UsesPair
SELECT release_id AS upper, id AS lower FROM routine
WHERE release_id IN %(ids)s AND retired_at IS NULL AND NOT aside ORDER BY name;

-- name: ideas_of_routines
-- For which ideas some routines count.
-- gives: UsesPair
SELECT routine_id AS upper, idea_id AS lower FROM counting_point WHERE routine_id IN %(ids)s AND ended_at IS NULL ORDER BY idea_id;

-- name: routines_of_ideas
-- Which routines count for some ideas.
-- gives: UsesPair
SELECT c.idea_id AS upper, c.routine_id AS lower FROM counting_point c JOIN routine o ON o.id = c.routine_id
WHERE c.idea_id IN %(ids)s AND c.ended_at IS NULL AND o.retired_at IS NULL;

-- name: ideas_of_systems
-- Which ideas that are on their way, or in service, work with some systems.
-- gives: UsesPair
SELECT s.id AS upper, i.id AS lower FROM business_system s JOIN idea_system x ON x.name = s.name JOIN idea i ON i.id = x.idea_id
WHERE s.id IN %(ids)s AND i.stage NOT IN %(kinds)s ORDER BY i.id;

-- name: systems_of_ideas
-- With which systems some ideas work.
-- gives: UsesPair
SELECT x.idea_id AS upper, s.id AS lower FROM idea_system x JOIN business_system s ON s.name = x.name WHERE x.idea_id IN %(ids)s ORDER BY s.name;

-- name: starts_of_routines
-- The starts on the clock of some routines.
-- gives: UsesStart
SELECT t.id, t.kind, t.routine_id, t.expression, t.form_json, t.zone, t.on_closed, t.window_from, t.window_to, t.missed, t.missed_hours,
  t.latest_minutes, t.next_at, o.name AS routine, o.area_id FROM start_trigger t JOIN routine o ON o.id = t.routine_id
WHERE t.routine_id IN %(ids)s AND t.retired_at IS NULL ORDER BY o.name, t.id;

-- name: starts_by_calendar
-- Which starts on the clock look at the closed days of an area and of those above it, or (0) of the company.
SELECT t.id FROM start_trigger t JOIN routine o ON o.id = t.routine_id
WHERE t.on_closed <> 'run' AND t.retired_at IS NULL AND o.retired_at IS NULL
  AND (%(area)s = 0 OR o.area_id IN (SELECT a.area_id FROM area_above a WHERE a.above_id = %(area)s)) ORDER BY o.name, t.id;

-- name: starts
-- Some starts on the clock.
-- gives: UsesStart
SELECT t.id, t.kind, t.routine_id, t.expression, t.form_json, t.zone, t.on_closed, t.window_from, t.window_to, t.missed, t.missed_hours,
  t.latest_minutes, t.next_at, o.name AS routine, o.area_id FROM start_trigger t JOIN routine o ON o.id = t.routine_id
WHERE t.id IN %(ids)s AND t.retired_at IS NULL ORDER BY o.name, t.id;

-- name: routines
-- Some routines in use.
SELECT id, name, area_id, release_id FROM routine WHERE id IN %(ids)s AND retired_at IS NULL ORDER BY name;

-- name: packages
-- The releases of some packages, the oldest first.
SELECT p.id AS package_id, p.name, r.id FROM package p JOIN package_release r ON r.package_id = p.id WHERE p.id IN %(ids)s ORDER BY p.id, r.id;

-- name: releases
-- Some releases with their packages.
SELECT r.id, r.version, r.package_id, p.name AS package, r.secrets_json FROM package_release r JOIN package p ON p.id = r.package_id WHERE r.id IN %(ids)s;

-- name: secrets
-- Some secrets of people that are in use, without their values.
SELECT id, name, kind, area_id FROM secret WHERE id IN %(ids)s AND kind IN %(kinds)s AND retired_at IS NULL AND own_of IS NULL;

-- name: systems
-- Some systems.
SELECT id, name FROM business_system WHERE id IN %(ids)s;

-- name: areas_with_closed_days
-- Which of some areas have closed days of their own.
SELECT DISTINCT area_id FROM area_closed_day WHERE area_id IN %(ids)s;

-- name: password_of
-- Which secret is the password of an account on a host.
SELECT secret_id FROM host_account WHERE host_id = %(host)s AND account = %(account)s;
