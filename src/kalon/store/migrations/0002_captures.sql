-- Scans, tracings, prints and records of feet, with a working copy to measure again from; and how far a measuring is.
-- depends: 0001_foundation

CREATE TABLE foot_capture (
    id uuid PRIMARY KEY,
    shop_id uuid NOT NULL,
    fitting_id uuid NOT NULL,
    athlete_id uuid NOT NULL,
    kind text NOT NULL CHECK (kind IN ('scan', 'tracing', 'mat', 'record')),
    side text NOT NULL CHECK (side IN ('left', 'right')),
    name text NOT NULL DEFAULT '',
    said jsonb NOT NULL,
    reading jsonb NOT NULL,
    shape jsonb NOT NULL,
    copy bytea NOT NULL,
    view bytea NOT NULL,
    version integer NOT NULL DEFAULT 1,
    practice boolean NOT NULL DEFAULT false,
    taken_by uuid NOT NULL,
    taken_at timestamptz NOT NULL DEFAULT now(),
    removed_at timestamptz,
    FOREIGN KEY (shop_id, fitting_id) REFERENCES fitting (shop_id, id),
    FOREIGN KEY (shop_id, athlete_id) REFERENCES athlete (shop_id, id),
    FOREIGN KEY (shop_id, taken_by) REFERENCES staff (shop_id, id),
    UNIQUE (shop_id, id)
);
CREATE INDEX foot_capture_of_fitting ON foot_capture (fitting_id, taken_at) WHERE removed_at IS NULL;
CREATE INDEX foot_capture_of_athlete ON foot_capture (athlete_id, taken_at) WHERE removed_at IS NULL;

CREATE TABLE capture_progress (
    id uuid PRIMARY KEY,
    shop_id uuid NOT NULL REFERENCES shop (id),
    share real NOT NULL CHECK (share BETWEEN 0 AND 1),
    step text NOT NULL,
    at timestamptz NOT NULL DEFAULT now()
);

DO $$
DECLARE name text;
BEGIN
    FOREACH name IN ARRAY ARRAY['foot_capture', 'capture_progress'] LOOP
        EXECUTE format('ALTER TABLE %I ENABLE ROW LEVEL SECURITY', name);
        EXECUTE format('CREATE POLICY of_shop ON %I TO kalon_app '
            'USING (shop_id = nullif(current_setting(''kalon.shop_id'', true), '''')::uuid) '
            'WITH CHECK (shop_id = nullif(current_setting(''kalon.shop_id'', true), '''')::uuid)', name);
    END LOOP;
END
$$;
GRANT SELECT, INSERT, UPDATE ON foot_capture TO kalon_app;
GRANT SELECT, INSERT, UPDATE, DELETE ON capture_progress TO kalon_app;
