-- What was noted without a connection is sent when there is one again, perhaps twice: it is taken once.
CREATE TABLE taken_once (
    key text PRIMARY KEY,
    at timestamptz NOT NULL DEFAULT now()
);
CREATE INDEX taken_once_at ON taken_once (at);
