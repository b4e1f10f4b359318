-- People to reach: how, through whom, and the words they agreed to; who was told that a pair is here.
-- depends: 0022_purchases

CREATE TABLE athlete_reach (
    athlete_id uuid PRIMARY KEY,
    shop_id uuid NOT NULL,
    phone text NOT NULL DEFAULT '' CHECK (length(phone) <= 40),
    email text NOT NULL DEFAULT '' CHECK (length(email) <= 200),
    guardian text NOT NULL DEFAULT '' CHECK (length(guardian) <= 120),
    guardian_phone text NOT NULL DEFAULT '' CHECK (length(guardian_phone) <= 40),
    guardian_email text NOT NULL DEFAULT '' CHECK (length(guardian_email) <= 200),
    way text NOT NULL DEFAULT '' CHECK (way IN ('', 'call', 'message', 'email')),
    said text NOT NULL DEFAULT '' CHECK (length(said) <= 600),
    agreed_at timestamptz,
    agreed_by uuid,
    version integer NOT NULL DEFAULT 1,
    CHECK ((agreed_at IS NULL) = (said = '')),
    FOREIGN KEY (shop_id, athlete_id) REFERENCES athlete (shop_id, id),
    FOREIGN KEY (shop_id, agreed_by) REFERENCES staff (shop_id, id)
);
COMMENT ON COLUMN athlete_reach.said IS 'The words they agreed to be reached by, as the shop had them then; empty where they didn''t.';
ALTER TABLE athlete_reach ENABLE ROW LEVEL SECURITY;
CREATE POLICY of_shop ON athlete_reach TO kalon_app USING (shop_id = (SELECT shop_now()))
    WITH CHECK (shop_id = (SELECT shop_now()));
CREATE POLICY sellers_add ON athlete_reach AS RESTRICTIVE FOR INSERT TO kalon_app
    WITH CHECK ((SELECT role_now()) IN ('fitter', 'manager'));
CREATE POLICY sellers_change ON athlete_reach AS RESTRICTIVE FOR UPDATE TO kalon_app
    USING ((SELECT role_now()) IN ('fitter', 'manager'));
GRANT SELECT, INSERT, UPDATE ON athlete_reach TO kalon_app;

CREATE TRIGGER a_refuse_erased BEFORE INSERT OR UPDATE ON athlete_reach FOR EACH ROW
    EXECUTE FUNCTION refuse_erased('athlete');

ALTER TABLE shoe_order ADD COLUMN reached_at timestamptz, ADD COLUMN reached_by uuid;
COMMENT ON COLUMN shoe_order.reached_at IS 'When whoever it is for was told that it is here.';
GRANT UPDATE (reached_at, reached_by) ON shoe_order TO kalon_app;

CREATE FUNCTION reach_forgets() RETURNS trigger
LANGUAGE plpgsql SECURITY DEFINER SET search_path = public, pg_temp AS $$
BEGIN
    DELETE FROM athlete_reach WHERE athlete_id = NEW.id;
    RETURN NULL;
END
$$;
CREATE TRIGGER reach_forgets AFTER UPDATE OF erased_at ON athlete FOR EACH ROW
    WHEN (NEW.erased_at IS NOT NULL) EXECUTE FUNCTION reach_forgets();
REVOKE ALL ON FUNCTION reach_forgets FROM PUBLIC;

-- The journal and orders to suppliers are forgotten of a name as everything else is.
CREATE OR REPLACE FUNCTION forget_name(p_shop uuid, p_name text) RETURNS void
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
    UPDATE journal_line SET why = regexp_replace(why, plain, 'Erased', 'gi') WHERE shop_id = p_shop AND why ~* plain;
    UPDATE purchase SET note = regexp_replace(note, plain, 'Erased', 'gi') WHERE shop_id = p_shop AND note ~* plain;
END
$$;
