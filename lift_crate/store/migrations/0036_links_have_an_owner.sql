-- A link belongs to the account that made it and dies with its right; whose cameras an operator works is said by a
-- lead and not by what he calls himself; a device that somebody signed in from is known again.

ALTER TABLE invitation
    ADD COLUMN owner text REFERENCES account,
    ADD COLUMN works_as text NOT NULL DEFAULT '',
    ADD COLUMN taken_back_at timestamptz,
    ADD COLUMN taken_back_by text;
UPDATE invitation SET owner = account.id FROM account WHERE lower(account.name) = lower(made_by) AND gone_at IS NULL;
UPDATE invitation SET taken_back_at = now(), taken_back_by = 'upgrade'
WHERE owner IS NULL AND used_at IS NULL AND made_by IN (SELECT name FROM account);

ALTER TABLE job_role ADD COLUMN works_as text NOT NULL DEFAULT '';
UPDATE job_role SET works_as = account.name FROM account WHERE account.id = account_id AND role = 'operator';
CREATE UNIQUE INDEX job_role_works_as ON job_role (job_id, works_as) WHERE works_as <> '';

CREATE TABLE known_device (
    token bytea PRIMARY KEY,
    account_id text NOT NULL REFERENCES account,
    used_at timestamptz NOT NULL DEFAULT now()
);

-- Links that lead somewhere: not used, not taken back, in time, and made by somebody who may still give what they give.
CREATE VIEW standing_invitation AS
SELECT invitation.*, job.title, account.name
FROM invitation
LEFT JOIN job ON job.id = invitation.job_id
LEFT JOIN account ON account.id = invitation.account_id AND account.gone_at IS NULL
LEFT JOIN account AS maker ON maker.id = invitation.owner AND maker.gone_at IS NULL
WHERE used_at IS NULL AND taken_back_at IS NULL AND ends_at > now()
    AND (invitation.account_id IS NULL OR account.id IS NOT NULL)
    AND (owner IS NULL OR maker.id IS NOT NULL)
    AND (owner IS NULL OR maker.house = 'lead' OR (invitation.job_id IS NOT NULL AND coalesce(invitation.house, 'member') = 'member'))
    AND (owner IS NULL OR invitation.job_id IS NULL OR EXISTS (
        SELECT FROM job_role WHERE job_id = invitation.job_id AND account_id = owner AND role = 'lead'));
