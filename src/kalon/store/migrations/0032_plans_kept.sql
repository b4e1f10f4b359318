-- What the core rules over is no longer ruled here: at which station a fitting waits, and when a young foot is to be
-- measured again.
-- Who asks is looked up by every policy of every statement: in a language that keeps its plan, which costs a tenth of one
-- that plans itself at every call. The same for the other functions that calls of the day ask for.
-- depends: 0031_widths_of_japan

DO $waits$
DECLARE
    was text := pg_get_functiondef('day_items(uuid, date, date)'::regprocedure);
    begins int := strpos(was, $$'station', CASE$$);
    ends int := strpos(was, $$ELSE 'settle' END$$);
BEGIN
    IF begins = 0 OR ends < begins THEN
        RAISE EXCEPTION 'day_items is not what it was';
    END IF;
    EXECUTE left(was, begins - 1) || $$'captured', c.id IS NOT NULL, 'pulled', t.fitting_id IS NOT NULL,
                'feet', jsonb_build_object('body', e.body, 'format', e.format),
                'brief', jsonb_build_object('body', b.body, 'format', b.format),
                'trial', jsonb_build_object('body', r.body, 'format', r.format)$$ || substr(was, ends + length($$ELSE 'settle' END$$));
END
$waits$;

CREATE TABLE growth_step (
    up_to_years integer PRIMARY KEY CHECK (up_to_years > 0),
    days integer NOT NULL CHECK (days > 0)
);
COMMENT ON TABLE growth_step IS 'Up to which age a young foot is measured again after so many days: as the core says (core.feet.growth), kept by every start.';
ALTER TABLE growth_step ENABLE ROW LEVEL SECURITY;
CREATE POLICY for_all ON growth_step FOR SELECT TO kalon_app USING (true);
GRANT SELECT ON growth_step TO kalon_app;
CREATE OR REPLACE FUNCTION measure_again(p_born date, p_measured date) RETURNS date LANGUAGE plpgsql STABLE AS $$
BEGIN
    RETURN (SELECT p_measured + s.days FROM growth_step s
            WHERE p_measured < p_born + make_interval(years => s.up_to_years) ORDER BY s.up_to_years LIMIT 1);
END
$$;

DO $kept$
DECLARE
    f record;
    body text;
    returns text;
    says text;
BEGIN
    FOR f IN SELECT p.oid, p.proname, p.proretset, p.prosrc FROM pg_proc p JOIN pg_language l ON l.oid = p.prolang
             JOIN pg_namespace n ON n.oid = p.pronamespace
             WHERE n.nspname = 'public' AND l.lanname = 'sql' AND p.provolatile = 's' AND p.proname IN (
                 'shop_now', 'chain_now', 'staff_now', 'role_now', 'session_lookup', 'day_items', 'day_now',
                 'athlete_elsewhere', 'sister_shops', 'sister_stock', 'shop_today', 'shop_currency', 'ledger_said',
                 'ledger_seen', 'tablet_people')
    LOOP
        body := btrim(f.prosrc, E' \n');
        says := replace(pg_get_functiondef(f.oid), f.prosrc, CASE WHEN f.proretset
            THEN format(E'\n#variable_conflict use_column\nBEGIN\n    RETURN QUERY %s;\nEND\n', rtrim(body, ';'))
            ELSE format(E'\nBEGIN\n    RETURN (%s);\nEND\n', rtrim(body, ';')) END);
        EXECUTE replace(says, ' LANGUAGE sql', ' LANGUAGE plpgsql');
    END LOOP;
END
$kept$;
