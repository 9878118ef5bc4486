-- name: lock_sound
-- Steps at the sources of a job are judged one after the other.
SELECT pg_advisory_xact_lock(7231904120::bigint * 100 + hashtext(:job));

-- name: sound_steps
-- Everything that was done at the sources of a job, what was taken back among it.
SELECT id, voice, source, act, at, file, wearer, actor, taken_back_by FROM sound_step WHERE job_id = :job ORDER BY at, id;

-- name: add_sound_step^
-- Something was done at a source.
INSERT INTO sound_step (job_id, voice, source, act, at, file, wearer, actor)
VALUES (:job, :voice, :source, :act, :at, :file, :wearer, :actor) RETURNING id;

-- name: take_back_sound_step^
-- It was noted by mistake.
UPDATE sound_step SET taken_back_by = :actor, taken_back_at = now()
WHERE job_id = :job AND id = :id AND taken_back_by IS NULL RETURNING id;
