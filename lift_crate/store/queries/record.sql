-- name: record
-- Everything that was done in a job, latest first, from a line on; what was done in its crew only for its leads.
SELECT at, kind, thing, number, title, actor, gone FROM (
    SELECT at, 'build' AS kind, build_id AS thing, version::bigint AS number,
        CASE kind WHEN 'do' THEN '' ELSE kind || ': ' END || title AS title, actor, state <> 'done' AS gone
    FROM edit WHERE job_id = :job
    UNION ALL
    SELECT at, 'job', '', version, CASE kind WHEN 'do' THEN '' ELSE kind || ': ' END || title, actor, state <> 'done'
    FROM job_edit WHERE job_id = :job
    UNION ALL
    SELECT noted_at, 'cards', card, id, concat_ws(' ', act, unit, slot, nullif(place, ''), nullif(note, '')), actor, taken_back_by IS NOT NULL
    FROM card_step WHERE job_id = :job
    UNION ALL
    SELECT taken_back_at, 'cards', card, id, 'taken back: ' || act, taken_back_by, false FROM card_step WHERE job_id = :job AND taken_back_by IS NOT NULL
    UNION ALL
    SELECT noted_at, 'sound', voice, id, concat_ws(' ', source, act, nullif(file, '')), actor, taken_back_by IS NOT NULL
    FROM sound_step WHERE job_id = :job
    UNION ALL
    SELECT taken_back_at, 'sound', voice, id, 'taken back: ' || concat_ws(' ', source, act), taken_back_by, false
    FROM sound_step WHERE job_id = :job AND taken_back_by IS NOT NULL
    UNION ALL
    SELECT noted_at, 'pack', thing, id, concat_ws(' ', act, nullif(in_case, ''), nullif(note, '')), actor, taken_back_by IS NOT NULL
    FROM pack_step WHERE job_id = :job
    UNION ALL
    SELECT taken_back_at, 'pack', thing, id, 'taken back: ' || act, taken_back_by, false FROM pack_step WHERE job_id = :job AND taken_back_by IS NOT NULL
    UNION ALL
    SELECT noted_at, 'log', coalesce(nullif(unit, ''), rig), serial, concat_ws(' ', kind, nullif(what, ''), value::text, nullif(who, ''), nullif(said, '')), actor, taken_back_by IS NOT NULL
    FROM log_entry WHERE job_id = :job
    UNION ALL
    SELECT taken_back_at, 'log', coalesce(nullif(unit, ''), rig), serial, 'taken back: ' || kind, taken_back_by, false FROM log_entry WHERE job_id = :job AND taken_back_by IS NOT NULL
    UNION ALL
    SELECT at, 'log', thing, id, concat_ws(' ', 'taken over:', subject, before::text, '→', value::text), actor, false FROM figure_taken WHERE job_id = :job
    UNION ALL
    SELECT noted, 'swaps', slot, id, concat_ws(' ', pack_in, 'in', pack_out || ' out'), actor, taken_back_by IS NOT NULL FROM swap_made WHERE job_id = :job
    UNION ALL
    SELECT taken_back_at, 'swaps', slot, id, 'taken back: ' || pack_in || ' in', taken_back_by, false FROM swap_made WHERE job_id = :job AND taken_back_by IS NOT NULL
    UNION ALL
    SELECT at, 'balance', build_id, id, concat_ws(': ', 'balanced', nullif(note, '')), actor, removed IS NOT NULL FROM balance WHERE job_id = :job
    UNION ALL
    SELECT at, 'whole', '', id, title, actor, false FROM replaced_job WHERE job_id = :job
    UNION ALL
    SELECT at, 'crew', '', id, what, actor, false FROM crew_history WHERE job_id = :job AND :leads
) line
WHERE (:kind::text IS NULL OR kind = :kind) AND (:actor::text IS NULL OR actor = :actor) AND (:things::text[] IS NULL OR thing = ANY(:things))
    AND (:at::timestamptz IS NULL OR (at, kind, thing, number) < (:at, :from_kind::text, :from_thing::text, :number::bigint))
ORDER BY at DESC, kind DESC, thing DESC, number DESC LIMIT :most;

-- name: actors
-- Whoever did something in a job's builds or in the job itself.
SELECT actor FROM edit WHERE job_id = :job UNION SELECT actor FROM job_edit WHERE job_id = :job
UNION SELECT actor FROM card_step WHERE job_id = :job UNION SELECT actor FROM sound_step WHERE job_id = :job
UNION SELECT actor FROM swap_made WHERE job_id = :job UNION SELECT actor FROM pack_step WHERE job_id = :job
UNION SELECT actor FROM log_entry WHERE job_id = :job UNION SELECT actor FROM figure_taken WHERE job_id = :job ORDER BY actor;

-- name: build_at^
-- A build as it was after an edit; as it came, before the first edit after that.
SELECT after AS build, title, actor, at FROM edit WHERE job_id = :job AND build_id = :build AND version = :version
UNION ALL
(SELECT before, 'before ' || title, actor, at FROM edit e WHERE job_id = :job AND build_id = :build AND version > :version
    AND NOT EXISTS (SELECT FROM edit o WHERE o.job_id = :job AND o.build_id = :build AND o.version = :version)
ORDER BY e.version LIMIT 1);

-- name: job_at^
-- A job as it was after an edit.
SELECT after AS job, title, actor, at FROM job_edit WHERE job_id = :job AND version = :version;
