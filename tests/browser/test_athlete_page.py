"""The page of an athlete: their years drawn, each mark straight to what it is of, and what was changed, searched."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import Page, expect

from tests.running import Web

pytestmark = pytest.mark.browser


def opened(page: Page, url: str, name: str, show: str = "") -> None:
    found = page.request.get(f"{url}/api/athletes", params={"text": name}).json()
    page.goto(f"{url}/athletes/{found[0]['id']}{show}")
    page.get_by_role("tab", name="Through the years").wait_for()


def test_every_mark_leads_to_what_it_is_of(page: Page, running: Web) -> None:
    """A junior measured three times: by keys through the visits, by a press to a fitting, to a pair, to a pinch."""
    opened(page, running.url, "Fenna Rusk")
    drawn = page.locator("[data-drawing=years]")
    drawn.wait_for()
    expect(drawn).to_have_attribute("aria-label", re.compile(r"^3 measurings, 1 pairs"))
    expect(page.get_by_text("half a size more by")).to_be_visible()
    then = page.locator("[data-then]")
    newest = then.inner_text()
    assert re.match(r"gauge and tape: left \d+\.\d ± \d\.\d mm, right", newest)
    page.get_by_role("slider", name="Measured 3 times").focus()
    page.keyboard.press("Home")
    expect(then).not_to_have_text(newest)
    page.keyboard.press("End")
    expect(then).to_have_text(newest)
    expect(page.locator("[data-said='right outer_ball']")).to_have_count(1)
    page.get_by_role("link", name=re.compile("Outer ball: noticed")).first.click()
    expect(page).to_have_url(re.compile(r"/fittings/[0-9a-f-]+/trial$"))
    page.go_back()
    page.get_by_role("link", name=re.compile(r": football: Skerrowe Fibre|: Football: Skerrowe Fibre")).click()
    expect(page).to_have_url(re.compile(r"/fittings/[0-9a-f-]+"))
    page.go_back()
    page.get_by_role("link", name=re.compile(r"^Skerrowe Fibre, since")).first.click()
    expect(page).to_have_url(re.compile(r"/pairs/[0-9a-f-]+$"))


def test_marks_of_one_day_are_told_apart_by_a_list(page: Page, running: Web) -> None:
    """Three fittings on one day stand at one place; pressed, each is a line of its own."""
    athlete = page.request.post(
        f"{running.url}/api/athletes",
        data={"change_id": "7b0c3f9e-5a0f-4d1c-9a52-0d7b8b1f0a11", "name": "Thrice Today"},
    ).json()
    for place in range(3):
        fitting = f"7b0c3f9e-5a0f-4d1c-9a52-0d7b8b1f0b1{place}"
        page.request.post(f"{running.url}/api/fittings", data={"id": fitting, "athlete_id": athlete["id"]})
    page.goto(f"{running.url}/athletes/{athlete['id']}")
    page.get_by_role("button", name=re.compile(r"^Fittings: 3 from")).click()
    expect(page.get_by_role("dialog", name="Fittings").get_by_role("link")).to_have_count(3)
    page.keyboard.press("Escape")
    expect(page.get_by_role("button", name=re.compile(r"^Fittings: 3 from"))).to_be_focused()


def test_what_was_changed_is_searched(page: Page, running: Web) -> None:
    """Behind its tab, in words; every word of a question, in any order; what stayed as it was isn't told."""
    opened(page, running.url, "Fenna Rusk")
    expect(page.get_by_label("Find in it")).to_have_count(0)
    page.get_by_role("tab", name="What was changed").click()
    found = page.get_by_role("region", name="What was changed")
    rows = found.locator("tbody tr")
    page.get_by_label("Find in it").wait_for()
    assert rows.count() > 10
    expect(found).not_to_contain_text("thin → thin")
    expect(found).not_to_contain_text("Note: nothing")
    page.get_by_label("Find in it").fill("harrowick verdict")
    expect(rows).to_have_count(1)
    expect(rows).to_contain_text("Verdict: fail")
    page.get_by_label("Find in it").fill("nobody ever said this")
    expect(found).to_contain_text("Nothing of what was changed says that.")
    page.reload()
    page.get_by_label("Find in it").wait_for()
    expect(page.get_by_role("tab", name="What was changed")).to_have_attribute("aria-selected", "true")
