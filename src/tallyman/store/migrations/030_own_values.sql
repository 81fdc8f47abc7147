-- A value of a secret's own for one host or one robot: a secret like any other, found by way of the one it belongs to.
ALTER TABLE secret
  ADD COLUMN IF NOT EXISTS own_of BIGINT NULL,
  ADD COLUMN IF NOT EXISTS host_id BIGINT NULL,
  ADD COLUMN IF NOT EXISTS robot_id BIGINT NULL,
  ADD UNIQUE KEY IF NOT EXISTS uq_secret_host (own_of, host_id),
  ADD UNIQUE KEY IF NOT EXISTS uq_secret_robot (own_of, robot_id),
  ADD FOREIGN KEY IF NOT EXISTS fk_secret_own (own_of) REFERENCES secret (id),
  ADD FOREIGN KEY IF NOT EXISTS fk_secret_host (host_id) REFERENCES host (id),
  ADD FOREIGN KEY IF NOT EXISTS fk_secret_robot (robot_id) REFERENCES robot (id);
