-- How a job's gear travels, and what was packed, given out and brought back.

ALTER TABLE job ADD COLUMN pack jsonb NOT NULL DEFAULT '{}';

CREATE OR REPLACE FUNCTION bump_own_job() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    IF (NEW.title, NEW.settings, NEW.charging, NEW.zone, NEW.venue, NEW.sound, NEW.money, NEW.pack)
        IS DISTINCT FROM (OLD.title, OLD.settings, OLD.charging, OLD.zone, OLD.venue, OLD.sound, OLD.money, OLD.pack) THEN
        NEW.revision := nextval('job_revision');
    END IF;
    RETURN NEW;
END $$;

CREATE TABLE pack_step (
    id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    job_id text NOT NULL,
    act text NOT NULL CONSTRAINT pack_step_act CHECK (act IN ('packed', 'closed', 'opened', 'back', 'missing', 'returned')),
    thing text NOT NULL,
    in_case text NOT NULL DEFAULT '',
    at timestamptz NOT NULL,
    note text NOT NULL DEFAULT '',
    actor text NOT NULL,
    noted_at timestamptz NOT NULL DEFAULT now(),
    taken_back_by text,
    taken_back_at timestamptz,
    CONSTRAINT pack_step_taken_back CHECK ((taken_back_by IS NULL) = (taken_back_at IS NULL))
);
CREATE INDEX pack_step_of_job ON pack_step (job_id, at);

ALTER TABLE happening DROP CONSTRAINT happening_kind;
ALTER TABLE happening ADD CONSTRAINT happening_kind
    CHECK (kind IN ('build', 'job', 'jobs', 'shelf', 'cards', 'sound', 'swaps', 'balance', 'crew', 'pack', 'log'));

CREATE FUNCTION tell_pack() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    PERFORM tell(NEW.job_id, 'pack', NEW.thing, 0, NEW.act, coalesce(NEW.taken_back_by, NEW.actor));
    RETURN NULL;
END $$;
CREATE TRIGGER pack_is_told AFTER INSERT OR UPDATE ON pack_step FOR EACH ROW EXECUTE FUNCTION tell_pack();

ALTER TABLE day_plan_wish DROP CONSTRAINT day_plan_wish_slot;
ALTER TABLE day_plan_wish ADD CONSTRAINT day_plan_wish_slot
    CHECK (slot IN ('day', 'what if', 'run', 'run late', 'cures', 'run cures', 'deal', 'swaps', 'pack'));
