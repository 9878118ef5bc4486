-- Jobs that are made and changed here: versions, a history of the frame, jobs put away.
ALTER TABLE job ADD COLUMN version integer NOT NULL DEFAULT 1;
ALTER TABLE job ADD COLUMN archived boolean NOT NULL DEFAULT false;
ALTER TABLE job ADD COLUMN made timestamptz NOT NULL DEFAULT now();

-- Every edit of a job's days, cameras, plan and settings, kept for ever, by the name of the job.
CREATE TABLE job_edit (
    job_id text NOT NULL,
    version integer NOT NULL,
    kind text NOT NULL CONSTRAINT job_edit_kind CHECK (kind IN ('do', 'undo', 'redo')),
    title text NOT NULL,
    before jsonb NOT NULL,
    after jsonb NOT NULL,
    -- as in edit
    state text NOT NULL CONSTRAINT job_edit_state CHECK (state IN ('done', 'undone', 'dropped')),
    actor text NOT NULL,
    at timestamptz NOT NULL DEFAULT now(),
    PRIMARY KEY (job_id, version)
);
