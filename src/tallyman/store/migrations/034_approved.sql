-- Areas that ask for a second person's yes to each release and the secrets it asks for; and who gave it.
ALTER TABLE area ADD COLUMN IF NOT EXISTS approve_releases BOOLEAN NOT NULL DEFAULT FALSE;
CREATE TABLE IF NOT EXISTS release_approval (
  release_id BIGINT PRIMARY KEY,
  person_id BIGINT NOT NULL,
  at DATETIME(6) NOT NULL,
  note VARCHAR(500) NOT NULL DEFAULT '',
  KEY ix_approval_person (person_id),
  CONSTRAINT fk_approval_release FOREIGN KEY (release_id) REFERENCES package_release (id),
  CONSTRAINT fk_approval_person FOREIGN KEY (person_id) REFERENCES person (id)
);
