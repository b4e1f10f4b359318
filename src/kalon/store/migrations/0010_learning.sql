-- What trials and follow-ups teach: evidence (added to, never altered), and what was learned of it, version by version.
-- depends: 0009_known

-- What happened since the learner last looked; rows are added in the very transaction that changed something.
CREATE TABLE learn_due (
    id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    fitting_id uuid NOT NULL,
    at timestamptz NOT NULL DEFAULT now()
);
CREATE TABLE learn_maker_due (
    id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    chain_id uuid NOT NULL,
    maker text NOT NULL,
    at timestamptz NOT NULL DEFAULT now()
);

CREATE TABLE evidence (
    id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    chain_id uuid NOT NULL,
    shop_id uuid NOT NULL,
    fitting_id uuid NOT NULL,
    variant_id uuid NOT NULL,
    zone text NOT NULL CHECK (zone IN ('length', 'ball_girth', 'instep_girth', 'heel_width')),
    kind text NOT NULL CHECK (kind IN ('trial', 'return', 'arrival')),
    counts boolean NOT NULL,
    body jsonb NOT NULL CHECK (jsonb_typeof(body) = 'object'),
    format integer NOT NULL DEFAULT 1,
    staff_id uuid NOT NULL,
    at timestamptz NOT NULL DEFAULT now(),
    FOREIGN KEY (shop_id, chain_id) REFERENCES shop (id, chain_id),
    FOREIGN KEY (shop_id, fitting_id) REFERENCES fitting (shop_id, id),
    FOREIGN KEY (chain_id, variant_id) REFERENCES variant (chain_id, id),
    UNIQUE (shop_id, id)
);
CREATE INDEX evidence_newest ON evidence (fitting_id, variant_id, zone, kind, id DESC);
CREATE INDEX evidence_of_variant ON evidence (variant_id, id DESC);
CREATE INDEX evidence_at ON evidence (shop_id, at DESC, id DESC);
COMMENT ON TABLE evidence IS 'The newest row of a fitting, size, zone and kind is what stands; one that doesn''t count took it back.';

-- A manager sets a piece of evidence aside, with a reason; both stay.
CREATE TABLE evidence_aside (
    id uuid PRIMARY KEY,
    shop_id uuid NOT NULL,
    evidence_id bigint NOT NULL,
    reason text NOT NULL CHECK (reason <> '' AND length(reason) <= 300),
    staff_id uuid NOT NULL,
    at timestamptz NOT NULL DEFAULT now(),
    lifted_at timestamptz,
    FOREIGN KEY (shop_id, evidence_id) REFERENCES evidence (shop_id, id),
    FOREIGN KEY (shop_id, staff_id) REFERENCES staff (shop_id, id)
);
CREATE UNIQUE INDEX aside_stands ON evidence_aside (evidence_id) WHERE lifted_at IS NULL;

CREATE TABLE learned_version (
    chain_id uuid NOT NULL REFERENCES chain (id),
    version integer NOT NULL CHECK (version > 0),
    at timestamptz NOT NULL DEFAULT now(),
    makers text[] NOT NULL,
    PRIMARY KEY (chain_id, version)
);
CREATE TABLE learned (
    chain_id uuid NOT NULL,
    version integer NOT NULL,
    maker text NOT NULL,
    model_id uuid,
    variant_id uuid,
    zone text NOT NULL,
    mean_mm double precision NOT NULL,
    sd_mm double precision NOT NULL CHECK (sd_mm > 0),
    seen integer NOT NULL,
    FOREIGN KEY (chain_id, version) REFERENCES learned_version (chain_id, version)
);
COMMENT ON COLUMN learned.mean_mm IS 'Departure from the label, of a maker or model; the inside itself, of a size. By the newest version of its maker.';
CREATE UNIQUE INDEX learned_once ON learned (chain_id, maker, version, zone, coalesce(model_id, chain_id),
                                             coalesce(variant_id, chain_id));
CREATE TABLE learned_give (
    chain_id uuid NOT NULL,
    version integer NOT NULL,
    kind text NOT NULL,
    model_id uuid,
    log_mean double precision NOT NULL,
    log_sd double precision NOT NULL CHECK (log_sd > 0),
    seen integer NOT NULL,
    FOREIGN KEY (chain_id, version) REFERENCES learned_version (chain_id, version)
);
CREATE UNIQUE INDEX learned_give_once ON learned_give (chain_id, version, kind, coalesce(model_id, chain_id));
ALTER TABLE fitting ADD COLUMN learned_version integer NOT NULL DEFAULT 0;

DO $$
DECLARE name text;
BEGIN
    FOREACH name IN ARRAY ARRAY['learn_due', 'learn_maker_due', 'evidence', 'evidence_aside', 'learned_version', 'learned',
                                'learned_give'] LOOP
        EXECUTE format('ALTER TABLE %I ENABLE ROW LEVEL SECURITY', name);
    END LOOP;
    FOREACH name IN ARRAY ARRAY['evidence', 'evidence_aside'] LOOP
        EXECUTE format('CREATE POLICY of_shop ON %I TO kalon_app USING (shop_id = (SELECT shop_now())) '
            'WITH CHECK (shop_id = (SELECT shop_now()))', name);
    END LOOP;
    FOREACH name IN ARRAY ARRAY['learned_version', 'learned', 'learned_give'] LOOP
        EXECUTE format('CREATE POLICY of_chain ON %I TO kalon_app USING (chain_id = (SELECT chain_now()))', name);
    END LOOP;
END
$$;
GRANT SELECT ON evidence, learned_version, learned, learned_give TO kalon_app;
GRANT SELECT, INSERT ON evidence_aside TO kalon_app;
GRANT UPDATE (lifted_at) ON evidence_aside TO kalon_app;

-- Whatever may change what is learned leaves a row for the learner, and wakes it.
CREATE FUNCTION learn_of_fitting() RETURNS trigger
LANGUAGE plpgsql SECURITY DEFINER SET search_path = public, pg_temp AS $$
BEGIN
    INSERT INTO learn_due (fitting_id) VALUES (NEW.fitting_id);
    NOTIFY kalon_learn;
    RETURN NULL;
END
$$;
CREATE TRIGGER learn_of_part AFTER INSERT OR UPDATE ON fitting_part FOR EACH ROW
    WHEN (NEW.part IN ('trial', 'return')) EXECUTE FUNCTION learn_of_fitting();
CREATE TRIGGER learn_of_sale AFTER INSERT OR UPDATE ON sale FOR EACH ROW EXECUTE FUNCTION learn_of_fitting();
CREATE TRIGGER learn_of_order AFTER UPDATE OF arrival ON shoe_order FOR EACH ROW
    WHEN (NEW.fitting_id IS NOT NULL) EXECUTE FUNCTION learn_of_fitting();
CREATE FUNCTION learn_of_foot() RETURNS trigger
LANGUAGE plpgsql SECURITY DEFINER SET search_path = public, pg_temp AS $$
BEGIN
    IF EXISTS (SELECT 1 FROM evidence WHERE fitting_id = NEW.fitting_id) THEN
        INSERT INTO learn_due (fitting_id) VALUES (NEW.fitting_id);
        NOTIFY kalon_learn;
    END IF;
    RETURN NULL;
END
$$;
CREATE TRIGGER learn_of_feet AFTER UPDATE ON fitting_part FOR EACH ROW
    WHEN (NEW.part IN ('feet', 'brief')) EXECUTE FUNCTION learn_of_foot();
CREATE TRIGGER learn_of_capture AFTER INSERT OR UPDATE ON foot_capture FOR EACH ROW EXECUTE FUNCTION learn_of_foot();
CREATE FUNCTION learn_of_reading() RETURNS trigger
LANGUAGE plpgsql SECURITY DEFINER SET search_path = public, pg_temp AS $$
BEGIN
    INSERT INTO learn_maker_due (chain_id, maker)
        SELECT m.chain_id, m.maker FROM variant v JOIN shoe_model m ON m.id = v.model_id WHERE v.id = NEW.variant_id;
    NOTIFY kalon_learn;
    RETURN NULL;
END
$$;
CREATE TRIGGER learn_of_reading AFTER INSERT OR UPDATE ON shoe_reading FOR EACH ROW EXECUTE FUNCTION learn_of_reading();
CREATE FUNCTION learn_of_aside() RETURNS trigger
LANGUAGE plpgsql SECURITY DEFINER SET search_path = public, pg_temp AS $$
BEGIN
    INSERT INTO learn_maker_due (chain_id, maker)
        SELECT m.chain_id, m.maker FROM evidence e JOIN variant v ON v.id = e.variant_id
        JOIN shoe_model m ON m.id = v.model_id WHERE e.id = NEW.evidence_id;
    NOTIFY kalon_learn;
    RETURN NULL;
END
$$;
CREATE TRIGGER learn_of_aside AFTER INSERT OR UPDATE ON evidence_aside FOR EACH ROW EXECUTE FUNCTION learn_of_aside();
REVOKE ALL ON FUNCTION learn_of_fitting, learn_of_foot, learn_of_reading, learn_of_aside FROM PUBLIC;

-- What the fittings of before already showed is looked at once.
INSERT INTO learn_due (fitting_id) SELECT DISTINCT fitting_id FROM fitting_part WHERE part IN ('trial', 'return');

-- How often what was said came true, over the whole chain and without a word of whom it was about.
CREATE FUNCTION ledger_said()
RETURNS TABLE (shop text, by text, sport text, kind text, zone text, said double precision, count bigint, fine bigint)
LANGUAGE sql STABLE SECURITY DEFINER SET search_path = public, pg_temp AS $$
    SELECT h.name, CASE WHEN e.shop_id = (SELECT shop_now()) THEN p.name ELSE h.name END, e.body ->> 'sport',
        e.body ->> 'kind', e.zone, floor((e.body ->> 'fine_chance')::float * 5) / 5 AS said, count(*),
        count(*) FILTER (WHERE e.body ->> 'verdict' = 'fine')
    FROM (SELECT DISTINCT ON (e.fitting_id, e.variant_id, e.zone, e.kind) e.* FROM evidence e
          WHERE e.chain_id = (SELECT chain_now()) AND e.kind <> 'return' AND e.at > now() - interval '2 years'
          ORDER BY e.fitting_id, e.variant_id, e.zone, e.kind, e.id DESC) e
    JOIN shop h ON h.id = e.shop_id JOIN staff p ON p.id = e.staff_id
    WHERE e.counts AND NOT EXISTS (SELECT 1 FROM evidence_aside a WHERE a.evidence_id = e.id AND a.lifted_at IS NULL)
    GROUP BY 1, 2, 3, 4, 5, 6
$$;
CREATE FUNCTION ledger_seen()
RETURNS TABLE (by text, sport text, kind text, zone text, seen_mm double precision, predicted_mm double precision,
               sigma_mm double precision, new_mm double precision, hours double precision, c_mm double precision)
LANGUAGE sql STABLE SECURITY DEFINER SET search_path = public, pg_temp AS $$
    SELECT CASE WHEN e.shop_id = (SELECT shop_now()) THEN p.name ELSE h.name END, e.body ->> 'sport', e.body ->> 'kind',
        e.zone, (e.body ->> 'seen_mm')::float, (e.body ->> 'predicted_mm')::float,
        sqrt((e.body ->> 'predicted_sigma_mm')::float ^ 2 + (e.body ->> 'seen_sigma_mm')::float ^ 2),
        (e.body ->> 'new_mm')::float, (e.body ->> 'hours')::float, (e.body ->> 'c_mm')::float
    FROM (SELECT DISTINCT ON (e.fitting_id, e.variant_id, e.zone, e.kind) e.* FROM evidence e
          WHERE e.chain_id = (SELECT chain_now()) AND e.kind = 'return' AND e.at > now() - interval '2 years'
          ORDER BY e.fitting_id, e.variant_id, e.zone, e.kind, e.id DESC) e
    JOIN shop h ON h.id = e.shop_id JOIN staff p ON p.id = e.staff_id
    WHERE e.counts AND NOT EXISTS (SELECT 1 FROM evidence_aside a WHERE a.evidence_id = e.id AND a.lifted_at IS NULL)
    ORDER BY e.id DESC LIMIT 4000
$$;
REVOKE ALL ON FUNCTION ledger_said, ledger_seen FROM PUBLIC;
GRANT EXECUTE ON FUNCTION ledger_said, ledger_seen TO kalon_app;
CREATE INDEX evidence_of_chain ON evidence (chain_id, kind, at DESC);
