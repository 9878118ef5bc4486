-- name: lock_build^
-- Version of a build, locked until the transaction ends, and what its job stands at.
SELECT build.version, job.revision FROM build JOIN job ON job.id = build.job_id WHERE job_id = :job AND build.id = :build FOR UPDATE OF build;

-- name: save^
-- New body, settings and version of a build, and the edit that made it; what was undone cannot be redone after a new edit.
-- Tells what the job stood at until then; from now on nobody else changes it before this transaction ends.
WITH held AS (
    SELECT revision FROM job WHERE id = :job FOR UPDATE
), dropped AS (
    UPDATE edit SET state = 'dropped' WHERE job_id = :job AND build_id = :build AND kind = 'do' AND state = 'undone' AND :kind = 'do'
), noted AS (
    INSERT INTO edit (job_id, build_id, version, kind, title, before, after, state, actor)
    VALUES (:job, :build, :version, :kind, :title, :before, :after, 'done', :actor)
)
UPDATE build SET body = :body, settings = :settings, use = :use, held_by = :held_by, grip = :grip, presets = :presets, off_between = :off_between, worn = :worn, bends = :bends, version = :version
FROM held WHERE job_id = :job AND id = :build RETURNING held.revision;

-- name: drop_joints!
-- Some joints of a build, by their children.
DELETE FROM joint WHERE job_id = :job AND build_id = :build AND child = ANY(:names);

-- name: drop_links!
-- Some links of a build, by their cables.
DELETE FROM link WHERE job_id = :job AND build_id = :build AND cable = ANY(:names);

-- name: drop_units!
-- Some units of a build, with their claims, joints and links.
DELETE FROM build_unit WHERE job_id = :job AND build_id = :build AND unit_id = ANY(:units);

-- name: add_units!
-- Units into a build; their claims follow.
INSERT INTO build_unit (job_id, build_id, unit_id) SELECT :job, :build, unit FROM unnest(:units::text[]) unit;

-- name: put_joints!
-- Joints into a build, or as they are now.
INSERT INTO joint (job_id, build_id, child, child_port, parent, parent_port, spin_deg, slide_mm, ordinal)
SELECT :job, :build, r.* FROM jsonb_to_recordset(:rows) r (
    child text, child_port text, parent text, parent_port text, spin_deg double precision, slide_mm double precision, ordinal integer)
ON CONFLICT (job_id, build_id, child) DO UPDATE SET child_port = excluded.child_port, parent = excluded.parent,
    parent_port = excluded.parent_port, spin_deg = excluded.spin_deg, slide_mm = excluded.slide_mm, ordinal = excluded.ordinal;

-- name: put_links!
-- Links into a build, or as they are now.
INSERT INTO link (job_id, build_id, cable, from_unit, from_port, to_unit, to_port, ordinal)
SELECT :job, :build, r.* FROM jsonb_to_recordset(:rows) r (
    cable text, from_unit text, from_port text, to_unit text, to_port text, ordinal integer)
ON CONFLICT (job_id, build_id, cable) DO UPDATE SET from_unit = excluded.from_unit, from_port = excluded.from_port,
    to_unit = excluded.to_unit, to_port = excluded.to_port, ordinal = excluded.ordinal;

-- name: claims_of_others
-- Units that other rigs have in any part of the day in which this build is planned, and until when at the latest.
WITH theirs AS (
    SELECT claim.unit_id, claim.job_id, claim.build_id, claim.serves, max(upper(claim.during)) AS until FROM claim
    WHERE EXISTS (
        SELECT FROM plan ours JOIN part_of_day part ON part.job_id = ours.job_id AND part.id = ours.part_id
        WHERE ours.job_id = :job AND ours.build_id = :build AND part.during && claim.during)
    GROUP BY claim.unit_id, claim.job_id, claim.build_id, claim.serves
)
SELECT theirs.unit_id AS unit, min(theirs.job_id) AS job, min(coalesce(rig.label, theirs.serves)) AS rig,
    string_agg(DISTINCT coalesce(build.label, 'charging plan'), ', ') AS build, max(theirs.until) AS until
FROM theirs
LEFT JOIN build ON build.job_id = theirs.job_id AND build.id = theirs.build_id
LEFT JOIN rig ON rig.job_id = build.job_id AND rig.id = build.rig_id
WHERE theirs.job_id <> :job OR build.rig_id IS DISTINCT FROM :rig
GROUP BY theirs.unit_id;

-- name: add_edit!
-- An edit into the history.
INSERT INTO edit (job_id, build_id, version, kind, title, before, after, state, actor)
VALUES (:job, :build, :version, :kind, :title, :before, :after, :state, :actor);

-- name: set_edit_state!
-- An edit is undone or done again.
UPDATE edit SET state = :state WHERE job_id = :job AND build_id = :build AND version = :version;

-- name: last_done^
-- The newest edit that stands, of somebody where one is named.
SELECT version, title, actor, before, after FROM edit
WHERE job_id = :job AND build_id = :build AND kind = 'do' AND state = 'done' AND (:actor::text IS NULL OR actor = :actor)
ORDER BY version DESC LIMIT 1;

-- name: first_undone^
-- The edit that was undone last, of somebody where one is named: redo goes up again as undo came down.
SELECT version, title, actor, before, after FROM edit
WHERE job_id = :job AND build_id = :build AND kind = 'do' AND state = 'undone' AND (:actor::text IS NULL OR actor = :actor)
ORDER BY version LIMIT 1;

-- name: steps^
-- Title and actor of the edit that undo would take back and of the one that redo would do again: one's own come first.
SELECT undo.title AS undo, undo.actor AS undo_by, redo.title AS redo, redo.actor AS redo_by FROM (SELECT) one
LEFT JOIN LATERAL (SELECT title, actor FROM edit WHERE job_id = :job AND build_id = :build AND kind = 'do' AND state = 'done'
    ORDER BY actor = :actor DESC, version DESC LIMIT 1) undo ON true
LEFT JOIN LATERAL (SELECT title, actor FROM edit WHERE job_id = :job AND build_id = :build AND kind = 'do' AND state = 'undone'
    ORDER BY actor = :actor DESC, version LIMIT 1) redo ON true;

-- name: edits_since
-- What happened to a build after a version.
SELECT version, kind, title, actor, at FROM edit
WHERE job_id = :job AND build_id = :build AND version > :version ORDER BY version;

-- name: as_it_was^
-- A build as it was at a version that is not the last.
SELECT before AS build FROM edit WHERE job_id = :job AND build_id = :build AND version = :version + 1;

-- name: history
-- The latest edits of a build, newest first.
SELECT version, kind, title, actor, at FROM edit
WHERE job_id = :job AND build_id = :build ORDER BY version DESC LIMIT :most;
