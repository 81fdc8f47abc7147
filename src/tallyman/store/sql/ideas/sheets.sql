-- name: add
-- A spreadsheet as it was read.
INSERT INTO idea_sheet (person_id, name, digest, page, head_json, match_json, made_at)
VALUES (%(person)s, %(name)s, %(digest)s, %(page)s, %(head)s, %(match)s, %(now)s);

-- name: add_line
-- A line of a spreadsheet.
INSERT INTO idea_line (sheet_id, line, cells_json, broken_json) VALUES (%(sheet)s, %(line)s, %(cells)s, %(broken)s);

-- name: one
-- A spreadsheet, with how far bringing it in came.
-- gives: IdeaSheet
SELECT s.id, s.person_id, s.name, s.digest, s.page, s.head_json, s.match_json, s.errand_id, s.version, s.made_at,
  e.state AS errand_state, e.done AS errand_done, e.total AS errand_total, e.words AS errand_words
FROM idea_sheet s LEFT JOIN errand e ON e.id = s.errand_id WHERE s.id = %(id)s;

-- name: of_person
-- The spreadsheets that somebody brought, the latest 20.
-- gives: SheetRow
SELECT s.id, s.name, s.made_at, e.state AS errand_state, e.words AS errand_words FROM idea_sheet s
LEFT JOIN errand e ON e.id = s.errand_id WHERE s.person_id = %(person)s ORDER BY s.id DESC LIMIT 20;

-- name: set_match
-- Which column is what.
UPDATE idea_sheet SET match_json = %(match)s, version = version + 1 WHERE id = %(id)s AND version = %(version)s;

-- name: set_errand
-- Bringing it in has begun.
UPDATE idea_sheet SET errand_id = %(errand)s, version = version + 1 WHERE id = %(id)s AND version = %(version)s;

-- name: lines
-- All lines of a spreadsheet.
SELECT line, cells_json, came_json, broken_json, choice, state, idea_id, said_json FROM idea_line WHERE sheet_id = %(sheet)s ORDER BY line;

-- name: open_lines
-- The next lines that were not looked at.
SELECT l.line, l.cells_json, l.broken_json, l.choice FROM idea_line l WHERE l.sheet_id = %(sheet)s AND l.state = 'open'
  AND NOT EXISTS (SELECT 1 FROM hitch h WHERE h.work = 'sheet lines' AND h.row_key = CONCAT(l.sheet_id, ':', l.line) AND h.due_at > %(now)s)
ORDER BY l.line LIMIT %(most)s;

-- name: lock_line
-- A line, before it comes in.
SELECT state FROM idea_line WHERE sheet_id = %(sheet)s AND line = %(line)s FOR UPDATE;

-- name: set_line
-- What became of a line.
UPDATE idea_line SET state = %(state)s, idea_id = %(idea)s, said_json = %(said)s WHERE sheet_id = %(sheet)s AND line = %(line)s;

-- name: reopen_faults
-- Lines that stayed out are looked at again.
UPDATE idea_line SET state = 'open', said_json = NULL WHERE sheet_id = %(sheet)s AND state IN ('fault','conflict');

-- name: counts
-- What became of the lines.
SELECT state, COUNT(*) AS line_count FROM idea_line WHERE sheet_id = %(sheet)s GROUP BY state;

-- name: origins
-- Which marks came in before, as which idea.
SELECT o.mark, o.idea_id, o.content_json, i.title, i.what FROM idea_origin o JOIN idea i ON i.id = o.idea_id WHERE o.mark IN %(marks)s;

-- name: add_origin
-- From now on this mark is here.
INSERT INTO idea_origin (mark, idea_id, content_json, at) VALUES (%(mark)s, %(idea)s, %(content)s, %(now)s);

-- name: people
-- Who can be named in a line, by mail address or name.
SELECT id, name, email FROM person WHERE active AND state IN ('active','invited') ORDER BY id;

-- name: line_of
-- The line of a spreadsheet that came in as an idea.
SELECT line FROM idea_line WHERE sheet_id = %(sheet)s AND idea_id = %(idea)s AND state = 'in' LIMIT 1;

-- name: set_head
-- Where the head of a spreadsheet is, and which column is what below it.
UPDATE idea_sheet SET head_json = %(head)s, match_json = %(match)s, version = version + 1 WHERE id = %(id)s AND version = %(version)s;

-- name: drop_lines
-- The lines of a spreadsheet go, to be read otherwise.
DELETE FROM idea_line WHERE sheet_id = %(sheet)s;

-- name: mend_line
-- A line as somebody mended it; as it came stays.
UPDATE idea_line SET came_json = %(came)s, cells_json = %(cells)s, broken_json = %(broken)s, state = 'open', said_json = NULL
WHERE sheet_id = %(sheet)s AND line = %(line)s AND state IN ('open','fault','conflict');

-- name: line_as_it_came
-- A line as it came, before anybody mended it.
UPDATE idea_line SET cells_json = %(cells)s, broken_json = %(broken)s, came_json = NULL, choice = NULL, state = 'open', said_json = NULL
WHERE sheet_id = %(sheet)s AND line = %(line)s AND state IN ('open','fault','conflict');

-- name: choose_line
-- Whether a line that looks like another is the same idea or another one.
UPDATE idea_line SET choice = %(choice)s, state = 'open', said_json = NULL
WHERE sheet_id = %(sheet)s AND line = %(line)s AND state IN ('open','fault','conflict');

-- name: one_line
-- A line of a spreadsheet.
SELECT line, cells_json, came_json, broken_json, choice, state FROM idea_line WHERE sheet_id = %(sheet)s AND line = %(line)s FOR UPDATE;

-- name: touch
-- A spreadsheet was worked on; who saw it before has to look again.
UPDATE idea_sheet SET version = version + 1 WHERE id = %(id)s AND version = %(version)s;

-- name: mark_line
-- From here on a line's writes can be taken back alone.
SAVEPOINT line_begins;

-- name: back_to_line
-- Takes back what was written for a line.
ROLLBACK TO SAVEPOINT line_begins;
