-- name: recipes
-- All recipes by name, those that were removed last.
SELECT id, label, document, actor, at, removed IS NOT NULL AS removed FROM recipe ORDER BY removed IS NOT NULL, lower(label), id;

-- name: ids
-- Ids of all recipes, removed ones too.
SELECT id FROM recipe;

-- name: recipe^
-- One recipe.
SELECT id, label, document, actor, at, removed IS NOT NULL AS removed FROM recipe WHERE id = :id;

-- name: add!
-- A new recipe.
INSERT INTO recipe (id, label, document, actor) VALUES (:id, :label, :document, :actor);

-- name: rename$
-- Another name for a recipe.
UPDATE recipe SET label = :label WHERE id = :id RETURNING id;

-- name: remove$
-- Put a recipe away, or take it out again.
UPDATE recipe SET removed = CASE WHEN :removed THEN now() END WHERE id = :id RETURNING id;

-- name: busy
-- Units in use anywhere during a part of the day, but for one camera's.
SELECT DISTINCT theirs.unit_id AS unit
FROM part_of_day part
JOIN claim theirs ON theirs.during && part.during
LEFT JOIN build ON build.job_id = theirs.job_id AND build.id = theirs.build_id
WHERE part.job_id = :job AND part.id = :part AND (theirs.job_id <> :job OR build.rig_id IS DISTINCT FROM :rig);
