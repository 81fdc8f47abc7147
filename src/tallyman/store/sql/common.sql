-- name: audit
-- Records who did what to which object.
INSERT INTO audit (at, person_id, who, address, action, object, words, before_json, after_json, salt, content_digest)
VALUES (%(at)s, %(person)s, %(who)s, %(address)s, %(action)s, %(object)s, %(words)s, %(before)s, %(after)s, %(salt)s, %(digest)s);

-- name: history
-- What happened to one object, latest first.
SELECT id, at, who, action, words, before_json, after_json FROM audit
WHERE object = %(object)s ORDER BY id DESC LIMIT 60;

-- name: effect
-- Writes down what must follow from a change; the engine carries it out.
INSERT INTO effect (kind, object, payload_json, made_at, due_at)
VALUES (%(kind)s, %(object)s, %(payload)s, %(now)s, %(now)s);

-- name: changed
-- A hint for live pages that an object of this subject changed.
INSERT INTO change_note (subject, object_id, at) VALUES (%(subject)s, %(id)s, %(now)s);

-- name: changes_since
-- Hints after a number; numbers may commit out of order, so the reader asks with an overlap; 500 at once.
-- gives: ChangeNote
SELECT id, subject, object_id FROM change_note WHERE id > %(after)s ORDER BY id LIMIT 500;

-- name: last_change
-- The newest hint.
SELECT COALESCE(MAX(id), 0) FROM change_note;

-- name: prune_changes
-- Hints are of use for minutes only.
DELETE FROM change_note WHERE at < %(before)s LIMIT 5000;

-- name: company
-- Whose installation this is, its zone and currency.
-- gives: Company
SELECT name, zone, currency FROM company WHERE id = 1;

-- name: set_company
-- Names the company once.
-- moves worths: all
INSERT INTO company (id, name, zone, currency) VALUES (1, %(name)s, %(zone)s, %(currency)s)
ON DUPLICATE KEY UPDATE name = VALUE(name), zone = VALUE(zone), currency = VALUE(currency);

-- name: closed_days
-- The company's closed days.
-- gives: ClosedDay
SELECT day, name FROM closed_day ORDER BY day;

-- name: closed_days_of
-- The closed days of an area and of all above it, beside the company's.
SELECT c.day, c.name, c.area_id FROM area_above p JOIN area_closed_day c ON c.area_id = p.above_id WHERE p.area_id = %(area)s ORDER BY c.day;

-- name: closed_days_of_many
-- The closed days of some areas, each with those of all above it, beside the company's.
SELECT p.area_id, c.day FROM area_above p JOIN area_closed_day c ON c.area_id = p.above_id WHERE p.area_id IN %(areas)s;

-- name: add_closed_day
-- A day on which nobody works.
-- moves worths: all
INSERT INTO closed_day (day, name) VALUES (%(day)s, %(name)s) ON DUPLICATE KEY UPDATE name = VALUE(name);

-- name: database_now
-- The database's own clock, only to compare it with ours.
SELECT UTC_TIMESTAMP(6);

-- name: prune_marks
-- Marks of commits are asked for within seconds only.
DELETE FROM commit_mark WHERE at < UTC_TIMESTAMP(6) - INTERVAL 1 HOUR LIMIT 20000;
