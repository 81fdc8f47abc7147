-- name: of_secret
-- The values that a secret has of its own for hosts and robots, with when each was used last.
-- gives: OwnValue
SELECT s.id, s.host_id, h.name AS host, s.robot_id, b.name AS robot, s.expires_on, s.changed_at, p.name AS made_by,
  (SELECT MAX(u.at) FROM secret_use u WHERE u.secret_id = s.id) AS used_at FROM secret s LEFT JOIN host h ON h.id = s.host_id
LEFT JOIN robot b ON b.id = s.robot_id LEFT JOIN person p ON p.id = s.made_by
WHERE s.own_of = %(secret)s AND s.retired_at IS NULL ORDER BY COALESCE(h.name, b.name), s.id;

-- name: for_run
-- The values of their own that some secrets have for a robot and its host; the robot's goes first.
SELECT s.own_of, s.name, s.kind FROM secret s WHERE s.own_of IN %(ids)s AND s.retired_at IS NULL
  AND (s.robot_id = %(robot)s OR s.host_id = %(host)s) ORDER BY s.own_of, s.robot_id IS NULL;

-- name: all_of
-- Every value of their own that some secrets have, sealed.
-- gives: SafeByName
SELECT id, name, kind, area_id, key_id, wrapped, sealed, expires_on, version FROM secret
WHERE own_of IN %(ids)s AND retired_at IS NULL;

-- name: known
-- The value of a secret's own for a host or a robot, sealed.
-- gives: SafeByName
SELECT id, name, kind, area_id, key_id, wrapped, sealed, expires_on, version FROM secret
WHERE own_of = %(secret)s AND retired_at IS NULL AND (host_id = %(host)s OR robot_id = %(robot)s);

-- name: belongs
-- A sealed value is another secret's own, for a host or a robot.
UPDATE secret SET own_of = %(secret)s, host_id = %(host)s, robot_id = %(robot)s WHERE id = %(id)s;

-- name: follow
-- The values of a secret's own belong to its area.
UPDATE secret SET area_id = %(area)s WHERE own_of = %(secret)s AND retired_at IS NULL;

-- name: let_go
-- A value of a secret's own stands for its host or robot no more.
UPDATE secret SET host_id = NULL, robot_id = NULL WHERE id = %(id)s AND own_of = %(secret)s;

-- name: host
-- What a host is called.
SELECT name FROM host WHERE id = %(id)s AND retired_at IS NULL;

-- name: robot
-- What a robot is called.
SELECT name FROM robot WHERE id = %(id)s AND retired_at IS NULL;
