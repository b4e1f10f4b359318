-- A letter on a Japanese box counts from 2E, which is regular there: the box's girths of such sizes are two steps
-- less than was kept. What was learned of their makers is learned anew.
-- depends: 0030_tablets

WITH moved AS (
    UPDATE variant SET
        ball_girth_label_mm = ball_girth_label_mm - 9.52,
        instep_girth_label_mm = instep_girth_label_mm - 9.52,
        heel_width_label_mm = heel_width_label_mm - 0.12 * 9.52
    WHERE system = 'jp_cm' AND upper(btrim(width)) ~ '^([234]?A|A{2,4}|B|C|D|[2-6]?E|E{2,4})$'
    RETURNING model_id
)
INSERT INTO learn_maker_due (chain_id, maker)
SELECT DISTINCT m.chain_id, m.maker FROM moved JOIN shoe_model m ON m.id = moved.model_id
WHERE EXISTS (SELECT 1 FROM evidence e JOIN variant v ON v.id = e.variant_id WHERE v.model_id = m.id);
