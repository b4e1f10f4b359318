-- What is known of a shoe's features: true, false, or not in it where nobody knows.
-- depends: 0005_tray

ALTER TABLE shoe_model ADD COLUMN features jsonb NOT NULL DEFAULT '{}'
    CHECK (jsonb_typeof(features) = 'object');
