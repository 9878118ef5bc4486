-- Settings of a build kept under names.

ALTER TABLE build ADD COLUMN presets jsonb NOT NULL DEFAULT '[]';
