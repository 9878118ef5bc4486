-- name: add_swap^
-- A swap was really made.
INSERT INTO swap_made (job_id, slot, pack_out, pack_in, at, charge_left, charge_in, actor)
VALUES (:job, :slot, :pack_out, :pack_in, :at, :charge_left, :charge_in, :actor) RETURNING id;

-- name: swaps
-- Swaps that were made in a job, in the order of time.
SELECT id, slot, pack_out, pack_in, at, charge_left, charge_in, actor FROM swap_made
WHERE job_id = :job AND taken_back_by IS NULL ORDER BY at, id;

-- name: take_back_swap!
-- A swap was noted by mistake: it counts no more, and stays in the record.
UPDATE swap_made SET taken_back_at = now(), taken_back_by = :actor WHERE job_id = :job AND id = :id AND taken_back_by IS NULL;
