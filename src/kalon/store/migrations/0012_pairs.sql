-- After the sale: pairs athletes own and how they wear, what lives were learned from them, plans of pairs, the bench's
-- day with what was done and put off, calendars by secret links.
-- depends: 0011_links

ALTER TABLE shoe_model ADD COLUMN last text NOT NULL DEFAULT '' CHECK (length(last) <= 60);
CREATE INDEX model_of_last ON shoe_model (chain_id, maker, last) WHERE last <> '';

-- A pair somebody owns, bought here (then with its sale) or elsewhere. What is known of its life now is kept beside it,
-- computed anew whenever something of it changes.
CREATE TABLE pair (
    id uuid PRIMARY KEY,
    shop_id uuid NOT NULL,
    athlete_id uuid NOT NULL,
    sale_id uuid UNIQUE REFERENCES sale (id),
    fitting_id uuid,
    model_id uuid REFERENCES shoe_model (id),
    maker text NOT NULL DEFAULT '' CHECK (length(maker) <= 80),
    name text NOT NULL CHECK (name <> '' AND length(name) <= 120),
    size text NOT NULL DEFAULT '' CHECK (length(size) <= 40),
    eu_label double precision,
    width text NOT NULL DEFAULT '' CHECK (length(width) <= 20),
    upper text,
    sport text NOT NULL,
    discipline text NOT NULL,
    surface text,
    bought_on date NOT NULL,
    begun_on date NOT NULL,
    price_minor integer CHECK (price_minor >= 0),
    currency text NOT NULL,
    hours_per_week double precision NOT NULL CHECK (hours_per_week >= 0 AND hours_per_week <= 168),
    role text NOT NULL DEFAULT 'main' CHECK (role IN ('main', 'training')),
    ready_on date,
    event_on date,
    ended_on date,
    ended_why text CHECK (ended_why IN ('worn_out', 'given_away', 'lost')),
    gone_at timestamptz,
    note text NOT NULL DEFAULT '' CHECK (length(note) <= 300),
    worn_h double precision NOT NULL DEFAULT 0,
    median_h double precision,
    log_sd double precision,
    look_on date,
    ends_on date,
    version integer NOT NULL DEFAULT 1,
    made_at timestamptz NOT NULL DEFAULT now(),
    FOREIGN KEY (shop_id, athlete_id) REFERENCES athlete (shop_id, id),
    FOREIGN KEY (shop_id, fitting_id) REFERENCES fitting (shop_id, id),
    UNIQUE (shop_id, id)
);
CREATE INDEX pair_of_athlete ON pair (athlete_id, bought_on DESC);
CREATE INDEX pair_to_look ON pair (shop_id, look_on) WHERE ended_on IS NULL AND gone_at IS NULL;
CREATE INDEX pair_ready ON pair (shop_id, ready_on) WHERE ended_on IS NULL AND gone_at IS NULL;
CREATE INDEX pair_event ON pair (shop_id, event_on) WHERE ended_on IS NULL AND gone_at IS NULL;
-- What was worn, entry by entry; taken back ones stay, marked.
CREATE TABLE pair_worn (
    id uuid PRIMARY KEY,
    shop_id uuid NOT NULL,
    pair_id uuid NOT NULL,
    on_day date NOT NULL,
    minutes integer NOT NULL CHECK (minutes BETWEEN 1 AND 1440),
    surface text,
    link_id uuid,
    staff_id uuid,
    at timestamptz NOT NULL DEFAULT now(),
    undone_at timestamptz,
    FOREIGN KEY (shop_id, pair_id) REFERENCES pair (shop_id, id)
);
CREATE INDEX worn_of_pair ON pair_worn (pair_id, on_day);
-- What was seen of a pair, with the hours it had by then and the share worn away.
CREATE TABLE pair_seen (
    id uuid PRIMARY KEY,
    shop_id uuid NOT NULL,
    pair_id uuid NOT NULL,
    on_day date NOT NULL,
    hours double precision NOT NULL CHECK (hours > 0),
    seen jsonb NOT NULL CHECK (jsonb_typeof(seen) = 'object'),
    format integer NOT NULL DEFAULT 1,
    worn_share double precision CHECK (worn_share > 0),
    sigma double precision CHECK (sigma > 0),
    staff_id uuid NOT NULL,
    at timestamptz NOT NULL DEFAULT now(),
    undone_at timestamptz,
    FOREIGN KEY (shop_id, pair_id) REFERENCES pair (shop_id, id)
);
CREATE INDEX seen_of_pair ON pair_seen (pair_id, on_day);
-- Lives learned by the whole chain, version by version; and that something changed since.
CREATE TABLE life_learned (
    chain_id uuid NOT NULL REFERENCES chain (id),
    version integer NOT NULL,
    body jsonb NOT NULL CHECK (jsonb_typeof(body) = 'object'),
    format integer NOT NULL DEFAULT 1,
    seen integer NOT NULL,
    at timestamptz NOT NULL DEFAULT now(),
    PRIMARY KEY (chain_id, version)
);
CREATE TABLE life_due (
    id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    chain_id uuid NOT NULL
);
-- A plan of pairs, of one athlete or of a squad.
CREATE TABLE pair_plan (
    id uuid PRIMARY KEY,
    shop_id uuid NOT NULL,
    athlete_id uuid,
    squad text NOT NULL DEFAULT '',
    body jsonb NOT NULL CHECK (jsonb_typeof(body) = 'object'),
    format integer NOT NULL DEFAULT 1,
    version integer NOT NULL DEFAULT 1,
    changed_at timestamptz NOT NULL DEFAULT now(),
    changed_by uuid NOT NULL,
    FOREIGN KEY (shop_id, athlete_id) REFERENCES athlete (shop_id, id),
    FOREIGN KEY (shop_id, changed_by) REFERENCES staff (shop_id, id),
    CHECK ((athlete_id IS NULL) <> (squad = ''))
);
CREATE UNIQUE INDEX plan_of_athlete ON pair_plan (shop_id, athlete_id) WHERE athlete_id IS NOT NULL;
CREATE UNIQUE INDEX plan_of_squad ON pair_plan (shop_id, squad) WHERE squad <> '';
-- What of the day was done or put off; taken back ones stay, marked.
CREATE TABLE day_mark (
    id uuid PRIMARY KEY,
    shop_id uuid NOT NULL,
    key text NOT NULL CHECK (length(key) <= 120),
    until date,
    staff_id uuid NOT NULL,
    at timestamptz NOT NULL DEFAULT now(),
    undone_at timestamptz,
    FOREIGN KEY (shop_id, staff_id) REFERENCES staff (shop_id, id)
);
CREATE INDEX mark_of_key ON day_mark (shop_id, key, at DESC) WHERE undone_at IS NULL;
CREATE TABLE day_feed (
    id uuid PRIMARY KEY,
    shop_id uuid NOT NULL,
    staff_id uuid NOT NULL,
    whole boolean NOT NULL,
    token_hash bytea NOT NULL UNIQUE,
    made_at timestamptz NOT NULL DEFAULT now(),
    ended_at timestamptz,
    FOREIGN KEY (shop_id, staff_id) REFERENCES staff (shop_id, id)
);
CREATE INDEX feed_of_staff ON day_feed (staff_id) WHERE ended_at IS NULL;
CREATE INDEX sale_recent ON sale (shop_id, sold_at DESC) WHERE undone_at IS NULL;
CREATE INDEX order_to_check ON shoe_order (shop_id, changed_at) WHERE state IN ('arrived', 'received') AND arrival = '{}';
CREATE INDEX athlete_named ON athlete (shop_id, name) WHERE erased_at IS NULL;
CREATE INDEX athlete_of_squad ON athlete (shop_id, squad, name) WHERE squad <> '' AND erased_at IS NULL;

DO $$
DECLARE name text;
BEGIN
    FOREACH name IN ARRAY ARRAY['pair', 'pair_worn', 'pair_seen', 'pair_plan', 'day_mark', 'day_feed'] LOOP
        EXECUTE format('ALTER TABLE %I ENABLE ROW LEVEL SECURITY', name);
        EXECUTE format('CREATE POLICY of_shop ON %I TO kalon_app USING (shop_id = (SELECT shop_now())) '
            'WITH CHECK (shop_id = (SELECT shop_now()))', name);
    END LOOP;
    ALTER TABLE life_learned ENABLE ROW LEVEL SECURITY;
    CREATE POLICY of_chain ON life_learned TO kalon_app USING (chain_id = (SELECT chain_now()));
    ALTER TABLE life_due ENABLE ROW LEVEL SECURITY;
END
$$;
GRANT SELECT, INSERT, UPDATE ON pair, pair_plan TO kalon_app;
GRANT SELECT, INSERT ON pair_worn, pair_seen, day_mark, day_feed TO kalon_app;
GRANT UPDATE (undone_at) ON pair_worn, pair_seen, day_mark TO kalon_app;
GRANT UPDATE (ended_at) ON day_feed TO kalon_app;
GRANT SELECT ON life_learned TO kalon_app;

-- What was seen of a pair, or that it ended, is learned from after the answer.
CREATE FUNCTION life_of_pair() RETURNS trigger
LANGUAGE plpgsql SECURITY DEFINER SET search_path = public, pg_temp AS $$
BEGIN
    INSERT INTO life_due (chain_id) SELECT chain_id FROM shop WHERE id = NEW.shop_id;
    NOTIFY kalon_learn;
    RETURN NULL;
END
$$;
CREATE TRIGGER life_of_seen AFTER INSERT OR UPDATE ON pair_seen FOR EACH ROW EXECUTE FUNCTION life_of_pair();
CREATE TRIGGER life_of_ended AFTER UPDATE OF ended_on, ended_why, gone_at ON pair FOR EACH ROW
    WHEN (OLD.ended_why = 'worn_out' OR NEW.ended_why = 'worn_out') EXECUTE FUNCTION life_of_pair();

-- When a young foot is to be measured again: half a size of usual growth after it was, at most a year (from memory).
ALTER TABLE athlete ADD COLUMN measured_on date, ADD COLUMN measure_on date;
CREATE INDEX athlete_to_measure ON athlete (shop_id, measure_on) WHERE measure_on IS NOT NULL;
CREATE FUNCTION measure_again(p_born date, p_measured date) RETURNS date LANGUAGE sql IMMUTABLE AS $$
    SELECT CASE WHEN p_born IS NULL OR p_measured IS NULL OR p_measured >= p_born + interval '18 years' THEN NULL
        WHEN p_measured < p_born + interval '3 years' THEN p_measured + 103
        WHEN p_measured < p_born + interval '6 years' THEN p_measured + 155
        WHEN p_measured < p_born + interval '10 years' THEN p_measured + 182
        WHEN p_measured < p_born + interval '12 years' THEN p_measured + 193
        WHEN p_measured < p_born + interval '14 years' THEN p_measured + 309
        ELSE p_measured + 365 END
$$;
CREATE FUNCTION measure_of_athlete() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    NEW.measure_on := measure_again(NEW.born_on, NEW.measured_on);
    RETURN NEW;
END
$$;
CREATE TRIGGER measure_when BEFORE INSERT OR UPDATE OF born_on, measured_on ON athlete FOR EACH ROW
    EXECUTE FUNCTION measure_of_athlete();
CREATE FUNCTION measured_now() RETURNS trigger
LANGUAGE plpgsql SECURITY DEFINER SET search_path = public, pg_temp AS $$
BEGIN
    UPDATE athlete a SET measured_on = current_date FROM fitting f
        WHERE f.id = NEW.fitting_id AND a.id = f.athlete_id AND a.measured_on IS DISTINCT FROM current_date
          AND a.born_on > current_date - interval '18 years';
    RETURN NULL;
END
$$;
CREATE TRIGGER measured_by_gauge AFTER INSERT OR UPDATE ON fitting_part FOR EACH ROW
    WHEN (NEW.part = 'feet' AND (NEW.body ? 'left' OR NEW.body ? 'right')) EXECUTE FUNCTION measured_now();
CREATE FUNCTION measured_then() RETURNS trigger
LANGUAGE plpgsql SECURITY DEFINER SET search_path = public, pg_temp AS $$
BEGIN
    UPDATE athlete a SET measured_on = NEW.measured_at::date WHERE a.id = NEW.athlete_id
        AND coalesce(a.measured_on, '-infinity') < NEW.measured_at::date
        AND a.born_on > current_date - interval '18 years';
    RETURN NULL;
END
$$;
CREATE TRIGGER measured_by_file AFTER INSERT ON foot_capture FOR EACH ROW
    WHEN (NOT NEW.practice) EXECUTE FUNCTION measured_then();
UPDATE athlete a SET measured_on = (SELECT max(f.opened_at)::date FROM fitting f JOIN fitting_part p ON p.fitting_id = f.id
    WHERE f.athlete_id = a.id AND p.part = 'feet' AND (p.body ? 'left' OR p.body ? 'right'));

-- What stands in the day of a shop, from its earliest open matter to a day; each kind at most so many.
CREATE FUNCTION day_items(p_shop uuid, p_today date, p_until date)
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
             AND changed_at > (p_today - 60)::timestamptz ORDER BY changed_at LIMIT 40) o
     LEFT JOIN fitting f ON f.id = o.fitting_id LEFT JOIN athlete a ON a.id = f.athlete_id
     LEFT JOIN variant v ON v.id = o.variant_id LEFT JOIN shoe_model m ON m.id = v.model_id)
    UNION ALL
    (SELECT 'transfer', 'transfer:' || o.id || ':' || o.state, coalesce(o.held_until, o.changed_at)::date, NULL, NULL, NULL,
            jsonb_build_object('order', o.id, 'state', o.state, 'ours', o.shop_id = p_shop,
                               'pair', coalesce(m.maker || ' ' || m.name, 'Made to measure'), 'size', v.eu_label)
     FROM (SELECT * FROM shoe_order WHERE (shop_id = p_shop OR from_shop = p_shop)
             AND state IN ('wanted', 'ordered', 'asked', 'held', 'sent', 'sent_back') ORDER BY changed_at LIMIT 40) o
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
-- The squads of the shop by name, each counted up to so many; it walks the index from one name to the next.
CREATE FUNCTION squads_now(p_most integer) RETURNS TABLE (name text, athletes bigint)
LANGUAGE plpgsql STABLE SECURITY DEFINER SET search_path = public, pg_temp AS $$
DECLARE
    ours uuid := shop_now();
    at text := '';
BEGIN
    FOR i IN 1..300 LOOP
        SELECT a.squad INTO at FROM athlete a WHERE a.shop_id = ours AND a.squad <> '' AND a.squad > at
            AND a.erased_at IS NULL ORDER BY a.squad LIMIT 1;
        EXIT WHEN NOT FOUND;
        RETURN QUERY SELECT at, count(*) FROM (SELECT 1 FROM athlete a WHERE a.shop_id = ours AND a.squad = at
            AND a.squad <> '' AND a.erased_at IS NULL LIMIT p_most) c;
    END LOOP;
END
$$;
-- The same day for whoever holds a calendar's secret: the days of its shop, of everybody or of the one it is of.
CREATE FUNCTION feed_day(p_token text, p_address text)
RETURNS TABLE (shop text, zone text, kind text, key text, on_day date, name text, detail jsonb)
LANGUAGE plpgsql SECURITY DEFINER SET search_path = public, pg_temp AS $$
DECLARE
    found day_feed%ROWTYPE;
    mark bytea;
    knocks bigint;
    most integer;
    today date;
BEGIN
    SELECT d.* INTO found FROM day_feed d JOIN staff s ON s.id = d.staff_id AND s.active
        WHERE d.token_hash = sha256(convert_to(p_token, 'UTF8')) AND d.ended_at IS NULL;
    mark := sha256(convert_to(CASE WHEN found.id IS NULL THEN 'knock:' || p_address ELSE 'feed:' || found.id END, 'UTF8'));
    SELECT count(*) INTO knocks FROM (SELECT 1 FROM link_knock k WHERE k.key = mark
        AND k.at > clock_timestamp() - interval '10 minutes' LIMIT 61) k;
    most := CASE WHEN found.id IS NULL THEN 20 ELSE 60 END;
    IF knocks >= most THEN
        RETURN QUERY SELECT NULL, NULL, 'wait', NULL, NULL::date, NULL, NULL::jsonb;
        RETURN;
    END IF;
    INSERT INTO link_knock (key) VALUES (mark);
    DELETE FROM link_knock WHERE ctid = ANY (ARRAY(
        SELECT ctid FROM link_knock WHERE at < clock_timestamp() - interval '1 hour' LIMIT 200));
    IF found.id IS NULL THEN
        RETURN;
    END IF;
    today := current_date;
    RETURN QUERY SELECT h.name, z.body ->> 'time_zone', NULL, NULL, NULL::date, NULL, NULL::jsonb FROM shop h
        LEFT JOIN LATERAL (SELECT v.body FROM house_version v WHERE v.shop_id = h.id ORDER BY v.version DESC LIMIT 1) z
            ON true WHERE h.id = found.shop_id;
    RETURN QUERY SELECT NULL, NULL, i.kind, i.key, coalesce(m.until, i.on_day), i.name, i.detail
        FROM day_items(found.shop_id, today, today + 90) i
        LEFT JOIN LATERAL (SELECT d.until FROM day_mark d WHERE d.shop_id = found.shop_id AND d.key = i.key
                           AND d.undone_at IS NULL ORDER BY d.at DESC LIMIT 1) m ON true
        WHERE i.kind IN ('follow_up', 'ready', 'event', 'junior', 'wear', 'arrival')
          AND (found.whole OR i.staff_id IS NULL OR i.staff_id = found.staff_id)
          AND NOT EXISTS (SELECT 1 FROM day_mark d WHERE d.shop_id = found.shop_id AND d.key = i.key
                          AND d.undone_at IS NULL AND d.until IS NULL);
END
$$;

-- What a link shows after the sale: the athlete's pairs here, what was logged, and how the one of its fitting is worn in.
CREATE FUNCTION link_pairs(p_token text)
RETURNS TABLE (id uuid, name text, size text, sport text, surface text, bought_on date, ready_on date, event_on date,
               worn_h double precision, median_h double precision, look_on date, ends_on date, plan jsonb, follow_up date,
               worn jsonb)
LANGUAGE sql STABLE SECURITY DEFINER SET search_path = public, pg_temp AS $$
    SELECT p.id, btrim(p.maker || ' ' || p.name), p.size, p.sport, p.surface, p.bought_on, p.ready_on, p.event_on, p.worn_h,
        p.median_h, p.look_on, p.ends_on,
        CASE WHEN p.fitting_id = l.fitting_id THEN s.snapshot -> 'settled' -> 'plan' END,
        CASE WHEN p.fitting_id = l.fitting_id THEN u.due_on END,
        coalesce((SELECT jsonb_agg(jsonb_build_object('id', w.id, 'on', w.on_day, 'minutes', w.minutes,
                                                      'mine', w.link_id = l.id) ORDER BY w.on_day DESC, w.at DESC)
                  FROM (SELECT * FROM pair_worn w WHERE w.pair_id = p.id AND w.undone_at IS NULL
                        ORDER BY w.on_day DESC, w.at DESC LIMIT 20) w), '[]')
    FROM athlete_link l JOIN pair p ON p.athlete_id = l.athlete_id AND p.shop_id = l.shop_id
    LEFT JOIN sale s ON s.id = p.sale_id
    LEFT JOIN follow_up u ON u.fitting_id = p.fitting_id AND u.withdrawn_at IS NULL AND u.done_at IS NULL
    WHERE l.token_hash = sha256(convert_to(p_token, 'UTF8')) AND l.ended_at IS NULL AND l.expires_at > now()
      AND p.gone_at IS NULL AND p.ended_on IS NULL
    ORDER BY p.bought_on DESC LIMIT 20
$$;
CREATE FUNCTION link_sale(p_token text)
RETURNS TABLE (shop text, athlete text, sold_by text, id uuid, fitting_id uuid, stock_line_id uuid, sold_at timestamptz,
               price_minor integer, currency text, rules_version text, snapshot jsonb, format integer, pair jsonb,
               undone_at timestamptz, follow_up date)
LANGUAGE sql STABLE SECURITY DEFINER SET search_path = public, pg_temp AS $$
    SELECT h.name, a.name, p.name, s.id, s.fitting_id, s.stock_line_id, s.sold_at, s.price_minor, s.currency,
        s.rules_version, s.snapshot, s.format, s.pair, s.undone_at, u.due_on
    FROM athlete_link l JOIN sale s ON s.fitting_id = l.fitting_id AND s.undone_at IS NULL
    JOIN shop h ON h.id = l.shop_id JOIN athlete a ON a.id = l.athlete_id JOIN staff p ON p.id = s.sold_by
    LEFT JOIN follow_up u ON u.fitting_id = l.fitting_id AND u.withdrawn_at IS NULL
    WHERE l.token_hash = sha256(convert_to(p_token, 'UTF8')) AND l.ended_at IS NULL AND l.expires_at > now()
$$;
CREATE FUNCTION link_worn(p_token text, p_id uuid, p_pair uuid, p_day date, p_minutes integer, p_surface text)
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
    INSERT INTO life_due (chain_id) SELECT chain_id FROM shop WHERE id = found.shop_id;
    NOTIFY kalon_learn;
    RETURN true;
END
$$;
CREATE FUNCTION link_unworn(p_token text, p_id uuid)
RETURNS boolean LANGUAGE sql SECURITY DEFINER SET search_path = public, pg_temp AS $$
    WITH taken AS (UPDATE pair_worn w SET undone_at = coalesce(w.undone_at, now()) FROM athlete_link l
                   WHERE w.id = p_id AND w.link_id = l.id AND l.token_hash = sha256(convert_to(p_token, 'UTF8'))
                     AND l.ended_at IS NULL AND l.expires_at > now() RETURNING 1)
    SELECT EXISTS (SELECT 1 FROM taken)
$$;
-- An athlete's data taken out: pairs keep what was found of the shoes, and lose what somebody wrote and logged.
ALTER FUNCTION athlete_erase(uuid) RENAME TO athlete_erase_fittings;
REVOKE ALL ON FUNCTION athlete_erase_fittings FROM PUBLIC, kalon_app;
CREATE FUNCTION athlete_erase(p_id uuid)
RETURNS boolean LANGUAGE plpgsql SECURITY DEFINER SET search_path = public, pg_temp AS $$
BEGIN
    IF NOT athlete_erase_fittings(p_id) THEN
        RETURN false;
    END IF;
    DELETE FROM pair_worn WHERE pair_id IN (SELECT id FROM pair WHERE athlete_id = p_id);
    UPDATE pair SET note = '', event_on = NULL, ended_on = coalesce(ended_on, current_date), look_on = NULL
        WHERE athlete_id = p_id;
    UPDATE pair SET maker = '', name = 'A pair', size = '' WHERE athlete_id = p_id AND sale_id IS NULL;
    DELETE FROM pair_plan WHERE athlete_id = p_id;
    UPDATE athlete SET measured_on = NULL WHERE id = p_id;
    RETURN true;
END
$$;
REVOKE ALL ON FUNCTION life_of_pair, measured_now, measured_then, measure_of_athlete, squads_now, feed_day, link_pairs, link_sale, link_worn, link_unworn,
    athlete_erase FROM PUBLIC;
GRANT EXECUTE ON FUNCTION squads_now, feed_day, link_pairs, link_sale, link_worn, link_unworn, athlete_erase, day_items, measure_again,
    measure_of_athlete TO kalon_app;

-- Pairs sold before are pairs owned; how they wear is computed once.
INSERT INTO pair (id, shop_id, athlete_id, sale_id, fitting_id, model_id, maker, name, size, eu_label, width, upper, sport,
                  discipline, surface, bought_on, begun_on, price_minor, currency, hours_per_week, ready_on, event_on, made_at)
    SELECT s.id, s.shop_id, f.athlete_id, s.id, f.id, m.id, coalesce(s.pair ->> 'maker', ''), s.pair ->> 'name',
           coalesce('EU ' || (s.pair ->> 'eu_label'), ''), (s.pair ->> 'eu_label')::float, coalesce(s.pair ->> 'width', ''),
           s.pair ->> 'upper', coalesce(s.pair ->> 'sport', b.body ->> 'sport', 'court'),
           coalesce(s.snapshot -> 'brief' ->> 'discipline', b.body ->> 'discipline', ''),
           s.snapshot -> 'brief' ->> 'surface', s.sold_at::date, s.sold_at::date, s.price_minor, s.currency,
           greatest(coalesce((s.snapshot -> 'brief' ->> 'sessions_per_week')::float, 2), 0.5) * 1.5,
           (s.snapshot -> 'settled' -> 'plan' ->> 'ready_on')::date, (s.snapshot -> 'brief' ->> 'event_on')::date,
           s.sold_at
    FROM sale s JOIN fitting f ON f.id = s.fitting_id
    LEFT JOIN fitting_part b ON b.fitting_id = f.id AND b.part = 'brief'
    LEFT JOIN shoe_model m ON m.id::text = s.pair ->> 'model_id'
    WHERE s.undone_at IS NULL AND s.pair ->> 'name' IS NOT NULL AND f.state <> 'erased';
INSERT INTO life_due (chain_id) SELECT id FROM chain;
