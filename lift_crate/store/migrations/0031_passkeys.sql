-- Keys that a device of somebody's holds, by which he signs in without a password; and what a device was asked, for a few minutes.
CREATE TABLE passkey (
    id bytea PRIMARY KEY,
    account_id text NOT NULL REFERENCES account,
    public_key bytea NOT NULL,
    sign_count bigint NOT NULL,
    label text NOT NULL,
    made_at timestamptz NOT NULL DEFAULT now(),
    used_at timestamptz
);
CREATE INDEX passkey_of_account ON passkey (account_id);

CREATE TABLE passkey_asked (
    challenge bytea PRIMARY KEY,
    account_id text REFERENCES account,
    at timestamptz NOT NULL DEFAULT now()
);
