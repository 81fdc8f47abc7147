-- What an idea is worth: of which day and by which versions it was reckoned, and whether it is to be reckoned anew.
-- The key is the house's revision × 1,000,000 + the day's ordinal; 0 is to be reckoned, NULL has nothing to reckon from.
ALTER TABLE idea ADD COLUMN IF NOT EXISTS worth_key BIGINT NULL, ADD COLUMN IF NOT EXISTS worth_on DATE NULL,
  ADD COLUMN IF NOT EXISTS worth_by_json JSON NULL, ADD KEY IF NOT EXISTS ix_idea_worth_key (worth_key, id);
CREATE TABLE IF NOT EXISTS worth_mark (
  id TINYINT PRIMARY KEY,
  revision BIGINT NOT NULL
);
UPDATE idea SET worth_key = 0 WHERE worth_key IS NULL AND id IN (SELECT idea_id FROM fact);
