"""Figures as ratios against a baseline taken in the same run: `./kalon bench`.

Server-side times are medians over HTTP against a running application on the demo data; the baseline is the
health endpoint. Interface times are measured in Chromium; the baseline is one animation frame of 16.7 ms.
"""

from __future__ import annotations

import statistics
import sys
import time
from collections.abc import Callable
from pathlib import Path

import numpy as np
from playwright.sync_api import Page

sys.path.insert(0, str(Path(__file__).parents[1]))

from tests.browser.driver import VIEW, chromium, new_athlete, sign_in
from tests.browser.shots import fitting_of
from tests.made import FEET, climbing, court, cricket, cycling, football, lifting, skating
from tests.running import database_server, demo_database, web

from kalon.core.fit.foot import foot_to_fit
from kalon.core.house import House
from kalon.core.match.rank import rank
from kalon.core.match.shelf import Shelf, Shoe
from kalon.core.rules.engine import Case
from kalon.core.rules.spec import schools_say, spec_for

REPEATS = 15


def median_ms(work: Callable[[], object], repeats: int = REPEATS) -> float:
    """Median time of `work`, after one run to warm up."""
    work()
    taken = []
    for _ in range(repeats):
        began = time.perf_counter()
        work()
        taken.append((time.perf_counter() - began) * 1000)
    return statistics.median(taken)


def line(name: str, ms: float, base: float, limit: float | None = None) -> None:
    """One row: what, milliseconds, ratio to the baseline, and the limit it is held against."""
    against = f"limit {limit:g} ms" if limit else ""
    print(f"{name:44} {ms:9.2f} ms {ms / base:9.1f} × {against}")


def core() -> None:
    """Specs, and ranking a large stockroom."""
    print("core (baseline: the football spec, warm)")
    base = median_ms(lambda: spec_for(football(), FEET))
    briefs = {
        "football": football, "climbing": lambda **v: climbing("trad", **v), "lifting": lifting, "cycling": cycling,
        "court": court, "field": cricket, "ice": skating,
    }  # fmt: skip
    for name, brief in briefs.items():
        masses = iter(np.linspace(50, 90, 400))
        line(f"spec, {name}, a body not seen before",
             median_ms(lambda b=brief, m=masses: spec_for(b(body_kg=float(next(m))), FEET)), base, 5)  # fmt: skip
        line(f"spec, {name}, one answer changed back", median_ms(lambda b=brief: spec_for(b(), FEET)), base, 5)
    house = House()
    line("what every other school says, football",
         median_ms(lambda: schools_say(Case(football(), FEET, house), spec_for(football(), FEET))), base)  # fmt: skip
    rng = np.random.default_rng(1)
    shoes = [
        Shoe(str(i), "football", "synthetic", "plate", 0.0, {"mass_g": 200.0}, {"plate": "artificial_grass"})
        for i in range(2000)
    ]
    length = rng.uniform(220, 310, 100_000)
    shelf = Shelf(
        np.repeat(np.arange(2000), 50),
        np.tile(np.arange(50) / 2 + 35, 2000),
        length[:, None] * np.array([1, 0.9, 0.915, 0.2385]),
        [str(i) for i in range(100_000)],
    )
    spec, foot = spec_for(football(), FEET), foot_to_fit(FEET)
    line("rank 100,000 lines of 2,000 models", median_ms(lambda: rank(shoes, shelf, spec, foot), 5), base)


def api(page: Page, url: str) -> None:
    """Calls that stations make."""
    print("\napi (baseline: /health)")
    base = median_ms(lambda: page.request.get(f"{url}/health"))
    line("/health", base, base)
    found = page.request.get(f"{url}/api/athletes", params={"text": "Sunniva"}).json()[0]["fitting_id"]
    for path in ("", "/spec", "/pull"):
        line(
            f"/api/fittings/…{path}", median_ms(lambda p=path: page.request.get(f"{url}/api/fittings/{found}{p}")), base
        )
    line("/api/today", median_ms(lambda: page.request.get(f"{url}/api/today")), base)


READY = {
    "today": ("", "main a[href$='/return']"),
    "athletes": ("/athletes", "main a[href^='/athletes/']"),
    "stockroom": ("/stockroom", "main [data-model]"),
    "feet": ("Wren Halloway", "[data-drawing=feet]"),
    "brief": ("Tavi Umber", "main [aria-label='The brief so far'] li"),
    "spec": ("Tavi Umber", "[data-drawing=wanted-shoe]"),
    "pull": ("Sunniva Crake", "[data-drawing=foot-in-shoe]"),
    "trial": ("Halden Roe", "main [role=timer]"),
    "settle": ("Fenna Rusk", "main svg[role=img]"),
    "return": ("Casimir Loe", "main svg[role=img]"),
}
"""Where each view is, and what it is for: it counts as open in the frame that shows this."""

WATCH = """selector => new Promise(done => {
  const look = () => document.querySelector(selector)
    ? requestAnimationFrame(() => done(performance.now())) : requestAnimationFrame(look);
  look();
})"""


def opening_ms(page: Page, url: str, selector: str) -> float:
    """From the start of the navigation to the frame after `selector` is there."""
    page.goto(url, wait_until="commit")
    return float(page.evaluate(WATCH, selector))


def views(page: Page, url: str) -> None:
    """Opening each view by its address, as a whole new page, warm."""
    frame = 1000 / 60
    print("\nviews, opened anew with a warm cache (baseline: one frame)")
    for name, (where, selector) in READY.items():
        address = (
            f"{url}{where}" if where in ("", "/athletes", "/stockroom") else f"{fitting_of(page, url, where)}/{name}"
        )
        taken = [opening_ms(page, address, selector) for _ in range(6)][1:]
        line(name, statistics.median(taken), frame, 1000)


SCRIPT_SIZES = """() => performance.getEntriesByType('resource')
  .filter(e => e.name.endsWith('.js')).map(e => e.encodedBodySize)"""
REDRAW = """async () => {
  const input = [...document.querySelectorAll('fieldset')][0].querySelector('input');
  const set = Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, 'value').set;
  const drawing = () => document.querySelector('[data-foot=left]').innerHTML;
  const times = [];
  for (let i = 0; i < 15; i++) {
    const was = drawing();
    const began = performance.now();
    set.call(input, String(240 + i));
    input.dispatchEvent(new Event('input', { bubbles: true }));
    while (drawing() === was) await new Promise(requestAnimationFrame);
    await new Promise(requestAnimationFrame);
    times.push(performance.now() - began);
  }
  return times.sort((a, b) => a - b)[7];
}"""


def redraw(page: Page, url: str) -> None:
    """From a changed foot number to the frame that shows it."""
    new_athlete(page, url, "Redrawn")
    line("a changed foot number redrawn", float(page.evaluate(REDRAW)), 1000 / 60, 100)


RESPEC = """async (field, first = 60) => {
  const set = Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, 'value').set;
  const said = () => document.querySelector('[data-moved]')?.innerText;
  const times = [];
  for (let i = 0; i < 11; i++) {
    const was = said();
    const began = performance.now();
    set.call(field, String(first + 7 * i));
    field.dispatchEvent(new Event('input', { bubbles: true }));
    while (said() === was || said() === '…') await new Promise(requestAnimationFrame);
    await new Promise(requestAnimationFrame);
    times.push(performance.now() - began);
  }
  return times.sort((a, b) => a - b)[5];
}"""


def respec(page: Page, url: str) -> None:
    """From an answer changed in "what if" to the frame that shows the new bands and what moves."""
    page.goto(f"{fitting_of(page, url, 'Kester Vane')}/spec")
    page.locator("[data-drawing=wanted-shoe]").first.wait_for()
    page.get_by_role("button", name="What if").click()
    line(
        "an answer changed, the spec drawn again",
        float(page.get_by_label("Body mass").evaluate(RESPEC)),
        1000 / 60,
        100,
    )


def first_load(url: str) -> None:
    """Compressed scripts of the first load: the sign-in, then Today."""
    with chromium() as browser:
        page = browser.new_page()
        sign_in(page, url)
        page.wait_for_timeout(500)
        sizes: list[int] = page.evaluate(SCRIPT_SIZES)
    print(f"\nfirst load: {len(sizes)} scripts, {sum(sizes) / 1000:.0f} kB compressed (limit 250 kB)")


def main() -> None:
    """Everything, in one run."""
    core()
    with database_server() as server, web(demo_database(server, "bench")) as running:
        first_load(running.url)
        with chromium() as browser:
            page = browser.new_page(viewport=VIEW)  # type: ignore[arg-type]
            sign_in(page, running.url)
            api(page, running.url)
            views(page, running.url)
            redraw(page, running.url)
            respec(page, running.url)


if __name__ == "__main__":
    main()
