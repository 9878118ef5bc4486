-- What is written on a unit and what it cost; of hired ones, from when until when.

ALTER TABLE unit
    ADD COLUMN serial text NOT NULL DEFAULT '' CONSTRAINT unit_serial CHECK (length(serial) <= 200),
    ADD COLUMN price double precision CONSTRAINT unit_price CHECK (price >= 0),
    ADD COLUMN bought date,
    ADD COLUMN hired_from date,
    ADD COLUMN hired_until date,
    ADD CONSTRAINT unit_hired CHECK (hired_until >= hired_from);
