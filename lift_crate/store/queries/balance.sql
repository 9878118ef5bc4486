-- name: add_balance!
-- A rig was balanced.
INSERT INTO balance (job_id, build_id, fingerprint, build, computed, set_to, note, actor, made, at)
VALUES (:job, :build, :fingerprint, :content, :computed, :set_to, :note, :actor, :made, coalesce(:at, now()));

-- name: balances
-- The latest balances of a build, newest first.
SELECT id, fingerprint, build, computed, set_to, note, actor, at, noted_at, made, touched, touched_at, removed IS NOT NULL AS removed FROM balance
WHERE job_id = :job AND build_id = :build ORDER BY at DESC, id DESC LIMIT :most;

-- name: balances_of_job
-- The latest balances of all builds of a job, newest first.
SELECT id, fingerprint, build, computed, set_to, note, actor, at, noted_at, made, touched, touched_at, false AS removed FROM balance
WHERE job_id = :job AND removed IS NULL ORDER BY at DESC, id DESC LIMIT :most;

-- name: remove_balance$
-- Put a balance of a build away, or bring it back.
UPDATE balance SET removed = CASE WHEN :removed THEN now() END WHERE job_id = :job AND build_id = :build AND id = :id RETURNING id;

-- name: touch_balance$
-- What has changed since that is in no build.
UPDATE balance SET touched = CASE WHEN :changed THEN (touched - :thing::text) || to_jsonb(:thing::text) ELSE touched - :thing::text END,
    touched_at = CASE WHEN :changed THEN touched_at || jsonb_build_object(:thing::text, coalesce(:at, now())) ELSE touched_at - :thing::text END
WHERE job_id = :job AND build_id = :build AND id = :id RETURNING id;
