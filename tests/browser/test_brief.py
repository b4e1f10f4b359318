"""The brief and the spec as a fitter uses them: every sport family, two disciplines, a caution, weights, the house."""

from __future__ import annotations

import re
import uuid
from collections.abc import Callable

import pytest
from playwright.sync_api import Page, expect

from tests.browser.driver import begun, pick, saved, to_station
from tests.browser.shots import fitting_of
from tests.browser.sizes import axe
from tests.made import gauge_paths
from tests.running import Web

pytestmark = pytest.mark.browser
BRIEFS: dict[str, tuple[list[str], str, str]] = {
    "Football": (["1", "1", "2", "n", "1", "74", "3", "3", "·", "n"], "stud-plate", "firm ground, round studs"),
    "Climbing": (["2", "9", "80", "10", "6", "64", "2", "2", "2", "·", "n"], "toe-on-edge", "full"),
    "Cycling": (["3", "1", "3", "80", "n", "620", "100", "71"], "pedal-stroke", "three bolts"),
    "Court": (["4", "7", "2", "n", "3", "66"], "heel-behind", "gum, court"),
    "Lifting": (["5", "1", "3", "90", "82", "1780", "·", "7"], "lifter", "flat, dense"),
    "Field": (["6", "1", "1", "1", "84"], "", "full spikes"),
    "Ice": (["7", "1", "y", "95", "4", "3"], "", ""),
}
"""By keys: digits choose, numbers are typed, `·` goes on with what is there; the drawing, and what ranks first."""


def answer(page: Page, key: str) -> None:
    """One answer to the open question, by keys only."""
    card = page.locator("[data-question][data-current]")
    name = card.get_attribute("data-question")
    if key == "·":
        page.keyboard.press("Enter")
    elif key in ("y", "n"):
        page.keyboard.press("1" if key == "y" else "2")
    elif card.locator("[data-answer] input").count() == 1 and not card.locator("[data-digits]").count():
        page.keyboard.type(key)
        page.keyboard.press("Enter")
    else:
        page.keyboard.press(key)
    expect(page.locator(f"[data-question={name}][data-current]")).to_have_count(0)


def open_brief(page: Page, url: str, name: str) -> None:
    fitting = begun(page, url, name)
    body = {"base_version": 0, "change_id": str(uuid.uuid4()), "set": gauge_paths()}
    assert page.request.patch(f"{url}/api/fittings/{fitting}/parts/feet", data=body).ok
    page.goto(f"{url}/fittings/{fitting}/brief")
    page.locator("[data-question=sport][data-current]").wait_for()
    page.locator("main:focus, main :focus").wait_for()


@pytest.mark.parametrize("family", list(BRIEFS))
def test_a_brief_of_every_family_by_keys(page: Page, running: Web, family: str) -> None:
    keys, drawing, first = BRIEFS[family]
    open_brief(page, running.url, f"Brief {family}")
    for key in keys:
        answer(page, key)
    assert axe(page) == []
    saved(page)
    to_station(page, 3)
    page.locator("[data-drawing=wanted-shoe]").first.wait_for()
    if drawing:
        expect(page.locator(f"[data-drawing={drawing}]")).to_be_visible()
    if first:
        expect(page.get_by_role("listitem").filter(has_text=re.compile(f"^{first}")).first).to_be_visible()
    assert axe(page) == []


def test_a_whole_football_brief_takes_few_keys(page: Page, running: Web) -> None:
    """Every question answered or passed: at a key a second well under 45 seconds."""
    open_brief(page, running.url, "Quick Brief")
    hurts = page.get_by_role("button", name="Hurts")
    keys = [*BRIEFS["Football"][0], *"······"]
    for key in keys[:-8]:
        answer(page, key)
    expect(hurts).to_contain_text("not said")
    for key in keys[-8:]:
        answer(page, key)
    expect(page.get_by_role("heading", name="The brief is told")).to_be_visible()
    expect(hurts).to_contain_text("nothing")
    expect(page.locator("[data-usual]")).to_have_count(0)
    assert sum(len(k) + (len(k) > 1) for k in keys) <= 20


def test_what_nobody_asked_is_said_to_be_so(page: Page, running: Web) -> None:
    open_brief(page, running.url, "Not Asked")
    for key in ("5", "2"):
        answer(page, key)
    hurts = page.get_by_role("button", name="Hurts")
    page.get_by_role("button", name="Body mass").click()
    page.get_by_role("textbox", name="Body mass").fill("82")
    page.keyboard.press("Tab")
    page.get_by_role("button", name="To spend").click()
    expect(page.locator("[data-question=budget] h2")).to_be_in_viewport()
    page.get_by_role("button", name="Next").click()
    expect(page.locator("[data-usual]")).to_contain_text("hurts: nothing")
    saved(page)
    to_station(page, 3)
    caution = page.locator("[data-caution=unasked]")
    expect(caution).to_contain_text("Nobody has asked yet what hurts")
    assert axe(page) == []
    caution.get_by_role("link").click()
    page.locator("[data-question=history]").get_by_role("button", name="Knee").click()
    expect(hurts).to_contain_text("Knee")
    page.locator("main").focus()
    page.keyboard.press("Control+z")
    expect(hurts).to_contain_text("not said")
    page.get_by_role("button", name="Nothing").click()
    expect(hurts).to_contain_text("nothing")
    saved(page)
    page.reload()
    expect(hurts).to_contain_text("nothing")
    page.get_by_role("link", name="Spec").first.click()
    page.locator("[data-drawing=wanted-shoe]").first.wait_for()
    expect(caution).to_have_count(0)


def test_two_disciplines_share_the_time_and_pull_apart(page: Page, running: Web) -> None:
    open_brief(page, running.url, "Two Things")
    for key in ("5", "1"):
        answer(page, key)
    page.get_by_role("button", name="Also", exact=False).first.click()
    page.get_by_role("button", name="+ Deadlifts").click()
    page.get_by_label("Share of the time").fill("40")
    page.get_by_label("Share of the time").blur()
    expect(page.get_by_text("takes 60 % of the time")).to_be_visible()
    page.get_by_role("button", name="Body mass").click()
    page.get_by_role("textbox", name="Body mass").fill("80")
    page.keyboard.press("Tab")
    saved(page)
    to_station(page, 3)
    caution = page.locator("[data-caution='engine.pulls_apart']")
    expect(caution).to_contain_text("two pairs would serve better")
    expect(page.get_by_role("navigation").get_by_text("after cautions").first).to_be_visible()
    caution.scroll_into_view_if_needed()  # nobody acknowledges what they have not seen
    caution.get_by_role("checkbox").check()
    saved(page)
    expect(page.get_by_role("navigation").get_by_text("after cautions")).to_have_count(0)
    assert axe(page) == []


def test_a_caution_must_be_acknowledged_before_pulling(page: Page, running: Web) -> None:
    open_brief(page, running.url, "Care First")
    for key in ("4", "1"):
        answer(page, key)
    page.get_by_role("button", name="Body mass").click()
    page.get_by_role("textbox", name="Body mass").fill("61")
    page.get_by_role("button", name="Hurts").click()
    page.keyboard.press("9")
    expect(page.locator("[data-many]").get_by_role("button", name="Diabetes, poor circulation")).to_have_attribute(
        "aria-pressed", "true"
    )
    saved(page)
    to_station(page, 3)
    caution = page.locator("[data-caution='caution.diabetes']")
    expect(caution).to_contain_text("physician")
    caution.get_by_role("link", name="raised by what hurts").click()
    page.locator("[data-question=history]").wait_for()
    page.go_back()
    fitting = page.url.split("/fittings/")[1].split("/")[0]
    line = page.request.get(f"{running.url}/api/stock", params={"text": "Shuttle"}).json()[0]["id"]
    refused = page.request.put(f"{running.url}/api/fittings/{fitting}/tray/{line}")
    assert refused.status in (409, 422)
    caution.scroll_into_view_if_needed()  # nobody acknowledges what they have not seen
    caution.get_by_role("checkbox").check()
    saved(page)
    expect(page.get_by_role("navigation").get_by_text("after cautions")).to_have_count(0)


def test_the_present_shoe_lies_on_the_scales(page: Page, running: Web) -> None:
    page.goto(f"{fitting_of(page, running.url, 'Tavi Umber')}/brief")
    page.get_by_role("button", name="Wear now").click()
    page.get_by_label("Fold it").get_by_role("radio", name="bends in half").click()
    page.get_by_label("One shoe weighs").fill("320")
    page.get_by_label("What kind of shoe").get_by_role("radio", name="A running shoe").click()
    saved(page)
    to_station(page, 3)
    expect(page.locator("[data-outline=laid]")).to_be_visible()
    page.keyboard.press("s")
    expect(page.locator("[data-band=mass_g] [data-worn]")).to_be_visible()
    expect(page.get_by_role("img", name=re.compile("worn now 320 g"))).to_have_count(0)
    expect(page.locator("[data-band=bend_n_mm_per_deg] svg")).to_have_accessible_name(re.compile("worn now 70"))


def test_a_weight_is_moved_with_its_reason_and_taken_back(page: Page, running: Web) -> None:
    page.goto(f"{fitting_of(page, running.url, 'Fenna Rusk')}/spec")
    page.locator("[data-drawing=wanted-shoe]").first.wait_for()
    if page.get_by_label("Settled").count():
        page.goto(f"{fitting_of(page, running.url, 'Tavi Umber')}/spec")
    page.get_by_role("button", name=re.compile("^Scales")).click()
    button = page.get_by_role("button", name=re.compile("^Mass of one shoe counts"))
    button.click()
    dialog = page.get_by_role("dialog")
    expect(dialog.get_by_role("button", name="Set")).to_be_disabled()
    dialog.get_by_role("slider").fill("2")
    dialog.get_by_label("Why").fill("asked for light")
    assert axe(page) == []
    dialog.get_by_role("button", name="Set").click()
    saved(page)
    expect(button).to_have_accessible_name("Mass of one shoe counts 2.0, moved by hand. Change")
    button.click()
    expect(dialog).to_contain_text("Moved by Ilse Varn")
    dialog.get_by_role("button", name=re.compile("^Back to")).click()
    saved(page)
    expect(button).to_have_accessible_name(re.compile("counts 0"))


def test_another_school_says_what_it_would_and_can_be_tried(page: Page, running: Web) -> None:
    page.goto(f"{fitting_of(page, running.url, 'Tavi Umber')}/spec")
    page.locator("[data-school='football_size/street_with_room']").wait_for()
    page.locator("main").focus()
    page.keyboard.press("w")
    pick(page, "How football boots are sized", "Street size with a finger's room (synthetic)")
    expect(page.locator("[data-moved]")).to_contain_text("Room at the toe: 8 to 14 becomes 11 to 16 mm")
    page.get_by_role("button", name="Back to the brief").click()


def test_choices_tell_their_reasons(page: Page, running: Web) -> None:
    page.goto(f"{fitting_of(page, running.url, 'Tavi Umber')}/spec")
    plate = page.get_by_role("region", name="Plate", exact=True)
    plate.get_by_role("button", name="firm ground, round studs").click()
    expect(plate).to_contain_text("kPa under the worst")
    page.get_by_label("Plate from below").get_by_role("radio", name="Blades").click()
    expect(page.locator("[data-plate=firm_ground_blade]")).to_be_visible()


STANDS = """rows => rows.map(r => ({text: r.innerText.split("\\n")[0], slider: Number(r.querySelector("input[type=range]").value),
  number: Number(r.querySelector("input:not([type=range])").value.replace("−", "-"))}))"""
"""Where each slider stands, as the browser has it, and the number beside it."""


def test_a_manager_sets_the_house_and_a_fitter_sees_it(open_page: Callable[..., Page], running: Web) -> None:
    manager = open_page("marrow", "plumb-line-7")
    manager.goto(f"{running.url}/house")
    manager.get_by_label("How court shoes are sized").get_by_role("radio", name="Half a size up").click()
    manager.get_by_role("radio", name="Numbers").click()
    manager.get_by_role("textbox", name="Weak toes, moment they hold").fill("0.085")
    manager.keyboard.press("Tab")
    manager.get_by_role("textbox", name="Court: most room at the toe").fill("13.5")
    manager.keyboard.press("Tab")
    stands = manager.locator("li:has(input[type=range])").evaluate_all(STANDS)
    assert len(stands) > 50
    assert [s for s in stands if s["slider"] != s["number"]] == []
    assert next(s["number"] for s in stands if s["text"].startswith("Weak toes")) in (0.08, 0.09)  # two decimals
    manager.get_by_role("textbox", name="Weak toes, moment they hold").fill("0.08")
    manager.keyboard.press("Tab")
    assert axe(manager) == []
    manager.get_by_role("radio", name="Sizes and tax").click()
    manager.get_by_label("Size system shown").get_by_role("radio", name="UK", exact=True).click()
    manager.get_by_role("button", name="Add a band").click()
    assert axe(manager) == []
    manager.get_by_role("button", name=re.compile("^Set version")).click()
    expect(manager.get_by_text(re.compile("Version 1, set by Marrow Tesk"))).to_be_visible()
    fitter = open_page()
    fitter.goto(f"{running.url}/house")
    expect(fitter.get_by_role("radio", name="Half a size up")).to_be_disabled()
    fitter.goto(f"{fitting_of(fitter, running.url, 'Tavi Umber')}/spec")
    expect(fitter.get_by_text("The house has changed", exact=False)).to_be_visible()
    fitter.get_by_role("button", name="Take version 1").click()
    expect(fitter.get_by_text("The house has changed", exact=False)).to_have_count(0)
    fitter.goto(f"{fitting_of(fitter, running.url, 'Sunniva Crake')}/pull")
    expect(fitter.locator("[data-size]")).to_contain_text("UK")
