-- name: keep!
-- A picture, if it is not here yet.
INSERT INTO picture (id, jpeg, width, height) VALUES (:id, :jpeg, :width, :height) ON CONFLICT (id) DO NOTHING;

-- name: pictures
-- Some pictures.
SELECT id, jpeg, width, height FROM picture WHERE id = ANY(:ids) ORDER BY id;

-- name: in_logs_of
-- Jobs in whose logs a picture is.
SELECT DISTINCT job_id FROM log_entry WHERE photo = :id;
