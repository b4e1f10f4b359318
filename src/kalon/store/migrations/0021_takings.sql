-- The day's takings: a journal without holes, days that are closed, pairs brought back, and what a pair costs: by colour,
-- in a sale of some days, and what it was bought for.
-- depends: 0020_lists

-- What a shop pays and asks, by model, and by colour where a colour's price is another ('' is every other colour).
ALTER TABLE model_price ADD COLUMN colour text NOT NULL DEFAULT '' CHECK (length(colour) <= 60),
    ADD COLUMN cost_minor integer CHECK (cost_minor >= 0), ADD COLUMN sale_minor integer CHECK (sale_minor >= 0),
    ADD COLUMN sale_from date, ADD COLUMN sale_until date, ADD CHECK (sale_until >= sale_from),
    DROP CONSTRAINT model_price_pkey, ADD PRIMARY KEY (shop_id, model_id, colour);
COMMENT ON COLUMN model_price.cost_minor IS 'What the shop pays for a pair, without tax.';
COMMENT ON COLUMN model_price.sale_minor IS 'Asked instead from sale_from to sale_until, both with it; a side left open has no end.';
GRANT DELETE ON model_price TO kalon_app;
CREATE POLICY managers_take_out ON model_price AS RESTRICTIVE FOR DELETE TO kalon_app
    USING ((SELECT role_now()) = 'manager');

CREATE FUNCTION zone_of_shop(p_shop uuid) RETURNS text
LANGUAGE plpgsql STABLE SECURITY DEFINER SET search_path = public, pg_temp AS $$
DECLARE
    zone text := coalesce((SELECT body ->> 'time_zone' FROM house_version WHERE shop_id = p_shop ORDER BY version DESC LIMIT 1), 'UTC');
BEGIN
    PERFORM now() AT TIME ZONE zone;
    RETURN zone;
EXCEPTION WHEN invalid_parameter_value THEN
    RETURN 'UTC';
END
$$;
COMMENT ON FUNCTION zone_of_shop IS 'Whose days a shop''s days are; UTC where this machine doesn''t know the name.';
CREATE FUNCTION shop_today() RETURNS date LANGUAGE sql STABLE SECURITY DEFINER SET search_path = public, pg_temp AS $$
    SELECT (now() AT TIME ZONE zone_of_shop((SELECT shop_now())))::date
$$;
COMMENT ON FUNCTION shop_today IS 'The day it is at the shop that asks now.';

DROP VIEW model_here;
CREATE VIEW price_now WITH (security_invoker = true) AS
    SELECT p.model_id, p.colour, p.price_minor, p.cost_minor, p.sale_minor, p.sale_from, p.sale_until, p.currency,
           CASE WHEN p.sale_minor IS NOT NULL AND coalesce(p.sale_from <= (SELECT shop_today()), true)
                     AND coalesce(p.sale_until >= (SELECT shop_today()), true)
                THEN p.sale_minor ELSE p.price_minor END AS now_minor
    FROM model_price p
    WHERE p.shop_id = (SELECT shop_now()) AND p.currency = (SELECT shop_currency());
COMMENT ON VIEW price_now IS 'What the shop that asks pays, asks, and asks today (now_minor), in its own money.';
CREATE VIEW model_here WITH (security_invoker = true) AS
    SELECT m.*, p.price_minor, p.now_minor, p.cost_minor, p.sale_minor, p.sale_from, p.sale_until,
           CASE WHEN p.now_minor IS NOT NULL THEN p.currency END AS currency
    FROM shoe_model m LEFT JOIN price_now p ON p.model_id = m.id AND p.colour = '';
COMMENT ON VIEW model_here IS 'Models of the chain as the shop that asks has them: with its own price, in its own money.';
CREATE OR REPLACE FUNCTION price_along(p_order uuid) RETURNS void
LANGUAGE sql SECURITY DEFINER SET search_path = public, pg_temp AS $$
    INSERT INTO model_price (shop_id, chain_id, model_id, colour, price_minor, currency)
    SELECT o.shop_id, o.chain_id, p.model_id, p.colour, p.price_minor, p.currency
    FROM shoe_order o JOIN variant v ON v.id = o.variant_id
    JOIN model_price p ON p.shop_id = o.from_shop AND p.model_id = v.model_id AND p.colour IN ('', coalesce(v.colour, ''))
    WHERE o.id = p_order AND o.shop_id = (SELECT shop_now()) AND p.price_minor IS NOT NULL
      AND p.currency = (SELECT shop_currency())
    ON CONFLICT (shop_id, model_id, colour) DO NOTHING
$$;
REVOKE ALL ON FUNCTION zone_of_shop, shop_today FROM PUBLIC;
GRANT EXECUTE ON FUNCTION shop_today TO kalon_app;
GRANT SELECT ON price_now, model_here TO kalon_app;

-- A pair brought back after its sale: the sale stays what it was, and the journal says that it came back.
ALTER TABLE movement DROP CONSTRAINT movement_kind_check, ADD CONSTRAINT movement_kind_check
    CHECK (kind IN ('there_before', 'received', 'counted', 'sold', 'undone', 'brought_back', 'returned', 'lent', 'transferred',
                    'written_off'));
ALTER TABLE pair DROP CONSTRAINT pair_ended_why_check, ADD CONSTRAINT pair_ended_why_check
    CHECK (ended_why IN ('worn_out', 'given_away', 'lost', 'brought_back'));

CREATE TABLE journal_year (
    shop_id uuid NOT NULL REFERENCES shop (id),
    year integer NOT NULL,
    last integer NOT NULL,
    PRIMARY KEY (shop_id, year)
);
COMMENT ON TABLE journal_year IS 'The last number given in a shop''s year.';
CREATE TABLE journal_close (
    shop_id uuid NOT NULL REFERENCES shop (id),
    day date NOT NULL,
    id uuid NOT NULL,
    closed_at timestamptz NOT NULL DEFAULT clock_timestamp(),
    staff_id uuid NOT NULL,
    sums jsonb NOT NULL,
    format integer NOT NULL,
    rounding text NOT NULL CHECK (rounding IN ('line', 'total')),
    PRIMARY KEY (shop_id, day),
    FOREIGN KEY (shop_id, staff_id) REFERENCES staff (shop_id, id)
);
COMMENT ON COLUMN journal_close.rounding IS 'How its tax was reckoned: a month it is part of goes by it too.';
COMMENT ON TABLE journal_close IS 'Days that are closed, with what they came to; what is written later stands on the next day.';
CREATE TABLE journal_line (
    id uuid PRIMARY KEY,
    shop_id uuid NOT NULL REFERENCES shop (id),
    year integer NOT NULL,
    number integer NOT NULL,
    day date NOT NULL,
    at timestamptz NOT NULL DEFAULT clock_timestamp(),
    kind text NOT NULL CHECK (kind IN ('sale', 'undone', 'refund', 'correction', 'deposit', 'deposit_used', 'deposit_back')),
    staff_id uuid NOT NULL,
    sale_id uuid REFERENCES sale (id),
    order_id uuid REFERENCES shoe_order (id),
    stock_line_id uuid,
    of_id uuid REFERENCES journal_line (id),
    maker text NOT NULL DEFAULT '',
    model text NOT NULL DEFAULT '',
    sport text NOT NULL DEFAULT '',
    size text NOT NULL DEFAULT '',
    colour text NOT NULL DEFAULT '',
    pairs integer NOT NULL DEFAULT 0 CHECK (pairs BETWEEN -1 AND 1),
    price_minor integer,
    price_said boolean NOT NULL DEFAULT false,
    exchange boolean NOT NULL DEFAULT false,
    discount_minor integer NOT NULL DEFAULT 0 CHECK (discount_minor >= 0),
    rate_pct double precision,
    rate_why text NOT NULL DEFAULT '',
    tax_minor integer NOT NULL,
    total_minor integer NOT NULL,
    cost_minor integer,
    currency text NOT NULL CHECK (currency ~ '^[A-Z]{3}$'),
    why text NOT NULL DEFAULT '' CHECK (length(why) <= 300),
    became text CHECK (became IN ('shelf', 'worn', 'supplier')),
    means text NOT NULL DEFAULT 'at the till' CHECK (length(means) <= 40),
    till_number text CHECK (length(till_number) BETWEEN 1 AND 40),
    UNIQUE (shop_id, year, number),
    CHECK ((became IS NOT NULL) = (kind = 'refund' AND pairs < 0)),
    CHECK (discount_minor = 0 OR why <> ''),
    CHECK (kind NOT IN ('refund', 'correction') OR why <> ''),
    FOREIGN KEY (shop_id, stock_line_id) REFERENCES stock_line (shop_id, id),
    FOREIGN KEY (shop_id, staff_id) REFERENCES staff (shop_id, id)
);
COMMENT ON TABLE journal_line IS 'What was taken and given back, a line each, numbered by shop and year without holes; never changed.';
COMMENT ON COLUMN journal_line.of_id IS 'The line this one is upon; of a sale, the refund it is the exchange for.';
COMMENT ON COLUMN journal_line.exchange IS 'Whether what was given back goes towards another pair.';
COMMENT ON COLUMN journal_line.till_number IS 'The till''s own number, noted when it is known.';
CREATE INDEX journal_of_day ON journal_line (shop_id, day, number);
CREATE INDEX journal_of_sale ON journal_line (sale_id) WHERE sale_id IS NOT NULL;
CREATE INDEX journal_of_order ON journal_line (order_id) WHERE order_id IS NOT NULL;
CREATE INDEX journal_of_line ON journal_line (of_id) WHERE of_id IS NOT NULL;
CREATE INDEX journal_of_stock ON journal_line (stock_line_id, day) WHERE stock_line_id IS NOT NULL;

-- One after the other by shop, whoever writes: the next number of the year, on the first day from its own that is open.
CREATE FUNCTION journal_numbered() RETURNS trigger
LANGUAGE plpgsql SECURITY DEFINER SET search_path = public, pg_temp AS $$
BEGIN
    PERFORM pg_advisory_xact_lock(hashtextextended(NEW.shop_id::text, 21));
    WHILE EXISTS (SELECT 1 FROM journal_close WHERE shop_id = NEW.shop_id AND day = NEW.day) LOOP
        NEW.day := NEW.day + 1;
    END LOOP;
    NEW.year := extract(year FROM NEW.day);
    INSERT INTO journal_year (shop_id, year, last) VALUES (NEW.shop_id, NEW.year, 1)
        ON CONFLICT (shop_id, year) DO UPDATE SET last = journal_year.last + 1 RETURNING last INTO NEW.number;
    RETURN NEW;
END
$$;
CREATE TRIGGER journal_numbered BEFORE INSERT ON journal_line FOR EACH ROW EXECUTE FUNCTION journal_numbered();
CREATE FUNCTION journal_waits() RETURNS trigger
LANGUAGE plpgsql SECURITY DEFINER SET search_path = public, pg_temp AS $$
BEGIN
    PERFORM pg_advisory_xact_lock(hashtextextended(NEW.shop_id::text, 21));
    RETURN NEW;
END
$$;
CREATE TRIGGER journal_waits BEFORE INSERT ON journal_close FOR EACH ROW EXECUTE FUNCTION journal_waits();
CREATE FUNCTION journal_lock() RETURNS void LANGUAGE sql VOLATILE SECURITY DEFINER SET search_path = public, pg_temp AS $$
    SELECT pg_advisory_xact_lock(hashtextextended((SELECT shop_now())::text, 21))
$$;
COMMENT ON FUNCTION journal_lock IS 'Until this transaction ends nobody else writes into this shop''s journal.';

DO $$
DECLARE
    name text;
    sells CONSTANT text := '(SELECT role_now()) IN (''fitter'', ''manager'')';
BEGIN
    FOREACH name IN ARRAY ARRAY['journal_year', 'journal_close', 'journal_line'] LOOP
        EXECUTE format('ALTER TABLE %I ENABLE ROW LEVEL SECURITY', name);
        EXECUTE format('CREATE POLICY of_shop ON %I TO kalon_app USING (shop_id = (SELECT shop_now())) '
                       'WITH CHECK (shop_id = (SELECT shop_now()))', name);
    END LOOP;
    FOREACH name IN ARRAY ARRAY['journal_close', 'journal_line'] LOOP
        EXECUTE format('CREATE POLICY in_own_name ON %I AS RESTRICTIVE FOR INSERT TO kalon_app '
                       'WITH CHECK (staff_id = (SELECT staff_now()))', name);
        EXECUTE format('CREATE POLICY sellers_add ON %I AS RESTRICTIVE FOR INSERT TO kalon_app WITH CHECK (%s)', name, sells);
    END LOOP;
    EXECUTE format('CREATE POLICY managers_correct ON journal_line AS RESTRICTIVE FOR INSERT TO kalon_app '
                   'WITH CHECK (kind <> ''correction'' OR (SELECT role_now()) = ''manager'')');
    EXECUTE format('CREATE POLICY sellers_note ON journal_line AS RESTRICTIVE FOR UPDATE TO kalon_app USING (%s)', sells);
END
$$;
GRANT SELECT, INSERT ON journal_line, journal_close TO kalon_app;
GRANT UPDATE (till_number) ON journal_line TO kalon_app;
REVOKE ALL ON FUNCTION journal_numbered, journal_waits, journal_lock FROM PUBLIC;
GRANT EXECUTE ON FUNCTION journal_lock TO kalon_app;

-- Why money was given back may speak of whoever asked to be forgotten.
CREATE FUNCTION journal_forgets() RETURNS trigger
LANGUAGE plpgsql SECURITY DEFINER SET search_path = public, pg_temp AS $$
BEGIN
    UPDATE journal_line SET why = 'taken out at their request' WHERE sale_id = NEW.id AND why <> '';
    RETURN NULL;
END
$$;
CREATE TRIGGER journal_forgets AFTER UPDATE OF snapshot ON sale FOR EACH ROW
    WHEN (NEW.snapshot ? 'erased' AND NOT OLD.snapshot ? 'erased') EXECUTE FUNCTION journal_forgets();
REVOKE ALL ON FUNCTION journal_forgets FROM PUBLIC;

-- Sales from before there was a journal, in the order they were made.
CREATE FUNCTION journal_from_sales() RETURNS void
LANGUAGE sql SECURITY DEFINER SET search_path = public, pg_temp AS $$
    INSERT INTO journal_line (id, shop_id, year, number, day, at, kind, staff_id, sale_id, stock_line_id, of_id, maker, model,
                              sport, size, colour, pairs, price_minor, rate_pct, rate_why, tax_minor, total_minor, currency)
    SELECT e.line_id, e.shop_id, 0, 0, (e.moment AT TIME ZONE zone_of_shop(e.shop_id))::date, e.moment, e.kind, e.sold_by, e.id,
           e.stock_line_id, CASE WHEN e.kind = 'undone' THEN e.id END, coalesce(e.pair ->> 'maker', ''),
           coalesce(e.pair ->> 'name', ''), coalesce(e.pair ->> 'sport', ''), 'EU ' || coalesce((e.pair ->> 'eu_label')::float::text, ''),
           coalesce(e.pair ->> 'colour', ''), e.sign, e.price_minor, (e.tax ->> 'rate_pct')::float,
           coalesce(e.tax ->> 'why', ''), e.sign * coalesce((e.tax ->> 'tax_minor')::int, (e.tax ->> 'tax_cents')::int, 0),
           e.sign * coalesce((e.tax ->> 'total_minor')::int, (e.tax ->> 'total_cents')::int, e.price_minor), e.currency
    FROM (SELECT s.*, s.snapshot #> '{settled,tax}' AS tax, 'sale' AS kind, 1 AS sign, s.sold_at AS moment, s.id AS line_id
          FROM sale s
          UNION ALL
          SELECT s.*, s.snapshot #> '{settled,tax}', 'undone', -1, s.undone_at, gen_random_uuid() FROM sale s
          WHERE s.undone_at IS NOT NULL) e
    ORDER BY e.moment, e.sign DESC
$$;
REVOKE ALL ON FUNCTION journal_from_sales FROM PUBLIC;
DO $$ BEGIN PERFORM journal_from_sales(); END $$;
