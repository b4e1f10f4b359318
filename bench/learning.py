"""What one more follow-up costs a chain that has sold for years: `./kalon bench learning [rows]`.

Forty makers' evidence at half so many rows and at so many (a million unless said), put straight into the database. Of one
maker: learned from nothing; then one follow-up more, and one verdict more, each by the learner's own way from what is
due to what is committed. Figures are processor time, the learner's and its database's; the baseline is the one statement
that counts the maker's evidence. What is learned with one more is held against all learned from nothing again: it must
be the same to a millionth of a millimetre.
"""

from __future__ import annotations

import os
import resource
import sys
import time
from collections.abc import Callable
from pathlib import Path
from typing import Any

import psycopg
from psycopg.rows import dict_row

sys.path.insert(0, str(Path(__file__).parents[1]))

from tests.many import many
from tests.running import database_server, demo_database

from kalon.store.learning import run_due

MAKER = "Old maker 00"
SAME_MM = 1e-6
ONE_MORE = """
    INSERT INTO evidence (chain_id, shop_id, fitting_id, variant_id, zone, kind, counts, body, format, staff_id)
    SELECT e.chain_id, e.shop_id, f.id, e.variant_id, e.zone, e.kind, true, e.body, e.format, e.staff_id
    FROM (SELECT e.*, row_number() OVER (PARTITION BY e.zone ORDER BY e.id) AS n FROM evidence e
          JOIN variant v ON v.id = e.variant_id JOIN shoe_model m ON m.id = v.model_id
          WHERE m.maker = %(maker)s AND e.kind = %(kind)s) e
    CROSS JOIN (SELECT id FROM fitting WHERE id NOT IN (SELECT fitting_id FROM evidence) LIMIT 1) f WHERE e.n = 7
"""
"""One pair of the maker's seen once more in every zone, on a foot of its own."""
DUE = "INSERT INTO learn_maker_due (chain_id, maker) SELECT DISTINCT chain_id, maker FROM shoe_model WHERE maker = %s"
COUNT = """
    SELECT count(*) FROM evidence e JOIN variant v ON v.id = e.variant_id JOIN shoe_model m ON m.id = v.model_id
    WHERE m.maker = %s
"""
KNOWN = """
    SELECT l.zone, l.model_id, l.variant_id, l.mean_mm, l.sd_mm FROM learned l WHERE l.maker = %(maker)s AND l.version =
        (SELECT max(version) FROM learned_maker WHERE maker = %(maker)s)
"""


def spent(pid: int) -> float:
    """Processor time of a process so far, s."""
    fields = Path(f"/proc/{pid}/stat").read_text().rsplit(")", 1)[1].split()
    return (int(fields[11]) + int(fields[12])) / os.sysconf("SC_CLK_TCK")


def main() -> None:
    """Half so many rows, and so many."""
    os.environ["KALON_LOG"] = "ERROR"
    rows = int(sys.argv[1]) if len(sys.argv) > 1 else 1_000_000
    with database_server() as server:
        for count in (rows // 2, rows):
            url = demo_database(server, "learning")
            many(url, count)
            with psycopg.connect(url, row_factory=dict_row, autocommit=True) as cx:
                of_chain(cx, count)


def of_chain(cx: psycopg.Connection[dict[str, Any]], count: int) -> None:
    """One chain's figures."""
    cx.execute("DELETE FROM learn_maker_due")
    cx.execute("DELETE FROM learned_fitter WHERE maker = ''")
    cx.execute("DELETE FROM learn_due")

    def cost(work: Callable[[], object]) -> float:
        own, there = time.process_time(), spent(cx.info.backend_pid)
        work()
        return time.process_time() - own + spent(cx.info.backend_pid) - there

    def learn() -> None:
        cx.execute(DUE, [MAKER])
        run_due(cx)

    def one_more(kind: str) -> None:
        cx.execute(ONE_MORE, {"maker": MAKER, "kind": kind})

    base = max(cost(lambda: [cx.execute(COUNT, [MAKER]).fetchone() for _ in range(10)]) / 10, 1e-3)
    print(f"{count:,} rows of evidence; the maker's counted in {1000 * base:.0f} ms")
    first = cost(learn)
    told = [("learned from nothing, curves of all makers with it", first)]
    cx.execute("DELETE FROM learn_start")
    told.append(("learned from nothing", cost(learn)))
    for kind in ("return", "trial"):
        one_more(kind)
        told.append((f"one {kind} more", cost(learn)))
    known = {(r["zone"], r["model_id"], r["variant_id"]): r for r in cx.execute(KNOWN, {"maker": MAKER}).fetchall()}
    cx.execute("DELETE FROM learn_start")
    cx.execute("UPDATE chain SET gives_summed_by = ''")
    learn()
    anew = {(r["zone"], r["model_id"], r["variant_id"]): r for r in cx.execute(KNOWN, {"maker": MAKER}).fetchall()}
    assert known.keys() == anew.keys()
    apart = max(abs(known[k][n] - anew[k][n]) for k in known for n in ("mean_mm", "sd_mm"))
    for what, s in told:
        print(f"  {what:52} {s:8.2f} s {s / base:9.1f} ×")
    print(f"  against all from nothing at most {apart:.1e} mm apart ({len(known)} numbers)")
    print(f"  most memory so far {resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024:.0f} MB")
    assert apart < SAME_MM


if __name__ == "__main__":
    main()
