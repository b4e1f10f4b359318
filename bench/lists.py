"""A supplier's list of 100,000 lines into a shop that has nothing: `./kalon bench lists [lines]`.

End to end over HTTP on a fresh database served as for real: sent, read in a worker, every line judged, written, a
fitting pulled from it, and taken back; other requests meanwhile. The baseline is the same request on a quiet server.
"""

from __future__ import annotations

import csv
import io
import statistics
import sys
import threading
import time
import uuid
from pathlib import Path

import httpx
import psycopg
from psycopg.rows import dict_row

sys.path.insert(0, str(Path(__file__).parents[1]))

from bench.shelf import memory_mb
from tests.api.calls import ready_to_pull
from tests.running import database_server, web

from kalon.core.sheets.cells import check_digit
from kalon.files.sheets import write
from kalon.store import staff
from kalon.store.migrate import migrate

LIMIT_S = 60.0
HEADINGS = ["Brand", "Style", "Category", "UK", "Fitting", "Colour", "Qty", "RRP", "EAN", "Article no", "Season"]
SPORTS = ("football", "climbing", "court", "cycling")


def rows(lines: int) -> list[list[object]]:
    """A made-up supplier's list: half sizes, widths, colours, bar codes."""
    found: list[list[object]] = []
    model = 0
    while len(found) < lines:
        model += 1
        for half in range(25):
            for colour in ("red", "slate"):
                number = len(found)
                digits = f"{300_000_000_000 + number}"
                found.append([
                    f"Maker {model % 60}", f"Style {model:05}", SPORTS[model % 4], 2 + half / 2, "D", colour, 2,
                    f"{60 + model % 90},50", digits + str(check_digit(digits.zfill(13))), f"A{number:07}", "autumn",
                ])  # fmt: skip
    return found[:lines]


def main(lines: int) -> None:
    """Both as CSV and as XLSX."""
    listed = rows(lines)
    out = io.StringIO()
    csv.writer(out, delimiter=";").writerows([HEADINGS, *listed])
    files = {"CSV": out.getvalue().encode(), "XLSX": b"".join(write("xlsx", HEADINGS, listed))}
    with database_server() as server:
        for kind, data in files.items():
            url = server.ensure_database(f"bare_{kind.lower()}", fresh=True)
            migrate(url)
            with psycopg.connect(url, row_factory=dict_row) as cx:
                staff.add_staff(cx, staff.add_shop(cx, "Bare"), "first", "First", "manager", "last-and-sock-4")
            with web(url) as running, httpx.Client(base_url=running.url, timeout=200) as client:
                client.post("/api/session", json={"login": "first", "password": "last-and-sock-4"}).raise_for_status()
                one(running, client, kind, data)


def one(running: object, client: httpx.Client, kind: str, data: bytes) -> None:
    """One list, with somebody else asking all the while."""
    taken: list[float] = []
    quiet = [timed(lambda: client.get("/api/rack").raise_for_status()) for _ in range(20)]
    stop = threading.Event()
    other = httpx.Client(base_url=client.base_url, cookies=client.cookies, timeout=60)

    def ask() -> None:
        while not stop.is_set():
            taken.append(timed(lambda: other.get("/api/rack").raise_for_status()))
            time.sleep(0.1)

    asking = threading.Thread(target=ask)
    asking.start()
    steps: dict[str, float] = {}
    sheet = str(uuid.uuid4())
    answer: dict[str, object] = {}

    def step(name: str, call: object) -> None:
        nonlocal answer
        began = time.perf_counter()
        said = call()  # type: ignore[operator]
        said.raise_for_status()
        answer = said.json()
        steps[name] = time.perf_counter() - began

    step("sent, read and judged", lambda: client.post("/api/sheets", params={"id": sheet, "name": kind}, content=data))
    settings = dict(answer["settings"]) | {"pairs": "received"}  # type: ignore[call-overload]
    step("read anew", lambda: client.put(f"/api/sheets/{sheet}/settings", json=settings))
    print(f"{kind}, {len(data) / 1e6:.1f} MB: {answer['counts']}")
    step("written", lambda: client.post(f"/api/sheets/{sheet}/write"))
    stop.set()
    asking.join()
    for name, took in steps.items():
        print(f"  {name:24} {took:6.1f} s")
    loop = statistics.median(timed(additions) for _ in range(5))
    whole = sum(steps.values())
    print(f"  {'together':24} {whole:6.1f} s   limit {LIMIT_S:.0f} s; ten million additions take {loop:.2f} s here")
    print(f"  the rack meanwhile: median {statistics.median(taken) * 1000:.0f} ms, longest {max(taken) * 1000:.0f} ms, "
          f"quiet {statistics.median(quiet) * 1000:.0f} ms: {statistics.median(taken) / statistics.median(quiet):.1f} ×")  # fmt: skip
    fitting = ready_to_pull(client)
    pull = timed(lambda: client.get(f"/api/fittings/{fitting}/pull").raise_for_status())
    places = client.get(f"/api/fittings/{fitting}/pull").json()["places"]
    print(f"  pulled from it in {pull * 1000:.0f} ms: {places[0]['pair']['name']}, {places[0]['hope']}, known from "
          f"{places[0]['pair']['known_from']}; memory {memory_mb(running):.0f} MB")  # type: ignore[arg-type]  # fmt: skip
    client.put(f"/api/fittings/{fitting}/tray/{places[0]['pair']['id']}").raise_for_status()
    back = timed(lambda: client.post(f"/api/sheets/{sheet}/undo").raise_for_status())
    print(f"  taken back in {back:.1f} s")


def additions() -> None:
    """How fast this machine is just now."""
    total = 0
    for i in range(10_000_000):
        total += i


def timed(call: object) -> float:
    """Seconds a call takes."""
    began = time.perf_counter()
    call()  # type: ignore[operator]
    return time.perf_counter() - began


if __name__ == "__main__":
    main(int(sys.argv[1]) if len(sys.argv) > 1 else 100_000)
