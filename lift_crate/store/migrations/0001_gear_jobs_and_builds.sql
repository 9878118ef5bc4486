-- Gear, jobs, builds, and who has which unit when.
-- Wrong states are made impossible here: a unit is in one place at a time, a joint
-- joins units of its own build, a plan names a build of the rig it is for.

CREATE EXTENSION IF NOT EXISTS btree_gist;

CREATE TABLE interface (
    id text PRIMARY KEY,
    document jsonb NOT NULL
);

CREATE TABLE model (
    id text PRIMARY KEY,
    kind text NOT NULL,
    document jsonb NOT NULL
);
CREATE INDEX model_kind ON model (kind);

CREATE TABLE unit (
    id text PRIMARY KEY,
    model_id text NOT NULL REFERENCES model,
    owner text NOT NULL CONSTRAINT unit_owner CHECK (owner IN ('owned', 'hired')),
    measured_g double precision CONSTRAINT unit_measured_g CHECK (measured_g > 0),
    measured_cg_mm double precision[] CONSTRAINT unit_measured_cg CHECK (array_length(measured_cg_mm, 1) = 3),
    health double precision NOT NULL DEFAULT 1 CONSTRAINT unit_health CHECK (health > 0 AND health <= 1),
    note text NOT NULL DEFAULT ''
);
CREATE INDEX unit_model ON unit (model_id);

-- Counts changes to gear, so that a server knows when what it has read is old.
CREATE TABLE catalogue_revision (
    single boolean PRIMARY KEY DEFAULT true CHECK (single),
    revision bigint NOT NULL DEFAULT 0
);
INSERT INTO catalogue_revision DEFAULT VALUES;

CREATE FUNCTION bump_catalogue() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    UPDATE catalogue_revision SET revision = revision + 1;
    RETURN NULL;
END $$;
CREATE TRIGGER interface_changed AFTER INSERT OR UPDATE OR DELETE ON interface FOR EACH STATEMENT EXECUTE FUNCTION bump_catalogue();
CREATE TRIGGER model_changed AFTER INSERT OR UPDATE OR DELETE ON model FOR EACH STATEMENT EXECUTE FUNCTION bump_catalogue();
CREATE TRIGGER unit_changed AFTER INSERT OR UPDATE OR DELETE ON unit FOR EACH STATEMENT EXECUTE FUNCTION bump_catalogue();

CREATE TABLE job (
    id text PRIMARY KEY,
    title text NOT NULL,
    settings jsonb NOT NULL
);

CREATE TABLE part_of_day (
    job_id text NOT NULL REFERENCES job ON DELETE CASCADE,
    id text NOT NULL,
    label text NOT NULL,
    during tstzrange NOT NULL CONSTRAINT part_has_length CHECK (NOT isempty(during)),
    conditions jsonb NOT NULL,
    moments jsonb NOT NULL,
    PRIMARY KEY (job_id, id),
    UNIQUE (job_id, id, during),
    CONSTRAINT part_one_at_a_time EXCLUDE USING gist (job_id WITH =, during WITH &&)
);

CREATE TABLE rig (
    job_id text NOT NULL REFERENCES job ON DELETE CASCADE,
    id text NOT NULL,
    number integer NOT NULL CONSTRAINT rig_number CHECK (number > 0),
    label text NOT NULL,
    position text NOT NULL,
    PRIMARY KEY (job_id, id),
    CONSTRAINT rig_own_number UNIQUE (job_id, number)
);

CREATE TABLE build (
    job_id text NOT NULL,
    id text NOT NULL,
    rig_id text NOT NULL,
    label text NOT NULL,
    body text NOT NULL REFERENCES unit,
    settings jsonb NOT NULL,
    ordinal integer NOT NULL,
    version integer NOT NULL DEFAULT 1,
    PRIMARY KEY (job_id, id),
    UNIQUE (job_id, id, rig_id),
    FOREIGN KEY (job_id, rig_id) REFERENCES rig ON DELETE CASCADE
);

CREATE TABLE build_unit (
    job_id text NOT NULL,
    build_id text NOT NULL,
    unit_id text NOT NULL REFERENCES unit,
    PRIMARY KEY (job_id, build_id, unit_id),
    FOREIGN KEY (job_id, build_id) REFERENCES build ON DELETE CASCADE
);

CREATE TABLE joint (
    job_id text NOT NULL,
    build_id text NOT NULL,
    child text NOT NULL,
    child_port text NOT NULL,
    parent text NOT NULL,
    parent_port text NOT NULL,
    spin_deg double precision NOT NULL,
    slide_mm double precision NOT NULL,
    ordinal integer NOT NULL,
    PRIMARY KEY (job_id, build_id, child),
    FOREIGN KEY (job_id, build_id, child) REFERENCES build_unit (job_id, build_id, unit_id) ON DELETE CASCADE,
    FOREIGN KEY (job_id, build_id, parent) REFERENCES build_unit (job_id, build_id, unit_id) ON DELETE CASCADE,
    CONSTRAINT joint_two_units CHECK (child <> parent)
);

CREATE TABLE link (
    job_id text NOT NULL,
    build_id text NOT NULL,
    cable text NOT NULL,
    from_unit text NOT NULL,
    from_port text NOT NULL,
    to_unit text NOT NULL,
    to_port text NOT NULL,
    ordinal integer NOT NULL,
    PRIMARY KEY (job_id, build_id, cable),
    FOREIGN KEY (job_id, build_id, cable) REFERENCES build_unit (job_id, build_id, unit_id) ON DELETE CASCADE,
    FOREIGN KEY (job_id, build_id, from_unit) REFERENCES build_unit (job_id, build_id, unit_id) ON DELETE CASCADE,
    FOREIGN KEY (job_id, build_id, to_unit) REFERENCES build_unit (job_id, build_id, unit_id) ON DELETE CASCADE
);

CREATE TABLE plan (
    job_id text NOT NULL,
    part_id text NOT NULL,
    rig_id text NOT NULL,
    build_id text NOT NULL,
    PRIMARY KEY (job_id, part_id, rig_id),
    UNIQUE (job_id, part_id, build_id),
    FOREIGN KEY (job_id, part_id) REFERENCES part_of_day ON DELETE CASCADE,
    FOREIGN KEY (job_id, build_id, rig_id) REFERENCES build (job_id, id, rig_id) ON DELETE CASCADE
);

-- A unit in a build that is planned is claimed for that part of the day. Rows follow
-- from build_unit and plan by the triggers below and go with either by cascade; the
-- exclusion holds over all rigs and all jobs.
CREATE TABLE claim (
    job_id text NOT NULL,
    part_id text NOT NULL,
    build_id text NOT NULL,
    unit_id text NOT NULL,
    during tstzrange NOT NULL,
    PRIMARY KEY (job_id, part_id, build_id, unit_id),
    FOREIGN KEY (job_id, part_id, build_id) REFERENCES plan (job_id, part_id, build_id) ON DELETE CASCADE,
    FOREIGN KEY (job_id, build_id, unit_id) REFERENCES build_unit ON DELETE CASCADE,
    FOREIGN KEY (job_id, part_id, during) REFERENCES part_of_day (job_id, id, during) ON UPDATE CASCADE ON DELETE CASCADE,
    CONSTRAINT claim_one_place_at_a_time EXCLUDE USING gist (unit_id WITH =, during WITH &&)
);

CREATE FUNCTION claim_for_unit() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    INSERT INTO claim (job_id, part_id, build_id, unit_id, during)
    SELECT plan.job_id, plan.part_id, plan.build_id, NEW.unit_id, part.during
    FROM plan JOIN part_of_day part ON part.job_id = plan.job_id AND part.id = plan.part_id
    WHERE plan.job_id = NEW.job_id AND plan.build_id = NEW.build_id;
    RETURN NULL;
END $$;
CREATE TRIGGER build_unit_claims AFTER INSERT ON build_unit FOR EACH ROW EXECUTE FUNCTION claim_for_unit();

CREATE FUNCTION claim_for_plan() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    INSERT INTO claim (job_id, part_id, build_id, unit_id, during)
    SELECT NEW.job_id, NEW.part_id, NEW.build_id, build_unit.unit_id, part.during
    FROM build_unit JOIN part_of_day part ON part.job_id = NEW.job_id AND part.id = NEW.part_id
    WHERE build_unit.job_id = NEW.job_id AND build_unit.build_id = NEW.build_id;
    RETURN NULL;
END $$;
CREATE TRIGGER plan_claims AFTER INSERT ON plan FOR EACH ROW EXECUTE FUNCTION claim_for_plan();

-- Every edit of a build, kept for ever: what was done, by whom, and the build before and after.
CREATE TABLE edit (
    job_id text NOT NULL,
    build_id text NOT NULL,
    version integer NOT NULL,
    kind text NOT NULL CONSTRAINT edit_kind CHECK (kind IN ('do', 'undo', 'redo')),
    title text NOT NULL,
    before jsonb NOT NULL,
    after jsonb NOT NULL,
    -- done: can be undone; undone: can be redone; dropped: undone and then something else was done
    state text NOT NULL CONSTRAINT edit_state CHECK (state IN ('done', 'undone', 'dropped')),
    actor text NOT NULL,
    at timestamptz NOT NULL DEFAULT now(),
    PRIMARY KEY (job_id, build_id, version),
    FOREIGN KEY (job_id, build_id) REFERENCES build ON DELETE CASCADE
);

-- A job that was replaced by an import, as it was.
CREATE TABLE replaced_job (
    id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    job_id text NOT NULL,
    document jsonb NOT NULL,
    at timestamptz NOT NULL DEFAULT now()
);
