"""The trial as a hand meets it: Space is the row's, a timer's end is told, a pass without a test asks, blind is blind."""

from __future__ import annotations

import pytest
from playwright.sync_api import Page, expect

from tests.api.calls import patch, pulled, signed_in
from tests.browser.driver import saved
from tests.running import Web

pytestmark = pytest.mark.browser


def at_trial(page: Page, running: Web, pairs: int = 1) -> str:
    fitting, _ = pulled(signed_in(running), pairs)
    page.goto(f"{running.url}/fittings/{fitting}/trial")
    page.get_by_role("list", name="Tests").wait_for()
    page.locator("main:focus, main :focus").wait_for()
    return fitting


def test_a_timers_end_is_heard_and_told_wherever_one_is(page: Page, running: Web) -> None:
    page.add_init_script(
        "window.tones = 0; const of = AudioContext.prototype.createOscillator;"
        "AudioContext.prototype.createOscillator = function () { window.tones += 1; return of.call(this); };"
    )
    page.clock.install()
    at_trial(page, running)
    page.keyboard.press(" ")
    page.get_by_role("button", name="Stop the timer, Stand").wait_for()
    page.get_by_role("navigation").get_by_role("link", name="Feet").click()
    page.locator("[data-drawing=feet]").wait_for()
    over = page.get_by_role("status").filter(has_text="Time is up: Stand has run as long as it should.")
    page.clock.fast_forward(25_000)
    expect(over).to_have_count(0)
    page.clock.fast_forward(6_000)
    expect(over).to_be_visible()
    assert page.evaluate("window.tones") == 2
    over.get_by_role("link", name="Go there").click()
    page.get_by_role("button", name="Stop the timer, Stand").click()
    expect(over).to_have_count(0)


def test_space_belongs_to_the_row_that_is_walked_to(page: Page, running: Web) -> None:
    at_trial(page, running)
    page.keyboard.press("ArrowDown")  # the toes: nothing to time
    page.keyboard.press(" ")
    page.wait_for_timeout(300)
    expect(page.get_by_role("button", name="Stop the timer")).to_have_count(0)
    page.keyboard.press("ArrowDown")
    page.keyboard.press(" ")
    expect(page.get_by_role("button", name="Stop the timer, Walk")).to_be_visible()
    page.keyboard.press(" ")


def test_a_pinch_is_marked_by_keys(page: Page, running: Web) -> None:
    fitting = at_trial(page, running)
    page.keyboard.press("m")
    told = page.locator("[data-pinch-keys]")
    expect(told).to_contain_text("1 noticed · 2 hurts · 3 can't be worn · 4 none")
    first = told.inner_text()
    page.keyboard.press("ArrowDown")
    expect(told).not_to_have_text(first)
    page.keyboard.press("2")
    saved(page)
    (trial,) = signed_in(running).get(f"/api/fittings/{fitting}").json()["parts"]["trial"]["body"]["pairs"].values()
    ((where, how_much),) = trial["pinches"].items()
    assert how_much == 2
    assert where.startswith("left:")
    expect(page.get_by_role("button", name=": hurts")).to_have_count(1)
    page.keyboard.press("4")
    saved(page)
    expect(page.get_by_role("button", name=": hurts")).to_have_count(0)
    page.keyboard.press("m")
    for _ in range(12):  # more than there are rows: a hurried hand
        page.keyboard.press("1")
    saved(page)
    (trial,) = signed_in(running).get(f"/api/fittings/{fitting}").json()["parts"]["trial"]["body"]["pairs"].values()
    assert set(trial["tests"].values()) == {"pass"}
    assert not any((trial.get("pinches") or {}).values())


def test_a_pass_without_a_test_asks_what_was_tried(page: Page, running: Web) -> None:
    at_trial(page, running)
    page.keyboard.press("p")
    asks = page.locator("[data-untested]")
    expect(asks).to_contain_text("no test is answered: what was tried?")
    page.keyboard.press("1")
    expect(asks).to_have_count(0)


def test_judged_blind_the_names_and_prices_are_kept_at_every_station(page: Page, running: Web) -> None:
    fitting = at_trial(page, running, pairs=2)
    client = signed_in(running)
    tray = client.get(f"/api/fittings/{fitting}").json()["tray"]
    patch(client, fitting, "trial", {"blind": True})
    for station in ("spec", "pull", "trial", "settle"):
        page.goto(f"{running.url}/fittings/{fitting}/{station}")
        page.locator("main:focus, main :focus").wait_for()
        page.wait_for_load_state("networkidle")
        shown = page.locator("main").inner_text() + page.get_by_role("region", name="Tray").inner_text()
        for pair in tray:
            assert pair["name"] not in shown, station
        assert "EUR" not in shown, station
