-- Pictures of shoes: an insole on paper, a sole, a side; of a size in stock, or of a pair somebody owns. What was read
-- of them is kept apart from what was kept for the catalogue: readings of the size, and of the model its plate.
-- depends: 0012_pairs

CREATE TABLE shoe_picture (
    id uuid PRIMARY KEY,
    shop_id uuid NOT NULL,
    variant_id uuid REFERENCES variant (id),
    pair_id uuid REFERENCES pair (id) ON DELETE CASCADE,
    way text NOT NULL CHECK (way IN ('insole', 'sole', 'side')),
    name text NOT NULL DEFAULT '' CHECK (length(name) <= 200),
    said jsonb NOT NULL CHECK (jsonb_typeof(said) = 'object'),
    reading jsonb NOT NULL CHECK (jsonb_typeof(reading) = 'object'),
    format integer NOT NULL,
    shape jsonb NOT NULL CHECK (jsonb_typeof(shape) = 'object'),
    copy bytea NOT NULL,
    view bytea NOT NULL,
    practice boolean NOT NULL DEFAULT false,
    version integer NOT NULL DEFAULT 1,
    taken_by uuid NOT NULL,
    taken_at timestamptz NOT NULL DEFAULT now(),
    kept_at timestamptz,
    removed_at timestamptz,
    CHECK ((variant_id IS NULL) <> (pair_id IS NULL)),
    FOREIGN KEY (shop_id, taken_by) REFERENCES staff (shop_id, id)
);
CREATE INDEX picture_of_variant ON shoe_picture (shop_id, variant_id, taken_at) WHERE variant_id IS NOT NULL;
CREATE INDEX picture_of_pair ON shoe_picture (shop_id, pair_id, taken_at) WHERE pair_id IS NOT NULL;
ALTER TABLE shoe_picture ENABLE ROW LEVEL SECURITY;
CREATE POLICY of_shop ON shoe_picture TO kalon_app USING (shop_id = (SELECT shop_now()))
    WITH CHECK (shop_id = (SELECT shop_now()));
GRANT SELECT, INSERT, UPDATE ON shoe_picture TO kalon_app;

-- The studs of a model as they were found: places from the sole's heel, and the inner length of the size they are of.
ALTER TABLE shoe_model ADD COLUMN plate jsonb CHECK (jsonb_typeof(plate) = 'object');
