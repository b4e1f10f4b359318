-- What isn't here: ordered from its supplier, or asked of a sister shop, held there with an end, sent and received.
-- depends: 0007_catalogue

CREATE TABLE shoe_order (
    id uuid PRIMARY KEY,
    chain_id uuid NOT NULL,
    shop_id uuid NOT NULL,
    from_shop uuid,
    variant_id uuid NOT NULL,
    fitting_id uuid,
    state text NOT NULL CHECK (state IN ('wanted', 'ordered', 'arrived', 'asked', 'held', 'sent', 'received', 'refused',
                                         'cancelled')),
    note text NOT NULL DEFAULT '' CHECK (length(note) <= 300),
    sheet jsonb NOT NULL DEFAULT '{}' CHECK (jsonb_typeof(sheet) = 'object'),
    format integer NOT NULL DEFAULT 1,
    asked_by uuid NOT NULL,
    asked_at timestamptz NOT NULL DEFAULT now(),
    held_until timestamptz,
    changed_at timestamptz NOT NULL DEFAULT now(),
    CHECK (from_shop <> shop_id),
    CHECK ((from_shop IS NULL) = (state IN ('wanted', 'ordered', 'arrived')) OR state = 'cancelled'),
    FOREIGN KEY (shop_id, chain_id) REFERENCES shop (id, chain_id),
    FOREIGN KEY (from_shop, chain_id) REFERENCES shop (id, chain_id),
    FOREIGN KEY (chain_id, variant_id) REFERENCES variant (chain_id, id),
    FOREIGN KEY (shop_id, fitting_id) REFERENCES fitting (shop_id, id),
    FOREIGN KEY (shop_id, asked_by) REFERENCES staff (shop_id, id)
);
CREATE INDEX order_of_shop ON shoe_order (shop_id, asked_at DESC, id);
CREATE INDEX order_from_shop ON shoe_order (from_shop, asked_at DESC, id) WHERE from_shop IS NOT NULL;
CREATE INDEX order_of_fitting ON shoe_order (fitting_id) WHERE fitting_id IS NOT NULL;
ALTER TABLE shoe_order ENABLE ROW LEVEL SECURITY;
CREATE POLICY of_both ON shoe_order TO kalon_app
    USING (shop_id = (SELECT shop_now()) OR from_shop = (SELECT shop_now()));
CREATE POLICY asked_here ON shoe_order AS RESTRICTIVE FOR INSERT TO kalon_app
    WITH CHECK (shop_id = (SELECT shop_now()));
GRANT SELECT, INSERT ON shoe_order TO kalon_app;
GRANT UPDATE (state, held_until, changed_at) ON shoe_order TO kalon_app;

-- The other shops of the chain, and what they have of some sizes: seen, never changed.
CREATE FUNCTION sister_shops()
RETURNS TABLE (id uuid, name text)
LANGUAGE sql STABLE SECURITY DEFINER SET search_path = public, pg_temp AS $$
    SELECT h.id, h.name FROM shop h WHERE h.chain_id = (SELECT chain_now()) AND h.id <> (SELECT shop_now()) ORDER BY 2
$$;
DROP FUNCTION sister_stock;
CREATE FUNCTION sister_stock(p_variants uuid[])
RETURNS TABLE (variant_id uuid, shop_id uuid, shop text, on_hand integer)
LANGUAGE sql STABLE SECURITY DEFINER SET search_path = public, pg_temp AS $$
    SELECT l.variant_id, h.id, h.name, l.on_hand FROM stock_line l JOIN shop h ON h.id = l.shop_id
    WHERE l.variant_id = ANY (p_variants) AND l.chain_id = (SELECT chain_now()) AND l.shop_id <> (SELECT shop_now())
      AND l.on_hand > 0
    ORDER BY h.name
$$;
REVOKE ALL ON FUNCTION sister_shops, sister_stock FROM PUBLIC;
GRANT EXECUTE ON FUNCTION sister_shops, sister_stock TO kalon_app;
