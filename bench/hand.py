"""What a hurried hand feels on a busy machine: `./kalon bench hand`.

Two loops keep two cores busy while a number is typed on Feet of an athlete with sixty earlier visits and an answer is
changed on Spec. The baseline is one animation frame of 16.7 ms, as it was seen with the loops running.
"""

from __future__ import annotations

import subprocess
import sys
import time
import uuid
from collections.abc import Iterator
from contextlib import contextmanager
from datetime import date, timedelta
from pathlib import Path

import httpx
from playwright.sync_api import Page

sys.path.insert(0, str(Path(__file__).parents[1]))

from bench.run import RESPEC
from tests.api.calls import new_fitting, patch, signed_in
from tests.api.test_carried import backdate
from tests.browser.driver import VIEW, chromium, sign_in
from tests.browser.shots import fitting_of
from tests.made import gauge_paths
from tests.running import database_server, demo_database, web

VISITS, LOOPS = 60, 2
LONG_MS, DRAWN_MS = 50, 100
WATCH = """() => { window.long = []; new PerformanceObserver(list =>
  window.long.push(...list.getEntries().map(e => e.duration))).observe({type: 'longtask'}); }"""
FRAMES = """async () => { const began = performance.now();
  for (let i = 0; i < 60; i++) await new Promise(requestAnimationFrame);
  return (performance.now() - began) / 60; }"""


@contextmanager
def busy() -> Iterator[None]:
    """Two loops that never rest."""
    loops = [subprocess.Popen([sys.executable, "-c", "while True: pass"]) for _ in range(LOOPS)]
    try:
        yield
    finally:
        for loop in loops:
            loop.kill()
            loop.wait()


def visited(client: httpx.Client, url: str) -> str:
    """An open fitting of an athlete who was measured sixty times before, a fortnight apart."""
    born = (date.today() - timedelta(days=14 * 365)).isoformat()
    body = {"change_id": str(uuid.uuid4()), "name": "Sixty Visits", "born_on": born}
    athlete = str(client.post("/api/athletes", json=body).json()["id"])
    for i in range(VISITS, -1, -1):
        fitting = new_fitting(client, athlete)
        patch(client, fitting, "feet", gauge_paths(length_mm=250 - i / 4))
        backdate(url, fitting, 14 * i)
    return fitting


def typing(page: Page, address: str) -> tuple[float, int]:
    """The longest task while numbers are typed and the earlier visits lie under, ms; and how many were too long."""
    page.goto(address)
    page.locator("[data-drawing=feet]").wait_for()
    page.get_by_role("radio", name="earlier").click()
    page.wait_for_load_state("networkidle")
    page.evaluate(WATCH)
    field = page.get_by_role("group", name="Left", exact=True).get_by_role("textbox", name="Length")
    for number in ("251", "252.5", "249", "253"):
        field.fill("")
        page.keyboard.type(number, delay=90)
        page.locator('[data-saved="saved"]').wait_for()
        page.wait_for_timeout(400)
    tasks: list[float] = page.evaluate("window.long")
    return max(tasks, default=0.0), sum(t > LONG_MS for t in tasks)


def main() -> None:
    """Print each figure against the frame of the same run."""
    with database_server() as server:
        database = demo_database(server, "hand")
        with web(database) as running, chromium() as browser:
            client = signed_in(running)
            began = time.perf_counter()
            address = f"{running.url}/fittings/{visited(client, database)}/feet"
            print(f"{VISITS} visits made in {time.perf_counter() - began:.0f} s")
            page = browser.new_page(viewport=VIEW)  # type: ignore[arg-type]
            sign_in(page, running.url)
            for loaded in (False, True):
                with busy() if loaded else _still():
                    frame = float(page.evaluate(FRAMES))
                    longest, many = typing(page, address)
                    page.goto(f"{fitting_of(page, running.url, 'Kester Vane')}/spec")
                    page.locator("[data-drawing=wanted-shoe]").first.wait_for()
                    page.get_by_role("button", name="What if").click()
                    spec = float(page.get_by_label("Body mass").evaluate(RESPEC, 63 if loaded else 60))
                print(f"\n{'two busy loops' if loaded else 'a still machine'}, one frame {frame:.1f} ms")
                print(f"  feet, {VISITS} visits: longest task {longest:6.1f} ms {longest / frame:5.1f} ×, "
                      f"{many} above {LONG_MS} ms")  # fmt: skip
                print(f"  spec, a changed answer drawn {spec:6.1f} ms {spec / frame:5.1f} × (limit {DRAWN_MS} ms)")


@contextmanager
def _still() -> Iterator[None]:
    yield


if __name__ == "__main__":
    main()
