-- Drills that were played, by whom and how well; and those that a keeper has put up for the crew.

CREATE TABLE drill_run (
    id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    job_id text NOT NULL,
    kind text NOT NULL CONSTRAINT drill_run_kind CHECK (kind IN ('balance', 'wrong link', 'faults', 'late day', 'orientation')),
    part text NOT NULL,
    rig text NOT NULL,
    seed integer NOT NULL,
    points integer NOT NULL CONSTRAINT drill_run_points CHECK (points BETWEEN 0 AND 100),
    won boolean NOT NULL,
    said text NOT NULL,
    person text NOT NULL,
    at timestamptz NOT NULL DEFAULT now()
);
CREATE INDEX drill_run_person ON drill_run (job_id, person, id);

CREATE TABLE drill_kept (
    id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    job_id text NOT NULL,
    kind text NOT NULL CONSTRAINT drill_kept_kind CHECK (kind IN ('balance', 'wrong link', 'faults', 'late day', 'orientation')),
    part text NOT NULL,
    rig text NOT NULL,
    seed integer NOT NULL,
    title text NOT NULL CONSTRAINT drill_kept_title CHECK (title <> '' AND length(title) <= 200),
    actor text NOT NULL,
    at timestamptz NOT NULL DEFAULT now()
);
CREATE INDEX drill_kept_job ON drill_kept (job_id, id);
