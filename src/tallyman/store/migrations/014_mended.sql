-- Ideas are found by the words of their title and description, instead of all being read.
ALTER TABLE idea ADD FULLTEXT KEY IF NOT EXISTS ft_idea_words (title, what);
-- Segments of runs that a process of a release before segments ended: repaired once, here.
UPDATE run_segment g JOIN run r ON r.id = g.run_id SET g.ended_at = r.ended_at, g.ended_as = r.state
WHERE g.ended_at IS NULL AND r.ended_at IS NOT NULL;
-- Since when an idea is out of service; its costs of a month's end stop there.
ALTER TABLE idea ADD COLUMN IF NOT EXISTS retired_on DATE NULL;
