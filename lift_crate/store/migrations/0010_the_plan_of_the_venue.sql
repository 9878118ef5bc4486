-- What stands on the plan of a job, and where each camera stands on it.

ALTER TABLE job ADD COLUMN venue jsonb NOT NULL DEFAULT '{}';
ALTER TABLE rig ADD COLUMN place jsonb;

CREATE OR REPLACE FUNCTION bump_own_job() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    IF (NEW.title, NEW.settings, NEW.charging, NEW.zone, NEW.venue)
        IS DISTINCT FROM (OLD.title, OLD.settings, OLD.charging, OLD.zone, OLD.venue) THEN
        NEW.revision := nextval('job_revision');
    END IF;
    RETURN NEW;
END $$;
