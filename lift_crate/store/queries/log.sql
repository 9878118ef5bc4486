-- name: lock_log
-- Entries of a job's log are judged one after the other.
SELECT pg_advisory_xact_lock(7231904122::bigint * 100 + hashtext(:job));

-- name: entries
-- Everything that was noted in a job, in the order in which it was noted, what was taken back among it.
SELECT id, kind, at, rig, unit, who, said AS text, what, value, times, people, verdict, photo, number, corrects, settles,
    actor, noted_at, taken_back_by
FROM log_entry WHERE job_id = :job ORDER BY serial;

-- name: add_entry!
-- Something was noted.
INSERT INTO log_entry (job_id, id, kind, at, rig, unit, who, said, what, value, times, people, verdict, photo, number, corrects, settles, actor)
VALUES (:job, :id, :kind, :at, :rig, :unit, :who, :text, :what, :value, :times, :people, :verdict, :photo, :number, :corrects, :settles, :actor);

-- name: take_back_entry^
-- It was noted by mistake; it stays readable.
UPDATE log_entry SET taken_back_by = :actor, taken_back_at = now()
WHERE job_id = :job AND id = :id AND taken_back_by IS NULL RETURNING id;

-- name: faults
-- Faults and near misses of units in other jobs that count and are not settled, latest first.
SELECT e.unit, e.at, e.kind, e.said AS text, e.job_id, e.actor FROM log_entry e
WHERE e.unit = ANY(:units) AND e.kind IN ('fault', 'near miss') AND e.taken_back_by IS NULL
    AND NOT EXISTS (SELECT FROM log_entry c WHERE c.job_id = e.job_id AND c.taken_back_by IS NULL AND (c.settles = e.id OR c.corrects = e.id))
ORDER BY e.at DESC LIMIT 500;

-- name: figures_taken
-- Figures that were learnt in a job and taken over, and those of the shelf in any job.
SELECT subject AS "of", thing, before, value, at, actor AS "by" FROM figure_taken WHERE job_id = :job OR subject <> 'minutes' ORDER BY id;

-- name: take_figure!
-- A figure was taken over.
INSERT INTO figure_taken (job_id, subject, thing, before, value, actor) VALUES (:job, :of, :thing, :before, :value, :actor);
