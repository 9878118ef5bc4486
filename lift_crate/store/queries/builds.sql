-- name: lock_build^
-- Version of a build, locked until the transaction ends.
SELECT version FROM build WHERE job_id = :job AND id = :build FOR UPDATE;

-- name: planned_build^
-- The build a rig is in, in a part of the day.
SELECT build_id FROM plan WHERE job_id = :job AND part_id = :part AND rig_id = :rig;

-- name: set_build!
-- New body, settings and version of a build.
UPDATE build SET body = :body, settings = :settings, use = :use, held_by = :held_by, version = :version WHERE job_id = :job AND id = :build;

-- name: drop_joints!
-- All joints of a build.
DELETE FROM joint WHERE job_id = :job AND build_id = :build;

-- name: drop_links!
-- All links of a build.
DELETE FROM link WHERE job_id = :job AND build_id = :build;

-- name: drop_units!
-- Some units of a build, with their claims.
DELETE FROM build_unit WHERE job_id = :job AND build_id = :build AND unit_id = ANY(:units);

-- name: add_unit*!
-- A unit into a build; its claims follow.
INSERT INTO build_unit (job_id, build_id, unit_id) VALUES (:job, :build, :unit);

-- name: add_joint*!
-- A joint into a build.
INSERT INTO joint (job_id, build_id, child, child_port, parent, parent_port, spin_deg, slide_mm, ordinal)
VALUES (:job, :build, :child, :child_port, :parent, :parent_port, :spin_deg, :slide_mm, :ordinal);

-- name: add_link*!
-- A link into a build.
INSERT INTO link (job_id, build_id, cable, from_unit, from_port, to_unit, to_port, ordinal)
VALUES (:job, :build, :cable, :from_unit, :from_port, :to_unit, :to_port, :ordinal);

-- name: claims_of_others
-- Units that other rigs have in any part of the day in which this build is planned, and until when at the latest.
SELECT theirs.unit_id AS unit, min(coalesce(rig.label, theirs.serves)) AS rig, string_agg(DISTINCT coalesce(build.label, 'charging plan'), ', ') AS build,
    max(upper(theirs.during)) AS until
FROM claim theirs
LEFT JOIN build ON build.job_id = theirs.job_id AND build.id = theirs.build_id
LEFT JOIN rig ON rig.job_id = build.job_id AND rig.id = build.rig_id
WHERE (theirs.job_id <> :job OR build.rig_id IS DISTINCT FROM :rig)
  AND EXISTS (
    SELECT FROM plan ours JOIN part_of_day part ON part.job_id = ours.job_id AND part.id = ours.part_id
    WHERE ours.job_id = :job AND ours.build_id = :build AND part.during && theirs.during)
GROUP BY theirs.unit_id;

-- name: add_edit!
-- An edit into the history.
INSERT INTO edit (job_id, build_id, version, kind, title, before, after, state, actor)
VALUES (:job, :build, :version, :kind, :title, :before, :after, :state, :actor);

-- name: drop_undone!
-- What was undone cannot be redone any more.
UPDATE edit SET state = 'dropped' WHERE job_id = :job AND build_id = :build AND kind = 'do' AND state = 'undone';

-- name: set_edit_state!
-- An edit is undone or done again.
UPDATE edit SET state = :state WHERE job_id = :job AND build_id = :build AND version = :version;

-- name: last_done^
-- The edit that undo takes back.
SELECT version, title, before, after FROM edit
WHERE job_id = :job AND build_id = :build AND kind = 'do' AND state = 'done' ORDER BY version DESC LIMIT 1;

-- name: first_undone^
-- The edit that redo does again.
SELECT version, title, before, after FROM edit
WHERE job_id = :job AND build_id = :build AND kind = 'do' AND state = 'undone' ORDER BY version LIMIT 1;

-- name: edits_since
-- What happened to a build after a version.
SELECT version, kind, title, actor, at FROM edit
WHERE job_id = :job AND build_id = :build AND version > :version ORDER BY version;

-- name: history
-- The latest edits of a build, newest first.
SELECT version, kind, title, actor, at FROM edit
WHERE job_id = :job AND build_id = :build ORDER BY version DESC LIMIT :most;
