-- name: lock_packing
-- Steps with the packing of a job are judged one after the other.
SELECT pg_advisory_xact_lock(7231904121::bigint * 100 + hashtext(:job));

-- name: pack_steps
-- Everything that was done with the packing of a job, what was taken back among it.
SELECT id, act, thing, in_case AS "case", at, note, actor, taken_back_by FROM pack_step WHERE job_id = :job ORDER BY at, id;

-- name: add_pack_step^
-- Something was done with a thing or a case.
INSERT INTO pack_step (job_id, act, thing, in_case, at, note, actor)
VALUES (:job, :act, :thing, :case, :at, :note, :actor) RETURNING id;

-- name: take_back_pack_step^
-- It was noted by mistake.
UPDATE pack_step SET taken_back_by = :actor, taken_back_at = now()
WHERE job_id = :job AND id = :id AND taken_back_by IS NULL RETURNING id;
