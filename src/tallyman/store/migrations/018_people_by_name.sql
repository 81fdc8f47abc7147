-- People in the order of their names, page by page.
ALTER TABLE person ADD KEY IF NOT EXISTS ix_person_name (name, id);
