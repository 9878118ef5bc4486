-- What a position must see, how a build is carried, and a cable's data in a place of its own.

ALTER TABLE rig ADD COLUMN target jsonb;
ALTER TABLE build ADD COLUMN use text
    CONSTRAINT build_use CHECK (use IN ('static', 'walking', 'running', 'vehicle'));

UPDATE model SET document =
    (document - '{cable_length_mm,cable_ohm_per_m,cable_max_a,cable_stiffness}'::text[])
    || jsonb_build_object('cable', jsonb_strip_nulls(jsonb_build_object(
        'length_mm', document -> 'cable_length_mm', 'ohm_per_m', document -> 'cable_ohm_per_m',
        'max_a', document -> 'cable_max_a', 'stiffness', document -> 'cable_stiffness')))
WHERE document ? 'cable_length_mm';

-- Rods are told by their figures now; the standard pair is known.
UPDATE interface SET document = '{"diameter_mm": 15, "spacing_mm": 60, "below_axis_mm": 85}'::jsonb || document
WHERE document ->> 'kind' = 'rod' AND id = 'rods-15';
