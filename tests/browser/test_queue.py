"""The queue from the bench: by keys in and taken up, seen everywhere, by two fitters, with the connection lost."""

from __future__ import annotations

import re
import uuid
from collections.abc import Callable

import psycopg
import pytest
from playwright.sync_api import Page, expect

from tests.browser.driver import Keys
from tests.browser.sizes import found_at_every_size
from tests.running import Web

pytestmark = pytest.mark.browser


@pytest.fixture(autouse=True)
def empty(shop: tuple[Web, str]) -> None:
    with psycopg.connect(shop[1]) as cx:
        cx.execute("DELETE FROM queue_place")


def comes(page: Page, url: str, called: str, **more: object) -> None:
    answer = page.request.post(f"{url}/api/queue", data={"id": str(uuid.uuid4()), "called": called, **more})
    assert answer.status == 201, answer.text()


def test_in_by_keys_and_taken_up_by_one(page: Page, running: Web) -> None:
    """W, who it is, Enter; T pressed twice takes them once, and what is typed on is the first length."""
    page.goto(running.url)
    page.get_by_role("heading", name="Who waits").wait_for()
    keys = Keys(page)
    keys("w")
    page.get_by_role("dialog", name="Somebody waits").wait_for()
    page.keyboard.type("Striped cap")
    keys("Enter")
    waiting = page.get_by_role("list", name="Who waits, in order").get_by_role("listitem")
    expect(waiting).to_have_count(1)
    expect(waiting).to_contain_text(re.compile(r"Striped cap.*A fitting.*here since \d\d:\d\d, next", re.S))
    expect(page.get_by_role("link", name=re.compile(r"Today\s+1 waits"))).to_be_visible()
    keys("t", "t", "262", "Enter")
    page.locator("[data-drawing=feet]").wait_for()
    expect(page.get_by_role("heading", level=1)).to_contain_text(re.compile(r"Striped cap, \d\d:\d\d"))
    expect(page.get_by_role("group", name="Left").get_by_label("Length", exact=True)).to_have_value("262")
    expect(page.get_by_role("link", name=re.compile(r"waits"))).to_have_count(0)
    found = page.request.get(f"{running.url}/api/athletes", params={"text": "striped cap"}).json()
    assert len(found) == 1
    page.goto(running.url)
    expect(waiting).to_contain_text("with Ilse Varn")
    page.get_by_role("button", name=re.compile("^Done: Striped cap")).click()
    expect(waiting).to_have_count(0)


def test_of_two_who_want_the_same_one_is_told(open_page: Callable[..., Page], running: Web) -> None:
    """Both have them on the screen; the second is told who has them, and sees the queue as it is."""
    ilse, bram = open_page(), open_page("bram", "half-size-up-7")
    comes(ilse, running.url, "Both want them")
    for page in (ilse, bram):
        page.goto(running.url)
        page.get_by_role("button", name="Take up Both want them").wait_for()
    ilse.get_by_role("button", name="Take up Both want them").click()
    ilse.locator("[data-drawing=feet]").wait_for()
    bram.get_by_role("button", name="Take up Both want them").click()
    expect(bram.get_by_role("alert").filter(has_text="Ilse Varn has taken Both want them")).to_be_visible()
    expect(bram.get_by_role("listitem").filter(has_text="Both want them")).to_contain_text("with Ilse Varn")


def test_who_left_comes_back_by_undo(page: Page, running: Web) -> None:
    comes(page, running.url, "Changes their mind")
    page.goto(running.url)
    page.get_by_role("button", name="They left: Changes their mind").click()
    waiting = page.get_by_role("list", name="Who waits, in order")
    expect(waiting).to_have_count(0)
    page.keyboard.press("Control+z")
    expect(waiting.get_by_role("listitem")).to_have_count(1)


def test_somebody_is_booked_from_the_day(page: Page, running: Web) -> None:
    """From *To see again*: who and for what are there already; the day and time are all that is asked."""
    page.goto(running.url)
    due = page.get_by_role("region", name=re.compile("To see again"))
    due.get_by_role("button", name=re.compile("^Book: ")).first.click()
    dialog = page.get_by_role("dialog", name="An appointment")
    expect(dialog.get_by_role("radio", name="Seen again")).to_be_checked()
    dialog.get_by_label("On", exact=True).fill("2030-05-06")
    dialog.get_by_label("At", exact=True).fill("15:30")
    dialog.get_by_label("Minutes kept for it").fill("20")
    dialog.get_by_role("button", name="Book it").click()
    expect(dialog).to_have_count(0)
    kept = page.request.get(f"{running.url}/api/queue").json()
    assert kept["places"] == kept["later"] == [], "four years on it isn't among the coming days"
    with_it = page.get_by_text("is booked for 6 May 2030, 15:30")
    expect(with_it.first).to_be_visible()


def test_who_is_on_record_is_not_made_anew(page: Page, running: Web) -> None:
    """Their whole name typed in a hurry, before the list came: it is them."""
    page.goto(running.url)
    page.get_by_role("heading", name="Who waits").wait_for()
    page.keyboard.press("w")
    page.get_by_role("dialog", name="Somebody waits").wait_for()
    page.keyboard.type("fenna rusk")
    page.keyboard.press("Enter")
    waiting = page.get_by_role("list", name="Who waits, in order").get_by_role("listitem")
    expect(waiting).to_contain_text("Fenna Rusk")
    known = page.request.get(f"{running.url}/api/athletes", params={"text": "Fenna Rusk"}).json()
    place = page.request.get(f"{running.url}/api/queue").json()["places"][0]
    assert [place["athlete_id"]] == [a["id"] for a in known]


def test_without_connection_nobody_is_lost_or_doubled(page: Page, running: Web) -> None:
    """The answer never comes: it is said, the dialog keeps what was typed, and pressing again is the same person."""
    page.goto(running.url)
    page.get_by_role("heading", name="Who waits").wait_for()
    sent = []

    def lost(route: object) -> None:
        request = route.request  # type: ignore[attr-defined]
        if request.method != "POST" or sent:
            route.continue_()  # type: ignore[attr-defined]
            return
        sent.append(1)
        route.fetch()  # type: ignore[attr-defined]
        route.abort()  # type: ignore[attr-defined]

    page.route("**/api/queue", lost)
    page.keyboard.press("w")
    dialog = page.get_by_role("dialog", name="Somebody waits")
    dialog.wait_for()
    page.keyboard.type("Heard twice")
    dialog.get_by_role("button", name="They wait").click()
    expect(dialog.get_by_role("alert")).to_be_visible()
    expect(dialog.get_by_label(re.compile("^Who"))).to_have_value("Heard twice")
    page.wait_for_timeout(600)
    dialog.get_by_role("button", name="They wait").click()
    expect(dialog).to_have_count(0)
    expect(page.get_by_role("list", name="Who waits, in order").get_by_role("listitem")).to_have_count(1)
    assert sent


def test_the_queue_at_every_size(page: Page, running: Web) -> None:
    for called in ("Blue jacket", "A family with a push-chair and a very long description of it", "Grey hood"):
        comes(page, running.url, called, sport="cycling")
    page.goto(running.url)
    page.get_by_role("button", name="Take up Grey hood").wait_for()
    assert found_at_every_size(page) == []
    page.get_by_role("button", name="Somebody waits").click()
    page.get_by_role("dialog").wait_for()
    assert found_at_every_size(page) == []
