-- What was done at every source of sound before it counted as rolling, by whom and when, whatever becomes of the job.

CREATE TABLE sound_step (
    id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    job_id text NOT NULL,
    voice text NOT NULL,
    source text NOT NULL,
    act text NOT NULL CONSTRAINT sound_step_act CHECK (act IN ('runs', 'locked', 'heard', 'slated', 'stopped')),
    at timestamptz NOT NULL,
    file text NOT NULL DEFAULT '',
    wearer text NOT NULL DEFAULT '',
    actor text NOT NULL,
    noted_at timestamptz NOT NULL DEFAULT now(),
    taken_back_by text,
    taken_back_at timestamptz,
    CONSTRAINT sound_step_taken_back CHECK ((taken_back_by IS NULL) = (taken_back_at IS NULL))
);

CREATE INDEX sound_step_of_job ON sound_step (job_id, at);
