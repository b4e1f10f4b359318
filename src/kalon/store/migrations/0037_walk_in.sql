-- Somebody may be fitted without a name, and is forgotten when none comes. Erasing a person is one function, for a
-- manager who is asked to and for the learner's process, which no session is open for.

ALTER TABLE athlete ADD COLUMN unnamed_since timestamptz;
COMMENT ON COLUMN athlete.unnamed_since IS 'Since when somebody is here without a name; none once it was said.';
GRANT UPDATE (unnamed_since) ON athlete TO kalon_app;
CREATE INDEX athlete_unnamed ON athlete (shop_id, unnamed_since) WHERE unnamed_since IS NOT NULL;

CREATE FUNCTION athlete_forget(p_id uuid, ours uuid, by_whom uuid)
RETURNS void LANGUAGE plpgsql SET search_path = public, pg_temp AS $$
DECLARE
    called text;
BEGIN
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
    UPDATE athlete SET erased_at = now(), measured_on = NULL, measure_on = NULL, unnamed_since = NULL WHERE id = p_id;
END
$$;
CREATE OR REPLACE FUNCTION athlete_erase(p_id uuid)
RETURNS boolean LANGUAGE plpgsql SECURITY DEFINER SET search_path = public, pg_temp AS $$
DECLARE
    ours uuid := shop_now();
    by_whom uuid := (SELECT s.id FROM session e JOIN staff s ON s.id = e.staff_id
                     WHERE e.token_hash = sha256(convert_to(current_setting('kalon.token', true), 'UTF8'))
                       AND e.expires_at > now() AND s.active AND s.role = 'manager');
BEGIN
    IF by_whom IS NULL OR NOT EXISTS (SELECT 1 FROM athlete WHERE id = p_id AND shop_id = ours) THEN
        RETURN false;
    END IF;
    PERFORM athlete_forget(p_id, ours, by_whom);
    RETURN true;
END
$$;
REVOKE ALL ON FUNCTION athlete_forget FROM PUBLIC;
