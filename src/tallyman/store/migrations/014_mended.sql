-- Ideas are found by the words of their title and description, instead of all being read.
ALTER TABLE idea ADD FULLTEXT KEY IF NOT EXISTS ft_idea_words (title, what);
-- Since when an idea is out of service; its costs of a month's end stop there.
ALTER TABLE idea ADD COLUMN IF NOT EXISTS retired_on DATE NULL;
-- What long work came to, for whoever began it; a file it made is kept for a day.
ALTER TABLE errand ADD COLUMN IF NOT EXISTS result_json JSON NULL;
CREATE TABLE IF NOT EXISTS errand_file (
  errand_id BIGINT PRIMARY KEY,
  name VARCHAR(200) NOT NULL,
  media_type VARCHAR(100) NOT NULL,
  data MEDIUMBLOB NOT NULL,
  at DATETIME(6) NOT NULL,
  KEY ix_errand_file_at (at),
  CONSTRAINT fk_errand_file FOREIGN KEY (errand_id) REFERENCES errand (id)
);
