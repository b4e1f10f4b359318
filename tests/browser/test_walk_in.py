"""Somebody without a name, from the chair: one key begins, the tray in few more, a name when it is said."""

from __future__ import annotations

import re
import uuid

import pytest
from playwright.sync_api import Page, expect

from tests.browser.driver import ON, Keys, saved
from tests.running import Web

pytestmark = pytest.mark.browser

MOST_KEYS = 40


def test_a_walk_in_is_at_the_tray_in_few_keys(page: Page, running: Web) -> None:
    """One key, lengths and widths of both feet, the brief, a pair in the tray; pressed twice it is one fitting."""
    keys = Keys(page)
    keys("n", "n")
    page.locator("[data-drawing=feet]").wait_for()
    expect(page.get_by_role("heading", level=1)).to_contain_text(re.compile(r"Walk-in, \d\d:\d\d"))
    keys("262", "Enter", "101", *["Enter"] * 4, "264", "Enter", "102", "Enter", ON)
    page.locator("[data-question]").first.wait_for()
    keys("1", "1", "4", "Enter", "Enter", "71", "Enter", ON)
    page.locator("[data-drawing=wanted-shoe]").first.wait_for()
    keys(ON)
    page.locator("[data-drawing=foot-in-shoe]").wait_for()
    keys("Enter")
    page.get_by_role("button", name="Put back").wait_for()
    assert keys.pressed <= MOST_KEYS, f"{keys.pressed} keys"
    found = page.request.get(f"{running.url}/api/athletes", params={"text": "walk-in"}).json()
    assert len(found) == 1
    print(f"{keys.pressed} keys")


def test_a_name_is_said_in_the_middle_of_it(page: Page, running: Web) -> None:
    """Known first by a cap, then by name; what was typed before it stays."""
    page.goto(f"{running.url}/athletes")
    page.get_by_role("button", name="New athlete").click()
    page.get_by_role("textbox", name="Name", exact=True).fill("Yellow cap")
    page.get_by_role("button", name="That is no name: begin").click()
    page.locator("[data-drawing=feet]").wait_for()
    page.keyboard.type("258")
    page.keyboard.press("Enter")
    saved(page)
    page.get_by_role("button", name="Say their name").click()
    dialog = page.get_by_role("dialog")
    name = dialog.get_by_label(re.compile(r"^Name \(known here as Yellow cap, \d\d:\d\d\)"))
    expect(name).to_be_focused()
    expect(name).to_have_value("")
    page.keyboard.type("Maro Tindal")
    page.keyboard.press("Enter")
    expect(page.get_by_role("heading", level=1)).to_contain_text("Maro Tindal")
    expect(page.get_by_role("button", name="Say their name")).to_have_count(0)
    expect(page.get_by_role("group", name="Left").get_by_label("Length", exact=True)).to_have_value("258")
    page.get_by_role("link", name="Maro Tindal").click()
    page.get_by_role("button", name="Put it right").wait_for()
    expect(page.get_by_text("No name yet.")).to_have_count(0)


def test_a_plan_for_somebody_without_a_brief_begins_one(page: Page, running: Web) -> None:
    """The fitting that is open is gone on with; where there is none, one begins."""
    made = page.request.post(f"{running.url}/api/athletes", data={"change_id": str(uuid.uuid4()), "name": "Orla Pask"})
    plan = f"{running.url}/pairs?athlete={made.json()['id']}"
    page.goto(plan)
    page.get_by_role("button", name="Begin a fitting").click()
    page.locator("[data-drawing=feet]").wait_for()
    page.goto(plan)
    page.get_by_role("link", name="Answer the brief").click()
    page.locator("[data-question]").first.wait_for()


def test_somebody_without_a_name_says_when_they_are_forgotten(page: Page, running: Web) -> None:
    page.goto(f"{running.url}/athletes")
    page.get_by_role("button", name="Walk-in").click()
    page.locator("[data-drawing=feet]").wait_for()
    page.get_by_role("link", name=re.compile("^Walk-in, ")).click()
    expect(
        page.get_by_text(re.compile(r"^No name yet\. Without one, all that is kept of them is forgotten on "))
    ).to_be_visible()
