-- How the slots of a camera's recorder share the work in a part of the day; empty: as is usual.

ALTER TABLE plan ADD COLUMN scheme text NOT NULL DEFAULT ''
    CONSTRAINT plan_scheme CHECK (scheme IN ('', 'single', 'mirrored', 'relay'));
