-- A note keeps the time at which it happened, and when it came in; a swap that was none is taken back and not deleted.

ALTER TABLE balance ADD COLUMN noted_at timestamptz NOT NULL DEFAULT now(), ADD COLUMN touched_at jsonb NOT NULL DEFAULT '{}';
UPDATE balance SET noted_at = at;

ALTER TABLE swap_made ADD COLUMN taken_back_at timestamptz, ADD COLUMN taken_back_by text, DROP CONSTRAINT swap_once;
CREATE UNIQUE INDEX swap_once ON swap_made (job_id, slot, at) WHERE taken_back_by IS NULL;
DROP TRIGGER swap_is_told ON swap_made;
CREATE OR REPLACE FUNCTION tell_swap() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    PERFORM tell(NEW.job_id, 'swaps', NEW.slot, 0, NEW.pack_in, coalesce(NEW.taken_back_by, NEW.actor));
    RETURN NULL;
END $$;
CREATE TRIGGER swap_is_told AFTER INSERT OR UPDATE ON swap_made FOR EACH ROW EXECUTE FUNCTION tell_swap();
