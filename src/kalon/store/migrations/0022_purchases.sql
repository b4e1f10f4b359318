-- Buying again: orders to suppliers for the shelf, received in part, what is missing chased or given up.
-- depends: 0021_takings

CREATE TABLE purchase (
    id uuid PRIMARY KEY,
    shop_id uuid NOT NULL REFERENCES shop (id),
    chain_id uuid NOT NULL,
    number integer NOT NULL,
    supplier text NOT NULL CHECK (length(supplier) BETWEEN 1 AND 80),
    note text NOT NULL DEFAULT '' CHECK (length(note) <= 300),
    expected_on date,
    state text NOT NULL CHECK (state IN ('draft', 'sent', 'done', 'cancelled')),
    version integer NOT NULL DEFAULT 1,
    staff_id uuid NOT NULL,
    made_at timestamptz NOT NULL DEFAULT now(),
    sent_at timestamptz,
    chased_at timestamptz,
    UNIQUE (shop_id, number),
    UNIQUE (shop_id, id),
    FOREIGN KEY (shop_id, chain_id) REFERENCES shop (id, chain_id),
    FOREIGN KEY (shop_id, staff_id) REFERENCES staff (shop_id, id)
);
COMMENT ON TABLE purchase IS 'An order of the shop''s own to a supplier; sheets of athletes'' orders are shoe_order.';
CREATE INDEX purchase_open ON purchase (shop_id, state, made_at DESC);
CREATE TABLE purchase_line (
    shop_id uuid NOT NULL,
    purchase_id uuid NOT NULL,
    chain_id uuid NOT NULL,
    variant_id uuid NOT NULL,
    pairs integer NOT NULL CHECK (pairs BETWEEN 1 AND 10000),
    received integer NOT NULL DEFAULT 0 CHECK (received >= 0),
    given_up boolean NOT NULL DEFAULT false,
    PRIMARY KEY (purchase_id, variant_id),
    FOREIGN KEY (shop_id, purchase_id) REFERENCES purchase (shop_id, id) ON DELETE CASCADE,
    FOREIGN KEY (chain_id, variant_id) REFERENCES variant (chain_id, id)
);
COMMENT ON COLUMN purchase_line.given_up IS 'What is missing of it comes no more.';
CREATE INDEX purchase_of_variant ON purchase_line (variant_id);

DO $$
DECLARE
    name text;
    sells CONSTANT text := '(SELECT role_now()) IN (''fitter'', ''manager'')';
BEGIN
    FOREACH name IN ARRAY ARRAY['purchase', 'purchase_line'] LOOP
        EXECUTE format('ALTER TABLE %I ENABLE ROW LEVEL SECURITY', name);
        EXECUTE format('CREATE POLICY of_shop ON %I TO kalon_app USING (shop_id = (SELECT shop_now())) '
                       'WITH CHECK (shop_id = (SELECT shop_now()))', name);
        EXECUTE format('CREATE POLICY sellers_add ON %I AS RESTRICTIVE FOR INSERT TO kalon_app WITH CHECK (%s)', name, sells);
        EXECUTE format('CREATE POLICY sellers_change ON %I AS RESTRICTIVE FOR UPDATE TO kalon_app USING (%s)', name, sells);
        EXECUTE format('CREATE POLICY sellers_take_out ON %I AS RESTRICTIVE FOR DELETE TO kalon_app USING (%s)', name, sells);
    END LOOP;
    EXECUTE 'CREATE POLICY in_own_name ON purchase AS RESTRICTIVE FOR INSERT TO kalon_app '
            'WITH CHECK (staff_id = (SELECT staff_now()))';
END
$$;
GRANT SELECT, INSERT ON purchase TO kalon_app;
GRANT UPDATE (supplier, note, expected_on, state, version, sent_at, chased_at) ON purchase TO kalon_app;
GRANT SELECT, INSERT, DELETE ON purchase_line TO kalon_app;
GRANT UPDATE (pairs, received, given_up) ON purchase_line TO kalon_app;
