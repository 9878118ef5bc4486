-- name: take_once$
-- Take what is sent under a key, unless it was taken before; keys are kept for ninety days.
WITH old AS (DELETE FROM taken_once WHERE at < now() - interval '90 days')
INSERT INTO taken_once (key) VALUES (:key) ON CONFLICT DO NOTHING RETURNING key;

-- name: last_happening^
-- The newest thing that was told, the oldest that is kept, and the newest that a page which is just opening has surely read.
SELECT coalesce(max(id), 0) AS last, coalesce(min(id), 0) AS first,
    coalesce(max(id) FILTER (WHERE at NOT BETWEEN now() - interval '15 s' AND now()), 0) AS read FROM happening;

-- name: happenings
-- What was told of a job and of the shelf after one thing.
SELECT id, at, job_id, kind, thing, version, title, actor, browser FROM happening
WHERE (job_id = :job OR job_id IS NULL) AND id > :after ORDER BY id LIMIT :most;

-- name: look!
-- A window looks at a job from now on.
INSERT INTO looking (tab, stream, job_id, account_id, name, part, rig, place)
VALUES (:tab, :stream, :job, :account, :name, :part, :rig, :place)
ON CONFLICT (tab) DO UPDATE SET stream = excluded.stream, job_id = excluded.job_id, account_id = excluded.account_id,
    name = excluded.name, part = excluded.part, rig = excluded.rig, place = excluded.place, at = now();

-- name: look_elsewhere!
-- A window looks at something else in its job.
UPDATE looking SET part = :part, rig = :rig, place = :place, at = now()
WHERE tab = :tab AND job_id = :job AND account_id = :account;

-- name: still_looking!
-- A window still looks; one that has not said so for long does not look any more.
WITH gone AS (DELETE FROM looking WHERE at NOT BETWEEN now() - interval '40 s' AND now() + interval '40 s' AND tab <> :tab)
UPDATE looking SET at = now() WHERE tab = :tab AND stream = :stream;

-- name: look_away!
-- A window looks no more; one that has come back meanwhile stays.
DELETE FROM looking WHERE tab = :tab AND stream = :stream;

-- name: gone!
-- A window was closed.
DELETE FROM looking WHERE tab = :tab AND job_id = :job AND account_id = :account;

-- name: who_looks
-- Windows that look at a job; one that says it looks some time to come does not: the clock was set back.
SELECT tab, name, part, rig, place FROM looking WHERE job_id = :job AND at BETWEEN now() - interval '40 s' AND now() + interval '40 s' ORDER BY name, tab;
