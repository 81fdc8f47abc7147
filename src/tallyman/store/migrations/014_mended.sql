-- Ideas are found by the words of their title and description, instead of all being read.
ALTER TABLE idea ADD FULLTEXT KEY IF NOT EXISTS ft_idea_words (title, what);
