"""What every page has, also where there is nothing to show: a place for the focus, a heading, a title; and on paper."""

from __future__ import annotations

import io
import re
import uuid
from collections.abc import Callable

import pytest
from playwright.sync_api import Browser, Page, expect
from pypdf import PdfReader

from tests.api.calls import pulled, signed_in
from tests.browser.driver import sign_in
from tests.browser.shots import fitting_of
from tests.browser.sizes import CUT, OVER, axe
from tests.running import Web

pytestmark = pytest.mark.browser
NOBODY = uuid.UUID(int=7)
BAD = {
    "/nowhere": "There is nothing here",
    f"/athletes/{NOBODY}": "This athlete can't be shown",
    "/athletes/no-id": "This athlete can't be shown",
    f"/pairs/{NOBODY}": "This pair can't be shown",
    f"/fittings/{NOBODY}/feet": "This fitting can't be shown",
    f"/fittings/{NOBODY}": "This fitting can't be shown",
    f"/stockroom/bench/{NOBODY}": "This shoe can't be shown",
    "/stockroom/lists": "Only a manager brings lists in",
}


@pytest.mark.parametrize("address", list(BAD))
def test_a_bad_address_is_a_page_like_any_other(page: Page, running: Web, address: str) -> None:
    page.goto(running.url + address)
    expect(page.get_by_role("heading", name=BAD[address])).to_be_visible()
    expect(page.locator("main")).to_have_count(1)
    expect(page.locator("h1")).to_have_count(1)
    expect(page).not_to_have_title("Kalon")
    expect(page.locator("main:focus, main :focus")).to_have_count(1)
    assert axe(page) == []


def test_what_failed_is_tried_again_from_its_page(page: Page, running: Web) -> None:
    page.route("**/api/ledger", lambda route: route.fulfill(status=500, json={"title": "It failed here."}))
    page.goto(f"{running.url}/ledger")
    expect(page.get_by_role("heading", name="The ledger can't be shown")).to_be_visible(timeout=60_000)
    page.unroute("**/api/ledger")
    page.get_by_role("button", name="Try again").click()
    expect(page.get_by_role("heading", name="Ledger", exact=True)).to_be_visible()


def test_a_page_is_printed_whole(page: Page, running: Web) -> None:
    page.goto(f"{fitting_of(page, running.url, 'Tavi Umber')}/spec")
    page.locator("[data-drawing=wanted-shoe]").first.wait_for()
    last = page.get_by_role("main").get_by_text("suede")
    last.wait_for()
    printed = "".join(p.extract_text() for p in PdfReader(io.BytesIO(page.pdf())).pages)
    assert "suede" in printed
    assert "Sign out" not in printed


ROOMS = ["/", "/athletes", "/pairs", "/squads", "/stockroom", "/stockroom/orders", "/ledger", "/house"]


@pytest.mark.parametrize("address", [*ROOMS, "/fittings/*/feet", "/fittings/*/spec"])
def test_a_page_that_is_still_being_asked_for_is_a_page(
    open_page: Callable[..., Page], running: Web, address: str
) -> None:
    page = open_page("marrow", locale="en-GB", at_today=False)  # with nothing kept from before
    where = address.replace("*", fitting_of(page, running.url, "Tavi Umber").rsplit("/", 1)[1])
    page.route(re.compile(r"/api/(?!session)"), lambda _: None)  # never answered
    page.goto(running.url + where)
    page.get_by_role("status").filter(has_text="…").first.wait_for()
    expect(page.locator("main")).to_have_count(1)
    assert axe(page) == []
    page.unroute_all(behavior="ignoreErrors")


PHONE = {"width": 390, "height": 844}
STATIONS = ["feet", "brief", "spec", "pull", "trial", "settle", "return"]


def test_on_a_telephone_nothing_runs_off_the_side(open_page: Callable[..., Page], running: Web) -> None:
    page = open_page("marrow", viewport=PHONE)
    fitting, _ = pulled(signed_in(running, "marrow"), 2)
    found = []
    for path in [*ROOMS, *(f"/fittings/{fitting}/{station}" for station in STATIONS)]:
        page.goto(running.url + path)
        page.locator("main").wait_for()
        page.wait_for_load_state("networkidle")
        found += [f"{path}: {of}" for of in page.evaluate(OVER) + page.evaluate(CUT) + axe(page, colours=False)]
    assert found == []
    rooms = page.get_by_role("navigation", name="Stations and rooms")
    rooms.get_by_role("link", name="House").scroll_into_view_if_needed()
    rooms.get_by_role("link", name="House").click()
    page.get_by_role("heading", name="House", exact=True).wait_for()
    page.get_by_role("button", name="Commands").click()
    page.get_by_role("dialog").get_by_text("Sign out").wait_for()


FIRST_LOAD_BYTES = 200_000
"""Scripts of the first page, with what is fetched ahead, as they come over the wire."""


def test_the_first_page_brings_few_scripts(browser: Browser, running: Web) -> None:
    context = browser.new_context(service_workers="block")
    page = context.new_page()
    wire, sent = context.new_cdp_session(page), {}
    names: dict[str, str] = {}
    wire.send("Network.enable")
    wire.on("Network.responseReceived", lambda e: names.update({e["requestId"]: e["response"]["url"]}))
    wire.on("Network.loadingFinished", lambda e: sent.update({names.get(e["requestId"], ""): e["encodedDataLength"]}))
    sign_in(page, running.url)
    page.wait_for_function("performance.getEntriesByType('resource').some(e => /Athletes-/.test(e.name))")
    page.wait_for_load_state("networkidle")
    scripts = {url: size for url, size in sent.items() if url.endswith(".js")}
    assert any("/index-" in url for url in scripts)
    assert sum(scripts.values()) <= FIRST_LOAD_BYTES, sorted(scripts.items(), key=lambda s: -s[1])[:5]
    context.close()
