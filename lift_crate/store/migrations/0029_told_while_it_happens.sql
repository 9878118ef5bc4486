-- What is done in a job or on the shelf, told to everybody who looks while it is done; and who looks at what.

CREATE TABLE happening (
    id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    at timestamptz NOT NULL DEFAULT now(),
    job_id text,
    kind text NOT NULL CONSTRAINT happening_kind CHECK (kind IN ('build', 'job', 'jobs', 'shelf', 'cards', 'sound', 'swaps', 'balance', 'crew')),
    thing text NOT NULL DEFAULT '',
    version bigint NOT NULL DEFAULT 0,
    title text NOT NULL DEFAULT '',
    actor text NOT NULL DEFAULT '',
    browser text NOT NULL DEFAULT ''
);
CREATE INDEX happening_of_job ON happening (job_id, id);

-- The longest title stays far below what one notice may carry.
CREATE FUNCTION tell(job text, what text, of_thing text, to_version bigint, called text, by_whom text) RETURNS void LANGUAGE plpgsql AS $$
DECLARE
    told happening;
BEGIN
    -- Which window did it, where a window did: it knows already.
    INSERT INTO happening (job_id, kind, thing, version, title, actor, browser)
    VALUES (job, what, of_thing, to_version, left(called, 400), left(by_whom, 200), coalesce(current_setting('lift_crate.browser', true), ''))
    RETURNING * INTO told;
    PERFORM pg_notify('lift_crate_happening', row_to_json(told)::text);
    -- Whoever was away for longer looks at everything anew.
    IF told.id % 500 = 0 THEN
        DELETE FROM happening WHERE id <= told.id - 5000;
    END IF;
END $$;

CREATE FUNCTION tell_edit() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    PERFORM tell(NEW.job_id, 'build', NEW.build_id, NEW.version, CASE NEW.kind WHEN 'do' THEN '' ELSE NEW.kind || ': ' END || NEW.title, NEW.actor);
    RETURN NULL;
END $$;
CREATE TRIGGER edit_is_told AFTER INSERT ON edit FOR EACH ROW EXECUTE FUNCTION tell_edit();

CREATE FUNCTION tell_job_edit() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    PERFORM tell(NEW.job_id, 'job', '', NEW.version, CASE NEW.kind WHEN 'do' THEN '' ELSE NEW.kind || ': ' END || NEW.title, NEW.actor);
    RETURN NULL;
END $$;
CREATE TRIGGER job_edit_is_told AFTER INSERT ON job_edit FOR EACH ROW EXECUTE FUNCTION tell_job_edit();

CREATE FUNCTION tell_job() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    PERFORM tell(coalesce(NEW.id, OLD.id), 'jobs', '', 0, '', '');
    RETURN NULL;
END $$;
CREATE TRIGGER job_is_told AFTER INSERT OR DELETE ON job FOR EACH ROW EXECUTE FUNCTION tell_job();

CREATE FUNCTION tell_shelf() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    PERFORM tell(NULL, 'shelf', NEW.thing, 0, NEW.title, NEW.actor);
    RETURN NULL;
END $$;
CREATE TRIGGER shelf_is_told AFTER INSERT ON shelf_history FOR EACH ROW EXECUTE FUNCTION tell_shelf();

CREATE FUNCTION tell_card() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    PERFORM tell(NEW.job_id, 'cards', NEW.card, 0, NEW.act, coalesce(NEW.taken_back_by, NEW.actor));
    RETURN NULL;
END $$;
CREATE TRIGGER card_is_told AFTER INSERT OR UPDATE ON card_step FOR EACH ROW EXECUTE FUNCTION tell_card();

CREATE FUNCTION tell_sound() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    PERFORM tell(NEW.job_id, 'sound', NEW.voice, 0, NEW.act, coalesce(NEW.taken_back_by, NEW.actor));
    RETURN NULL;
END $$;
CREATE TRIGGER sound_is_told AFTER INSERT OR UPDATE ON sound_step FOR EACH ROW EXECUTE FUNCTION tell_sound();

CREATE FUNCTION tell_swap() RETURNS trigger LANGUAGE plpgsql AS $$
DECLARE
    swap swap_made := coalesce(NEW, OLD);
BEGIN
    PERFORM tell(swap.job_id, 'swaps', swap.slot, 0, swap.pack_in, swap.actor);
    RETURN NULL;
END $$;
CREATE TRIGGER swap_is_told AFTER INSERT OR DELETE ON swap_made FOR EACH ROW EXECUTE FUNCTION tell_swap();

CREATE FUNCTION tell_balance() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    PERFORM tell(NEW.job_id, 'balance', NEW.build_id, 0, '', NEW.actor);
    RETURN NULL;
END $$;
CREATE TRIGGER balance_is_told AFTER INSERT OR UPDATE ON balance FOR EACH ROW EXECUTE FUNCTION tell_balance();

-- That a crew has changed is told, not what: each asks for what he may know.
CREATE FUNCTION tell_crew() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    PERFORM tell(NEW.job_id, 'crew', '', 0, '', '');
    RETURN NULL;
END $$;
CREATE TRIGGER crew_is_told AFTER INSERT ON crew_history FOR EACH ROW EXECUTE FUNCTION tell_crew();

-- Who looks at what now, one row a window; after a crash of the database everybody says so again.
CREATE UNLOGGED TABLE looking (
    tab text PRIMARY KEY,
    stream text NOT NULL,
    job_id text NOT NULL,
    account_id text NOT NULL DEFAULT '',
    name text NOT NULL,
    part text NOT NULL DEFAULT '',
    rig text NOT NULL DEFAULT '',
    place text NOT NULL DEFAULT '',
    at timestamptz NOT NULL DEFAULT now()
);
CREATE INDEX looking_in_job ON looking (job_id);

CREATE FUNCTION tell_looking() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    IF TG_OP = 'DELETE' THEN
        PERFORM pg_notify('lift_crate_looking', json_build_object('tab', OLD.tab, 'job_id', OLD.job_id, 'gone', true)::text);
    ELSIF TG_OP = 'INSERT' OR (NEW.part, NEW.rig, NEW.place, NEW.name, NEW.job_id) IS DISTINCT FROM (OLD.part, OLD.rig, OLD.place, OLD.name, OLD.job_id) THEN
        IF TG_OP = 'UPDATE' AND NEW.job_id <> OLD.job_id THEN
            PERFORM pg_notify('lift_crate_looking', json_build_object('tab', OLD.tab, 'job_id', OLD.job_id, 'gone', true)::text);
        END IF;
        PERFORM pg_notify('lift_crate_looking', json_build_object('tab', NEW.tab, 'job_id', NEW.job_id, 'name', NEW.name,
            'part', NEW.part, 'rig', NEW.rig, 'place', NEW.place, 'gone', false)::text);
    END IF;
    RETURN NULL;
END $$;
CREATE TRIGGER looking_is_told AFTER INSERT OR UPDATE OR DELETE ON looking FOR EACH ROW EXECUTE FUNCTION tell_looking();
