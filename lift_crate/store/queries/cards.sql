-- name: lock_cards
-- Steps are judged one after the other: what one of them takes for granted stays so until it is kept.
SELECT pg_advisory_xact_lock(7231904119);

-- name: card_steps
-- Everything that was done with cards, of all jobs, what was taken back among it.
SELECT id, job_id, card, act, at, unit, slot, place, gb, verified, checksum, note, once_only, actor, taken_back_by
FROM card_step ORDER BY at, id;

-- name: add_card_step^
-- Something was done with a card.
INSERT INTO card_step (job_id, card, act, at, unit, slot, place, gb, verified, checksum, note, once_only, actor)
VALUES (:job, :card, :act, :at, :unit, :slot, :place, :gb, :verified, :checksum, :note, :once_only, :actor) RETURNING id;

-- name: take_back_card_step!
-- It was noted by mistake.
UPDATE card_step SET taken_back_by = :actor, taken_back_at = now() WHERE id = :id AND taken_back_by IS NULL;
