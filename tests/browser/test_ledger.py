"""What was learned, drawn; the next pair after a trial; evidence set aside by hand."""

from __future__ import annotations

import re
from collections.abc import Callable

import pytest
from playwright.sync_api import Page, expect

from tests.api.calls import patch, pulled, ready_to_pull, signed_in
from tests.api.test_learning import learn_now
from tests.browser.driver import saved
from tests.browser.sizes import found_at_every_size
from tests.running import Web

pytestmark = pytest.mark.browser


def test_the_ledger_by_mouse_and_at_every_size(open_page: Callable[..., Page], running: Web) -> None:
    page = open_page("marrow")
    page.goto(f"{running.url}/ledger")
    row = page.locator("[data-maker=Velmire]")
    expect(row).to_contain_text("long for you all")
    expect(page.locator("[data-teach]")).to_contain_text("Read the inside of")
    row.get_by_role("button").first.click()
    expect(page.get_by_role("region", name="Velmire")).to_contain_text("Ball")
    page.locator("[data-kind='suede/slip']").get_by_role("button").click()
    expect(page.locator("[data-curve='suede/slip']")).to_be_visible()
    expect(page.get_by_role("region", name="How often it came true")).to_contain_text("everything")
    assert found_at_every_size(page) == []


def test_evidence_is_set_aside_and_counted_again(open_page: Callable[..., Page], shop: tuple[Web, str]) -> None:
    running, url = shop
    fitter = signed_in(running)
    fitting, lines = pulled(fitter, 1)
    patch(fitter, fitting, "trial", {f"pairs/{lines[0]}/toes": "slack", f"pairs/{lines[0]}/verdict": "fail"})
    learn_now(url)
    maker = fitter.get(f"/api/fittings/{fitting}").json()["tray"][0]["maker"]
    page = open_page("marrow")
    page.goto(f"{running.url}/ledger")
    page.locator(f"[data-maker='{maker}']").get_by_role("button").first.click()
    page.get_by_text("What this shop found").click()
    piece = page.locator("[data-evidence]").filter(has_text="Test Person").first
    piece.get_by_role("button", name="Set aside").click()
    page.get_by_label("Why it shouldn't count").fill("Wrong socks")
    page.get_by_role("button", name="Set it aside").click()
    expect(piece).to_contain_text("Set aside by Marrow Tesk: Wrong socks")
    piece.get_by_role("button", name="Count it again").click()
    expect(piece.get_by_role("button", name="Set aside")).to_be_visible()
    trainee = open_page("pip")
    trainee.goto(f"{running.url}/ledger")
    trainee.locator(f"[data-maker='{maker}']").get_by_role("button").first.click()
    trainee.get_by_text("What this shop found").click()
    expect(trainee.locator("[data-evidence]").first).to_be_visible()
    expect(trainee.get_by_role("button", name="Set aside")).to_have_count(0)


def test_after_a_trial_the_next_pair_is_named_and_pulled(open_page: Callable[..., Page], running: Web) -> None:
    """Toes jam: the next pair stands in the margin in words, its size is drawn, and one press pulls it."""
    fitter = signed_in(running)
    fitting = ready_to_pull(fitter)
    patch(fitter, fitting, "feet", {"left/length_mm": 262, "right/length_mm": 257})
    places = fitter.get(f"/api/fittings/{fitting}/pull").json()["places"]
    line = next(p["pair"]["id"] for p in places if p["pair"]["maker"] in ("Orvane", "Sundrey", "Harrowick"))
    fitter.put(f"/api/fittings/{fitting}/tray/{line}")
    page = open_page()
    page.goto(f"{running.url}/fittings/{fitting}/trial?pair={line}")
    toes = page.get_by_label("Room at the toes", exact=True)
    expect(page.get_by_role("region", name="The next pair")).to_have_count(0)
    toes.get_by_role("radio", name="jam").click()
    page.get_by_label("Heel slips", exact=True).get_by_role("radio", name="clearly").click()
    saved(page)
    following = page.locator("[data-next]")
    expect(following).to_contain_text(re.compile("Jams at the toe in [0-9.]+: try "))
    expect(page.locator("[data-run]")).to_be_visible()
    expect(page.locator("[data-lacing=heel_lock]")).to_be_visible()
    expect(page.locator("[data-odd]")).to_contain_text("The left foot is 5.0 mm longer")
    following.get_by_role("button", name="Into the tray").click()
    expect(following.get_by_role("button", name="In the tray")).to_be_disabled()
    expect(page.get_by_label("Tray", exact=True).get_by_role("link")).to_have_count(2)
    assert found_at_every_size(page) == []


def test_two_soles_side_by_side(open_page: Callable[..., Page], running: Web) -> None:
    fitter = signed_in(running)
    fitting = ready_to_pull(fitter)
    places = fitter.get(f"/api/fittings/{fitting}/pull").json()["places"]
    by_plate = {p["pair"]["choices"].get("plate"): p["pair"]["id"] for p in reversed(places)}
    assert len(by_plate) > 1
    lines = list(by_plate.values())[:2]
    for line in lines:
        fitter.put(f"/api/fittings/{fitting}/tray/{line}")
    page = open_page()
    page.goto(f"{running.url}/fittings/{fitting}/trial")
    block = page.get_by_role("region", name="Side by side")
    block.get_by_label("Turns: which did better").get_by_role("radio").nth(1).click()
    saved(page)
    kept = fitter.get(f"/api/fittings/{fitting}").json()["parts"]["trial"]["body"]["drills"]
    assert kept["turns"] in lines


def test_a_fitting_begun_before_takes_what_is_known_now_by_one_press(
    open_page: Callable[..., Page], shop: tuple[Web, str]
) -> None:
    running, url = shop
    fitter = signed_in(running)
    old = ready_to_pull(fitter)
    other, lines = pulled(fitter, 1)
    patch(fitter, other, "trial", {f"pairs/{lines[0]}/toes": "jam"})
    learn_now(url)
    page = open_page()
    page.goto(f"{running.url}/fittings/{old}/pull")
    newer = page.locator("[data-newer-learned]")
    newer.get_by_role("button").click()
    expect(newer).to_have_count(0)
    assert fitter.get(f"/api/fittings/{old}").json()["learned"] > 0


def test_all_a_fitter_found_is_set_aside_between_days_and_counted_again(
    open_page: Callable[..., Page], shop: tuple[Web, str]
) -> None:
    running, url = shop
    fitter = signed_in(running)
    fitting, lines = pulled(fitter, 1)
    patch(fitter, fitting, "trial", {f"pairs/{lines[0]}/toes": "slack", f"pairs/{lines[0]}/verdict": "fail"})
    learn_now(url)
    page = open_page("marrow")
    page.goto(f"{running.url}/ledger")
    fitters = page.get_by_role("region", name="Fitters")
    row = fitters.locator("[data-fitter='Ilse Varn']")
    expect(row).to_contain_text(re.compile("From [0-9]+ verdicts"))
    assert found_at_every_size(page) == []
    row.get_by_role("button", name="Set aside what Ilse Varn found").click()
    page.get_by_label("From", exact=False).fill("2026-01-01")
    page.get_by_label("Why it shouldn't count").fill("Learning the trade")
    page.get_by_role("button", name="Set it aside").click()
    aside = fitters.locator("[data-aside='Ilse Varn']")
    expect(aside).to_contain_text("from 1 Jan 2026 to the last: set aside by Marrow Tesk: Learning the trade")
    aside.get_by_role("button", name="Count it again").click()
    expect(aside).to_have_count(0)
    trainee = open_page("pip")
    trainee.goto(f"{running.url}/ledger")
    expect(trainee.get_by_role("region", name="Fitters")).to_be_visible()
    expect(trainee.get_by_role("button", name="Set aside what Ilse Varn found")).to_have_count(0)


def test_advice_that_fails_is_said_to_be_missing_and_comes_when_it_can(
    open_page: Callable[..., Page], running: Web
) -> None:
    """The server fails at it: a line in its place, the trial goes on, and with the next answer the advice is there."""
    fitter = signed_in(running)
    fitting, (line,) = pulled(fitter, 1)
    page = open_page()
    failing = {
        "code": "failed",
        "status": 500,
        "title": "Something went wrong here. It was noted.",
        "type": "x",
        "fields": [],
    }
    page.route("**/trial/next*", lambda r: r.fulfill(status=500, json=failing))
    page.goto(f"{running.url}/fittings/{fitting}/trial?pair={line}")
    toes = page.get_by_label("Room at the toes", exact=True)
    toes.get_by_role("radio", name="jam").click()
    saved(page)
    expect(page.locator("[data-untold]")).to_have_text(
        "What to try next can't be told now. Something went wrong here. It was noted.", timeout=60_000
    )
    page.unroute("**/trial/next*")
    toes.get_by_role("radio", name="slack").click()
    saved(page)
    expect(page.get_by_role("region", name="The next pair")).to_be_visible()
    expect(page.locator("[data-untold]")).to_have_count(0)
