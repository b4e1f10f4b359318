"""A whole fitting of every sport, by keys and by touch: `./kalon bench keys [sports …]`.

Counted are the keys (a chord is one), the touches (what is typed comes from the keyboard on the glass and is not), and
the tasks that kept the page from answering for more than 50 ms, with the longest. On a machine with nothing else to do.
"""

from __future__ import annotations

import re
import sys
from collections.abc import Callable
from pathlib import Path

from playwright.sync_api import Browser, Page, expect

sys.path.insert(0, str(Path(__file__).parents[1]))

from tests.api.calls import signed_in
from tests.browser.driver import ON, VIEW, Keys, chromium, sign_in
from tests.running import database_server, demo_database, web

FEET = ["262", "101", "246", "250", "65.5"]
MASS = "71"
LONG_MS = 50
WATCH = """(() => { window.long = []; new PerformanceObserver(list => window.long.push(...list.getEntries().map(e =>
  [Math.round(e.duration), location.pathname.split('/').at(-1) || 'today']))).observe({type: 'longtask', buffered: true}); })()"""
"""Tasks too long for a hand, and where; gathered over a whole page's life."""
AT = "() => document.querySelector('[data-question][data-current]')?.dataset.question ?? ''"
MOST_QUESTIONS = 14


def seen(page: Page) -> None:
    """As long as anybody takes to see what came."""
    page.wait_for_timeout(1300)


def on_from(page: Page, before: str) -> str:
    """The question the keys are at, once it is another than before."""
    page.wait_for_function(f"before => ({AT})() !== before", arg=before, timeout=4000)
    return str(page.evaluate(AT))


def by_keys(page: Page, name: str, digit: int) -> int:
    """The keys of a whole fitting; what may be left open is left as usual."""
    keys = Keys(page)
    keys("/", f"{name} by keys", "Enter")
    keys("Enter")
    for number in FEET + FEET:
        keys(number, "Enter")
    keys("Enter")
    page.locator("[data-question]").first.wait_for()
    keys(str(digit % 10))
    at = on_from(page, "sport")
    for _ in range(MOST_QUESTIONS):
        if not at:
            break
        needed = page.locator("[aria-current=step]").get_by_text("needed").count()
        if at == "body_kg":
            keys(MASS, "Enter")
        elif needed:
            keys("1")
        else:
            keys("Enter")
        at = on_from(page, at)
    keys(ON)
    page.locator("[data-drawing=wanted-shoe]").first.wait_for()
    keys(ON)
    page.locator("[data-drawing=foot-in-shoe]").wait_for()
    keys("Enter")
    page.get_by_role("button", name="Put back").wait_for()
    keys(ON)
    page.get_by_role("list", name="Tests").wait_for()
    keys("1", "p", ON)
    settle = page.get_by_role("button", name="Settle on this pair")
    settle.wait_for()
    page.locator('[data-saved="saved"]').wait_for()
    seen(page)
    expect(settle).to_be_enabled()
    keys("Enter")
    page.get_by_text("Settled on").wait_for()
    seen(page)
    keys("Enter")
    page.get_by_text(re.compile("^Booked for")).wait_for()
    keys(ON, "15", "Enter", "-2")
    page.get_by_text("Seen against predicted").wait_for()
    keys(ON)
    closed = page.get_by_role("button", name="Follow-up closed")
    page.wait_for_timeout(1500)
    if not closed.count():
        keys("Enter")
    closed.wait_for()
    return keys.pressed


def by_touch(page: Page, name: str) -> int:
    """The touches of a whole fitting."""
    made = 0

    def touch(role: str, called: str | re.Pattern[str]) -> None:
        nonlocal made
        page.get_by_role(role, name=called).first.tap()  # type: ignore[arg-type]
        made += 1

    touch("link", "Athletes")
    touch("button", "New athlete")
    page.keyboard.type(f"{name} by touch")
    touch("button", "Add and begin")
    page.locator("[data-drawing=feet]").wait_for()
    for number in FEET + FEET:
        page.keyboard.type(number)
        page.keyboard.press("Enter")
    touch("button", "On to Brief")
    page.locator("[data-question]").first.wait_for()
    touch("radio", re.compile(f"^{re.escape(name)}", re.I))
    at = on_from(page, "sport")
    for _ in range(MOST_QUESTIONS):
        needed = page.locator("[aria-current=step]").get_by_text("needed").count()
        if at == "body_kg":
            page.keyboard.type(MASS)
        elif needed:
            page.locator(f'[data-question="{at}"] [data-digits] button').first.tap()
            made += 1
            at = on_from(page, at)
            continue
        if page.locator("nav, footer, main ~ *").get_by_role("button", name="On to Spec").count() and at != "body_kg":
            break
        if page.get_by_text("needed").count() <= (1 if at == "body_kg" else 0):
            break
        touch("button", "Next")
        at = on_from(page, at)
    touch("button", "On to Spec")
    page.locator("[data-drawing=wanted-shoe]").first.wait_for()
    touch("button", "On to Pull")
    page.locator("[data-drawing=foot-in-shoe]").wait_for()
    touch("button", "Into the tray")
    page.get_by_role("button", name="Put back").wait_for()
    touch("button", "On to Trial")
    page.get_by_role("list", name="Tests").wait_for()
    page.get_by_role("list", name="Tests").get_by_role("radio", name="Pass").first.tap()
    made += 1
    touch("radio", "Passes")
    touch("button", "On to Settle")
    seen(page)
    touch("button", "Settle on this pair")
    page.get_by_text("Settled on").wait_for()
    page.get_by_role("button", name="Book the follow-up").scroll_into_view_if_needed()
    seen(page)
    touch("button", "Book the follow-up")
    page.get_by_text(re.compile("^Booked for")).wait_for()
    touch("button", "On to Return")
    page.get_by_label("Hours worn").wait_for()
    page.keyboard.type("15")
    page.keyboard.press("Enter")
    page.keyboard.type("-2")
    page.get_by_text("Seen against predicted").wait_for()
    seen(page)
    touch("button", "Close the follow-up")
    page.get_by_role("button", name="Follow-up closed").wait_for()
    return made


def counted(browser: Browser, url: str, do: Callable[[Page], int]) -> tuple[int, list[tuple[int, str]]]:
    """How many were made, and the tasks that were too long."""
    context = browser.new_context(viewport=VIEW, has_touch=True, base_url=url)
    page = context.new_page()
    page.set_default_timeout(15_000)
    page.add_init_script(WATCH)
    try:
        sign_in(page, url)
        page.wait_for_load_state("networkidle")
        page.evaluate("window.long.length = 0")
        made = do(page)
        tasks = [(int(ms), str(where)) for ms, where in page.evaluate("window.long")]
        return made, [t for t in tasks if t[0] > LONG_MS]
    finally:
        context.close()


def main(*only: str) -> int:
    """Every sport once by keys, once by touch; nought unless one could not be done."""
    failed = 0
    with database_server() as server, web(demo_database(server, "keys")) as running, chromium() as browser:
        words = signed_in(running).get("/api/vocabulary").json()["sports"]
        print(f"{'':22} keys  touches  too long (ms, where)")
        for digit, sport in enumerate(words, start=1):
            name = str(sport["name"])
            if only and sport["slug"] not in only:
                continue
            try:
                keys, long = counted(browser, running.url, lambda p, n=name, d=digit: by_keys(p, n, d))  # type: ignore[misc]
                touches, more = counted(browser, running.url, lambda p, n=name: by_touch(p, n))  # type: ignore[misc]
            except Exception as error:
                failed += 1
                print(f"{name:22} not done: {type(error).__name__} {str(error).splitlines()[0][:160]}", flush=True)
                continue
            told = ", ".join(f"{ms} {where}" for ms, where in long + more) or "none"
            print(f"{name:22} {keys:4}  {touches:7}  {told}", flush=True)
    return failed


if __name__ == "__main__":
    sys.exit(main(*sys.argv[1:]))
