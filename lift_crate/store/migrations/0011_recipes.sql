-- Recipes: builds by models, for any job here. One that was removed is kept and can be brought back.

CREATE TABLE recipe (
    id text PRIMARY KEY CONSTRAINT recipe_id CHECK (id <> '' AND length(id) <= 120),
    label text NOT NULL CONSTRAINT recipe_label CHECK (label <> '' AND length(label) <= 200),
    document jsonb NOT NULL,
    actor text NOT NULL,
    at timestamptz NOT NULL DEFAULT now(),
    removed timestamptz
);
