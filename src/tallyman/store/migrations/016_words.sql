-- What is one of some words is held to them, as the other columns of the kind are.
ALTER TABLE idea ADD CONSTRAINT IF NOT EXISTS ck_idea_building CHECK (building IS NULL OR building IN ('open','taken up','stuck','on trial'));
ALTER TABLE idea ADD CONSTRAINT IF NOT EXISTS ck_idea_route CHECK (route IN ('robot','changed procedure','training','change in a system','something else'));
ALTER TABLE idea ADD CONSTRAINT IF NOT EXISTS ck_idea_source CHECK (source IN ('interview','the team','spreadsheet','a program','runs already','a study'));
ALTER TABLE idea_stage ADD CONSTRAINT IF NOT EXISTS ck_stage_to CHECK (stage IN ('draft','noted','screened','sized','backed','building','in service','retired','parked','declined','merged','withdrawn'));
ALTER TABLE idea_stage ADD CONSTRAINT IF NOT EXISTS ck_stage_from CHECK (from_stage IS NULL OR from_stage IN ('draft','noted','screened','sized','backed','building','in service','retired','parked','declined','merged','withdrawn'));
ALTER TABLE idea_file ADD CONSTRAINT IF NOT EXISTS ck_file_kind CHECK (kind IN ('how-to','drawing','example in','example out','something else'));
ALTER TABLE run_segment ADD CONSTRAINT IF NOT EXISTS ck_segment_ended CHECK (ended_as IS NULL OR ended_as IN ('waiting','running','held','done','failed','cancelled','lapsed','lost'));
