-- Who works a camera in a part of the day, or that nobody does.

ALTER TABLE plan
    ADD COLUMN operator text NOT NULL DEFAULT '',
    ADD COLUMN unattended boolean NOT NULL DEFAULT false,
    ADD CONSTRAINT plan_nobody_or_somebody CHECK (NOT unattended OR operator = '');
