-- What the operator wears for a build.

ALTER TABLE build ADD COLUMN worn text[] NOT NULL DEFAULT '{}';
