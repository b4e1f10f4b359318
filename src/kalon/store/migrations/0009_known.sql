-- Athletes known in the chain's other shops where they agreed to it; orders checked on arrival, and their way back;
-- shoes made to measure.
-- depends: 0008_orders

CREATE TABLE athlete_consent (
    id uuid PRIMARY KEY,
    shop_id uuid NOT NULL,
    chain_id uuid NOT NULL,
    athlete_id uuid NOT NULL,
    said text NOT NULL CHECK (said <> '' AND length(said) <= 600),
    given_at timestamptz NOT NULL DEFAULT now(),
    given_by uuid NOT NULL,
    ended_at timestamptz,
    ended_by uuid,
    CHECK ((ended_at IS NULL) = (ended_by IS NULL)),
    FOREIGN KEY (shop_id, chain_id) REFERENCES shop (id, chain_id),
    FOREIGN KEY (shop_id, athlete_id) REFERENCES athlete (shop_id, id),
    FOREIGN KEY (shop_id, given_by) REFERENCES staff (shop_id, id),
    FOREIGN KEY (shop_id, ended_by) REFERENCES staff (shop_id, id)
);
CREATE UNIQUE INDEX consent_stands ON athlete_consent (athlete_id) WHERE ended_at IS NULL;
CREATE INDEX consent_of_chain ON athlete_consent (chain_id) WHERE ended_at IS NULL;
ALTER TABLE athlete_consent ENABLE ROW LEVEL SECURITY;
CREATE POLICY of_shop ON athlete_consent TO kalon_app USING (shop_id = (SELECT shop_now()))
    WITH CHECK (shop_id = (SELECT shop_now()));
GRANT SELECT, INSERT ON athlete_consent TO kalon_app;
GRANT UPDATE (ended_at, ended_by) ON athlete_consent TO kalon_app;
ALTER TABLE athlete ADD COLUMN known_from uuid;
CREATE UNIQUE INDEX athlete_known_once ON athlete (shop_id, known_from) WHERE known_from IS NOT NULL;

-- Athletes of sister shops who agreed to be known here, by a part of their name.
CREATE FUNCTION athletes_elsewhere(p_text text)
RETURNS TABLE (id uuid, name text, born_on date, squad text, shop text, given_at timestamptz)
LANGUAGE plpgsql STABLE SECURITY DEFINER SET search_path = public, pg_temp AS $$
DECLARE
    chain uuid := chain_now();
    ours uuid := shop_now();
    pattern text := '%' || replace(replace(replace(p_text, '\', '\\'), '%', '\%'), '_', '\_') || '%';
BEGIN
    IF length(p_text) < 3 THEN
        RETURN;
    END IF;
    RETURN QUERY EXECUTE
        'SELECT a.id, a.name, a.born_on, a.squad, h.name, c.given_at '
        'FROM athlete_consent c JOIN athlete a ON a.id = c.athlete_id JOIN shop h ON h.id = c.shop_id '
        'WHERE c.chain_id = $1 AND c.ended_at IS NULL AND c.shop_id <> $2 AND a.name ILIKE $3 '
        'ORDER BY a.name, a.id LIMIT 20' USING chain, ours, pattern;
END
$$;

-- One of them: their own data, the last fitting's feet and brief, readings and pairs. Nothing once they took it back.
CREATE FUNCTION athlete_elsewhere(p_id uuid)
RETURNS TABLE (id uuid, name text, born_on date, squad text, shop text, opened_at timestamptz, feet jsonb,
               feet_format integer, brief jsonb, brief_format integer, readings jsonb, pairs jsonb)
LANGUAGE sql STABLE SECURITY DEFINER SET search_path = public, pg_temp AS $$
    SELECT a.id, a.name, a.born_on, a.squad, h.name, f.opened_at, t.body, t.format, b.body, b.format,
        coalesce((SELECT jsonb_agg(jsonb_build_object('name', r.name, 'kind', r.kind, 'side', r.side,
                                                      'reading', r.reading, 'format', r.format,
                                                      'measured_at', r.measured_at) ORDER BY r.taken_at, r.id)
                  FROM foot_capture r WHERE r.fitting_id = f.id AND r.removed_at IS NULL AND NOT r.practice), '[]'),
        coalesce((SELECT jsonb_agg(jsonb_build_object('maker', s.pair ->> 'maker', 'name', s.pair ->> 'name',
                                                      'sport', s.pair ->> 'sport', 'eu_label', s.pair -> 'eu_label',
                                                      'sold_on', s.sold_at::date) ORDER BY s.sold_at DESC)
                  FROM sale s JOIN fitting g ON g.id = s.fitting_id
                  WHERE g.athlete_id = a.id AND s.undone_at IS NULL), '[]')
    FROM athlete_consent c JOIN athlete a ON a.id = c.athlete_id JOIN shop h ON h.id = c.shop_id
    LEFT JOIN LATERAL (SELECT g.id, g.opened_at FROM fitting g WHERE g.athlete_id = a.id
                       ORDER BY g.opened_at DESC, g.id DESC LIMIT 1) f ON true
    LEFT JOIN fitting_part t ON t.fitting_id = f.id AND t.part = 'feet'
    LEFT JOIN fitting_part b ON b.fitting_id = f.id AND b.part = 'brief'
    WHERE c.athlete_id = p_id AND c.ended_at IS NULL AND c.chain_id = (SELECT chain_now())
      AND c.shop_id <> (SELECT shop_now())
$$;
REVOKE ALL ON FUNCTION athletes_elsewhere, athlete_elsewhere FROM PUBLIC;
GRANT EXECUTE ON FUNCTION athletes_elsewhere, athlete_elsewhere TO kalon_app;

-- What came is checked before it is kept; what doesn't fit goes back, and a last can be made for the foot.
ALTER TABLE shoe_order
    ADD COLUMN arrival jsonb NOT NULL DEFAULT '{}' CHECK (jsonb_typeof(arrival) = 'object'),
    ADD COLUMN made boolean NOT NULL DEFAULT false,
    ALTER COLUMN variant_id DROP NOT NULL,
    DROP CONSTRAINT shoe_order_state_check,
    DROP CONSTRAINT shoe_order_check1,
    ADD CONSTRAINT order_of_something CHECK (made = (variant_id IS NULL)),
    ADD CONSTRAINT order_made_here CHECK (NOT made OR (from_shop IS NULL AND fitting_id IS NOT NULL)),
    ADD CONSTRAINT order_states CHECK (state IN ('wanted', 'ordered', 'arrived', 'asked', 'held', 'sent', 'received',
                                                 'refused', 'cancelled', 'sent_back', 'back')),
    ADD CONSTRAINT order_ways CHECK ((from_shop IS NULL) = (state IN ('wanted', 'ordered', 'arrived'))
                                     OR state IN ('cancelled', 'sent_back'));
GRANT UPDATE (arrival) ON shoe_order TO kalon_app;
CREATE INDEX order_open ON shoe_order (shop_id, asked_at DESC, id)
    WHERE state IN ('wanted', 'ordered', 'asked', 'held', 'sent', 'sent_back');
CREATE INDEX order_open_from ON shoe_order (from_shop, asked_at DESC, id)
    WHERE state IN ('wanted', 'ordered', 'asked', 'held', 'sent', 'sent_back') AND from_shop IS NOT NULL;
