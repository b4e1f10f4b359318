-- What changed on a shelf, so that a web process keeps it and reads anew only that. Rows are added, never altered, by
-- the very transaction that changed something; who reads them goes by transactions, not by the order of rows.
-- depends: 0033_learning_grows

CREATE TABLE shelf_change (
    chain_id uuid NOT NULL,
    shop_id uuid,
    variant_id uuid,
    by_transaction xid8 NOT NULL DEFAULT pg_current_xact_id(),
    at timestamptz NOT NULL DEFAULT now()
);
COMMENT ON TABLE shelf_change IS 'A size that came to or went from a shop''s shelf, or is known otherwise in the chain (no shop); with no size, more than are worth naming.';
CREATE INDEX shelf_change_by ON shelf_change (chain_id, by_transaction);
CREATE INDEX shelf_change_at ON shelf_change (at);
ALTER TABLE shelf_change ENABLE ROW LEVEL SECURITY;
CREATE POLICY of_chain ON shelf_change TO kalon_app
    USING (chain_id = (SELECT chain_now()) AND (shop_id IS NULL OR shop_id = (SELECT shop_now())));
GRANT SELECT ON shelf_change TO kalon_app;

CREATE FUNCTION shelf_of_lines() RETURNS trigger
LANGUAGE plpgsql SECURITY DEFINER SET search_path = public, pg_temp AS $$
DECLARE most CONSTANT int := 2000;
BEGIN
    IF TG_OP = 'INSERT' THEN
        INSERT INTO shelf_change (chain_id, shop_id, variant_id)
            SELECT DISTINCT n.chain_id, n.shop_id, CASE WHEN n.of <= most THEN n.variant_id END
            FROM (SELECT n.*, count(*) OVER () AS of FROM now_is n WHERE n.on_hand > 0) n;
    ELSIF TG_OP = 'DELETE' THEN
        INSERT INTO shelf_change (chain_id, shop_id, variant_id)
            SELECT DISTINCT w.chain_id, w.shop_id, CASE WHEN w.of <= most THEN w.variant_id END
            FROM (SELECT w.*, count(*) OVER () AS of FROM was w WHERE w.on_hand > 0) w;
    ELSE
        INSERT INTO shelf_change (chain_id, shop_id, variant_id)
            SELECT DISTINCT c.chain_id, c.shop_id, CASE WHEN c.of <= most THEN c.variant_id END
            FROM (SELECT s.*, count(*) OVER () AS of FROM was w JOIN now_is n ON n.id = w.id
                  CROSS JOIN LATERAL (VALUES (w.chain_id, w.shop_id, w.variant_id), (n.chain_id, n.shop_id, n.variant_id))
                      s (chain_id, shop_id, variant_id)
                  WHERE (w.on_hand > 0) <> (n.on_hand > 0) OR w.variant_id <> n.variant_id) c;
    END IF;
    RETURN NULL;
END
$$;
CREATE FUNCTION shelf_of_sizes() RETURNS trigger
LANGUAGE plpgsql SECURITY DEFINER SET search_path = public, pg_temp AS $$
DECLARE most CONSTANT int := 2000;
BEGIN
    IF TG_OP = 'INSERT' THEN
        INSERT INTO shelf_change (chain_id, variant_id)
            SELECT DISTINCT n.chain_id, CASE WHEN n.of <= most THEN n.id END
            FROM (SELECT n.*, count(*) OVER () AS of FROM now_is n) n;
    ELSIF TG_OP = 'DELETE' THEN
        INSERT INTO shelf_change (chain_id, variant_id)
            SELECT DISTINCT w.chain_id, CASE WHEN w.of <= most THEN w.id END
            FROM (SELECT w.*, count(*) OVER () AS of FROM was w) w;
    ELSE
        INSERT INTO shelf_change (chain_id, variant_id)
            SELECT DISTINCT c.chain_id, CASE WHEN c.of <= most THEN c.id END
            FROM (SELECT n.*, count(*) OVER () AS of FROM was w JOIN now_is n ON n.id = w.id
                  WHERE (w.model_id, w.eu_label, w.retired_at,
                         w.length_label_mm, w.ball_girth_label_mm, w.instep_girth_label_mm, w.heel_width_label_mm,
                         w.length_read_mm, w.ball_girth_read_mm, w.instep_girth_read_mm, w.heel_width_read_mm,
                         w.length_read_sigma_mm, w.ball_girth_read_sigma_mm, w.instep_girth_read_sigma_mm, w.heel_width_read_sigma_mm)
                      IS DISTINCT FROM
                        (n.model_id, n.eu_label, n.retired_at,
                         n.length_label_mm, n.ball_girth_label_mm, n.instep_girth_label_mm, n.heel_width_label_mm,
                         n.length_read_mm, n.ball_girth_read_mm, n.instep_girth_read_mm, n.heel_width_read_mm,
                         n.length_read_sigma_mm, n.ball_girth_read_sigma_mm, n.instep_girth_read_sigma_mm, n.heel_width_read_sigma_mm)) c;
    END IF;
    RETURN NULL;
END
$$;
REVOKE ALL ON FUNCTION shelf_of_lines, shelf_of_sizes FROM PUBLIC;
CREATE TRIGGER shelf_came AFTER INSERT ON stock_line
    REFERENCING NEW TABLE AS now_is FOR EACH STATEMENT EXECUTE FUNCTION shelf_of_lines();
CREATE TRIGGER shelf_went AFTER DELETE ON stock_line
    REFERENCING OLD TABLE AS was FOR EACH STATEMENT EXECUTE FUNCTION shelf_of_lines();
CREATE TRIGGER shelf_moved AFTER UPDATE ON stock_line
    REFERENCING OLD TABLE AS was NEW TABLE AS now_is FOR EACH STATEMENT EXECUTE FUNCTION shelf_of_lines();
CREATE TRIGGER shelf_came AFTER INSERT ON variant
    REFERENCING NEW TABLE AS now_is FOR EACH STATEMENT EXECUTE FUNCTION shelf_of_sizes();
CREATE TRIGGER shelf_went AFTER DELETE ON variant
    REFERENCING OLD TABLE AS was FOR EACH STATEMENT EXECUTE FUNCTION shelf_of_sizes();
CREATE TRIGGER shelf_moved AFTER UPDATE ON variant
    REFERENCING OLD TABLE AS was NEW TABLE AS now_is FOR EACH STATEMENT EXECUTE FUNCTION shelf_of_sizes();
