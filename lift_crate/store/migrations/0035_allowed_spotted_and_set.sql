-- What a job is allowed, by its use and with the day somebody looked; and who watches the way of a moving operator.

ALTER TABLE job ADD COLUMN safety jsonb NOT NULL DEFAULT '{}';
ALTER TABLE plan ADD COLUMN spotter text NOT NULL DEFAULT '';

ALTER TABLE log_entry DROP CONSTRAINT log_entry_kind;
ALTER TABLE log_entry ADD CONSTRAINT log_entry_kind CHECK (kind IN
    ('note', 'fault', 'near miss', 'reading', 'minutes', 'consent', 'promise', 'version', 'weather', 'set', 'settled'));

CREATE OR REPLACE FUNCTION bump_own_job() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    IF (NEW.title, NEW.settings, NEW.charging, NEW.zone, NEW.venue, NEW.sound, NEW.money, NEW.pack, NEW.safety)
        IS DISTINCT FROM
        (OLD.title, OLD.settings, OLD.charging, OLD.zone, OLD.venue, OLD.sound, OLD.money, OLD.pack, OLD.safety) THEN
        NEW.revision := nextval('job_revision');
    END IF;
    RETURN NEW;
END $$;
