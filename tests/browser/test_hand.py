"""The whole job by hand: keys and touches counted, changes told and taken back, the focus kept, few questions asked."""

from __future__ import annotations

import re
from collections.abc import Callable

import pytest
from playwright.sync_api import Page, expect

from tests.api.calls import pulled, signed_in
from tests.browser.driver import ON, Keys, new_athlete, saved, seen, to_station
from tests.browser.shots import fitting_of
from tests.running import Web

pytestmark = pytest.mark.browser

MOST_KEYS, MOST_TOUCHES = 90, 30
BRIEF_S, TOUCH_S, LETTER_S = 45, 5, 2
"""The brief's time, and how long a question with its touch and a letter on the glass take. House default."""
FEET = ["262", "101", "246", "250", "65.5"]


JOBS: dict[str, list[str]] = {
    "Football": ["1", "1", "4", "Enter", "Enter", "71", "Enter"],
    "Climbing": ["2", "2", "Enter", "Enter", "63", "Enter"],
    "Lifting": ["5", "2", "Enter", "Enter", "84", "Enter"],
}
"""What is typed at the brief: digits choose, Enter goes on with what is usual."""


@pytest.mark.parametrize("sport", list(JOBS))
def test_a_whole_fitting_by_keys(page: Page, running: Web, sport: str) -> None:
    """A new athlete, both feet by gauge, brief, spec, one pair, timer and verdict, sale, follow-up and return."""
    keys = Keys(page)
    keys("/", "Keyboard Tester", "Enter") if sport == "Football" else keys("/", f"{sport} Tester", "Enter")
    keys("Enter")
    for number in FEET + FEET:
        keys(number, "Enter")
    keys("Enter", *JOBS[sport], ON, ON, "Enter", ON)
    page.get_by_role("heading", name="What to try next").wait_for()
    keys(" ")
    page.get_by_role("button", name=re.compile("Stop the timer")).wait_for()
    page.wait_for_timeout(1100)
    keys(" ", "p", ON)
    page.get_by_role("button", name="Settle on this pair").wait_for()
    saved(page)
    seen(page)
    expect(page.get_by_role("button", name="Settle on this pair")).to_be_enabled()
    keys("Enter")
    page.get_by_text("Settled on").wait_for()
    seen(page)
    keys("Enter")
    page.get_by_text(re.compile("^Booked for")).wait_for()
    keys(ON, "15", "Enter", "-2")
    page.get_by_text("Seen against predicted").wait_for()
    close = page.get_by_role("button", name="Close the follow-up")
    keys(ON)
    expect(close).to_be_focused()
    expect(close).to_be_enabled()  # led to it, and not closed yet
    seen(page)
    keys("Enter")
    page.get_by_role("button", name="Follow-up closed").wait_for()
    expect(page.get_by_role("navigation").get_by_text("done")).to_have_count(7)
    assert keys.pressed <= MOST_KEYS, f"{keys.pressed} keys"
    print(f"{sport}: {keys.pressed} keys")


@pytest.fixture
def touched(open_page: Callable[..., Page]) -> tuple[Page, Callable[[str, str], None], list[str]]:
    """A page on a tablet, a finger that touches what is called so, and what it touched. What has to be typed comes
    from the keyboard on the glass, whose Enter leads on; its letters are not counted."""
    page = open_page(has_touch=True)
    made: list[str] = []

    def touch(role: str, name: str) -> None:
        target = page.get_by_role(role, name=re.compile(f"^{re.escape(name)}")).first  # type: ignore[arg-type]
        expect(target).to_be_in_viewport(ratio=0.6)  # nothing the next step needs is below the fold
        target.tap()
        made.append(name)

    return page, touch, made


TOUCHES: dict[str, tuple[list[tuple[str, str]], str, int]] = {
    "Football": ([("radio", "Football"), ("radio", "Matches"), ("radio", "Artificial grass"), ("button", "Next")],
                 "71", 5),
    "Climbing": ([("radio", "Climbing"), ("radio", "Indoor, a bit of all"), ("button", "Next")], "63", 6),
    "Lifting": ([("radio", "Lifting"), ("radio", "Deadlifts")], "84", 6),
}  # fmt: skip


@pytest.mark.parametrize("sport", list(TOUCHES))
def test_a_whole_fitting_by_touch(
    touched: tuple[Page, Callable[[str, str], None], list[str]], running: Web, sport: str
) -> None:
    page, touch, made = touched
    brief, mass, tests = TOUCHES[sport]
    touch("link", "Athletes")
    touch("button", "New athlete")
    page.keyboard.type(f"Touch {sport}")
    touch("button", "Add and begin")
    page.locator("[data-drawing=feet]").wait_for()
    for number in FEET + FEET:
        page.keyboard.type(number)
        page.keyboard.press("Enter")
    touch("button", "On to Brief")
    before = len(made)
    for step in brief:
        touch(*step)
    page.keyboard.type(mass)
    touch("button", "Nothing")
    at_brief = (len(made) - before) * TOUCH_S + len(mass) * LETTER_S
    touch("button", "On to Spec")
    page.locator("[data-drawing=wanted-shoe]").first.wait_for()
    touch("button", "On to Pull")
    page.locator("[data-drawing=foot-in-shoe]").wait_for()
    touch("button", "Into the tray")
    page.get_by_role("button", name="Put back").wait_for()
    touch("button", "On to Trial")
    page.get_by_role("list", name="Tests").wait_for()
    rows = page.get_by_role("list", name="Tests").get_by_role("radio", name="Pass")
    for i in range(min(rows.count(), tests)):
        rows.nth(i).tap()
        made.append(f"Pass {i}")
    touch("radio", "Passes")
    touch("button", "On to Settle")
    touch("button", "Settle on this pair")
    page.get_by_text("Settled on").wait_for()
    page.get_by_role("button", name="Book the follow-up").scroll_into_view_if_needed()
    touch("button", "Book the follow-up")
    page.get_by_text(re.compile("^Booked for")).wait_for()
    touch("button", "On to Return")
    page.get_by_label("Hours worn").wait_for()
    page.keyboard.type("15")
    page.keyboard.press("Enter")
    page.keyboard.type("-2")
    page.get_by_text("Seen against predicted").wait_for()
    touch("button", "Close the follow-up")
    page.get_by_role("button", name="Follow-up closed").wait_for()
    assert len(made) <= MOST_TOUCHES, made
    assert at_brief <= BRIEF_S
    print(f"{sport}: {len(made)} touches, {at_brief} s at the brief")


def test_every_change_is_told_and_taken_back_and_done_again(page: Page, running: Web) -> None:
    new_athlete(page, running.url, "Told And Undone")
    told = page.locator("[data-changed]")
    group = page.get_by_role("group", name="Left", exact=True)
    group.get_by_label("Length").fill("262")
    expect(told).to_contain_text("Left length: nothing → 262 mm")
    page.get_by_role("radio", name="thick").click()
    expect(told).to_contain_text("Sock: thin → thick")
    told.get_by_role("button", name="Undo").click()
    expect(told).to_contain_text("Taken back. Sock: thick → thin")
    expect(page.get_by_role("radio", name="thin")).to_be_checked()
    page.locator("main").focus()
    page.keyboard.press("Control+z")
    expect(group.get_by_label("Length")).to_have_value("")
    page.keyboard.press("Control+y")
    expect(group.get_by_label("Length")).to_have_value("262")
    told.get_by_role("button", name="Redo").click()
    expect(page.get_by_role("radio", name="thick")).to_be_checked()
    expect(told).to_contain_text("Done again. Sock: thin → thick")
    expect(told.get_by_role("button", name="Redo")).to_have_count(0)
    saved(page)
    page.reload()
    expect(group.get_by_label("Length")).to_have_value("262")
    expect(page.get_by_role("radio", name="thick")).to_be_checked()


def test_a_refusal_leads_to_the_caution(page: Page, running: Web) -> None:
    page.goto(fitting_of(page, running.url, "Vido Carrick-Yann"))
    new_athlete(page, running.url, "Care Is Due")
    keys = Keys(page)
    for number in FEET + FEET:
        keys(number, "Enter")
    keys("Enter", "1", "1", "4", "Enter", "Enter", "71", "Enter", "Enter", "Enter", "9", "Enter")
    saved(page)
    keys(ON)
    page.locator("[data-caution='caution.diabetes']").wait_for()
    keys(ON)
    page.locator("[data-drawing=foot-in-shoe]").wait_for()
    keys("Enter")
    page.get_by_role("alert").get_by_role("link", name="Go to the caution").click()
    box = page.locator("[data-open-caution]")
    expect(box).to_be_focused()
    to_station(page, 3)
    keys("a")  # on its way there: not read yet
    expect(page.get_by_text("before it can have been read")).to_be_visible()
    expect(box).to_be_enabled()
    keys("a")
    expect(page.locator("[data-caution='caution.diabetes']").get_by_role("checkbox")).to_be_checked()
    saved(page)
    expect(page.get_by_role("navigation").get_by_text("after cautions")).to_have_count(0)


def test_the_focus_is_never_lost_and_titles_say_where_one_is(page: Page, running: Web) -> None:
    expect(page).to_have_title("Today · Kalon")
    page.get_by_role("link", name="Stockroom").click()
    expect(page).to_have_title("Stockroom · Kalon")
    new_athlete(page, running.url, "Keeps Focus")
    expect(page).to_have_title("Keeps Focus · Feet · Kalon")
    expect(page.get_by_role("group", name="Left", exact=True).get_by_label("Length")).to_be_focused()
    focused = page.locator("main:focus, main :focus")
    for number, name in enumerate(["Brief", "Spec", "Pull", "Trial", "Settle", "Return"], 2):
        to_station(page, number)
        expect(page).to_have_title(f"Keeps Focus · {name} · Kalon")
        expect(focused).to_have_count(1)
    page.get_by_role("link", name="Go on at").click()
    expect(page).to_have_title("Keeps Focus · Feet · Kalon")
    expect(focused).to_have_count(1)


def test_settled_numbers_are_read_out(page: Page, running: Web) -> None:
    for who, station, said in (
        ("Wren Halloway", "feet", "mm long"),
        ("Tavi Umber", "spec", "street shoe"),
        ("Sunniva Crake", "pull", "EU "),
        ("Lio Farrant", "settle", "ready on"),
        ("Casimir Loe", "return", ": "),
    ):
        page.goto(f"{fitting_of(page, running.url, who)}/{station}")
        region = page.locator("[data-announced]")
        expect(region).to_contain_text(said)
        expect(region).to_have_attribute("aria-live", "polite")


def _weigh(page: Page) -> None:
    page.get_by_role("button", name=re.compile("^Scales")).click()
    page.get_by_role("button", name=re.compile("^Mass of one shoe counts")).click()
    dialog = page.get_by_role("dialog")
    dialog.get_by_role("slider").fill("2")
    dialog.get_by_label("Why").fill("asked for light")
    dialog.get_by_role("button", name="Set").click()


EDITS: dict[str, Callable[[Page], None]] = {
    "feet": lambda p: p.get_by_role("group", name="Left", exact=True).get_by_label("Length", exact=True).fill("266"),
    "brief?ask=history": lambda p: p.locator("[data-question=history]").get_by_role("button", name="Nothing").click(),
    "spec": _weigh,
    "trial": lambda p: p.get_by_label("Note").fill("a little narrow"),
    "settle": lambda p: p.get_by_role("button", name="Sun").click(),
}


OLD_MS = 5200
"""Longer than an answer counts as fresh: what was asked for before may then be asked for anew, and must not be."""


@pytest.mark.parametrize(("station", "after_ms"), [*((s, 0) for s in EDITS), ("spec", OLD_MS)])
def test_an_edit_is_one_change_and_at_most_two_questions(page: Page, running: Web, station: str, after_ms: int) -> None:
    fitting, _ = pulled(signed_in(running), 1)
    page.goto(f"{running.url}/fittings/{fitting}/{station}")
    page.locator("main:focus, main :focus").wait_for()
    page.wait_for_load_state("networkidle")
    asked: list[str] = []
    page.wait_for_timeout(after_ms)
    page.on("request", lambda r: asked.append(f"{r.method} {r.url}") if "/api/" in r.url else None)
    EDITS[station](page)
    saved(page)
    page.wait_for_load_state("networkidle")
    page.wait_for_timeout(500)
    assert sum(a.startswith("PATCH") for a in asked) == 1, asked
    assert sum(a.startswith("GET") for a in asked) <= 2, asked
