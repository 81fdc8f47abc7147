-- Keeping ideas moving: asking back, parking, merging, other routes; talk, voices and followers.
-- Only additions: processes of the release before go on with the stages they know.
ALTER TABLE idea
  ADD COLUMN IF NOT EXISTS asked_on DATE NULL,
  ADD COLUMN IF NOT EXISTS parked_until DATE NULL,
  ADD COLUMN IF NOT EXISTS merged_into BIGINT NULL,
  ADD COLUMN IF NOT EXISTS route VARCHAR(30) NOT NULL DEFAULT 'robot',
  ADD COLUMN IF NOT EXISTS measure VARCHAR(1000) NOT NULL DEFAULT '',
  ADD COLUMN IF NOT EXISTS measure_owner_id BIGINT NULL,
  ADD COLUMN IF NOT EXISTS stuck_why VARCHAR(1000) NOT NULL DEFAULT '',
  ADD INDEX IF NOT EXISTS ix_idea_parked (parked_until, id),
  ADD INDEX IF NOT EXISTS ix_idea_merged (merged_into, id),
  ADD INDEX IF NOT EXISTS ix_idea_measure (measure_owner_id, stage),
  ADD FOREIGN KEY IF NOT EXISTS fk_idea_merged (merged_into) REFERENCES idea (id),
  ADD FOREIGN KEY IF NOT EXISTS fk_idea_measure (measure_owner_id) REFERENCES person (id);
ALTER TABLE idea_stage
  MODIFY person_id BIGINT NULL;
CREATE TABLE IF NOT EXISTS idea_comment (
  id BIGINT AUTO_INCREMENT PRIMARY KEY,
  idea_id BIGINT NOT NULL,
  person_id BIGINT NOT NULL,
  text VARCHAR(4000) NOT NULL,
  mentions_json JSON NOT NULL,
  at DATETIME(6) NOT NULL,
  edited_at DATETIME(6) NULL,
  taken_back_at DATETIME(6) NULL,
  KEY ix_comment_idea (idea_id, id),
  KEY ix_comment_person (person_id, id),
  CONSTRAINT fk_comment_idea FOREIGN KEY (idea_id) REFERENCES idea (id),
  CONSTRAINT fk_comment_person FOREIGN KEY (person_id) REFERENCES person (id)
);
CREATE TABLE IF NOT EXISTS idea_voice (
  idea_id BIGINT NOT NULL,
  person_id BIGINT NOT NULL,
  does_it BOOLEAN NOT NULL DEFAULT FALSE,
  volume_json JSON NULL,
  note VARCHAR(1000) NOT NULL DEFAULT '',
  from_idea_id BIGINT NULL,
  at DATETIME(6) NOT NULL,
  PRIMARY KEY (idea_id, person_id),
  KEY ix_voice_person (person_id, idea_id),
  CONSTRAINT fk_voice_idea FOREIGN KEY (idea_id) REFERENCES idea (id),
  CONSTRAINT fk_voice_from FOREIGN KEY (from_idea_id) REFERENCES idea (id),
  CONSTRAINT fk_voice_person FOREIGN KEY (person_id) REFERENCES person (id)
);
CREATE TABLE IF NOT EXISTS idea_follower (
  idea_id BIGINT NOT NULL,
  person_id BIGINT NOT NULL,
  at DATETIME(6) NOT NULL,
  PRIMARY KEY (idea_id, person_id),
  KEY ix_follower_person (person_id, idea_id),
  CONSTRAINT fk_follower_idea FOREIGN KEY (idea_id) REFERENCES idea (id),
  CONSTRAINT fk_follower_person FOREIGN KEY (person_id) REFERENCES person (id)
);
