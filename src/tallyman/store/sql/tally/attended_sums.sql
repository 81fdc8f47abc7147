-- name: sums
-- What runs on people's own computers posted, line by line, in areas that the reader may see.
-- always: runs, hours, money
SELECT e.line, COUNT(DISTINCT e.run_id) AS runs, SUM(e.hours) AS hours, SUM(e.money) AS money FROM run r JOIN tally_entry e ON e.run_id = r.id
WHERE r.attended IN ('answer','whole') AND (%(everywhere)s OR e.area_id IN %(areas)s) GROUP BY e.line ORDER BY e.line;
