-- name: of_routine
-- The triggers of a routine.
SELECT id, kind, routine_id, expression, form_json, zone, on_closed, window_from, window_to, missed, missed_hours, latest_minutes, next_at,
  version FROM start_trigger WHERE routine_id = %(id)s AND retired_at IS NULL ORDER BY id;

-- name: one
-- One trigger of a routine.
SELECT id, kind, routine_id, expression, form_json, zone, on_closed, window_from, window_to, missed, missed_hours, latest_minutes, next_at,
  version FROM start_trigger WHERE id = %(id)s AND routine_id = %(routine)s AND retired_at IS NULL;

-- name: add
-- A trigger of a routine.
INSERT INTO start_trigger (kind, routine_id, expression, form_json, zone, on_closed, window_from, window_to, missed, missed_hours,
  latest_minutes, next_at, next_nominal, handled_to, made_by, made_at)
VALUES (%(kind)s, %(routine)s, %(expression)s, %(form)s, %(zone)s, %(on_closed)s, %(window_from)s, %(window_to)s, %(missed)s,
  %(missed_hours)s, %(latest_minutes)s, %(next_at)s, %(next_nominal)s, %(now)s, %(person)s, %(now)s);

-- name: change
-- Changes a trigger, if nobody else did meanwhile; what came before is settled.
UPDATE start_trigger SET expression = %(expression)s, form_json = %(form)s, zone = %(zone)s, on_closed = %(on_closed)s,
  window_from = %(window_from)s, window_to = %(window_to)s, missed = %(missed)s, missed_hours = %(missed_hours)s,
  latest_minutes = %(latest_minutes)s, next_at = %(next_at)s, next_nominal = %(next_nominal)s, handled_to = %(now)s,
  version = version + 1 WHERE id = %(id)s AND version = %(version)s AND retired_at IS NULL;

-- name: retire
-- Ends a trigger; its runs stay.
UPDATE start_trigger SET retired_at = %(now)s, next_at = NULL WHERE id = %(id)s AND routine_id = %(routine)s AND retired_at IS NULL;

-- name: due
-- Triggers whose time has come, but for those that wait after a failure; 200 at once.
SELECT t.id, t.routine_id FROM start_trigger t WHERE t.next_at <= %(now)s
  AND NOT EXISTS (SELECT 1 FROM hitch h WHERE h.work = 'triggers' AND h.row_key = CAST(t.id AS CHAR) AND h.due_at > %(now)s) ORDER BY t.next_at LIMIT 200;

-- name: lock
-- A trigger's row, locked; one that another engine is at is passed over, which only spares work.
-- gives: DueTrigger
SELECT id, kind, routine_id, expression, form_json, zone, on_closed, window_from, window_to, missed, missed_hours, latest_minutes,
  next_at, handled_to, retired_at FROM start_trigger WHERE id = %(id)s FOR UPDATE SKIP LOCKED;

-- name: set_next
-- When a trigger starts next, and up to when it was looked at.
UPDATE start_trigger SET next_at = %(next_at)s, next_nominal = %(next_nominal)s, handled_to = %(handled_to)s WHERE id = %(id)s;

-- name: note
-- What became of an occasion; 0 rows if that was settled before.
INSERT IGNORE INTO trigger_start (trigger_id, occasion, nominal_at, at, what, why, run_id, noted_at)
VALUES (%(trigger)s, %(occasion)s, %(nominal)s, %(at)s, %(what)s, %(why)s, %(run)s, %(now)s);

-- name: known
-- Which of some nominal times were settled before, also by an engine of the release before, which noted nothing.
SELECT nominal_at FROM trigger_start WHERE trigger_id = %(trigger)s AND nominal_at IN %(nominal)s
UNION SELECT nominal_at FROM run WHERE trigger_id = %(trigger)s AND nominal_at IN %(nominal)s;

-- name: history
-- What became of a trigger's nominal times, the latest noted first.
-- gives: TriggerStart
SELECT s.id, s.nominal_at, s.at, s.what, s.why, s.run_id, r.state AS run_state, r.outcome AS run_outcome FROM trigger_start s
LEFT JOIN run r ON r.id = s.run_id WHERE s.trigger_id = %(id)s AND s.id < %(before)s ORDER BY s.id DESC LIMIT %(limit)s;

-- name: coming
-- What the clock starts next.
-- always: next_at
SELECT t.id, t.routine_id, o.name AS routine, t.expression, t.zone, t.on_closed, t.next_at FROM start_trigger t
JOIN routine o ON o.id = t.routine_id WHERE t.next_at IS NOT NULL AND (%(everywhere)s OR o.area_id IN %(areas)s) ORDER BY t.next_at LIMIT 8;

-- name: there
-- Whether a routine has, or had, a trigger.
SELECT COUNT(*) FROM start_trigger WHERE id = %(id)s AND routine_id = %(routine)s;

-- name: ended
-- The triggers of a routine that ended, the latest first, with what each started; the last 50.
-- always: retired_at, started
SELECT t.id, t.kind, t.routine_id, t.expression, t.form_json, t.zone, t.on_closed, t.window_from, t.window_to, t.missed, t.missed_hours,
  t.latest_minutes, t.retired_at, (SELECT COUNT(*) FROM trigger_start s WHERE s.trigger_id = t.id AND s.what = 'started') AS started,
  (SELECT MAX(s.at) FROM trigger_start s WHERE s.trigger_id = t.id AND s.what = 'started') AS last_at
FROM start_trigger t WHERE t.routine_id = %(id)s AND t.retired_at IS NOT NULL ORDER BY t.retired_at DESC, t.id DESC LIMIT 50;

-- name: within
-- The triggers that start something for robots until a time, with their routines.
-- gives: ComingTrigger
-- always: next_at
SELECT t.id, t.kind, t.routine_id, t.expression, t.form_json, t.zone, t.on_closed, t.window_from, t.window_to, t.missed, t.missed_hours,
  t.latest_minutes, o.name AS routine, o.area_id, o.limit_minutes, t.next_at FROM start_trigger t JOIN routine o ON o.id = t.routine_id
WHERE t.next_at <= %(until)s AND t.retired_at IS NULL AND o.retired_at IS NULL AND o.attended = '' ORDER BY t.next_at, t.id;

-- name: runs_of_host
-- What worked on a host since a time, or works there, the latest begun first.
-- gives: HostRuns
SELECT r.id, o.name AS routine, b.name AS robot, r.state, g.started_at, g.ended_at FROM robot b
JOIN run_segment g ON g.robot_id = b.id AND g.started_at >= %(since)s JOIN run r ON r.id = g.run_id JOIN routine o ON o.id = r.routine_id
WHERE b.host_id = %(host)s AND g.host_id = %(host)s AND (%(everywhere)s OR o.area_id IN %(areas)s) ORDER BY g.started_at DESC LIMIT %(limit)s;
