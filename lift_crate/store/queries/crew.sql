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
-- Who has which role in a job, and as whom of its plan he works.
SELECT account.id, account.name, account.house, job_role.role, job_role.works_as FROM job_role JOIN account ON account.id = job_role.account_id
WHERE job_id = :job AND gone_at IS NULL ORDER BY lower(account.name);

-- name: set_role!
-- A role in a job; as whom of its plan somebody works stays.
INSERT INTO job_role (job_id, account_id, role) VALUES (:job, :account, :role)
ON CONFLICT (job_id, account_id) DO UPDATE SET role = EXCLUDED.role;

-- name: works_as!
-- As whom of a job's plan somebody works; nobody else does then.
WITH other AS (UPDATE job_role SET works_as = '' WHERE job_id = :job AND works_as = :works_as AND account_id <> :account)
UPDATE job_role SET works_as = :works_as WHERE job_id = :job AND account_id = :account;

-- name: jobs_without_a_lead
-- Jobs that nobody leads.
SELECT id FROM job WHERE NOT EXISTS (
    SELECT FROM job_role JOIN account ON account.id = account_id AND gone_at IS NULL AND NOT demo
    WHERE job_id = job.id AND role = 'lead');

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
SELECT session.id AS session, session.word, account.id, account.name, account.house, account.demo, job_role.role, job_role.works_as,
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
INSERT INTO invitation (token, account_id, house, job_id, role, works_as, made_by, owner, ends_at)
VALUES (:token, :account, :house, :job, :role, :works_as, :by, :owner, now() + make_interval(hours => :hours)) RETURNING id, ends_at;

-- name: invitation^
-- A link that stands, by its word.
SELECT * FROM standing_invitation WHERE token = :token;

-- name: use_invitation^
-- A link was used; only whoever comes first does it.
UPDATE invitation SET used_at = now(), used_by = :account WHERE id = :id AND used_at IS NULL RETURNING id;

-- name: invitations_of
-- Links into a job that were not used yet.
SELECT id, role, house, works_as, made_by, ends_at FROM standing_invitation WHERE job_id = :job ORDER BY ends_at;

-- name: invitations_to_house
-- Links to accounts and to new passwords that were not used yet.
SELECT id, house, name, made_by, ends_at FROM standing_invitation WHERE job_id IS NULL ORDER BY ends_at;

-- name: take_back_invitation^
-- A link is taken back.
UPDATE invitation SET taken_back_at = now(), taken_back_by = :by
WHERE id = :id AND job_id IS NOT DISTINCT FROM :job AND used_at IS NULL AND taken_back_at IS NULL RETURNING id;

-- name: take_back_links_of!
-- All that somebody's right made goes with it: into one job, or to the house where none is named.
UPDATE invitation SET taken_back_at = now(), taken_back_by = :by
WHERE owner = :owner AND used_at IS NULL AND taken_back_at IS NULL
    AND CASE WHEN :job::text IS NULL THEN job_id IS NULL OR house <> 'member' ELSE job_id = :job END;

-- name: take_back_passwords_of!
-- Links to a new password of somebody who has one now.
UPDATE invitation SET taken_back_at = now(), taken_back_by = :by
WHERE account_id = :account AND used_at IS NULL AND taken_back_at IS NULL;

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

-- name: begin_try!
-- What is about to be tried, to be held by who tries: one after the other.
INSERT INTO wrong_try (at_what, failures) SELECT unnest(:names::text[]), 0 ORDER BY 1 ON CONFLICT (at_what) DO NOTHING;

-- name: hold_tries
-- Held until the try is counted.
SELECT at_what FROM wrong_try WHERE at_what = ANY(:names) ORDER BY at_what FOR UPDATE;

-- name: count_try!
-- Tried once more, and wrong until it is known to be right.
UPDATE wrong_try SET failures = CASE WHEN last_at < now() - interval '1 day' THEN 1 ELSE failures + 1 END, last_at = now()
WHERE at_what = ANY(:names);

-- name: uncount_try!
-- It was right: it counts against nobody.
UPDATE wrong_try SET failures = greatest(0, failures - 1) WHERE at_what = ANY(:names);

-- name: know_device!
-- A device that somebody has signed in from; what was not used for a year is forgotten.
WITH old AS (DELETE FROM known_device WHERE used_at < now() - interval '1 year')
INSERT INTO known_device (token, account_id) VALUES (:token, :account)
ON CONFLICT (token) DO UPDATE SET account_id = EXCLUDED.account_id, used_at = now();

-- name: knows_device^
-- Whether somebody signed in from a device before.
SELECT EXISTS (SELECT FROM known_device WHERE token = :token AND account_id = :account) AS known;

-- name: forget_devices!
-- No device of somebody is known any more.
DELETE FROM known_device WHERE account_id = :account;

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
