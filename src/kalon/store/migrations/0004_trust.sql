-- The web signs in as a role that owns nothing; shops are proved by sessions; sales, counts and people leave a trace.
-- Roles kalon_app and kalon_gate are made beforehand by whoever runs the server (docs/decisions/0007).
-- depends: 0003_house

CREATE EXTENSION IF NOT EXISTS pg_trgm;

-- Signing in: attempts counted by name and by address apart, devices a person has signed in from before.
DROP FUNCTION sign_in_lookup, sign_in_tries, sign_in_failed, session_lookup;
CREATE INDEX sign_in_attempt_at ON sign_in_attempt (at);
CREATE INDEX session_of_staff ON session (staff_id);
CREATE INDEX session_expires ON session (expires_at);
CREATE TABLE sign_in_device (
    token_hash bytea PRIMARY KEY,
    shop_id uuid NOT NULL,
    staff_id uuid NOT NULL,
    seen_at timestamptz NOT NULL DEFAULT now(),
    FOREIGN KEY (shop_id, staff_id) REFERENCES staff (shop_id, id)
);
CREATE INDEX sign_in_device_seen ON sign_in_device (seen_at);
ALTER TABLE sign_in_device ENABLE ROW LEVEL SECURITY;
ALTER TABLE staff DROP CONSTRAINT staff_login_key, ADD UNIQUE (shop_id, login);
CREATE INDEX staff_by_login ON staff (login);

-- Whether a try may be verified now: nought, and the try is counted; or the seconds to wait first.
-- Beyond so many tries within ten minutes, the pause before the next one grows; nobody is locked out for good.
CREATE FUNCTION sign_in_try(p_login text, p_address text, p_device bytea)
RETURNS double precision LANGUAGE plpgsql SECURITY DEFINER SET search_path = public, pg_temp AS $$
DECLARE
    keys bytea[];
    free integer[] := ARRAY[6, 30];
    most double precision[] := ARRAY[20, 10];
    tried bigint;
    latest timestamptz;
    pause double precision;
    longest double precision := 0;
    since timestamptz := clock_timestamp() - interval '10 minutes';
BEGIN
    IF p_device IS NOT NULL AND EXISTS (SELECT 1 FROM sign_in_device d JOIN staff s ON s.id = d.staff_id
                                        WHERE d.token_hash = p_device AND s.login = p_login) THEN
        keys := ARRAY[sha256('device:'::bytea || p_device)];
    ELSE
        keys := ARRAY[sha256(convert_to('name:' || p_login, 'UTF8')), sha256(convert_to('from:' || p_address, 'UTF8'))];
    END IF;
    PERFORM pg_advisory_xact_lock(hashtextextended(encode(k, 'hex'), 4)) FROM unnest(keys) k ORDER BY k;
    FOR i IN 1 .. cardinality(keys) LOOP
        SELECT count(*), max(a.at) INTO tried, latest FROM (
            SELECT at FROM sign_in_attempt WHERE key = keys[i] AND at > since
            ORDER BY at DESC LIMIT 100) a;
        IF tried >= free[i] THEN
            pause := least(2.0 ^ least((tried - free[i]) / i, 10), most[i]);
            longest := greatest(longest, pause - extract(epoch FROM clock_timestamp() - latest));
        END IF;
    END LOOP;
    IF longest > 0 THEN
        RETURN longest;
    END IF;
    INSERT INTO sign_in_attempt (key, at) SELECT k, clock_timestamp() FROM unnest(keys) k;
    DELETE FROM sign_in_attempt WHERE ctid = ANY (ARRAY(
        SELECT ctid FROM sign_in_attempt WHERE at < now() - interval '1 day' LIMIT 200));
    RETURN 0;
END
$$;

-- Who may sign in under a name, in whichever shop: their password's hash is verified outside.
CREATE FUNCTION sign_in_lookup(p_login text)
RETURNS TABLE (staff_id uuid, shop_name text, password_hash text)
LANGUAGE sql STABLE SECURITY DEFINER SET search_path = public, pg_temp AS $$
    SELECT s.id, h.name, s.password_hash FROM staff s JOIN shop h ON h.id = s.shop_id
    WHERE s.login = p_login AND s.active ORDER BY s.id LIMIT 4
$$;

-- Open a session for somebody whose password was verified; forget their failed tries and what has run out.
CREATE FUNCTION sign_in_open(p_staff uuid, p_token_hash bytea, p_lasts interval, p_device bytea, p_address text)
RETURNS void LANGUAGE plpgsql SECURITY DEFINER SET search_path = public, pg_temp AS $$
DECLARE
    person staff%ROWTYPE;
BEGIN
    SELECT * INTO STRICT person FROM staff WHERE id = p_staff AND active;
    INSERT INTO session (token_hash, shop_id, staff_id, expires_at)
        VALUES (p_token_hash, person.shop_id, person.id, now() + p_lasts);
    INSERT INTO sign_in_device (token_hash, shop_id, staff_id) VALUES (p_device, person.shop_id, person.id)
        ON CONFLICT (token_hash) DO UPDATE
        SET seen_at = now(), staff_id = excluded.staff_id, shop_id = excluded.shop_id;
    DELETE FROM sign_in_attempt WHERE key IN (sha256('device:'::bytea || p_device),
                                              sha256(convert_to('name:' || person.login, 'UTF8')));
    DELETE FROM sign_in_attempt WHERE ctid = (
        SELECT ctid FROM sign_in_attempt WHERE key = sha256(convert_to('from:' || p_address, 'UTF8'))
        ORDER BY at DESC LIMIT 1);
    DELETE FROM session WHERE ctid = ANY (ARRAY(SELECT ctid FROM session WHERE expires_at < now() LIMIT 200));
    DELETE FROM sign_in_device WHERE ctid = ANY (ARRAY(
        SELECT ctid FROM sign_in_device WHERE seen_at < now() - interval '400 days' LIMIT 200));
END
$$;

-- The person a session belongs to; and their shop, by which every row is kept apart: proved, not claimed.
CREATE FUNCTION session_lookup(p_token text)
RETURNS TABLE (staff_id uuid, shop_id uuid, shop_name text, login text, name text, role text)
LANGUAGE sql STABLE SECURITY DEFINER SET search_path = public, pg_temp AS $$
    SELECT s.id, s.shop_id, h.name, s.login, s.name, s.role
    FROM session e JOIN staff s ON s.id = e.staff_id JOIN shop h ON h.id = s.shop_id
    WHERE e.token_hash = sha256(convert_to(p_token, 'UTF8')) AND e.expires_at > now() AND s.active
$$;
CREATE FUNCTION shop_now()
RETURNS uuid LANGUAGE sql STABLE SECURITY DEFINER SET search_path = public, pg_temp AS $$
    SELECT e.shop_id FROM session e JOIN staff s ON s.id = e.staff_id
    WHERE e.token_hash = sha256(convert_to(current_setting('kalon.token', true), 'UTF8'))
      AND e.expires_at > now() AND s.active
$$;

REVOKE ALL ON FUNCTION sign_in_try, sign_in_lookup, sign_in_open, session_lookup, shop_now FROM PUBLIC;
GRANT USAGE ON SCHEMA public TO kalon_gate;
GRANT EXECUTE ON FUNCTION sign_in_try, sign_in_lookup, sign_in_open TO kalon_gate;
GRANT EXECUTE ON FUNCTION session_lookup, shop_now TO kalon_app;

-- What changed in the shop itself: counts, people, the house.
CREATE TABLE shop_change (
    id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    shop_id uuid NOT NULL REFERENCES shop (id),
    about text NOT NULL CHECK (about IN ('stock', 'person', 'house')),
    about_id uuid,
    change_id uuid NOT NULL,
    before jsonb NOT NULL,
    after jsonb NOT NULL,
    staff_id uuid NOT NULL,
    at timestamptz NOT NULL DEFAULT now(),
    FOREIGN KEY (shop_id, staff_id) REFERENCES staff (shop_id, id),
    UNIQUE (shop_id, change_id)
);
CREATE INDEX shop_change_about ON shop_change (about_id, id DESC);

-- The volume norm of a shop's own feet, counted now and then and not at every look.
CREATE TABLE shop_norm (
    shop_id uuid PRIMARY KEY REFERENCES shop (id),
    body jsonb NOT NULL,
    counted_at timestamptz NOT NULL DEFAULT now()
);

DO $$
DECLARE name text;
BEGIN
    FOREACH name IN ARRAY ARRAY['staff', 'session', 'athlete', 'shoe_model', 'stock_line', 'fitting', 'fitting_part',
                                'change', 'tray_pair', 'sale', 'follow_up', 'foot_capture', 'capture_progress',
                                'house_version'] LOOP
        EXECUTE format('DROP POLICY of_shop ON %I', name);
    END LOOP;
    FOREACH name IN ARRAY ARRAY['shop_change', 'shop_norm'] LOOP
        EXECUTE format('ALTER TABLE %I ENABLE ROW LEVEL SECURITY', name);
    END LOOP;
    FOREACH name IN ARRAY ARRAY['staff', 'session', 'athlete', 'shoe_model', 'stock_line', 'fitting', 'fitting_part',
                                'change', 'tray_pair', 'sale', 'follow_up', 'foot_capture', 'capture_progress',
                                'house_version', 'shop_change', 'shop_norm'] LOOP
        EXECUTE format('CREATE POLICY of_shop ON %I TO kalon_app USING (shop_id = (SELECT shop_now())) '
            'WITH CHECK (shop_id = (SELECT shop_now()))', name);
    END LOOP;
END
$$;
DROP POLICY of_shop ON shop;
CREATE POLICY of_shop ON shop TO kalon_app USING (id = (SELECT shop_now()));
GRANT SELECT, INSERT ON shop_change TO kalon_app;
GRANT SELECT, INSERT, UPDATE ON shop_norm TO kalon_app;
REVOKE INSERT ON session FROM kalon_app;

-- Bodies carry the number of the format they were written in; core/formats.py has the step from each to the next.
ALTER TABLE fitting_part ADD COLUMN format integer NOT NULL DEFAULT 1;
ALTER TABLE house_version ADD COLUMN format integer NOT NULL DEFAULT 1;
ALTER TABLE sale ADD COLUMN format integer NOT NULL DEFAULT 1;
ALTER TABLE foot_capture ADD COLUMN format integer NOT NULL DEFAULT 1;

-- A sale keeps the pair as it was sold, and its money in minor units of a currency.
ALTER TABLE shoe_model RENAME price_cents TO price_minor;
ALTER TABLE sale RENAME price_cents TO price_minor;
ALTER TABLE sale ADD COLUMN currency text NOT NULL DEFAULT 'EUR', ADD COLUMN pair jsonb;
UPDATE sale SET pair = jsonb_build_object(
    'id', l.id, 'model_id', l.model_id, 'width', l.width, 'eu_label', l.eu_label, 'length_mm', l.length_mm,
    'ball_girth_mm', l.ball_girth_mm, 'instep_girth_mm', l.instep_girth_mm, 'heel_width_mm', l.heel_width_mm,
    'maker', m.maker, 'name', m.name, 'sport', m.sport, 'upper', m.upper, 'build', m.build,
    'reinforced', m.reinforced, 'properties', m.properties, 'choices', m.choices, 'price_minor', sale.price_minor)
FROM stock_line l JOIN shoe_model m ON m.id = l.model_id WHERE l.id = sale.stock_line_id;
ALTER TABLE sale ALTER COLUMN pair SET NOT NULL;

-- A sale taken back takes its follow-up with it; booking again brings it back.
ALTER TABLE follow_up ADD COLUMN withdrawn_at timestamptz;
DROP INDEX follow_up_due;
CREATE INDEX follow_up_due ON follow_up (shop_id, due_on) WHERE done_at IS NULL AND withdrawn_at IS NULL;
UPDATE follow_up u SET withdrawn_at = now()
WHERE NOT EXISTS (SELECT 1 FROM sale s WHERE s.fitting_id = u.fitting_id AND s.undone_at IS NULL);

-- A reading keeps the moment it was measured, however often it is carried on.
ALTER TABLE foot_capture ADD COLUMN measured_at timestamptz;
UPDATE foot_capture SET measured_at = taken_at;
ALTER TABLE foot_capture ALTER COLUMN measured_at SET NOT NULL, ALTER COLUMN measured_at SET DEFAULT now();

-- What grows with the shop is found by an index.
CREATE INDEX change_of_athlete ON change (athlete_id, id DESC);
CREATE INDEX tray_of_line ON tray_pair (stock_line_id, fitting_id);
CREATE INDEX athlete_by_name ON athlete (shop_id, name, id);
CREATE INDEX athlete_name_parts ON athlete USING gin (name gin_trgm_ops);
CREATE INDEX athlete_squad_parts ON athlete USING gin (squad gin_trgm_ops);
CREATE INDEX fitting_newest ON fitting (shop_id, opened_at DESC, id DESC);
CREATE INDEX stock_of_model ON stock_line (model_id, width, eu_label);
CREATE INDEX sale_of_fitting ON sale (fitting_id);

-- Athletes by a part of their name or squad. Under row security the planner may not use a pattern's index before
-- it has looked at the shop; this function asks for the shop itself, from the session, and so may.
CREATE FUNCTION athletes_named(p_text text, p_limit integer)
RETURNS TABLE (id uuid, place bigint) LANGUAGE plpgsql STABLE SECURITY DEFINER SET search_path = public, pg_temp AS $$
DECLARE
    ours uuid := shop_now();
    pattern text := '%' || replace(replace(replace(p_text, '\', '\\'), '%', '\%'), '_', '\_') || '%';
BEGIN
    IF p_text = '' THEN
        RETURN QUERY SELECT a.id, row_number() OVER (ORDER BY a.name, a.id)
            FROM (SELECT b.id, b.name FROM athlete b WHERE b.shop_id = ours ORDER BY b.name, b.id LIMIT p_limit) a;
    ELSIF length(p_text) < 3 THEN
        RETURN QUERY EXECUTE 'SELECT a.id, row_number() OVER (ORDER BY a.name, a.id) FROM (SELECT id, name '
            'FROM athlete WHERE shop_id = $1 AND (name ILIKE $2 OR squad ILIKE $2) ORDER BY name, id LIMIT $3) a'
            USING ours, pattern, p_limit;
    ELSE
        RETURN QUERY EXECUTE 'WITH hit AS MATERIALIZED (SELECT id, name FROM athlete WHERE shop_id = $1 '
            'AND (name ILIKE $2 OR squad ILIKE $2)) SELECT id, row_number() OVER (ORDER BY name, id) FROM hit '
            'ORDER BY name, id LIMIT $3'
            USING ours, pattern, p_limit;
    END IF;
END
$$;
REVOKE ALL ON FUNCTION athletes_named FROM PUBLIC;
GRANT EXECUTE ON FUNCTION athletes_named TO kalon_app;
