"""The stockroom by hand: the rack found in, counted and read inside; lists brought in and taken back."""

from __future__ import annotations

import re
from collections.abc import Callable
from pathlib import Path

import numpy as np
import pytest
from playwright.sync_api import Browser, Page, Route, expect

from tests.api.calls import ready_to_pull, signed_in
from tests.api.test_sheets import a_list, code
from tests.browser.driver import VIEW, another, pick, seen
from tests.browser.sizes import axe, found_at_every_size
from tests.running import Web


@pytest.fixture
def page(open_page: Callable[..., Page], running: Web) -> Page:
    page = open_page("marrow")
    page.goto(f"{running.url}/stockroom")
    page.locator("[data-model]").first.wait_for()
    return page


def test_the_rack_is_found_in_as_one_types_with_one_request_a_pause(page: Page) -> None:
    asked: list[str] = []
    page.on("request", lambda r: asked.append(r.url) if "/api/rack?" in r.url else None)
    field = page.get_by_label("Maker, model, sport, size")
    field.press_sequentially("tern wide", delay=30)
    expect(page.locator("[data-model]")).to_have_count(1)
    expect(page.locator("[data-model]").first).to_contain_text("Tern Wide")
    assert len(asked) <= 2, asked
    field.fill("climbing 42.5")
    expect(page.locator("[data-model]").first).to_contain_text("climbing")
    field.fill("nothing of the kind")
    expect(page.get_by_text("Nothing of the kind on these shelves.")).to_be_visible()
    expect(page.get_by_role("status").filter(has_text="0 models, 0 sizes, 0 pairs")).to_be_visible()


def test_the_rest_of_the_rack_is_asked_for_now_and_then_while_it_cant_be_had(page: Page) -> None:
    asked: list[str] = []

    def refuse(route: Route) -> None:
        asked.append(route.request.url)
        problem = {"type": "urn:kalon:x", "title": "Not now.", "status": 404, "code": "x", "fields": []}
        route.fulfill(status=404, json=problem, content_type="application/problem+json")

    further = re.compile(r"/api/rack\?.*after_maker=.+")
    page.route(further, refuse)
    note = page.get_by_role("heading", name="The rest of the stock can't be shown yet")
    page.locator("[data-model]").first.hover()
    for _ in range(40):
        page.mouse.wheel(0, 1500)
        page.wait_for_timeout(100)
        if asked:
            break
    expect(note).to_be_visible()
    expect(page.locator("[data-model]").last).to_be_visible()
    page.wait_for_timeout(4000)
    assert 2 <= len(asked) <= 4, asked
    page.unroute(further)
    expect(note).to_have_count(0)


def test_the_rack_is_narrowed_and_the_address_keeps_it(page: Page) -> None:
    pick(page, "Sport", "Football")
    pick(page, "Ground", "rubber nubs, turf")
    for name in ("Nubbin", "Cage", "Dustbowl"):
        expect(page.locator("[data-model]").filter(has_text=name)).to_be_visible()
    expect(page.locator("[data-model]")).to_have_count(3)
    page.reload()
    expect(page.locator("[data-model]")).to_have_count(3)
    page.get_by_role("button", name="On hand only").click()
    assert "here=1" in page.url


def test_a_shelf_says_what_it_shows(page: Page) -> None:
    strip = page.locator("[data-model] svg").first
    said = strip.get_attribute("aria-label") or ""
    assert "pairs in" in said
    boxes = strip.locator("rect").count()
    page.locator("[data-model] > button").first.click()
    counted = page.locator("[data-line] [data-on-hand]")
    on_hand = [int(counted.nth(i).get_attribute("data-on-hand") or 0) for i in range(counted.count())]
    assert boxes == sum(min(n, 3) for n in on_hand)
    assert f"{sum(on_hand)} pairs" in said


def test_reading_inside_makes_a_size_surer_by_keys_alone(page: Page) -> None:
    page.locator("[data-model] > button").nth(3).focus()
    page.keyboard.press("Enter")
    line = page.locator("[data-line] > button").first
    line.focus()
    before = line.text_content() or ""
    page.keyboard.press("Enter")
    dialog = page.get_by_role("dialog")
    toe = dialog.get_by_role("row").filter(has_text="Toe")
    expect(toe).to_contain_text("label")
    expect(toe).not_to_contain_text("stick")
    field = dialog.get_by_label("Measure")
    field.focus()
    page.keyboard.type("251,5")
    page.keyboard.press("Enter")
    expect(dialog.get_by_role("list", name="What was read")).to_contain_text("251.5 mm")
    expect(toe).to_contain_text("one stick reading")
    page.keyboard.press("Escape")
    expect(line).not_to_have_text(before)
    line.press("Enter")
    dialog.get_by_role("button", name="Set aside").click()
    expect(dialog.get_by_role("list", name="What was read")).to_have_count(0)
    page.keyboard.press("Escape")
    expect(line).to_have_text(before)


def test_a_delivery_is_booked_with_its_reason(page: Page) -> None:
    page.locator("[data-model] > button").first.click()
    row = page.locator("[data-line]").first
    before = int(row.locator("[data-on-hand]").get_attribute("data-on-hand") or 0)
    row.get_by_role("button", name="inside and movements").click()
    dialog = page.get_by_role("dialog")
    dialog.get_by_label("Pairs").fill("4")
    dialog.get_by_label("Why").fill("the Tuesday van")
    dialog.get_by_role("button", name="Book it").click()
    expect(dialog.get_by_role("listitem").filter(has_text="the Tuesday van")).to_contain_text("+4")
    page.keyboard.press("Escape")
    expect(row.locator("[data-on-hand]")).to_have_attribute("data-on-hand", str(before + 4))


def bring(page: Page, running: Web, tmp_path: Path, text: str, name: str = "autumn.csv") -> None:
    file = tmp_path / name
    file.write_text(text)
    page.goto(f"{running.url}/stockroom/lists")
    page.get_by_label("The list").set_input_files(file)
    page.wait_for_url("**/lists/*-*")
    page.get_by_role("heading", name=name).wait_for()


def test_a_list_is_looked_at_read_again_written_and_taken_back(page: Page, running: Web, tmp_path: Path) -> None:
    text = a_list("Handmade") + "Handmade,Model 9,football,99,regular,1,90,\r\n"
    bring(page, running, tmp_path, text)
    expect(page.get_by_role("radio", name="8 new")).to_be_visible()
    expect(page.locator("[data-row='10']")).to_contain_text("isn't a size in EU")
    page.get_by_role("radio", name="came in").click()
    page.get_by_role("radio", name="8 new").click()
    expect(page.locator("[data-row='2']")).to_contain_text("Handmade Model 0 EU 40")
    pick(page, "RRP", "left out")
    expect(page.get_by_role("combobox", name="RRP")).to_contain_text("left out")
    write = page.get_by_role("button", name="Write 8 lines")
    expect(write).to_be_enabled()
    page.wait_for_timeout(500)
    write.click()
    expect(page.get_by_text("written ", exact=False).first).to_be_visible()
    page.goto(f"{running.url}/stockroom?find=Handmade")
    expect(page.locator("[data-model]")).to_have_count(2)
    expect(page.locator("[data-model]").first).to_contain_text("price not known")
    page.go_back()
    page.get_by_role("button", name="Take it back").click()
    expect(page.get_by_text("taken back", exact=False).first).to_be_visible()
    page.goto(f"{running.url}/stockroom?find=Handmade")
    expect(page.get_by_text("Nothing of the kind on these shelves.")).to_be_visible()


def test_a_list_without_sport_or_system_asks_for_them(page: Page, running: Web, tmp_path: Path) -> None:
    bring(page, running, tmp_path, f"Style,Size,EAN\r\nPlimsole,8.5,{code(4001)}\r\n", "bare.csv")
    expect(page.locator("[data-row]")).to_contain_text("It names no maker")
    page.get_by_label("Its maker").fill("Lowmarch")
    page.get_by_role("button", name="Read again").click()
    expect(page.locator("[data-row]")).to_contain_text("say which sport")
    pick(page, "Its shoes are for", "Court")
    expect(page.locator("[data-row]")).to_contain_text("may be a UK or a US size")
    page.get_by_role("combobox", name="Its sizes are").click()
    page.get_by_role("option", name="UK", exact=True).click()
    expect(page.get_by_role("radio", name="1 new")).to_be_visible()
    expect(page.get_by_role("button", name="Write 1 line")).to_be_enabled()


def test_a_spoilt_file_is_refused_in_words_and_another_may_follow(page: Page, running: Web, tmp_path: Path) -> None:
    page.goto(f"{running.url}/stockroom/lists")
    spoilt = tmp_path / "old.xls"
    spoilt.write_bytes(b"\xd0\xcf\x11\xe0" * 40)
    page.get_by_label("The list").set_input_files(spoilt)
    expect(page.get_by_role("alert")).to_contain_text("old Excel file")
    bring(page, running, tmp_path, a_list("After", first=5000))
    expect(page.get_by_role("radio", name="8 new")).to_be_visible()


@pytest.mark.parametrize("then", ["pressed again", "left alone"])
def test_a_list_whose_answer_was_lost_is_written_once(page: Page, running: Web, tmp_path: Path, then: str) -> None:
    """The answer is lost on its way back; the second press finds it written, or the page by itself when it is back."""
    maker, first = ("Twice", 5100) if then == "pressed again" else ("Aside", 5200)
    bring(page, running, tmp_path, a_list(maker, first=first), "twice.csv")
    page.get_by_role("radio", name="came in").click()
    expect(page.get_by_role("radio", name="came in")).to_be_checked()

    def lose(route: Route) -> None:
        route.fetch()
        route.abort()

    page.wait_for_timeout(600)
    # Nothing else answers either, or the page would soon see by itself that the list was written.
    page.route(re.compile("/api/|/ready"), lambda route: route.abort())
    page.route("**/write", lose)
    page.get_by_role("button", name="Write 8 lines").click()
    expect(page.get_by_role("alert")).to_contain_text("No connection")
    if then == "pressed again":
        page.unroute("**/write")
        page.route("**/write", lambda route: route.continue_())
        page.get_by_role("button", name="Write 8 lines").click()
    else:
        page.unroute_all()
    expect(page.get_by_text("written ", exact=False).first).to_be_visible()
    expect(page.get_by_role("alert")).to_have_count(0)
    page.unroute_all()
    page.goto(f"{running.url}/stockroom?find={maker}")
    expect(page.get_by_role("status").filter(has_text="2 models, 8 sizes, 24 pairs")).to_be_visible()


def test_a_delivery_that_came_in_already_is_written_only_when_it_came_twice(
    page: Page, running: Web, tmp_path: Path
) -> None:
    for name in ("first.csv", "again.csv"):
        bring(page, running, tmp_path, a_list("Tidemark", first=5300), name)
        page.get_by_role("radio", name="came in").click()
        expect(page.get_by_role("radio", name="came in")).to_be_checked()
        page.wait_for_timeout(600)
        page.get_by_role("button", name="Write 8 lines").click()
        if name == "first.csv":
            expect(page.get_by_text("written ", exact=False).first).to_be_visible()
    expect(page.get_by_role("alert")).to_contain_text("came in already")
    expect(page.get_by_role("alert")).to_contain_text("first.csv")
    # A finger that presses twice is on the other button before anybody can have read it.
    page.reload()
    page.get_by_role("button", name="Write 8 lines").wait_for()
    page.wait_for_timeout(600)
    page.evaluate(
        """() => new Promise((done) => {
            const find = (text) => [...document.querySelectorAll('button')].find((b) => b.textContent.startsWith(text));
            find('Write 8').dispatchEvent(new MouseEvent('click', { bubbles: true, detail: 1 }));
            const key = setInterval(() => {
                const other = find('They came');
                if (!other || other.disabled) return;
                clearInterval(key);
                other.dispatchEvent(new MouseEvent('click', { bubbles: true, detail: 2 }));
                setTimeout(done, 300);
            }, 5);
        })"""
    )
    expect(page.get_by_role("alert")).to_contain_text("came in already")
    page.wait_for_timeout(600)
    page.get_by_role("button", name="They came twice: write 8 lines").click()
    expect(page.get_by_text("written ", exact=False).first).to_be_visible()
    page.goto(f"{running.url}/stockroom?find=Tidemark")
    expect(page.get_by_role("status").filter(has_text="2 models, 8 sizes, 48 pairs")).to_be_visible()


def test_what_is_taken_out_is_a_file(page: Page) -> None:
    page.get_by_role("button", name="Take out").click()
    dialog = page.get_by_role("dialog")
    dialog.get_by_role("radio", name="Movements").click()
    dialog.get_by_role("radio", name="JSON").click()
    with page.expect_download() as download:
        dialog.get_by_role("link", name="Take the file").click()
    assert download.value.suggested_filename == "kalon-movements.json"


def test_a_fitter_counts_nothing_and_brings_nothing_in(open_page: Callable[..., Page], running: Web) -> None:
    page = open_page("ilse")
    page.goto(f"{running.url}/stockroom")
    page.locator("[data-model] > button").first.click()
    page.locator("[data-line]").first.wait_for()
    expect(page.get_by_role("button", name="more")).to_have_count(0)
    expect(page.get_by_role("link", name="Bring in a list")).to_have_count(0)
    page.goto(f"{running.url}/stockroom/lists")
    expect(page.get_by_text("Only a manager brings lists in")).to_be_visible()


def test_none_of_these_is_ordered_or_asked_of_a_sister_shop(
    open_page: Callable[..., Page], running: Web, page: Page
) -> None:
    """From Pull to the order's sheet, from shop to shop, until the pair stands here."""
    fitting = ready_to_pull(signed_in(running))
    page.goto(f"{running.url}/fittings/{fitting}/pull")
    page.get_by_role("button", name="None of these").click()
    dialog = page.get_by_role("dialog")
    rows = dialog.get_by_role("list", name="What to order").get_by_role("listitem")
    rows.first.get_by_role("button", name="Order it").dblclick()
    expect(dialog.get_by_role("region", name="Ordered")).to_have_count(1)
    expect(dialog.get_by_role("region", name="Ordered")).to_contain_text("On arrival")
    expect(rows.first.get_by_role("button", name="Order it")).to_be_disabled()
    page.goto(f"{running.url}/stockroom/orders")
    ours = page.get_by_role("region", name="On their way here")
    mine = ours.locator("[data-order]").filter(has_text="Test Person")
    expect(mine.locator("[data-state=wanted]")).to_be_visible()
    expect(mine.get_by_role("button", name="It is ordered")).to_be_enabled()
    mine.get_by_role("button", name="It is ordered").press("Enter")
    expect(mine.locator("[data-state=ordered]")).to_be_visible()
    mine.get_by_role("button", name="It is here").click()
    expect(
        page.get_by_role("region", name="Done").locator("[data-order]").filter(has_text="Test Person")
    ).to_be_visible()
    coming = ours.locator("[data-order]").filter(has_text="on its way")
    coming.get_by_role("button", name="It is here").click()
    expect(coming).to_have_count(0)
    asked = page.get_by_role("region", name="Asked of this shop").locator("[data-order]")
    asked.get_by_role("button", name="Hold it for them").click()
    expect(asked.locator("[data-state=held]")).to_be_visible()
    north = open_page("sorrel")
    north.goto(f"{running.url}/stockroom/orders")
    held = north.get_by_role("region", name="On their way here").locator("[data-order]")
    expect(held.first).to_contain_text("held for you until")
    asked.get_by_role("button", name="Send it").click()
    expect(asked).to_have_count(0)
    north.reload()
    held.first.get_by_role("button", name="It is here").click()
    expect(north.get_by_role("region", name="Done").locator("[data-order]").first).to_contain_text("here")


def test_a_model_begun_from_an_unknown_bar_code(page: Page) -> None:
    """As with a reader: the code typed at once and Enter, the model begun, the size counted in."""
    number = code(9999)
    page.get_by_label("Maker, model, sport, size").fill(number)
    page.get_by_role("button", name="A new model with this bar code").click()
    dialog = page.get_by_role("dialog")
    dialog.get_by_label("Maker").fill("Brindle")
    dialog.get_by_label("Model").fill("Keelson")
    dialog.get_by_label("Price").fill("89.5")
    dialog.get_by_text("What it has and hasn't").click()
    dialog.get_by_role("button", name="Shank").click()
    expect(dialog.get_by_role("button", name="Shank")).to_contain_text("yes")
    dialog.get_by_role("button", name="Begin the model").click()
    expect(dialog.get_by_text("kept", exact=True)).to_be_visible()
    expect(dialog.get_by_label("Bar code")).to_have_value(number)
    dialog.get_by_label("From", exact=True).fill("42")
    dialog.get_by_role("button", name="Add 1 size").click()
    expect(dialog.get_by_text("One size is kept of it now", exact=False)).to_be_visible()
    page.keyboard.press("Escape")
    expect(page.locator("[data-model]").filter(has_text="Keelson")).to_contain_text("EUR 89.50")
    field = page.get_by_label("Maker, model, sport, size")
    field.fill("")
    expect(page.locator("[data-model]").nth(1)).to_be_visible()
    field.press_sequentially(number, delay=5)  # as a reader types
    expect(page.locator("[data-line]")).to_contain_text("EU 42")
    # It is chosen, so that the next one read takes its place.
    page.wait_for_function(
        "code => { const f = document.activeElement; return f.value?.slice(f.selectionStart, f.selectionEnd) === code }",
        arg=number,
    )


def test_a_model_half_typed_outlives_a_reload_and_a_wrong_press(page: Page) -> None:
    page.get_by_role("button", name="New model").click()
    dialog = page.get_by_role("dialog")
    dialog.get_by_label("Maker").fill("Brindle")
    dialog.get_by_label("Model").fill("Halfway")
    dialog.get_by_label("Price").fill("74")
    for leave in (page.reload, lambda: page.keyboard.press("Escape")):
        leave()
        page.get_by_role("button", name="New model").click()
        expect(dialog.get_by_label("Model")).to_have_value("Halfway")
        expect(dialog.get_by_label("Price")).to_have_value("74")
    expect(dialog.get_by_text("Typed here before and not kept yet.")).to_be_visible()
    dialog.get_by_role("button", name="Begin the model").click()
    expect(dialog.get_by_text("kept", exact=True)).to_be_visible()
    page.keyboard.press("Escape")
    page.get_by_role("button", name="New model").click()
    expect(dialog.get_by_label("Model")).to_have_value("")
    dialog.get_by_label("Maker").fill("Nobody")
    page.keyboard.press("Escape")
    page.get_by_role("button", name="New model").click()
    dialog.get_by_role("button", name="Begin anew").click()
    expect(dialog.get_by_label("Maker")).to_have_value("")


def test_a_size_is_asked_of_a_sister_shop_from_the_rack(page: Page, running: Web) -> None:
    page.get_by_label("Maker, model, sport, size").fill("skiff")
    expect(page.locator("[data-model]")).to_have_count(1)
    page.locator("[data-model] > button").first.click()
    page.locator("[data-line] > button").nth(8).click()
    dialog = page.get_by_role("dialog")
    dialog.get_by_role("button", name="Ask ").first.dblclick()
    expect(dialog.get_by_text("Asked for; it stands under Orders.")).to_be_visible()
    page.goto(f"{running.url}/stockroom/orders")
    mine = page.get_by_role("region", name="On their way here").locator("[data-order]").filter(has_text="Skiff")
    expect(mine).to_have_count(1)
    mine.get_by_role("button", name="Let it go").click()
    expect(mine).to_have_count(0)


def test_words_of_a_list_are_asked_about_once(open_page: Callable[..., Page], running: Web) -> None:
    page = open_page("marrow")
    page.goto(f"{running.url}/stockroom/lists")
    words = ["Studio", "Zumbo", "Climbing"]
    lines = "".join(f"Askew & Co,Gull {n},{words[n % 3]},{40 + n / 2},G\n" for n in range(12))
    page.get_by_label("The list").set_input_files(
        {"name": "asks.csv", "mimeType": "text/csv", "buffer": f"Brand,Model,Sport,EU,Width\n{lines}".encode()}  # type: ignore[arg-type]
    )
    asks = page.get_by_role("form", name="What the list means")
    expect(asks.get_by_role("listitem")).to_have_count(3)
    expect(asks).to_contain_text("“Studio”: which sport is that? 4 lines")
    expect(asks.get_by_role("combobox", name="What studio means")).to_have_text("Lifting and gym")  # a guess, shown
    expect(page.get_by_role("list", name="Why lines can't be used")).to_contain_text(
        "8 lines“Studio”, “Zumbo”: which sport is that?"
    )
    assert axe(page) == []
    pick(page, "What zumbo means", "not ours: leave out")
    asks.get_by_role("button", name="Read it so").click()
    expect(asks).to_have_count(0)
    expect(page.get_by_role("radio", name="8 new")).to_be_visible()
    reasons = page.get_by_role("list", name="Why lines can't be used").get_by_role("listitem")
    expect(reasons).to_have_text(["4 linesLeft out: “Zumbo” isn't fitted here."])
    seen(page)
    page.get_by_role("button", name="Write 8 lines").click()
    expect(page.get_by_role("button", name="Take it back")).to_be_visible(timeout=60_000)
    page.get_by_role("link", name="All lists").click()
    page.get_by_label("The list").set_input_files(
        {"name": "again.csv", "mimeType": "text/csv", "buffer": f"Brand,Model,Sport,EU,Width\n{lines}".encode()}  # type: ignore[arg-type]
    )
    expect(page.get_by_text("This very file was brought in on")).to_be_visible(timeout=60_000)
    expect(asks).to_have_count(0)


@pytest.mark.parametrize("what", ["rack", "size", "lists", "list", "take out", "model", "orders", "none of these"])
def test_every_view_of_it_at_every_size(page: Page, running: Web, tmp_path: Path, what: str) -> None:
    match what:
        case "rack" | "size":
            page.locator("[data-model] > button").first.click()
            page.locator("[data-line]").first.wait_for()
            if what == "size":
                page.locator("[data-line] > button").first.click()
                page.get_by_text("Read it yourself").wait_for()
        case "lists":
            page.goto(f"{running.url}/stockroom/lists")
            page.get_by_role("button", name="Choose the file").wait_for()
        case "list":
            bring(page, running, tmp_path, a_list("Sizes", first=6000) + "Sizes,,football,42,,1,90,\r\n")
            page.locator("[data-row]").first.wait_for()
        case "model":
            page.get_by_role("button", name="New model").click()
            for part in ("What was read", "What it has"):
                page.get_by_text(part).click()
        case "orders":
            page.goto(f"{running.url}/stockroom/orders")
            page.locator("[data-order]").first.wait_for()
        case "none of these":
            page.goto(f"{running.url}/fittings/{ready_to_pull(signed_in(running))}/pull")
            page.get_by_role("button", name="None of these").click()
            page.get_by_role("button", name="Order it").first.wait_for()
        case _:
            page.get_by_role("button", name="Take out").click()
            page.get_by_role("dialog").wait_for()
    assert found_at_every_size(page, scrolls_sideways=what == "list") == []


LEFT = ("0001101", "0011001", "0010011", "0111101", "0100011", "0110001", "0101111", "0111011", "0110111", "0001011")
PARITY = ("LLLLLL", "LLGLGG", "LLGGLG", "LLGGGL", "LGLLGG", "LGGLLG", "LGGGLL", "LGLGLG", "LGLGGL", "LGGLGL")


def camera_of(path: Path, digits: str) -> Path:
    """A film of a box's label (Y4M), as a camera sees it: EAN-13 drawn by its published tables (ISO/IEC 15420), a
    little noise, the label a seventh of the picture's height."""
    other = str.maketrans("01", "10")
    halves = [LEFT[int(d)] if p == "L" else LEFT[int(d)].translate(other)[::-1]
              for d, p in zip(digits[1:7], PARITY[int(digits[0])], strict=True)]  # fmt: skip
    bars = "101" + "".join(halves) + "01010" + "".join(LEFT[int(d)].translate(other) for d in digits[7:]) + "101"
    picture = np.full((480, 640), 150.0)
    picture[180:300, 80:560] = 235
    row = np.repeat([30.0 if b == "1" else 235.0 for b in bars], 4)
    picture[200:280, 130 : 130 + len(row)] = row
    picture += np.random.default_rng(3).normal(0, 6, picture.shape)
    luma = np.clip(picture, 0, 255).astype(np.uint8).tobytes()
    frame = b"FRAME\n" + luma + bytes([128]) * (640 * 480 // 2)
    path.write_bytes(b"YUV4MPEG2 W640 H480 F10:1 Ip A1:1 C420jpeg\n" + frame * 10)
    return path


def scanned(browser: Browser, running: Web, *, allowed: bool) -> Page:
    """The stockroom with the camera's dialog open."""
    context = browser.new_context(viewport=VIEW, permissions=["camera"] if allowed else [])
    session = signed_in(running, "marrow").cookies["kalon_session"]
    context.add_cookies([{"name": "kalon_session", "value": session, "url": running.url}])
    page = context.new_page()
    page.goto(f"{running.url}/stockroom")
    page.locator("[data-model]").first.wait_for()
    page.get_by_role("button", name="Scan").click()
    return page


def test_a_bar_code_is_read_by_the_camera(browser: Browser, running: Web, tmp_path: Path) -> None:
    """The film of a label: its digits stand in the field, and an unknown one begins a model."""
    number = code(7777)
    film = camera_of(tmp_path / "label.y4m", number)
    switches = ("--use-fake-device-for-media-stream", f"--use-file-for-fake-video-capture={film}")
    with another(browser, *switches) as camera:
        page = scanned(camera, running, allowed=True)
        expect(page.get_by_label("Maker, model, sport, size")).to_have_value(number)
        expect(page.get_by_role("dialog")).to_have_count(0)
        expect(page.get_by_role("button", name="A new model with this bar code")).to_be_visible()


def test_without_a_camera_it_says_what_to_do(browser: Browser, running: Web) -> None:
    with another(browser, "--use-fake-device-for-media-stream") as camera:
        page = scanned(camera, running, allowed=False)
        expect(page.get_by_role("dialog")).to_contain_text("The browser keeps the camera from this page.")
        assert found_at_every_size(page) == []
    with another(browser) as none:
        page = scanned(none, running, allowed=True)
        expect(page.get_by_role("dialog")).to_contain_text("There is no camera on this machine.")
