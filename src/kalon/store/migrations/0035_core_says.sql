-- What a list of the core's says is asked of it and no more written here: the size systems there are, which matters of
-- the day belong in a calendar, how alike two names of one person are.

ALTER TABLE variant DROP CONSTRAINT variant_system_check,
    ADD CONSTRAINT variant_system_check CHECK (system ~ '^[a-z][a-z_]{1,29}$') NOT VALID;

-- Makers' own step of US women's sizes: one, one and a half or two.
ALTER TABLE variant ADD COLUMN runs_ahead double precision CHECK (runs_ahead BETWEEN 0 AND 3);
COMMENT ON COLUMN variant.runs_ahead IS 'How far its maker''s sizes run ahead in its system, where that isn''t what most have.';

DROP FUNCTION feed_day(text, text);
CREATE FUNCTION feed_day(p_token text, p_address text, p_kinds text[])
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
        WHERE i.kind = ANY (p_kinds)
          AND (found.whole OR i.staff_id IS NULL OR i.staff_id = found.staff_id)
          AND NOT EXISTS (SELECT 1 FROM day_mark d WHERE d.shop_id = found.shop_id AND d.key = i.key
                          AND d.undone_at IS NULL AND d.until IS NULL);
END
$$;

DROP FUNCTION athletes_alike(uuid, integer);
-- Who else may be the same person: of the same words in the name, in any order, or born on the same day with one of them.
CREATE FUNCTION athletes_alike(p_id uuid, p_limit integer, p_like float8, p_like_born_alike float8) RETURNS TABLE (id uuid)
LANGUAGE sql STABLE SECURITY DEFINER SET search_path = public, pg_temp ROWS 10 AS $$
    SELECT b.id FROM athlete a JOIN athlete b ON b.shop_id = a.shop_id AND b.id <> a.id AND b.merged_into IS NULL
        AND b.erased_at IS NULL AND similarity(a.name, b.name)
            >= CASE WHEN a.born_on = b.born_on THEN least(p_like, p_like_born_alike) ELSE p_like END
    WHERE a.id = p_id AND a.shop_id = shop_now() AND b.name % a.name
    ORDER BY similarity(a.name, b.name) DESC, b.name, b.id LIMIT p_limit
$$;
REVOKE ALL ON FUNCTION feed_day, athletes_alike FROM PUBLIC;
GRANT EXECUTE ON FUNCTION feed_day, athletes_alike TO kalon_app;
