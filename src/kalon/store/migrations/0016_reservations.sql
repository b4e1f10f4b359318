-- Pairs that are spoken for: in a fitting's tray, held for a sister shop, kept for a customer; each with its end. What is
-- free is what is on hand less what is reserved, and whoever takes a pair asks the same.
-- depends: 0015_one_inside

CREATE TABLE reservation (
    id uuid PRIMARY KEY,
    chain_id uuid NOT NULL,
    shop_id uuid NOT NULL,
    stock_line_id uuid NOT NULL,
    kind text NOT NULL CHECK (kind IN ('tray', 'sister', 'customer')),
    fitting_id uuid,
    order_id uuid REFERENCES shoe_order (id),
    for_shop uuid,
    athlete_id uuid,
    name text NOT NULL DEFAULT '' CHECK (length(name) <= 120),
    hold_s double precision CHECK (hold_s > 0),
    until timestamptz NOT NULL,
    staff_id uuid,
    at timestamptz NOT NULL DEFAULT now(),
    ended_at timestamptz,
    ended_why text NOT NULL DEFAULT '' CHECK (length(ended_why) <= 300),
    CHECK ((kind = 'tray') = (fitting_id IS NOT NULL AND hold_s IS NOT NULL)),
    CHECK ((kind = 'sister') = (order_id IS NOT NULL AND for_shop IS NOT NULL)),
    CHECK (kind <> 'customer' OR name <> '' OR ended_at IS NOT NULL),
    FOREIGN KEY (shop_id, chain_id) REFERENCES shop (id, chain_id),
    FOREIGN KEY (for_shop, chain_id) REFERENCES shop (id, chain_id),
    FOREIGN KEY (shop_id, stock_line_id) REFERENCES stock_line (shop_id, id),
    FOREIGN KEY (shop_id, fitting_id) REFERENCES fitting (shop_id, id),
    FOREIGN KEY (shop_id, athlete_id) REFERENCES athlete (shop_id, id),
    FOREIGN KEY (shop_id, staff_id) REFERENCES staff (shop_id, id)
);
COMMENT ON COLUMN reservation.until IS 'It ends by itself then; a tray''s moves on as its fitting is touched, by hold_s.';
CREATE UNIQUE INDEX reserved_by_tray ON reservation (fitting_id, stock_line_id) WHERE ended_at IS NULL AND kind = 'tray';
CREATE UNIQUE INDEX reserved_by_order ON reservation (order_id) WHERE ended_at IS NULL AND kind = 'sister';
CREATE INDEX reserved_of_line ON reservation (stock_line_id, until) WHERE ended_at IS NULL;
CREATE INDEX reserved_of_shop ON reservation (shop_id, until) WHERE ended_at IS NULL;
CREATE INDEX reserved_of_athlete ON reservation (athlete_id) WHERE athlete_id IS NOT NULL;
ALTER TABLE reservation ENABLE ROW LEVEL SECURITY;
CREATE POLICY of_shop ON reservation TO kalon_app USING (shop_id = (SELECT shop_now()))
    WITH CHECK (shop_id = (SELECT shop_now()));
CREATE POLICY for_sister ON reservation FOR SELECT TO kalon_app USING (for_shop = (SELECT shop_now()));
GRANT SELECT, INSERT ON reservation TO kalon_app;
GRANT UPDATE (until, name, ended_at, ended_why) ON reservation TO kalon_app;

INSERT INTO reservation (id, chain_id, shop_id, stock_line_id, kind, fitting_id, hold_s, until, at)
    SELECT md5(t.fitting_id::text || t.stock_line_id)::uuid, h.chain_id, t.shop_id, t.stock_line_id, 'tray', t.fitting_id,
           7200, f.touched_at + interval '2 hours', t.pulled_at
    FROM tray_pair t JOIN fitting f ON f.id = t.fitting_id JOIN shop h ON h.id = t.shop_id WHERE t.held;
INSERT INTO reservation (id, chain_id, shop_id, stock_line_id, kind, order_id, for_shop, until, at)
    SELECT md5(o.id::text)::uuid, o.chain_id, o.from_shop, l.id, 'sister', o.id, o.shop_id, o.held_until, o.changed_at
    FROM shoe_order o JOIN stock_line l ON l.variant_id = o.variant_id AND l.shop_id = o.from_shop
    WHERE o.state = 'held' AND o.held_until IS NOT NULL;
ALTER TABLE tray_pair DROP COLUMN held;

-- A tray's pairs are held as long as somebody works on its fitting, and a while longer.
CREATE FUNCTION hold_on() RETURNS trigger
LANGUAGE plpgsql SECURITY DEFINER SET search_path = public, pg_temp AS $$
BEGIN
    UPDATE reservation SET until = NEW.touched_at + make_interval(secs => hold_s)
        WHERE fitting_id = NEW.id AND kind = 'tray' AND ended_at IS NULL;
    RETURN NULL;
END
$$;
CREATE TRIGGER hold_on AFTER UPDATE OF touched_at ON fitting FOR EACH ROW
    WHEN (NEW.state = 'open') EXECUTE FUNCTION hold_on();
CREATE FUNCTION let_go() RETURNS trigger
LANGUAGE plpgsql SECURITY DEFINER SET search_path = public, pg_temp AS $$
BEGIN
    UPDATE reservation SET ended_at = now() WHERE fitting_id = OLD.fitting_id AND stock_line_id = OLD.stock_line_id
        AND kind = 'tray' AND ended_at IS NULL;
    RETURN NULL;
END
$$;
CREATE TRIGGER let_go AFTER DELETE ON tray_pair FOR EACH ROW EXECUTE FUNCTION let_go();
CREATE FUNCTION held_no_more() RETURNS trigger
LANGUAGE plpgsql SECURITY DEFINER SET search_path = public, pg_temp AS $$
BEGIN
    UPDATE reservation SET ended_at = now() WHERE order_id = NEW.id AND ended_at IS NULL;
    RETURN NULL;
END
$$;
CREATE TRIGGER held_no_more AFTER UPDATE OF state ON shoe_order FOR EACH ROW
    WHEN (OLD.state = 'held' AND NEW.state <> 'held') EXECUTE FUNCTION held_no_more();
REVOKE ALL ON FUNCTION hold_on, let_go, held_no_more FROM PUBLIC;
-- Who is erased leaves no name in what was kept for them.
CREATE FUNCTION forget_reserved() RETURNS trigger
LANGUAGE plpgsql SECURITY DEFINER SET search_path = public, pg_temp AS $$
BEGIN
    UPDATE reservation SET name = '', athlete_id = NULL, ended_why = '', ended_at = coalesce(ended_at, now())
        WHERE athlete_id = NEW.id;
    RETURN NULL;
END
$$;
CREATE TRIGGER forget_reserved AFTER UPDATE OF erased_at ON athlete FOR EACH ROW
    WHEN (NEW.erased_at IS NOT NULL AND OLD.erased_at IS NULL) EXECUTE FUNCTION forget_reserved();
REVOKE ALL ON FUNCTION forget_reserved FROM PUBLIC;

-- An order ends: what went back to its supplier is credited, what never came is lost at the shop that gave it. What the
-- giving shop says of it is told.
ALTER TABLE shoe_order
    DROP COLUMN held_until,
    ADD COLUMN told text NOT NULL DEFAULT '' CHECK (length(told) <= 300),
    DROP CONSTRAINT order_states, DROP CONSTRAINT order_ways,
    ADD CONSTRAINT order_states CHECK (state IN ('wanted', 'ordered', 'arrived', 'asked', 'held', 'sent', 'received',
                                                 'refused', 'cancelled', 'sent_back', 'back', 'credited', 'lost')),
    ADD CONSTRAINT order_ways CHECK ((from_shop IS NULL) = (state IN ('wanted', 'ordered', 'arrived', 'credited'))
                                     OR state IN ('cancelled', 'sent_back'));
GRANT UPDATE (told) ON shoe_order TO kalon_app;

DROP FUNCTION sister_stock;
CREATE FUNCTION sister_stock(p_variants uuid[])
RETURNS TABLE (variant_id uuid, shop_id uuid, shop text, free integer)
LANGUAGE sql STABLE SECURITY DEFINER SET search_path = public, pg_temp AS $$
    SELECT * FROM (
        SELECT l.variant_id, h.id, h.name, l.on_hand - (SELECT count(*)::int FROM reservation r
            WHERE r.stock_line_id = l.id AND r.ended_at IS NULL AND r.until > now()) AS free
        FROM stock_line l JOIN shop h ON h.id = l.shop_id
        WHERE l.variant_id = ANY (p_variants) AND l.chain_id = (SELECT chain_now()) AND l.shop_id <> (SELECT shop_now())
          AND l.on_hand > 0) s
    WHERE s.free > 0 ORDER BY 3
$$;
REVOKE ALL ON FUNCTION sister_stock FROM PUBLIC;
GRANT EXECUTE ON FUNCTION sister_stock TO kalon_app;

-- What stands in the day of a shop, from its earliest open matter to a day; each kind at most so many.
CREATE OR REPLACE FUNCTION day_items(p_shop uuid, p_today date, p_until date)
RETURNS TABLE (kind text, key text, on_day date, staff_id uuid, athlete_id uuid, name text, detail jsonb)
LANGUAGE sql STABLE SET search_path = public, pg_temp AS $$
    (SELECT 'follow_up', 'follow_up:' || u.fitting_id || ':' || u.due_on, u.due_on, f.opened_by, a.id, a.name,
            jsonb_build_object('fitting', f.id, 'pair', (s.pair ->> 'maker') || ' ' || (s.pair ->> 'name'),
                               'size', s.pair -> 'eu_label')
     FROM (SELECT fitting_id, due_on FROM follow_up WHERE shop_id = p_shop AND done_at IS NULL AND withdrawn_at IS NULL
             AND due_on <= p_until ORDER BY due_on LIMIT 40) u
     JOIN fitting f ON f.id = u.fitting_id JOIN athlete a ON a.id = f.athlete_id
     LEFT JOIN sale s ON s.fitting_id = f.id AND s.undone_at IS NULL)
    UNION ALL
    (SELECT 'arrival', 'arrival:' || o.id, o.changed_at::date, f.opened_by, a.id, a.name,
            jsonb_build_object('order', o.id, 'fitting', f.id, 'pair', coalesce(m.maker || ' ' || m.name, 'Made to measure'),
                               'size', v.eu_label)
     FROM (SELECT * FROM shoe_order WHERE shop_id = p_shop AND state IN ('arrived', 'received') AND arrival = '{}'
             AND changed_at > (p_today - 60)::timestamptz ORDER BY changed_at DESC LIMIT 40) o
     LEFT JOIN fitting f ON f.id = o.fitting_id LEFT JOIN athlete a ON a.id = f.athlete_id
     LEFT JOIN variant v ON v.id = o.variant_id LEFT JOIN shoe_model m ON m.id = v.model_id)
    UNION ALL
    (SELECT 'transfer', 'transfer:' || o.id || ':' || o.state, coalesce(o.until, o.changed_at)::date, NULL, NULL, NULL,
            jsonb_build_object('order', o.id, 'state', o.state, 'ours', o.shop_id = p_shop,
                               'pair', coalesce(m.maker || ' ' || m.name, 'Made to measure'), 'size', v.eu_label)
     FROM (SELECT o.id, o.shop_id, o.variant_id, o.changed_at, r.until,
                  CASE WHEN o.state = 'held' AND r.until IS NULL THEN 'asked' ELSE o.state END AS state FROM (
             (SELECT * FROM shoe_order WHERE shop_id = p_shop
                 AND state IN ('wanted', 'ordered', 'asked', 'held', 'sent', 'sent_back') ORDER BY changed_at DESC LIMIT 40)
             UNION ALL
             (SELECT * FROM shoe_order WHERE from_shop = p_shop
                 AND state IN ('asked', 'held', 'sent', 'sent_back') ORDER BY changed_at DESC LIMIT 40)) o
           LEFT JOIN LATERAL (SELECT until FROM reservation
               WHERE order_id = o.id AND kind = 'sister' AND ended_at IS NULL AND until > now()) r
               ON true
           ORDER BY o.changed_at DESC LIMIT 60) o
     LEFT JOIN variant v ON v.id = o.variant_id LEFT JOIN shoe_model m ON m.id = v.model_id)
    UNION ALL
    (SELECT 'ready', 'ready:' || p.id, p.ready_on, f.opened_by, a.id, a.name,
            jsonb_build_object('pair_id', p.id, 'pair', btrim(p.maker || ' ' || p.name), 'size', p.eu_label)
     FROM (SELECT * FROM pair WHERE shop_id = p_shop AND ended_on IS NULL AND gone_at IS NULL
             AND ready_on BETWEEN p_today - 7 AND p_until ORDER BY ready_on LIMIT 40) p
     JOIN athlete a ON a.id = p.athlete_id LEFT JOIN fitting f ON f.id = p.fitting_id)
    UNION ALL
    (SELECT 'event', 'event:' || p.id || ':' || p.event_on, p.event_on, f.opened_by, a.id, a.name,
            jsonb_build_object('pair_id', p.id, 'fitting', f.id, 'pair', btrim(p.maker || ' ' || p.name),
                               'ready_on', p.ready_on)
     FROM (SELECT * FROM pair WHERE shop_id = p_shop AND ended_on IS NULL AND gone_at IS NULL
             AND event_on BETWEEN p_today AND p_until AND ready_on >= event_on ORDER BY event_on LIMIT 40) p
     JOIN athlete a ON a.id = p.athlete_id LEFT JOIN fitting f ON f.id = p.fitting_id)
    UNION ALL
    (SELECT 'junior', 'junior:' || a.id || ':' || a.measure_on, a.measure_on, NULL, a.id, a.name,
            jsonb_build_object('squad', a.squad, 'measured_on', a.measured_on)
     FROM athlete a WHERE a.shop_id = p_shop AND a.measure_on <= p_until AND a.erased_at IS NULL
     ORDER BY a.measure_on LIMIT 40)
    UNION ALL
    (SELECT 'wear', 'wear:' || p.id || ':' || (SELECT count(*) FROM pair_seen w WHERE w.pair_id = p.id AND w.undone_at IS NULL)
            || CASE WHEN p.ends_on <= p_today + 28 THEN ':end' ELSE '' END, p.look_on, f.opened_by, a.id, a.name,
            jsonb_build_object('pair_id', p.id, 'pair', btrim(p.maker || ' ' || p.name), 'size', p.eu_label,
                               'ends_on', p.ends_on, 'worn_h', p.worn_h, 'median_h', p.median_h)
     FROM (SELECT * FROM pair WHERE shop_id = p_shop AND ended_on IS NULL AND gone_at IS NULL AND look_on <= p_until
             ORDER BY look_on LIMIT 40) p
     JOIN athlete a ON a.id = p.athlete_id LEFT JOIN fitting f ON f.id = p.fitting_id)
    UNION ALL
    (SELECT 'open', 'open:' || f.id || ':' || f.touched_at::date, f.touched_at::date, f.opened_by, a.id, a.name,
            jsonb_build_object('fitting', f.id, 'squad', a.squad, 'sport', b.body ->> 'sport',
                'event_on', b.body ->> 'event_on', 'station', CASE
                WHEN c.id IS NULL AND NOT coalesce(e.body ? 'left' OR e.body ? 'right', false) THEN 'feet'
                WHEN NOT coalesce(b.body ?& '{sport,discipline,body_kg}', false) THEN 'brief'
                WHEN t.fitting_id IS NULL THEN 'pull'
                WHEN NOT coalesce(jsonb_path_exists(r.body, '$.pairs.*.verdict ? (@ == "pass")'), false) THEN 'trial'
                ELSE 'settle' END)
     FROM (SELECT * FROM fitting WHERE shop_id = p_shop AND state = 'open' ORDER BY touched_at DESC LIMIT 40) f
     JOIN athlete a ON a.id = f.athlete_id
     LEFT JOIN fitting_part b ON b.fitting_id = f.id AND b.part = 'brief'
     LEFT JOIN fitting_part e ON e.fitting_id = f.id AND e.part = 'feet'
     LEFT JOIN fitting_part r ON r.fitting_id = f.id AND r.part = 'trial'
     LEFT JOIN LATERAL (SELECT fitting_id FROM tray_pair WHERE fitting_id = f.id LIMIT 1) t ON true
     LEFT JOIN LATERAL (SELECT id FROM foot_capture WHERE fitting_id = f.id AND removed_at IS NULL LIMIT 1) c ON true)
    UNION ALL
    (SELECT 'gap', 'gap:' || l.id || ':' || max(s.sold_at)::date, max(s.sold_at)::date, NULL, NULL, NULL,
            jsonb_build_object('line', l.id, 'model', m.id, 'pair', m.maker || ' ' || m.name, 'size', v.eu_label,
                               'sold', count(*))
     FROM (SELECT * FROM sale WHERE shop_id = p_shop AND undone_at IS NULL AND sold_at > (p_today - 30)::timestamptz
             ORDER BY sold_at DESC LIMIT 300) s
     JOIN stock_line l ON l.id = s.stock_line_id AND l.on_hand = 0
     JOIN variant v ON v.id = l.variant_id AND v.retired_at IS NULL JOIN shoe_model m ON m.id = v.model_id
     GROUP BY l.id, m.id, v.id LIMIT 40)
$$;
