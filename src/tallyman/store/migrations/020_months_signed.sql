-- What was open in a month when it was closed, in words.
ALTER TABLE tally_month ADD COLUMN IF NOT EXISTS open_json JSON NULL;
