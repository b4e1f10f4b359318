-- Who was erased stays erased: nothing is written to them any more, and everything that came since, or was forgotten the
-- first time, goes when it is asked for again.
-- depends: 0017_prices

-- Whoever writes of an athlete holds their row for as long; whoever erases takes it for himself. Locks are taken in one
-- order: fittings, orders, stock lines, reservations, links, pairs, the athlete.
CREATE FUNCTION refuse_erased() RETURNS trigger
LANGUAGE plpgsql SECURITY DEFINER SET search_path = public, pg_temp AS $$
DECLARE
    of_whom uuid;
    gone timestamptz;
BEGIN
    CASE TG_ARGV[0]
        WHEN 'athlete' THEN of_whom := NEW.athlete_id;
        WHEN 'fitting' THEN SELECT athlete_id INTO of_whom FROM fitting WHERE id = NEW.fitting_id;
        WHEN 'pair' THEN SELECT athlete_id INTO of_whom FROM pair WHERE id = NEW.pair_id;
        WHEN 'link' THEN SELECT athlete_id INTO of_whom FROM athlete_link WHERE id = NEW.link_id;
    END CASE;
    IF of_whom IS NOT NULL THEN
        SELECT erased_at INTO gone FROM athlete WHERE id = of_whom FOR KEY SHARE;
        IF gone IS NOT NULL THEN
            RAISE EXCEPTION 'erased' USING ERRCODE = 'KA410';
        END IF;
    END IF;
    RETURN NEW;
END
$$;
DO $$
DECLARE
    name text;
BEGIN
    FOREACH name IN ARRAY ARRAY['fitting', 'foot_capture', 'athlete_link', 'athlete_consent', 'pair_plan', 'reservation',
                                'change'] LOOP
        EXECUTE format('CREATE TRIGGER a_refuse_erased BEFORE INSERT OR UPDATE ON %I FOR EACH ROW '
            'EXECUTE FUNCTION refuse_erased(''athlete'')', name);
    END LOOP;
    FOREACH name IN ARRAY ARRAY['fitting_part', 'tray_pair', 'sale', 'follow_up', 'shoe_order'] LOOP
        EXECUTE format('CREATE TRIGGER a_refuse_erased BEFORE INSERT OR UPDATE ON %I FOR EACH ROW '
            'EXECUTE FUNCTION refuse_erased(''fitting'')', name);
    END LOOP;
    FOREACH name IN ARRAY ARRAY['pair_seen', 'pair_worn', 'shoe_picture'] LOOP
        EXECUTE format('CREATE TRIGGER a_refuse_erased BEFORE INSERT OR UPDATE ON %I FOR EACH ROW '
            'EXECUTE FUNCTION refuse_erased(''pair'')', name);
    END LOOP;
    -- How a pair lasts is reckoned on without a name.
    CREATE TRIGGER a_refuse_erased BEFORE INSERT OR UPDATE OF maker, name, size, note, role, surface, bought_on, begun_on,
        hours_per_week, event_on, ended_on, gone_at, told_h ON pair FOR EACH ROW EXECUTE FUNCTION refuse_erased('athlete');
    CREATE TRIGGER a_refuse_erased BEFORE INSERT ON link_answer FOR EACH ROW EXECUTE FUNCTION refuse_erased('link');
END
$$;
CREATE FUNCTION stay_erased() RETURNS trigger LANGUAGE plpgsql SET search_path = public, pg_temp AS $$
BEGIN
    RAISE EXCEPTION 'erased' USING ERRCODE = 'KA410';
END
$$;
CREATE TRIGGER stay_erased BEFORE UPDATE ON athlete FOR EACH ROW
    WHEN (OLD.erased_at IS NOT NULL AND NEW.erased_at IS NOT NULL) EXECUTE FUNCTION stay_erased();
REVOKE UPDATE ON athlete FROM kalon_app;
GRANT UPDATE (name, born_on, squad, note, version, known_from, measured_on, measure_on) ON athlete TO kalon_app;

-- Every name somebody had here, taken out of what people wrote of stock, orders and evidence.
CREATE FUNCTION forget_name(p_shop uuid, p_name text) RETURNS void
LANGUAGE plpgsql SET search_path = public, pg_temp AS $$
DECLARE
    plain text := '\m' || regexp_replace(p_name, '([^[:alnum:][:space:]])', '\\\1', 'g') || '\M';
    written text := btrim(to_jsonb(p_name)::text, '"');
    -- In what is written as JSON, never in what a thing is called there.
    quoted text := '\m' || regexp_replace(written, '([^[:alnum:][:space:]])', '\\\1', 'g') || '\M(?![^"]*":)';
BEGIN
    UPDATE movement SET why = regexp_replace(why, plain, 'Erased', 'gi') WHERE shop_id = p_shop AND why ~* plain;
    UPDATE shop_change SET before = regexp_replace(before::text, quoted, 'Erased', 'gi')::jsonb,
        after = regexp_replace(after::text, quoted, 'Erased', 'gi')::jsonb
        WHERE shop_id = p_shop AND about = 'stock' AND (before::text ~* quoted OR after::text ~* quoted);
    UPDATE shoe_order SET note = regexp_replace(note, plain, 'Erased', 'gi'), told = regexp_replace(told, plain, 'Erased', 'gi'),
        arrival = regexp_replace(arrival::text, quoted, 'Erased', 'gi')::jsonb
        WHERE (shop_id = p_shop OR from_shop = p_shop)
          AND (note ~* plain OR told ~* plain OR arrival::text ~* quoted);
    UPDATE reservation SET ended_why = regexp_replace(ended_why, plain, 'Erased', 'gi')
        WHERE shop_id = p_shop AND ended_why ~* plain;
    UPDATE reservation SET name = '', ended_at = coalesce(ended_at, now())
        WHERE shop_id = p_shop AND athlete_id IS NULL AND name ~* plain;
    UPDATE evidence_aside SET reason = regexp_replace(reason, plain, 'Erased', 'gi')
        WHERE shop_id = p_shop AND reason ~* plain;
    UPDATE fitter_aside SET reason = regexp_replace(reason, plain, 'Erased', 'gi')
        WHERE shop_id = p_shop AND reason ~* plain;
END
$$;

-- Locks all there is of an athlete, in the one order; a fitting begun in between is waited for anew.
CREATE FUNCTION hold_athlete(p_id uuid) RETURNS void
LANGUAGE plpgsql SET search_path = public, pg_temp AS $$
DECLARE
    mine uuid[];
BEGIN
    LOOP
        BEGIN
            mine := ARRAY(SELECT id FROM fitting WHERE athlete_id = p_id ORDER BY id FOR UPDATE);
            PERFORM 1 FROM shoe_order WHERE fitting_id = ANY (mine) ORDER BY id FOR UPDATE;
            PERFORM 1 FROM reservation WHERE athlete_id = p_id OR fitting_id = ANY (mine) ORDER BY id FOR UPDATE;
            PERFORM 1 FROM athlete_link WHERE athlete_id = p_id ORDER BY id FOR UPDATE;
            PERFORM 1 FROM pair WHERE athlete_id = p_id ORDER BY id FOR UPDATE;
            PERFORM 1 FROM athlete WHERE id = p_id FOR UPDATE;
            IF EXISTS (SELECT 1 FROM fitting WHERE athlete_id = p_id AND id <> ALL (mine)) THEN
                RAISE EXCEPTION 'again' USING ERRCODE = 'KA001';
            END IF;
            RETURN;
        EXCEPTION WHEN SQLSTATE 'KA001' THEN
            NULL; -- the locks are let go of, and all is taken anew
        END;
    END LOOP;
END
$$;

DROP TRIGGER forget_reserved ON athlete;
DROP FUNCTION forget_reserved;
DROP FUNCTION athlete_erase(uuid);
DROP FUNCTION athlete_erase_fittings(uuid);
CREATE FUNCTION athlete_erase(p_id uuid)
RETURNS boolean LANGUAGE plpgsql SECURITY DEFINER SET search_path = public, pg_temp AS $$
DECLARE
    ours uuid := shop_now();
    by_whom uuid := (SELECT s.id FROM session e JOIN staff s ON s.id = e.staff_id
                     WHERE e.token_hash = sha256(convert_to(current_setting('kalon.token', true), 'UTF8'))
                       AND e.expires_at > now() AND s.active AND s.role = 'manager');
    called text;
BEGIN
    IF by_whom IS NULL OR NOT EXISTS (SELECT 1 FROM athlete WHERE id = p_id AND shop_id = ours) THEN
        RETURN false;
    END IF;
    PERFORM hold_athlete(p_id);
    UPDATE athlete SET erased_at = NULL WHERE id = p_id; -- seen by nobody else before all is done
    FOR called IN
        SELECT DISTINCT btrim(n) FROM (
            SELECT name AS n FROM athlete WHERE id = p_id
            UNION SELECT c.before ->> 'name' FROM change c WHERE c.athlete_id = p_id AND c.part = 'athlete'
            UNION SELECT c.after ->> 'name' FROM change c WHERE c.athlete_id = p_id AND c.part = 'athlete'
            UNION SELECT r.name FROM reservation r WHERE r.athlete_id = p_id) x
        WHERE length(btrim(n)) > 2 AND btrim(n) <> 'Erased'
    LOOP
        PERFORM forget_name(ours, called);
    END LOOP;
    UPDATE athlete SET name = 'Erased', born_on = NULL, squad = '', note = '', known_from = NULL, version = version + 1
        WHERE id = p_id;
    UPDATE athlete SET known_from = NULL WHERE known_from = p_id;
    UPDATE follow_up SET withdrawn_at = now() WHERE done_at IS NULL AND withdrawn_at IS NULL
        AND fitting_id IN (SELECT id FROM fitting WHERE athlete_id = p_id);
    DELETE FROM tray_pair WHERE fitting_id IN (SELECT id FROM fitting WHERE athlete_id = p_id);
    UPDATE reservation SET name = '', athlete_id = NULL, ended_why = '', ended_at = coalesce(ended_at, now())
        WHERE athlete_id = p_id;
    DELETE FROM link_answer WHERE link_id IN (SELECT id FROM athlete_link WHERE athlete_id = p_id);
    DELETE FROM pair_worn WHERE pair_id IN (SELECT id FROM pair WHERE athlete_id = p_id);
    DELETE FROM shoe_picture WHERE pair_id IN (SELECT id FROM pair WHERE athlete_id = p_id);
    DELETE FROM capture_progress WHERE id IN (SELECT id FROM foot_capture WHERE athlete_id = p_id);
    DELETE FROM foot_capture WHERE athlete_id = p_id;
    DELETE FROM athlete_link WHERE athlete_id = p_id;
    DELETE FROM athlete_consent WHERE athlete_id = p_id;
    UPDATE fitting_part SET body = '{}', version = version + 1
        WHERE fitting_id IN (SELECT id FROM fitting WHERE athlete_id = p_id);
    UPDATE pair SET note = '', event_on = NULL, ended_on = coalesce(ended_on, current_date), look_on = NULL
        WHERE athlete_id = p_id;
    UPDATE pair SET maker = '', name = 'A pair', size = '' WHERE athlete_id = p_id AND sale_id IS NULL;
    DELETE FROM pair_plan WHERE athlete_id = p_id;
    DELETE FROM day_mark WHERE key LIKE '%' || p_id || '%';
    UPDATE shop_change SET before = before - 'arrival', after = after - 'arrival' WHERE about_id IN (
        SELECT id FROM shoe_order WHERE fitting_id IN (SELECT id FROM fitting WHERE athlete_id = p_id));
    UPDATE shoe_order SET note = '', told = '', sheet = '{}', arrival = '{}', fitting_id = NULL WHERE fitting_id IN (
        SELECT id FROM fitting WHERE athlete_id = p_id);
    UPDATE sale SET snapshot = jsonb_build_object('erased', true, 'pair', snapshot -> 'pair') WHERE fitting_id IN (
        SELECT id FROM fitting WHERE athlete_id = p_id);
    UPDATE fitting SET state = 'erased' WHERE athlete_id = p_id;
    DELETE FROM learn_due WHERE fitting_id IN (SELECT id FROM fitting WHERE athlete_id = p_id);
    UPDATE change SET before = '{}', after = jsonb_build_object('erased', true) WHERE athlete_id = p_id;
    INSERT INTO change (shop_id, athlete_id, part, version, change_id, before, after, staff_id)
        VALUES (ours, p_id, 'athlete', 0, gen_random_uuid(), '{}', jsonb_build_object('erased', true), by_whom);
    UPDATE athlete SET erased_at = now(), measured_on = NULL, measure_on = NULL WHERE id = p_id;
    RETURN true;
END
$$;
REVOKE ALL ON FUNCTION refuse_erased, stay_erased, forget_name, hold_athlete, athlete_erase FROM PUBLIC;
GRANT EXECUTE ON FUNCTION athlete_erase TO kalon_app;
