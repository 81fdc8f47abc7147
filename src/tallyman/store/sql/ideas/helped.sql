-- name: screened
-- Ideas that went through the review in a span of time, with who proposed them.
-- always: at
SELECT i.id, i.title, i.proposer_id, MIN(s.at) AS at FROM idea_stage s JOIN idea i ON i.id = s.idea_id
WHERE s.at >= %(since)s AND s.at < %(until)s AND s.stage = 'screened' AND s.from_stage = 'noted'
GROUP BY i.id, i.title, i.proposer_id ORDER BY i.id;

-- name: evidence
-- Who put evidence on the file of some ideas.
-- gives: HadPart
SELECT DISTINCT idea_id, person_id FROM idea_file WHERE idea_id IN %(ideas)s AND removed_at IS NULL AND kind <> 'something else';

-- name: in_service
-- Ideas that were built or carried out and put in service in a span of time.
-- always: at
SELECT i.id, i.title, MIN(s.at) AS at FROM idea_stage s JOIN idea i ON i.id = s.idea_id
WHERE s.at >= %(since)s AND s.at < %(until)s AND s.stage = 'in service' AND s.from_stage = 'building'
GROUP BY i.id, i.title ORDER BY i.id;

-- name: parts
-- Who had a part in some ideas: proposed, answers for, built, sees to, sized, helped or joined.
-- gives: HadPart
-- always: person_id
SELECT id AS idea_id, proposer_id AS person_id FROM idea WHERE id IN %(ideas)s
UNION SELECT id, owner_id FROM idea WHERE id IN %(ideas)s AND owner_id IS NOT NULL
UNION SELECT id, builder_id FROM idea WHERE id IN %(ideas)s AND builder_id IS NOT NULL
UNION SELECT id, measure_owner_id FROM idea WHERE id IN %(ideas)s AND measure_owner_id IS NOT NULL
UNION SELECT id, sized_by FROM idea WHERE id IN %(ideas)s AND sized_by IS NOT NULL
UNION SELECT idea_id, person_id FROM idea_helper WHERE idea_id IN %(ideas)s
UNION SELECT idea_id, person_id FROM idea_voice WHERE idea_id IN %(ideas)s;

-- name: tallied
-- What ideas saved in some months, those that saved anything.
-- always: money, month
SELECT s.idea_id, i.title, SUM(s.money) AS money, MAX(s.month) AS month FROM tally_sum s JOIN idea i ON i.id = s.idea_id
WHERE s.month >= %(first)s AND s.month <= %(last)s AND s.line IN ('time saved','handed back','person there')
GROUP BY s.idea_id, i.title HAVING SUM(s.money) > 0 ORDER BY s.idea_id;

-- name: reused
-- Routines set up in a span of time with a package that another routine used before, and who released it first.
-- always: person_id
SELECT o.id, o.name, k.name AS package, o.made_at, (SELECT f.person_id FROM package_release f WHERE f.package_id = l.package_id ORDER BY f.id LIMIT 1) AS person_id
FROM routine o JOIN package_release l ON l.id = o.release_id JOIN package k ON k.id = l.package_id
WHERE o.made_at >= %(since)s AND o.made_at < %(until)s
  AND EXISTS (SELECT 1 FROM routine b JOIN package_release m ON m.id = b.release_id WHERE m.package_id = l.package_id AND b.id < o.id)
ORDER BY o.id;

-- name: people
-- Who is shown among those who helped, with division and groups.
SELECT p.id, p.name, d.name AS division, p.thanks_hidden AS hidden FROM person p LEFT JOIN division d ON d.id = p.division_id
WHERE p.state <> 'left' ORDER BY p.id;

-- name: groups
-- Which groups people are in.
SELECT g.name, m.person_id FROM group_member m JOIN person_group g ON g.id = m.group_id WHERE g.retired_at IS NULL ORDER BY g.name, m.person_id;
