-- A build that is switched off between takes.

ALTER TABLE build ADD COLUMN off_between boolean NOT NULL DEFAULT false;
