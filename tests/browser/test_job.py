"""The whole job from feet to return, by mouse; by keys and by touch it is in test_hand."""

from __future__ import annotations

import json
import re
from io import BytesIO
from pathlib import Path

import pytest
from playwright.sync_api import Page, expect
from pypdf import PdfReader

from tests.browser.driver import saved
from tests.running import Web

pytestmark = pytest.mark.browser
NUMBERS = {"Length": "262", "Ball width": "101", "Ball girth": "246", "Instep girth": "250", "Heel width": "65.5"}


def station(page: Page, name: str) -> None:
    page.get_by_role("navigation").get_by_role("link", name=name, exact=False).first.click()


def test_by_mouse(page: Page, running: Web, tmp_path: Path) -> None:
    page.goto(f"{running.url}/athletes")
    page.get_by_role("button", name="New athlete").click()
    page.get_by_label("Name", exact=True).fill("Mouse Tester")
    page.get_by_role("button", name="Add and begin a fitting").click()
    page.wait_for_url("**/fittings/*/feet")
    page.locator("[data-drawing=feet]").wait_for()
    for side in ("Left", "Right"):
        group = page.get_by_role("group", name=side, exact=True)
        for label, value in NUMBERS.items():
            group.get_by_label(label, exact=True).fill(value)
        group.get_by_role("radio", name="medium").click()
        group.get_by_role("radio", name="2nd toe").click()
    page.get_by_label("At what time").fill("16:45")
    saved(page)
    expect(page.get_by_text("medium arch, volume medium").first).to_be_visible()

    station(page, "Brief")
    page.get_by_role("radio", name="Football").click()
    page.get_by_role("radio", name="Matches").click()
    page.get_by_role("radio", name="Artificial grass").click()
    page.get_by_role("button", name="Body mass").click()
    page.get_by_role("textbox", name="Body mass").fill("71")
    page.get_by_role("button", name="Hurts").click()
    page.get_by_role("button", name="Knee", exact=False).first.click()
    saved(page)

    station(page, "Spec")
    expect(page.get_by_role("region", name="Plate").locator("s", has_text="blades")).to_be_visible()
    expect(page.get_by_text("Round studs: you noted a knee.").first).to_be_visible()

    station(page, "Pull")
    page.locator("[data-drawing=foot-in-shoe]").wait_for()
    for row in (0, 1):
        page.get_by_role("region", name="Shoes in order").get_by_role("button").nth(row).click()
        page.get_by_role("button", name="Into the tray").click()
        page.get_by_role("button", name="Put back").wait_for()
    expect(page.get_by_role("region", name="Tray").get_by_role("link")).to_have_count(2)

    station(page, "Trial")
    for test in ("Stand", "Toes", "Walk", "Cut", "Touch"):
        page.get_by_label(f"{test}: pass or fail").get_by_role("radio", name="Pass").click()
    page.get_by_role("button", name="right outer ball: none").click()
    page.get_by_role("button", name="right outer ball: noticed").click()
    expect(page.get_by_role("button", name="right outer ball: hurts")).to_be_visible()
    saved(page)
    expect(page.get_by_role("complementary").get_by_text("Pinch at the ball", exact=False)).to_be_visible()
    page.get_by_role("radio", name="Passes").click()
    saved(page)

    station(page, "Settle")
    page.get_by_role("button", name="Settle on this pair").click()
    page.get_by_text("Settled on").wait_for()
    with page.expect_download() as loaded:
        page.get_by_role("link", name="JSON", exact=True).click()
    file = tmp_path / "sheet.json"
    loaded.value.save_as(file)
    sheet = json.loads(file.read_text())
    assert sheet["athlete"] == "Mouse Tester"
    pdf = page.request.get(f"{running.url}{page.get_by_role('link', name='Fit sheet, A4').get_attribute('href')}")
    assert "Mouse Tester" in PdfReader(BytesIO(pdf.body())).pages[0].extract_text()
    page.get_by_role("button", name="Book the follow-up").click()
    page.get_by_text(re.compile("^Booked for")).wait_for()

    station(page, "Return")
    page.get_by_label("Hours worn").fill("24")
    page.get_by_label("Room at the toe").fill("11")
    page.get_by_label("Room at the ball, round").fill("-1.5")
    saved(page)
    expect(page.get_by_text("Seen against predicted")).to_be_visible()
    page.get_by_role("button", name="Close the follow-up").click()
    page.get_by_role("button", name="Follow-up closed").wait_for()
    expect(page.get_by_role("navigation").get_by_text("done")).to_have_count(7)
