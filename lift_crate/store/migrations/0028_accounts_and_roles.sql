-- Who works here: accounts with their standing in the house, roles by job, sessions, invitations, and what was changed of it by whom.

CREATE TABLE account (
    id text PRIMARY KEY,
    name text NOT NULL CONSTRAINT account_name CHECK (name <> ''),
    house text NOT NULL CONSTRAINT account_house CHECK (house IN ('lead', 'keeper', 'member')),
    password text,
    demo boolean NOT NULL DEFAULT false,
    made_at timestamptz NOT NULL DEFAULT now(),
    gone_at timestamptz
);
CREATE UNIQUE INDEX account_by_name ON account (lower(name)) WHERE gone_at IS NULL;

-- By the job's name and not by the job: one that was replaced by a file or brought back has the crew that it had.
CREATE TABLE job_role (
    job_id text NOT NULL,
    account_id text NOT NULL REFERENCES account,
    role text NOT NULL CONSTRAINT job_role_role CHECK (role IN ('lead', 'operator', 'keeper', 'viewer')),
    PRIMARY KEY (job_id, account_id)
);

CREATE TABLE session (
    id bigint GENERATED ALWAYS AS IDENTITY UNIQUE,
    token bytea PRIMARY KEY,
    account_id text NOT NULL REFERENCES account,
    word text NOT NULL,
    made_at timestamptz NOT NULL DEFAULT now(),
    seen_at timestamptz NOT NULL DEFAULT now(),
    agent text NOT NULL DEFAULT '',
    address text NOT NULL DEFAULT ''
);
CREATE INDEX session_of_account ON session (account_id);

-- A link that is used once: into a job, or to a new password.
CREATE TABLE invitation (
    id bigint GENERATED ALWAYS AS IDENTITY UNIQUE,
    token bytea PRIMARY KEY,
    account_id text REFERENCES account,
    house text CONSTRAINT invitation_house CHECK (house IN ('lead', 'keeper', 'member')),
    job_id text,
    role text CONSTRAINT invitation_role CHECK (role IN ('lead', 'operator', 'keeper', 'viewer')),
    made_by text NOT NULL,
    made_at timestamptz NOT NULL DEFAULT now(),
    ends_at timestamptz NOT NULL,
    used_at timestamptz,
    used_by text REFERENCES account,
    CONSTRAINT invitation_role_in_job CHECK ((job_id IS NULL) = (role IS NULL))
);

CREATE TABLE first_code (
    single boolean PRIMARY KEY DEFAULT true CHECK (single),
    code bytea NOT NULL,
    made_at timestamptz NOT NULL DEFAULT now()
);

CREATE TABLE wrong_try (
    at_what text PRIMARY KEY,
    failures integer NOT NULL,
    last_at timestamptz NOT NULL DEFAULT now()
);

CREATE TABLE crew_history (
    id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    at timestamptz NOT NULL DEFAULT now(),
    actor text NOT NULL,
    job_id text,
    what text NOT NULL
);
