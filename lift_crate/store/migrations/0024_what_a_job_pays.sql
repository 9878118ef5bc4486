-- Running costs and obligations of a job, and what is wanted for it.

ALTER TABLE job ADD COLUMN money jsonb NOT NULL DEFAULT '{}';

CREATE OR REPLACE FUNCTION bump_own_job() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    IF (NEW.title, NEW.settings, NEW.charging, NEW.zone, NEW.venue, NEW.sound, NEW.money)
        IS DISTINCT FROM (OLD.title, OLD.settings, OLD.charging, OLD.zone, OLD.venue, OLD.sound, OLD.money) THEN
        NEW.revision := nextval('job_revision');
    END IF;
    RETURN NEW;
END $$;
