-- How the runs of the last hour ended, however many ended before.
ALTER TABLE run ADD KEY IF NOT EXISTS ix_run_ended (ended_at, state);
-- Which ideas were withdrawn before they were handed in, for every list of ideas.
ALTER TABLE idea_stage ADD KEY IF NOT EXISTS ix_stage_from (stage, from_stage, idea_id);
