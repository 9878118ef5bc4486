-- Condition of every unit, and what was changed on the shelf, by whom, when.

ALTER TABLE unit ADD COLUMN condition text NOT NULL DEFAULT 'good'
    CONSTRAINT unit_condition CHECK (condition IN ('good', 'doubtful', 'out of use'));

CREATE TABLE shelf_history (
    id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    kind text NOT NULL CHECK (kind IN ('unit', 'model', 'interface')),
    thing text NOT NULL,
    title text NOT NULL,
    before jsonb,
    after jsonb NOT NULL,
    actor text NOT NULL,
    at timestamptz NOT NULL DEFAULT now()
);
CREATE INDEX shelf_history_thing ON shelf_history (kind, thing, id DESC);
