-- Shops, people, sessions, athletes, fittings, stock, sales, follow-ups, and the audit of every change.
-- depends:

CREATE TABLE shop (
    id uuid PRIMARY KEY,
    name text NOT NULL CHECK (name <> '')
);

CREATE TABLE staff (
    id uuid PRIMARY KEY,
    shop_id uuid NOT NULL REFERENCES shop (id),
    login text NOT NULL UNIQUE CHECK (login = lower(login) AND login <> ''),
    name text NOT NULL,
    role text NOT NULL CHECK (role IN ('manager', 'fitter', 'trainee')),
    password_hash text NOT NULL,
    active boolean NOT NULL DEFAULT true,
    UNIQUE (shop_id, id)
);

CREATE TABLE session (
    token_hash bytea PRIMARY KEY,
    shop_id uuid NOT NULL,
    staff_id uuid NOT NULL,
    opened_at timestamptz NOT NULL DEFAULT now(),
    expires_at timestamptz NOT NULL,
    FOREIGN KEY (shop_id, staff_id) REFERENCES staff (shop_id, id)
);

-- Sign-in attempts belong to no shop yet; only the functions below reach them.
CREATE TABLE sign_in_attempt (
    key bytea NOT NULL,
    at timestamptz NOT NULL DEFAULT now()
);
CREATE INDEX sign_in_attempt_key ON sign_in_attempt (key, at);

CREATE TABLE athlete (
    id uuid PRIMARY KEY,
    shop_id uuid NOT NULL REFERENCES shop (id),
    name text NOT NULL CHECK (name <> ''),
    born_on date,
    squad text NOT NULL DEFAULT '',
    note text NOT NULL DEFAULT '',
    version integer NOT NULL DEFAULT 1,
    UNIQUE (shop_id, id)
);

CREATE TABLE shoe_model (
    id uuid PRIMARY KEY,
    shop_id uuid NOT NULL REFERENCES shop (id),
    maker text NOT NULL,
    name text NOT NULL,
    sport text NOT NULL,
    upper text NOT NULL,
    build text NOT NULL CHECK (build IN ('slip', 'plate', 'board')),
    reinforced double precision NOT NULL DEFAULT 0 CHECK (reinforced BETWEEN 0 AND 1),
    properties jsonb NOT NULL,
    choices jsonb NOT NULL,
    price_cents integer NOT NULL CHECK (price_cents >= 0),
    UNIQUE (shop_id, id),
    UNIQUE (shop_id, maker, name)
);

CREATE TABLE stock_line (
    id uuid PRIMARY KEY,
    shop_id uuid NOT NULL,
    model_id uuid NOT NULL,
    width text NOT NULL CHECK (width IN ('narrow', 'regular', 'wide')),
    eu_label double precision NOT NULL,
    length_mm double precision NOT NULL,
    ball_girth_mm double precision NOT NULL,
    instep_girth_mm double precision NOT NULL,
    heel_width_mm double precision NOT NULL,
    on_hand integer NOT NULL CHECK (on_hand >= 0),
    FOREIGN KEY (shop_id, model_id) REFERENCES shoe_model (shop_id, id),
    UNIQUE (shop_id, id),
    UNIQUE (model_id, width, eu_label)
);

CREATE TABLE fitting (
    id uuid PRIMARY KEY,
    shop_id uuid NOT NULL,
    athlete_id uuid NOT NULL,
    state text NOT NULL DEFAULT 'open' CHECK (state IN ('open', 'settled', 'returned')),
    opened_by uuid NOT NULL,
    opened_at timestamptz NOT NULL DEFAULT now(),
    touched_at timestamptz NOT NULL DEFAULT now(),
    FOREIGN KEY (shop_id, athlete_id) REFERENCES athlete (shop_id, id),
    FOREIGN KEY (shop_id, opened_by) REFERENCES staff (shop_id, id),
    UNIQUE (shop_id, id)
);
CREATE INDEX fitting_by_athlete ON fitting (athlete_id, opened_at DESC);
CREATE INDEX fitting_by_state ON fitting (shop_id, state, touched_at DESC);

-- One row a part (feet, brief, spec, trial, settle, return): its body and its version.
CREATE TABLE fitting_part (
    shop_id uuid NOT NULL,
    fitting_id uuid NOT NULL,
    part text NOT NULL CHECK (part IN ('feet', 'brief', 'spec', 'trial', 'settle', 'return')),
    version integer NOT NULL,
    body jsonb NOT NULL,
    PRIMARY KEY (fitting_id, part),
    FOREIGN KEY (shop_id, fitting_id) REFERENCES fitting (shop_id, id)
);

-- Every change of an athlete's record: who, when, what it was, what it became.
CREATE TABLE change (
    id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    shop_id uuid NOT NULL,
    athlete_id uuid NOT NULL,
    fitting_id uuid,
    part text NOT NULL,
    version integer NOT NULL,
    change_id uuid NOT NULL,
    before jsonb NOT NULL,
    after jsonb NOT NULL,
    staff_id uuid NOT NULL,
    at timestamptz NOT NULL DEFAULT now(),
    FOREIGN KEY (shop_id, athlete_id) REFERENCES athlete (shop_id, id),
    FOREIGN KEY (shop_id, fitting_id) REFERENCES fitting (shop_id, id),
    FOREIGN KEY (shop_id, staff_id) REFERENCES staff (shop_id, id),
    UNIQUE (shop_id, change_id)
);
CREATE INDEX change_of_part ON change (fitting_id, part, version);

CREATE TABLE tray_pair (
    shop_id uuid NOT NULL,
    fitting_id uuid NOT NULL,
    stock_line_id uuid NOT NULL,
    pulled_at timestamptz NOT NULL DEFAULT clock_timestamp(),
    PRIMARY KEY (fitting_id, stock_line_id),
    FOREIGN KEY (shop_id, fitting_id) REFERENCES fitting (shop_id, id),
    FOREIGN KEY (shop_id, stock_line_id) REFERENCES stock_line (shop_id, id)
);

-- A settled pair, with everything it was computed from. Undone sales stay, marked.
CREATE TABLE sale (
    id uuid PRIMARY KEY,
    shop_id uuid NOT NULL,
    fitting_id uuid NOT NULL,
    stock_line_id uuid NOT NULL,
    sold_by uuid NOT NULL,
    sold_at timestamptz NOT NULL DEFAULT now(),
    price_cents integer NOT NULL,
    rules_version text NOT NULL,
    snapshot jsonb NOT NULL,
    undone_at timestamptz,
    FOREIGN KEY (shop_id, fitting_id) REFERENCES fitting (shop_id, id),
    FOREIGN KEY (shop_id, stock_line_id) REFERENCES stock_line (shop_id, id),
    FOREIGN KEY (shop_id, sold_by) REFERENCES staff (shop_id, id)
);
CREATE UNIQUE INDEX sale_standing ON sale (fitting_id) WHERE undone_at IS NULL;

CREATE TABLE follow_up (
    id uuid PRIMARY KEY,
    shop_id uuid NOT NULL,
    fitting_id uuid NOT NULL UNIQUE,
    due_on date NOT NULL,
    done_at timestamptz,
    FOREIGN KEY (shop_id, fitting_id) REFERENCES fitting (shop_id, id)
);
CREATE INDEX follow_up_due ON follow_up (shop_id, due_on) WHERE done_at IS NULL;

-- The app works under this role: no table of another shop, no right to change the schema.
DO $$
BEGIN
    IF NOT EXISTS (SELECT FROM pg_roles WHERE rolname = 'kalon_app') THEN
        CREATE ROLE kalon_app NOLOGIN;
    END IF;
END
$$;
GRANT kalon_app TO CURRENT_USER;
GRANT USAGE ON SCHEMA public TO kalon_app;

DO $$
DECLARE name text;
BEGIN
    FOREACH name IN ARRAY ARRAY['staff', 'session', 'athlete', 'shoe_model', 'stock_line', 'fitting',
                                'fitting_part', 'change', 'tray_pair', 'sale', 'follow_up'] LOOP
        EXECUTE format('ALTER TABLE %I ENABLE ROW LEVEL SECURITY', name);
        EXECUTE format('CREATE POLICY of_shop ON %I TO kalon_app '
            'USING (shop_id = nullif(current_setting(''kalon.shop_id'', true), '''')::uuid) '
            'WITH CHECK (shop_id = nullif(current_setting(''kalon.shop_id'', true), '''')::uuid)', name);
    END LOOP;
END
$$;
ALTER TABLE shop ENABLE ROW LEVEL SECURITY;
CREATE POLICY of_shop ON shop TO kalon_app
    USING (id = nullif(current_setting('kalon.shop_id', true), '')::uuid);
ALTER TABLE sign_in_attempt ENABLE ROW LEVEL SECURITY;

GRANT SELECT ON shop TO kalon_app;
GRANT SELECT, INSERT, UPDATE ON staff, athlete, shoe_model, stock_line, fitting, fitting_part, sale, follow_up
    TO kalon_app;
GRANT SELECT, INSERT ON change TO kalon_app;
GRANT SELECT, INSERT, DELETE ON tray_pair, session TO kalon_app;

-- Signing in happens before a shop is known: these few functions look across shops, and nothing else does.
CREATE FUNCTION sign_in_lookup(p_login text)
RETURNS TABLE (staff_id uuid, shop_id uuid, password_hash text)
LANGUAGE sql STABLE SECURITY DEFINER SET search_path = public, pg_temp AS $$
    SELECT s.id, s.shop_id, s.password_hash FROM staff s WHERE s.login = p_login AND s.active
$$;

CREATE FUNCTION sign_in_tries(p_key bytea, p_window interval)
RETURNS bigint LANGUAGE sql STABLE SECURITY DEFINER SET search_path = public, pg_temp AS $$
    SELECT count(*) FROM sign_in_attempt WHERE key = p_key AND at > now() - p_window
$$;

CREATE FUNCTION sign_in_failed(p_key bytea)
RETURNS void LANGUAGE sql SECURITY DEFINER SET search_path = public, pg_temp AS $$
    DELETE FROM sign_in_attempt WHERE at < now() - interval '1 day';
    INSERT INTO sign_in_attempt (key) VALUES (p_key);
$$;

CREATE FUNCTION session_lookup(p_token_hash bytea)
RETURNS TABLE (staff_id uuid, shop_id uuid, shop_name text, login text, name text, role text)
LANGUAGE sql STABLE SECURITY DEFINER SET search_path = public, pg_temp AS $$
    SELECT s.id, s.shop_id, h.name, s.login, s.name, s.role
    FROM session e JOIN staff s ON s.id = e.staff_id JOIN shop h ON h.id = s.shop_id
    WHERE e.token_hash = p_token_hash AND e.expires_at > now() AND s.active
$$;

REVOKE ALL ON FUNCTION sign_in_lookup, sign_in_tries, sign_in_failed, session_lookup FROM PUBLIC;
GRANT EXECUTE ON FUNCTION sign_in_lookup, sign_in_tries, sign_in_failed, session_lookup TO kalon_app;

-- Readiness compares the applied migrations with the shipped ones.
GRANT SELECT ON _yoyo_migration TO kalon_app;
