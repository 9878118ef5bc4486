-- name: keep!
-- A picture, if it is not here yet.
INSERT INTO picture (id, jpeg, width, height) VALUES (:id, :jpeg, :width, :height) ON CONFLICT (id) DO NOTHING;

-- name: pictures
-- Some pictures.
SELECT id, jpeg, width, height FROM picture WHERE id = ANY(:ids) ORDER BY id;
