"""Two records of one person, by hand: found by how they are written, put together, and parted again."""

from __future__ import annotations

import re

from playwright.sync_api import Page, expect

from tests.browser.driver import begun, sign_in
from tests.browser.sizes import axe
from tests.running import Web


def test_two_records_are_put_together_and_parted_again(page: Page, running: Web) -> None:
    page.context.clear_cookies()
    sign_in(page, running.url, "marrow", "plumb-line-7")
    first, _ = (begun(page, running.url, name) for name in ("Ulrika Doppelbock", "Ulrike Doppelbock"))
    athlete = page.request.get(f"{running.url}/api/fittings/{first}").json()["athlete"]["id"]
    page.goto(f"{running.url}/athletes/{athlete}")
    lines = page.locator("main li").filter(has_text="no brief yet")
    expect(lines).to_have_count(1)
    page.get_by_role("button", name="Same person as").click()
    dialog = page.get_by_role("dialog")
    dialog.get_by_role("button", name=re.compile("^Ulrike Doppelbock.*1 fitting")).click()
    expect(dialog).to_contain_text("It can be parted again.")
    assert axe(page) == []
    dialog.get_by_role("button", name="Put them together").click()
    expect(page.get_by_text("Put together with the record of Ulrike Doppelbock")).to_be_visible()
    expect(lines).to_have_count(2)
    page.get_by_role("tab", name="What was changed").click()
    expect(page.get_by_text("Put together with: Ulrike Doppelbock")).to_be_visible()
    expect(page.get_by_text("Squad: nothing → nothing")).to_have_count(0)
    page.get_by_role("tab", name="Through the years").click()
    page.get_by_role("button", name="Part them again").click()
    expect(lines).to_have_count(1)
    expect(page.get_by_text("Put together with the record of")).to_have_count(0)
