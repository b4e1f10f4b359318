-- Lists as suppliers send them: US children's sizes, what was said of a supplier's words, the same file again, and why
-- lines can't be used, counted.

ALTER TABLE variant DROP CONSTRAINT variant_system_check, ADD CONSTRAINT variant_system_check
    CHECK (system IN ('eu', 'uk', 'us_men', 'us_women', 'uk_child', 'us_child', 'jp_cm', 'mondopoint_mm'));

ALTER TABLE sheet_import ADD COLUMN digest bytea, ADD COLUMN reasons jsonb NOT NULL DEFAULT '[]';
COMMENT ON COLUMN sheet_import.digest IS 'Of the file as it came, whatever it is called.';
COMMENT ON COLUMN sheet_import.reasons IS 'Why lines can''t be used, each reason with how many lines it holds for.';
CREATE INDEX import_of_file ON sheet_import (shop_id, digest) WHERE digest IS NOT NULL AND undone_at IS NULL;

CREATE TABLE sheet_word (
    shop_id uuid NOT NULL REFERENCES shop (id),
    supplier text NOT NULL CHECK (length(supplier) <= 80),
    field text NOT NULL CHECK (field IN ('sport', 'width', 'upper', 'pairs', 'child')),
    word text NOT NULL CHECK (word <> '' AND length(word) <= 60),
    answer text NOT NULL CHECK (answer <> '' AND length(answer) <= 40),
    staff_id uuid NOT NULL REFERENCES staff (id),
    said_at timestamptz NOT NULL DEFAULT now(),
    PRIMARY KEY (shop_id, supplier, field, word)
);
COMMENT ON TABLE sheet_word IS 'What a supplier''s lists mean by a word, as a manager said once.';
ALTER TABLE sheet_word ENABLE ROW LEVEL SECURITY;
CREATE POLICY of_shop ON sheet_word TO kalon_app USING (shop_id = (SELECT shop_now()))
    WITH CHECK (shop_id = (SELECT shop_now()));
CREATE POLICY managers_add ON sheet_word AS RESTRICTIVE FOR INSERT TO kalon_app
    WITH CHECK ((SELECT role_now()) = 'manager' AND staff_id = (SELECT staff_now()));
CREATE POLICY managers_change ON sheet_word AS RESTRICTIVE FOR UPDATE TO kalon_app
    USING ((SELECT role_now()) = 'manager') WITH CHECK (staff_id = (SELECT staff_now()));
GRANT SELECT, INSERT, UPDATE ON sheet_word TO kalon_app;
