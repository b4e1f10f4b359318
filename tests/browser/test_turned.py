"""The bench turned to the athlete: one key there and back, locked to a finger, theirs alone, and readable from afar."""

from __future__ import annotations

import re
from collections.abc import Callable

import pytest
from playwright.sync_api import Page, Response, Route, expect

from tests.api.calls import PASSWORDS, new_athlete, patch, pulled, sell, signed_in
from tests.browser.sizes import found_at_every_size
from tests.browser.test_tablets import tablet, type_pin
from tests.running import Web

__all__ = ["tablet"]
pytestmark = pytest.mark.browser
LEAVES = ("Your feet", "The shoe you need", "These two pairs", "Breaking it in", "What you told us")
TWO_METRES_PX = 30
"""Cap height seen under at least ten minutes of arc from two metres, on a laptop of 30 cm. From memory: sixteen are
comfortable, five can just be read."""


def turned(page: Page) -> None:
    page.get_by_role("button", name="Turn to them").wait_for()
    page.keyboard.press("F2")  # also where a field has the focus
    page.locator("[data-turned]").wait_for()


def a_trial(running: Web, name: str) -> tuple[str, list[str]]:
    client = signed_in(running)
    fitting, lines = pulled(client, 3, new_athlete(client, name))
    done = {f"pairs/{lines[0]}/verdict": "pass", f"pairs/{lines[1]}/pinches": {"left:ball": 2}}
    assert patch(client, fitting, "trial", done).status_code == 200
    return fitting, lines


def test_one_key_there_every_leaf_by_keys_and_back_where_one_was(page: Page, running: Web) -> None:
    fitting, _ = a_trial(running, "Turned By Key")
    page.goto(f"{running.url}/fittings/{fitting}/trial")
    page.locator("[data-row]").first.wait_for()
    turned(page)
    heading = page.get_by_role("heading", level=2)
    expect(heading).to_have_text("These two pairs")  # the moment of the trial
    for n, name in enumerate(LEAVES, 1):
        page.keyboard.press(str(n))
        expect(heading).to_contain_text(name)
    page.keyboard.press("ArrowLeft")
    expect(heading).to_have_text("Breaking it in")
    expect(page.get_by_role("navigation", name="Rooms")).to_have_count(0)
    page.keyboard.press("y")
    page.locator("[data-row]").first.wait_for()
    assert page.url.split("?")[0].endswith(f"{fitting}/trial")


def test_it_says_what_is_drawn_and_can_be_read_two_metres_away(page: Page, running: Web) -> None:
    fitting, lines = a_trial(running, "Turned To Read")
    page.goto(f"{running.url}/fittings/{fitting}/spec")
    page.locator("main").wait_for()
    turned(page)
    expect(page.locator("[data-drawing=wanted-shoe]")).to_be_visible()
    expect(page.locator("main ol > li")).to_have_count(3)
    for width, height in ((1280, 800), (820, 1180)):
        page.set_viewport_size({"width": width, "height": height})
        for n in (1, 2):
            page.keyboard.press(str(n))
            large = page.locator("main li").last.evaluate("e => parseFloat(getComputedStyle(e).fontSize)")
            assert float(large) >= TWO_METRES_PX, (n, width)
    page.set_viewport_size({"width": 1280, "height": 800})
    page.keyboard.press("3")
    expect(page.locator("[data-line=A]")).to_contain_text("an hour in it costs about")
    new = page.locator("[data-drawing=two-pairs]").get_attribute("aria-label")
    page.get_by_role("button", name="Worn in").click()
    expect(page.locator("[data-drawing=two-pairs]")).not_to_have_attribute("aria-label", new or "")
    third = page.get_by_role("group", name="The others").get_by_role("button")
    expect(third).to_have_count(1)
    third.click()
    expect(page.get_by_role("group", name="The others").get_by_role("button")).to_have_count(1)
    assert sell(signed_in(running), fitting, lines[0]).status_code == 201
    page.keyboard.press("y")
    turned(page)
    page.keyboard.press("5")
    expect(page.get_by_text(re.compile("^I take "))).to_be_visible()


def test_nothing_that_isnt_theirs_is_asked_for_or_stands_anywhere(page: Page, running: Web) -> None:
    """Every answer once it is turned, and the page itself, also after a reload and at another address."""
    client = signed_in(running)
    fitting, _ = a_trial(running, "Turned Alone")
    others = {r["name"] for r in client.get("/api/athletes").json()} - {"Turned Alone"}
    page.goto(f"{running.url}/fittings/{fitting}/pull")
    page.locator("main").wait_for()
    turned(page)
    answers: list[tuple[str, str]] = []

    def heard(response: Response) -> None:
        if "/api/" in response.url and response.ok:
            answers.append((response.url.removeprefix(running.url), response.text()))

    page.on("response", heard)
    expect(page.get_by_role("heading", level=2)).to_have_text("These two pairs")
    for address in (page.url, f"{running.url}/athletes", f"{running.url}/stockroom", running.url):
        page.goto(address)
        page.locator("[data-turned]").wait_for()
        for n in range(1, 6):
            page.keyboard.press(str(n))
            there = page.locator("html").inner_html()
            assert not {name for name in others if name in there}
            assert "on hand" not in there
    assert {path for path, _ in answers} <= {f"/api/fittings/{fitting}/turned", "/api/session"}
    assert answers
    for path, text in answers:
        assert not {name for name in others if name in text}, path
        assert "on_hand" not in text, path
    page.keyboard.press("y")
    expect(page.get_by_role("heading", name="Today")).to_be_visible()


def test_a_finger_needs_the_password_and_a_second_tab_is_turned_too(page: Page, running: Web) -> None:
    fitting, _ = a_trial(running, "Turned Locked")
    page.goto(f"{running.url}/fittings/{fitting}/feet")
    page.get_by_role("button", name="Turn to them").click()
    page.locator("[data-turned]").wait_for()
    tab = page.context.new_page()
    tab.goto(running.url)
    tab.locator("[data-turned]").wait_for()
    page.get_by_role("button", name="Back to the bench").click()
    dialog = page.get_by_role("dialog", name="Back to the bench")
    dialog.get_by_label("Password of Ilse Varn").fill("not-hers-at-all")
    dialog.get_by_role("button", name="Back", exact=True).click()
    expect(dialog.get_by_text("That is not your password.")).to_be_visible()
    expect(page.locator("[data-turned]")).to_have_count(1)
    dialog.get_by_label("Password of Ilse Varn").fill(PASSWORDS["ilse"])
    dialog.get_by_role("button", name="Back", exact=True).click()
    expect(page.locator("[data-turned]")).to_have_count(0)
    page.locator("[data-drawing=feet]").wait_for()
    expect(tab.locator("[data-turned]")).to_have_count(0)
    tab.close()


def test_on_a_tablet_of_the_shops_by_their_own_pin(tablet: Page, running: Web) -> None:
    fitting, _ = a_trial(running, "Turned On Tablet")
    tablet.goto(f"{running.url}/fittings/{fitting}/feet")
    tablet.get_by_role("button", name="Turn to them").click()
    tablet.get_by_role("button", name="Back to the bench").click()
    type_pin(tablet, "8350")  # Bram's
    expect(tablet.get_by_text("That isn't the PIN.")).to_be_visible()
    assert signed_in_as(tablet) == "ilse"
    type_pin(tablet, "2719")
    expect(tablet.locator("[data-turned]")).to_have_count(0)
    tablet.locator("[data-drawing=feet]").wait_for()


def test_what_was_typed_just_before_stands_in_it_and_a_timer_is_heard(page: Page, running: Web) -> None:
    """A slow server, and F2 right after the number; a test's time that is up is told there, and of no other fitting."""
    fitting, lines = a_trial(running, "Turned In Haste")
    other, _ = a_trial(running, "Timed Elsewhere")
    page.goto(f"{running.url}/fittings/{fitting}/feet")
    left = page.get_by_role("group", name="Left", exact=True).get_by_label("Length")
    left.wait_for()

    def late(route: Route) -> None:
        page.wait_for_timeout(1500)
        route.continue_()

    page.route("**/parts/feet", late)
    left.fill("281")
    page.keyboard.press("F2")
    expect(page.get_by_text("Your left foot is 281 mm long")).to_be_visible()
    page.evaluate(
        """keys => { localStorage.setItem('kalon.timers', JSON.stringify(Object.fromEntries(keys.map(k =>
             [k, { since: Date.now(), until: Date.now() + (k.endsWith('stand') ? 1000 : 1300), name: k.endsWith('stand') ? 'Stand' : 'Elsewhere' }]))));
           window.dispatchEvent(new StorageEvent('storage', { key: 'kalon.timers' })); }""",
        [f"{fitting}/{lines[0]}/stand", f"{other}/{lines[0]}/walk"],
    )
    expect(page.get_by_text("Time is up: Stand has run")).to_be_visible()
    page.wait_for_timeout(1000)
    expect(page.get_by_text("Elsewhere")).to_have_count(0)
    page.keyboard.press("F2")
    left.wait_for()
    expect(page.get_by_text("Time is up: Elsewhere has run")).to_be_visible()


def signed_in_as(page: Page) -> str:
    return str(page.request.get(page.url.split("/fittings")[0] + "/api/session").json()["login"])


def test_without_connection_it_says_so_and_goes_back_all_the_same(page: Page, running: Web) -> None:
    fitting, _ = a_trial(running, "Turned Away")
    page.goto(f"{running.url}/fittings/{fitting}/feet")
    page.locator("[data-drawing=feet]").wait_for()
    page.wait_for_load_state("networkidle")
    page.context.set_offline(True)
    turned(page)
    expect(page.get_by_role("alert")).to_contain_text("No connection")
    page.context.set_offline(False)
    page.get_by_role("button", name="Try again").click()
    expect(page.get_by_role("heading", level=2)).to_have_text("Your feet")
    page.keyboard.press("y")
    expect(page.locator("[data-turned]")).to_have_count(0)


def test_every_leaf_at_every_size(open_page: Callable[..., Page], running: Web) -> None:
    page = open_page()
    fitting, _ = a_trial(running, "Turned Round The Sizes")
    page.goto(f"{running.url}/fittings/{fitting}/feet")
    page.locator("[data-drawing=feet]").wait_for()
    turned(page)
    for n, name in enumerate(LEAVES, 1):
        page.keyboard.press(str(n))
        expect(page.get_by_role("heading", level=2)).to_contain_text(name)
        assert not found_at_every_size(page), name
        page.evaluate("document.documentElement.dataset.sheet = 'light'")
    page.get_by_role("button", name="Back to the bench").click()
    assert not found_at_every_size(page)


def test_two_pairs_beside_each_other_by_key_and_changed(page: Page, running: Web) -> None:
    fitting, _ = a_trial(running, "Held Beside")
    page.goto(f"{running.url}/fittings/{fitting}/trial")
    page.locator("[data-row]").first.wait_for()
    page.keyboard.press("b")
    dialog = page.get_by_role("dialog", name=re.compile("^Beside each other"))
    dialog.locator("[data-drawing=two-pairs]").wait_for()
    expect(dialog.locator("[data-zone]")).to_have_count(8)
    expect(dialog.get_by_text("Hurts at the ball, left.")).to_be_visible()
    settled = dialog.locator("[data-drawing=two-pairs]").get_attribute("aria-label") or ""
    dialog.get_by_role("radio", name="new").click()
    expect(dialog.locator("[data-drawing=two-pairs]")).not_to_have_attribute("aria-label", settled)
    first, second = (dialog.get_by_role("radiogroup", name=letter, exact=True) for letter in "AB")
    was = first.get_by_role("radio", checked=True).inner_text()
    now = second.get_by_role("radio", checked=True).inner_text()
    first.get_by_role("radio", name=now).click()
    expect(second.get_by_role("radio", checked=True)).to_have_text(was)  # they changed places
    assert not found_at_every_size(page)
    page.keyboard.press("Escape")
    page.goto(f"{running.url}/fittings/{fitting}/pull")
    page.locator("[data-verdict]").wait_for()
    page.keyboard.press("b")
    dialog.locator("[data-drawing=two-pairs]").wait_for()
