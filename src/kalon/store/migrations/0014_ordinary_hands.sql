-- What ordinary people do: fitters and their habits, models that changed, evidence set aside by fitter and time, and
-- what couldn't be learned from, parked with its reason.
-- depends: 0013_pictures

-- What each maker's evidence says of a fitter in a zone; put together they are what is known of the fitter.
CREATE TABLE learned_fitter (
    chain_id uuid NOT NULL,
    shop_id uuid NOT NULL,
    maker text NOT NULL,
    zone text NOT NULL,
    staff_id uuid NOT NULL,
    precision_mm double precision NOT NULL CHECK (precision_mm >= 0),
    push_mm double precision NOT NULL,
    empties double precision[] NOT NULL,
    verdicts integer NOT NULL,
    PRIMARY KEY (chain_id, maker, zone, staff_id),
    FOREIGN KEY (shop_id, chain_id) REFERENCES shop (id, chain_id),
    FOREIGN KEY (shop_id, staff_id) REFERENCES staff (shop_id, id)
);
COMMENT ON COLUMN learned_fitter.precision_mm IS 'Of how far they feel room larger, per square millimetre; push_mm the natural mean, per millimetre.';
CREATE INDEX fitter_of_shop ON learned_fitter (shop_id, staff_id);

-- Models that seem to have changed without a word, by the newest version of their maker.
CREATE TABLE learned_change (
    chain_id uuid NOT NULL,
    version integer NOT NULL,
    maker text NOT NULL,
    model_id uuid NOT NULL,
    zone text NOT NULL,
    on_day date NOT NULL,
    probability double precision NOT NULL CHECK (probability > 0 AND probability <= 1),
    FOREIGN KEY (chain_id, version) REFERENCES learned_version (chain_id, version),
    PRIMARY KEY (chain_id, version, model_id, zone)
);

-- All a fitter found between two days is set aside, with a reason; both stay.
CREATE TABLE fitter_aside (
    id uuid PRIMARY KEY,
    shop_id uuid NOT NULL,
    fitter_id uuid NOT NULL,
    from_day date,
    to_day date,
    reason text NOT NULL CHECK (reason <> '' AND length(reason) <= 300),
    staff_id uuid NOT NULL,
    at timestamptz NOT NULL DEFAULT now(),
    lifted_at timestamptz,
    CHECK (from_day IS NULL OR to_day IS NULL OR from_day <= to_day),
    FOREIGN KEY (shop_id, fitter_id) REFERENCES staff (shop_id, id),
    FOREIGN KEY (shop_id, staff_id) REFERENCES staff (shop_id, id)
);
CREATE INDEX fitter_aside_stands ON fitter_aside (fitter_id) WHERE lifted_at IS NULL;
CREATE INDEX evidence_of_fitter ON evidence (staff_id, id DESC);

-- What couldn't be learned from: which, why, and under which code; it is tried again under another.
CREATE TABLE learn_parked (
    id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    chain_id uuid NOT NULL REFERENCES chain (id),
    kind text NOT NULL CHECK (kind IN ('fitting', 'maker', 'gives', 'lives')),
    maker text NOT NULL DEFAULT '',
    zone text NOT NULL DEFAULT '',
    fitting_id uuid,
    reason text NOT NULL,
    code text NOT NULL,
    at timestamptz NOT NULL DEFAULT now()
);
CREATE UNIQUE INDEX parked_once ON learn_parked (chain_id, kind, maker, zone, coalesce(fitting_id, chain_id));

-- What pairs of a sport usually cost on a shop's own shelf, in its currency: the median of ten models or more.
CREATE TABLE shop_price (
    shop_id uuid NOT NULL REFERENCES shop (id),
    sport text NOT NULL,
    currency text NOT NULL,
    price_minor double precision NOT NULL CHECK (price_minor > 0),
    models integer NOT NULL,
    at timestamptz NOT NULL DEFAULT now(),
    PRIMARY KEY (shop_id, sport, currency)
);
ALTER TABLE shop ADD COLUMN priced_at timestamptz;

DO $$
DECLARE name text;
BEGIN
    FOREACH name IN ARRAY ARRAY['learned_fitter', 'learned_change', 'fitter_aside', 'learn_parked', 'shop_price'] LOOP
        EXECUTE format('ALTER TABLE %I ENABLE ROW LEVEL SECURITY', name);
    END LOOP;
    FOREACH name IN ARRAY ARRAY['learned_fitter', 'fitter_aside', 'shop_price'] LOOP
        EXECUTE format('CREATE POLICY of_shop ON %I TO kalon_app USING (shop_id = (SELECT shop_now())) '
            'WITH CHECK (shop_id = (SELECT shop_now()))', name);
    END LOOP;
    FOREACH name IN ARRAY ARRAY['learned_change', 'learn_parked'] LOOP
        EXECUTE format('CREATE POLICY of_chain ON %I TO kalon_app USING (chain_id = (SELECT chain_now()))', name);
    END LOOP;
END
$$;
GRANT SELECT ON learned_fitter, learned_change, fitter_aside, learn_parked, shop_price TO kalon_app;
GRANT INSERT ON fitter_aside TO kalon_app;
GRANT UPDATE (lifted_at) ON fitter_aside TO kalon_app;

CREATE FUNCTION learn_of_fitter_aside() RETURNS trigger
LANGUAGE plpgsql SECURITY DEFINER SET search_path = public, pg_temp AS $$
BEGIN
    INSERT INTO learn_maker_due (chain_id, maker)
        SELECT DISTINCT e.chain_id, m.maker FROM evidence e JOIN variant v ON v.id = e.variant_id
        JOIN shoe_model m ON m.id = v.model_id WHERE e.staff_id = NEW.fitter_id;
    NOTIFY kalon_learn;
    RETURN NULL;
END
$$;
CREATE TRIGGER learn_of_fitter_aside AFTER INSERT OR UPDATE ON fitter_aside
    FOR EACH ROW EXECUTE FUNCTION learn_of_fitter_aside();

-- A model on another last is another model to its maker's habits.
CREATE FUNCTION learn_of_last() RETURNS trigger
LANGUAGE plpgsql SECURITY DEFINER SET search_path = public, pg_temp AS $$
BEGIN
    INSERT INTO learn_maker_due (chain_id, maker) VALUES (NEW.chain_id, NEW.maker);
    NOTIFY kalon_learn;
    RETURN NULL;
END
$$;
CREATE TRIGGER learn_of_last AFTER UPDATE OF last ON shoe_model FOR EACH ROW
    WHEN (NEW.last IS DISTINCT FROM OLD.last) EXECUTE FUNCTION learn_of_last();
REVOKE ALL ON FUNCTION learn_of_fitter_aside, learn_of_last FROM PUBLIC;

-- Whether a piece of evidence is set aside: by itself, or with all its fitter found in that time.
CREATE FUNCTION set_aside(piece evidence) RETURNS boolean
LANGUAGE sql STABLE AS $$
    SELECT EXISTS (SELECT 1 FROM evidence_aside a WHERE a.evidence_id = piece.id AND a.lifted_at IS NULL)
        OR EXISTS (SELECT 1 FROM fitter_aside a WHERE a.fitter_id = piece.staff_id AND a.lifted_at IS NULL
                   AND (a.from_day IS NULL OR a.from_day <= coalesce((piece.body ->> 'on')::date, piece.at::date))
                   AND (a.to_day IS NULL OR a.to_day >= coalesce((piece.body ->> 'on')::date, piece.at::date)))
$$;
REVOKE ALL ON FUNCTION set_aside FROM PUBLIC;
GRANT EXECUTE ON FUNCTION set_aside TO kalon_app;

-- What verdicts say is understood anew (of which sides, of which measuring): every fitting is looked at once more.
INSERT INTO learn_due (fitting_id) SELECT DISTINCT fitting_id FROM fitting_part WHERE part IN ('trial', 'return');

CREATE OR REPLACE FUNCTION ledger_said()
RETURNS TABLE (shop text, by text, sport text, kind text, zone text, said double precision, count bigint, fine bigint)
LANGUAGE sql STABLE SECURITY DEFINER SET search_path = public, pg_temp AS $$
    SELECT h.name, CASE WHEN e.shop_id = (SELECT shop_now()) THEN p.name ELSE h.name END, e.body ->> 'sport',
        e.body ->> 'kind', e.zone, floor((e.body ->> 'fine_chance')::float * 5) / 5 AS said, count(*),
        count(*) FILTER (WHERE e.body ->> 'verdict' = 'fine')
    FROM (SELECT DISTINCT ON (e.fitting_id, e.variant_id, e.zone, e.kind) e.*, set_aside(e) AS aside FROM evidence e
          WHERE e.chain_id = (SELECT chain_now()) AND e.kind <> 'return' AND e.at > now() - interval '2 years'
          ORDER BY e.fitting_id, e.variant_id, e.zone, e.kind, e.id DESC) e
    JOIN shop h ON h.id = e.shop_id JOIN staff p ON p.id = e.staff_id
    WHERE e.counts AND NOT e.aside
    GROUP BY 1, 2, 3, 4, 5, 6
$$;
CREATE OR REPLACE FUNCTION ledger_seen()
RETURNS TABLE (by text, sport text, kind text, zone text, seen_mm double precision, predicted_mm double precision,
               sigma_mm double precision, new_mm double precision, hours double precision, c_mm double precision)
LANGUAGE sql STABLE SECURITY DEFINER SET search_path = public, pg_temp AS $$
    SELECT CASE WHEN e.shop_id = (SELECT shop_now()) THEN p.name ELSE h.name END, e.body ->> 'sport', e.body ->> 'kind',
        e.zone, (e.body ->> 'seen_mm')::float, (e.body ->> 'predicted_mm')::float,
        sqrt((e.body ->> 'predicted_sigma_mm')::float ^ 2 + (e.body ->> 'seen_sigma_mm')::float ^ 2),
        (e.body ->> 'new_mm')::float, (e.body ->> 'hours')::float, (e.body ->> 'c_mm')::float
    FROM (SELECT DISTINCT ON (e.fitting_id, e.variant_id, e.zone, e.kind) e.*, set_aside(e) AS aside FROM evidence e
          WHERE e.chain_id = (SELECT chain_now()) AND e.kind = 'return' AND e.at > now() - interval '2 years'
          ORDER BY e.fitting_id, e.variant_id, e.zone, e.kind, e.id DESC) e
    JOIN shop h ON h.id = e.shop_id JOIN staff p ON p.id = e.staff_id
    WHERE e.counts AND NOT e.aside
    ORDER BY e.id DESC LIMIT 4000
$$;

-- One pair whose hours changed is reckoned anew, and no chain's.
CREATE TABLE pair_due (
    id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    pair_id uuid NOT NULL
);
ALTER TABLE pair_due ENABLE ROW LEVEL SECURITY;

-- What was told of a pair's hours at its follow-up is a fact of the pair.
ALTER TABLE pair ADD COLUMN told_h double precision CHECK (told_h >= 0), ADD COLUMN told_on date;
CREATE FUNCTION told_at_return() RETURNS trigger
LANGUAGE plpgsql SECURITY DEFINER SET search_path = public, pg_temp AS $$
DECLARE
    told double precision := (NEW.body ->> 'hours')::double precision;
BEGIN
    WITH moved AS (
        UPDATE pair p SET told_h = told, told_on = CASE WHEN told IS NULL THEN NULL ELSE current_date END,
                          version = p.version + 1
        FROM sale s WHERE s.fitting_id = NEW.fitting_id AND s.undone_at IS NULL AND p.sale_id = s.id
            AND p.told_h IS DISTINCT FROM told RETURNING p.id)
    INSERT INTO pair_due (pair_id) SELECT id FROM moved;
    NOTIFY kalon_learn;
    RETURN NULL;
END
$$;
CREATE TRIGGER told_at_return AFTER INSERT OR UPDATE ON fitting_part FOR EACH ROW
    WHEN (NEW.part = 'return') EXECUTE FUNCTION told_at_return();
REVOKE ALL ON FUNCTION told_at_return FROM PUBLIC;
UPDATE pair p SET told_h = (r.body ->> 'hours')::double precision, told_on = coalesce(
        (SELECT max(c.at)::date FROM change c WHERE c.fitting_id = s.fitting_id AND c.part = 'return'), current_date)
    FROM sale s JOIN fitting_part r ON r.fitting_id = s.fitting_id AND r.part = 'return'
    WHERE p.sale_id = s.id AND s.undone_at IS NULL AND r.body ->> 'hours' IS NOT NULL;
INSERT INTO pair_due (pair_id) SELECT id FROM pair WHERE told_h IS NOT NULL;

CREATE OR REPLACE FUNCTION link_worn(p_token text, p_id uuid, p_pair uuid, p_day date, p_minutes integer, p_surface text)
RETURNS boolean LANGUAGE plpgsql SECURITY DEFINER SET search_path = public, pg_temp AS $$
DECLARE
    found athlete_link%ROWTYPE;
BEGIN
    SELECT * INTO found FROM athlete_link l WHERE l.token_hash = sha256(convert_to(p_token, 'UTF8'))
        AND l.ended_at IS NULL AND l.expires_at > now() AND l.agreed_at IS NOT NULL FOR UPDATE;
    IF found.id IS NULL OR NOT EXISTS (SELECT 1 FROM pair p WHERE p.id = p_pair AND p.shop_id = found.shop_id
            AND p.athlete_id = found.athlete_id AND p.gone_at IS NULL AND p.ended_on IS NULL AND p_day >= p.bought_on)
       OR p_day > current_date + 1 THEN
        RETURN false;
    END IF;
    IF EXISTS (SELECT 1 FROM pair_worn w WHERE w.id = p_id) THEN
        RETURN EXISTS (SELECT 1 FROM pair_worn w WHERE w.id = p_id AND w.pair_id = p_pair AND w.link_id = found.id);
    END IF;
    INSERT INTO pair_worn (id, shop_id, pair_id, on_day, minutes, surface, link_id)
        VALUES (p_id, found.shop_id, p_pair, p_day, p_minutes, p_surface, found.id);
    UPDATE pair SET worn_h = worn_h + p_minutes / 60.0, version = version + 1 WHERE id = p_pair;
    INSERT INTO pair_due (pair_id) VALUES (p_pair);
    NOTIFY kalon_learn;
    RETURN true;
END
$$;
CREATE OR REPLACE FUNCTION link_unworn(p_token text, p_id uuid)
RETURNS boolean LANGUAGE plpgsql SECURITY DEFINER SET search_path = public, pg_temp AS $$
DECLARE
    taken pair_worn%ROWTYPE;
    before timestamptz;
BEGIN
    SELECT w.* INTO taken FROM pair_worn w JOIN athlete_link l ON l.id = w.link_id
        WHERE w.id = p_id AND l.token_hash = sha256(convert_to(p_token, 'UTF8')) AND l.ended_at IS NULL
          AND l.expires_at > now() FOR UPDATE OF w;
    IF taken.id IS NULL THEN
        RETURN false;
    END IF;
    before := taken.undone_at;
    IF before IS NULL THEN
        UPDATE pair_worn SET undone_at = now() WHERE id = p_id;
        UPDATE pair SET worn_h = greatest(worn_h - taken.minutes / 60.0, 0), version = version + 1
            WHERE id = taken.pair_id;
        INSERT INTO pair_due (pair_id) VALUES (taken.pair_id);
        NOTIFY kalon_learn;
    END IF;
    RETURN true;
END
$$;

-- A fitting that lay too long for what it was begun with to be kept goes on with what is known now, and says so.
ALTER TABLE fitting ADD COLUMN learned_from integer;
COMMENT ON COLUMN fitting.learned_from IS 'The version it was begun with, where it was moved on to a newer one for having lain.';
