-- What a shop has set, version by version; a fitting keeps the version it was begun under.
-- depends: 0002_captures

CREATE TABLE house_version (
    shop_id uuid NOT NULL REFERENCES shop (id),
    version integer NOT NULL CHECK (version > 0),
    body jsonb NOT NULL,
    set_by uuid NOT NULL,
    set_at timestamptz NOT NULL DEFAULT now(),
    PRIMARY KEY (shop_id, version),
    FOREIGN KEY (shop_id, set_by) REFERENCES staff (shop_id, id)
);
ALTER TABLE fitting ADD COLUMN house_version integer NOT NULL DEFAULT 0;

ALTER TABLE house_version ENABLE ROW LEVEL SECURITY;
CREATE POLICY of_shop ON house_version TO kalon_app
    USING (shop_id = nullif(current_setting('kalon.shop_id', true), '')::uuid)
    WITH CHECK (shop_id = nullif(current_setting('kalon.shop_id', true), '')::uuid);
GRANT SELECT, INSERT ON house_version TO kalon_app;
