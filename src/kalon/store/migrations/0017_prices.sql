-- What a model costs is its shop's: shops of a chain may ask different prices, in different money. A price is kept in the
-- currency it was given in; in another the shop doesn't know one until somebody says.
-- depends: 0016_reservations

CREATE TABLE model_price (
    shop_id uuid NOT NULL,
    chain_id uuid NOT NULL,
    model_id uuid NOT NULL,
    price_minor integer CHECK (price_minor >= 0),
    currency text NOT NULL CHECK (currency ~ '^[A-Z]{3}$'),
    PRIMARY KEY (shop_id, model_id),
    FOREIGN KEY (shop_id, chain_id) REFERENCES shop (id, chain_id),
    FOREIGN KEY (chain_id, model_id) REFERENCES shoe_model (chain_id, id)
);
CREATE INDEX price_of_model ON model_price (model_id);
ALTER TABLE model_price ENABLE ROW LEVEL SECURITY;
CREATE POLICY of_shop ON model_price TO kalon_app USING (shop_id = (SELECT shop_now()))
    WITH CHECK (shop_id = (SELECT shop_now()));
GRANT SELECT, INSERT, UPDATE ON model_price TO kalon_app;

INSERT INTO model_price (shop_id, chain_id, model_id, price_minor, currency)
    SELECT h.id, h.chain_id, m.id, m.price_minor, coalesce(
        (SELECT v.body ->> 'currency' FROM house_version v WHERE v.shop_id = h.id ORDER BY v.version DESC LIMIT 1), 'EUR')
    FROM shoe_model m JOIN shop h ON h.chain_id = m.chain_id WHERE m.price_minor IS NOT NULL;
ALTER TABLE shoe_model DROP COLUMN price_minor;

CREATE FUNCTION shop_currency() RETURNS text LANGUAGE sql STABLE SET search_path = public, pg_temp AS $$
    SELECT coalesce((SELECT body ->> 'currency' FROM house_version WHERE shop_id = (SELECT shop_now())
                     ORDER BY version DESC LIMIT 1), 'EUR')
$$;
COMMENT ON FUNCTION shop_currency IS 'What prices are in at the shop that asks now.';
CREATE VIEW model_here WITH (security_invoker = true) AS
    SELECT m.*, p.price_minor, p.currency FROM shoe_model m
    LEFT JOIN model_price p ON p.model_id = m.id AND p.shop_id = (SELECT shop_now())
        AND p.currency = (SELECT shop_currency()) AND p.price_minor IS NOT NULL;
COMMENT ON VIEW model_here IS 'Models of the chain as the shop that asks has them: with its own price, in its own money.';

-- A pair that comes from a sister shop brings its price along where this shop has none and counts in the same money.
CREATE FUNCTION price_along(p_order uuid) RETURNS void
LANGUAGE sql SECURITY DEFINER SET search_path = public, pg_temp AS $$
    INSERT INTO model_price (shop_id, chain_id, model_id, price_minor, currency)
    SELECT o.shop_id, o.chain_id, p.model_id, p.price_minor, p.currency
    FROM shoe_order o JOIN variant v ON v.id = o.variant_id
    JOIN model_price p ON p.shop_id = o.from_shop AND p.model_id = v.model_id
    WHERE o.id = p_order AND o.shop_id = (SELECT shop_now()) AND p.price_minor IS NOT NULL
      AND p.currency = (SELECT shop_currency())
    ON CONFLICT (shop_id, model_id) DO NOTHING
$$;
REVOKE ALL ON FUNCTION shop_currency, price_along FROM PUBLIC;
GRANT EXECUTE ON FUNCTION shop_currency, price_along TO kalon_app;
GRANT SELECT ON model_here TO kalon_app;
