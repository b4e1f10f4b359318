"""What the ledger costs a chain that has sold for years: `./kalon bench ledger [rows]`.

Forty makers' evidence at half so many rows and at so many (420,000 unless said), put straight into the database and
counted once by the migration's own statement; the page asked for over HTTP, one call after the other. The bound is
`/health` of the same run.
"""

from __future__ import annotations

import os
import sys
import time
from pathlib import Path

import httpx
import psycopg

sys.path.insert(0, str(Path(__file__).parents[1]))

from tests.api.calls import signed_in
from tests.many import many
from tests.running import database_server, demo_database, superuser_of, web

MIGRATION = Path(__file__).parents[1] / "src" / "kalon" / "store" / "migrations" / "0036_came_true.sql"
COUNTS = "CREATE TEMPORARY TABLE stood"
"""Where the migration's counting begins."""
TIMES = 15


def counted(url: str) -> None:
    """Count what stands, as the migration does for a shop that has years behind it."""
    said = MIGRATION.read_text(encoding="utf-8").partition(COUNTS)
    with psycopg.connect(superuser_of(url)) as cx:
        cx.execute("DELETE FROM came_true; DELETE FROM gap_seen")
        cx.execute("".join(said[1:]))
        rows = cx.execute("SELECT count(*), sum(count) FROM came_true").fetchone()
        assert rows
        print(f"  {rows[0]:,} rows count {rows[1]:,} verdicts")
    with psycopg.connect(superuser_of(url), autocommit=True) as cx:
        cx.execute("VACUUM ANALYZE")


def took(client: httpx.Client, path: str) -> list[float]:
    """Milliseconds of some calls, one after the other, the quickest first."""
    found = []
    for _ in range(TIMES):
        begun = time.perf_counter()
        client.get(path).raise_for_status()
        found.append(1000 * (time.perf_counter() - begun))
    return sorted(found)


def main() -> None:
    """Half so many rows, and so many."""
    os.environ["KALON_LOG"] = "ERROR"
    rows = int(sys.argv[1]) if len(sys.argv) > 1 else 420_000
    with database_server() as server:
        for count in (rows // 2, rows):
            url = demo_database(server, "ledger")
            many(url, count)
            print(f"{count:,} rows of evidence")
            counted(url)
            with web(url) as running:
                client = signed_in(running, "marrow")
                for path in ("/health", "/api/ledger", "/api/ledger/evidence?maker=Old+maker+00"):
                    each = took(client, path)
                    print(f"  {path}: {each[len(each) // 2]:.1f} ms ({each[0]:.1f} to {each[-1]:.1f})", flush=True)


if __name__ == "__main__":
    main()
