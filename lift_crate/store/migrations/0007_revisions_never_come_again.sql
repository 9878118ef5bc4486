-- A job's revision names one state of it for good, also over its replacement by a file:
-- what is kept by a revision is never taken for another state.
CREATE SEQUENCE job_revision;
SELECT setval('job_revision', (SELECT coalesce(max(revision), 0) + 1 FROM job));
ALTER TABLE job ALTER COLUMN revision SET DEFAULT nextval('job_revision');
UPDATE job SET revision = nextval('job_revision');
DELETE FROM day_plan;

CREATE OR REPLACE FUNCTION bump_job() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    UPDATE job SET revision = nextval('job_revision') WHERE id = coalesce(NEW.job_id, OLD.job_id);
    RETURN NULL;
END $$;

CREATE OR REPLACE FUNCTION bump_own_job() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    IF (NEW.title, NEW.settings, NEW.charging, NEW.zone) IS DISTINCT FROM (OLD.title, OLD.settings, OLD.charging, OLD.zone) THEN
        NEW.revision := nextval('job_revision');
    END IF;
    RETURN NEW;
END $$;
