-- Run sheets are searched by the workers too: everybody waits for one of them as it is planned, and one that runs late.

ALTER TABLE day_plan_wish DROP CONSTRAINT day_plan_wish_slot;
ALTER TABLE day_plan_wish ADD CONSTRAINT day_plan_wish_slot CHECK (slot IN ('day', 'what if', 'run', 'run late'));
