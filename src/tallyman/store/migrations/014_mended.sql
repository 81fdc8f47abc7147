-- Ideas are found by the words of their title and description, instead of all being read.
ALTER TABLE idea ADD FULLTEXT KEY IF NOT EXISTS ft_idea_words (title, what);
-- Since when an idea is out of service; its costs of a month's end stop there.
ALTER TABLE idea ADD COLUMN IF NOT EXISTS retired_on DATE NULL;
