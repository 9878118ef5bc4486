-- name: put_unit!
-- A unit, new or changed.
INSERT INTO unit (id, model_id, owner, measured_g, measured_cg_mm, measured_w, measured_h, health, cycles, condition, note, serial, price, bought, hired_from, hired_until, photo)
VALUES (:id, :model, :owner, :measured_g, :measured_cg_mm, :measured_w, :measured_h, :health, :cycles, :condition, :note, :serial, :price, :bought, :hired_from, :hired_until, :photo)
ON CONFLICT (id) DO UPDATE SET model_id = EXCLUDED.model_id, owner = EXCLUDED.owner, measured_g = EXCLUDED.measured_g,
    measured_cg_mm = EXCLUDED.measured_cg_mm, measured_w = EXCLUDED.measured_w, measured_h = EXCLUDED.measured_h, health = EXCLUDED.health, cycles = EXCLUDED.cycles, condition = EXCLUDED.condition, note = EXCLUDED.note,
    serial = EXCLUDED.serial, price = EXCLUDED.price, bought = EXCLUDED.bought, hired_from = EXCLUDED.hired_from, hired_until = EXCLUDED.hired_until, photo = EXCLUDED.photo;

-- name: put_model!
-- A model, new or changed.
INSERT INTO model (id, kind, document) VALUES (:id, :kind, :document)
ON CONFLICT (id) DO UPDATE SET kind = EXCLUDED.kind, document = EXCLUDED.document;

-- name: put_interface!
-- An interface, new or changed.
INSERT INTO interface (id, document) VALUES (:id, :document)
ON CONFLICT (id) DO UPDATE SET document = EXCLUDED.document;

-- name: lock_catalogue!
-- One change of the shelf at a time: the second waits, and then sees the first.
SELECT revision FROM catalogue_revision FOR UPDATE;

-- name: add_history!
-- A change of the shelf.
INSERT INTO shelf_history (kind, thing, title, before, after, actor) VALUES (:kind, :thing, :title, :before, :after, :actor);

-- name: history
-- The latest changes of a thing, newest first.
SELECT title, actor, at FROM shelf_history WHERE kind = :kind AND thing = :thing ORDER BY id DESC LIMIT :most;

-- name: last_change^
-- The latest change of a thing; 0 for one that never was changed here.
SELECT coalesce(max(id), 0) AS id FROM shelf_history WHERE kind = :kind AND thing = :thing;

-- name: changes_since
-- What happened to a thing after a change.
SELECT title, actor, at FROM shelf_history WHERE kind = :kind AND thing = :thing AND id > :seen ORDER BY id;

-- name: uses_of
-- Builds that a unit is in, with the parts of the day in which it is claimed.
SELECT job.id AS job_id, job.title AS job, rig.label AS rig, build.label AS build,
    count(claim.part_id) AS parts
FROM build_unit
JOIN build ON build.job_id = build_unit.job_id AND build.id = build_unit.build_id
JOIN rig ON rig.job_id = build.job_id AND rig.id = build.rig_id
JOIN job ON job.id = build.job_id
LEFT JOIN claim ON claim.job_id = build_unit.job_id AND claim.build_id = build_unit.build_id AND claim.unit_id = build_unit.unit_id
WHERE build_unit.unit_id = :unit
GROUP BY job.id, job.title, rig.label, rig.number, build.label, build.ordinal ORDER BY job.title, rig.number, build.ordinal;

-- name: claims_in
-- Units that rigs have in a part of the day.
SELECT claim.unit_id AS unit, claim.job_id AS job, coalesce(rig.label, claim.serves) AS rig, coalesce(build.label, 'charging plan') AS build, upper(claim.during) AS until
FROM claim
LEFT JOIN build ON build.job_id = claim.job_id AND build.id = claim.build_id
LEFT JOIN rig ON rig.job_id = build.job_id AND rig.id = build.rig_id
JOIN part_of_day part ON part.job_id = :job AND part.id = :part AND part.during && claim.during;

-- name: share_catalogue^
-- The shelf as it is stays so until the transaction ends; others may hold it too. What it and a job stand at.
SELECT shelf.revision AS shelf, job.revision AS job FROM catalogue_revision shelf LEFT JOIN job ON job.id = :job FOR SHARE OF shelf;

-- name: jobs_with_units
-- Ids of the jobs whose builds have one of these units.
SELECT DISTINCT job_id AS id FROM build_unit WHERE unit_id = ANY(:units) ORDER BY job_id;

-- name: held_by
-- What keeps a unit on the shelf: builds, chargers, boxes and sound of a job, noted swaps, custody of cards.
SELECT job.id AS job, job.title || ', ' || rig.label || ': ' || build.label AS held
FROM build_unit
JOIN build ON build.job_id = build_unit.job_id AND build.id = build_unit.build_id
JOIN rig ON rig.job_id = build.job_id AND rig.id = build.rig_id
JOIN job ON job.id = build.job_id
WHERE build_unit.unit_id = :unit
UNION ALL
SELECT job.id, job.title || ', charging plan' FROM job
WHERE jsonb_path_exists(job.charging, '$.chargers[*].unit ? (@ == $unit)', jsonb_build_object('unit', :unit::text))
   OR jsonb_path_exists(job.charging, '$.boxes[*].unit ? (@ == $unit)', jsonb_build_object('unit', :unit::text))
UNION ALL
SELECT job.id, job.title || ', sound' FROM job
WHERE jsonb_path_exists(job.sound, '$.voices[*].sources[*].units[*] ? (@ == $unit)', jsonb_build_object('unit', :unit::text))
UNION ALL
SELECT job.id, job.title || ', packing' FROM job
WHERE jsonb_path_exists(job.pack, '$.cases[*].unit ? (@ == $unit)', jsonb_build_object('unit', :unit::text))
UNION ALL
SELECT NULL, 'the log of swaps' FROM swap_made WHERE pack_in = :unit OR pack_out = :unit
UNION ALL
SELECT NULL, 'the custody of cards' FROM card_step WHERE card = :unit OR unit = :unit
LIMIT 4;

-- name: remove_unit!
-- A unit that is nowhere any more.
DELETE FROM unit WHERE id = :unit;

-- name: wanted_in
-- Jobs that want gear of a model.
SELECT id, title FROM job
WHERE jsonb_path_exists(money, '$.wants[*].model ? (@ == $model)', jsonb_build_object('model', :model::text)) ORDER BY title;

-- name: remove_model!
-- A model that no unit is of.
DELETE FROM model WHERE id = :model;

-- name: remove_interface!
-- An interface that no model has.
DELETE FROM interface WHERE id = :interface;
