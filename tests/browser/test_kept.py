"""What is typed reaches the record once, and the screen tells the truth about it: as the fitter sees it."""

from __future__ import annotations

import contextlib
import re
import shutil
import time
import uuid
from collections.abc import Callable
from pathlib import Path
from typing import Any

import httpx
import psycopg
import pytest
from playwright.sync_api import Browser, Page, Route, expect
from playwright.sync_api import TimeoutError as PlaywrightTimeout

from kalon.api.app import DIST
from kalon.devices.practice import make
from tests.api.calls import PASSWORDS, new_athlete, new_fitting, patch, pulled, ready_to_pull, signed_in
from tests.browser.driver import saved, sign_in
from tests.browser.sizes import found_at_every_size
from tests.running import Web, web

pytestmark = pytest.mark.browser
PARTS = "**/api/fittings/*/parts/*"


def word(page: Page) -> Any:
    return page.locator("[data-saved]")


def left(page: Page) -> Any:
    return page.get_by_role("group", name="Left", exact=True).get_by_role("textbox", name="Length")


def state(client: httpx.Client, fitting: str) -> Any:
    return client.get(f"/api/fittings/{fitting}").json()


def refuse(status: int, times: int = 1, **more: Any) -> Callable[[Route], None]:
    """Answers so many calls with a problem, then lets them through."""
    left_over = [times]

    def handle(route: Route) -> None:
        if left_over[0] <= 0:
            route.continue_()
            return
        left_over[0] -= 1
        body = {"type": "urn:kalon:x", "title": "It failed here.", "status": status, "code": "failed", "fields": []}
        route.fulfill(status=status, json=body | more, content_type="application/problem+json")

    return handle


@pytest.mark.parametrize("status", [500, 429])
def test_a_failing_answer_keeps_the_value_and_is_tried_again(page: Page, running: Web, status: int) -> None:
    client = signed_in(running)
    fitting = new_fitting(client)
    page.goto(f"{running.url}/fittings/{fitting}/feet")
    page.route(PARTS, refuse(status, 2))
    left(page).fill("261.5")
    expect(word(page)).to_have_text("not saved yet")
    expect(page.get_by_text("being tried again: It failed here.")).to_be_visible()
    expect(left(page)).to_have_value("261.5")
    assert state(client, fitting)["parts"]["feet"]["version"] == 0
    saved(page)
    assert state(client, fitting)["parts"]["feet"]["body"]["left"]["length_mm"] == 261.5


def test_a_failing_value_can_be_let_go(page: Page, running: Web) -> None:
    client = signed_in(running)
    fitting = new_fitting(client)
    page.goto(f"{running.url}/fittings/{fitting}/feet")
    page.route(PARTS, refuse(500, 100))
    left(page).fill("261.5")
    page.get_by_role("button", name="Let it go").click()
    expect(word(page)).to_have_text("saved")
    page.get_by_label("At what time").focus()
    expect(left(page)).to_have_value("")


def test_what_it_gives_up_typed_and_settled_at_once_is_on_the_sheet(page: Page, running: Web) -> None:
    client = signed_in(running)
    fitting, _ = pulled(client, 1)
    page.goto(f"{running.url}/fittings/{fitting}/settle")
    page.get_by_label("What it gives up").fill("Firm at the heel for a week.")
    page.get_by_role("button", name="Settle on this pair").click()
    page.get_by_text("Settled on").wait_for()
    sheet = client.get(f"/api/fittings/{fitting}/fit-sheet.json").json()
    assert sheet["note"] == "Firm at the heel for a week."


def test_a_slow_verdict_is_waited_for(page: Page, running: Web) -> None:
    client = signed_in(running)
    fitting, (line,) = pulled(client, 1)
    page.goto(f"{running.url}/fittings/{fitting}/trial")

    def slowly(route: Route) -> None:
        time.sleep(2)
        route.continue_()

    page.route(PARTS, slowly)
    page.get_by_role("radio", name="Passes").click()
    page.get_by_role("navigation").get_by_role("link", name="Settle").click()
    page.get_by_role("button", name="Settle on this pair").click()
    page.get_by_text("Settled on").wait_for()
    assert state(client, fitting)["parts"]["trial"]["body"]["pairs"][line]["verdict"] == "pass"


def test_a_sale_is_refused_while_something_typed_is_refused(page: Page, running: Web) -> None:
    client = signed_in(running)
    fitting, _ = pulled(client, 1)
    page.goto(f"{running.url}/fittings/{fitting}/settle")
    page.route(PARTS, refuse(422, 1, title="Too long."))
    page.get_by_label("What it gives up").fill("x")
    expect(word(page)).to_have_text("not saved: see why")
    page.get_by_role("button", name="Settle on this pair").click()
    expect(page.get_by_role("alert").filter(has_text="was not saved")).to_be_visible()
    assert state(client, fitting)["state"] == "open"
    word(page).click()
    page.get_by_role("dialog").get_by_role("button", name="Let it go").click()
    page.get_by_role("button", name="Settle on this pair").click()
    page.get_by_text("Settled on").wait_for()


def test_a_refused_number_does_not_hide_the_good_one_after_it(page: Page, running: Web) -> None:
    client = signed_in(running)
    fitting, other = new_fitting(client), new_fitting(client)
    page.goto(f"{running.url}/fittings/{fitting}/feet")
    left(page).fill("26")
    expect(page.get_by_role("alert").filter(has_text="at least 110 mm")).to_have_count(0)  # more may come
    page.keyboard.press("Tab")
    expect(page.get_by_role("alert").filter(has_text="at least 110 mm")).to_be_visible()
    expect(word(page)).to_have_text("not saved: see why")
    left(page).fill("260")
    saved(page)
    page.get_by_label("At what time").focus()
    expect(left(page)).to_have_value("260")
    left(page).fill("26")
    expect(word(page)).to_have_text("not saved: see why")
    page.goto(f"{running.url}/fittings/{other}/feet")
    expect(word(page)).to_have_text("saved")


def scanned(client: httpx.Client, **found: Any) -> str:
    """A fitting with a scan of the left foot."""
    fitting = new_fitting(client)
    data, _ = make("stl", 3, "left")
    query = {"id": str(uuid.uuid4()), "name": "scan.stl"}
    assert client.post(f"/api/fittings/{fitting}/captures", params=query, content=data).status_code == 201
    return fitting


def test_a_number_typed_over_a_captured_one_stays_also_without_connection(page: Page, running: Web) -> None:
    client = signed_in(running)
    fitting = scanned(client)
    page.goto(f"{running.url}/fittings/{fitting}/feet")
    captured = left(page).input_value()
    page.context.set_offline(True)
    left(page).fill("288.5")
    page.get_by_label("At what time").focus()
    expect(word(page)).to_have_text("kept here")
    expect(left(page)).to_have_value("288.5")
    assert captured != "288.5"
    page.context.set_offline(False)
    saved(page)
    expect(left(page)).to_have_value("288.5")
    left(page).fill("")
    page.get_by_label("At what time").focus()
    expect(left(page)).to_have_value(captured)
    saved(page)
    expect(left(page)).to_have_value(captured)


def test_typing_while_a_file_is_measured_clashes_with_nobody(page: Page, running: Web) -> None:
    client = signed_in(running)
    fitting = new_fitting(client)
    page.goto(f"{running.url}/fittings/{fitting}/feet")
    data, _ = make("stl", 3, "left")
    with page.expect_file_chooser() as chosen:
        page.get_by_role("button", name="Bring a file").click()
    chosen.value.set_files({"name": "scan.stl", "mimeType": "model/stl", "buffer": data})
    right = page.get_by_role("group", name="Right", exact=True)
    for label, value in (("Length", "262"), ("Ball width", "101"), ("Ball girth", "246"), ("Heel width", "64")):
        right.get_by_label(label, exact=True).fill(value)
        saved(page)
    page.locator("[data-capture='scan/left']").wait_for()
    saved(page)
    assert page.get_by_role("dialog").count() == 0
    assert state(client, fitting)["parts"]["feet"]["body"]["right"]["heel_width_mm"] == 64


def test_a_bunion_a_capture_found_can_be_taken_off(page: Page, running: Web, demo_url: str) -> None:
    client = signed_in(running)
    fitting = scanned(client)
    with psycopg.connect(demo_url) as cx:
        cx.execute(
            "UPDATE foot_capture SET reading = jsonb_set(reading, '{bunion}', 'true') WHERE fitting_id = %s", [fitting]
        )
    page.goto(f"{running.url}/fittings/{fitting}/feet")
    bunion = page.get_by_role("button", name="Bunion, left")
    expect(bunion).to_have_attribute("aria-pressed", "true")
    bunion.click()
    expect(bunion).to_have_attribute("aria-pressed", "false")
    saved(page)
    assert state(client, fitting)["found"]["left"]["bunion"] is False
    bunion.click()
    saved(page)
    assert state(client, fitting)["found"]["left"]["bunion"] is True


def test_timers_belong_to_their_pair_run_on_and_survive_a_reload(page: Page, running: Web) -> None:
    client = signed_in(running)
    fitting, (one, two) = pulled(client, 2)
    page.goto(f"{running.url}/fittings/{fitting}/trial?pair={one}")
    page.get_by_role("button", name="Start the timer, Stand").click()
    page.get_by_role("radiogroup", name="Pair", exact=True).get_by_role("radio").nth(1).click()
    page.wait_for_url(f"**pair={two}")
    expect(page.get_by_role("button", name="Start the timer, Stand")).to_be_visible()
    page.get_by_role("navigation").get_by_role("link", name="Spec").click()
    page.get_by_role("navigation").get_by_role("link", name="Trial").click()
    page.wait_for_timeout(2500)
    page.reload()
    stop = page.get_by_role("button", name="Stop the timer, Stand")
    stop.click()
    saved(page)
    pairs = state(client, fitting)["parts"]["trial"]["body"]["pairs"]
    assert set(pairs) == {one}
    assert pairs[one]["seconds"]["stand"] >= 2


def test_a_verdict_can_be_withdrawn(page: Page, running: Web) -> None:
    client = signed_in(running)
    fitting, (line,) = pulled(client, 1)
    page.goto(f"{running.url}/fittings/{fitting}/trial")
    page.get_by_role("radio", name="Passes").click()
    saved(page)
    page.get_by_role("radio", name="Passes").click()
    saved(page)
    assert state(client, fitting)["parts"]["trial"]["body"]["pairs"][line].get("verdict") is None


def test_two_quick_presses_at_the_shelf_count_two_and_a_failed_one_says_so(
    open_page: Callable[..., Page], running: Web
) -> None:
    page = open_page("marrow")
    open_model(page, running, 0)
    row = page.locator("[data-line]").first
    cell = row.locator("[data-on-hand]")
    before = int(cell.get_attribute("data-on-hand") or 0)
    more = row.get_by_role("button", name="more")
    for _ in range(3):
        more.click()
    expect(cell).to_have_attribute("data-on-hand", str(before + 3))
    expect(cell).to_have_attribute("data-moving", "0")
    open_model(page, running, 0)
    expect(cell).to_have_attribute("data-on-hand", str(before + 3))
    page.route("**/moves", refuse(409, 1))
    more.click()
    expect(row.get_by_role("alert")).to_contain_text("+1 was not counted: It failed here.")
    expect(cell).to_have_attribute("data-on-hand", str(before + 3))
    row.get_by_role("button", name="Again").click()
    expect(cell).to_have_attribute("data-moving", "0")
    open_model(page, running, 0)
    expect(cell).to_have_attribute("data-on-hand", str(before + 4))


def open_model(page: Page, running: Web, place: int) -> None:
    """The rack anew, one of its models opened."""
    page.goto(f"{running.url}/stockroom")
    page.locator("[data-model] > button").nth(place).click()
    page.locator("[data-line]").first.wait_for()


def test_a_count_without_connection_is_kept_and_sent_later(open_page: Callable[..., Page], running: Web) -> None:
    page = open_page("marrow")
    open_model(page, running, 1)
    rows = page.locator("[data-line]")
    row = rows.nth(1)
    cell = row.locator("[data-on-hand]")
    before = int(cell.get_attribute("data-on-hand") or 0)
    page.route("**/moves", lambda route: route.abort())
    row.get_by_role("button", name="more").click()
    expect(row.get_by_role("alert")).to_contain_text("+1 is kept here and sent again")
    page.get_by_label("Maker, model, sport, size").fill("no such pair at all")
    expect(rows).to_have_count(0)
    open_model(page, running, 1)
    expect(cell).to_have_attribute("data-on-hand", str(before + 1))
    page.unroute("**/moves")
    expect(cell).to_have_attribute("data-moving", "0")
    open_model(page, running, 1)
    expect(cell).to_have_attribute("data-on-hand", str(before + 1))
    expect(cell).to_have_attribute("data-moving", "0")


def worker_ready(page: Page) -> None:
    """Wait until the interface is kept for the time without connection."""
    page.evaluate("navigator.serviceWorker.ready.then(() => true)")
    page.wait_for_timeout(1500)  # what was last known is written at most once a second


def test_a_reload_without_connection_opens_the_fitting_and_keeps_what_is_typed(page: Page, running: Web) -> None:
    client = signed_in(running)
    fitting = new_fitting(client)
    patch(client, fitting, "feet", {"left/length_mm": 255})
    page.goto(f"{running.url}/fittings/{fitting}/feet")
    expect(left(page)).to_have_value("255")
    worker_ready(page)
    page.context.set_offline(True)
    page.reload()
    expect(left(page)).to_have_value("255")
    expect(page.get_by_text("No connection.", exact=False)).to_be_visible(timeout=60_000)
    left(page).fill("256.5")
    expect(word(page)).to_have_text("kept here")
    page.once("dialog", lambda d: d.accept())
    page.reload()
    expect(left(page)).to_have_value("256.5")
    page.context.set_offline(False)
    saved(page)
    assert state(client, fitting)["parts"]["feet"]["body"]["left"]["length_mm"] == 256.5


def test_a_page_opened_again_shows_nothing_older_than_what_was_seen_saved(page: Page, running: Web) -> None:
    client = signed_in(running)
    fitting = new_fitting(client)
    patch(client, fitting, "feet", {"left/length_mm": 255})
    page.goto(f"{running.url}/fittings/{fitting}/feet")
    expect(left(page)).to_have_value("255")
    page.wait_for_timeout(1500)  # what was last known is written at most once a second
    page.evaluate("() => { IDBObjectStore.prototype.put = () => { throw new Error('too slow'); }; }")
    left(page).fill("257.5")
    saved(page)

    def late(route: Route) -> None:
        page.wait_for_timeout(3000)
        route.continue_()

    page.route(f"**/api/fittings/{fitting}", late)
    page.reload(wait_until="commit")
    expect(left(page)).to_have_value(re.compile(r"."))
    assert left(page).input_value() == "257.5"
    page.unroute_all(behavior="wait")
    page.wait_for_timeout(2000)
    told = "Object.keys(localStorage).filter((n) => n.startsWith('kalon.told')).length"
    assert page.evaluate(told) == 0  # the slower store has it, and nothing is kept twice
    assert left(page).input_value() == "257.5"


def look_until_newer(page: Page) -> None:
    """Look for a newer version as the half-hourly look does, until one is offered.

    One look is not enough here: the browser itself looks a moment after a page opens, and a look asked for
    meanwhile is answered with that one's finding, made before the file was changed.
    """
    offered = page.get_by_text("A newer version of Kalon is here", exact=False)
    for _ in range(20):
        page.evaluate("navigator.serviceWorker.getRegistration().then((r) => r.update())")
        with contextlib.suppress(PlaywrightTimeout):
            offered.wait_for(timeout=2_000)
            return
    expect(offered).to_be_visible()


STALE_MS = 5_500
"""A little longer than anything asked for is taken as it is when somebody comes back to it."""


def test_coming_back_without_connection_hides_nothing_that_was_seen(
    open_page: Callable[..., Page], running: Web
) -> None:
    """A tablet laid aside and taken up again asks anew for what it shows; that no answer comes leaves it standing."""
    client = signed_in(running, "marrow")
    fitting, (line,) = pulled(client, 1)
    athlete = state(client, fitting)["athlete"]["id"]
    rooms = ["", "athletes", f"athletes/{athlete}", "squads", "stockroom", "stockroom/orders", f"stockroom/bench/{line}",
             "ledger", "house", *(f"fittings/{fitting}/{s}" for s in ("feet", "brief", "spec", "pull", "trial", "settle"))]  # fmt: skip
    first = open_page("marrow")
    pages = [first, *(first.context.new_page() for _ in rooms[1:])]
    seen = {}
    for page, room in zip(pages, rooms, strict=True):
        page.goto(f"{running.url}/{room}")
        expect(page.locator("main")).to_have_text(re.compile(r"[\s\S]{60}"))
        expect(page.get_by_role("status").filter(has_text=re.compile("^Drawing "))).to_have_count(0)
        seen[room] = page.locator("main").get_by_role("heading").all_inner_texts()
    first.wait_for_timeout(STALE_MS)
    first.context.set_offline(True)
    for page, room in zip(pages, rooms, strict=True):
        page.bring_to_front()
        page.evaluate("window.dispatchEvent(new Event('visibilitychange'))")
        expect(page.get_by_text("No connection. You see what was last known", exact=False)).to_be_visible()
        page.wait_for_timeout(200)
        now = page.locator("main").get_by_role("heading").all_inner_texts()
        gone = [h for h in seen[room] if not any(n.startswith(h) for n in now)]
        assert not gone, (room, gone)
        assert "can't be shown" not in page.locator("main").inner_text(), room
    first.context.set_offline(False)


def test_a_newer_version_is_offered_and_never_forced(browser: Browser, demo_url: str, tmp_path: Path) -> None:
    interface = tmp_path / "dist"
    shutil.copytree(DIST, interface)
    with web(demo_url, KALON_DIST=str(interface)) as own:
        page = browser.new_page()
        sign_in(page, own.url)
        page.goto(f"{own.url}/fittings/{new_fitting(signed_in(own))}/feet")
        worker_ready(page)
        page.evaluate("window.sameAsBefore = true")
        worker = interface / "sw.js"
        worker.write_text(worker.read_text() + "// newer")
        look_until_newer(page)
        left(page).fill("258.5")
        saved(page)
        assert page.evaluate("window.sameAsBefore")
        with page.expect_navigation():
            page.get_by_role("button", name="Take it now").click()
        assert page.evaluate("!window.sameAsBefore")
        expect(left(page)).to_have_value("258.5")
        expect(page.get_by_text("A newer version of Kalon is here", exact=False)).to_be_hidden()
        page.close()


def test_a_part_that_does_not_load_says_so_and_can_be_tried_again(open_page: Callable[..., Page], running: Web) -> None:
    page = open_page(service_workers="block")
    client = signed_in(running)
    fitting = ready_to_pull(client)
    page.route("**/assets/Spec-*.js", lambda route: route.abort())
    page.goto(f"{running.url}/fittings/{fitting}/spec")
    expect(page.get_by_text("This station could not be loaded")).to_be_visible()
    expect(page.get_by_role("navigation").get_by_role("link", name="Feet")).to_be_visible()
    page.unroute("**/assets/Spec-*.js")
    page.get_by_role("button", name="Try again").click()
    page.wait_for_load_state()
    expect(page.get_by_text("This station could not be loaded")).to_be_hidden()
    expect(page.get_by_role("region", name="Plate")).to_be_visible()


def test_a_station_that_cannot_be_drawn_leaves_the_bench_standing(running: Web, open_page: Callable[..., Page]) -> None:
    page = open_page()
    client = signed_in(running)
    fitting = ready_to_pull(client)
    told: list[Any] = []
    page.on("request", lambda r: told.append(r.post_data_json) if r.url.endswith("/api/failures") else None)
    page.route("**/api/fittings/*/pull?*", lambda route: route.fulfill(json={"places": [{"pair": None}], "vetoed": []}))
    page.route("**/api/fittings/*/pull", lambda route: route.fulfill(json={"places": [{"pair": None}], "vetoed": []}))
    page.goto(f"{running.url}/fittings/{fitting}/pull")
    expect(page.get_by_text("This station can't be drawn")).to_be_visible()
    page.get_by_role("navigation").get_by_role("link", name="Feet").click()
    expect(left(page)).to_be_visible()
    assert told
    assert told[0]["kind"] == "TypeError"
    assert all(":" in place for place in told[0]["where"])


def test_two_tabs_send_each_its_own(page: Page, running: Web) -> None:
    client = signed_in(running)
    one, two = new_fitting(client), new_fitting(client)
    other = page.context.new_page()
    for tab, fitting in ((page, one), (other, two)):
        tab.goto(f"{running.url}/fittings/{fitting}/feet")
        left(tab).wait_for()
    page.context.set_offline(True)
    left(page).fill("251")
    left(other).fill("252")
    for tab in (page, other):
        expect(word(tab)).to_have_text("kept here")
    stored = page.evaluate("Object.keys(localStorage).filter((k) => k.startsWith('kalon.outbox.'))")
    assert len(stored) == 2
    page.context.set_offline(False)
    for tab, fitting, value in ((page, one, 251), (other, two, 252)):
        saved(tab)
        feet = state(client, fitting)["parts"]["feet"]
        assert (feet["version"], feet["body"]["left"]["length_mm"]) == (1, value)


def test_what_a_closed_tab_left_is_sent_by_another(page: Page, running: Web) -> None:
    client = signed_in(running)
    fitting = new_fitting(client)
    other = page.context.new_page()
    other.goto(f"{running.url}/fittings/{fitting}/feet")
    other.route(PARTS, lambda route: route.abort())
    left(other).fill("253.5")
    expect(word(other)).to_have_text("kept here")
    other.close()
    deadline = time.monotonic() + 20
    while state(client, fitting)["parts"]["feet"]["version"] == 0 and time.monotonic() < deadline:
        page.wait_for_timeout(300)
    assert state(client, fitting)["parts"]["feet"]["body"]["left"]["length_mm"] == 253.5


def test_an_ended_session_asks_by_itself_and_closes_though_something_is_refused(page: Page, running: Web) -> None:
    client = signed_in(running)
    fitting = new_fitting(client)
    page.goto(f"{running.url}/fittings/{fitting}/feet")
    left(page).fill("26")
    expect(word(page)).to_have_text("not saved: see why")
    page.context.clear_cookies()
    dialog = page.get_by_role("dialog", name="Please sign in again")
    expect(dialog).to_be_visible(timeout=60_000)  # the fitting is asked for every 15 s
    assert found_at_every_size(page, scrolls_sideways=True) == []
    dialog.get_by_label("Sign-in name").fill("ilse")
    dialog.get_by_label("Password").fill(PASSWORDS["ilse"])
    dialog.get_by_role("button", name="Sign in").click()
    expect(dialog).to_be_hidden()
    expect(word(page)).to_have_text("not saved: see why")
    page.get_by_role("navigation").get_by_role("link", name="Athletes").click()
    expect(page.get_by_role("link", name="Corin Salt")).to_be_visible()


def test_signing_out_without_connection_says_that_it_did_not(page: Page, running: Web) -> None:
    page.context.set_offline(True)
    page.get_by_role("button", name="Sign out").click()
    dialog = page.get_by_role("dialog", name="You are still signed in")
    expect(dialog).to_contain_text("no connection")
    page.context.set_offline(False)
    dialog.get_by_role("button", name="Try again").click()
    expect(page.get_by_label("Sign-in name")).to_be_visible()
    page.reload()
    expect(page.get_by_label("Sign-in name")).to_be_visible()


def test_a_file_that_failed_after_leaving_feet_is_told_elsewhere(page: Page, running: Web) -> None:
    client = signed_in(running)
    fitting = new_fitting(client)
    page.goto(f"{running.url}/fittings/{fitting}/feet")
    page.route("**/captures?*", lambda route: (time.sleep(1), route.continue_()))
    with page.expect_file_chooser() as chosen:
        page.get_by_role("button", name="Bring a file").click()
    chosen.value.set_files({"name": "spoilt.stl", "mimeType": "model/stl", "buffer": b"solid nothing at all"})
    page.get_by_role("navigation").get_by_role("link", name="Today").click()
    expect(page.get_by_text("spoilt.stl was not measured:", exact=False)).to_be_visible(timeout=60_000)
    page.get_by_role("link", name="Go there").click()
    page.wait_for_url(f"**/fittings/{fitting}/feet")
    page.get_by_role("list", name="Being measured").get_by_role("button", name="Close").click()


def test_a_fitting_begun_for_one_athlete_is_not_taken_for_another(page: Page, running: Web) -> None:
    client = signed_in(running)
    one, two = new_athlete(client, "Aa First One"), new_athlete(client, "Aa Second One")
    page.goto(f"{running.url}/athletes/{one}")
    page.route("**/api/fittings", lambda route: (route.fetch(), route.abort()))
    page.get_by_role("button", name="Begin a fitting").click()
    expect(page.get_by_role("alert")).to_be_visible()
    page.unroute("**/api/fittings")
    page.get_by_role("link", name="Athletes").click()
    page.get_by_role("link", name="Aa Second One").click()
    page.get_by_role("button", name="Begin a fitting").click()
    page.wait_for_url("**/fittings/*/feet")
    fitting = page.url.split("/fittings/")[1].split("/")[0]
    assert state(client, fitting)["athlete"]["id"] == two
    assert len(client.get(f"/api/athletes/{one}").json()["fittings"]) == 1


def test_a_day_is_taken_when_its_field_is_left(page: Page, running: Web) -> None:
    client = signed_in(running)
    fitting, _ = pulled(client, 1)
    page.goto(f"{running.url}/fittings/{fitting}/settle")
    begins = page.get_by_label("Break-in begins")
    begins.wait_for()
    begins.press_sequentially("01022031", delay=60)
    page.wait_for_timeout(1200)
    assert state(client, fitting)["parts"]["settle"]["version"] == 0
    begins.blur()
    saved(page)
    assert state(client, fitting)["parts"]["settle"]["body"]["start_on"] in ("2031-02-01", "2031-01-02")


KEPT = """() => new Promise((done) => {
    const asked = indexedDB.open('kalon');
    asked.onsuccess = () => {
        const got = asked.result.transaction('kept').objectStore('kept').get('kalon.kept');
        got.onsuccess = () => done(got.result ?? '');
    };
})"""
"""What the browser keeps of what was last known."""


def test_a_manager_shuts_a_leaver_out(open_page: Callable[..., Page], running: Web) -> None:
    manager = open_page("marrow")
    leaver = open_page("bram")
    manager.goto(f"{running.url}/house")
    manager.get_by_role("radio", name="People").click()
    manager.get_by_role("button", name="Change Bram Ostley").click()
    leaver.goto(f"{running.url}/athletes")
    name = leaver.get_by_role("link", name="Corin Salt")
    expect(name).to_be_visible()
    fitting = new_fitting(signed_in(running))
    leaver.goto(f"{running.url}/fittings/{fitting}/feet")
    leaver.route(PARTS, lambda route: route.abort())
    left(leaver).fill("257.5")
    expect(word(leaver)).to_have_text("kept here")
    leaver.wait_for_timeout(1500)  # what was last known is written at most once a second
    manager.get_by_role("button", name="Shut out").click()
    expect(manager.get_by_role("listitem").filter(has_text="Bram Ostley")).to_contain_text("shut out")
    # The page that couldn't send asks by itself whether the connection is back, and hears of it within seconds.
    expect(leaver.get_by_role("dialog", name="Please sign in again")).to_be_visible(timeout=60_000)
    expect(leaver.locator("main")).to_be_hidden()
    leaver.wait_for_timeout(1500)
    assert '"queries":[]' in leaver.evaluate(KEPT)
    unsent = leaver.evaluate("Object.entries(localStorage).filter(([name]) => name.includes('kalon.outbox.bram'))")
    assert len(unsent) == 1
    assert unsent[0][0].startswith("kalon.sealed.")
    kept = bytes.fromhex(unsent[0][1])  # plain words are no hexadecimal digits, and fail here
    assert b"257.5" not in kept and b"fitting" not in kept
    leaver.once("dialog", lambda d: d.accept())  # of leaving with something unsent
    leaver.reload()
    expect(leaver.get_by_role("dialog")).to_have_count(0)
    expect(leaver.get_by_role("button", name="Sign in")).to_be_visible()
    manager.get_by_role("button", name="Change Bram Ostley").click()
    manager.get_by_role("button", name="Let in again").click()
    expect(manager.get_by_role("listitem").filter(has_text="Bram Ostley")).to_contain_text("fitter")
