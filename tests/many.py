"""Many trials and follow-ups of a chain that has sold for years: rows of evidence put straight into the database.

Told as somebody would who knows shops and not the learner: forty makers of fifty models in twelve sizes; makers, models
and sizes each run a little large or small; feet are what they are; six fitters, one who hears "tight" sooner; one pair
in four is seen again after some weeks and has given more or less than was thought.
"""

from __future__ import annotations

import json
import uuid
from datetime import UTC, date, datetime, timedelta
from typing import Any

import numpy as np
import psycopg

from tests.running import superuser_of

YEARS = 2.5
"""They were kept over so many years up to now."""
MAKERS, MODELS_EACH, SIZES_EACH, ZONES_EACH = 40, 50, 12, 4
ZONES = ("length", "ball_girth", "instep_girth", "heel_width")
STANDS_AT = (270.0, 245.0, 250.0, 64.0)
"""About what a middle size is inside by its label, mm, by zone."""
BANDS = ((3.0, 12.0), (-6.0, 6.0), (-4.0, 10.0), (-2.0, 2.5))
KINDS = ("knit/plate", "leather_lined/plate", "synthetic/plate", "mesh/slip")

MODELS = """
    INSERT INTO shoe_model SELECT (jsonb_populate_record(m, jsonb_build_object('id', gen_random_uuid(),
        'maker', 'Old maker ' || lpad((n / {each})::text, 2, '0'), 'name', 'Model ' || n, 'last', ''))).*
    FROM shoe_model m, generate_series(0, {models} - 1) n WHERE m.id = (
        SELECT m.id FROM shoe_model m JOIN staff p ON p.login = 'ilse' JOIN shop h ON h.id = p.shop_id
        WHERE m.sport = 'football' AND m.chain_id = h.chain_id LIMIT 1);
"""
SIZES = """
    INSERT INTO variant SELECT (jsonb_populate_record(v, jsonb_build_object('id', gen_random_uuid(), 'model_id', m.id,
        'gtin', NULL, 'label', 36 + s.n, 'eu_label', 36 + s.n, 'system', 'eu', 'width', 'regular', 'colour', ''))).*
    FROM variant v, shoe_model m, generate_series(0, {sizes} - 1) s (n)
    WHERE m.maker LIKE 'Old maker %' AND v.id = (
        SELECT v.id FROM variant v JOIN shoe_model m ON m.id = v.model_id WHERE m.sport = 'football' LIMIT 1);
"""


def many(url: str, rows: int, seed: int = 7) -> None:
    """So many rows of evidence of the first shop's chain, and nothing left to learn of them but makers as a whole."""
    rng = np.random.default_rng(seed)
    with psycopg.connect(superuser_of(url)) as cx:
        cx.execute("SET session_replication_role = replica")
        cx.execute(MODELS.format(each=MODELS_EACH, models=MAKERS * MODELS_EACH))
        cx.execute(SIZES.format(sizes=SIZES_EACH))
        found = cx.execute(
            "SELECT m.maker, m.id, v.id, v.eu_label FROM variant v JOIN shoe_model m ON m.id = v.model_id "
            "WHERE m.maker LIKE 'Old maker %' ORDER BY m.maker, m.id, v.eu_label"
        ).fetchall()
        sizes = [(str(r[2]), float(r[3])) for r in found]
        model_of = np.arange(len(sizes)) // SIZES_EACH
        shop = cx.execute(
            "SELECT p.shop_id, h.chain_id, p.id, (SELECT id FROM athlete a WHERE a.shop_id = p.shop_id LIMIT 1) "
            "FROM staff p JOIN shop h ON h.id = p.shop_id WHERE p.login = 'ilse'"
        ).fetchone()
        assert shop is not None
        shop_id, chain_id, staff, athlete = shop
        fitters = [uuid.uuid4() for _ in range(6)]
        for n, name in enumerate(fitters):
            cx.execute(
                "INSERT INTO staff SELECT (jsonb_populate_record(p, jsonb_build_object('id', %s::text, 'login', %s::text, "
                "'name', %s::text))).* FROM staff p WHERE p.id = %s",
                [str(name), f"fitter{n}", f"Fitter {n}", staff],
            )
        fittings = rows // (4 * ZONES_EACH) + 1
        ids = [uuid.UUID(bytes=rng.bytes(16)) for _ in range(fittings)]
        with cx.cursor().copy("COPY fitting (id, shop_id, athlete_id, state, opened_by) FROM STDIN") as copy:
            for n, name in enumerate(ids):
                copy.write_row((name, shop_id, athlete, "settled", fitters[n % 6]))
        departs = _departures(rng, len(sizes), model_of)
        into = "COPY evidence (chain_id, shop_id, fitting_id, variant_id, zone, kind, counts, body, format, staff_id, at) FROM STDIN"
        with cx.cursor().copy(into) as copy:
            end = datetime.now(UTC)
            for n, row in enumerate(_rows(rng, rows, ids, sizes, departs, model_of)):
                fitting, size, zone, kind, body, who = row
                at = end - timedelta(days=YEARS * 365 * (1 - n / rows))
                copy.write_row(
                    (chain_id, shop_id, fitting, size, zone, kind, True, json.dumps(body), 2, fitters[who], at)
                )
        cx.execute("INSERT INTO learn_maker_due (chain_id, maker) SELECT DISTINCT chain_id, maker FROM shoe_model "
                   "WHERE maker LIKE 'Old maker %'")  # fmt: skip
    with psycopg.connect(url, autocommit=True) as cx:
        cx.execute("VACUUM ANALYZE")


def _departures(rng: np.random.Generator, count: int, model_of: np.ndarray) -> np.ndarray:
    """How much roomier each size is than its label says, mm, (sizes, zones)."""
    makers, models = rng.normal(0, 2, (MAKERS, 4)), rng.normal(0, 1.2, (MAKERS * MODELS_EACH, 4))
    found: np.ndarray = makers[model_of // MODELS_EACH] + models[model_of] + rng.normal(0, 0.7, (count, 4))
    return found


def _rows(rng: np.random.Generator, rows: int, ids: list[uuid.UUID], sizes: list[tuple[str, float]],
          departs: np.ndarray, model_of: np.ndarray) -> Any:  # fmt: skip
    """Rows: four pairs a fitting, one of them bought and seen again, four zones each."""
    made = 0
    for n, fitting in enumerate(ids):
        day = date(2023, 1, 1) + timedelta(days=int(n * 1000 / len(ids)))
        who = n % 6
        for pair in range(4):
            at = int(rng.integers(len(sizes)))
            size, label = sizes[at]
            for z, zone in enumerate(ZONES):
                if made >= rows:
                    return
                made += 1
                said = STANDS_AT[z] * (1 + (label - 42) * (0.0247 if z == 0 else 0.02))
                low, high = BANDS[z]
                foot = said + departs[at, z] - (low + high) / 2 + rng.normal(0, 0.5 * (high - low))
                gap = said + departs[at, z] - foot
                common = {"foot_mm": round(foot + rng.normal(0, 0.8), 2), "foot_sigma_mm": 0.8, "measured": "",
                          "on": day.isoformat(), "last": "", "sport": "football", "kind": KINDS[model_of[at] % 4]}  # fmt: skip
                if pair == 3:
                    hours, can = float(rng.integers(5, 90)), 4.0
                    given = min(can * float(rng.uniform(0.6, 1.6)), max(can - gap, 0)) * (1 - np.exp(-hours / 12))
                    body = common | {
                        "seen_mm": round(gap + given + rng.normal(0, 1), 2), "seen_sigma_mm": 1.0,
                        "predicted_mm": round(gap + 1, 2), "predicted_sigma_mm": 1.5, "new_mm": round(gap, 2),
                        "new_sigma_mm": 1.5, "hours": hours, "c_mm": can, "tau_h": 12.0,
                    }  # fmt: skip
                    yield fitting, size, zone, "return", body, who
                    continue
                felt = gap + rng.normal(0, 1.2) - (1.0 if who == 5 else 0.0)
                verdict = "jam" if felt < low - 1.5 else "slack" if felt > high + 1.5 else "fine"
                sides = [["jam", "slack"], ["jam"], ["jam"], ["jam", "slack"]][z]
                if verdict not in sides:
                    verdict = "fine"
                body = common | {"verdict": verdict, "sides": sides, "low_mm": low, "high_mm": high,
                                 "fine_chance": round(float(rng.uniform(0.02, 1)), 2), "version": 0}  # fmt: skip
                yield fitting, size, zone, "trial", body, who
