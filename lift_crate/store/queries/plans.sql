-- name: revisions^
-- What a plan rests on: the revisions of a job and of the shelf.
SELECT job.revision AS job_revision, catalogue_revision.revision AS catalogue_revision FROM job, catalogue_revision WHERE job.id = :job;

-- name: find_plan^
-- A plan by what was asked, without its answer.
SELECT id, state, failed, settled, told, alive_at NOT BETWEEN now() - make_interval(secs => :stale) AND now() + make_interval(secs => :stale) AS lost FROM day_plan
WHERE job_id = :job AND job_revision = :job_revision AND catalogue_revision = :catalogue_revision AND md5(question::text) = md5(:question::jsonb::text);

-- name: add_plan^
-- A question nobody asked before; none when somebody just did.
INSERT INTO day_plan (job_id, job_revision, catalogue_revision, question)
VALUES (:job, :job_revision, :catalogue_revision, :question) ON CONFLICT DO NOTHING RETURNING id;

-- name: ask_again!
-- A plan that was left, or whose worker is gone, is wanted again.
UPDATE day_plan SET state = 'asked', alive_at = now() WHERE id = :id AND (state = 'left' OR (state IN ('asked', 'working') AND alive_at NOT BETWEEN now() - make_interval(secs => :stale) AND now() + make_interval(secs => :stale)));

-- name: wish!
-- Somebody waits for a plan; what he waited for in that slot before he does no more.
INSERT INTO day_plan_wish (asker, slot, plan_id) VALUES (:asker, :slot, :plan)
ON CONFLICT (asker, slot) DO UPDATE SET plan_id = EXCLUDED.plan_id, at = now();

-- name: touch!
-- A plan was looked at.
UPDATE day_plan SET used_at = now() WHERE id = :id AND used_at < now() - interval '1 minute';

-- name: answer^
-- The answer of a plan as far as it has come.
SELECT answer, state, failed, settled, told FROM day_plan WHERE id = :id;

-- name: settled_answer^
-- A plan that has come to its end, of the job and the shelf as they are now.
SELECT answer FROM day_plan
JOIN job ON job.id = day_plan.job_id AND job.revision = day_plan.job_revision
JOIN catalogue_revision ON catalogue_revision.revision = day_plan.catalogue_revision
WHERE settled AND answer IS NOT NULL AND job_id = :job AND md5(question::text) = md5(:question::jsonb::text);

-- name: settled_findings^
-- What stands against a day whose plan stands.
SELECT answer -> 'findings' AS findings FROM day_plan
JOIN job ON job.id = day_plan.job_id AND job.revision = day_plan.job_revision
JOIN catalogue_revision ON catalogue_revision.revision = day_plan.catalogue_revision
WHERE settled AND job_id = :job AND md5(question::text) = md5(:question::jsonb::text);

-- name: take_up^
-- A plan to work on, if nobody else works on it.
UPDATE day_plan SET state = 'working', alive_at = now()
WHERE id = :id AND (state = 'asked' OR (state = 'working' AND alive_at NOT BETWEEN now() - make_interval(secs => :stale) AND now() + make_interval(secs => :stale)))
RETURNING job_id, job_revision, catalogue_revision, question;

-- name: tell!
-- What there is of an answer.
UPDATE day_plan SET answer = :answer, settled = :settled, told = told + 1, alive_at = now() WHERE id = :id AND state = 'working';

-- name: alive^
-- The worker is at it; whether anybody still waits.
WITH beat AS (UPDATE day_plan SET alive_at = now() WHERE id = :id)
SELECT EXISTS (SELECT FROM day_plan_wish WHERE plan_id = :id AND at > now() - make_interval(secs => :patience)) AS wanted;

-- name: finish!
-- A plan has come to its end.
UPDATE day_plan SET state = :state, failed = :failed, alive_at = now() WHERE id = :id AND state = 'working';

-- name: lost_plans
-- Plans that somebody waits for and no worker is at.
SELECT DISTINCT plan.id FROM day_plan plan JOIN day_plan_wish wish ON wish.plan_id = plan.id
WHERE plan.state = 'working' AND plan.alive_at NOT BETWEEN now() - make_interval(secs => :stale) AND now() + make_interval(secs => :stale) AND wish.at > now() - interval '1 minute';

-- name: forget_plans!
-- Plans nobody looked at for long, and all but the latest.
DELETE FROM day_plan WHERE used_at < now() - interval '2 days' OR id NOT IN (SELECT id FROM day_plan ORDER BY used_at DESC LIMIT :most);
