"""Every view: axe finds nothing, nothing is cut off, the sheets are light and dark, the drawing follows."""

from __future__ import annotations

import re
import time
from collections.abc import Callable

import pytest
from playwright.sync_api import Browser, Page, expect

from tests import plainly
from tests.api.calls import pulled, signed_in
from tests.browser.driver import new_athlete, saved
from tests.browser.shots import SHOTS, _looking, fitting_of
from tests.browser.sizes import axe, found_at_every_size
from tests.running import Web

pytestmark = pytest.mark.browser


@pytest.mark.parametrize("name", [n for n in SHOTS if n != "pull-dark"])
def test_every_view_at_every_size(page: Page, running: Web, name: str) -> None:
    SHOTS[name](page, running.url)
    found = found_at_every_size(page)
    assert not found, "\n".join(found)


def _asked(page: Page, url: str, who: str, station: str, ready: str) -> None:
    page.goto(f"{fitting_of(page, url, who)}/{station}")
    page.locator(ready).first.wait_for()


def _new_athlete(page: Page, url: str) -> None:
    page.goto(f"{url}/athletes")
    page.get_by_role("button", name="New athlete").click()


def _practice(page: Page, url: str) -> None:
    _asked(page, url, "Tavi Umber", "feet", "[data-drawing=feet]")
    page.get_by_role("button", name="Practice").click()


def _weight(page: Page, url: str) -> None:
    _asked(page, url, "Tavi Umber", "spec", "[data-drawing=wanted-shoe]")
    page.get_by_role("button", name=re.compile("^Scales")).click()
    page.get_by_role("button", name=re.compile("^Mass of one shoe counts")).click()


def _not_saved(page: Page, url: str) -> None:
    new_athlete(page, url, "Not Saved")
    page.get_by_role("group", name="Left", exact=True).get_by_label("Length").fill("26")
    page.get_by_role("button", name="not saved: see why").click()


def _sources(page: Page, url: str) -> None:
    _asked(page, url, "Tavi Umber", "feet", "[data-drawing=feet]")
    page.get_by_role("button", name=re.compile("Ball width: .* sources")).first.click()


def _calendar(page: Page, url: str) -> None:
    page.goto(url)
    page.get_by_role("button", name="Calendar").click()
    page.get_by_role("dialog").wait_for()


def _own_pair(page: Page, url: str) -> None:
    SHOTS["pair"](page, url)
    page.get_by_role("button", name="Change").click()


def _more_uses(page: Page, url: str) -> None:
    SHOTS["plan"](page, url)
    page.get_by_role("button", name="Something more").click()


def _names(page: Page, url: str) -> None:
    SHOTS["squad"](page, url)
    page.get_by_role("button", name="Bring a list").click()


DIALOGS: dict[str, Callable[[Page, str], None]] = {
    "keys": lambda page, _: page.keyboard.press("?"),
    "commands": lambda page, _: page.keyboard.press("Control+k"),
    "new athlete": _new_athlete,
    "practice": _practice,
    "weight": _weight,
    "not saved": _not_saved,
    "looking": _looking,
    "own pair": _own_pair,
    "more uses": _more_uses,
    "names": _names,
    "calendar": _calendar,
}


@pytest.mark.parametrize("name", list(DIALOGS))
def test_every_dialog_at_every_size_and_closed_by_its_button(page: Page, running: Web, name: str) -> None:
    DIALOGS[name](page, running.url)
    dialog = page.get_by_role("dialog")
    dialog.wait_for()
    found = found_at_every_size(page, scrolls_sideways=True)
    assert not found, "\n".join(found)
    dialog.get_by_role("button", name="Close", exact=True).click()
    expect(dialog).to_have_count(0)
    expect(page.locator("body:focus")).to_have_count(0)


def test_the_sources_of_a_number_at_every_size(page: Page, running: Web) -> None:
    _sources(page, running.url)
    page.get_by_role("dialog", name=re.compile("^Sources of Ball width")).wait_for()
    found = found_at_every_size(page, scrolls_sideways=True)
    assert not found, "\n".join(found)


def test_axe_finds_nothing_at_the_sign_in(page: Page, running: Web) -> None:
    page.get_by_role("button", name="Sign out").click()
    page.get_by_label("Password").wait_for()
    found = found_at_every_size(page)
    assert not found, "\n".join(found)


def test_the_drawing_follows_the_number_before_it_is_saved(page: Page, running: Web) -> None:
    new_athlete(page, running.url, "Draws Here")
    left = page.locator("[data-foot=left] path").nth(1)
    group = page.get_by_role("group", name="Left", exact=True)
    group.get_by_label("Length").fill("250")
    short = page.locator("[data-foot=left]").inner_html()
    group.get_by_label("Length").fill("280")
    assert page.locator("[data-foot=left]").inner_html() != short
    expect(left).to_be_visible()
    expect(page.get_by_role("img", name="Both feet from above")).to_have_accessible_name(
        "Both feet from above. Left 280 mm long, 109 mm wide at the ball; right not measured yet."
    )


def test_impossible_is_refused_and_implausible_questioned_beside_the_field(page: Page, running: Web) -> None:
    new_athlete(page, running.url, "Doubtful Feet")
    group = page.get_by_role("group", name="Left", exact=True)
    group.get_by_label("Length").fill("26")
    page.keyboard.press("Tab")
    alert = group.get_by_role("alert")
    expect(alert).to_have_text("Must be at least 110 mm.")
    group.get_by_label("Length").fill("two")
    expect(alert).to_have_text("Must be a number in mm.")
    group.get_by_label("Length").fill("260")
    expect(alert).to_have_count(0)
    group.get_by_label("Ball width").fill("140")
    expect(group.get_by_text("140 mm is large for a foot 260 mm long", exact=False)).to_be_visible()
    saved(page)


def test_inches_are_kept_as_millimetres(page: Page, running: Web) -> None:
    new_athlete(page, running.url, "Inch By Inch")
    page.get_by_role("radio", name="inch").click()
    group = page.get_by_role("group", name="Left", exact=True)
    group.get_by_label("Length").fill("10.25")
    saved(page)
    page.get_by_role("radio", name="mm", exact=True).click()
    expect(group.get_by_label("Length")).to_have_value("260.4")


def test_arrow_keys_step_a_number(page: Page, running: Web) -> None:
    new_athlete(page, running.url, "Steps Up")
    length = page.get_by_role("group", name="Right", exact=True).get_by_label("Length")
    length.fill("255")
    length.press("ArrowUp")
    length.press("ArrowUp")
    length.press("ArrowDown")
    expect(length).to_have_value("256")


def test_what_if_shows_what_moves_and_keeps_it_only_when_told(page: Page, running: Web) -> None:
    SHOTS["spec-what-if"](page, running.url)
    expect(page.locator("[data-moved]")).to_contain_text("short round studs, artificial grass first")
    page.get_by_role("button", name="Back to the brief").click()
    expect(page.locator("[data-moved]")).to_have_count(0)
    page.get_by_label("Body mass").fill("97")
    expect(page.locator("[data-moved]")).to_contain_text("Stiffness in bending")
    page.get_by_role("button", name="Keep", exact=True).click()
    saved(page)
    page.reload()
    page.get_by_role("button", name="What if").click()
    expect(page.get_by_label("Body mass")).to_have_value("97")


def test_undo_takes_the_last_change_back(page: Page, running: Web) -> None:
    new_athlete(page, running.url, "Undoes It")
    page.get_by_role("radio", name="thick").click()
    saved(page)
    page.locator("main").focus()
    page.keyboard.press("Control+z")
    expect(page.get_by_role("radio", name="thin")).to_be_checked()
    saved(page)


def test_judging_blind_hides_maker_name_and_price(page: Page, running: Web) -> None:
    SHOTS["pull"](page, running.url)
    name = page.locator("h2").first.inner_text().splitlines()[0]
    page.get_by_label("Judge blind").check()
    expect(page.locator("main")).not_to_contain_text(name)
    expect(page.locator("main")).to_contain_text("Shoe 1")
    saved(page)


def test_blind_lasts_until_every_pair_is_scored(open_page: Callable[..., Page], running: Web) -> None:
    """Names go by letters in tray and trial, on another tablet too; with the last verdict they are there again."""
    fitting, lines = pulled(signed_in(running), 2)
    names = [p["name"] for p in signed_in(running).get(f"/api/fittings/{fitting}").json()["tray"]]
    page = open_page()
    page.goto(f"{running.url}/fittings/{fitting}/pull")
    page.get_by_label("Judge blind").check()
    saved(page)
    other = open_page("bram")
    other.goto(f"{running.url}/fittings/{fitting}/trial")
    tray = other.get_by_label("Tray", exact=True)
    expect(tray).to_contain_text("Pair A")
    expect(tray).to_contain_text("Pair B")
    for name in names:
        expect(other.locator("body")).not_to_contain_text(name)
    for line in lines:
        other.goto(f"{running.url}/fittings/{fitting}/trial?pair={line}")
        other.get_by_label("This pair", exact=True).get_by_role("radio", name="Fails").click()
        saved(other)
    for name in names:
        expect(tray).to_contain_text(name)


def test_the_rack_hides_names_colours_and_prices_from_who_judges(page: Page, running: Web) -> None:
    page.goto(f"{running.url}/stockroom?find=tern wide")
    row = page.locator("[data-model]").first
    expect(row).to_contain_text("Tern Wide")
    page.get_by_role("button", name="Blind").click()
    expect(row).to_contain_text("Shoe 1")
    for hidden in ("Tern", "EUR"):
        expect(page.get_by_label("The rack", exact=True)).not_to_contain_text(hidden)
    row.get_by_role("button").first.click()
    expect(page.locator("[data-line]").first.get_by_role("button")).to_be_disabled()


def test_what_may_be_hoped_is_said_in_words_and_in_numbers_on_demand(page: Page, running: Web) -> None:
    SHOTS["pull"](page, running.url)
    listed = page.get_by_role("region", name="Shoes in order").get_by_role("listitem")
    expect(listed.first).to_contain_text(re.compile("should fit|worth trying|a gamble|will not fit"))
    numbers = page.get_by_text(re.compile("in 100 that every zone ends where it is wanted"))
    expect(numbers).to_be_hidden()
    page.locator("main").get_by_text("Numbers", exact=True).click()
    expect(numbers).to_be_visible()


@pytest.mark.parametrize("wait_s", [0, 1.5])
def test_commands_typed_ahead_find_an_athlete(page: Page, wait_s: float) -> None:
    page.route("**/api/athletes?*", lambda route: (time.sleep(wait_s), route.continue_()))
    page.keyboard.press("Control+k")
    page.keyboard.type("corin")
    page.keyboard.press("Enter")
    page.get_by_role("heading", name="Corin Salt").wait_for()


def test_single_keys_can_be_turned_off(page: Page) -> None:
    page.keyboard.press("?")
    page.get_by_label("Single keys act").uncheck()
    page.keyboard.press("Escape")
    page.keyboard.press("/")
    page.wait_for_timeout(300)
    expect(page.get_by_role("heading", name="Today")).to_be_visible()


def test_thousands_of_stock_lines_draw_only_what_is_seen(page: Page, running: Web) -> None:
    page.goto(f"{running.url}/stockroom")
    rows = page.locator("[data-model]")
    rows.first.wait_for()
    assert rows.count() < 30
    expect(page.get_by_role("status").filter(has_text="models,")).to_contain_text("pairs on hand")
    page.get_by_label("Maker, model, sport").fill("Piste")
    expect(rows.first).to_contain_text("Piste")


def test_the_house_and_an_athletes_page(open_page: Callable[..., Page], running: Web) -> None:
    page = open_page("marrow", "plumb-line-7")
    page.goto(f"{running.url}/house")
    page.get_by_role("radio", name="People").click()
    page.get_by_role("radio", name="Trainee").click()
    page.get_by_label("Name", exact=True).fill("Wick Tallow")
    page.get_by_label("Sign-in name").fill("wick")
    assert axe(page) == []
    page.get_by_role("button", name="Add and invite").click()
    expect(page.get_by_role("listitem").filter(has_text="Wick Tallow")).to_contain_text("trainee, invited")
    expect(page.get_by_role("region", name="Invitation of Wick Tallow").locator("[data-link]")).to_contain_text(
        "/invited/"
    )
    assert axe(page) == []
    page.goto(f"{running.url}/athletes")
    page.get_by_role("link", name="Fenna Rusk").click()
    page.locator("[data-drawing=years]").wait_for()
    assert found_at_every_size(page) == []
    page.get_by_role("tab", name="What was changed").click()
    page.get_by_label("Find in it").wait_for()
    assert found_at_every_size(page) == []


def test_the_chosen_sheet_is_remembered(page: Page) -> None:
    page.get_by_role("button", name="Light / dark").click()
    chosen = page.evaluate("document.documentElement.dataset.sheet")
    page.reload()
    page.get_by_role("heading", name="Today").wait_for()
    assert page.evaluate("document.documentElement.dataset.sheet") == chosen


def test_somebody_invited_sets_a_password_and_changes_it_by_keys(
    open_page: Callable[..., Page], browser: Browser, running: Web
) -> None:
    manager = open_page("marrow")
    manager.goto(f"{running.url}/house")
    manager.get_by_role("radio", name="People").click()
    manager.get_by_label("Name", exact=True).fill("Sedge Arlow")
    manager.get_by_label("Sign-in name").fill("Sedge")
    manager.get_by_role("button", name="Add and invite").dblclick()
    shown = manager.get_by_role("region", name="Invitation of Sedge Arlow").locator("[data-link]")
    link = shown.inner_text()
    expect(manager.get_by_role("listitem").filter(has_text="Sedge Arlow")).to_have_count(1)
    page = browser.new_page()
    try:
        page.goto(link)
        expect(page.get_by_role("heading", name="Welcome, Sedge Arlow")).to_be_visible()
        assert found_at_every_size(page) == []
        page.get_by_label("Password").fill("Password2024")
        page.keyboard.press("Enter")
        expect(page.get_by_text("That password is guessed at once", exact=False)).to_be_visible()
        page.get_by_label("Password").fill("reed-and-sedge-4")
        page.keyboard.press("Enter")
        page.get_by_label("Sign-in name").fill("sedge")
        page.get_by_label("Password").fill("reed-and-sedge-4")
        page.keyboard.press("Enter")
        page.get_by_role("heading", name="Today").wait_for()
        page.locator("main:focus, main :focus").wait_for()
        page.get_by_role("button", name="Sedge Arlow, fitter").press("Enter")
        dialog = page.get_by_role("dialog", name="Your password")
        dialog.get_by_label("The one you have").fill("not this one")
        dialog.get_by_label("The new one").fill("marsh-and-sedge-5")
        page.keyboard.press("Enter")
        expect(dialog.get_by_label("The one you have")).to_have_accessible_description("That is not your password.")
        assert axe(page) == []
        dialog.get_by_label("The one you have").fill("reed-and-sedge-4")
        page.keyboard.press("Enter")
        expect(dialog.get_by_role("status")).to_contain_text("It is changed.")
        page.goto(link)
        expect(page.get_by_text("This invitation is over", exact=False)).to_be_visible()
    finally:
        page.close()
    signed_in_anew = plainly.post(
        f"{running.url}/api/session", json={"login": "sedge", "password": "marsh-and-sedge-5"}
    )
    assert signed_in_anew.status_code == 200
