-- name: revision^
-- Counter of changes to gear.
SELECT revision FROM catalogue_revision;

-- name: revisions^
-- What gear and a job stand at; no row's job: there is no such job.
SELECT shelf.revision AS shelf, job.revision AS job FROM catalogue_revision shelf LEFT JOIN job ON job.id = :job;

-- name: interfaces
-- All interfaces.
SELECT document FROM interface ORDER BY id;

-- name: models
-- All models.
SELECT document FROM model ORDER BY id;

-- name: units
-- All units.
SELECT id, model_id AS model, owner, measured_g, measured_cg_mm, measured_w, measured_h, health, cycles, condition, note, serial, price, bought, hired_from, hired_until, photo FROM unit ORDER BY id;

-- name: add_interface*!
-- An interface that is not there yet.
INSERT INTO interface (id, document) VALUES (:id, :document);

-- name: add_model*!
-- A model that is not there yet.
INSERT INTO model (id, kind, document) VALUES (:id, :kind, :document);

-- name: add_unit_row*!
-- A unit that is not there yet.
INSERT INTO unit (id, model_id, owner, measured_g, measured_cg_mm, measured_w, measured_h, health, cycles, condition, note, serial, price, bought, hired_from, hired_until, photo)
VALUES (:id, :model, :owner, :measured_g, :measured_cg_mm, :measured_w, :measured_h, :health, :cycles, :condition, :note, :serial, :price, :bought, :hired_from, :hired_until, :photo);

-- name: jobs
-- All jobs, with their days, how many cameras they have and when anything of them was changed last.
SELECT job.id, job.title, job.zone, job.archived,
    (SELECT min(lower(during)) FROM part_of_day part WHERE part.job_id = job.id) AS starts,
    (SELECT max(upper(during)) FROM part_of_day part WHERE part.job_id = job.id) AS ends,
    (SELECT count(*) FROM rig WHERE rig.job_id = job.id) AS cameras,
    greatest(job.made, (SELECT max(at) FROM edit WHERE edit.job_id = job.id),
        (SELECT max(at) FROM job_edit WHERE job_edit.job_id = job.id)) AS changed
FROM job ORDER BY starts NULLS LAST, job.id;

-- name: removed
-- Jobs that are here no more, each as it was last, latest first.
SELECT DISTINCT ON (kept.job_id) kept.job_id AS job, kept.id, kept.title, kept.actor, kept.at
FROM replaced_job kept WHERE NOT EXISTS (SELECT FROM job WHERE job.id = kept.job_id) ORDER BY kept.job_id, kept.id DESC;

-- name: ids
-- Every id that a job has or had.
SELECT id FROM job UNION SELECT job_id FROM replaced_job;

-- name: archive^
-- A job put away, or taken out again.
UPDATE job SET archived = :archived WHERE id = :job RETURNING id;

-- name: job^
-- One job's own row.
SELECT id, title, zone, settings, charging, venue, sound, money, pack, safety, revision FROM job WHERE id = :job;

-- name: parts
-- A job's parts of the day, in order.
SELECT id, label, lower(during) AS starts, upper(during) AS ends, conditions, moments
FROM part_of_day WHERE job_id = :job ORDER BY lower(during);

-- name: rigs
-- A job's rigs by number.
SELECT id, number, label, position, target, place FROM rig WHERE job_id = :job ORDER BY number;

-- name: builds
-- A job's builds.
SELECT id, rig_id, label, body, settings, use, held_by, grip, presets, off_between, worn, bends, version FROM build WHERE job_id = :job ORDER BY rig_id, ordinal;

-- name: joints
-- All joints of a job.
SELECT build_id, child, child_port, parent, parent_port, spin_deg, slide_mm
FROM joint WHERE job_id = :job ORDER BY build_id, ordinal;

-- name: links
-- All links of a job.
SELECT build_id, cable, from_unit, from_port, to_unit, to_port FROM link WHERE job_id = :job ORDER BY build_id, ordinal;

-- name: plan
-- Which build each rig is in, part by part.
SELECT plan.part_id AS part, plan.rig_id AS rig, plan.build_id AS build, plan.operator, plan.unattended, plan.scheme, plan.spotter
FROM plan JOIN part_of_day part ON part.job_id = plan.job_id AND part.id = plan.part_id
JOIN rig ON rig.job_id = plan.job_id AND rig.id = plan.rig_id
WHERE plan.job_id = :job ORDER BY lower(part.during), rig.number;

-- name: title$
-- What a job is called; none where there is no such job.
SELECT title FROM job WHERE id = :job;

-- name: lock_job^
-- A job's own row, locked until the transaction ends.
SELECT id, title, version, revision FROM job WHERE id = :job FOR UPDATE;

-- name: job_version^
-- Version of a job's frame, and what undo and redo would do, with whose it is: one's own come first.
SELECT job.version, undo.title AS undo, undo.actor AS undo_by, redo.title AS redo, redo.actor AS redo_by FROM job
LEFT JOIN LATERAL (SELECT title, actor FROM job_edit WHERE job_id = :job AND kind = 'do' AND state = 'done'
    ORDER BY actor = :actor DESC, version DESC LIMIT 1) undo ON true
LEFT JOIN LATERAL (SELECT title, actor FROM job_edit WHERE job_id = :job AND kind = 'do' AND state = 'undone'
    ORDER BY actor = :actor DESC, version LIMIT 1) redo ON true
WHERE job.id = :job;

-- name: last_job_done^
-- The newest edit that stands, of somebody where one is named.
SELECT version, title, actor, before, after FROM job_edit
WHERE job_id = :job AND kind = 'do' AND state = 'done' AND (:actor::text IS NULL OR actor = :actor) ORDER BY version DESC LIMIT 1;

-- name: first_job_undone^
-- The edit that was undone last, of somebody where one is named.
SELECT version, title, actor, before, after FROM job_edit
WHERE job_id = :job AND kind = 'do' AND state = 'undone' AND (:actor::text IS NULL OR actor = :actor) ORDER BY version LIMIT 1;

-- name: job_edits_since
-- What was done to a job after a version.
SELECT version, kind, title, actor, at FROM job_edit WHERE job_id = :job AND version > :version ORDER BY version;

-- name: job_history
-- The latest edits of a job, newest first.
SELECT version, kind, title, actor, at FROM job_edit WHERE job_id = :job ORDER BY version DESC LIMIT :most;

-- name: last_job_version^
-- The last version that a job of this name ever had.
SELECT coalesce(max(version), 0) AS version FROM job_edit WHERE job_id = :job;

-- name: add_job_edit!
-- An edit into the history; what was undone cannot be redone after a new one.
WITH dropped AS (
    UPDATE job_edit SET state = 'dropped' WHERE job_id = :job AND kind = 'do' AND state = 'undone' AND :kind = 'do'
)
INSERT INTO job_edit (job_id, version, kind, title, before, after, state, actor)
VALUES (:job, :version, :kind, :title, :before, :after, 'done', :actor);

-- name: set_job_edit_state!
-- An edit is undone or done again.
UPDATE job_edit SET state = :state WHERE job_id = :job AND version = :version;

-- name: save_job!
-- A job's own row after an edit.
UPDATE job SET title = :title, zone = :zone, settings = :settings, charging = :charging, venue = :venue, sound = :sound, money = :money, pack = :pack, safety = :safety, version = :version WHERE id = :job;

-- name: drop_plan!
-- The whole plan of a job, with its claims.
DELETE FROM plan WHERE job_id = :job;

-- name: out_elsewhere
-- What other jobs have while this one's parts of the day last; and cards that are in a camera or recorded and not yet
-- wiped, by the last that was noted of them.
WITH claimed AS (
    SELECT part.id AS part, claim.unit_id AS unit, other.id AS job, other.title
    FROM part_of_day part JOIN claim ON claim.during && part.during AND claim.job_id <> part.job_id
    JOIN job other ON other.id = claim.job_id
    WHERE part.job_id = :job
), last AS (
    SELECT DISTINCT ON (card) card, job_id, act FROM card_step
    WHERE taken_back_at IS NULL AND act NOT IN ('fault', 'sound again') ORDER BY card, at DESC, id DESC
), footage AS (
    SELECT part.id AS part, last.card AS unit, last.job_id AS job, coalesce(other.title, 'a job that is gone') AS title
    FROM last LEFT JOIN job other ON other.id = last.job_id, part_of_day part
    WHERE last.act <> 'wiped' AND last.job_id <> :job AND part.job_id = :job
)
SELECT DISTINCT ON (part, unit) part, unit, job, title FROM (TABLE claimed UNION ALL TABLE footage) found ORDER BY part, unit, title;

-- name: drop_charging_claims!
-- What the charging of a job has in use.
DELETE FROM claim WHERE job_id = :job AND build_id IS NULL;

-- name: drop_parts!
-- Some parts of the day, with what is planned in them.
DELETE FROM part_of_day WHERE job_id = :job AND id = ANY(:names);

-- name: drop_rigs!
-- Some rigs, with their builds and what is planned of them.
DELETE FROM rig WHERE job_id = :job AND id = ANY(:names);

-- name: drop_builds!
-- Some builds, wherever they are planned.
DELETE FROM build WHERE job_id = :job AND id = ANY(:names);

-- name: free_numbers!
-- Numbers of rigs that are given anew, out of the way of each other.
UPDATE rig SET number = number + 1000 WHERE job_id = :job AND id = ANY(:names);

-- name: save_rig*!
-- A rig as it is now.
UPDATE rig SET number = :number, label = :label, position = :position, target = :target, place = :place WHERE job_id = :job AND id = :id;

-- name: name_build*!
-- A build by another name.
UPDATE build SET label = :label WHERE job_id = :job AND id = :id;

-- name: zone^
-- The time zone of a job.
SELECT zone FROM job WHERE id = :job;

-- name: add_job!
-- A job's own row; edits of an earlier job of its name are no longer undone.
WITH dropped AS (UPDATE job_edit SET state = 'dropped' WHERE job_id = :id AND kind = 'do')
INSERT INTO job (id, title, zone, settings, charging, venue, sound, money, pack, safety, version) VALUES (:id, :title, :zone, :settings, :charging, :venue, :sound, :money, :pack, :safety, :version);

-- name: add_part*!
-- A part of the day.
INSERT INTO part_of_day (job_id, id, label, during, conditions, moments)
VALUES (:job, :id, :label, tstzrange(:starts, :ends), :conditions, :moments);

-- name: add_rig*!
-- A rig.
INSERT INTO rig (job_id, id, number, label, position, target, place) VALUES (:job, :id, :number, :label, :position, :target, :place);

-- name: add_build*!
-- A build without its units.
INSERT INTO build (job_id, id, rig_id, label, body, settings, use, held_by, grip, presets, off_between, worn, bends, ordinal, version)
VALUES (:job, :id, :rig, :label, :body, :settings, :use, :held_by, :grip, :presets, :off_between, :worn, :bends, :ordinal, :version);

-- name: add_plan*!
-- A rig's build in a part of the day; claims follow.
INSERT INTO plan (job_id, part_id, rig_id, build_id, operator, unattended, scheme, spotter)
VALUES (:job, :part, :rig, :build, :operator, :unattended, :scheme, :spotter);

-- name: add_charging_claim*!
-- A light, recorder or charger in use in a part of the day.
INSERT INTO claim (job_id, part_id, unit_id, during, serves)
SELECT :job, :part, :unit, during, :serves FROM part_of_day WHERE job_id = :job AND id = :part;

-- name: last_versions
-- The last version that every build of a job ever had, whether it is there now or not.
SELECT build_id, max(version) AS version FROM edit WHERE job_id = :job GROUP BY build_id;

-- name: replaced
-- Earlier states of a job, latest first, without their contents.
SELECT id, title, actor, at FROM replaced_job WHERE job_id = :job ORDER BY id DESC LIMIT :most;

-- name: replaced_document^
-- One earlier state of a job.
SELECT document FROM replaced_job WHERE job_id = :job AND id = :id;

-- name: drop_job!
-- A job with all its rigs and claims; gear, edits, balances and noted swaps stay.
DELETE FROM job WHERE id = :job;

-- name: keep_replaced!
-- The job as it was before an import replaced it.
INSERT INTO replaced_job (job_id, title, document, actor) VALUES (:job, :title, :document, :actor);
