-- A job's zone and revision, what a build is held by, history that outlives what it is of,
-- claims of what charging uses, and days of swaps planned by workers.

ALTER TABLE job ADD COLUMN zone text NOT NULL DEFAULT 'UTC';
ALTER TABLE job ADD COLUMN revision bigint NOT NULL DEFAULT 0;
ALTER TABLE build ADD COLUMN held_by text;
CREATE INDEX build_unit_unit ON build_unit (unit_id);

-- Counts changes of a job, so that what was computed from it is known to be old.
CREATE FUNCTION bump_job() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    UPDATE job SET revision = revision + 1 WHERE id = coalesce(NEW.job_id, OLD.job_id);
    RETURN NULL;
END $$;
CREATE TRIGGER part_changes_job AFTER INSERT OR UPDATE OR DELETE ON part_of_day FOR EACH ROW EXECUTE FUNCTION bump_job();
CREATE TRIGGER rig_changes_job AFTER INSERT OR UPDATE OR DELETE ON rig FOR EACH ROW EXECUTE FUNCTION bump_job();
CREATE TRIGGER build_changes_job AFTER INSERT OR UPDATE OR DELETE ON build FOR EACH ROW EXECUTE FUNCTION bump_job();
CREATE TRIGGER plan_changes_job AFTER INSERT OR UPDATE OR DELETE ON plan FOR EACH ROW EXECUTE FUNCTION bump_job();
CREATE TRIGGER swap_changes_job AFTER INSERT OR UPDATE OR DELETE ON swap_made FOR EACH ROW EXECUTE FUNCTION bump_job();

CREATE FUNCTION bump_own_job() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    IF (NEW.title, NEW.settings, NEW.charging, NEW.zone) IS DISTINCT FROM (OLD.title, OLD.settings, OLD.charging, OLD.zone) THEN
        NEW.revision := OLD.revision + 1;
    END IF;
    RETURN NEW;
END $$;
CREATE TRIGGER job_changes_itself BEFORE UPDATE ON job FOR EACH ROW EXECUTE FUNCTION bump_own_job();

-- What a person did is kept whatever becomes of the build or the job: it goes by their names.
ALTER TABLE edit DROP CONSTRAINT edit_job_id_build_id_fkey;
ALTER TABLE balance DROP CONSTRAINT balance_job_id_build_id_fkey;
ALTER TABLE swap_made DROP CONSTRAINT swap_made_job_id_fkey;
ALTER TABLE replaced_job ADD COLUMN title text NOT NULL DEFAULT '';
ALTER TABLE replaced_job ADD COLUMN actor text NOT NULL DEFAULT '';
UPDATE replaced_job SET title = coalesce(document -> 'job' ->> 'title', '');
CREATE INDEX replaced_job_of ON replaced_job (job_id, id DESC);

-- Lights, recorders and chargers of a job's charging plan are claimed like units of a rig:
-- without a build, by what they are there for.
ALTER TABLE claim DROP CONSTRAINT claim_pkey;
ALTER TABLE claim ALTER COLUMN build_id DROP NOT NULL;
ALTER TABLE claim ADD COLUMN serves text CONSTRAINT claim_serves CHECK ((serves IS NULL) <> (build_id IS NULL));
ALTER TABLE claim ADD FOREIGN KEY (unit_id) REFERENCES unit;
CREATE UNIQUE INDEX claim_of_build ON claim (job_id, part_id, build_id, unit_id) WHERE build_id IS NOT NULL;
CREATE UNIQUE INDEX claim_of_charging ON claim (job_id, part_id, unit_id) WHERE build_id IS NULL;

INSERT INTO claim (job_id, part_id, unit_id, during, serves)
SELECT part.job_id, part.id, box ->> 'unit', part.during, coalesce(nullif(box ->> 'label', ''), box ->> 'unit')
FROM job JOIN part_of_day part ON part.job_id = job.id, jsonb_array_elements(coalesce(job.charging -> 'boxes', '[]')) box
WHERE coalesce(box -> 'parts', '[]') ? part.id AND EXISTS (SELECT FROM unit WHERE id = box ->> 'unit')
ON CONFLICT DO NOTHING;
INSERT INTO claim (job_id, part_id, unit_id, during, serves)
SELECT part.job_id, part.id, place ->> 'unit', part.during, coalesce(nullif(place ->> 'place', ''), 'charging')
FROM job JOIN part_of_day part ON part.job_id = job.id, jsonb_array_elements(coalesce(job.charging -> 'chargers', '[]')) place
WHERE EXISTS (SELECT FROM unit WHERE id = place ->> 'unit')
ON CONFLICT DO NOTHING;

-- Two changes that take the same units take them in one order.
CREATE OR REPLACE FUNCTION claim_for_unit() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    INSERT INTO claim (job_id, part_id, build_id, unit_id, during)
    SELECT plan.job_id, plan.part_id, plan.build_id, NEW.unit_id, part.during
    FROM plan JOIN part_of_day part ON part.job_id = plan.job_id AND part.id = plan.part_id
    WHERE plan.job_id = NEW.job_id AND plan.build_id = NEW.build_id ORDER BY lower(part.during);
    RETURN NULL;
END $$;
CREATE OR REPLACE FUNCTION claim_for_plan() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    INSERT INTO claim (job_id, part_id, build_id, unit_id, during)
    SELECT NEW.job_id, NEW.part_id, NEW.build_id, build_unit.unit_id, part.during
    FROM build_unit JOIN part_of_day part ON part.job_id = NEW.job_id AND part.id = NEW.part_id
    WHERE build_unit.job_id = NEW.job_id AND build_unit.build_id = NEW.build_id ORDER BY build_unit.unit_id;
    RETURN NULL;
END $$;

-- A day of swaps as it is planned, by what it was asked for; all servers share it.
CREATE TABLE day_plan (
    id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    job_id text NOT NULL,
    job_revision bigint NOT NULL,
    catalogue_revision bigint NOT NULL,
    question jsonb NOT NULL,
    state text NOT NULL DEFAULT 'asked' CONSTRAINT day_plan_state CHECK (state IN ('asked', 'working', 'done', 'failed', 'left')),
    answer jsonb,
    failed text NOT NULL DEFAULT '',
    settled boolean NOT NULL DEFAULT false,
    told integer NOT NULL DEFAULT 0,
    asked_at timestamptz NOT NULL DEFAULT now(),
    alive_at timestamptz NOT NULL DEFAULT now(),
    used_at timestamptz NOT NULL DEFAULT now()
);
CREATE UNIQUE INDEX day_plan_question ON day_plan (job_id, job_revision, catalogue_revision, md5(question::text));
CREATE INDEX day_plan_used ON day_plan (used_at);

-- Who waits for a plan: one slot for the day and one for what-ifs in every browser.
CREATE TABLE day_plan_wish (
    asker text NOT NULL,
    slot text NOT NULL CONSTRAINT day_plan_wish_slot CHECK (slot IN ('day', 'what if')),
    plan_id bigint NOT NULL REFERENCES day_plan ON DELETE CASCADE,
    at timestamptz NOT NULL DEFAULT now(),
    PRIMARY KEY (asker, slot)
);
CREATE INDEX day_plan_wish_plan ON day_plan_wish (plan_id);
