-- Voices of a job with their sources, radio bands, and how devices are kept in step.

ALTER TABLE job ADD COLUMN sound jsonb NOT NULL DEFAULT '{}';
