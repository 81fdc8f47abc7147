-- name: newest
-- The version of a rule set that is in force.
SELECT kind, version, content_json FROM rule_set WHERE kind = %(kind)s ORDER BY version DESC LIMIT 1;

-- name: at
-- One version of a rule set.
SELECT kind, version, content_json FROM rule_set WHERE kind = %(kind)s AND version = %(version)s;

-- name: versions
-- All versions of a rule set, the newest first.
SELECT r.kind, r.version, r.content_json, r.note, r.made_at, p.name AS person FROM rule_set r
JOIN person p ON p.id = r.made_by WHERE r.kind = %(kind)s ORDER BY r.version DESC;

-- name: kinds
-- Rule sets whose kind begins so.
SELECT DISTINCT kind FROM rule_set WHERE kind LIKE %(begins)s ORDER BY kind;

-- name: add
-- A new version; two that are made at once clash.
-- moves worths: all
INSERT INTO rule_set (kind, version, content_json, note, made_by, made_at)
VALUES (%(kind)s, %(version)s, %(content)s, %(note)s, %(by)s, %(now)s);
