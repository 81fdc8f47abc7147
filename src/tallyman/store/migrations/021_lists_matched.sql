-- A line of a list: its cells as they came where somebody mended them, how it does not fit its head, and
-- what somebody said of one that looks like another.
ALTER TABLE idea_line
  ADD COLUMN IF NOT EXISTS came_json JSON NULL,
  ADD COLUMN IF NOT EXISTS broken_json JSON NULL,
  ADD COLUMN IF NOT EXISTS choice VARCHAR(10) NULL,
  DROP CONSTRAINT IF EXISTS ck_line_state,
  DROP CONSTRAINT IF EXISTS ck_line_choice;
ALTER TABLE idea_line
  ADD CONSTRAINT ck_line_state CHECK (state IN ('open','in','here','fault','repeat','conflict')),
  ADD CONSTRAINT ck_line_choice CHECK (choice IN ('same','another'));
-- What a line said when it came in, by field, to be compared with what comes again under its mark.
ALTER TABLE idea_origin ADD COLUMN IF NOT EXISTS content_json JSON NULL;
-- When it was handed in before it came here.
ALTER TABLE idea ADD COLUMN IF NOT EXISTS handed_in_on DATE NULL;
