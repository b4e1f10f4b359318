"""What was seen to happen last is what is taken back: tray, marks of the day, follow-up, counts."""

from __future__ import annotations

import re
from collections.abc import Callable

import psycopg
import pytest
from playwright.sync_api import Page, expect
from psycopg.rows import dict_row

from kalon.store import staff
from tests.api.calls import patch, pulled, ready_to_pull, sell, signed_in
from tests.browser.driver import saved
from tests.browser.sizes import axe
from tests.running import Web

pytestmark = pytest.mark.browser


def undo(page: Page) -> None:
    """Ctrl Z, with the focus on the sheet."""
    page.locator("main").focus()
    page.keyboard.press("Control+z")


def test_a_pair_put_into_the_tray_is_taken_back_before_the_body_mass(page: Page, running: Web) -> None:
    client = signed_in(running)
    fitting = ready_to_pull(client)
    page.goto(f"{running.url}/fittings/{fitting}/brief")
    page.get_by_role("button", name="Body mass").click()
    mass = page.get_by_role("textbox", name="Body mass")
    before = mass.input_value()
    mass.fill("73")
    saved(page)
    page.keyboard.press("Control+Enter")
    page.keyboard.press("Control+Enter")
    page.locator("[data-drawing=foot-in-shoe]").wait_for()
    page.keyboard.press("Enter")
    told = page.locator("[data-changed]")
    expect(told).to_contain_text("into the tray")
    tray = page.get_by_role("region", name="Tray").get_by_role("link")
    expect(tray).to_have_count(1)
    undo(page)
    expect(tray).to_have_count(0)
    expect(told).to_contain_text("Taken back.")
    assert client.get(f"/api/fittings/{fitting}").json()["parts"]["brief"]["body"]["body_kg"] == 73
    page.keyboard.press("Control+y")
    expect(tray).to_have_count(1)
    undo(page)
    expect(tray).to_have_count(0)
    undo(page)
    expect(told).to_contain_text(re.compile(r"Taken back\. Body mass: 73 kg → "))
    saved(page)
    body = client.get(f"/api/fittings/{fitting}").json()["parts"]["brief"]["body"]
    assert body["body_kg"] == (float(before) if before else None)


def test_after_two_done_both_come_back_and_what_was_done_today_is_listed(page: Page, running: Web) -> None:
    page.goto(running.url)
    broken_in = page.get_by_role("region", name="Broken in").get_by_role("listitem")
    names = [broken_in.nth(i).locator("b").inner_text() for i in range(2)]
    for name in names:
        broken_in.filter(has_text=name).get_by_role("button", name="Done").first.click()
        expect(page.locator("[data-changed]")).to_contain_text(f"{name}: done.")
    page.get_by_text(re.compile(r"^Done today")).click()
    listed = page.get_by_role("list", name="Done today").get_by_role("listitem")
    for name in names:
        expect(listed.filter(has_text=name)).to_have_count(1)
    undo(page)
    expect(page.locator("[data-changed]")).to_contain_text(f"Taken back. {names[1]}: done.")
    expect(broken_in.filter(has_text=names[1])).to_have_count(1)
    undo(page)
    expect(broken_in.filter(has_text=names[0])).to_have_count(1)
    for name in names:
        expect(listed.filter(has_text=name)).to_have_count(0)


def test_a_follow_up_is_closed_by_its_button_alone_and_opened_again(page: Page, running: Web) -> None:
    client = signed_in(running)
    fitting, (line,) = pulled(client, 1)
    assert sell(client, fitting, line).status_code == 201
    page.goto(f"{running.url}/fittings/{fitting}/settle")
    page.get_by_role("button", name="Book the follow-up").click()
    expect(page.locator("[data-changed]")).to_contain_text("Follow-up booked for")
    undo(page)
    expect(page.get_by_role("button", name="Book the follow-up")).to_be_visible()
    assert client.get(f"/api/fittings/{fitting}").json()["follow_up"] is None
    page.keyboard.press("Control+y")
    expect(page.get_by_text(re.compile("^Booked for"))).to_be_visible()
    patch(client, fitting, "return", {"hours": 12, "length_mm": 8})
    page.goto(f"{running.url}/fittings/{fitting}/return")
    close = page.get_by_role("button", name="Close the follow-up")
    expect(close).to_be_enabled()
    for _ in range(3):
        page.keyboard.press("Control+Enter")
    page.wait_for_timeout(500)
    assert client.get(f"/api/fittings/{fitting}").json()["state"] == "settled"
    close.click()
    expect(page.get_by_role("button", name="Follow-up closed")).to_be_visible()
    undo(page)
    expect(close).to_be_visible()
    assert client.get(f"/api/fittings/{fitting}").json()["state"] == "settled"
    close.click()
    page.reload()  # nothing is remembered any more: there is a button
    page.get_by_role("button", name="Open it again").click()
    expect(close).to_be_visible()


def test_a_count_is_taken_back_as_a_count_of_its_own(open_page: Callable[..., Page], running: Web) -> None:
    page = open_page("marrow")
    page.goto(f"{running.url}/stockroom")
    page.locator("[data-model] > button").first.click()
    line = page.locator("[data-line]").first
    shown = line.locator("[data-on-hand]")
    before = int(shown.get_attribute("data-on-hand") or "")
    line.get_by_role("button", name="more").click()
    expect(shown).to_have_attribute("data-on-hand", str(before + 1))
    expect(page.locator("[data-changed]")).to_contain_text("+1")
    undo(page)
    expect(shown).to_have_attribute("data-on-hand", str(before))
    expect(line.locator("[data-moving='0']")).to_be_visible()
    client = signed_in(running, "marrow")
    newest = client.get(f"/api/stock/{line.get_attribute('data-line')}/moves").json()[:2]
    assert [(m["pairs"], m["why"]) for m in newest] == [(-1, "taken back"), (1, "")]


def test_what_a_new_shop_has_still_to_do_goes_when_it_is_done_and_comes_back(
    open_page: Callable[..., Page], shop: tuple[Web, str]
) -> None:
    with psycopg.connect(shop[1], row_factory=dict_row) as cx:
        staff.add_staff(cx, staff.add_shop(cx, "Lone Quay"), "ada", "Ada Quill", "manager", "last-and-sock-4")
    page = open_page("ada", "last-and-sock-4")
    to_do = page.get_by_role("region", name="Still to do in this shop")
    expect(to_do.get_by_role("listitem")).to_have_count(5)
    assert axe(page) == []
    to_do.get_by_role("button", name=re.compile("^Done: Write a backup")).dblclick()
    expect(to_do.get_by_role("listitem")).to_have_count(4)
    page.get_by_role("main").get_by_role("button", name="Undo").click()
    expect(to_do.get_by_role("listitem")).to_have_count(5)
    to_do.get_by_role("link", name=re.compile("first list")).click()
    page.get_by_role("heading", name="Stockroom", exact=True).wait_for()
