-- The ledger asks what is counted already: how often what was said of trials came true, kept by the learner with what
-- stands of each maker; the newest follow-ups and the furthest off by an index, not by reading all evidence.

CREATE TABLE came_true (
    chain_id uuid NOT NULL REFERENCES chain,
    maker text NOT NULL,
    staff_id uuid NOT NULL,
    sport text NOT NULL,
    kind text NOT NULL,
    quarter date NOT NULL,
    fifth smallint NOT NULL CHECK (fifth BETWEEN 0 AND 5),
    count integer NOT NULL CHECK (count > 0),
    fine integer NOT NULL CHECK (fine BETWEEN 0 AND count),
    PRIMARY KEY (chain_id, maker, staff_id, sport, kind, quarter, fifth)
);
ALTER TABLE came_true ENABLE ROW LEVEL SECURITY;
COMMENT ON TABLE came_true IS 'How often fine was said with a chance in a fifth (5 is certain), and how often it came true.';

DROP FUNCTION ledger_said();
CREATE FUNCTION ledger_said()
RETURNS TABLE (by text, sport text, kind text, said double precision, count bigint, fine bigint)
LANGUAGE plpgsql STABLE SECURITY DEFINER SET search_path = public, pg_temp AS $$
#variable_conflict use_column
BEGIN
    RETURN QUERY
    SELECT CASE WHEN p.shop_id = (SELECT shop_now()) THEN p.name ELSE h.name END, c.sport, c.kind, c.fifth / 5.0::float,
        sum(c.count)::bigint, sum(c.fine)::bigint
    FROM (SELECT c.staff_id, c.sport, c.kind, c.fifth, sum(c.count) AS count, sum(c.fine) AS fine FROM came_true c
          WHERE c.chain_id = (SELECT chain_now()) AND c.quarter > current_date - 731
          GROUP BY 1, 2, 3, 4) c
        JOIN staff p ON p.id = c.staff_id JOIN shop h ON h.id = p.shop_id
    GROUP BY 1, 2, 3, 4;
END
$$;
REVOKE ALL ON FUNCTION ledger_said FROM PUBLIC;
GRANT EXECUTE ON FUNCTION ledger_said TO kalon_app;

-- Gaps seen at follow-ups against those predicted, mm, and how many lay within what 90 in 100 should.
CREATE TABLE gap_seen (
    chain_id uuid NOT NULL REFERENCES chain,
    maker text NOT NULL,
    staff_id uuid NOT NULL,
    sport text NOT NULL,
    kind text NOT NULL,
    quarter date NOT NULL,
    count integer NOT NULL CHECK (count > 0),
    held integer NOT NULL CHECK (held BETWEEN 0 AND count),
    off_mm double precision NOT NULL,
    off_squared double precision NOT NULL CHECK (off_squared >= 0),
    PRIMARY KEY (chain_id, maker, staff_id, sport, kind, quarter)
);
ALTER TABLE gap_seen ENABLE ROW LEVEL SECURITY;
COMMENT ON TABLE gap_seen IS 'Gaps seen less predicted: their sum, mm, and that of their squares, mm².';

DROP FUNCTION ledger_seen();
CREATE FUNCTION ledger_seen()
RETURNS TABLE (by text, sport text, kind text, count bigint, held bigint, off_mm double precision,
               off_squared double precision)
LANGUAGE plpgsql STABLE SECURITY DEFINER SET search_path = public, pg_temp AS $$
#variable_conflict use_column
BEGIN
    RETURN QUERY
    SELECT CASE WHEN p.shop_id = (SELECT shop_now()) THEN p.name ELSE h.name END, g.sport, g.kind,
        sum(g.count)::bigint, sum(g.held)::bigint, sum(g.off_mm), sum(g.off_squared)
    FROM gap_seen g JOIN staff p ON p.id = g.staff_id JOIN shop h ON h.id = p.shop_id
    WHERE g.chain_id = (SELECT chain_now()) AND g.quarter > current_date - 731
    GROUP BY 1, 2, 3;
END
$$;
REVOKE ALL ON FUNCTION ledger_seen FROM PUBLIC;
GRANT EXECUTE ON FUNCTION ledger_seen TO kalon_app;

-- The newest follow-ups of each kind of upper.
CREATE INDEX evidence_seen ON evidence (chain_id, (body ->> 'kind'), id DESC) WHERE kind = 'return';
CREATE FUNCTION ledger_points(most integer)
RETURNS TABLE (kind text, zone text, hours double precision, seen_mm double precision, new_mm double precision,
               c_mm double precision)
LANGUAGE plpgsql STABLE SECURITY DEFINER SET search_path = public, pg_temp AS $$
#variable_conflict use_column
BEGIN
    RETURN QUERY
    SELECT k.kind, e.zone, (e.body ->> 'hours')::float, (e.body ->> 'seen_mm')::float, (e.body ->> 'new_mm')::float,
        (e.body ->> 'c_mm')::float
    FROM (SELECT DISTINCT g.kind FROM learned_give g WHERE g.chain_id = (SELECT chain_now())) k
    CROSS JOIN LATERAL (
        SELECT e.id, e.zone, e.body FROM evidence e
        WHERE e.chain_id = (SELECT chain_now()) AND e.kind = 'return' AND e.body ->> 'kind' = k.kind
            AND e.counts AND NOT set_aside(e) AND e.id = (
                SELECT n.id FROM evidence n WHERE n.fitting_id = e.fitting_id AND n.variant_id = e.variant_id
                    AND n.zone = e.zone AND n.kind = e.kind ORDER BY n.id DESC LIMIT 1)
        ORDER BY e.id DESC LIMIT most) e
    ORDER BY k.kind, e.id DESC;
END
$$;
REVOKE ALL ON FUNCTION ledger_points FROM PUBLIC;
GRANT EXECUTE ON FUNCTION ledger_points TO kalon_app;

CREATE FUNCTION number_in(body jsonb, name text) RETURNS double precision
LANGUAGE plpgsql IMMUTABLE PARALLEL SAFE AS $$
BEGIN
    RETURN CASE WHEN jsonb_typeof(body -> name) = 'number' THEN (body ->> name)::float END;
END
$$;
-- How far off a prediction was, in spreads: of a gap directly, of a verdict as a normal as unlikely would be. An index
-- over it is made anew by a restore, which looks for names nowhere by itself.
CREATE FUNCTION off_by(kind text, body jsonb) RETURNS double precision
LANGUAGE plpgsql IMMUTABLE PARALLEL SAFE AS $$
DECLARE
    chance double precision := public.number_in(body, 'fine_chance');
BEGIN
    IF kind = 'return' THEN
        RETURN abs(public.number_in(body, 'seen_mm') - public.number_in(body, 'predicted_mm'))
            / nullif(sqrt(public.number_in(body, 'predicted_sigma_mm') ^ 2 + public.number_in(body, 'seen_sigma_mm') ^ 2), 0);
    END IF;
    IF body ->> 'verdict' <> 'fine' THEN
        chance := 1 - chance;
    END IF;
    RETURN sqrt(-2 * ln(least(greatest(chance, 1e-6), 1)));
END
$$;
CREATE INDEX evidence_off ON evidence (shop_id, off_by(kind, body) DESC NULLS LAST);

-- What stood under a maker's other name is learned, and counted, under both anew.
CREATE FUNCTION learn_of_maker() RETURNS trigger
LANGUAGE plpgsql SECURITY DEFINER SET search_path = public, pg_temp AS $$
BEGIN
    INSERT INTO learn_maker_due (chain_id, maker) VALUES (OLD.chain_id, OLD.maker), (NEW.chain_id, NEW.maker);
    NOTIFY kalon_learn;
    RETURN NULL;
END
$$;
CREATE TRIGGER learn_of_maker AFTER UPDATE OF maker ON shoe_model FOR EACH ROW
    WHEN (NEW.maker IS DISTINCT FROM OLD.maker) EXECUTE FUNCTION learn_of_maker();
REVOKE ALL ON FUNCTION learn_of_maker FROM PUBLIC;

-- What stands today is counted once here; the learner counts a maker's anew whenever it learns of it.
CREATE TEMPORARY TABLE stood ON COMMIT DROP AS
    SELECT DISTINCT ON (e.fitting_id, e.variant_id, e.zone, e.kind) e.*, set_aside(e) AS aside FROM evidence e
    ORDER BY e.fitting_id, e.variant_id, e.zone, e.kind, e.id DESC;
INSERT INTO came_true (chain_id, maker, staff_id, sport, kind, quarter, fifth, count, fine)
SELECT e.chain_id, m.maker, e.staff_id, coalesce(e.body ->> 'sport', ''), coalesce(e.body ->> 'kind', ''),
    date_trunc('quarter', e.at)::date, least(floor(number_in(e.body, 'fine_chance') * 5), 5), count(*),
    count(*) FILTER (WHERE e.body ->> 'verdict' = 'fine')
FROM stood e JOIN variant v ON v.id = e.variant_id JOIN shoe_model m ON m.id = v.model_id
WHERE e.counts AND NOT e.aside AND e.kind <> 'return' AND number_in(e.body, 'fine_chance') >= 0
GROUP BY 1, 2, 3, 4, 5, 6, 7;
INSERT INTO gap_seen (chain_id, maker, staff_id, sport, kind, quarter, count, held, off_mm, off_squared)
SELECT e.chain_id, e.maker, e.staff_id, e.sport, e.gives, e.quarter, count(*),
    count(*) FILTER (WHERE abs(e.off) <= 1.6449 * e.sigma), sum(e.off), sum(e.off ^ 2)
FROM (SELECT e.*, m.maker, coalesce(e.body ->> 'sport', '') AS sport, coalesce(e.body ->> 'kind', '') AS gives,
             date_trunc('quarter', e.at)::date AS quarter,
             number_in(e.body, 'seen_mm') - number_in(e.body, 'predicted_mm') AS off,
             sqrt(number_in(e.body, 'predicted_sigma_mm') ^ 2 + number_in(e.body, 'seen_sigma_mm') ^ 2) AS sigma
      FROM stood e JOIN variant v ON v.id = e.variant_id JOIN shoe_model m ON m.id = v.model_id
      WHERE e.counts AND NOT e.aside AND e.kind = 'return') e
WHERE e.off IS NOT NULL AND e.sigma IS NOT NULL
GROUP BY 1, 2, 3, 4, 5, 6;
