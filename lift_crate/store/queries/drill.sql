-- name: add_run!
-- A drill was played to its end.
INSERT INTO drill_run (job_id, kind, part, rig, seed, points, won, said, person)
VALUES (:job, :kind, :part, :rig, :seed, :points, :won, :said, :person);

-- name: runs
-- Drills that somebody played in a job, the latest first.
SELECT kind, part, rig, seed, points, won, said, at FROM drill_run WHERE job_id = :job AND person = :person ORDER BY id DESC LIMIT 200;

-- name: best
-- The best of everybody by kind and number.
SELECT kind, part, rig, seed, person, max(points) AS points FROM drill_run WHERE job_id = :job AND kind = :kind AND part = :part AND rig = :rig AND seed = :seed
GROUP BY kind, part, rig, seed, person ORDER BY points DESC, person LIMIT 20;

-- name: kept
-- Drills that were put up for the crew.
SELECT id, kind, part, rig, seed, title, actor, at FROM drill_kept WHERE job_id = :job ORDER BY id;

-- name: keep!
-- A drill is put up for the crew.
INSERT INTO drill_kept (job_id, kind, part, rig, seed, title, actor) VALUES (:job, :kind, :part, :rig, :seed, :title, :actor);

-- name: drop^
-- It is put up no more.
DELETE FROM drill_kept WHERE job_id = :job AND id = :id RETURNING id;
