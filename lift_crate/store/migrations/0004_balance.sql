-- What a rig was balanced for, what was computed, and what was really set.

CREATE TABLE balance (
    id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    job_id text NOT NULL,
    build_id text NOT NULL,
    fingerprint text NOT NULL,
    build jsonb NOT NULL,
    computed jsonb NOT NULL,
    set_to jsonb NOT NULL,
    note text NOT NULL DEFAULT '',
    actor text NOT NULL,
    at timestamptz NOT NULL DEFAULT now(),
    FOREIGN KEY (job_id, build_id) REFERENCES build ON DELETE CASCADE
);
CREATE INDEX balance_of_build ON balance (job_id, build_id, id DESC);
