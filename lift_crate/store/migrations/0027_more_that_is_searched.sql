-- What cures a shortage or a run sheet, and which units go where, is found by the workers too: each is waited for by itself.

ALTER TABLE day_plan_wish DROP CONSTRAINT day_plan_wish_slot;
ALTER TABLE day_plan_wish ADD CONSTRAINT day_plan_wish_slot
    CHECK (slot IN ('day', 'what if', 'run', 'run late', 'cures', 'run cures', 'deal', 'swaps'));
