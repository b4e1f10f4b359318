"""After the sale, by hand: the day, pairs owned, looking at one, the plan, squads, and a phone that logs."""

from __future__ import annotations

import re
import uuid
from collections.abc import Callable
from datetime import timedelta
from urllib.parse import urlsplit

import numpy as np
import pytest
import zxingcpp
from PIL import Image
from playwright.sync_api import Page, expect

from tests.api.calls import new_athlete, pulled, sell, signed_in, today
from tests.api.test_day import sold
from tests.api.test_pairs import an_old_pair
from tests.running import Web

pytestmark = pytest.mark.browser


def test_the_day_is_done_put_off_and_brought_back(open_page: Callable[..., Page], running: Web) -> None:
    fitter = signed_in(running)
    _, fitting, _ = sold(fitter, "Dora Dueson")
    fitter.put(f"/api/fittings/{fitting}/follow-up", json={"due_on": (today() - timedelta(days=1)).isoformat()})
    page = open_page("ilse")
    page.goto(running.url)
    due = page.get_by_role("region", name=re.compile("^To see again"))
    mine = due.get_by_role("listitem").filter(has_text="Dora Dueson")
    expect(mine).to_contain_text("a day late")
    mine.get_by_role("button", name="Done: Dora Dueson").click()
    expect(mine).to_have_count(0)
    expect(page.get_by_role("status").filter(has_text="Dora Dueson: done.")).to_be_visible()
    page.get_by_role("button", name="Undo").click()
    expect(mine).to_be_visible()
    mine.get_by_role("button", name="Later: Dora Dueson").click()
    mine.get_by_role("button", name="in a week").click()
    expect(mine).to_have_count(0)
    page.get_by_text("Put off (1)").click()
    page.get_by_role("button", name="Back into the day").click()
    expect(mine).to_be_visible()
    mine.get_by_role("link").click()
    page.wait_for_url(f"**/fittings/{fitting}/return")
    other = open_page("bram")
    other.goto(running.url)
    other.get_by_role("radio", name="Mine").click()
    expect(other.get_by_role("heading", name="Today")).to_be_visible()
    expect(other.get_by_text("Dora Dueson")).to_have_count(0)


def test_the_day_by_keys_alone_and_pressed_twice(open_page: Callable[..., Page], running: Web) -> None:
    fitter = signed_in(running)
    _, fitting, _ = sold(fitter, "Kay Keysdottir")
    fitter.put(f"/api/fittings/{fitting}/follow-up", json={"due_on": (today() - timedelta(days=3)).isoformat()})
    page = open_page("ilse")
    page.goto(running.url)
    done = page.get_by_role("button", name="Done: Kay Keysdottir").first
    done.focus()
    page.keyboard.press("Enter")
    page.keyboard.press("Enter")
    expect(page.get_by_role("button", name="Undo")).to_be_visible()
    marks = [i for i in fitter.get("/api/today").json()["items"] if i["name"] == "Kay Keysdottir"]
    assert "follow_up" not in {m["kind"] for m in marks}


def test_a_calendar_is_shown_once_and_ended(open_page: Callable[..., Page], running: Web) -> None:
    page = open_page("ilse")
    page.goto(running.url)
    page.get_by_role("button", name="Calendar").click()
    page.get_by_role("button", name="A link for my matters").click()
    link = page.get_by_role("region", name="The calendar").locator("[data-link]").inner_text()
    assert re.fullmatch(r"http://.*/api/calendar/[\w-]{43}\.ics", link)
    assert page.request.get(link).headers["content-type"].startswith("text/calendar")
    page.get_by_role("button", name="End it").first.click()
    expect(page.get_by_role("button", name="End it")).to_have_count(0)
    assert page.request.get(link).status == 404


def test_a_pair_they_have_is_kept_worn_and_looked_at(open_page: Callable[..., Page], running: Web) -> None:
    athlete = new_athlete(signed_in(running), "Olga Owner")
    page = open_page("ilse")
    page.goto(f"{running.url}/athletes/{athlete}")
    page.get_by_role("button", name="A pair they have").click()
    dialog = page.get_by_role("dialog")
    dialog.get_by_label("Model, or what it is").fill("An old boot")
    dialog.get_by_label("Size").fill("UK 8")
    dialog.get_by_role("combobox", name="What for").click()
    page.get_by_role("option", name="Matches").click()
    bought = (today() - timedelta(days=90)).isoformat()
    for field in ("Bought on", "Worn since"):
        dialog.get_by_label(field).fill(bought)
        dialog.get_by_label(field).press("Tab")
    dialog.get_by_role("button", name="Keep this pair").click()
    expect(dialog).to_have_count(0)
    page.get_by_role("region", name="Their pairs").get_by_role("link", name=re.compile("An old boot")).click()
    page.locator("[data-drawing=life]").wait_for()
    left = page.locator("[data-left]")
    before = left.inner_text()
    page.get_by_role("button", name="60 min").click()
    expect(page.get_by_text("Logged 60 min.")).to_be_visible()
    page.get_by_role("button", name="Undo").click()
    expect(page.get_by_text("Logged 60 min.")).to_have_count(0)
    expect(left).to_have_text(before)
    page.get_by_role("button", name="Look at it").click()
    page.get_by_role("link", name="2 Sole").click()
    sole = page.get_by_label("Sole", exact=True)
    expect(sole.get_by_role("radio").first).to_be_focused()
    sole.get_by_role("radio", name="bald", exact=True).click()
    page.get_by_label("Mid-sole", exact=True).get_by_role("radio", name="pressed flat").click()
    expect(page.locator("[data-says]")).to_contain_text("% worn")
    page.get_by_role("button", name="Keep it").click()
    expect(page.get_by_role("dialog")).to_have_count(0)
    expect(page.get_by_role("complementary")).to_contain_text("Sole: bald")
    assert left.inner_text() != before
    page.get_by_role("button", name="Worn out").click()
    expect(page.get_by_text("Put away on")).to_be_visible()
    page.get_by_role("button", name="Take it up again").click()
    expect(page.get_by_role("button", name="Look at it")).to_be_visible()


def test_what_is_logged_without_connection_is_said_and_sent_once(open_page: Callable[..., Page], running: Web) -> None:
    fitter = signed_in(running)
    _, pair = an_old_pair(fitter, "Lost Line")
    page = open_page("ilse")
    page.goto(f"{running.url}/pairs/{pair['id']}")
    page.locator("[data-drawing=life]").wait_for()
    answered = []

    def lose(route) -> None:  # type: ignore[no-untyped-def]
        """The server hears it; the answer is lost."""
        answered.append(route.fetch())
        route.abort()

    page.route("**/worn", lose, times=1)
    page.get_by_role("button", name="90 min").click()
    expect(page.get_by_role("alert")).to_contain_text("No connection")
    page.get_by_role("button", name="90 min").click()
    expect(page.get_by_text("Logged 90 min.")).to_be_visible()
    assert len(answered) == 1
    assert [w["minutes"] for w in fitter.get(f"/api/pairs/{pair['id']}").json()["worn"]] == [90]


def test_the_same_again_begins_a_fitting_with_it(open_page: Callable[..., Page], running: Web) -> None:
    fitter = signed_in(running)
    fitting, (line,) = pulled(fitter, 1)
    athlete = fitter.get(f"/api/fittings/{fitting}").json()["athlete"]["id"]
    sell(fitter, fitting, line)
    (pair,) = fitter.get(f"/api/athletes/{athlete}/pairs").json()
    page = open_page("ilse")
    page.goto(f"{running.url}/pairs/{pair['id']}")
    page.get_by_role("button", name="The same again?").click()
    again = page.get_by_role("region", name="The same again")
    expect(again).to_contain_text("The feet are what they were")
    again.get_by_role("button", name=re.compile("^(Begin a fitting|Try it)")).first.click()
    page.wait_for_url(re.compile(r"/fittings/[^/]+/(pull|feet)$"))
    assert fitting not in page.url


def test_a_plan_follows_the_budget_and_is_kept(open_page: Callable[..., Page], running: Web) -> None:
    fitter = signed_in(running)
    athlete, _ = an_old_pair(fitter, "Paula Planner")
    pulled(fitter, 1, athlete=athlete)
    page = open_page("ilse")
    page.goto(f"{running.url}/pairs?athlete={athlete}")
    value = page.locator("[data-value]")
    expect(value).to_contain_text("In a pair that suits")
    page.get_by_label("Budget", exact=True).fill("0")
    expect(page.get_by_text("Nothing: what they have serves")).to_be_visible()
    page.get_by_label("Budget", exact=True).fill("400")
    page.get_by_role("button", name="Without it").click()
    expect(page.get_by_role("button", name="As if bought").first).to_be_visible()
    page.get_by_role("button", name="Something more").click()
    for name, option in (("Sport", "Court"), ("Mostly", "Squash")):
        page.get_by_role("combobox", name=name).click()
        page.get_by_role("option", name=option, exact=True).click()
    page.get_by_role("combobox", name=re.compile("Floor")).click()
    page.get_by_role("option", name="Springy wood").click()
    page.get_by_role("button", name="Add it").click()
    expect(page.locator("[data-drawing=plan-strip]")).to_have_accessible_name(re.compile("Squash"))
    page.get_by_role("button", name="Keep the plan").click()
    expect(page.get_by_role("button", name="Keep the plan")).to_have_count(0)
    page.reload()
    expect(page.locator("[data-drawing=plan-strip]")).to_have_accessible_name(re.compile("Squash"))
    expect(page.get_by_label("Budget", exact=True)).to_have_value("400")
    page.locator("[data-chart=budget]").wait_for()


def list_of_names(page: Page, running: Web, squad: str, names: bytes) -> None:
    """A list chosen at a squad of that name."""
    page.goto(f"{running.url}/squads")
    page.get_by_role("button", name="Bring a list").click()
    page.get_by_role("textbox", name="Squad").fill(squad)
    page.get_by_label("The list").set_input_files(
        {"name": "names.csv", "mimeType": "text/csv", "buffer": names}  # type: ignore[arg-type]
    )


def test_a_squad_is_brought_in_and_fitted_in_a_row(open_page: Callable[..., Page], running: Web) -> None:
    page = open_page("ilse")
    names = b"Name;Born\nZia Mossgill;2013-02-01\nYorick Penn;nonsense\nXena Brook;\n"
    list_of_names(page, running, "Gale Under 14", names)
    expect(page.get_by_text("2 new, 0 here already, 1 refused.")).to_be_visible(timeout=60_000)  # a worker begins first
    expect(page.get_by_text("nonsense is no day")).to_be_visible()
    page.get_by_role("button", name="Bring 2 into the squad").click()
    page.get_by_role("heading", name="Gale Under 14").wait_for()
    page.get_by_role("button", name="Next: Xena Brook").click()
    page.wait_for_url("**/fittings/*/feet")
    page.goto(f"{running.url}/squads?name=Gale+Under+14")
    expect(page.get_by_role("link", name="On with Xena Brook")).to_be_visible()
    expect(page.get_by_role("link", name="Coach's sheet, A4")).to_be_visible()


def test_a_date_that_can_be_read_two_ways_is_asked_about(open_page: Callable[..., Page], running: Web) -> None:
    page = open_page("ilse")
    list_of_names(page, running, "Gale Two Ways", b"Name,Born\nWren Twoways,12/03/2013\n")
    dialog = page.get_by_role("dialog")
    expect(dialog.get_by_text("12/03/2013 can be read two ways")).to_be_visible(timeout=60_000)
    expect(page.get_by_role("button", name="Bring 1 into the squad")).to_be_disabled()
    dialog.get_by_role("radio", name="3 Dec 2013").click()
    expect(dialog.get_by_role("list", name="Lines of the list")).to_contain_text("3 Dec 2013")
    page.get_by_role("button", name="Bring 1 into the squad").click()
    page.get_by_role("heading", name="Gale Two Ways").wait_for()


def test_a_phone_logs_what_is_worn_in(open_page: Callable[..., Page], running: Web) -> None:
    fitter = signed_in(running)
    _, fitting, pair = sold(fitter, "Petra Phone")
    page = open_page("ilse")
    page.goto(f"{running.url}/fittings/{fitting}/settle")
    page.get_by_role("button", name="A page for Petra").click()
    page.get_by_role("button", name="Make the link").click()
    link = page.locator("[data-link]").inner_text()
    with page.expect_download() as card:
        page.get_by_role("button", name="Picture").click()
    picture = np.array(Image.open(card.value.path()).convert("RGB"))
    assert [r.text for r in zxingcpp.read_barcodes(picture)] == [link], "the page's code stands on the card of sizes"
    phone = open_page("ilse")
    phone.context.clear_cookies()
    phone.set_viewport_size({"width": 390, "height": 844})
    phone.goto(link)
    expect(phone.get_by_text("How to wear your new shoes in")).to_be_visible()
    phone.get_by_role("button", name="I agree").click()
    expect(phone.get_by_role("link", name="My fit sheet")).to_be_visible()
    phone.get_by_role("button", name="30 min").click()
    expect(phone.get_by_text("Logged 30 minutes.")).to_be_visible()
    phone.get_by_role("button", name="30 min").click()  # a finger that hits twice
    expect(phone.get_by_text("30 minutes are logged already.")).to_be_visible()
    (worn,) = fitter.get(f"/api/pairs/{pair}").json()["worn"]
    assert worn["minutes"] == 30
    planned = {
        w["minutes"]
        for w in phone.request.get(f"{running.url}/api{urlsplit(link).path}/pairs").json()[0]["plan"]["wears"]
    }
    for minutes in planned:
        expect(phone.get_by_role("button", name=f"{minutes} min", exact=True)).to_be_visible()
    phone.get_by_role("button", name="Take out").click()
    expect(phone.get_by_role("button", name="Take out")).to_have_count(0)
    assert not fitter.get(f"/api/pairs/{pair}").json()["worn"]


def test_a_phone_says_what_failed_and_asks_again(open_page: Callable[..., Page], running: Web) -> None:
    fitter = signed_in(running)
    _, fitting, _ = sold(fitter, "Petra Away")
    made = fitter.post(f"/api/fittings/{fitting}/link", json={"id": str(uuid.uuid4())}).json()
    phone = open_page("ilse")
    phone.route("**/api/away/*", lambda route: route.fulfill(status=503, json={"title": "Much to do: try again."}))
    phone.goto(f"{running.url}/away/{made['token']}")
    expect(phone.get_by_role("heading", name="The shop can't be reached just now")).to_be_visible()
    phone.unroute_all()
    phone.route("**/api/away/*/pairs", lambda route: route.abort())
    phone.get_by_role("button", name="Try again").click()
    phone.get_by_role("button", name="I agree").click()
    expect(phone.get_by_role("alert")).to_contain_text("Your pairs can't be shown now. No connection.")
    phone.unroute_all()
    phone.get_by_role("button", name="Try again").click()
    expect(phone.get_by_role("link", name="My fit sheet")).to_be_visible()


def test_two_hands_on_one_plan(open_page: Callable[..., Page], running: Web) -> None:
    fitter = signed_in(running)
    athlete, _ = an_old_pair(fitter, "Two Planners")
    pulled(fitter, 1, athlete=athlete)
    page = open_page("ilse")
    page.goto(f"{running.url}/pairs?athlete={athlete}")
    page.locator("[data-value]").wait_for()
    other = {"version": 0, "body": {"budget": 123}}
    assert fitter.put("/api/plan", params={"athlete": athlete}, json=other).status_code == 200
    page.get_by_label("Budget", exact=True).fill("222")
    page.get_by_role("button", name="Keep the plan").click()
    expect(page.get_by_role("alert")).to_contain_text("Somebody changed this plan meanwhile")
    assert fitter.get("/api/plan", params={"athlete": athlete}).json()["body"]["budget"] == 123


def test_nothing_of_an_unknown_pair(open_page: Callable[..., Page], running: Web) -> None:
    page = open_page("ilse")
    page.goto(f"{running.url}/pairs/{uuid.uuid4()}")
    expect(page.get_by_text("There is no such pair here.")).to_be_visible()
