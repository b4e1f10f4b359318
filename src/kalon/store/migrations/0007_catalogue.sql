-- The catalogue (models, their sizes, what was read of them) belongs to a chain of shops; stock belongs to a shop and
-- is the sum of its movements; sheets brought in are kept with every line's verdict, so that they can be taken back.
-- depends: 0006_anatomy

CREATE TABLE chain (
    id uuid PRIMARY KEY,
    name text NOT NULL CHECK (name <> '')
);
INSERT INTO chain (id, name) SELECT id, name FROM shop;
ALTER TABLE shop ADD COLUMN chain_id uuid REFERENCES chain (id);
UPDATE shop SET chain_id = id;
ALTER TABLE shop ALTER COLUMN chain_id SET NOT NULL, ADD UNIQUE (id, chain_id);

-- The chain of the shop that the session's token proves.
CREATE FUNCTION chain_now()
RETURNS uuid LANGUAGE sql STABLE SECURITY DEFINER SET search_path = public, pg_temp AS $$
    SELECT h.chain_id FROM session e JOIN staff s ON s.id = e.staff_id JOIN shop h ON h.id = e.shop_id
    WHERE e.token_hash = sha256(convert_to(current_setting('kalon.token', true), 'UTF8'))
      AND e.expires_at > now() AND s.active
$$;
REVOKE ALL ON FUNCTION chain_now FROM PUBLIC;
GRANT EXECUTE ON FUNCTION chain_now TO kalon_app;

-- Models: what isn't known of one (its upper among it) stays unknown.
DROP POLICY of_shop ON shoe_model;
ALTER TABLE stock_line DROP CONSTRAINT stock_line_shop_id_model_id_fkey;
ALTER TABLE shoe_model
    ADD COLUMN chain_id uuid REFERENCES chain (id),
    ADD COLUMN code text NOT NULL DEFAULT '',
    ADD COLUMN retired_at timestamptz,
    ALTER COLUMN upper DROP NOT NULL,
    ALTER COLUMN price_minor DROP NOT NULL;
UPDATE shoe_model SET chain_id = shop_id;
ALTER TABLE shoe_model DROP COLUMN shop_id CASCADE;
ALTER TABLE shoe_model ALTER COLUMN chain_id SET NOT NULL, ADD UNIQUE (chain_id, id), ADD UNIQUE (chain_id, maker, name);
CREATE INDEX model_of_sport ON shoe_model (chain_id, sport, maker, name, id);
CREATE INDEX model_by_name ON shoe_model (chain_id, lower(maker), lower(name));

-- A size of a model in one width and colour, as its box says, and its inside as `inner` knows it, mm, with the spread.
CREATE TABLE variant (
    id uuid PRIMARY KEY,
    chain_id uuid NOT NULL,
    model_id uuid NOT NULL,
    width text NOT NULL CHECK (width <> '' AND length(width) <= 20),
    system text NOT NULL CHECK (system IN ('eu', 'uk', 'us_men', 'us_women', 'uk_child', 'jp_cm', 'mondopoint_mm')),
    label double precision NOT NULL,
    eu_label double precision NOT NULL,
    colour text NOT NULL DEFAULT '' CHECK (length(colour) <= 60),
    gtin text CHECK (gtin ~ '^[0-9]{14}$'),
    code text NOT NULL DEFAULT '',
    extra jsonb NOT NULL DEFAULT '{}' CHECK (jsonb_typeof(extra) = 'object'),
    length_mm double precision NOT NULL,
    ball_girth_mm double precision NOT NULL,
    instep_girth_mm double precision NOT NULL,
    heel_width_mm double precision NOT NULL,
    length_sigma_mm double precision NOT NULL CHECK (length_sigma_mm > 0),
    ball_girth_sigma_mm double precision NOT NULL CHECK (ball_girth_sigma_mm > 0),
    instep_girth_sigma_mm double precision NOT NULL CHECK (instep_girth_sigma_mm > 0),
    heel_width_sigma_mm double precision NOT NULL CHECK (heel_width_sigma_mm > 0),
    known_from text NOT NULL DEFAULT 'label',
    retired_at timestamptz,
    FOREIGN KEY (chain_id, model_id) REFERENCES shoe_model (chain_id, id),
    UNIQUE (chain_id, id),
    UNIQUE (model_id, width, eu_label, colour)
);
CREATE UNIQUE INDEX variant_gtin ON variant (chain_id, gtin) WHERE gtin IS NOT NULL;
CREATE INDEX variant_code ON variant (chain_id, code) WHERE code <> '';
INSERT INTO variant (id, chain_id, model_id, width, system, label, eu_label, length_mm, ball_girth_mm, instep_girth_mm,
                     heel_width_mm, length_sigma_mm, ball_girth_sigma_mm, instep_girth_sigma_mm, heel_width_sigma_mm,
                     known_from)
    SELECT l.id, m.chain_id, l.model_id, l.width, 'eu', l.eu_label, l.eu_label, l.length_mm, l.ball_girth_mm,
           l.instep_girth_mm, l.heel_width_mm, 1.0, 2.5, 2.5, 1.0, 'measured'
    FROM stock_line l JOIN shoe_model m ON m.id = l.model_id;

-- What was read of a size's inside, zone by zone; never altered, only set aside.
CREATE TABLE shoe_reading (
    id uuid PRIMARY KEY,
    chain_id uuid NOT NULL,
    variant_id uuid NOT NULL,
    zone text NOT NULL CHECK (zone IN ('length', 'ball_girth', 'instep_girth', 'heel_width')),
    mm double precision NOT NULL CHECK (mm > 0 AND mm <= 450),
    sigma_mm double precision CHECK (sigma_mm > 0),
    source text NOT NULL CHECK (source IN ('sheet', 'stick', 'insole', 'measured')),
    shop_id uuid,
    staff_id uuid,
    at timestamptz DEFAULT now(),
    set_aside_at timestamptz,
    FOREIGN KEY (chain_id, variant_id) REFERENCES variant (chain_id, id)
);
CREATE INDEX reading_of_variant ON shoe_reading (variant_id);
INSERT INTO shoe_reading (id, chain_id, variant_id, zone, mm, source, at)
    SELECT md5(v.id::text || z.zone)::uuid, v.chain_id, v.id, z.zone, z.mm, 'measured', NULL
    FROM variant v, LATERAL (VALUES ('length', v.length_mm), ('ball_girth', v.ball_girth_mm),
                                    ('instep_girth', v.instep_girth_mm), ('heel_width', v.heel_width_mm)) z (zone, mm)
    WHERE z.mm > 0 AND z.mm <= 450;

-- Stock is what a shop has of a size.
ALTER TABLE stock_line ADD COLUMN chain_id uuid, ADD COLUMN variant_id uuid;
UPDATE stock_line l SET chain_id = v.chain_id, variant_id = v.id FROM variant v WHERE v.id = l.id;
ALTER TABLE stock_line
    DROP COLUMN model_id CASCADE, DROP COLUMN width CASCADE, DROP COLUMN eu_label CASCADE, DROP COLUMN length_mm,
    DROP COLUMN ball_girth_mm, DROP COLUMN instep_girth_mm, DROP COLUMN heel_width_mm,
    ALTER COLUMN chain_id SET NOT NULL, ALTER COLUMN variant_id SET NOT NULL, ALTER COLUMN on_hand SET DEFAULT 0,
    ADD CONSTRAINT stock_line_most CHECK (on_hand <= 9999),
    ADD FOREIGN KEY (shop_id, chain_id) REFERENCES shop (id, chain_id),
    ADD FOREIGN KEY (chain_id, variant_id) REFERENCES variant (chain_id, id),
    ADD UNIQUE (shop_id, variant_id);
CREATE INDEX stock_of_variant ON stock_line (variant_id);

-- A sheet brought in, and what became of each of its lines.
CREATE TABLE sheet_import (
    id uuid PRIMARY KEY,
    shop_id uuid NOT NULL REFERENCES shop (id),
    staff_id uuid NOT NULL,
    name text NOT NULL,
    file bytea NOT NULL,
    columns jsonb NOT NULL DEFAULT '{}',
    settings jsonb NOT NULL DEFAULT '{}',
    counts jsonb NOT NULL DEFAULT '{}',
    began_at timestamptz NOT NULL DEFAULT now(),
    done_at timestamptz,
    undone_at timestamptz,
    FOREIGN KEY (shop_id, staff_id) REFERENCES staff (shop_id, id),
    UNIQUE (shop_id, id)
);
CREATE INDEX import_newest ON sheet_import (shop_id, began_at DESC);
CREATE TABLE sheet_row (
    shop_id uuid NOT NULL,
    import_id uuid NOT NULL,
    row integer NOT NULL,
    verdict text NOT NULL CHECK (verdict IN ('new', 'changed', 'same', 'odd', 'refused')),
    said text NOT NULL DEFAULT '',
    body jsonb NOT NULL DEFAULT '{}',
    PRIMARY KEY (import_id, row),
    FOREIGN KEY (shop_id, import_id) REFERENCES sheet_import (shop_id, id)
);
CREATE INDEX sheet_row_by_verdict ON sheet_row (import_id, verdict, row);
-- What writing it did, which is the way back: of each model as it was and as it was set, and every size it named.
CREATE TABLE sheet_model (
    shop_id uuid NOT NULL,
    import_id uuid NOT NULL,
    model_id uuid NOT NULL,
    fresh boolean NOT NULL,
    was jsonb NOT NULL,
    set jsonb NOT NULL,
    PRIMARY KEY (import_id, model_id),
    FOREIGN KEY (shop_id, import_id) REFERENCES sheet_import (shop_id, id)
);
CREATE TABLE sheet_size (
    shop_id uuid NOT NULL,
    import_id uuid NOT NULL,
    variant_id uuid NOT NULL,
    fresh boolean NOT NULL,
    was_gtin text,
    PRIMARY KEY (import_id, variant_id),
    FOREIGN KEY (shop_id, import_id) REFERENCES sheet_import (shop_id, id)
);
CREATE TABLE sheet_habit (
    shop_id uuid NOT NULL REFERENCES shop (id),
    heading text NOT NULL,
    settings jsonb NOT NULL,
    PRIMARY KEY (shop_id, heading)
);

-- Every pair that comes or goes; what is on hand is their sum, kept by the trigger and by nothing else.
CREATE TABLE movement (
    id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    shop_id uuid NOT NULL,
    stock_line_id uuid NOT NULL,
    kind text NOT NULL CHECK (kind IN ('there_before', 'received', 'counted', 'sold', 'undone', 'returned', 'lent',
                                       'transferred', 'written_off')),
    pairs integer NOT NULL CHECK (pairs <> 0),
    why text NOT NULL DEFAULT '' CHECK (length(why) <= 300),
    change_id uuid NOT NULL,
    import_id uuid,
    staff_id uuid,
    at timestamptz DEFAULT clock_timestamp(),
    FOREIGN KEY (shop_id, stock_line_id) REFERENCES stock_line (shop_id, id),
    FOREIGN KEY (shop_id, staff_id) REFERENCES staff (shop_id, id),
    FOREIGN KEY (shop_id, import_id) REFERENCES sheet_import (shop_id, id),
    UNIQUE (shop_id, change_id, stock_line_id)
);
CREATE INDEX movement_of_line ON movement (stock_line_id, id DESC);
CREATE INDEX movement_newest ON movement (shop_id, id DESC);
CREATE INDEX movement_of_import ON movement (import_id) WHERE import_id IS NOT NULL;
INSERT INTO movement (shop_id, stock_line_id, kind, pairs, change_id, at)
    SELECT shop_id, id, 'there_before', on_hand, id, NULL FROM stock_line WHERE on_hand > 0 ORDER BY id;
CREATE FUNCTION moved()
RETURNS trigger LANGUAGE plpgsql SECURITY DEFINER SET search_path = public, pg_temp AS $$
BEGIN
    UPDATE stock_line l SET on_hand = l.on_hand + m.pairs
    FROM (SELECT stock_line_id, sum(pairs) AS pairs FROM fresh GROUP BY 1 ORDER BY 1) m WHERE l.id = m.stock_line_id;
    RETURN NULL;
END
$$;
CREATE TRIGGER movement_moves AFTER INSERT ON movement
    REFERENCING NEW TABLE AS fresh FOR EACH STATEMENT EXECUTE FUNCTION moved();

-- What sister shops of the chain have of some sizes: seen, never changed.
CREATE FUNCTION sister_stock(p_variants uuid[])
RETURNS TABLE (variant_id uuid, shop text, on_hand integer)
LANGUAGE sql STABLE SECURITY DEFINER SET search_path = public, pg_temp AS $$
    SELECT l.variant_id, h.name, l.on_hand FROM stock_line l JOIN shop h ON h.id = l.shop_id
    WHERE l.variant_id = ANY (p_variants) AND l.chain_id = (SELECT chain_now()) AND l.shop_id <> (SELECT shop_now())
      AND l.on_hand > 0
    ORDER BY h.name
$$;
REVOKE ALL ON FUNCTION sister_stock FROM PUBLIC;
GRANT EXECUTE ON FUNCTION sister_stock TO kalon_app;

-- After a long list the planner counts anew at once, and doesn't wait for its own time.
CREATE FUNCTION count_anew()
RETURNS void LANGUAGE plpgsql SECURITY DEFINER SET search_path = public, pg_temp AS $$
BEGIN
    ANALYZE shoe_model, variant, stock_line, movement;
END
$$;
REVOKE ALL ON FUNCTION count_anew FROM PUBLIC;
GRANT EXECUTE ON FUNCTION count_anew TO kalon_app;

DO $$
DECLARE name text;
BEGIN
    FOREACH name IN ARRAY ARRAY['shoe_model', 'variant', 'shoe_reading'] LOOP
        EXECUTE format('ALTER TABLE %I ENABLE ROW LEVEL SECURITY', name);
        EXECUTE format('CREATE POLICY of_chain ON %I TO kalon_app USING (chain_id = (SELECT chain_now())) '
            'WITH CHECK (chain_id = (SELECT chain_now()))', name);
    END LOOP;
    FOREACH name IN ARRAY ARRAY['movement', 'sheet_import', 'sheet_row', 'sheet_model', 'sheet_size', 'sheet_habit'] LOOP
        EXECUTE format('ALTER TABLE %I ENABLE ROW LEVEL SECURITY', name);
        EXECUTE format('CREATE POLICY of_shop ON %I TO kalon_app USING (shop_id = (SELECT shop_now())) '
            'WITH CHECK (shop_id = (SELECT shop_now()))', name);
    END LOOP;
END
$$;
ALTER TABLE chain ENABLE ROW LEVEL SECURITY;
CREATE POLICY of_chain ON chain TO kalon_app USING (id = (SELECT chain_now()));
GRANT SELECT ON chain TO kalon_app;
GRANT SELECT, INSERT, UPDATE ON variant, sheet_import, sheet_habit TO kalon_app;
GRANT SELECT, INSERT, DELETE ON sheet_row, sheet_model, sheet_size TO kalon_app;
GRANT SELECT, INSERT ON shoe_reading, movement TO kalon_app;
GRANT UPDATE (set_aside_at) ON shoe_reading TO kalon_app;
REVOKE UPDATE, INSERT ON stock_line FROM kalon_app;
GRANT INSERT (id, shop_id, chain_id, variant_id) ON stock_line TO kalon_app;
