-- Voices of a job with their sources, radio bands, and how devices are kept in step.

ALTER TABLE job ADD COLUMN sound jsonb NOT NULL DEFAULT '{}';

CREATE OR REPLACE FUNCTION bump_own_job() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    IF (NEW.title, NEW.settings, NEW.charging, NEW.zone, NEW.venue, NEW.sound)
        IS DISTINCT FROM (OLD.title, OLD.settings, OLD.charging, OLD.zone, OLD.venue, OLD.sound) THEN
        NEW.revision := nextval('job_revision');
    END IF;
    RETURN NEW;
END $$;
