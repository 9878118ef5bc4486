-- What a job charges with, what a unit was measured to draw, how often a pack was charged, and the swaps that were really made.

ALTER TABLE job ADD COLUMN charging jsonb NOT NULL DEFAULT '{}';

ALTER TABLE unit ADD COLUMN measured_w double precision CONSTRAINT unit_measured_w CHECK (measured_w >= 0);

ALTER TABLE unit ADD COLUMN cycles integer CONSTRAINT unit_cycles CHECK (cycles >= 0);

CREATE TABLE swap_made (
    id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    job_id text NOT NULL REFERENCES job ON DELETE CASCADE,
    slot text NOT NULL CONSTRAINT swap_slot CHECK (slot <> ''),
    pack_out text REFERENCES unit,
    pack_in text NOT NULL REFERENCES unit,
    at timestamptz NOT NULL,
    charge_left double precision CONSTRAINT swap_charge_left CHECK (charge_left BETWEEN 0 AND 1),
    charge_in double precision CONSTRAINT swap_charge_in CHECK (charge_in BETWEEN 0 AND 1),
    actor text NOT NULL,
    noted timestamptz NOT NULL DEFAULT now(),
    CONSTRAINT swap_two_packs CHECK (pack_out IS DISTINCT FROM pack_in),
    CONSTRAINT swap_once UNIQUE (job_id, slot, at)
);
