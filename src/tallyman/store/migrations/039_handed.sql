-- Files that a run handed over, by name: the latest of a name is kept.
CREATE TABLE IF NOT EXISTS run_file (
  id BIGINT AUTO_INCREMENT PRIMARY KEY,
  run_id BIGINT NOT NULL,
  name VARCHAR(120) NOT NULL,
  digest CHAR(64) NOT NULL,
  size BIGINT NOT NULL,
  at DATETIME(6) NOT NULL,
  UNIQUE KEY uq_run_file (run_id, name),
  CONSTRAINT fk_run_file FOREIGN KEY (run_id) REFERENCES run (id)
);
-- How far a run says it is: done, of how many, and words.
ALTER TABLE run ADD COLUMN IF NOT EXISTS progress_json JSON NULL;
