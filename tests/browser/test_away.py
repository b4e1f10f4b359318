"""The page an athlete opens by their link, on a phone: by touch, with axe, offline, and what the fitter makes of it."""

from __future__ import annotations

import re
import uuid
from collections.abc import Callable
from pathlib import Path

import pytest
from playwright.sync_api import Browser, Page, expect

from tests.api.calls import new_athlete, new_fitting, signed_in
from tests.api.test_links import order_here, picture
from tests.browser.driver import saved
from tests.browser.sizes import LEAST_TARGET, OVER, SMALL, axe
from tests.running import Web

pytestmark = pytest.mark.browser
PHONE = {"width": 390, "height": 844}


def linked(running: Web, name: str = "Farah Distant") -> tuple[str, str]:
    client = signed_in(running)
    fitting = new_fitting(client, new_athlete(client, name))
    made = client.post(f"/api/fittings/{fitting}/link", json={"id": str(uuid.uuid4())}).json()
    return fitting, f"{running.url}/away/{made['token']}"


@pytest.fixture
def phone(browser: Browser) -> Page:
    return browser.new_context(viewport=PHONE, has_touch=True, is_mobile=True).new_page()  # type: ignore[arg-type]


def well_made(page: Page) -> list[str]:
    """What axe, a finger and the eye would complain of."""
    found: list[str] = axe(page) + page.evaluate(SMALL, LEAST_TARGET) + page.evaluate(OVER)
    return found


def test_an_athlete_answers_on_a_phone_and_the_fitter_takes_it_over(
    running: Web, phone: Page, open_page: Callable[..., Page]
) -> None:
    fitting, link = linked(running)
    phone.goto(link)
    expect(phone.get_by_role("heading", name="Hello Farah")).to_be_visible()
    expect(phone.locator("body")).not_to_contain_text("Distant")
    assert well_made(phone) == []
    phone.get_by_role("button", name="I agree").tap()
    phone.get_by_label("In your own words").fill("Football on Sundays.")
    phone.get_by_label("Height").fill("178")
    phone.get_by_role("button", name="Add a shoe").tap()
    phone.get_by_label("Maker").fill("Velmire")
    phone.get_by_label("Size", exact=True).fill("42")
    phone.get_by_role("radio", name="right").tap()
    expect(phone.locator("[data-kept=kept]")).to_be_visible()
    assert well_made(phone) == []
    phone.reload()
    expect(phone.get_by_label("Height")).to_have_value("178")
    expect(phone.get_by_label("In your own words")).to_have_value("Football on Sundays.")
    page = open_page()
    page.goto(f"{running.url}/fittings/{fitting}/feet")
    page.get_by_role("button", name="They aren't here").click()
    expect(page.get_by_role("dialog")).to_contain_text("Football on Sundays.")
    expect(page.locator("[data-afar-foot]")).to_contain_text(re.compile(r"\d{3} ± \d+ mm"))
    page.get_by_role("button", name="Take this as the feet").click()
    saved(page)
    feet = signed_in(running).get(f"/api/fittings/{fitting}").json()["parts"]["feet"]["body"]
    assert feet["left"]["sigma_mm"]["length_mm"] > 1
    assert feet["left"]["length_mm"] == feet["right"]["length_mm"]


def test_a_foot_is_photographed_and_a_spoilt_picture_said(running: Web, phone: Page, tmp_path: Path) -> None:
    _, link = linked(running)
    phone.goto(link)
    phone.get_by_role("button", name="I agree").tap()
    good, spoilt = tmp_path / "foot.png", tmp_path / "spoilt.png"
    good.write_bytes(picture())
    spoilt.write_bytes(b"nothing")
    field = phone.locator("input[type=file]").first
    field.set_input_files(spoilt)
    expect(phone.get_by_role("alert")).to_be_visible(timeout=60_000)
    field.set_input_files(good)
    expect(phone.locator("[data-picture=left]")).to_contain_text("cm long")
    expect(phone.get_by_role("alert")).to_have_count(0)


def test_what_is_typed_without_a_connection_is_kept_and_sent(running: Web, phone: Page) -> None:
    fitting, link = linked(running)
    phone.goto(link)
    phone.get_by_role("button", name="I agree").tap()
    phone.get_by_label("Height").wait_for()
    phone.context.set_offline(True)
    phone.get_by_label("Height").fill("181")
    expect(phone.locator("[data-kept=waiting], [data-kept=typing]")).to_be_visible()
    expect(phone.get_by_role("status")).to_contain_text("kept on this phone")
    phone.context.set_offline(False)
    expect(phone.locator("[data-kept=kept]")).to_be_visible(timeout=60_000)
    kept = signed_in(running).get(f"/api/fittings/{fitting}/link").json()
    assert kept["answers"]["stature_cm"] == 181


def test_a_pair_that_came_is_checked_by_the_same_link(running: Web, phone: Page) -> None:
    fitter = signed_in(running)
    order, fitting = order_here(fitter, running)
    made = fitter.post(f"/api/fittings/{fitting}/link", json={"id": str(uuid.uuid4())}).json()
    phone.goto(f"{running.url}/away/{made['token']}")
    phone.get_by_role("button", name="I agree").tap()
    came = phone.get_by_role("region", name="Your pair has come")
    came.get_by_role("radio", name="touch the end").tap()
    came.get_by_role("button", name="Tell the shop").tap()
    expect(came.get_by_role("status")).to_contain_text("The shop knows. The toes jam: send it back.")
    assert well_made(phone) == []
    found = next(o for o in fitter.get(f"/api/fittings/{fitting}/orders").json() if o["id"] == order)
    assert found["arrival"]["toes"] == "jam"


def test_a_link_that_is_over_says_so(running: Web, phone: Page) -> None:
    fitting, link = linked(running)
    signed_in(running).delete(f"/api/fittings/{fitting}/link")
    phone.goto(link)
    expect(phone.get_by_role("alert")).to_contain_text("Ask the shop for a new one")
    assert well_made(phone) == []


def test_a_manager_erases_an_athlete_after_typing_the_name(running: Web, open_page: Callable[..., Page]) -> None:
    athlete = new_athlete(signed_in(running), "Vanish Mereworth")
    page = open_page("marrow")
    page.goto(f"{running.url}/athletes/{athlete}")
    page.get_by_role("button", name="Erase it").click()
    sure = page.get_by_role("button", name="Erase it for good")
    expect(sure).to_be_disabled()
    page.get_by_label("Type the name to be sure").fill("vanish mereworth")
    sure.click()
    expect(page.get_by_role("heading", name="Erased")).to_be_visible()
    fitter = open_page()
    fitter.goto(f"{running.url}/athletes/{athlete}")
    fitter.get_by_role("heading", name="Erased").wait_for()
    expect(fitter.get_by_role("button", name="Erase it")).to_have_count(0)


def test_a_tablet_that_was_away_says_what_became_of_what_it_held(running: Web, open_page: Callable[..., Page]) -> None:
    """Typed without connection of somebody who was erased meanwhile: let go of, said, and nothing of them shown on."""
    fitter = signed_in(running)
    athlete = new_athlete(fitter, "Leaves Meanwhile")
    fitting = new_fitting(fitter, athlete)
    tablet = open_page()
    tablet.goto(f"{running.url}/fittings/{fitting}/feet")
    length = tablet.get_by_role("group", name="Left", exact=True).get_by_role("textbox", name="Length")
    length.wait_for()
    tablet.context.set_offline(True)
    length.fill("264.5")
    tablet.get_by_label("At what time").focus()
    expect(tablet.locator("[data-saved]")).to_have_text("kept here")
    erased = signed_in(running, "marrow").post(f"/api/athletes/{athlete}/erase")
    assert erased.status_code == 200
    tablet.context.set_offline(False)
    said = tablet.get_by_text(re.compile(r"erased at their request: \d changes? kept here for them (was|were) let go"))
    said.wait_for()
    expect(tablet.get_by_text("Leaves Meanwhile")).to_have_count(0)
    expect(tablet.get_by_role("link", name="To the athletes")).to_be_visible()
    assert tablet.evaluate("Object.keys(localStorage).filter((k) => k.startsWith('kalon.outbox')).length") == 0
    tablet.get_by_role("button", name="Close").click()
    expect(said).to_have_count(0)
