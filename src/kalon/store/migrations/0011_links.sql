-- A fitting begun from afar: a link of one athlete, that ends by itself, through which nothing else can be reached;
-- and an athlete's data taken out of the records at their request.
-- depends: 0010_learning

CREATE TABLE athlete_link (
    id uuid PRIMARY KEY,
    shop_id uuid NOT NULL,
    fitting_id uuid NOT NULL,
    athlete_id uuid NOT NULL,
    token_hash bytea NOT NULL UNIQUE,
    made_by uuid NOT NULL,
    made_at timestamptz NOT NULL DEFAULT now(),
    expires_at timestamptz NOT NULL,
    ended_at timestamptz,
    agreed_at timestamptz,
    agreed_to text NOT NULL DEFAULT '',
    FOREIGN KEY (shop_id, fitting_id) REFERENCES fitting (shop_id, id),
    FOREIGN KEY (shop_id, athlete_id) REFERENCES athlete (shop_id, id),
    FOREIGN KEY (shop_id, made_by) REFERENCES staff (shop_id, id),
    UNIQUE (shop_id, id)
);
CREATE INDEX link_of_fitting ON athlete_link (fitting_id, made_at DESC);
CREATE TABLE link_answer (
    id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    shop_id uuid NOT NULL,
    link_id uuid NOT NULL,
    change_id uuid NOT NULL,
    body jsonb NOT NULL CHECK (jsonb_typeof(body) = 'object'),
    format integer NOT NULL DEFAULT 1,
    at timestamptz NOT NULL DEFAULT now(),
    FOREIGN KEY (shop_id, link_id) REFERENCES athlete_link (shop_id, id),
    UNIQUE (link_id, change_id)
);
CREATE INDEX answer_newest ON link_answer (link_id, id DESC);
ALTER TABLE foot_capture ADD COLUMN link_id uuid;
CREATE INDEX capture_of_link ON foot_capture (link_id) WHERE link_id IS NOT NULL;
CREATE TABLE link_knock (
    key bytea NOT NULL,
    at timestamptz NOT NULL DEFAULT clock_timestamp()
);
CREATE INDEX link_knock_key ON link_knock (key, at DESC);
CREATE INDEX link_knock_at ON link_knock (at);
ALTER TABLE link_knock ENABLE ROW LEVEL SECURITY;
DO $$
DECLARE name text;
BEGIN
    FOREACH name IN ARRAY ARRAY['athlete_link', 'link_answer'] LOOP
        EXECUTE format('ALTER TABLE %I ENABLE ROW LEVEL SECURITY', name);
        EXECUTE format('CREATE POLICY of_shop ON %I TO kalon_app USING (shop_id = (SELECT shop_now())) '
            'WITH CHECK (shop_id = (SELECT shop_now()))', name);
    END LOOP;
END
$$;
GRANT SELECT, INSERT ON athlete_link TO kalon_app;
GRANT UPDATE (ended_at) ON athlete_link TO kalon_app;
GRANT SELECT ON link_answer TO kalon_app;

-- Who knocks with which link. Nought and the link's own row; seconds to wait, when an address or a link knocks too often;
-- or nothing. What is wrong, over or ended is told alike.
CREATE FUNCTION link_open(p_token text, p_address text, p_writes boolean)
RETURNS TABLE (wait double precision, link_id uuid, shop_id uuid, fitting_id uuid, athlete_id uuid, made_by uuid)
LANGUAGE plpgsql SECURITY DEFINER SET search_path = public, pg_temp AS $$
DECLARE
    found athlete_link%ROWTYPE;
    mark bytea;
    knocks bigint;
    most integer;
BEGIN
    SELECT * INTO found FROM athlete_link l WHERE l.token_hash = sha256(convert_to(p_token, 'UTF8'))
        AND l.ended_at IS NULL AND l.expires_at > now();
    IF found.id IS NULL THEN
        mark := sha256(convert_to('knock:' || p_address, 'UTF8'));
        most := 20;
    ELSE
        mark := sha256(convert_to('link:' || found.id || CASE WHEN p_writes THEN ':w' ELSE '' END, 'UTF8'));
        most := CASE WHEN p_writes THEN 240 ELSE 1200 END;
    END IF;
    SELECT count(*) INTO knocks FROM (SELECT 1 FROM link_knock k WHERE k.key = mark
        AND k.at > clock_timestamp() - interval '10 minutes' LIMIT most + 1) k;
    IF knocks >= most THEN
        RETURN QUERY SELECT 60::float, NULL::uuid, NULL::uuid, NULL::uuid, NULL::uuid, NULL::uuid;
        RETURN;
    END IF;
    INSERT INTO link_knock (key) VALUES (mark);
    DELETE FROM link_knock WHERE ctid = ANY (ARRAY(
        SELECT ctid FROM link_knock WHERE at < clock_timestamp() - interval '1 hour' LIMIT 200));
    IF found.id IS NOT NULL THEN
        RETURN QUERY SELECT 0::float, found.id, found.shop_id, found.fitting_id, found.athlete_id, found.made_by;
    END IF;
END
$$;

-- What the page of a link shows: the shop's name, the athlete's first, what they answered; of orders what came.
CREATE FUNCTION link_page(p_token text)
RETURNS TABLE (shop text, athlete text, expires_at timestamptz, agreed_at timestamptz, state text, sport text,
               answers jsonb, pictures jsonb, orders jsonb)
LANGUAGE sql STABLE SECURITY DEFINER SET search_path = public, pg_temp AS $$
    SELECT h.name, split_part(a.name, ' ', 1), l.expires_at, l.agreed_at, f.state, b.body ->> 'sport',
        (SELECT w.body FROM link_answer w WHERE w.link_id = l.id ORDER BY w.id DESC LIMIT 1),
        coalesce((SELECT jsonb_agg(jsonb_build_object('id', c.id, 'side', c.side,
                                                      'length', c.reading -> 'numbers' -> 'length_mm' -> 'value')
                                   ORDER BY c.taken_at, c.id)
                  FROM foot_capture c WHERE c.fitting_id = f.id AND c.removed_at IS NULL
                    AND c.link_id = l.id), '[]'),
        coalesce((SELECT jsonb_agg(jsonb_build_object(
                      'id', o.id, 'name', coalesce(m.maker || ' ' || m.name, 'Made to measure'),
                      'size', coalesce(upper(split_part(v.system, '_', 1)) || ' ' || v.label::float, ''),
                      'check', coalesce(o.sheet -> 'check', '[]'), 'made', o.made, 'sheet', o.sheet,
                      'arrival', o.arrival) ORDER BY o.asked_at)
                  FROM shoe_order o LEFT JOIN variant v ON v.id = o.variant_id LEFT JOIN shoe_model m ON m.id = v.model_id
                  WHERE o.fitting_id = f.id AND o.state IN ('arrived', 'received')), '[]')
    FROM athlete_link l JOIN shop h ON h.id = l.shop_id JOIN athlete a ON a.id = l.athlete_id
    JOIN fitting f ON f.id = l.fitting_id LEFT JOIN fitting_part b ON b.fitting_id = f.id AND b.part = 'brief'
    WHERE l.token_hash = sha256(convert_to(p_token, 'UTF8')) AND l.ended_at IS NULL AND l.expires_at > now()
$$;
CREATE FUNCTION link_agree(p_token text, p_said text)
RETURNS boolean LANGUAGE sql SECURITY DEFINER SET search_path = public, pg_temp AS $$
    WITH done AS (UPDATE athlete_link SET agreed_at = coalesce(agreed_at, now()),
                         agreed_to = CASE WHEN agreed_at IS NULL THEN left(p_said, 1000) ELSE agreed_to END
                  WHERE token_hash = sha256(convert_to(p_token, 'UTF8')) AND ended_at IS NULL AND expires_at > now()
                  RETURNING 1)
    SELECT EXISTS (SELECT 1 FROM done)
$$;
-- Kept only of somebody who agreed; the same change again changes nothing.
CREATE FUNCTION link_answered(p_token text, p_change uuid, p_body jsonb, p_format integer)
RETURNS boolean LANGUAGE plpgsql SECURITY DEFINER SET search_path = public, pg_temp AS $$
DECLARE
    found athlete_link%ROWTYPE;
BEGIN
    SELECT * INTO found FROM athlete_link l WHERE l.token_hash = sha256(convert_to(p_token, 'UTF8'))
        AND l.ended_at IS NULL AND l.expires_at > now() AND l.agreed_at IS NOT NULL FOR UPDATE;
    IF found.id IS NULL THEN
        RETURN false;
    END IF;
    INSERT INTO link_answer (shop_id, link_id, change_id, body, format)
        VALUES (found.shop_id, found.id, p_change, p_body, p_format) ON CONFLICT DO NOTHING;
    DELETE FROM link_answer WHERE link_id = found.id AND id NOT IN (
        SELECT id FROM link_answer WHERE link_id = found.id ORDER BY id DESC LIMIT 20);
    RETURN true;
END
$$;
CREATE FUNCTION link_pictured(p_token text, p_id uuid, p_side text, p_name text, p_said jsonb, p_reading jsonb,
                              p_shape jsonb, p_copy bytea, p_view bytea, p_format integer)
RETURNS boolean LANGUAGE plpgsql SECURITY DEFINER SET search_path = public, pg_temp AS $$
DECLARE
    found athlete_link%ROWTYPE;
BEGIN
    SELECT * INTO found FROM athlete_link l WHERE l.token_hash = sha256(convert_to(p_token, 'UTF8'))
        AND l.ended_at IS NULL AND l.expires_at > now() AND l.agreed_at IS NOT NULL
        AND EXISTS (SELECT 1 FROM fitting f WHERE f.id = l.fitting_id AND f.state = 'open') FOR UPDATE;
    IF found.id IS NULL OR (SELECT count(*) FROM foot_capture c WHERE c.fitting_id = found.fitting_id
                              AND c.link_id = found.id) >= 12 THEN
        RETURN false;
    END IF;
    INSERT INTO foot_capture (id, shop_id, fitting_id, athlete_id, kind, side, name, said, reading, format, shape, copy,
                              view, practice, taken_by, link_id)
        VALUES (p_id, found.shop_id, found.fitting_id, found.athlete_id, 'tracing', p_side, left(p_name, 200),
                p_said, p_reading, p_format, p_shape, p_copy, p_view, false, found.made_by, found.id)
        ON CONFLICT (id) DO NOTHING;
    UPDATE fitting SET touched_at = now() WHERE id = found.fitting_id;
    RETURN true;
END
$$;
CREATE FUNCTION link_arrived(p_token text, p_order uuid, p_arrival jsonb)
RETURNS boolean LANGUAGE sql SECURITY DEFINER SET search_path = public, pg_temp AS $$
    WITH done AS (UPDATE shoe_order o SET arrival = o.arrival || p_arrival, changed_at = now() FROM athlete_link l
                  WHERE o.id = p_order AND o.fitting_id = l.fitting_id AND o.state IN ('arrived', 'received')
                    AND l.token_hash = sha256(convert_to(p_token, 'UTF8')) AND l.ended_at IS NULL
                    AND l.expires_at > now() AND l.agreed_at IS NOT NULL
                  RETURNING 1)
    SELECT EXISTS (SELECT 1 FROM done)
$$;

-- An athlete's data taken out: name, birth date, notes, feet, readings, answers, and what the trail says of them. That it
-- was done, when and by whom, stays; so do sales and what was found of the shoes, without a name.
ALTER TABLE athlete ADD COLUMN erased_at timestamptz;
ALTER TABLE fitting DROP CONSTRAINT fitting_state_check,
    ADD CONSTRAINT fitting_state_check CHECK (state IN ('open', 'settled', 'returned', 'erased'));
CREATE FUNCTION athlete_erase(p_id uuid)
RETURNS boolean LANGUAGE plpgsql SECURITY DEFINER SET search_path = public, pg_temp AS $$
DECLARE
    ours uuid := shop_now();
BEGIN
    IF NOT EXISTS (SELECT 1 FROM session e JOIN staff s ON s.id = e.staff_id
                   WHERE e.token_hash = sha256(convert_to(current_setting('kalon.token', true), 'UTF8'))
                     AND e.expires_at > now() AND s.active AND s.role = 'manager') THEN
        RETURN false;
    END IF;
    PERFORM 1 FROM athlete WHERE id = p_id AND shop_id = ours FOR UPDATE;
    IF NOT FOUND THEN
        RETURN false;
    END IF;
    UPDATE athlete SET name = 'Erased', born_on = NULL, squad = '', note = '', known_from = NULL, version = version + 1,
        erased_at = coalesce(erased_at, now()) WHERE id = p_id;
    UPDATE athlete SET known_from = NULL WHERE known_from = p_id;
    UPDATE follow_up SET withdrawn_at = now() WHERE done_at IS NULL AND withdrawn_at IS NULL
        AND fitting_id IN (SELECT id FROM fitting WHERE athlete_id = p_id);
    DELETE FROM tray_pair WHERE fitting_id IN (SELECT id FROM fitting WHERE athlete_id = p_id);
    DELETE FROM link_answer WHERE link_id IN (SELECT id FROM athlete_link WHERE athlete_id = p_id);
    DELETE FROM athlete_link WHERE athlete_id = p_id;
    DELETE FROM athlete_consent WHERE athlete_id = p_id;
    DELETE FROM foot_capture WHERE athlete_id = p_id;
    UPDATE fitting_part SET body = '{}', version = version + 1
        WHERE fitting_id IN (SELECT id FROM fitting WHERE athlete_id = p_id);
    UPDATE change SET before = '{}', after = jsonb_build_object('erased', true) WHERE athlete_id = p_id;
    UPDATE shoe_order SET note = '', sheet = '{}', arrival = '{}' WHERE fitting_id IN (
        SELECT id FROM fitting WHERE athlete_id = p_id);
    UPDATE sale SET snapshot = jsonb_build_object('erased', true, 'pair', snapshot -> 'pair') WHERE fitting_id IN (
        SELECT id FROM fitting WHERE athlete_id = p_id);
    UPDATE fitting SET state = 'erased' WHERE athlete_id = p_id;
    DELETE FROM learn_due WHERE fitting_id IN (SELECT id FROM fitting WHERE athlete_id = p_id);
    RETURN true;
END
$$;
REVOKE ALL ON FUNCTION link_open, link_page, link_agree, link_answered, link_pictured, link_arrived, athlete_erase
    FROM PUBLIC;
GRANT EXECUTE ON FUNCTION link_open, link_page, link_agree, link_answered, link_pictured, link_arrived, athlete_erase
    TO kalon_app;
