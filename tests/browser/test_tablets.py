"""A tablet several people share: switched in two taps and a PIN, back where each was, locked when nobody touches it."""

from __future__ import annotations

import uuid
from collections.abc import Callable, Iterator

import psycopg
import pytest
from playwright.sync_api import Page, expect

from tests.api.calls import PASSWORDS, patch, signed_in
from tests.browser.driver import begun
from tests.browser.sizes import found_at_every_size
from tests.running import Web

PINS = {"ilse": "2719", "bram": "8350"}


@pytest.fixture
def tablet(open_page: Callable[..., Page], running: Web, demo_url: str) -> Iterator[Page]:
    """A page with Ilse signed in, on a browser that is the shop's; she and Bram have a PIN."""
    page = open_page("ilse", service_workers="block")
    page.set_viewport_size({"width": 820, "height": 1180})
    manager = signed_in(running, "marrow")
    assert manager.post("/api/tablets", json={"id": str(uuid.uuid4()), "name": "By the mirror"}).status_code == 201
    secret = manager.cookies["kalon_tablet"]
    for login, pin in PINS.items():
        given = {"password": PASSWORDS[login], "pin": pin}
        assert signed_in(running, login).put("/api/session/pin", json=given).status_code == 204
    page.context.clear_cookies()  # a session of its own: leaving the tablet ends it
    page.context.add_cookies([{"name": "kalon_tablet", "value": secret, "url": running.url}])
    page.goto(running.url)
    page.get_by_label("Sign-in name").fill("ilse")  # nothing here knows yet that this browser is a tablet
    page.get_by_label("Password").fill(PASSWORDS["ilse"])
    page.get_by_role("button", name="Sign in").click()
    page.get_by_role("button", name="Somebody else").wait_for()
    yield page
    with psycopg.connect(demo_url) as cx:
        for table in ("pin_tried", "staff_pin", "tablet"):
            cx.execute(f"DELETE FROM {table}")


def choose(page: Page, name: str) -> None:
    """A tap on somebody's name, once the tablet asks who is here."""
    page.get_by_role("dialog", name="Who is here?").get_by_role("button", name=name).click()


def type_pin(page: Page, pin: str) -> None:
    for digit in pin:
        page.get_by_role("button", name=digit, exact=True).click()


def test_two_taps_and_a_pin_and_everybody_is_where_they_were(tablet: Page, running: Web) -> None:
    fitting = begun(tablet, running.url, "Shared Tablet")
    tablet.goto(f"{running.url}/fittings/{fitting}/feet")
    length = tablet.get_by_role("group", name="Left", exact=True).get_by_label("Length")
    length.fill("262")
    tablet.get_by_role("button", name="Somebody else").click()  # without waiting: what was typed is sent first
    asked = tablet.get_by_role("dialog", name="Who is here?")
    expect(asked.get_by_role("button", name="Bram Ostley")).to_be_visible()
    expect(tablet.get_by_text("Shared Tablet")).to_be_hidden()  # nobody reads over whoever left
    assert not found_at_every_size(tablet, scrolls_sideways=True)
    asked.get_by_role("button", name="Bram Ostley").click()
    assert not found_at_every_size(tablet, scrolls_sideways=True)
    type_pin(tablet, "8350")
    expect(tablet.get_by_role("heading", name="Today")).to_be_visible()
    expect(tablet.get_by_role("button", name="Somebody else")).to_contain_text("Bram Ostley")
    tablet.get_by_role("link", name="Athletes").click()
    expect(tablet.get_by_role("heading", name="Athletes")).to_be_visible()
    tablet.get_by_role("button", name="Somebody else").click()
    choose(tablet, "Ilse Varn")
    tablet.keyboard.type("2719")  # by keys as well
    expect(length).to_have_value("262")
    assert tablet.url.endswith(f"/fittings/{fitting}/feet")
    tablet.get_by_role("button", name="Somebody else").click()
    choose(tablet, "Bram Ostley")
    type_pin(tablet, "8350")
    expect(tablet.get_by_role("heading", name="Athletes")).to_be_visible()


def test_it_locks_when_nobody_touches_it_and_keeps_what_is_typed(tablet: Page, running: Web) -> None:
    fitting = begun(tablet, running.url, "Left Lying")
    tablet.clock.install()
    tablet.goto(f"{running.url}/fittings/{fitting}/feet")
    length = tablet.get_by_role("group", name="Left", exact=True).get_by_label("Length")
    length.wait_for()
    tablet.clock.run_for(240_000)
    length.click()
    tablet.keyboard.type("259")
    tablet.clock.run_for(280_000)  # the usual five minutes count from the last touch
    expect(tablet.get_by_role("dialog", name="Who is here?")).to_have_count(0)
    tablet.context.set_offline(True)
    tablet.clock.run_for(600_000)  # nobody could come in again: it waits
    expect(tablet.get_by_role("dialog", name="Who is here?")).to_have_count(0)
    tablet.context.set_offline(False)
    tablet.clock.run_for(30_000)
    asked = tablet.get_by_role("dialog", name="Who is here?")
    expect(asked).to_be_visible()
    assert tablet.request.get(f"{running.url}/api/session").status == 401  # not only on the screen
    asked.get_by_role("button", name="Ilse Varn").click()
    type_pin(tablet, "2718")
    expect(asked.get_by_role("alert")).to_have_text("That isn't the PIN.")
    type_pin(tablet, "2719")
    expect(asked).to_have_count(0)
    expect(length).to_have_value("259")


def test_a_pin_that_counts_no_more_leads_to_the_password(tablet: Page) -> None:
    tablet.get_by_role("button", name="Somebody else").click()
    asked = tablet.get_by_role("dialog", name="Who is here?")
    asked.get_by_role("button", name="Ilse Varn").click()
    for n in range(5):
        type_pin(tablet, f"{n}813")
        expect(asked.get_by_role("alert")).to_have_text("That isn't the PIN.")
        expect(asked.get_by_label("PIN of Ilse Varn")).to_have_attribute("aria-busy", "false")
    type_pin(tablet, "2719")
    expect(asked.get_by_role("alert")).to_have_text("A PIN doesn't count here now: sign in with your password.")
    asked.get_by_role("button", name="By password").click()
    expect(asked.get_by_label("Sign-in name")).to_have_value("ilse")
    asked.get_by_label("Password").fill(PASSWORDS["ilse"])
    asked.get_by_role("button", name="Sign in").click()
    expect(asked).to_have_count(0)
    tablet.reload()
    tablet.get_by_role("button", name="Somebody else").click()
    choose(tablet, "Ilse Varn")
    type_pin(tablet, "2719")
    expect(tablet.get_by_role("heading", name="Today")).to_be_visible()


def test_a_page_opened_anew_asks_who_is_here(tablet: Page, running: Web) -> None:
    tablet.goto(f"{running.url}/athletes")
    tablet.get_by_role("heading", name="Athletes").wait_for()
    tablet.get_by_role("button", name="Sign out").click()
    expect(tablet.get_by_text("By the mirror, Games fitting room, Harbour")).to_be_visible()
    assert not found_at_every_size(tablet)
    tablet.get_by_role("button", name="Pip Quill").click()  # who has no PIN
    expect(tablet.get_by_label("Sign-in name")).to_have_value("pip")
    tablet.get_by_role("button", name="By name and PIN").click()
    tablet.get_by_role("button", name="Ilse Varn").click()
    type_pin(tablet, "2719")
    expect(tablet.get_by_role("heading", name="Athletes")).to_be_visible()
    patch(signed_in(running), begun(tablet, running.url, "Still Works"), "feet", {"sock": "thin"}).raise_for_status()


def test_ones_own_pin_is_set_by_the_password(open_page: Callable[..., Page], demo_url: str) -> None:
    page = open_page("pip")
    page.keyboard.press("Control+k")
    page.get_by_label("Commands").last.fill("pin")
    page.keyboard.press("Enter")
    dialog = page.get_by_role("dialog", name="Your PIN")
    assert not found_at_every_size(page, scrolls_sideways=True)
    dialog.get_by_label("Your password").fill("not it at all")
    dialog.get_by_label("The PIN, four digits").fill("1234")
    dialog.get_by_role("button", name="Set it").click()
    expect(dialog.get_by_text("That PIN is guessed at once")).to_be_visible()
    dialog.get_by_label("The PIN, four digits").fill("6041")
    dialog.get_by_role("button", name="Set it").click()
    expect(dialog.get_by_text("That is not your password.")).to_be_visible()
    dialog.get_by_label("Your password").fill(PASSWORDS["pip"])
    dialog.get_by_role("button", name="Set it").click()
    expect(dialog.get_by_text("on the shop's own tablets it signs you in")).to_be_visible()
    with psycopg.connect(demo_url) as cx:
        assert cx.execute("DELETE FROM staff_pin RETURNING 1").fetchall() == [(1,)]


@pytest.mark.parametrize("part", ["Tablets", "Archive"])
def test_the_machines_parts_of_the_house_at_every_size(open_page: Callable[..., Page], part: str) -> None:
    page = open_page("marrow")
    page.get_by_role("link", name="House").click()
    page.get_by_role("radio", name=part).click()
    expect(page.get_by_text("./kalon serve --tablets" if part == "Tablets" else "There is none")).to_be_visible()
    assert not found_at_every_size(page)


def test_how_the_archive_stands_is_told(open_page: Callable[..., Page]) -> None:
    page = open_page("marrow")
    told = {
        "to": "/mnt/second/kalon", "since": "2026-11-03T13:05:00Z", "newest": "2026-11-30T11:40:00Z", "bytes": 1_240_000_000,
        "trouble": None, "tried": {"at": "2026-11-28T03:00:00Z", "pages": 21_000, "records": 8_412, "trouble": None},
    }  # fmt: skip
    page.route("**/api/archive", lambda route: route.fulfill(json=told))
    page.get_by_role("link", name="House").click()
    page.get_by_role("radio", name="Archive").click()
    expect(page.get_by_text("/mnt/second/kalon, 1.2 GB")).to_be_visible()
    expect(page.get_by_text("8412 records as they are here, 21000 pages whole")).to_be_visible()
    assert not found_at_every_size(page)
    bad = told | {
        "trouble": "the disk is full",
        "tried": {"at": "2026-11-28T03:00:00Z", "pages": 0, "records": 0, "trouble": "3 pages are spoilt."},
    }
    page.unroute("**/api/archive")
    page.route("**/api/archive", lambda route: route.fulfill(json=bad))
    page.reload()
    page.get_by_role("radio", name="Archive").click()
    expect(page.get_by_role("alert")).to_contain_text("Nothing is written there now. the disk is full")
    expect(page.get_by_text("it can't be had back. 3 pages are spoilt.")).to_be_visible()
