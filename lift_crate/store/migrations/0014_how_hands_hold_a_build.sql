-- How hands hold a build, by its name in the settings of the job.

ALTER TABLE build ADD COLUMN grip text;
