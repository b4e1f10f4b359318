"""A hurried hand: keys typed ahead of the screen, pressed twice, held down, after a click; at a slow server too."""

from __future__ import annotations

import datetime
import re
from collections.abc import Callable

import pytest
from playwright.sync_api import Page, expect

from tests.api.calls import pulled, signed_in
from tests.browser.driver import ON, Keys, new_athlete, saved, to_station
from tests.browser.shots import fitting_of
from tests.running import Web

pytestmark = pytest.mark.browser
SEEN = datetime.timedelta(seconds=5)


def slow(page: Page, wait_s: float) -> None:
    """Every question of the interface is answered that much later, each for itself; keys can be pressed meanwhile."""
    if wait_s:
        session = page.context.new_cdp_session(page)
        session.send("Network.enable")
        network = {"offline": False, "latency": 1000 * wait_s, "downloadThroughput": -1, "uploadThroughput": -1}
        session.send("Network.emulateNetworkConditions", network)


HURRIED: dict[str, tuple[str, str, list[str], Callable[[Page], None]]] = {}
"""Who, the station they are at, keys pressed without waiting, and what must stand on the screen."""


def hurried(who: str, station: str, *keys: str) -> Callable[[Callable[[Page], None]], Callable[[Page], None]]:
    def keep(check: Callable[[Page], None]) -> Callable[[Page], None]:
        HURRIED[check.__name__] = (who, station, list(keys), check)
        return check

    return keep


@hurried("", "", "/", "corin", "Enter")
def find_opens_the_best_match(page: Page) -> None:
    page.get_by_role("heading", name="Corin Salt").wait_for()


@hurried("", "", "Control+k", "corin", "Enter")
def commands_open_who_was_typed(page: Page) -> None:
    page.get_by_role("heading", name="Corin Salt").wait_for()


@hurried("Tavi Umber", "feet", ON, ON, ON, "Control+Shift+Enter")
def on_on_on_and_back(page: Page) -> None:
    page.wait_for_url("**/spec")
    expect(page).to_have_title("Tavi Umber · Spec · Kalon")


@hurried("Tavi Umber", "spec", "g", "4", "ArrowDown", "ArrowDown", "]")
def straight_to_the_shelves(page: Page) -> None:
    page.wait_for_url("**/pull")
    rows = page.get_by_role("region", name="Shoes in order").get_by_role("listitem").get_by_role("button")
    expect(rows.nth(2)).to_have_attribute("aria-pressed", "true")
    listed = float(rows.nth(2).locator(".font-semibold").last.inner_text())
    fitting = f"{page.url.split('/fittings/')[0]}/api/fittings/{page.url.split('/')[-2]}"
    third = page.request.get(f"{fitting}/pull").json()["places"][2]["pair"]
    shoe = page.request.get(f"{fitting}/pull/{third['model_id']}/{third['width']}").json()
    made = [float(s["label"]) for s in shoe["fit"]["sizes"]]
    shown = page.locator("[data-size]")
    expect(shown).to_have_attribute("data-size", re.compile(f"^{min(s for s in made if s > listed):g}$"))


@hurried("new", "feet", "255", "Enter", "98", "Enter", "240", ON, "2", "2")
def from_the_feet_into_the_brief(page: Page) -> None:
    told = page.get_by_role("list", name="The brief so far")
    expect(told.get_by_role("button", name="Sport")).to_contain_text("Climbing")
    expect(told.get_by_role("button", name="Mostly")).to_contain_text("Indoor, a bit of all")
    saved(page)
    to_station(page, 1)
    group = page.get_by_role("group", name="Left", exact=True)
    expect(group.get_by_label("Length")).to_have_value("255")
    expect(group.get_by_label("Ball girth")).to_have_value("240")


@hurried("new", "brief", "Enter", "Enter", "Enter")
def enter_chooses_nothing(page: Page) -> None:
    expect(page.get_by_role("list", name="The brief so far").get_by_role("button")).to_have_count(1)
    expect(page.get_by_role("radio", checked=True)).to_have_count(0)


@hurried("new", "brief", "1", "1", "4", "2", "3", "71", "Enter", "3", "Enter", "2", "1", "3", "Enter", "2")
def digits_choose_on_every_question(page: Page) -> None:
    told = page.get_by_role("list", name="The brief so far")
    for line, answer in {"Ground": "Artificial grass", "Wet": "no", "Touch": "Synthetic", "Body mass": "71 kg",
                         "How often": "3 a week", "Level": "Club, regular", "Hurts": "Knee, Heel pain",
                         "Growing": "no"}.items():  # fmt: skip
        expect(told.get_by_role("button", name=line)).to_contain_text(answer)


@hurried("pulled", "pull", "Enter", "Enter", "Enter")
def pressed_twice_is_in_the_tray_once(page: Page) -> None:
    tray = page.get_by_role("region", name="Tray").get_by_role("link")
    expect(tray).to_have_count(1)
    expect(page.get_by_role("button", name="Put back")).to_be_visible()
    page.reload()
    expect(tray).to_have_count(1)


@hurried("new", "feet", "2555", "Backspace", "Enter", "98", "Enter", ON, "22", "Backspace", "Control+Shift+Enter")
def slips_of_the_hand_are_mended(page: Page) -> None:
    page.wait_for_url("**/feet")
    group = page.get_by_role("group", name="Left", exact=True)
    expect(group.get_by_label("Length")).to_have_value("255")
    expect(group.get_by_label("Ball width")).to_have_value("98")


@hurried("Halden Roe", "trial", "1", "2", "1", "ArrowUp", "ArrowUp", "1", "p", "p")
def walked_with_arrows(page: Page) -> None:
    rows = page.get_by_role("list", name="Tests").get_by_role("listitem")
    for i in range(3):
        expect(rows.nth(i).get_by_role("radio").first).to_be_checked()
    expect(page.get_by_role("radio", name="Passes")).to_be_checked()


@hurried("new", "feet", "255", "Enter", "98", "Enter", "240", "Enter", "241", "Enter", "66", "Enter", "256", "Enter")
def from_figure_to_figure(page: Page) -> None:
    for side, label, value in (("Left", "Heel width", "66"), ("Right", "Length", "256")):
        expect(page.get_by_role("group", name=side, exact=True).get_by_label(label)).to_have_value(value)


@pytest.mark.parametrize("wait_s", [0, 0.25])
def test_nothing_is_sold_unseen(page: Page, running: Web, wait_s: float) -> None:
    fitting, _ = pulled(signed_in(running), 0)
    page.clock.set_fixed_time(datetime.datetime.now())  # however slow this machine is: no time for anybody to see it
    page.goto(f"{running.url}/fittings/{fitting}/pull")
    page.locator("[data-drawing=foot-in-shoe]").wait_for()
    slow(page, wait_s)
    Keys(page)("Enter", ON, "p", ON, "Enter", "Enter")
    settle = page.get_by_role("button", name="Settle on this pair")
    expect(settle).to_be_focused(timeout=60_000)
    page.keyboard.press("Enter")
    saved(page)
    expect(page.get_by_role("region", name="Tray")).to_contain_text("passed")
    assert not signed_in(running).get(f"/api/fittings/{fitting}").json()["sale"]
    page.clock.set_fixed_time(datetime.datetime.now() + SEEN)
    page.keyboard.press("Enter")
    expect(page.get_by_role("button", name="Undo the sale")).to_be_visible(timeout=60_000)


@pytest.mark.parametrize("wait_s", [0, 0.25])
@pytest.mark.parametrize("script", list(HURRIED))
def test_hurried_hands_end_where_the_screen_said(page: Page, running: Web, script: str, wait_s: float) -> None:
    who, station, keys, check = HURRIED[script]
    if who == "pulled":
        fitting, _ = pulled(signed_in(running), 0)
        page.goto(f"{running.url}/fittings/{fitting}/{station}")
        page.locator("[data-drawing=foot-in-shoe]").wait_for()
    elif who == "new":
        new_athlete(page, running.url, f"Hurried {script[:18]} {wait_s}")
        if station != "feet":
            to_station(page, 2)
            page.locator("[data-question=sport][data-current]").wait_for()
    elif who:
        page.goto(f"{fitting_of(page, running.url, who)}/{station}")
        page.locator("main").wait_for()
        page.locator("main:focus, main :focus").wait_for()
        page.wait_for_load_state("networkidle")
    slow(page, wait_s)
    Keys(page)(*keys)
    check(page)


def test_altgr_repeats_and_pointed_rows_leave_the_keys_alone(page: Page, running: Web) -> None:
    page.goto(f"{fitting_of(page, running.url, 'Sunniva Crake')}/pull")
    page.locator("[data-drawing=foot-in-shoe]").wait_for()
    rows = page.get_by_role("region", name="Shoes in order").get_by_role("listitem").get_by_role("button")
    shown = page.locator("[data-size]")
    rows.nth(1).click()
    page.locator("[data-drawing=foot-in-shoe]").wait_for()
    before = shown.get_attribute("data-size") or ""
    # On many keyboards the bracket is written with AltGr, which also says Ctrl and Alt.
    page.evaluate(
        "window.dispatchEvent(new KeyboardEvent('keydown', {key: '[', ctrlKey: true, altKey: true,"
        " modifierAltGraph: true, bubbles: true, cancelable: true}))"
    )
    expect(shown).not_to_have_attribute("data-size", before)
    page.get_by_label("Judge blind").click()
    page.keyboard.press("]")
    expect(shown).to_have_attribute("data-size", before)
    page.get_by_label("Judge blind").click()
    # A row that was pointed at has the focus; the keys are the station's all the same.
    rows.nth(2).click()
    page.locator("[data-drawing=foot-in-shoe]").wait_for()
    page.keyboard.down("Enter")
    for _ in range(5):
        page.keyboard.down("Enter")  # held: it repeats
    page.keyboard.up("Enter")
    page.get_by_role("button", name="Put back").wait_for()
    page.keyboard.press("Delete")
    page.get_by_role("button", name="Into the tray").wait_for()
    # What isn't in the tray is asked out of it of nobody.
    asked: list[str] = []
    page.on("request", lambda r: asked.append(r.method) if "/tray/" in r.url else None)
    page.keyboard.press("Delete")
    page.wait_for_timeout(300)
    assert asked == []


def test_what_never_comes_says_that_its_keys_are_gone_and_leaves_the_browser_its_own(page: Page, running: Web) -> None:
    new_athlete(page, running.url, "Never Comes")
    page.route("**/api/fittings/*/spec", lambda route: None)
    Keys(page)("255", "Enter", "98", ON, "1", "1", "4", "Enter", "Enter", "71", "Enter", ON, "1234")
    state = page.get_by_role("status").filter(has_text="keys")
    expect(state).to_contain_text("4 keys kept for it")
    # Not ours: it goes to the browser, and isn't kept.
    page.keyboard.press("F4")
    page.keyboard.press("Control+c")
    expect(state).to_contain_text("4 keys kept for it")
    expect(state).to_contain_text("4 keys typed ahead did nothing")
    page.get_by_role("button", name="Close", exact=True).click()
    expect(page.get_by_role("status").filter(has_text="keys")).to_have_count(0)


SLOW_MS, SLOW_KEYS = 800, ["262", "Enter", "101", "Enter", "246", "Enter", "250", "Enter", "65.5", "Enter"]
"""A tablet that takes this long for each letter; together longer than anything is waited for that never comes."""


def test_a_slow_tablet_presses_everything_that_was_typed_ahead(page: Page, running: Web) -> None:
    new_athlete(page, running.url, "Slow Tablet")
    Keys(page)(ON)
    page.get_by_role("heading", level=2).first.wait_for()
    page.evaluate(
        "ms => document.addEventListener('input', () => {"
        " const end = performance.now() + ms; while (performance.now() < end); }, true)",
        SLOW_MS,
    )
    Keys(page)("Control+Shift+Enter", *SLOW_KEYS, "Enter")
    left = page.get_by_role("group", name="Left", exact=True)
    expect(left.get_by_label("Heel width")).to_have_value("65.5")
    expect(left.get_by_label("Ball girth")).to_have_value("246")
    expect(page.get_by_role("status").filter(has_text="did nothing")).to_have_count(0)


def test_what_is_typed_on_goes_with_what_was_let_go(page: Page, running: Web) -> None:
    """The end of a number would be another number."""
    page.route(re.compile(r"/assets/Brief-"), lambda route: None)
    page.clock.install()
    new_athlete(page, running.url, "Cut Off")
    page.clock.pause_at(page.evaluate("Date.now() + 1000"))
    Keys(page)(ON, "12")
    page.clock.run_for(12_000)
    state = page.get_by_role("status").filter(has_text="keys")
    typed = 2
    while "did nothing" not in state.inner_text():
        assert typed < 100, "it is never given up"
        Keys(page)("3")
        typed += 1
        page.clock.run_for(250)
    expect(state).to_contain_text(f"{typed} keys typed ahead did nothing")
    Keys(page)("26", "Enter")
    expect(state).to_contain_text(f"{typed + 3} keys typed ahead did nothing")
    expect(page).to_have_url(re.compile("/fittings/"))
    length = page.get_by_role("group", name="Left", exact=True).get_by_label("Length")
    expect(length).to_be_focused()
    expect(length).to_have_value("")
    page.clock.run_for(1000)  # a breath
    Keys(page)("255")
    expect(length).to_have_value("255")


def test_a_link_opened_elsewhere_keeps_no_keys_here(page: Page, running: Web) -> None:
    new_athlete(page, running.url, "Two Tabs")
    with page.context.expect_page():
        page.get_by_role("navigation").get_by_role("link", name="Brief").click(modifiers=["Control"])
    page.bring_to_front()
    length = page.get_by_role("group", name="Left", exact=True).get_by_label("Length")
    length.focus()
    page.keyboard.type("255")
    expect(length).to_have_value("255")
