-- Pictures of units and venues, each called by what is in it; one that is asked for once more is there once.

CREATE TABLE picture (
    id text PRIMARY KEY CONSTRAINT picture_id CHECK (id <> '' AND length(id) <= 120),
    jpeg bytea NOT NULL CONSTRAINT picture_size CHECK (length(jpeg) <= 1500000),
    width integer NOT NULL,
    height integer NOT NULL,
    at timestamptz NOT NULL DEFAULT now()
);

ALTER TABLE unit ADD COLUMN photo text NOT NULL DEFAULT '' CONSTRAINT unit_photo CHECK (length(photo) <= 120);
