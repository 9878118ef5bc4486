-- What happened in a job, as it was noted; and figures that were learnt from it and taken over.

ALTER TABLE unit ADD COLUMN measured_h double precision CONSTRAINT unit_measured_h CHECK (measured_h > 0);

CREATE TABLE log_entry (
    job_id text NOT NULL,
    id text NOT NULL,
    kind text NOT NULL CONSTRAINT log_entry_kind CHECK (kind IN
        ('note', 'fault', 'near miss', 'reading', 'minutes', 'consent', 'promise', 'version', 'weather', 'settled')),
    at timestamptz NOT NULL,
    rig text NOT NULL DEFAULT '',
    unit text NOT NULL DEFAULT '',
    who text NOT NULL DEFAULT '',
    said text NOT NULL DEFAULT '',
    what text NOT NULL DEFAULT '',
    value double precision,
    times integer NOT NULL DEFAULT 1,
    people integer NOT NULL DEFAULT 1,
    verdict text NOT NULL DEFAULT '' CONSTRAINT log_entry_verdict CHECK (verdict IN ('', 'doubtful', 'out of use')),
    photo text NOT NULL DEFAULT '',
    number bigint,
    corrects text NOT NULL DEFAULT '',
    settles text NOT NULL DEFAULT '',
    actor text NOT NULL,
    noted_at timestamptz NOT NULL DEFAULT now(),
    serial bigint GENERATED ALWAYS AS IDENTITY,
    taken_back_by text,
    taken_back_at timestamptz,
    PRIMARY KEY (job_id, id),
    CONSTRAINT log_entry_taken_back CHECK ((taken_back_by IS NULL) = (taken_back_at IS NULL))
);
CREATE INDEX log_entry_unit ON log_entry (unit) WHERE unit <> '';

CREATE FUNCTION tell_log() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    PERFORM tell(NEW.job_id, 'log', coalesce(nullif(NEW.unit, ''), NEW.rig), 0, NEW.kind, coalesce(NEW.taken_back_by, NEW.actor));
    RETURN NULL;
END $$;
CREATE TRIGGER log_is_told AFTER INSERT OR UPDATE ON log_entry FOR EACH ROW EXECUTE FUNCTION tell_log();

CREATE TABLE figure_taken (
    id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    job_id text NOT NULL,
    subject text NOT NULL CONSTRAINT figure_taken_subject CHECK (subject IN ('health', 'draw', 'gimbal hours', 'card minutes', 'minutes')),
    thing text NOT NULL,
    before double precision NOT NULL,
    value double precision NOT NULL,
    at timestamptz NOT NULL DEFAULT now(),
    actor text NOT NULL
);
CREATE INDEX figure_taken_thing ON figure_taken (subject, thing, id);

ALTER TABLE day_plan_wish DROP CONSTRAINT day_plan_wish_slot;
ALTER TABLE day_plan_wish ADD CONSTRAINT day_plan_wish_slot
    CHECK (slot IN ('day', 'what if', 'run', 'run late', 'cures', 'run cures', 'deal', 'swaps', 'pack', 'effects'));
