"""Choosing among many shoes: `./kalon bench shelf [lines over HTTP]`.

Core: ranking 10,000, 100,000 and 1,000,000 lines (real shoes: ten properties, three choices, vetoes) against one bare
numpy pass over the same lines in the same run: gaps, settling, one normal chance a zone, and a sort. Over HTTP: a
fitting's Pull, the rack's first page and its totals with so many lines of one sport, against the demo's own, and the
most memory the web process took.
"""

from __future__ import annotations

import statistics
import sys
import time
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path
from typing import Any

import numpy as np
import psycopg
from scipy.special import ndtr

sys.path.insert(0, str(Path(__file__).parents[1]))

from tests.api.calls import ready_to_pull, signed_in
from tests.made import FEET, football
from tests.running import Web, database_server, demo_database, superuser_of, web

from kalon.core.fit.foot import foot_to_fit
from kalon.core.fit.size import SHOE_SIGMA_MM, capacities
from kalon.core.fit.stretch import UPPERS, give_of, settled_stretch
from kalon.core.match.rank import rank
from kalon.core.match.shelf import Shelf, Shoe
from kalon.core.rules.scales import CHOICES
from kalon.core.rules.spec import fit_target, spec_for

SIZES = 50
SPEC, FOOT = spec_for(football(surface="artificial_grass", history=["knee"]), FEET), foot_to_fit(FEET)
PROPERTIES = ("mass_g", "bend_n_mm_per_deg", "heel_counter", "cushion", "twist_n_mm_per_deg", "collar_mm",
              "heel_stack_mm", "drop_mm", "arch_support", "last_curve_deg")  # fmt: skip
LIMIT_RATIO, LIMIT_PULL_S, LIMIT_RACK_S, LIMIT_MB = 2.5, 0.3, 1.0, 300


def made(lines: int) -> tuple[list[Shoe], Shelf]:
    """So many lines, fifty of each shoe."""
    rng = np.random.default_rng(3)
    shoes = []
    for i in range(lines // SIZES):
        upper = UPPERS[i % len(UPPERS)]
        values = {n: float(v) for n, v in zip(PROPERTIES, rng.uniform(2, 300, len(PROPERTIES)), strict=True)}
        choices = {"plate": CHOICES["plate"][i % 7], "closure": CHOICES["closure"][i % 9], "upper": upper}
        shoes.append(Shoe(str(i), "football", upper, "plate", 0.0, values, choices))
    label = np.tile(np.arange(SIZES) / 2 + 30, len(shoes))
    length = label * 20 / 3 + rng.normal(0, 2, lines)
    inner = length[:, None] * np.array([1, 0.9, 0.915, 0.2385])
    sigma = np.broadcast_to(np.array([3.0, 5.7, 6.2, 1.7]), inner.shape)
    shoe = np.repeat(np.arange(len(shoes)), SIZES)
    return shoes, Shelf(shoe, label, inner, [str(i) for i in range(lines)], sigma)


def bare(shoes: list[Shoe], shelf: Shelf) -> None:
    """The least anybody could do: every line's gaps, settled, a normal chance a zone, and the best of each shoe."""
    give = [give_of(s.upper, s.build) for s in shoes]
    capacity = capacities(
        np.array([g.length_mm for g in give])[shelf.shoe],
        np.array([g.girth_pct for g in give])[shelf.shoe],
        shelf.inner,
    )
    new = shelf.inner - FOOT.larger
    settled = new + settled_stretch(-new, capacity)
    band = fit_target(SPEC, "synthetic").band()
    sigma = np.sqrt(FOOT.sigma**2 + SHOE_SIGMA_MM**2)
    chance = np.prod(ndtr((band.high - settled) / sigma) - ndtr((band.low - settled) / sigma), axis=1)
    np.lexsort((-chance, shelf.shoe))


def median_s(work: Callable[[], Any], repeats: int) -> float:
    """Median of some runs after one to warm up, seconds."""
    work()
    taken = []
    for _ in range(repeats):
        began = time.perf_counter()
        work()
        taken.append(time.perf_counter() - began)
    return statistics.median(taken)


def core() -> None:
    """Ranking against the bare pass."""
    print(f"ranking, thirty places explained (limit {LIMIT_RATIO} × the bare pass)")
    for lines, repeats in ((10_000, 15), (100_000, 7), (1_000_000, 3)):
        shoes, shelf = made(lines)
        base = median_s(lambda s=shoes, h=shelf: bare(s, h), repeats)  # type: ignore[misc]
        whole = median_s(lambda s=shoes, h=shelf: rank(s, h, SPEC, FOOT, most=30), repeats)  # type: ignore[misc]
        print(f"{lines:>9,} lines   bare {base * 1000:8.1f} ms   rank {whole * 1000:8.1f} ms   {whole / base:5.2f} ×")


GROW = """
INSERT INTO shoe_model (id, chain_id, maker, name, sport, upper, build, properties, choices)
    SELECT md5('model' || i)::uuid, s.chain_id, 'Bulk ' || i % 40, 'Model ' || lpad(i::text, 5, '0'), 'football',
           (ARRAY['synthetic','knit','leather_thin','microfibre'])[1 + i % 4], 'plate',
           jsonb_build_object('mass_g', 180 + i % 120, 'bend_n_mm_per_deg', 100 + i % 250, 'heel_counter', 3 + i % 6,
               'cushion', 1 + i % 4, 'twist_n_mm_per_deg', 120 + i % 260, 'collar_mm', 45 + i % 40,
               'heel_stack_mm', 8 + i % 9, 'drop_mm', i % 8, 'arch_support', i % 10, 'last_curve_deg', i % 12),
           jsonb_build_object('plate', (ARRAY['artificial_grass','firm_ground_round','firm_ground_blade','turf'])
               [1 + i % 4], 'closure', (ARRAY['laces','laceless'])[1 + i % 2])
    FROM generate_series(1, {models}) i, (SELECT h.chain_id FROM shop h JOIN staff p ON p.shop_id = h.id
                                            WHERE p.login = 'ilse') s;
INSERT INTO model_price (shop_id, chain_id, model_id, price_minor, currency)
    SELECT p.shop_id, m.chain_id, m.id, 5000 + right(m.name, 5)::int % 9000, 'EUR' FROM shoe_model m,
           (SELECT shop_id FROM staff WHERE login = 'ilse') p WHERE m.maker LIKE 'Bulk %';
INSERT INTO variant (id, chain_id, model_id, width, system, label, eu_label, length_label_mm, ball_girth_label_mm,
                     instep_girth_label_mm, heel_width_label_mm)
    SELECT md5(m.id::text || n)::uuid, m.chain_id, m.id, 'regular', 'eu', 30 + n / 2.0, 30 + n / 2.0, l, l * 0.9,
           l * 0.915, l * 0.2385
    FROM shoe_model m, generate_series(0, 49) n, LATERAL (SELECT (30 + n / 2.0) * 20 / 3 AS l) x
    WHERE m.maker LIKE 'Bulk %';
INSERT INTO stock_line (id, shop_id, chain_id, variant_id, on_hand)
    SELECT v.id, p.shop_id, v.chain_id, v.id, 1 FROM variant v JOIN shoe_model m ON m.id = v.model_id,
           (SELECT shop_id FROM staff WHERE login = 'ilse') p WHERE m.maker LIKE 'Bulk %';
INSERT INTO movement (shop_id, stock_line_id, kind, pairs, change_id)
    SELECT l.shop_id, l.id, 'there_before', 1, l.id FROM stock_line l JOIN variant v ON v.id = l.variant_id
    JOIN shoe_model m ON m.id = v.model_id WHERE m.maker LIKE 'Bulk %';
"""


def grow(url: str, lines: int) -> None:
    """So many lines more of one sport."""
    with psycopg.connect(superuser_of(url)) as cx:
        cx.execute("SET session_replication_role = replica")
        for statement in GROW.split(";\n"):
            if statement.strip():
                cx.execute(statement.replace("{models}", str(lines // SIZES)))
    with psycopg.connect(url, autocommit=True) as cx:
        cx.execute("VACUUM ANALYZE")


def memory_mb(running: Web) -> float:
    """The most the web process ever held."""
    assert running.process
    status = Path(f"/proc/{running.process.pid}/status").read_text()
    return int(status.split("VmHWM:")[1].split()[0]) / 1024


def over_http(lines: int) -> None:
    """Pull and the rack at size, end to end."""
    print(f"\nover HTTP, {lines:,} lines of one sport (limits: Pull {LIMIT_PULL_S} s, rack {LIMIT_RACK_S} s, "
          f"{LIMIT_MB} MB)")  # fmt: skip
    with database_server() as server:
        url = demo_database(server, "shelf")
        with web(url) as running:
            client = signed_in(running)
            fitting = ready_to_pull(client)
            paths = {"pull": f"/api/fittings/{fitting}/pull", "rack, first page": "/api/rack", "rack, totals":
                     "/api/rack/totals", "rack, a text": "/api/rack?text=model+0199", "rack, a size": "/api/rack?text=42.5",
                     "rack, nothing found": "/api/rack?text=nosuchshoe"}  # fmt: skip
            base = {name: median_s(lambda p=path: client.get(p).raise_for_status(), 5)  # type: ignore[misc]
                    for name, path in paths.items()}  # fmt: skip
            before = memory_mb(running)
            grow(url, lines)
            for name, path in paths.items():
                took = median_s(lambda p=path: client.get(p).raise_for_status(), 5)  # type: ignore[misc]
                print(
                    f"{name:22} demo {base[name] * 1000:7.1f} ms   here {took * 1000:8.1f} ms   {took / base[name]:5.1f} ×"
                )
            print(f"{'memory, most':22} demo {before:7.0f} MB   here {memory_mb(running):8.0f} MB")
            pull = paths["pull"]

            def four() -> None:
                with ThreadPoolExecutor(4) as several:
                    for answer in several.map(lambda _: client.get(pull), range(4)):
                        answer.raise_for_status()

            def moved() -> None:
                with psycopg.connect(url) as cx:
                    cx.execute(
                        "UPDATE stock_line SET on_hand = 1 - on_hand WHERE id = (SELECT l.id FROM stock_line l JOIN "
                        "variant v ON v.id = l.variant_id JOIN shoe_model m ON m.id = v.model_id "
                        "WHERE m.maker LIKE 'Bulk %' ORDER BY l.id LIMIT 1)"
                    )
                client.get(pull).raise_for_status()

            health = median_s(lambda: client.get("/health").raise_for_status(), 50)
            print(f"{'the platform, /health':22} {health * 1000:12.2f} ms")
            for name, work in (("four pulls at once", four), ("pull, a pair moved", moved)):
                took = median_s(work, 5)
                print(f"{name:22} {took * 1000:28.1f} ms   {took / health:5.0f} × /health")
            print(f"{'memory, with four':22} demo {before:7.0f} MB   here {memory_mb(running):8.0f} MB")


if __name__ == "__main__":
    core()
    over_http(int(sys.argv[1]) if len(sys.argv) > 1 else 100_000)
