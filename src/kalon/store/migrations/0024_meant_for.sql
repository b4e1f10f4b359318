-- What a model is said to be meant for, finer than its sport; and what a supplier's words of it mean.
-- depends: 0023_reach

ALTER TABLE shoe_model ADD COLUMN meant_for jsonb NOT NULL DEFAULT '[]' CHECK (jsonb_typeof(meant_for) = 'array');
COMMENT ON COLUMN shoe_model.meant_for IS 'Its purposes, as its maker or a list says them; empty where nobody said.';
CREATE OR REPLACE VIEW model_here WITH (security_invoker = true) AS
    SELECT m.id, m.maker, m.name, m.sport, m.upper, m.build, m.reinforced, m.properties, m.choices, m.features,
           m.chain_id, m.code, m.retired_at, m.last, m.plate,
           p.price_minor, p.now_minor, p.cost_minor, p.sale_minor, p.sale_from, p.sale_until,
           CASE WHEN p.now_minor IS NOT NULL THEN p.currency END AS currency, m.meant_for
    FROM shoe_model m LEFT JOIN price_now p ON p.model_id = m.id AND p.colour = '';
ALTER TABLE sheet_word DROP CONSTRAINT sheet_word_field_check,
    ADD CONSTRAINT sheet_word_field_check CHECK (field IN ('sport', 'width', 'upper', 'pairs', 'child', 'meant_for'));
