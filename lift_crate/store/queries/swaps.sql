-- name: add_swap^
-- A swap was really made.
INSERT INTO swap_made (job_id, slot, pack_out, pack_in, at, charge_left, charge_in, actor)
VALUES (:job, :slot, :pack_out, :pack_in, :at, :charge_left, :charge_in, :actor) RETURNING id;

-- name: swaps
-- Swaps that were made in a job, in the order of time.
SELECT id, slot, pack_out, pack_in, at, charge_left, charge_in, actor FROM swap_made WHERE job_id = :job ORDER BY at, id;

-- name: drop_swap!
-- A swap was noted by mistake.
DELETE FROM swap_made WHERE job_id = :job AND id = :id;
