-- How a balance was made: order of work, checks, loads read, how it was left; what upset it afterwards.

ALTER TABLE balance ADD COLUMN made jsonb NOT NULL DEFAULT '{}';
ALTER TABLE balance ADD COLUMN touched jsonb NOT NULL DEFAULT '[]';
