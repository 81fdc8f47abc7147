-- name: put
-- Keeps a secret.
INSERT INTO secret (name, kind, area_id, about, key_id, wrapped, sealed, expires_on, made_by, made_at, changed_at)
VALUES (%(name)s, %(kind)s, %(area)s, %(about)s, %(key)s, %(wrapped)s, %(sealed)s, %(expires)s, %(by)s, %(now)s, %(now)s);

-- name: by_name
-- A secret in use, by kind and name, with its sealed value.
SELECT id, name, kind, area_id, key_id, wrapped, sealed, expires_on, version FROM secret
WHERE kind = %(kind)s AND name = %(name)s AND retired_at IS NULL;

-- name: one
-- A secret in use, without its value.
-- gives: Secret
SELECT s.id, s.name, s.kind, s.area_id, a.name AS area, s.about, s.expires_on, s.version FROM secret s
LEFT JOIN area a ON a.id = s.area_id WHERE s.id = %(id)s AND s.retired_at IS NULL;

-- name: lock
-- A secret in use, without its value, locked.
-- gives: Secret
SELECT s.id, s.name, s.kind, s.area_id, a.name AS area, s.about, s.expires_on, s.version FROM secret s
LEFT JOIN area a ON a.id = s.area_id WHERE s.id = %(id)s AND s.retired_at IS NULL FOR UPDATE;

-- name: replace
-- Another value for a secret, unless it was changed meanwhile.
UPDATE secret SET key_id = %(key)s, wrapped = %(wrapped)s, sealed = %(sealed)s, changed_at = %(now)s, told_on = NULL,
  version = version + 1 WHERE id = %(id)s AND version = %(version)s AND retired_at IS NULL;

-- name: change
-- What a secret is for and until when it is good, unless it was changed meanwhile.
UPDATE secret SET about = %(about)s, area_id = %(area)s, expires_on = %(expires)s, told_on = NULL, version = version + 1
WHERE id = %(id)s AND version = %(version)s AND retired_at IS NULL;

-- name: retire
-- Takes a secret out of use: its value is gone, its name is free again.
UPDATE secret SET retired_at = %(now)s, name = CONCAT(LEFT(name, 100), ' #', id), wrapped = '', sealed = '', key_id = '',
  version = version + 1 WHERE id = %(id)s AND retired_at IS NULL;

-- name: listed
-- Secrets of some kinds in the areas that the reader may see, with when each was used last.
SELECT s.id, s.name, s.kind, s.area_id, a.name AS area, s.about, s.expires_on, s.changed_at, s.version, p.name AS made_by,
  (SELECT MAX(u.at) FROM secret_use u WHERE u.secret_id = s.id) AS used_at
FROM secret s LEFT JOIN area a ON a.id = s.area_id LEFT JOIN person p ON p.id = s.made_by
WHERE s.retired_at IS NULL AND s.own_of IS NULL AND s.kind IN %(kinds)s AND (%(everywhere)s OR s.area_id IN %(areas)s) ORDER BY s.name, s.id;

-- name: add_use
-- Notes who used a secret for what; the same within the hour is noted once.
INSERT INTO secret_use (secret_id, at, who, what) SELECT %(id)s, %(now)s, %(who)s, %(what)s FROM DUAL
WHERE NOT EXISTS (SELECT 1 FROM secret_use u WHERE u.secret_id = %(id)s AND u.who = %(who)s AND u.what = %(what)s AND u.at > %(since)s);

-- name: uses
-- The latest uses of a secret, and of the values that it has or had of its own.
-- gives: UseOut
SELECT id, at, who, what FROM secret_use WHERE secret_id = %(id)s OR secret_id IN (SELECT o.id FROM secret o WHERE o.own_of = %(id)s)
ORDER BY id DESC LIMIT 100;

-- name: of_other_keys
-- Secrets whose own key is wrapped by another key than the current one; 50 at once.
SELECT id, kind, name, key_id, wrapped, version FROM secret WHERE key_id NOT IN (%(key)s, '') ORDER BY key_id, id LIMIT 50;

-- name: rewrap
-- The same value, its key wrapped anew, unless it was changed meanwhile.
UPDATE secret SET key_id = %(key)s, wrapped = %(wrapped)s WHERE id = %(id)s AND key_id = %(old)s AND version = %(version)s;

-- name: keys
-- How many secrets each key wraps.
SELECT key_id, COUNT(*) AS secrets FROM secret WHERE key_id <> '' GROUP BY key_id;

-- name: ending
-- Secrets that end soon or ended, of which nobody was told yet; a hundred at once.
SELECT s.id, IF(s.own_of IS NULL, s.name, CONCAT(SUBSTRING_INDEX(s.name, '@', 1), ' of ', COALESCE(h.name, b.name, 'one host'))) AS name,
  s.kind, s.area_id, s.expires_on FROM secret s LEFT JOIN host h ON h.id = s.host_id LEFT JOIN robot b ON b.id = s.robot_id
WHERE s.retired_at IS NULL AND s.expires_on <= %(soon)s
  AND (s.told_on IS NULL OR (s.told_on < s.expires_on AND s.expires_on <= %(today)s))
  AND NOT EXISTS (SELECT 1 FROM hitch h WHERE h.work = 'secrets' AND h.row_key = CAST(s.id AS CHAR) AND h.due_at > %(now)s) ORDER BY s.expires_on, s.id LIMIT 100;

-- name: told
-- It was told that a secret ends; whoever writes it first tells.
UPDATE secret SET told_on = %(today)s WHERE id = %(id)s AND (told_on IS NULL OR told_on < %(today)s);

-- name: routines_using
-- The routines in use whose release asks for a secret.
SELECT o.id, o.name, o.area_id FROM routine o JOIN package_release r ON r.id = o.release_id
WHERE o.retired_at IS NULL AND r.secrets_json IS NOT NULL AND JSON_CONTAINS(r.secrets_json, JSON_QUOTE(%(name)s)) ORDER BY o.name;

-- name: setting
-- One of the house's settings.
SELECT name, value_json, version, changed_at FROM setting WHERE name = %(name)s;

-- name: add_setting
-- A setting that nobody made before.
INSERT INTO setting (name, value_json, changed_by, changed_at) VALUES (%(name)s, %(value)s, %(by)s, %(now)s);

-- name: change_setting
-- Changes a setting, unless somebody else did meanwhile.
UPDATE setting SET value_json = %(value)s, changed_by = %(by)s, changed_at = %(now)s, version = version + 1
WHERE name = %(name)s AND version = %(version)s;

-- name: names
-- The names of secrets of some kinds.
SELECT name FROM secret WHERE kind IN %(kinds)s AND retired_at IS NULL;

-- name: readable
-- Those of some values that are no secrets, sealed.
-- gives: SafeByName
SELECT id, name, kind, area_id, key_id, wrapped, sealed, expires_on, version FROM secret
WHERE id IN %(ids)s AND kind = 'named' AND retired_at IS NULL;
