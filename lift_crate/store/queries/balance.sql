-- name: add_balance!
-- A rig was balanced.
INSERT INTO balance (job_id, build_id, fingerprint, build, computed, set_to, note, actor)
VALUES (:job, :build, :fingerprint, :content, :computed, :set_to, :note, :actor);

-- name: balances
-- The latest balances of a build, newest first.
SELECT fingerprint, build, computed, set_to, note, actor, at FROM balance
WHERE job_id = :job AND build_id = :build ORDER BY id DESC LIMIT :most;

-- name: balances_of_job
-- The latest balances of all builds of a job, newest first.
SELECT fingerprint, build, computed, set_to, note, actor, at FROM balance
WHERE job_id = :job ORDER BY id DESC LIMIT :most;
