"""Database time and pages of 8 kB of each page in a shop of 20,000 athletes: `./kalon bench large`.

The baseline is the statement that finds the session."""

from __future__ import annotations

import os
import statistics
import sys
from pathlib import Path

import psycopg

sys.path.insert(0, str(Path(__file__).parents[1]))

from tests.api.test_large import PAGES
from tests.explained import asked_by
from tests.large import a_fitting_of_each, grow
from tests.running import database_server, demo_database

LIMIT_MS = 50.0
REPEATS = 7


def main() -> None:
    """Every page, in one run."""
    os.environ["KALON_LOG"] = "ERROR"
    with database_server() as server:
        url = demo_database(server, "large")
        grow(url)
        with psycopg.connect(url) as cx:
            names = a_fitting_of_each(cx)
        with asked_by(url) as (client, asked):
            base = 0.0
            for path in ("/api/session", *PAGES):
                taken, pages, statements = [], 0, 0
                for _ in range(REPEATS):
                    asked.questions.clear()
                    assert client.get(path.format(**names)).status_code == 200
                    taken.append(sum(q.ms for q in asked.questions))
                    pages, statements = sum(q.pages for q in asked.questions), len(asked.questions)
                ms = statistics.median(taken)
                base = base or ms
                print(
                    f"{path:44} {ms:7.2f} ms {ms / base:6.1f} × {pages:6} pages {statements:3} statements limit {LIMIT_MS:g} ms"
                )


if __name__ == "__main__":
    main()
