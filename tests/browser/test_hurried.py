"""A hurried hand: keys typed ahead of the screen, pressed twice, held down, after a click; at a slow server too."""

from __future__ import annotations

import re
import time
from collections.abc import Callable

import pytest
from playwright.sync_api import Page, expect

from tests.browser.driver import ON, Keys, new_athlete, saved, to_station
from tests.browser.shots import fitting_of
from tests.running import Web

pytestmark = pytest.mark.browser


def slow(page: Page, wait_s: float) -> None:
    """Every question of the interface is answered that much later."""
    if wait_s:
        page.route("**/api/**", lambda route: (time.sleep(wait_s), route.continue_()))


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
    expect(page.locator("[data-size]")).to_have_attribute("data-size", re.compile(f"^{listed + 0.5:g}$"))


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


@hurried("Tavi Umber", "pull", "Enter", "Enter", "Enter")
def pressed_twice_is_in_the_tray_once(page: Page) -> None:
    expect(page.get_by_role("region", name="Tray").get_by_role("link").filter(has_text="to try")).not_to_have_count(0)
    expect(page.get_by_role("button", name="Put back")).to_be_visible()


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
@pytest.mark.parametrize("script", list(HURRIED))
def test_hurried_hands_end_where_the_screen_said(page: Page, running: Web, script: str, wait_s: float) -> None:
    who, station, keys, check = HURRIED[script]
    if who == "new":
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
