-- The public halves of keys by which builders sign, and the signature of each release.
CREATE TABLE IF NOT EXISTS signing_key (
  id BIGINT AUTO_INCREMENT PRIMARY KEY,
  person_id BIGINT NOT NULL,
  name VARCHAR(80) NOT NULL,
  public_half CHAR(44) NOT NULL,
  made_at DATETIME(6) NOT NULL,
  retired_at DATETIME(6) NULL,
  UNIQUE KEY uq_signing_key (public_half),
  KEY ix_signing_key_person (person_id, id),
  CONSTRAINT fk_signing_key_person FOREIGN KEY (person_id) REFERENCES person (id)
);
ALTER TABLE package_release ADD COLUMN IF NOT EXISTS signature CHAR(88) NULL;
ALTER TABLE package_release ADD COLUMN IF NOT EXISTS signing_key_id BIGINT NULL;
ALTER TABLE package_release DROP FOREIGN KEY IF EXISTS fk_release_key;
ALTER TABLE package_release ADD CONSTRAINT fk_release_key FOREIGN KEY (signing_key_id) REFERENCES signing_key (id);
