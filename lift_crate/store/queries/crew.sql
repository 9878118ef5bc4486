-- name: any_account^
-- Whether anybody has an account who is not made up.
SELECT EXISTS (SELECT FROM account WHERE gone_at IS NULL AND NOT demo) AS found;

-- name: accounts
-- Everybody who has an account.
SELECT id, name, house, demo, made_at, password IS NOT NULL AS has_password FROM account WHERE gone_at IS NULL ORDER BY lower(name);

-- name: account_named^
-- An account by its name, however it is written.
SELECT id, name, house, password, demo FROM account WHERE lower(name) = lower(:name) AND gone_at IS NULL;

-- name: account^
-- An account.
SELECT id, name, house, password, demo FROM account WHERE id = :id AND gone_at IS NULL;

-- name: account_ids
-- Every id that an account has or had.
SELECT id FROM account;

-- name: lock_accounts
-- One change of accounts and roles at a time.
SELECT pg_advisory_xact_lock(7231904119);

-- name: add_account!
-- A new account.
INSERT INTO account (id, name, house, password, demo) VALUES (:id, :name, :house, :password, :demo);

-- name: set_password!
-- Another password.
UPDATE account SET password = :password WHERE id = :id;

-- name: set_house!
-- Another standing in the house.
UPDATE account SET house = :house WHERE id = :id;

-- name: let_go!
-- Somebody who leaves; what he did stays under his name.
UPDATE account SET gone_at = now(), password = NULL WHERE id = :id;

-- name: drop_roles!
-- All roles of somebody.
DELETE FROM job_role WHERE account_id = :account;

-- name: roles_of
-- The roles of somebody, by job.
SELECT job_id, role FROM job_role WHERE account_id = :account;

-- name: roles_in
-- Who has which role in a job.
SELECT account.id, account.name, account.house, job_role.role FROM job_role JOIN account ON account.id = job_role.account_id
WHERE job_id = :job AND gone_at IS NULL ORDER BY lower(account.name);

-- name: set_role!
-- A role in a job.
INSERT INTO job_role (job_id, account_id, role) VALUES (:job, :account, :role)
ON CONFLICT (job_id, account_id) DO UPDATE SET role = EXCLUDED.role;

-- name: drop_role!
-- Somebody has nothing to do with a job any more.
DELETE FROM job_role WHERE job_id = :job AND account_id = :account;

-- name: lead_all_jobs!
-- Whoever makes the first account leads what is there.
INSERT INTO job_role (job_id, account_id, role) SELECT job.id, :account, 'lead' FROM job;

-- name: job_ids
-- Every job there is.
SELECT id FROM job;

-- name: add_session^
-- Somebody has signed in.
INSERT INTO session (token, account_id, word, agent, address) VALUES (:token, :account, :word, :agent, :address) RETURNING id;

-- name: session^
-- Who a session belongs to, while it stands, and his role in a job.
SELECT session.id AS session, session.word, account.id, account.name, account.house, account.demo, job_role.role,
       session.seen_at < now() - interval '1 minute' AS unseen
FROM session JOIN account ON account.id = session.account_id AND account.gone_at IS NULL
LEFT JOIN job_role ON job_role.account_id = account.id AND job_role.job_id = :job
WHERE token = :token AND seen_at > now() - make_interval(hours => :idle_h) AND session.made_at > now() - make_interval(hours => :most_h);

-- name: seen!
-- A session is used.
UPDATE session SET seen_at = now() WHERE id = :id;

-- name: sessions_of
-- Where somebody is signed in.
SELECT id, made_at, seen_at, agent, address FROM session
WHERE account_id = :account AND seen_at > now() - make_interval(hours => :idle_h) AND made_at > now() - make_interval(hours => :most_h)
ORDER BY seen_at DESC;

-- name: end_session!
-- Signed out somewhere.
DELETE FROM session WHERE id = :id AND account_id = :account;

-- name: end_sessions!
-- Signed out everywhere, but for one.
DELETE FROM session WHERE account_id = :account AND id IS DISTINCT FROM :but;

-- name: forget_sessions!
-- Sessions that stand no more.
DELETE FROM session WHERE seen_at < now() - make_interval(hours => :idle_h) OR made_at < now() - make_interval(hours => :most_h);

-- name: add_invitation^
-- A link that is used once.
INSERT INTO invitation (token, account_id, house, job_id, role, made_by, ends_at)
VALUES (:token, :account, :house, :job, :role, :by, now() + make_interval(hours => :hours)) RETURNING id, ends_at;

-- name: invitation^
-- A link that was not used and has not run out.
SELECT invitation.id, invitation.account_id, invitation.house, invitation.job_id, invitation.role, invitation.made_by, job.title,
       account.name
FROM invitation LEFT JOIN job ON job.id = invitation.job_id
LEFT JOIN account ON account.id = invitation.account_id AND account.gone_at IS NULL
WHERE token = :token AND used_at IS NULL AND ends_at > now() AND (invitation.account_id IS NULL OR account.id IS NOT NULL);

-- name: use_invitation!
-- A link was used; only whoever comes first does it.
UPDATE invitation SET used_at = now(), used_by = :account WHERE id = :id AND used_at IS NULL;

-- name: invitations_of
-- Links into a job that were not used yet.
SELECT id, role, house, made_by, ends_at FROM invitation
WHERE job_id = :job AND used_at IS NULL AND ends_at > now() ORDER BY ends_at;

-- name: drop_invitation!
-- A link is taken back.
DELETE FROM invitation WHERE id = :id AND job_id = :job AND used_at IS NULL;

-- name: put_first_code!
-- The code with which the first account is made, until the next start.
INSERT INTO first_code (code) VALUES (:code) ON CONFLICT (single) DO UPDATE SET code = EXCLUDED.code, made_at = now();

-- name: first_code^
-- That code.
SELECT code FROM first_code WHERE made_at > now() - interval '1 day';

-- name: drop_first_code!
-- It was used.
DELETE FROM first_code;

-- name: failures
-- How often somebody guessed wrong in a row, and seconds since; nobody waits longer because the clock was set back.
SELECT at_what, failures, abs(extract(epoch FROM now() - last_at))::float AS ago_s FROM wrong_try WHERE at_what = ANY(:names) AND last_at > now() - interval '1 day';

-- name: failed!
-- Guessed wrong once more.
INSERT INTO wrong_try (at_what, failures) VALUES (:name, 1)
ON CONFLICT (at_what) DO UPDATE SET failures = CASE WHEN wrong_try.last_at < now() - interval '1 day' THEN 1 ELSE wrong_try.failures + 1 END, last_at = now();

-- name: forget_failures!
-- Guessed right.
DELETE FROM wrong_try WHERE at_what = ANY(:names);

-- name: add_crew_line!
-- What was changed of who works here.
INSERT INTO crew_history (actor, job_id, what) VALUES (:actor, :job, :what);

-- name: crew_lines
-- What was changed of a job's crew, latest first.
SELECT at, actor, what FROM crew_history WHERE job_id = :job ORDER BY id DESC LIMIT 100;

-- name: ask_passkey!
-- What a device is asked to sign, once and soon; what is older is forgotten.
WITH old AS (DELETE FROM passkey_asked WHERE at < now() - interval '10 minutes')
INSERT INTO passkey_asked (challenge, account_id) VALUES (:challenge, :account);

-- name: take_asked^
-- What was asked, once.
DELETE FROM passkey_asked WHERE challenge = :challenge AND at > now() - interval '5 minutes' RETURNING account_id AS account;

-- name: add_passkey!
-- A device's key.
INSERT INTO passkey (id, account_id, public_key, sign_count, label) VALUES (:id, :account, :public_key, :sign_count, :label);

-- name: passkey^
-- Whose key it is.
SELECT passkey.id, public_key, sign_count, account.id AS account, account.name, account.house
FROM passkey JOIN account ON account.id = passkey.account_id AND account.gone_at IS NULL WHERE passkey.id = :id;

-- name: passkey_used!
-- A key was used.
UPDATE passkey SET sign_count = :sign_count, used_at = now() WHERE id = :id;

-- name: passkeys_of
-- Somebody's keys.
SELECT encode(id, 'hex') AS id, label, made_at, used_at FROM passkey WHERE account_id = :account ORDER BY made_at;

-- name: drop_passkey!
-- A key that counts no more.
DELETE FROM passkey WHERE account_id = :account AND encode(id, 'hex') = :id;
