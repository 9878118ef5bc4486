-- What was done with every card, by whom and when, whatever becomes of the job it was done in. A step that was noted by mistake is taken back and stays readable.

CREATE TABLE card_step (
    id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    job_id text NOT NULL,
    card text NOT NULL REFERENCES unit,
    act text NOT NULL CONSTRAINT card_step_act CHECK (act IN ('in', 'out', 'copied', 'wiped', 'fault', 'sound again')),
    at timestamptz NOT NULL,
    unit text REFERENCES unit,
    slot text,
    place text NOT NULL DEFAULT '',
    gb double precision CONSTRAINT card_step_gb CHECK (gb > 0),
    verified boolean NOT NULL DEFAULT false,
    checksum text NOT NULL DEFAULT '',
    note text NOT NULL DEFAULT '',
    once_only boolean NOT NULL DEFAULT false,
    actor text NOT NULL,
    noted_at timestamptz NOT NULL DEFAULT now(),
    taken_back_by text,
    taken_back_at timestamptz,
    CONSTRAINT card_step_slot CHECK ((act = 'in') = (unit IS NOT NULL AND slot IS NOT NULL)),
    CONSTRAINT card_step_taken_back CHECK ((taken_back_by IS NULL) = (taken_back_at IS NULL))
);

CREATE INDEX card_step_of_card ON card_step (card, at);
CREATE INDEX card_step_of_unit ON card_step (unit);
