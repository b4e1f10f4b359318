-- Two records of one person put together: everything moves to the one that stays, the other is seen by nobody, and both
-- can be parted again.
-- depends: 0024_meant_for

ALTER TABLE athlete ADD COLUMN merged_into uuid, ADD FOREIGN KEY (shop_id, merged_into) REFERENCES athlete (shop_id, id);
COMMENT ON COLUMN athlete.merged_into IS 'The record of the same person this one was put together with.';
CREATE INDEX athlete_merged ON athlete (merged_into) WHERE merged_into IS NOT NULL;
ALTER POLICY of_shop ON athlete USING (shop_id = (SELECT shop_now()) AND merged_into IS NULL);

CREATE TABLE athlete_merge (
    id uuid PRIMARY KEY,
    shop_id uuid NOT NULL REFERENCES shop (id),
    kept_id uuid NOT NULL,
    other_id uuid NOT NULL,
    other_name text NOT NULL,
    moved jsonb NOT NULL,
    before jsonb NOT NULL,
    after jsonb NOT NULL,
    staff_id uuid NOT NULL,
    at timestamptz NOT NULL DEFAULT now(),
    undone_at timestamptz,
    undone_by uuid,
    CHECK (kept_id <> other_id),
    FOREIGN KEY (shop_id, kept_id) REFERENCES athlete (shop_id, id),
    FOREIGN KEY (shop_id, other_id) REFERENCES athlete (shop_id, id),
    FOREIGN KEY (shop_id, staff_id) REFERENCES staff (shop_id, id),
    FOREIGN KEY (shop_id, undone_by) REFERENCES staff (shop_id, id)
);
COMMENT ON TABLE athlete_merge IS 'Which records of one person were put together, what moved by it, and who parted them again.';
COMMENT ON COLUMN athlete_merge.moved IS 'Ids by table; of the other record what was taken off it.';
COMMENT ON COLUMN athlete_merge.before IS 'What the record that stays said of itself before, and after.';
CREATE INDEX merge_of_kept ON athlete_merge (kept_id) WHERE undone_at IS NULL;
ALTER TABLE athlete_merge ENABLE ROW LEVEL SECURITY;
CREATE POLICY of_shop ON athlete_merge TO kalon_app USING (shop_id = (SELECT shop_now()));
GRANT SELECT (id, shop_id, kept_id, other_id, other_name, staff_id, at, undone_at, undone_by) ON athlete_merge TO kalon_app;

-- Whatever is still written for a record that was put together with another is written for that one.
CREATE OR REPLACE FUNCTION refuse_erased() RETURNS trigger
LANGUAGE plpgsql SECURITY DEFINER SET search_path = public, pg_temp AS $$
DECLARE
    of_whom uuid;
    gone timestamptz;
    further uuid;
BEGIN
    CASE TG_ARGV[0]
        WHEN 'athlete' THEN of_whom := NEW.athlete_id;
        WHEN 'fitting' THEN SELECT athlete_id INTO of_whom FROM fitting WHERE id = NEW.fitting_id;
        WHEN 'pair' THEN SELECT athlete_id INTO of_whom FROM pair WHERE id = NEW.pair_id;
        WHEN 'link' THEN SELECT athlete_id INTO of_whom FROM athlete_link WHERE id = NEW.link_id;
    END CASE;
    WHILE of_whom IS NOT NULL LOOP
        SELECT erased_at, merged_into INTO gone, further FROM athlete WHERE id = of_whom FOR KEY SHARE;
        IF gone IS NOT NULL THEN
            RAISE EXCEPTION 'erased' USING ERRCODE = 'KA410';
        END IF;
        EXIT WHEN further IS NULL OR TG_OP <> 'INSERT' OR TG_ARGV[0] <> 'athlete';
        of_whom := further;
        NEW.athlete_id := further;
    END LOOP;
    RETURN NEW;
END
$$;

-- What an athlete's record says of itself where another says otherwise.
CREATE FUNCTION told_apart(p_this jsonb, p_other jsonb) RETURNS jsonb LANGUAGE sql IMMUTABLE AS $$
    SELECT coalesce(jsonb_object_agg(e.key, e.value), '{}') FROM jsonb_each(p_this) e
    WHERE e.key IN ('born_on', 'squad', 'note') AND e.value IS DISTINCT FROM p_other -> e.key
$$;

CREATE FUNCTION athlete_merge_them(p_id uuid, p_kept uuid, p_other uuid) RETURNS text
LANGUAGE plpgsql SECURITY DEFINER SET search_path = public, pg_temp AS $$
DECLARE
    ours uuid := needs_manager();
    kept athlete;
    other athlete;
    moved jsonb := '{}';
    told text;
    ids jsonb;
BEGIN
    IF p_kept = p_other THEN
        RETURN 'same';
    END IF;
    -- In one order, whichever is to stay.
    PERFORM hold_athlete(least(p_kept, p_other)), hold_athlete(greatest(p_kept, p_other));
    SELECT * INTO kept FROM athlete WHERE id = p_kept AND shop_id = ours;
    SELECT * INTO other FROM athlete WHERE id = p_other AND shop_id = ours;
    IF kept.id IS NULL OR other.id IS NULL OR kept.merged_into IS NOT NULL OR other.merged_into IS NOT NULL THEN
        RETURN 'none';
    ELSIF kept.erased_at IS NOT NULL OR other.erased_at IS NOT NULL THEN
        RAISE EXCEPTION 'erased' USING ERRCODE = 'KA410';
    END IF;
    FOREACH told IN ARRAY ARRAY['fitting', 'foot_capture', 'athlete_link', 'pair', 'reservation', 'athlete_consent'] LOOP
        EXECUTE format('WITH m AS (UPDATE %I SET athlete_id = $1 WHERE athlete_id = $2%s RETURNING id) '
            'SELECT coalesce(jsonb_agg(id), ''[]'') FROM m', told,
            -- Of two consents that stand, the one of the record that stays goes on.
            CASE told WHEN 'athlete_consent' THEN ' AND (ended_at IS NOT NULL OR NOT EXISTS (SELECT 1 FROM '
                'athlete_consent WHERE athlete_id = $1 AND ended_at IS NULL))' ELSE '' END)
            INTO ids USING p_kept, p_other;
        moved := moved || jsonb_build_object(told, ids);
    END LOOP;
    WITH m AS (UPDATE athlete_consent SET ended_at = now(), ended_by = staff_now()
               WHERE athlete_id = p_other AND ended_at IS NULL RETURNING id)
        SELECT coalesce(jsonb_agg(id), '[]') INTO ids FROM m;
    moved := moved || jsonb_build_object('consent_ended', ids);
    WITH m AS (UPDATE pair_plan SET athlete_id = p_kept WHERE athlete_id = p_other
               AND NOT EXISTS (SELECT 1 FROM pair_plan WHERE athlete_id = p_kept) RETURNING id)
        SELECT coalesce(jsonb_agg(id), '[]') INTO ids FROM m;
    moved := moved || jsonb_build_object('pair_plan', ids);
    UPDATE athlete_reach SET athlete_id = p_kept WHERE athlete_id = p_other
        AND NOT EXISTS (SELECT 1 FROM athlete_reach WHERE athlete_id = p_kept);
    moved := moved || jsonb_build_object('athlete_reach', FOUND);
    WITH m AS (UPDATE athlete SET known_from = p_kept WHERE known_from = p_other AND NOT EXISTS (
               SELECT 1 FROM athlete b WHERE b.known_from = p_kept AND b.shop_id = athlete.shop_id) RETURNING id)
        SELECT coalesce(jsonb_agg(id), '[]') INTO ids FROM m;
    moved := moved || jsonb_build_object('known', ids) || jsonb_build_object('other', jsonb_build_object(
        'squad', other.squad, 'measured_on', other.measured_on, 'known_from', other.known_from));
    UPDATE athlete SET merged_into = p_kept, squad = '', measured_on = NULL, known_from = NULL WHERE id = p_other;
    UPDATE athlete SET born_on = coalesce(born_on, other.born_on), squad = coalesce(nullif(squad, ''), other.squad),
        note = CASE WHEN strpos(note, other.note) > 0 THEN note
                    ELSE left(concat_ws(E'\n', nullif(note, ''), nullif(other.note, '')), 1000) END,
        known_from = coalesce(known_from, other.known_from),
        measured_on = greatest(measured_on, other.measured_on), version = version + 1 WHERE id = p_kept;
    INSERT INTO athlete_merge (id, shop_id, kept_id, other_id, other_name, moved, before, after, staff_id)
        SELECT p_id, ours, p_kept, p_other, other.name, moved, to_jsonb(kept), to_jsonb(a), staff_now()
        FROM athlete a WHERE a.id = p_kept;
    INSERT INTO change (shop_id, athlete_id, part, version, change_id, before, after, staff_id)
        SELECT ours, p_kept, 'athlete', a.version, p_id,
               told_apart(to_jsonb(kept), to_jsonb(a)),
               told_apart(to_jsonb(a), to_jsonb(kept)) || jsonb_build_object('put_together_with', other.name), staff_now()
        FROM athlete a WHERE a.id = p_kept;
    RETURN 'done';
END
$$;

CREATE FUNCTION athlete_part_them(p_merge uuid, p_change uuid) RETURNS text
LANGUAGE plpgsql SECURITY DEFINER SET search_path = public, pg_temp AS $$
DECLARE
    ours uuid := needs_manager();
    m athlete_merge;
    now_is athlete;
    told text;
BEGIN
    SELECT * INTO m FROM athlete_merge WHERE id = p_merge AND shop_id = ours;
    IF m.id IS NULL THEN
        RETURN 'none';
    END IF;
    PERFORM hold_athlete(least(m.kept_id, m.other_id)), hold_athlete(greatest(m.kept_id, m.other_id));
    SELECT * INTO m FROM athlete_merge WHERE id = p_merge FOR UPDATE;
    SELECT * INTO now_is FROM athlete WHERE id = m.kept_id;
    IF m.undone_at IS NOT NULL THEN
        RETURN 'before';
    ELSIF now_is.erased_at IS NOT NULL THEN
        RAISE EXCEPTION 'erased' USING ERRCODE = 'KA410';
    ELSIF now_is.merged_into IS NOT NULL THEN
        RETURN 'later';
    END IF;
    UPDATE athlete_merge SET undone_at = now(), undone_by = staff_now() WHERE id = p_merge;
    UPDATE athlete SET merged_into = NULL, squad = m.moved -> 'other' ->> 'squad',
        measured_on = (m.moved -> 'other' ->> 'measured_on')::date WHERE id = m.other_id;
    FOREACH told IN ARRAY ARRAY['fitting', 'foot_capture', 'athlete_link', 'pair', 'reservation', 'athlete_consent',
                                'pair_plan'] LOOP
        -- What was set aside or moved on since stays where it is now.
        EXECUTE format('UPDATE %I SET athlete_id = $1 WHERE athlete_id = $2 AND id IN '
            '(SELECT x::uuid FROM jsonb_array_elements_text($3) x)', told) USING m.other_id, m.kept_id, m.moved -> told;
    END LOOP;
    IF (m.moved -> 'athlete_reach')::boolean THEN
        UPDATE athlete_reach SET athlete_id = m.other_id WHERE athlete_id = m.kept_id;
    END IF;
    UPDATE athlete_consent SET ended_at = NULL, ended_by = NULL WHERE athlete_id = m.other_id
        AND id IN (SELECT x::uuid FROM jsonb_array_elements_text(m.moved -> 'consent_ended') x);
    UPDATE athlete SET known_from = m.other_id WHERE known_from = m.kept_id
        AND id IN (SELECT x::uuid FROM jsonb_array_elements_text(m.moved -> 'known') x);
    -- What the record that stays took from the other goes back, where nobody wrote it anew since.
    UPDATE athlete SET
        born_on = CASE WHEN born_on IS NOT DISTINCT FROM (m.after ->> 'born_on')::date
                       THEN (m.before ->> 'born_on')::date ELSE born_on END,
        squad = CASE WHEN squad = m.after ->> 'squad' THEN m.before ->> 'squad' ELSE squad END,
        note = CASE WHEN note = m.after ->> 'note' THEN m.before ->> 'note' ELSE note END,
        known_from = CASE WHEN known_from IS NOT DISTINCT FROM (m.after ->> 'known_from')::uuid
                          THEN (m.before ->> 'known_from')::uuid ELSE known_from END,
        measured_on = CASE WHEN measured_on IS NOT DISTINCT FROM (m.after ->> 'measured_on')::date
                           THEN (m.before ->> 'measured_on')::date ELSE measured_on END,
        version = version + 1 WHERE id = m.kept_id;
    UPDATE athlete SET known_from = (m.moved -> 'other' ->> 'known_from')::uuid WHERE id = m.other_id
        AND m.moved -> 'other' ->> 'known_from' IS NOT NULL;
    INSERT INTO change (shop_id, athlete_id, part, version, change_id, before, after, staff_id)
        SELECT ours, m.kept_id, 'athlete', a.version, p_change,
               told_apart(to_jsonb(now_is), to_jsonb(a)) || jsonb_build_object('put_together_with', m.other_name),
               told_apart(to_jsonb(a), to_jsonb(now_is)) || jsonb_build_object('put_together_with', NULL), staff_now()
        FROM athlete a WHERE a.id = m.kept_id;
    RETURN 'done';
END
$$;

-- Who is erased is erased with the records that were put together with theirs, these first.
CREATE FUNCTION merged_forgets() RETURNS trigger
LANGUAGE plpgsql SECURITY DEFINER SET search_path = public, pg_temp AS $$
BEGIN
    UPDATE athlete_merge SET other_name = 'Erased', moved = '{}', before = '{}', after = '{}'
        WHERE kept_id = NEW.id OR other_id = NEW.id;
    PERFORM athlete_erase(a.id) FROM athlete a WHERE a.merged_into = NEW.id AND a.erased_at IS NULL;
    RETURN NEW;
END
$$;
CREATE TRIGGER merged_forgets BEFORE UPDATE OF erased_at ON athlete FOR EACH ROW
    WHEN (NEW.erased_at IS NOT NULL) EXECUTE FUNCTION merged_forgets();

CREATE OR REPLACE FUNCTION athletes_named(p_text text, p_limit integer)
RETURNS TABLE (id uuid, place bigint) LANGUAGE plpgsql STABLE SECURITY DEFINER SET search_path = public, pg_temp
ROWS 100 AS $$
DECLARE
    ours uuid := shop_now();
    pattern text := '%' || replace(replace(replace(p_text, '\', '\\'), '%', '\%'), '_', '\_') || '%';
BEGIN
    IF p_text = '' THEN
        RETURN QUERY SELECT a.id, row_number() OVER (ORDER BY a.name, a.id)
            FROM (SELECT b.id, b.name FROM athlete b WHERE b.shop_id = ours AND b.merged_into IS NULL
                  ORDER BY b.name, b.id LIMIT p_limit) a;
    ELSIF length(p_text) < 3 THEN
        RETURN QUERY EXECUTE 'SELECT a.id, row_number() OVER (ORDER BY a.name, a.id) FROM (SELECT id, name '
            'FROM athlete WHERE shop_id = $1 AND merged_into IS NULL AND (name ILIKE $2 OR squad ILIKE $2) '
            'ORDER BY name, id LIMIT $3) a'
            USING ours, pattern, p_limit;
    ELSE
        RETURN QUERY EXECUTE 'WITH hit AS MATERIALIZED (SELECT id, name FROM athlete WHERE shop_id = $1 '
            'AND merged_into IS NULL AND (name ILIKE $2 OR squad ILIKE $2)) '
            'SELECT id, row_number() OVER (ORDER BY name, id) FROM hit ORDER BY name, id LIMIT $3'
            USING ours, pattern, p_limit;
    END IF;
END
$$;

-- Who else may be the same person: of the same words in the name, in any order, or born on the same day with one of them.
CREATE FUNCTION athletes_alike(p_id uuid, p_limit integer) RETURNS TABLE (id uuid)
LANGUAGE sql STABLE SECURITY DEFINER SET search_path = public, pg_temp ROWS 10 AS $$
    SELECT b.id FROM athlete a JOIN athlete b ON b.shop_id = a.shop_id AND b.id <> a.id AND b.merged_into IS NULL
        AND b.erased_at IS NULL AND (similarity(a.name, b.name) >= 0.5 OR (a.born_on = b.born_on AND similarity(a.name, b.name) >= 0.3))
    WHERE a.id = p_id AND a.shop_id = shop_now() AND b.name % a.name
    ORDER BY similarity(a.name, b.name) DESC, b.name, b.id LIMIT p_limit
$$;
REVOKE ALL ON FUNCTION told_apart, athlete_merge_them, athlete_part_them, merged_forgets, athletes_alike FROM PUBLIC;
GRANT EXECUTE ON FUNCTION athlete_merge_them, athlete_part_them, athletes_alike TO kalon_app;
