-- name: add_balance!
-- A rig was balanced.
INSERT INTO balance (job_id, build_id, fingerprint, build, computed, set_to, note, actor, made)
VALUES (:job, :build, :fingerprint, :content, :computed, :set_to, :note, :actor, :made);

-- name: balances
-- The latest balances of a build, newest first.
SELECT id, fingerprint, build, computed, set_to, note, actor, at, made, touched, removed IS NOT NULL AS removed FROM balance
WHERE job_id = :job AND build_id = :build ORDER BY id DESC LIMIT :most;

-- name: balances_of_job
-- The latest balances of all builds of a job, newest first.
SELECT id, fingerprint, build, computed, set_to, note, actor, at, made, touched, false AS removed FROM balance
WHERE job_id = :job AND removed IS NULL ORDER BY id DESC LIMIT :most;

-- name: remove_balance$
-- Put a balance of a build away, or bring it back.
UPDATE balance SET removed = CASE WHEN :removed THEN now() END WHERE job_id = :job AND build_id = :build AND id = :id RETURNING id;

-- name: touch_balance$
-- What has changed since that is in no build.
UPDATE balance SET touched = CASE WHEN :changed THEN (touched - :thing::text) || to_jsonb(:thing::text) ELSE touched - :thing::text END
WHERE job_id = :job AND build_id = :build AND id = :id RETURNING id;
