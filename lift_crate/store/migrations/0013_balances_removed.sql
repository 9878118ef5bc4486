-- A balance that was removed is kept and can be brought back.

ALTER TABLE balance ADD COLUMN removed timestamptz;
