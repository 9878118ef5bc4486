-- How the arms of a build are bent at their hinges.

ALTER TABLE build ADD COLUMN bends jsonb NOT NULL DEFAULT '[]';
