-- name: path
-- An area and all above it.
SELECT above_id FROM area_above WHERE area_id = %(id)s;

-- name: paths
-- Some areas, each with itself and all above it.
SELECT area_id, above_id FROM area_above WHERE area_id IN %(ids)s;

-- name: hosts
-- All hosts with their seats in use.
-- gives: HostSeen
-- always: seats_used, trial_used
-- yes or no: connected, bound
SELECT h.id, h.name, h.heard_at, h.connected_at, h.account, h.facts_json, h.clock_ahead_ms, h.seats, h.made_at,
  h.accounts_json, h.hours_from, h.hours_to, h.hours_zone, h.leaving_at,
  h.maintenance_at, h.maintenance_until, h.maintenance_why, h.used_at, h.used_from, h.token_at, h.machine <> '' AS bound,
  h.code_until, h.token_hash IS NOT NULL AS connected, h.revoked_at, h.read_at, h.disk_free_mb, h.apps_json, h.known_json,
  (SELECT COUNT(*) FROM slot s WHERE s.kind = 'seat' AND s.owner_id = h.id AND s.run_id IS NOT NULL) AS seats_used,
  h.trial_seats, (SELECT COUNT(*) FROM slot s WHERE s.kind = 'trial' AND s.owner_id = h.id AND s.run_id IS NOT NULL) AS trial_used,
  w.name AS owner, h.in_use_since
FROM host h LEFT JOIN person w ON w.id = h.owner_id WHERE h.retired_at IS NULL ORDER BY h.name;

-- name: host
-- One host.
-- gives: HostRow
SELECT id, name, heard_at, account, facts_json, seats, code_until, token_hash IS NOT NULL AS connected, apps_json, disk_free_mb FROM host WHERE id = %(id)s AND retired_at IS NULL;

-- name: lock_host
-- A host's row, locked.
SELECT id, name, seats, trial_seats, maintenance_at FROM host WHERE id = %(id)s AND retired_at IS NULL FOR UPDATE;

-- name: add_host
-- A new host with its one-time code.
INSERT INTO host (name, code_hash, code_until, seats, made_at) VALUES (%(name)s, %(code)s, %(until)s, 0, %(now)s);

-- name: new_code
-- A new one-time code for a host; the connection it has stays until the code is used.
UPDATE host SET code_hash = %(code)s, code_until = %(until)s WHERE id = %(id)s;

-- name: host_by_code
-- The host a valid one-time code belongs to.
SELECT id, name FROM host WHERE code_hash = %(code)s AND code_until > %(now)s FOR UPDATE;

-- name: connect_host
-- A runner connected with the code, which is used up.
UPDATE host SET code_hash = NULL, code_until = NULL, token_hash = %(token)s, heard_at = %(now)s, connected_at = %(now)s,
  account = %(account)s, facts_json = %(facts)s, silent_told = FALSE, machine = %(machine)s, token_at = %(now)s, next_token_hash = NULL, revoked_at = NULL,
  used_at = %(now)s, used_from = %(address)s, leaving_at = NULL, read_at = NULL WHERE id = %(id)s;

-- name: host_by_token
-- The host a runner's token belongs to: the one it has, or the one that takes its place.
-- gives: HostByToken
SELECT id, name, heard_at, silent_told, clock_ahead_ms, accounts_json, machine, token_at, next_token_hash AS next_token, used_at, used_from,
  leaving_at, read_at, owner_id, in_use_since FROM host WHERE token_hash = %(token)s
UNION ALL SELECT id, name, heard_at, silent_told, clock_ahead_ms, accounts_json, machine, token_at, next_token_hash, used_at, used_from,
  leaving_at, read_at, owner_id, in_use_since FROM host WHERE next_token_hash = %(token)s;

-- name: token_used
-- A runner's token was used.
UPDATE host SET used_at = %(now)s, used_from = %(address)s WHERE id = %(id)s;

-- name: next_token
-- The token that is to take the place of a host's token.
UPDATE host SET next_token_hash = %(token)s WHERE id = %(id)s;

-- name: next_token_used
-- The runner uses the new token, so the one before works no more.
UPDATE host SET token_hash = %(token)s, next_token_hash = NULL, token_at = %(now)s WHERE id = %(id)s AND next_token_hash = %(token)s;

-- name: told_elsewhere
-- That a token was used on another machine is told once in a while.
UPDATE host SET told_elsewhere_at = %(now)s WHERE id = %(id)s AND (told_elsewhere_at IS NULL OR told_elsewhere_at < %(before)s);

-- name: heard
-- The host was heard from.
UPDATE host SET heard_at = %(now)s, clock_ahead_ms = %(ahead)s, silent_told = FALSE, leaving_at = %(leaving)s WHERE id = %(id)s;

-- name: silent_hosts
-- Connected hosts that fell silent and were not told of yet.
SELECT o.id, o.name, o.heard_at FROM host o WHERE o.token_hash IS NOT NULL AND o.heard_at < %(before)s AND o.silent_told = FALSE
  AND NOT EXISTS (SELECT 1 FROM hitch h WHERE h.work = 'silence' AND h.row_key = CAST(o.id AS CHAR) AND h.due_at > %(now)s);

-- name: told_silent
-- The silence of a host was told once.
UPDATE host SET silent_told = TRUE WHERE id = %(id)s AND silent_told = FALSE;

-- name: set_trial_seats
-- How many seats for trial runs a host has.
UPDATE host SET trial_seats = %(seats)s WHERE id = %(id)s;

-- name: set_seats
-- How many seats a host has.
-- moves worths: all
UPDATE host SET seats = %(seats)s WHERE id = %(id)s;

-- name: add_slot
-- One place that a run can take.
INSERT IGNORE INTO slot (kind, owner_id, n) VALUES (%(kind)s, %(owner)s, %(n)s);

-- name: drop_slots
-- Takes away free places from a number on.
DELETE FROM slot WHERE kind = %(kind)s AND owner_id = %(owner)s AND n >= %(n)s AND run_id IS NULL;

-- name: count_slots
-- How many places there are.
SELECT COUNT(*) FROM slot WHERE kind = %(kind)s AND owner_id = %(owner)s;

-- name: free_places
-- Some free place of a robot, of its host and of a routine; any of them, so that many who look at once seldom meet.
-- yes or no: of_trial
SELECT s.kind, s.n, (SELECT o.trial_of IS NOT NULL FROM routine o WHERE o.id = %(routine)s) AS of_trial,
  (SELECT IF(o.tryout_of IS NULL, NULL, o.made_by) FROM routine o WHERE o.id = %(routine)s) AS builder FROM (SELECT kind, n, ROW_NUMBER() OVER (PARTITION BY kind ORDER BY RAND()) AS place FROM slot
  WHERE run_id IS NULL AND ((kind = 'robot' AND owner_id = %(robot)s)
  OR (kind IN ('seat','trial') AND owner_id = %(host)s)
  OR (kind = 'limit' AND owner_id = %(routine)s))) s WHERE s.place = 1;

-- name: take_places
-- Takes a place of each of them, as far as they are still free.
UPDATE slot SET run_id = %(run)s WHERE run_id IS NULL AND ((kind = 'robot' AND owner_id = %(robot)s AND n = %(robot_n)s)
  OR (kind = %(seat)s AND owner_id = %(host)s AND n = %(seat_n)s) OR (kind = 'limit' AND owner_id = %(routine)s AND n = %(limit_n)s));

-- name: free_slot
-- Some free place, read without a lock; any of them, so that many who look at once seldom meet.
SELECT n FROM slot WHERE kind = %(kind)s AND owner_id = %(owner)s AND run_id IS NULL ORDER BY RAND() LIMIT 1;

-- name: take_slot
-- Takes that place, if it is still free; only its own row is locked.
UPDATE slot SET run_id = %(run)s WHERE kind = %(kind)s AND owner_id = %(owner)s AND n = %(n)s AND run_id IS NULL;

-- name: free_slots_of
-- A run gives back its places.
UPDATE slot SET run_id = NULL WHERE run_id = %(run)s;

-- name: robots
-- All robots in work with their host.
-- gives: RobotSeen
-- always: seats_used, trial_used, set_up_at, owner_seats, owner_seats_used
SELECT b.id, b.name, b.host_id, h.name AS host, h.heard_at, b.account, h.account AS runner_account,
  h.accounts_json, h.hours_from, h.hours_to, h.hours_zone, h.leaving_at, h.facts_json, h.seats,
  h.maintenance_at, h.maintenance_until, h.maintenance_why, b.tags_json, b.version, h.apps_json, h.disk_free_mb, h.clock_ahead_ms,
  COALESCE(b.set_up_at, b.made_at) AS set_up_at,
  (SELECT COUNT(*) FROM slot s WHERE s.kind = 'seat' AND s.owner_id = b.host_id AND s.run_id IS NOT NULL) AS seats_used,
  h.trial_seats, (SELECT COUNT(*) FROM slot s WHERE s.kind = 'trial' AND s.owner_id = b.host_id AND s.run_id IS NOT NULL) AS trial_used,
  (SELECT s.run_id FROM slot s WHERE s.kind = 'robot' AND s.owner_id = b.id AND s.n = 0) AS busy_with,
  h.owner_id, w.name AS owner, h.in_use_since, IF(h.owner_id IS NULL, 0, (SELECT COUNT(*) FROM slot s JOIN seat_given v ON v.id = s.owner_id
    WHERE s.kind = 'attended' AND (v.person_id = h.owner_id OR v.group_id IN (SELECT m.group_id FROM group_member m WHERE m.person_id = h.owner_id)))) AS owner_seats,
  IF(h.owner_id IS NULL, 0, (SELECT COUNT(s.run_id) FROM slot s JOIN seat_given v ON v.id = s.owner_id
    WHERE s.kind = 'attended' AND (v.person_id = h.owner_id OR v.group_id IN (SELECT m.group_id FROM group_member m WHERE m.person_id = h.owner_id)))) AS owner_seats_used
FROM robot b JOIN host h ON h.id = b.host_id LEFT JOIN person w ON w.id = h.owner_id WHERE b.retired_at IS NULL ORDER BY b.name;

-- name: robots_of_host
-- The robots in work on one host.
-- always: seats_used, trial_used, set_up_at, owner_seats, owner_seats_used
SELECT b.id, b.name, b.host_id, h.name AS host, h.heard_at, b.account, h.account AS runner_account,
  h.accounts_json, h.hours_from, h.hours_to, h.hours_zone, h.leaving_at, h.facts_json, h.seats,
  h.maintenance_at, h.maintenance_until, h.maintenance_why, b.tags_json, b.version, h.apps_json, h.disk_free_mb, h.clock_ahead_ms,
  COALESCE(b.set_up_at, b.made_at) AS set_up_at,
  (SELECT COUNT(*) FROM slot s WHERE s.kind = 'seat' AND s.owner_id = b.host_id AND s.run_id IS NOT NULL) AS seats_used,
  h.trial_seats, (SELECT COUNT(*) FROM slot s WHERE s.kind = 'trial' AND s.owner_id = b.host_id AND s.run_id IS NOT NULL) AS trial_used,
  (SELECT s.run_id FROM slot s WHERE s.kind = 'robot' AND s.owner_id = b.id AND s.n = 0) AS busy_with,
  h.owner_id, w.name AS owner, h.in_use_since, IF(h.owner_id IS NULL, 0, (SELECT COUNT(*) FROM slot s JOIN seat_given v ON v.id = s.owner_id
    WHERE s.kind = 'attended' AND (v.person_id = h.owner_id OR v.group_id IN (SELECT m.group_id FROM group_member m WHERE m.person_id = h.owner_id)))) AS owner_seats,
  IF(h.owner_id IS NULL, 0, (SELECT COUNT(s.run_id) FROM slot s JOIN seat_given v ON v.id = s.owner_id
    WHERE s.kind = 'attended' AND (v.person_id = h.owner_id OR v.group_id IN (SELECT m.group_id FROM group_member m WHERE m.person_id = h.owner_id)))) AS owner_seats_used
FROM robot b JOIN host h ON h.id = b.host_id LEFT JOIN person w ON w.id = h.owner_id WHERE b.host_id = %(host)s AND b.retired_at IS NULL ORDER BY b.name;

-- name: on_hosts
-- How many robots in work each host has.
SELECT host_id, COUNT(*) AS robots FROM robot WHERE retired_at IS NULL GROUP BY host_id;

-- name: touch
-- A robot changed: whoever has it open looks again.
UPDATE robot SET version = version + 1 WHERE id = %(id)s;

-- name: robot_areas
-- Which areas each robot may work in.
SELECT ra.robot_id, ra.area_id, a.name FROM robot_area ra JOIN area a ON a.id = ra.area_id ORDER BY a.name;

-- name: robot_areas_of_host
-- Which areas each robot of one host may work in.
SELECT ra.robot_id, ra.area_id FROM robot b JOIN robot_area ra ON ra.robot_id = b.id
WHERE b.host_id = %(host)s AND b.retired_at IS NULL;

-- name: add_robot
-- A new robot on a host.
INSERT INTO robot (name, host_id, tags_json, account, set_up_at, made_at) VALUES (%(name)s, %(host)s, %(tags)s, %(account)s, %(now)s, %(now)s);

-- name: change_robot
-- Changes a robot, if nobody else did meanwhile; with another host or account its trial run is to be made again.
UPDATE robot SET set_up_at = IF(host_id = %(host)s AND account = %(account)s, set_up_at, %(now)s), name = %(name)s, host_id = %(host)s, tags_json = %(tags)s, account = %(account)s, version = version + 1
WHERE id = %(id)s AND version = %(version)s AND retired_at IS NULL;

-- name: robot
-- One robot.
-- gives: RobotRow
SELECT id, name, host_id, tags_json, account, version FROM robot WHERE id = %(id)s AND retired_at IS NULL;

-- name: allow
-- Allows a robot in an area.
INSERT IGNORE INTO robot_area (robot_id, area_id) VALUES (%(robot)s, %(area)s);

-- name: disallow_all
-- Takes a robot out of every area.
DELETE FROM robot_area WHERE robot_id = %(robot)s;

-- name: accounts_of_host
-- The run-as accounts that the robots of a host work under, and whether a password of each is to be tried there.
-- yes or no: to_prove
SELECT DISTINCT b.account, s.id IS NOT NULL AND (c.answered_at IS NULL OR c.for_version <> s.version) AS to_prove FROM robot b
LEFT JOIN host_account c ON c.host_id = b.host_id AND c.account = b.account LEFT JOIN secret s ON s.id = c.secret_id AND s.retired_at IS NULL
WHERE b.host_id = %(host)s AND b.account <> '' AND b.retired_at IS NULL;

-- name: set_accounts
-- Which run-as accounts the runner of a host can use, and why not.
UPDATE host SET accounts_json = %(accounts)s WHERE id = %(id)s;

-- name: set_hours
-- Within which hours a host works.
-- moves worths: all
UPDATE host SET hours_from = %(start)s, hours_to = %(end)s, hours_zone = %(zone)s WHERE id = %(id)s;

-- name: seats_taken
-- How many seats of a kind are in use on a host.
SELECT COUNT(*) FROM slot WHERE kind = %(kind)s AND owner_id = %(host)s AND run_id IS NOT NULL;

-- name: rename_host
-- Another name for a host.
UPDATE host SET name = %(name)s WHERE id = %(id)s AND retired_at IS NULL;

-- name: retire_robot
-- Takes a robot out of work.
UPDATE robot SET retired_at = %(now)s, version = version + 1 WHERE id = %(id)s AND retired_at IS NULL;

-- name: retire_host
-- Takes a host out of work; its runner is known no more.
-- moves worths: all
UPDATE host SET retired_at = %(now)s, seats = 0, trial_seats = 0, code_hash = NULL, code_until = NULL, token_hash = NULL, next_token_hash = NULL
WHERE id = %(id)s AND retired_at IS NULL;

-- name: held_by_runs
-- Runs that hold a place of one kind at an owner, such as the seats of a host.
SELECT run_id FROM slot WHERE kind = %(kind)s AND owner_id = %(owner)s AND run_id IS NOT NULL ORDER BY run_id;

-- name: set_maintenance
-- A host is in maintenance from now on, or no more (all NULL).
UPDATE host SET maintenance_at = %(at)s, maintenance_until = %(until)s, maintenance_why = %(why)s WHERE id = %(id)s AND retired_at IS NULL;

-- name: revoke_token
-- A host's runner is known no more, whatever it says; a new code connects it again.
UPDATE host SET token_hash = NULL, next_token_hash = NULL, code_hash = NULL, code_until = NULL, machine = '', revoked_at = %(now)s
WHERE id = %(id)s AND token_hash IS NOT NULL;

-- name: retire_trials
-- The routine of a robot's own trial runs goes out of use with it.
UPDATE routine SET retired_at = %(now)s, version = version + 1 WHERE trial_of = %(robot)s AND retired_at IS NULL;
