-- The plain page on which colleagues run a routine: what it does, what it asks, who looks after it, for whom.
CREATE TABLE IF NOT EXISTS service_page (
  id BIGINT AUTO_INCREMENT PRIMARY KEY,
  routine_id BIGINT NOT NULL,
  title VARCHAR(120) NOT NULL,
  does VARCHAR(2000) NOT NULL,
  needs VARCHAR(1000) NOT NULL DEFAULT '',
  asks_json JSON NOT NULL,
  keeper_id BIGINT NOT NULL,
  for_all BOOLEAN NOT NULL DEFAULT TRUE,
  state VARCHAR(12) NOT NULL DEFAULT 'open',
  why VARCHAR(500) NOT NULL DEFAULT '',
  state_at DATETIME(6) NOT NULL,
  made_by BIGINT NOT NULL,
  made_at DATETIME(6) NOT NULL,
  version INT NOT NULL DEFAULT 1,
  UNIQUE KEY uq_service_page (routine_id),
  KEY ix_service_title (title),
  CONSTRAINT ck_service_state CHECK (state IN ('open', 'paused', 'taken back')),
  CONSTRAINT fk_service_routine FOREIGN KEY (routine_id) REFERENCES routine (id),
  CONSTRAINT fk_service_keeper FOREIGN KEY (keeper_id) REFERENCES person (id),
  CONSTRAINT fk_service_maker FOREIGN KEY (made_by) REFERENCES person (id)
);
-- For which groups a page is that is not for all.
CREATE TABLE IF NOT EXISTS service_group (
  page_id BIGINT NOT NULL,
  group_id BIGINT NOT NULL,
  PRIMARY KEY (page_id, group_id),
  CONSTRAINT fk_service_group_page FOREIGN KEY (page_id) REFERENCES service_page (id),
  CONSTRAINT fk_service_group FOREIGN KEY (group_id) REFERENCES person_group (id)
);
-- The pages that somebody keeps at hand.
CREATE TABLE IF NOT EXISTS service_favourite (
  person_id BIGINT NOT NULL,
  page_id BIGINT NOT NULL,
  PRIMARY KEY (person_id, page_id),
  CONSTRAINT fk_favourite_person FOREIGN KEY (person_id) REFERENCES person (id),
  CONSTRAINT fk_favourite_page FOREIGN KEY (page_id) REFERENCES service_page (id)
);
-- Whose runs were started on which page.
CREATE TABLE IF NOT EXISTS service_run (
  run_id BIGINT PRIMARY KEY,
  page_id BIGINT NOT NULL,
  person_id BIGINT NOT NULL,
  KEY ix_service_run_person (person_id, run_id),
  KEY ix_service_run_page (page_id, run_id),
  CONSTRAINT fk_service_run FOREIGN KEY (run_id) REFERENCES run (id),
  CONSTRAINT fk_service_run_page FOREIGN KEY (page_id) REFERENCES service_page (id),
  CONSTRAINT fk_service_run_person FOREIGN KEY (person_id) REFERENCES person (id)
);
-- What colleagues say about a page: thanks, marks with a remark (the latest of each person), and wishes.
CREATE TABLE IF NOT EXISTS service_word (
  id BIGINT AUTO_INCREMENT PRIMARY KEY,
  page_id BIGINT NOT NULL,
  person_id BIGINT NOT NULL,
  kind VARCHAR(8) NOT NULL,
  marks TINYINT NULL,
  remark VARCHAR(1000) NOT NULL DEFAULT '',
  idea_id BIGINT NULL,
  at DATETIME(6) NOT NULL,
  once VARCHAR(8) NULL,
  UNIQUE KEY uq_service_word (page_id, person_id, once),
  KEY ix_service_word_page (page_id, id),
  CONSTRAINT ck_service_word_kind CHECK (kind IN ('thanks', 'rating', 'wish')),
  CONSTRAINT ck_service_marks CHECK (marks BETWEEN 1 AND 5),
  CONSTRAINT fk_service_word_page FOREIGN KEY (page_id) REFERENCES service_page (id),
  CONSTRAINT fk_service_word_person FOREIGN KEY (person_id) REFERENCES person (id),
  CONSTRAINT fk_service_word_idea FOREIGN KEY (idea_id) REFERENCES idea (id)
);
