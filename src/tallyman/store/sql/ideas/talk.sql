-- name: comments
-- What was said about an idea, oldest first.
SELECT c.id, c.person_id, p.name AS person, c.text, c.mentions_json, c.at, c.edited_at, c.taken_back_at FROM idea_comment c
JOIN person p ON p.id = c.person_id WHERE c.idea_id = %(idea)s ORDER BY c.id;

-- name: comment
-- One comment, locked.
-- gives: Comment
SELECT id, idea_id, person_id, text, taken_back_at FROM idea_comment WHERE id = %(id)s AND idea_id = %(idea)s FOR UPDATE;

-- name: same
-- The same said by the same person a moment ago.
SELECT id FROM idea_comment WHERE idea_id = %(idea)s AND person_id = %(person)s AND at >= %(since)s AND taken_back_at IS NULL
AND BINARY text = BINARY %(text)s ORDER BY id DESC LIMIT 1;

-- name: say
-- A new comment.
INSERT INTO idea_comment (idea_id, person_id, text, mentions_json, at) VALUES (%(idea)s, %(person)s, %(text)s, %(mentions)s, %(now)s);

-- name: edit
-- Another text for a comment; that it was edited stays visible.
UPDATE idea_comment SET text = %(text)s, mentions_json = %(mentions)s, edited_at = %(now)s WHERE id = %(id)s AND taken_back_at IS NULL;

-- name: take_back
-- A comment is taken back; that there was one stays visible.
UPDATE idea_comment SET text = '', mentions_json = '[]', taken_back_at = %(now)s WHERE id = %(id)s AND taken_back_at IS NULL;

-- name: voices
-- Who joined an idea, and with what volume of their own.
SELECT v.person_id AS id, p.name, v.does_it, v.volume_json, v.note, v.from_idea_id, v.at FROM idea_voice v
JOIN person p ON p.id = v.person_id WHERE v.idea_id = %(idea)s ORDER BY v.at, v.person_id;

-- name: volumes
-- The volumes of those who do the same work and joined, up to a time if one is given.
SELECT volume_json FROM idea_voice WHERE idea_id = %(idea)s AND volume_json IS NOT NULL
AND (%(until)s IS NULL OR at <= %(until)s) ORDER BY at, person_id;

-- name: join
-- Somebody's one voice for an idea; given again it is the newer one.
-- moves worths: idea
INSERT INTO idea_voice (idea_id, person_id, does_it, volume_json, note, from_idea_id, at)
VALUES (%(idea)s, %(person)s, %(does_it)s, %(volume)s, %(note)s, %(source)s, %(now)s)
ON DUPLICATE KEY UPDATE does_it = VALUE(does_it), volume_json = VALUE(volume_json), note = VALUE(note);

-- name: leave
-- Somebody takes their voice back.
-- moves worths: idea
DELETE FROM idea_voice WHERE idea_id = %(idea)s AND person_id = %(person)s;

-- name: move_voices
-- The voices of a merged idea count for the one it went into; who had one there keeps it.
-- moves worths: into
INSERT IGNORE INTO idea_voice (idea_id, person_id, does_it, volume_json, note, from_idea_id, at)
SELECT %(into)s, person_id, does_it, volume_json, note, COALESCE(from_idea_id, %(idea)s), at FROM idea_voice
WHERE idea_id = %(idea)s AND person_id <> %(proposer)s;

-- name: move_followers
-- Who followed a merged idea follows the one it went into.
INSERT IGNORE INTO idea_follower (idea_id, person_id, at) SELECT %(into)s, person_id, %(now)s FROM idea_follower WHERE idea_id = %(idea)s;

-- name: follow
-- Somebody wants to hear of an idea.
INSERT IGNORE INTO idea_follower (idea_id, person_id, at) VALUES (%(idea)s, %(person)s, %(now)s);

-- name: unfollow
-- Somebody wants to hear no more.
DELETE FROM idea_follower WHERE idea_id = %(idea)s AND person_id = %(person)s;

-- name: followers
-- Who follows an idea or joined it.
SELECT person_id AS id FROM idea_follower WHERE idea_id = %(idea)s
UNION SELECT person_id FROM idea_voice WHERE idea_id = %(idea)s ORDER BY id;

-- name: follows
-- Whether somebody follows an idea.
SELECT 1 FROM idea_follower WHERE idea_id = %(idea)s AND person_id = %(person)s;
