-- What the web's own role may do is what the person whose session it shows may do: people through functions that ask
-- who asks, sales as they were made, every row in the name of whoever writes it. Invitations instead of first passwords.
-- Calendars that end. Tries at signing in, counted so that nobody is kept out by somebody else.
-- depends: 0018_erased

CREATE FUNCTION staff_now() RETURNS uuid LANGUAGE sql STABLE SECURITY DEFINER SET search_path = public, pg_temp AS $$
    SELECT s.id FROM session e JOIN staff s ON s.id = e.staff_id
    WHERE e.token_hash = sha256(convert_to(current_setting('kalon.token', true), 'UTF8'))
      AND e.expires_at > now() AND s.active
$$;
CREATE FUNCTION role_now() RETURNS text LANGUAGE sql STABLE SECURITY DEFINER SET search_path = public, pg_temp AS $$
    SELECT s.role FROM session e JOIN staff s ON s.id = e.staff_id
    WHERE e.token_hash = sha256(convert_to(current_setting('kalon.token', true), 'UTF8'))
      AND e.expires_at > now() AND s.active
$$;
REVOKE ALL ON FUNCTION staff_now, role_now FROM PUBLIC;
GRANT EXECUTE ON FUNCTION staff_now, role_now TO kalon_app;

-- Every row is written in the name of whoever is signed in.
DO $$
DECLARE pair text[];
BEGIN
    FOREACH pair SLICE 1 IN ARRAY ARRAY[
        ['fitting', 'opened_by'], ['change', 'staff_id'], ['shop_change', 'staff_id'], ['sale', 'sold_by'],
        ['foot_capture', 'taken_by'], ['shoe_picture', 'taken_by'], ['house_version', 'set_by'],
        ['sheet_import', 'staff_id'], ['movement', 'staff_id'], ['shoe_reading', 'staff_id'], ['shoe_order', 'asked_by'],
        ['athlete_consent', 'given_by'], ['evidence_aside', 'staff_id'], ['fitter_aside', 'staff_id'],
        ['athlete_link', 'made_by'], ['pair_worn', 'staff_id'], ['pair_seen', 'staff_id'], ['day_mark', 'staff_id'],
        ['day_feed', 'staff_id'], ['reservation', 'staff_id']
    ] LOOP
        EXECUTE format('CREATE POLICY in_own_name ON %I AS RESTRICTIVE FOR INSERT TO kalon_app '
                       'WITH CHECK (%I = (SELECT staff_now()))', pair[1], pair[2]);
    END LOOP;
END
$$;
CREATE POLICY in_own_name ON pair_plan AS RESTRICTIVE FOR INSERT TO kalon_app
    WITH CHECK (changed_by = (SELECT staff_now()));
CREATE POLICY by_own_name ON pair_plan AS RESTRICTIVE FOR UPDATE TO kalon_app USING (true)
    WITH CHECK (changed_by = (SELECT staff_now()));
CREATE POLICY by_own_name ON athlete_consent AS RESTRICTIVE FOR UPDATE TO kalon_app USING (true)
    WITH CHECK (ended_by = (SELECT staff_now()));

-- Who may what, as the routes have it (docs/who-may-what.md): the second door behind theirs.
DO $$
DECLARE
    name text;
    sells CONSTANT text := '(SELECT role_now()) IN (''fitter'', ''manager'')';
    manages CONSTANT text := '(SELECT role_now()) = ''manager''';
BEGIN
    FOREACH name IN ARRAY ARRAY['house_version', 'evidence_aside', 'fitter_aside', 'model_price', 'sheet_import', 'sheet_row',
                                'sheet_model', 'sheet_size', 'sheet_habit'] LOOP
        EXECUTE format('CREATE POLICY managers_add ON %I AS RESTRICTIVE FOR INSERT TO kalon_app WITH CHECK (%s)', name, manages);
        EXECUTE format('CREATE POLICY managers_change ON %I AS RESTRICTIVE FOR UPDATE TO kalon_app USING (%s)', name, manages);
    END LOOP;
    FOREACH name IN ARRAY ARRAY['sheet_row', 'sheet_model', 'sheet_size'] LOOP
        EXECUTE format('CREATE POLICY managers_take_out ON %I AS RESTRICTIVE FOR DELETE TO kalon_app USING (%s)', name, manages);
    END LOOP;
    FOREACH name IN ARRAY ARRAY['sale', 'movement', 'athlete_consent'] LOOP
        EXECUTE format('CREATE POLICY sellers_add ON %I AS RESTRICTIVE FOR INSERT TO kalon_app WITH CHECK (%s)', name, sells);
        EXECUTE format('CREATE POLICY sellers_change ON %I AS RESTRICTIVE FOR UPDATE TO kalon_app USING (%s)', name, sells);
    END LOOP;
    EXECUTE format('CREATE POLICY sellers_keep ON reservation AS RESTRICTIVE FOR INSERT TO kalon_app '
                   'WITH CHECK (kind = ''tray'' OR %s)', sells);
    EXECUTE format('CREATE POLICY sellers_give_up ON reservation AS RESTRICTIVE FOR UPDATE TO kalon_app '
                   'USING (kind = ''tray'' OR %s)', sells);
    EXECUTE format('CREATE POLICY whole_shop ON day_feed AS RESTRICTIVE FOR INSERT TO kalon_app '
                   'WITH CHECK (NOT whole OR %s)', sells);
    EXECUTE format('CREATE POLICY own_or_all ON day_feed AS RESTRICTIVE FOR UPDATE TO kalon_app '
                   'USING (staff_id = (SELECT staff_now()) OR %s)', manages);
    EXECUTE format('CREATE POLICY own_or_all ON session AS RESTRICTIVE TO kalon_app '
                   'USING (staff_id = (SELECT staff_now()) OR %s)', manages);
    FOREACH name IN ARRAY ARRAY['shoe_model', 'variant'] LOOP
        EXECUTE format('CREATE POLICY managers_add ON %I AS RESTRICTIVE FOR INSERT TO kalon_app WITH CHECK (%s)', name, manages);
    END LOOP;
END
$$;

-- An order is moved on by who sells; what came may be noted by anybody.
CREATE FUNCTION order_moved_on() RETURNS trigger LANGUAGE plpgsql SET search_path = public, pg_temp AS $$
BEGIN
    IF role_now() NOT IN ('fitter', 'manager') THEN
        RAISE EXCEPTION 'a trainee moves no order on' USING ERRCODE = 'KA403';
    END IF;
    RETURN NEW;
END
$$;
CREATE TRIGGER order_moved_on BEFORE UPDATE OF state ON shoe_order FOR EACH ROW
    WHEN (OLD.state IS DISTINCT FROM NEW.state AND current_setting('kalon.token', true) <> '')
    EXECUTE FUNCTION order_moved_on();
REVOKE ALL ON FUNCTION order_moved_on FROM PUBLIC;

-- A sale stays as it was made; that it was undone is all that is added. A fitting stays of whom it is.
REVOKE UPDATE ON sale, fitting, fitting_part, follow_up FROM kalon_app;
GRANT UPDATE (undone_at) ON sale TO kalon_app;
GRANT UPDATE (state, touched_at, house_version, learned_version, learned_from) ON fitting TO kalon_app;
GRANT UPDATE (version, body, format) ON fitting_part TO kalon_app;
GRANT UPDATE (due_on, done_at, withdrawn_at) ON follow_up TO kalon_app;

-- People. Nobody reads what passwords are kept as; people are changed by managers of their shop.
REVOKE ALL ON staff FROM kalon_app;
GRANT SELECT (id, shop_id, login, name, role, active) ON staff TO kalon_app;
CREATE TABLE invitation (
    token_hash bytea PRIMARY KEY,
    shop_id uuid NOT NULL,
    staff_id uuid NOT NULL,
    made_by uuid,
    made_at timestamptz NOT NULL DEFAULT now(),
    until timestamptz NOT NULL DEFAULT now() + interval '7 days',
    ended_at timestamptz,
    FOREIGN KEY (shop_id, staff_id) REFERENCES staff (shop_id, id),
    FOREIGN KEY (shop_id, made_by) REFERENCES staff (shop_id, id)
);
COMMENT ON TABLE invitation IS 'A secret by which somebody sets their own password, once.';
CREATE INDEX invitation_of_staff ON invitation (staff_id);
ALTER TABLE invitation ENABLE ROW LEVEL SECURITY;
CREATE POLICY of_shop ON invitation TO kalon_app USING (shop_id = (SELECT shop_now()) AND (SELECT role_now()) = 'manager');
GRANT SELECT (shop_id, staff_id, made_at, until, ended_at) ON invitation TO kalon_app;

CREATE FUNCTION needs_manager() RETURNS uuid LANGUAGE plpgsql STABLE SECURITY DEFINER SET search_path = public, pg_temp AS $$
BEGIN
    IF role_now() IS DISTINCT FROM 'manager' THEN
        RAISE EXCEPTION 'only a manager changes people' USING ERRCODE = 'KA403';
    END IF;
    RETURN shop_now();
END
$$;
-- Somebody new, who has no password before they set one; whether it was added, or the name was taken.
CREATE FUNCTION staff_add(p_id uuid, p_login text, p_name text, p_role text)
RETURNS boolean LANGUAGE plpgsql SECURITY DEFINER SET search_path = public, pg_temp AS $$
DECLARE
    ours uuid := needs_manager();
BEGIN
    INSERT INTO staff (id, shop_id, login, name, role, password_hash) VALUES (p_id, ours, p_login, p_name, p_role, '!')
        ON CONFLICT (shop_id, login) DO NOTHING;
    RETURN FOUND;
END
$$;
-- Locks somebody of the shop and its managers, in the order of their ids: two who make each other less wait in turn.
CREATE FUNCTION staff_hold(p_id uuid) RETURNS SETOF uuid
LANGUAGE plpgsql SECURITY DEFINER SET search_path = public, pg_temp AS $$
DECLARE
    ours uuid := needs_manager();
BEGIN
    RETURN QUERY SELECT s.id FROM staff s WHERE s.shop_id = ours AND (s.id = p_id OR s.role = 'manager') ORDER BY s.id
        FOR NO KEY UPDATE;
END
$$;
-- What somebody may do from now on: their sessions end, and with them what they gave out, if they are shut out.
CREATE FUNCTION staff_alter(p_id uuid, p_role text, p_active boolean)
RETURNS void LANGUAGE plpgsql SECURITY DEFINER SET search_path = public, pg_temp AS $$
DECLARE
    ours uuid := needs_manager();
BEGIN
    UPDATE staff SET role = p_role, active = p_active WHERE id = p_id AND shop_id = ours;
END
$$;
CREATE FUNCTION leave_nothing() RETURNS trigger LANGUAGE plpgsql SECURITY DEFINER SET search_path = public, pg_temp AS $$
BEGIN
    UPDATE day_feed SET ended_at = now() WHERE staff_id = NEW.id AND ended_at IS NULL
        AND (NOT NEW.active OR (whole AND NEW.role = 'trainee'));
    UPDATE invitation SET ended_at = now() WHERE staff_id = NEW.id AND ended_at IS NULL AND NOT NEW.active;
    DELETE FROM sign_in_device WHERE staff_id = NEW.id AND NOT NEW.active;
    RETURN NULL;
END
$$;
CREATE TRIGGER leave_nothing AFTER UPDATE OF role, active ON staff FOR EACH ROW EXECUTE FUNCTION leave_nothing();
-- A new invitation of somebody here; those made before end.
CREATE FUNCTION staff_invite(p_id uuid, p_token_hash bytea)
RETURNS boolean LANGUAGE plpgsql SECURITY DEFINER SET search_path = public, pg_temp AS $$
DECLARE
    ours uuid := needs_manager();
BEGIN
    PERFORM 1 FROM staff WHERE id = p_id AND shop_id = ours AND active FOR NO KEY UPDATE;
    IF NOT FOUND THEN
        RETURN false;
    END IF;
    UPDATE invitation SET ended_at = now() WHERE staff_id = p_id AND ended_at IS NULL;
    INSERT INTO invitation (token_hash, shop_id, staff_id, made_by) VALUES (p_token_hash, ours, p_id, staff_now());
    RETURN true;
END
$$;
REVOKE ALL ON FUNCTION needs_manager, staff_add, staff_hold, staff_alter, staff_invite, leave_nothing FROM PUBLIC;
GRANT EXECUTE ON FUNCTION staff_add, staff_hold, staff_alter, staff_invite TO kalon_app;

-- Through the gate: whom an invitation is of; a password set by it, once; one's own changed. Every session ends, but for
-- the one that changes it.
CREATE FUNCTION invitation_open(p_token text)
RETURNS TABLE (login text, name text, shop_name text, until timestamptz)
LANGUAGE sql STABLE SECURITY DEFINER SET search_path = public, pg_temp AS $$
    SELECT s.login, s.name, h.name, i.until FROM invitation i JOIN staff s ON s.id = i.staff_id AND s.active
    JOIN shop h ON h.id = i.shop_id
    WHERE i.token_hash = sha256(convert_to(p_token, 'UTF8')) AND i.ended_at IS NULL AND i.until > now()
$$;
CREATE FUNCTION invitation_take(p_token text, p_password_hash text)
RETURNS boolean LANGUAGE plpgsql SECURITY DEFINER SET search_path = public, pg_temp AS $$
DECLARE
    found invitation%ROWTYPE;
BEGIN
    SELECT i.* INTO found FROM invitation i JOIN staff s ON s.id = i.staff_id AND s.active
        WHERE i.token_hash = sha256(convert_to(p_token, 'UTF8')) AND i.ended_at IS NULL AND i.until > now() FOR UPDATE OF i;
    IF found.staff_id IS NULL THEN
        RETURN false;
    END IF;
    UPDATE invitation SET ended_at = now() WHERE token_hash = found.token_hash;
    UPDATE staff SET password_hash = p_password_hash WHERE id = found.staff_id;
    DELETE FROM session WHERE staff_id = found.staff_id;
    DELETE FROM sign_in_device WHERE staff_id = found.staff_id;
    INSERT INTO shop_change (shop_id, about, about_id, change_id, before, after, staff_id)
        VALUES (found.shop_id, 'person', found.staff_id, gen_random_uuid(), '{}', '{"password": "own"}', found.staff_id);
    RETURN true;
END
$$;
CREATE FUNCTION password_own(p_token text, p_password_hash text)
RETURNS boolean LANGUAGE plpgsql SECURITY DEFINER SET search_path = public, pg_temp AS $$
DECLARE
    found session%ROWTYPE;
BEGIN
    SELECT e.* INTO found FROM session e JOIN staff s ON s.id = e.staff_id AND s.active
        WHERE e.token_hash = sha256(convert_to(p_token, 'UTF8')) AND e.expires_at > now();
    IF found.staff_id IS NULL THEN
        RETURN false;
    END IF;
    UPDATE staff SET password_hash = p_password_hash WHERE id = found.staff_id;
    DELETE FROM session WHERE staff_id = found.staff_id AND token_hash <> found.token_hash;
    UPDATE invitation SET ended_at = now() WHERE staff_id = found.staff_id AND ended_at IS NULL;
    INSERT INTO shop_change (shop_id, about, about_id, change_id, before, after, staff_id)
        VALUES (found.shop_id, 'person', found.staff_id, gen_random_uuid(), '{}', '{"password": "own"}', found.staff_id);
    RETURN true;
END
$$;
REVOKE ALL ON FUNCTION invitation_open, invitation_take, password_own FROM PUBLIC;
GRANT EXECUTE ON FUNCTION invitation_open, invitation_take, password_own TO kalon_gate;

-- Tries are counted by name and address together, by address, and (generously, and with a short pause) by name alone:
-- whoever tries a name from elsewhere keeps its owner waiting for nothing. A known device counts for itself.
CREATE OR REPLACE FUNCTION sign_in_try(p_login text, p_address text, p_device bytea)
RETURNS double precision LANGUAGE plpgsql SECURITY DEFINER SET search_path = public, pg_temp AS $$
DECLARE
    keys bytea[];
    free integer[] := ARRAY[6, 30, 300];
    slower integer[] := ARRAY[1, 2, 50];
    most double precision[] := ARRAY[20, 10, 1];
    tried bigint;
    latest timestamptz;
    longest double precision := 0;
    since timestamptz := clock_timestamp() - interval '10 minutes';
BEGIN
    IF p_device IS NOT NULL AND EXISTS (SELECT 1 FROM sign_in_device d JOIN staff s ON s.id = d.staff_id
                                        WHERE d.token_hash = p_device AND s.login = p_login) THEN
        keys := ARRAY[sha256('device:'::bytea || p_device)];
    ELSE
        keys := ARRAY[sha256(convert_to('both:' || p_login || E'\n' || p_address, 'UTF8')),
                      sha256(convert_to('from:' || p_address, 'UTF8')), sha256(convert_to('name:' || p_login, 'UTF8'))];
    END IF;
    PERFORM pg_advisory_xact_lock(hashtextextended(encode(k, 'hex'), 4)) FROM unnest(keys) k ORDER BY k;
    FOR i IN 1 .. cardinality(keys) LOOP
        SELECT count(*), max(a.at) INTO tried, latest FROM (
            SELECT at FROM sign_in_attempt WHERE key = keys[i] AND at > since
            ORDER BY at DESC LIMIT 600) a;
        IF tried >= free[i] THEN
            longest := greatest(longest, least(2.0 ^ least((tried - free[i]) / slower[i], 10), most[i])
                                         - extract(epoch FROM clock_timestamp() - latest));
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
CREATE OR REPLACE FUNCTION sign_in_open(p_staff uuid, p_token_hash bytea, p_lasts interval, p_device bytea, p_address text)
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
    DELETE FROM sign_in_attempt WHERE key IN (
        sha256('device:'::bytea || p_device), sha256(convert_to('name:' || person.login, 'UTF8')),
        sha256(convert_to('both:' || person.login || E'\n' || p_address, 'UTF8')));
    DELETE FROM sign_in_attempt WHERE ctid = (
        SELECT ctid FROM sign_in_attempt WHERE key = sha256(convert_to('from:' || p_address, 'UTF8'))
        ORDER BY at DESC LIMIT 1);
    DELETE FROM session WHERE ctid = ANY (ARRAY(SELECT ctid FROM session WHERE expires_at < now() LIMIT 200));
    DELETE FROM sign_in_device WHERE ctid = ANY (ARRAY(
        SELECT ctid FROM sign_in_device WHERE seen_at < now() - interval '400 days' LIMIT 200));
END
$$;
-- Who may be meant, of one shop where it is said; one more than are looked at, where there are more.
DROP FUNCTION sign_in_lookup(text);
CREATE FUNCTION sign_in_lookup(p_login text, p_shop text, p_most integer)
RETURNS TABLE (staff_id uuid, shop_name text, password_hash text)
LANGUAGE sql STABLE SECURITY DEFINER SET search_path = public, pg_temp AS $$
    SELECT s.id, h.name, s.password_hash FROM staff s JOIN shop h ON h.id = s.shop_id
    WHERE s.login = p_login AND s.active AND (p_shop = '' OR lower(h.name) = lower(p_shop)) ORDER BY s.id LIMIT p_most + 1
$$;
REVOKE ALL ON FUNCTION sign_in_lookup FROM PUBLIC;
GRANT EXECUTE ON FUNCTION sign_in_lookup TO kalon_gate;

-- The day of the shop that asks, and of no other.
CREATE FUNCTION day_now(p_today date, p_until date)
RETURNS TABLE (kind text, key text, on_day date, staff_id uuid, athlete_id uuid, name text, detail jsonb)
LANGUAGE sql STABLE SECURITY DEFINER SET search_path = public, pg_temp AS $$
    SELECT * FROM day_items(shop_now(), p_today, p_until)
$$;
REVOKE ALL ON FUNCTION day_now FROM PUBLIC;
REVOKE ALL ON FUNCTION day_items FROM PUBLIC, kalon_app;
GRANT EXECUTE ON FUNCTION day_now TO kalon_app;

-- A calendar ends by itself, a year after it was made. House default.
ALTER TABLE day_feed ADD COLUMN until timestamptz NOT NULL DEFAULT now() + interval '365 days';
UPDATE day_feed SET until = made_at + interval '365 days';
UPDATE day_feed d SET ended_at = d.made_at FROM staff s WHERE s.id = d.staff_id AND d.ended_at IS NULL
    AND (NOT s.active OR (d.whole AND s.role = 'trainee'));
CREATE OR REPLACE FUNCTION feed_day(p_token text, p_address text)
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
        WHERE d.token_hash = sha256(convert_to(p_token, 'UTF8')) AND d.ended_at IS NULL AND d.until > now();
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

-- What a delivery brought, so that the same one isn't counted twice by accident.
ALTER TABLE sheet_import ADD COLUMN delivery bytea;
COMMENT ON COLUMN sheet_import.delivery IS 'Of a list of pairs received: the digest of its sizes and numbers, whatever file they came in.';
CREATE INDEX import_of_delivery ON sheet_import (shop_id, delivery) WHERE delivery IS NOT NULL AND undone_at IS NULL;

-- With what a browser seals what somebody typed and didn't send, once their session is over: told to that person alone.
-- For who is there already it follows from what only the database knows of them, so that migrating twice gives the same.
ALTER TABLE staff ADD COLUMN seal bytea;
UPDATE staff SET seal = sha256(convert_to('seal:' || id || ':' || password_hash, 'UTF8'));
ALTER TABLE staff ALTER COLUMN seal SET NOT NULL, ALTER COLUMN seal
    SET DEFAULT sha256(uuid_send(gen_random_uuid()) || uuid_send(gen_random_uuid()) || uuid_send(gen_random_uuid()));
DROP FUNCTION session_lookup(text);
CREATE FUNCTION session_lookup(p_token text)
RETURNS TABLE (staff_id uuid, shop_id uuid, shop_name text, login text, name text, role text, seal text)
LANGUAGE sql STABLE SECURITY DEFINER SET search_path = public, pg_temp AS $$
    SELECT s.id, s.shop_id, h.name, s.login, s.name, s.role, encode(s.seal, 'hex')
    FROM session e JOIN staff s ON s.id = e.staff_id JOIN shop h ON h.id = s.shop_id
    WHERE e.token_hash = sha256(convert_to(p_token, 'UTF8')) AND e.expires_at > now() AND s.active
$$;
REVOKE ALL ON FUNCTION session_lookup FROM PUBLIC;
GRANT EXECUTE ON FUNCTION session_lookup TO kalon_app;
