"""A shop grown large: its records multiplied in the database, for plans and figures at size."""

from __future__ import annotations

from typing import Any

import psycopg

from tests.running import superuser_of

ATHLETES, FITTINGS_EACH, TRAYS_EACH, CHANGES_EACH = 20_000, 3, 3, 10

GROW = """
CREATE TEMP TABLE grown ON COMMIT DROP AS
    SELECT gen_random_uuid() AS id, i FROM generate_series(1, {athletes}) i;
INSERT INTO athlete (id, shop_id, name, squad)
    SELECT g.id, s.shop_id,
           (ARRAY['Abel','Berit','Cosima','Dorian','Edda','Falk','Gesa','Hanno','Ilka','Jost'])[1 + i % 10] || ' '
           || (ARRAY['Aldern','Brack','Corlis','Dunmar','Esterby'])[1 + i / 10 % 5] || lpad(i::text, 5, '0'),
           'Squad ' || i % 40
    FROM grown g, (SELECT id, shop_id FROM staff WHERE login = 'ilse') s;
CREATE TEMP TABLE visits ON COMMIT DROP AS
    SELECT gen_random_uuid() AS id, g.id AS athlete_id, g.i, n,
           now() - make_interval(days => (n * 300 + g.i % 280)::int) AS at
    FROM grown g, generate_series(1, {fittings}) n;
INSERT INTO fitting (id, shop_id, athlete_id, state, opened_by, opened_at, touched_at)
    SELECT v.id, s.shop_id, v.athlete_id, CASE WHEN n = 1 AND v.i % 50 = 0 THEN 'open' ELSE 'settled' END, s.id, v.at, v.at
    FROM visits v, (SELECT id, shop_id FROM staff WHERE login = 'ilse') s;
INSERT INTO fitting_part (shop_id, fitting_id, part, version, body, format)
    SELECT s.shop_id, v.id, p.part, p.version, p.body, p.format
    FROM visits v, (SELECT id, shop_id FROM staff WHERE login = 'ilse') s, LATERAL (
        SELECT part, version, body, format FROM fitting_part WHERE fitting_id = (SELECT f.id FROM fitting f
            JOIN fitting_part b ON b.fitting_id = f.id AND b.part = 'brief' AND b.version > 0
            WHERE f.shop_id = s.shop_id AND f.id NOT IN (SELECT id FROM visits) ORDER BY f.id LIMIT 1)
    ) p;
CREATE TEMP TABLE lines ON COMMIT DROP AS
    SELECT id, shop_id, row_number() OVER () AS n, count(*) OVER () AS of FROM stock_line
    WHERE shop_id = (SELECT shop_id FROM staff WHERE login = 'ilse');
ANALYZE lines;
CREATE TEMP TABLE trays ON COMMIT DROP AS
    SELECT l.shop_id, v.id AS fitting_id, l.id AS stock_line_id, v.held FROM (
        SELECT id, n = 1 AND i % 50 = 0 AS held, 1 + (i * 7 + n * 13 + t * 101) % (SELECT max(of) FROM lines) AS n
        FROM visits, generate_series(1, {trays}) t) v JOIN lines l ON l.n = v.n
    ;
INSERT INTO tray_pair (shop_id, fitting_id, stock_line_id)
    SELECT DISTINCT shop_id, fitting_id, stock_line_id FROM trays ON CONFLICT DO NOTHING;
INSERT INTO reservation (id, chain_id, shop_id, stock_line_id, kind, fitting_id, hold_s, until)
    SELECT gen_random_uuid(), h.chain_id, t.shop_id, t.stock_line_id, 'tray', t.fitting_id, 7200, now() - interval '1 day'
    FROM (SELECT DISTINCT shop_id, fitting_id, stock_line_id FROM trays WHERE held) t JOIN shop h ON h.id = t.shop_id
    ON CONFLICT DO NOTHING;
INSERT INTO sale (id, shop_id, fitting_id, stock_line_id, sold_by, sold_at, price_minor, rules_version, snapshot, pair,
                  format, currency)
    SELECT gen_random_uuid(), old.shop_id, v.id, old.stock_line_id, old.sold_by, v.at, old.price_minor,
           old.rules_version, CASE WHEN v.i < 100 THEN old.snapshot ELSE '{{}}' END, old.pair, old.format, old.currency
    FROM visits v, (SELECT s.* FROM sale s JOIN staff p ON p.id = s.sold_by AND p.login = 'ilse'
                    WHERE s.undone_at IS NULL ORDER BY s.id LIMIT 1) old
    WHERE NOT (v.n = 1 AND v.i % 50 = 0);
INSERT INTO foot_capture (id, shop_id, fitting_id, athlete_id, kind, side, said, reading, shape, copy, view, taken_by,
                          taken_at, measured_at, format)
    SELECT gen_random_uuid(), old.shop_id, v.id, v.athlete_id, old.kind, old.side, old.said, old.reading, '{{}}', '', '',
           old.taken_by, v.at, v.at, old.format
    FROM visits v, (SELECT c.* FROM foot_capture c JOIN staff p ON p.id = c.taken_by AND p.login = 'ilse'
                    WHERE c.removed_at IS NULL ORDER BY c.id LIMIT 1) old
    WHERE v.n < 3;
INSERT INTO change (shop_id, athlete_id, fitting_id, part, version, change_id, before, after, staff_id, at)
    SELECT s.shop_id, g.id, NULL, 'athlete', n, gen_random_uuid(), '{{}}', '{{"note": "grown"}}', s.id, now()
    FROM grown g, generate_series(1, {changes}) n, (SELECT id, shop_id FROM staff WHERE login = 'ilse') s;
INSERT INTO follow_up (id, shop_id, fitting_id, due_on, done_at)
    SELECT gen_random_uuid(), s.shop_id, v.id, (v.at + interval '21 days')::date, CASE WHEN v.i % 40 > 0 THEN now() END
    FROM visits v, (SELECT id, shop_id FROM staff WHERE login = 'ilse') s WHERE v.n > 1;
INSERT INTO pair (id, shop_id, athlete_id, sale_id, fitting_id, maker, name, size, eu_label, width, upper, sport,
                  discipline, surface, bought_on, begun_on, price_minor, currency, hours_per_week, ready_on, worn_h,
                  median_h, log_sd, look_on, ends_on)
    SELECT s.id, s.shop_id, v.athlete_id, s.id, v.id, 'Grown', 'Boot', 'EU 42', 42, 'regular', 'synthetic', 'football',
           'match', 'firm_natural', v.at::date, v.at::date, 9000, 'EUR', 3, v.at::date + 20, 40, 120, 0.35,
           current_date + (v.i % 700) - 20, current_date + (v.i % 900)
    FROM visits v JOIN sale s ON s.fitting_id = v.id;
INSERT INTO pair_worn (id, shop_id, pair_id, on_day, minutes)
    SELECT gen_random_uuid(), p.shop_id, p.id, p.bought_on + n, 60 FROM pair p, generate_series(1, 3) n
    WHERE p.maker = 'Grown';
INSERT INTO pair_seen (id, shop_id, pair_id, on_day, hours, seen, worn_share, sigma, staff_id)
    SELECT gen_random_uuid(), p.shop_id, p.id, p.bought_on + 30, 20, '{{"sole": "grips"}}', 0.2, 0.1, s.id
    FROM pair p, (SELECT id FROM staff WHERE login = 'ilse') s WHERE p.maker = 'Grown';
"""


def grow(url: str) -> None:
    """Multiply the first shop's records: 20,000 athletes, 60,000 fittings, 180,000 tray rows, 200,000 changes."""
    with psycopg.connect(superuser_of(url)) as cx:
        cx.execute("SET session_replication_role = replica")  # what is copied refers to what is there
        cx.execute(GROW.format(athletes=ATHLETES, fittings=FITTINGS_EACH, trays=TRAYS_EACH, changes=CHANGES_EACH))
    with psycopg.connect(url, autocommit=True) as cx:
        cx.execute("VACUUM ANALYZE")


def a_fitting_of_each(cx: psycopg.Connection[Any]) -> dict[str, str]:
    """An open and a settled fitting among those that were multiplied, and an athlete's id."""
    found = {}
    for state, only in (("open", "f.state = 'open'"), ("settled", "s.snapshot <> '{}'")):
        row = cx.execute(
            "SELECT f.id, f.athlete_id FROM fitting f JOIN athlete a ON a.id = f.athlete_id "
            "LEFT JOIN sale s ON s.fitting_id = f.id "
            f"WHERE a.squad LIKE 'Squad %' AND {only} ORDER BY f.id LIMIT 1"
        ).fetchone()
        assert row
        found |= {state: str(row[0]), "athlete": str(row[1])}
    pair = cx.execute("SELECT id FROM pair WHERE athlete_id = %s LIMIT 1", [found["athlete"]]).fetchone()
    found["pair"] = str(pair[0]) if pair else ""
    return found


LINES, SIZES_EACH = 100_000, 50
STOCK = """
CREATE TEMP TABLE made ON COMMIT DROP AS
    SELECT gen_random_uuid() AS id, m.id AS of, i, row_number() OVER () AS n FROM (
        SELECT id FROM shoe_model WHERE sport = 'football' AND chain_id = (
            SELECT h.chain_id FROM shop h JOIN staff s ON s.shop_id = h.id WHERE s.login = 'ilse')) m,
        generate_series(1, 1000) i LIMIT {models};
INSERT INTO shoe_model SELECT (jsonb_populate_record(m, jsonb_build_object('id', g.id, 'name', m.name || ' ' || g.i,
        'code', 'M' || g.n))).* FROM made g JOIN shoe_model m ON m.id = g.of;
INSERT INTO model_price SELECT (jsonb_populate_record(p, jsonb_build_object('model_id', g.id))).*
    FROM made g JOIN model_price p ON p.model_id = g.of AND p.colour = '';
CREATE TEMP TABLE sized ON COMMIT DROP AS
    SELECT gen_random_uuid() AS id, v.id AS of, g.id AS model_id, size FROM made g
    JOIN LATERAL (SELECT id FROM variant WHERE model_id = g.of ORDER BY eu_label LIMIT 1) v ON true,
    generate_series(0, {sizes} - 1) size;
INSERT INTO variant SELECT (jsonb_populate_record(v, jsonb_build_object('id', s.id, 'model_id', s.model_id,
        'system', 'eu', 'label', 30 + s.size / 2.0, 'eu_label', 30 + s.size / 2.0, 'gtin', NULL, 'code', '',
        'length_label_mm', 190 + s.size * 3.33, 'ball_girth_label_mm', 190 + s.size * 2.5,
        'instep_girth_label_mm', 193 + s.size * 2.5, 'heel_width_label_mm', 50 + s.size * 0.4))).*
    FROM sized s JOIN variant v ON v.id = s.of;
INSERT INTO stock_line (id, shop_id, chain_id, variant_id, on_hand)
    SELECT gen_random_uuid(), p.shop_id, h.chain_id, s.id, 1 + s.size % 3
    FROM sized s, staff p JOIN shop h ON h.id = p.shop_id WHERE p.login = 'ilse';
"""


def stock(url: str, lines: int = LINES) -> None:
    """So many lines of football shoes more in the first shop, of fifty sizes each."""
    with psycopg.connect(superuser_of(url)) as cx:
        cx.execute("SET session_replication_role = replica")
        cx.execute(STOCK.format(models=lines // SIZES_EACH, sizes=SIZES_EACH))
    with psycopg.connect(url, autocommit=True) as cx:
        cx.execute("VACUUM ANALYZE")
