-- One inside per size and version: of a size are kept what its label says and its readings as one; what is learned is
-- put to them when it is asked for, so that nothing needs to guess what a number rests on.
-- depends: 0014_ordinary_hands

-- A reading is of the last its model was made on then; of those before this, nobody knows, and they count for any.
ALTER TABLE shoe_reading ADD COLUMN last text NOT NULL DEFAULT '';
ALTER TABLE shoe_reading ALTER COLUMN last DROP DEFAULT;
CREATE FUNCTION last_of_reading() RETURNS trigger
LANGUAGE plpgsql SECURITY DEFINER SET search_path = public, pg_temp AS $$
BEGIN
    IF NEW.last IS NULL THEN
        SELECT m.last INTO NEW.last FROM variant v JOIN shoe_model m ON m.id = v.model_id WHERE v.id = NEW.variant_id;
    END IF;
    NEW.last := coalesce(NEW.last, '');
    RETURN NEW;
END
$$;
CREATE TRIGGER last_of_reading BEFORE INSERT ON shoe_reading FOR EACH ROW EXECUTE FUNCTION last_of_reading();
REVOKE ALL ON FUNCTION last_of_reading FROM PUBLIC;
CREATE INDEX reading_at ON shoe_reading (chain_id, at);
CREATE INDEX reading_set_aside ON shoe_reading (chain_id, set_aside_at) WHERE set_aside_at IS NOT NULL;

ALTER TABLE variant
    ADD COLUMN length_label_mm double precision, ADD COLUMN ball_girth_label_mm double precision,
    ADD COLUMN instep_girth_label_mm double precision, ADD COLUMN heel_width_label_mm double precision,
    ADD COLUMN length_read_mm double precision, ADD COLUMN ball_girth_read_mm double precision,
    ADD COLUMN instep_girth_read_mm double precision, ADD COLUMN heel_width_read_mm double precision,
    ADD COLUMN length_read_sigma_mm double precision, ADD COLUMN ball_girth_read_sigma_mm double precision,
    ADD COLUMN instep_girth_read_sigma_mm double precision, ADD COLUMN heel_width_read_sigma_mm double precision;
COMMENT ON COLUMN variant.length_label_mm IS 'What the box alone says.';
COMMENT ON COLUMN variant.length_read_mm IS 'Everything read of it on the last it is made on, as one reading; none where nothing was.';

-- What a label says, once, as the code says it at this version.
UPDATE variant v SET length_label_mm = t.last, ball_girth_label_mm = t.last * t.ball + t.step,
    instep_girth_label_mm = t.last * t.instep + t.step, heel_width_label_mm = t.last * t.heel + 0.12 * t.step
FROM (
    SELECT v.id, s.ball, s.instep, s.heel,
        CASE v.system
            WHEN 'eu' THEN v.label * 20 / 3 WHEN 'uk' THEN (v.label + 25) / 3 * 25.4
            WHEN 'uk_child' THEN (v.label + 12) / 3 * 25.4 WHEN 'us_men' THEN (v.label + 24) / 3 * 25.4
            WHEN 'us_women' THEN (v.label + 22.5) / 3 * 25.4 WHEN 'jp_cm' THEN v.label * 10 + 15
            ELSE v.label + 15 END AS last,
        coalesce(f.mm, 4.76 * (array_position(ARRAY['4A', '3A', '2A', 'A', 'B', 'C', 'D', 'E', '2E', '3E', '4E', '5E', '6E'],
                CASE upper(v.width) WHEN 'AAAA' THEN '4A' WHEN 'AAA' THEN '3A' WHEN 'AA' THEN '2A' WHEN 'EE' THEN '2E'
                    WHEN 'EEE' THEN '3E' WHEN 'EEEE' THEN '4E' ELSE upper(v.width) END)
            - CASE v.system WHEN 'us_women' THEN 5 ELSE 7 END), 0) AS step
    FROM variant v JOIN shoe_model m ON m.id = v.model_id
    JOIN (VALUES ('climbing', 0.935, 0.957, 0.246), ('football', 0.900, 0.915, 0.2385), ('lifting', 0.905, 0.915, 0.2395),
                 ('cycling', 0.905, 0.92, 0.240), ('court', 0.905, 0.92, 0.240), ('field', 0.91, 0.925, 0.241),
                 ('ice', 0.90, 0.925, 0.240)) s (sport, ball, instep, heel) ON s.sport = m.sport
    LEFT JOIN (VALUES ('narrow', -9.0), ('regular', 0.0), ('wide', 9.0), ('low', -7.0), ('high', 7.0), ('contoured', 0.0),
                      ('classic', 9.0)) f (word, mm) ON f.word = lower(v.width)
) t WHERE t.id = v.id;

UPDATE variant v SET
    length_read_mm = t.length, length_read_sigma_mm = t.length_s, ball_girth_read_mm = t.ball,
    ball_girth_read_sigma_mm = t.ball_s, instep_girth_read_mm = t.instep, instep_girth_read_sigma_mm = t.instep_s,
    heel_width_read_mm = t.heel, heel_width_read_sigma_mm = t.heel_s
FROM (
    SELECT z.variant_id,
        max(z.mm) FILTER (WHERE z.zone = 'length') AS length, max(z.s) FILTER (WHERE z.zone = 'length') AS length_s,
        max(z.mm) FILTER (WHERE z.zone = 'ball_girth') AS ball, max(z.s) FILTER (WHERE z.zone = 'ball_girth') AS ball_s,
        max(z.mm) FILTER (WHERE z.zone = 'instep_girth') AS instep,
        max(z.s) FILTER (WHERE z.zone = 'instep_girth') AS instep_s,
        max(z.mm) FILTER (WHERE z.zone = 'heel_width') AS heel, max(z.s) FILTER (WHERE z.zone = 'heel_width') AS heel_s
    FROM (
        SELECT r.variant_id, r.zone, sum(r.mm / (r.s * r.s)) / sum(1 / (r.s * r.s)) AS mm,
               1 / sqrt(sum(1 / (r.s * r.s))) AS s
        FROM (SELECT r.variant_id, r.zone, r.mm, coalesce(r.sigma_mm, u.sigma_mm) AS s FROM shoe_reading r
              LEFT JOIN (VALUES ('sheet', 'length', 1.5), ('sheet', 'ball_girth', 3.0), ('sheet', 'instep_girth', 3.0),
                                ('sheet', 'heel_width', 1.0), ('stick', 'length', 1.0), ('insole', 'length', 1.0),
                                ('insole', 'ball_girth', 4.0), ('insole', 'heel_width', 1.0), ('measured', 'length', 1.0),
                                ('measured', 'ball_girth', 2.5), ('measured', 'instep_girth', 2.5),
                                ('measured', 'heel_width', 1.0)) u (source, zone, sigma_mm)
                  ON u.source = r.source AND u.zone = r.zone
              WHERE r.set_aside_at IS NULL) r
        WHERE r.s IS NOT NULL GROUP BY 1, 2
    ) z GROUP BY 1
) t WHERE t.variant_id = v.id;

ALTER TABLE variant
    ALTER COLUMN length_label_mm SET NOT NULL, ALTER COLUMN ball_girth_label_mm SET NOT NULL,
    ALTER COLUMN instep_girth_label_mm SET NOT NULL, ALTER COLUMN heel_width_label_mm SET NOT NULL,
    ADD CHECK ((length_read_mm IS NULL) = (length_read_sigma_mm IS NULL)),
    ADD CHECK ((ball_girth_read_mm IS NULL) = (ball_girth_read_sigma_mm IS NULL)),
    ADD CHECK ((instep_girth_read_mm IS NULL) = (instep_girth_read_sigma_mm IS NULL)),
    ADD CHECK ((heel_width_read_mm IS NULL) = (heel_width_read_sigma_mm IS NULL)),
    DROP COLUMN length_mm, DROP COLUMN ball_girth_mm, DROP COLUMN instep_girth_mm, DROP COLUMN heel_width_mm,
    DROP COLUMN length_sigma_mm, DROP COLUMN ball_girth_sigma_mm, DROP COLUMN instep_girth_sigma_mm,
    DROP COLUMN heel_width_sigma_mm;
