-- Tablets of a shop: browsers somebody said are the shop's own, on which whoever works there signs in by a PIN.
-- depends: 0029_ids_in_order

CREATE TABLE tablet (
    id uuid PRIMARY KEY,
    shop_id uuid NOT NULL REFERENCES shop (id),
    name text NOT NULL CHECK (length(name) BETWEEN 1 AND 60),
    token_hash bytea NOT NULL UNIQUE,
    added_by uuid NOT NULL,
    added_at timestamptz NOT NULL DEFAULT now(),
    seen_at timestamptz NOT NULL DEFAULT now(),
    seen_by uuid,
    ended_at timestamptz,
    ended_by uuid,
    UNIQUE (shop_id, id),
    FOREIGN KEY (shop_id, added_by) REFERENCES staff (shop_id, id),
    FOREIGN KEY (shop_id, seen_by) REFERENCES staff (shop_id, id),
    FOREIGN KEY (shop_id, ended_by) REFERENCES staff (shop_id, id)
);
COMMENT ON TABLE tablet IS 'A browser that is the shop''s own: its people are offered on it, and their PINs count on it.';
COMMENT ON COLUMN tablet.seen_at IS 'When somebody last worked on it, to a few minutes.';
CREATE INDEX tablet_of_shop ON tablet (shop_id) WHERE ended_at IS NULL;
ALTER TABLE tablet ENABLE ROW LEVEL SECURITY;
CREATE POLICY of_shop ON tablet TO kalon_app USING (shop_id = (SELECT shop_now()) AND (SELECT role_now()) = 'manager');
GRANT SELECT (id, shop_id, name, added_by, added_at, seen_at, seen_by, ended_at, ended_by), INSERT,
    UPDATE (name, token_hash, seen_at, ended_at, ended_by) ON tablet TO kalon_app;

CREATE TABLE staff_pin (
    staff_id uuid PRIMARY KEY,
    shop_id uuid NOT NULL,
    pin_hash text NOT NULL,
    set_at timestamptz NOT NULL DEFAULT now(),
    FOREIGN KEY (shop_id, staff_id) REFERENCES staff (shop_id, id)
);
COMMENT ON TABLE staff_pin IS 'A short secret that counts on the shop''s own tablets alone.';
ALTER TABLE staff_pin ENABLE ROW LEVEL SECURITY;
CREATE TABLE pin_tried (
    tablet_id uuid NOT NULL REFERENCES tablet (id),
    shop_id uuid NOT NULL,
    staff_id uuid NOT NULL,
    tries integer NOT NULL DEFAULT 1,
    since timestamptz NOT NULL DEFAULT now(),
    PRIMARY KEY (tablet_id, staff_id),
    FOREIGN KEY (shop_id, staff_id) REFERENCES staff (shop_id, id)
);
COMMENT ON TABLE pin_tried IS 'Wrong PINs of somebody on a tablet: after five it counts there no more, until their password was right.';
CREATE INDEX pin_tried_of_staff ON pin_tried (staff_id);
ALTER TABLE pin_tried ENABLE ROW LEVEL SECURITY;

-- The tablet a secret is of, for whoever is signed in at its shop, and that it was seen.
CREATE FUNCTION tablet_seen(p_tablet text) RETURNS text
LANGUAGE plpgsql SECURITY DEFINER SET search_path = public, pg_temp AS $$
DECLARE
    found tablet%ROWTYPE;
BEGIN
    SELECT * INTO found FROM tablet
        WHERE token_hash = sha256(convert_to(p_tablet, 'UTF8')) AND shop_id = shop_now() AND ended_at IS NULL;
    IF found.seen_at < now() - interval '5 minutes' OR found.seen_by IS DISTINCT FROM staff_now() THEN
        UPDATE tablet SET seen_at = now(), seen_by = staff_now() WHERE id = found.id;
    END IF;
    RETURN found.name;
END
$$;
REVOKE ALL ON FUNCTION tablet_seen FROM PUBLIC;
GRANT EXECUTE ON FUNCTION tablet_seen TO kalon_app;

-- Through the gate: who works where a tablet is, whose PIN counts on it now; a try; a session by a PIN that was right.
CREATE FUNCTION tablet_people(p_tablet text)
RETURNS TABLE (tablet text, shop_name text, staff_id uuid, login text, name text, role text, pin boolean)
LANGUAGE sql STABLE SECURITY DEFINER SET search_path = public, pg_temp AS $$
    SELECT t.name, h.name, s.id, s.login, s.name, s.role, p.staff_id IS NOT NULL AND coalesce(r.tries, 0) < 5
    FROM tablet t JOIN shop h ON h.id = t.shop_id JOIN staff s ON s.shop_id = t.shop_id AND s.active
    LEFT JOIN staff_pin p ON p.staff_id = s.id
    LEFT JOIN pin_tried r ON r.tablet_id = t.id AND r.staff_id = s.id
    WHERE t.token_hash = sha256(convert_to(p_tablet, 'UTF8')) AND t.ended_at IS NULL ORDER BY s.name, s.id
$$;
CREATE FUNCTION pin_try(p_tablet text, p_staff uuid) RETURNS text
LANGUAGE plpgsql SECURITY DEFINER SET search_path = public, pg_temp AS $$
DECLARE
    here tablet%ROWTYPE;
    hash text;
BEGIN
    SELECT * INTO here FROM tablet WHERE token_hash = sha256(convert_to(p_tablet, 'UTF8')) AND ended_at IS NULL;
    SELECT p.pin_hash INTO hash FROM staff_pin p JOIN staff s ON s.id = p.staff_id AND s.active
        WHERE p.staff_id = p_staff AND p.shop_id = here.shop_id;
    IF hash IS NULL THEN
        RETURN NULL;
    END IF;
    INSERT INTO pin_tried AS r (tablet_id, shop_id, staff_id) VALUES (here.id, here.shop_id, p_staff)
        ON CONFLICT (tablet_id, staff_id) DO UPDATE
        SET tries = CASE WHEN r.since < now() - interval '12 hours' THEN 1 ELSE r.tries + 1 END,
            since = CASE WHEN r.since < now() - interval '12 hours' THEN now() ELSE r.since END
        WHERE r.tries < 5;
    RETURN CASE WHEN FOUND THEN hash END;
END
$$;
CREATE FUNCTION pin_open(p_tablet text, p_staff uuid, p_token_hash bytea, p_lasts interval) RETURNS void
LANGUAGE plpgsql SECURITY DEFINER SET search_path = public, pg_temp AS $$
DECLARE
    here tablet%ROWTYPE;
BEGIN
    SELECT * INTO STRICT here FROM tablet WHERE token_hash = sha256(convert_to(p_tablet, 'UTF8')) AND ended_at IS NULL;
    PERFORM 1 FROM staff WHERE id = p_staff AND shop_id = here.shop_id AND active;
    IF NOT FOUND THEN
        RAISE no_data_found;
    END IF;
    INSERT INTO session (token_hash, shop_id, staff_id, expires_at)
        VALUES (p_token_hash, here.shop_id, p_staff, now() + p_lasts);
    UPDATE pin_tried SET tries = tries - 1 WHERE tablet_id = here.id AND staff_id = p_staff;
    UPDATE tablet SET seen_at = now(), seen_by = p_staff WHERE id = here.id;
    DELETE FROM session WHERE ctid = ANY (ARRAY(SELECT ctid FROM session WHERE expires_at < now() LIMIT 200));
END
$$;
-- Somebody's password was right: their PIN counts again everywhere.
CREATE FUNCTION pin_again(p_staff uuid) RETURNS void
LANGUAGE sql SECURITY DEFINER SET search_path = public, pg_temp AS $$
    DELETE FROM pin_tried WHERE staff_id = p_staff
$$;
-- One's own PIN, set or (without one) let go.
CREATE FUNCTION pin_own(p_token text, p_pin_hash text) RETURNS boolean
LANGUAGE plpgsql SECURITY DEFINER SET search_path = public, pg_temp AS $$
DECLARE
    found session%ROWTYPE;
BEGIN
    SELECT e.* INTO found FROM session e JOIN staff s ON s.id = e.staff_id AND s.active
        WHERE e.token_hash = sha256(convert_to(p_token, 'UTF8')) AND e.expires_at > now();
    IF found.staff_id IS NULL THEN
        RETURN false;
    END IF;
    DELETE FROM pin_tried WHERE staff_id = found.staff_id;
    DELETE FROM staff_pin WHERE staff_id = found.staff_id AND p_pin_hash IS NULL;
    INSERT INTO staff_pin (staff_id, shop_id, pin_hash) SELECT found.staff_id, found.shop_id, p_pin_hash
        WHERE p_pin_hash IS NOT NULL
        ON CONFLICT (staff_id) DO UPDATE SET pin_hash = excluded.pin_hash, set_at = now();
    RETURN true;
END
$$;
REVOKE ALL ON FUNCTION tablet_people, pin_try, pin_open, pin_again, pin_own FROM PUBLIC;
GRANT EXECUTE ON FUNCTION tablet_people, pin_try, pin_open, pin_again, pin_own TO kalon_gate;

-- A PIN goes with whoever is shut out, and with the password it was set by.
CREATE FUNCTION leave_no_pin() RETURNS trigger LANGUAGE plpgsql SECURITY DEFINER SET search_path = public, pg_temp AS $$
BEGIN
    DELETE FROM staff_pin WHERE staff_id = NEW.id;
    RETURN NULL;
END
$$;
CREATE TRIGGER leave_no_pin AFTER UPDATE OF active, password_hash ON staff FOR EACH ROW
    WHEN (NOT NEW.active OR NEW.password_hash IS DISTINCT FROM OLD.password_hash) EXECUTE FUNCTION leave_no_pin();
REVOKE ALL ON FUNCTION leave_no_pin FROM PUBLIC;
