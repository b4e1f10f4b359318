"""The shoe bench by hand: photographed by mouse, corrected by keys, tested by touch in under two minutes; a worn pair."""

from __future__ import annotations

import re
from collections.abc import Callable
from pathlib import Path

import pytest
from playwright.sync_api import Page, expect

from tests.api.calls import signed_in
from tests.api.test_day import sold
from tests.api.test_pictures import a_line, photo
from tests.browser.sizes import found_at_every_size
from tests.running import Web

pytestmark = pytest.mark.browser
MEASURED_MS = 90_000


@pytest.fixture(scope="module")
def files(tmp_path_factory: pytest.TempPathFactory) -> dict[str, Path]:
    """Practice pictures as files a telephone would have."""
    into = tmp_path_factory.mktemp("shoes")
    made = {"insole": photo("insole", 3)[0], "sole": photo("sole")[0], "side": photo("side")[0]}
    worn = {"new": photo("side", 4)[0], "worn": photo("side", 4, "studded", 6.0)[0]}
    for name, data in (made | worn).items():
        (into / f"{name}.png").write_bytes(data)
    (into / "torn.png").write_bytes(made["side"][:3000])
    return {p.stem: p for p in into.iterdir()}


def at_bench(page: Page, running: Web, nth: int = 0) -> None:
    line, _ = a_line(signed_in(running), nth=nth)
    page.goto(f"{running.url}/stockroom/bench/{line}")
    page.get_by_role("list", name="Good for").wait_for()


def bring(page: Page, way: str, file: Path) -> None:
    page.get_by_role("button", name=way, exact=True).click()
    page.locator("input[type=file]").set_input_files(file)


def test_photographed_by_mouse_and_kept(open_page: Callable[..., Page], running: Web, files: dict[str, Path]) -> None:
    page = open_page("ilse")
    line, _ = a_line(signed_in(running))
    page.goto(f"{running.url}/stockroom")
    page.get_by_label("Maker, model, sport").fill("football")
    at_bench(page, running)
    for way in ("Insole", "Sole", "Side"):
        bring(page, way, files[way.lower()])
        dialog = page.get_by_role("dialog", name=re.compile(f"^{way}"))
        dialog.wait_for(timeout=MEASURED_MS)
        dialog.get_by_role("button", name="Keep these numbers").click()
        expect(dialog.get_by_role("button", name="Kept for the catalogue")).to_be_disabled()
        page.keyboard.press("Escape")
        expect(page.locator(f"[data-drawing=shoe-{way.lower()}] figcaption")).to_contain_text("mm")
    expect(page.locator("[data-drawing=shoe-sole] [data-stud]")).to_have_count(len(photo("sole")[1]["studs"]))
    expect(page.get_by_role("list", name="What is known")).to_contain_text("Drop, heel over toe")
    inside = signed_in(running).get(f"/api/stock/{line}/inside").json()
    assert {r["source"] for r in inside["readings"]} >= {"insole"}


def test_studs_are_dragged_by_mouse_and_moved_by_keys(
    open_page: Callable[..., Page], running: Web, files: dict[str, Path]
) -> None:
    page = open_page("ilse")
    at_bench(page, running, 1)
    bring(page, "Sole", files["sole"])
    dialog = page.get_by_role("dialog")
    stud = dialog.get_by_role("button", name=re.compile("^Stud 1:"))
    stud.wait_for(timeout=MEASURED_MS)
    before = stud.get_attribute("aria-label")
    stud.focus()
    for _ in range(4):
        page.keyboard.press("ArrowRight")
    page.keyboard.press("Enter")
    expect(dialog.get_by_role("button", name=re.compile("^Stud 1:"))).not_to_have_attribute("aria-label", before or "")
    expect(dialog.get_by_text("measuring again")).to_have_count(0, timeout=MEASURED_MS)
    # The hand stays where it is.
    expect(dialog.get_by_role("button", name=re.compile("^Stud 1:"))).to_be_focused()
    many = len(photo("sole")[1]["studs"])
    dialog.get_by_role("button", name="Add a stud").click()
    expect(dialog.get_by_role("button", name=re.compile(r"^Stud \d+:"))).to_have_count(many + 1, timeout=MEASURED_MS)
    last = dialog.get_by_role("button", name=re.compile(f"^Stud {many + 1}:"))
    box = last.bounding_box()
    picture = dialog.get_by_role("group", name=re.compile("^The sole seen squarely")).bounding_box()
    assert box
    assert picture
    page.mouse.move(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
    page.mouse.down()
    page.mouse.move(picture["x"] - 30, picture["y"] + 60, steps=6)
    page.mouse.up()
    expect(dialog.get_by_role("button", name=re.compile(r"^Stud \d+:"))).to_have_count(many, timeout=MEASURED_MS)
    found = found_at_every_size(page)
    assert not found, "\n".join(found)


def test_what_is_typed_on_while_it_measures_all_counts(
    open_page: Callable[..., Page], running: Web, files: dict[str, Path]
) -> None:
    """A rule's numbers one key after the other, one stud by calliper, and a line that was gone in between."""
    page = open_page("ilse")
    line, _ = a_line(signed_in(running), nth=1)
    at_bench(page, running, 1)
    bring(page, "Sole", files["sole"])
    dialog = page.get_by_role("dialog")
    dialog.get_by_label("Studs' height").wait_for(timeout=MEASURED_MS)
    for label, digits in (("Sole's length by rule", "281"), ("Studs' height", "11.5"), ("Upper at the heel", "61")):
        dialog.get_by_label(label).click()
        page.keyboard.type(digits, delay=160)
    dialog.get_by_role("button", name=re.compile("^Stud 1:")).focus()
    one = dialog.get_by_role("group", name="Stud 1")
    if one.get_by_label("Diameter").count() == 0:
        one.get_by_label("Stud 1, shape").get_by_text("round").click()
    one.get_by_label("Diameter").fill("13.4")
    gone: list[str] = []
    said = re.compile(r"/api/shoe-pictures/[^/]+$")
    page.route(said, lambda r: (gone.append(r.request.method), r.abort("internetdisconnected")))
    one.get_by_label("Its height").fill("7")
    expect(dialog.get_by_role("alert")).to_contain_text("No connection", timeout=MEASURED_MS)
    assert "PATCH" in gone
    page.unroute(said)
    expect(dialog.get_by_role("alert")).to_have_count(0, timeout=MEASURED_MS)
    expect(dialog.get_by_text("measuring again")).to_have_count(0, timeout=MEASURED_MS)
    kept = signed_in(running).get(f"/api/stock/{line}/pictures").json()[0]
    assert kept["said"] | {"spots": []} == {"sole_mm": 281, "stud_mm": 11.5, "upper_heel_mm": 61, "spots": []}
    first = kept["shape"]["spots"][0]
    assert (first["wide"], first["height_mm"], first["calliper"]) == (13.4, 7, True)
    assert kept["shape"]["sides_mm"][0] == [13.4]
    page.keyboard.press("Escape")
    expect(page.get_by_role("dialog")).to_have_count(0)


def test_a_number_that_cant_be_is_refused_at_its_field_and_the_bench_outlives_a_bad_line(
    open_page: Callable[..., Page], running: Web, files: dict[str, Path]
) -> None:
    page = open_page("ilse")
    at_bench(page, running, 5)
    bring(page, "Sole", files["sole"])
    dialog = page.get_by_role("dialog")
    dialog.get_by_label("Studs' height").wait_for(timeout=MEASURED_MS)
    dialog.get_by_role("button", name=re.compile("^Stud 2:")).focus()
    one = dialog.get_by_role("group", name="Stud 2")
    if one.get_by_label("Diameter").count() == 0:
        one.get_by_label("Stud 2, shape").get_by_text("round").click()
    one.get_by_label("Its height").fill("900")
    page.keyboard.press("Tab")
    expect(one.get_by_role("alert")).to_have_text("Must be at most 40 mm.", timeout=MEASURED_MS)
    expect(dialog.get_by_text("Stud 2 has a number that can't be.")).to_be_visible()
    expect(dialog.get_by_role("button", name="Keep these numbers")).to_be_disabled()
    # What is behind the picture is asked for anew after a correction; that it can't be had hides nothing.
    page.route(re.compile(r"/api/(models/[^/]+/bench|stock/[^/]+|shoe-pictures/.*/image.*)$"), lambda r: r.abort())
    one.get_by_label("Its height").fill("9")
    expect(dialog.get_by_role("alert")).to_have_count(0, timeout=MEASURED_MS)
    expect(page.get_by_text("No connection. You see what was last known", exact=False)).to_be_visible()
    expect(one.get_by_label("Its height")).to_have_value("9")
    assert dialog.locator("fieldset img").first.evaluate("(picture) => picture.naturalWidth") > 100
    page.keyboard.press("Escape")
    expect(page.get_by_role("list", name="Good for")).to_be_visible()


def test_a_closed_picture_stays_closed_and_keeps_what_was_typed_last(
    open_page: Callable[..., Page], running: Web, files: dict[str, Path]
) -> None:
    page = open_page("ilse")
    line, _ = a_line(signed_in(running), nth=4)
    at_bench(page, running, 4)
    bring(page, "Insole", files["insole"])
    thick = page.get_by_role("dialog").get_by_label("Insole's thickness")
    thick.wait_for(timeout=MEASURED_MS)
    thick.fill("4.5")
    page.keyboard.press("Escape")
    expect(page.locator("[data-drawing=shoe-insole] figcaption")).to_contain_text("mm")
    said: dict[str, object] = {}
    for _ in range(100):
        said = signed_in(running).get(f"/api/stock/{line}/pictures").json()[0]["said"]
        if said:
            break
        page.wait_for_timeout(200)
    assert said == {"thick_mm": 4.5}
    page.wait_for_timeout(300)
    expect(page.get_by_role("dialog")).to_have_count(0)


def test_a_torn_picture_is_named_and_can_be_tried_again(
    open_page: Callable[..., Page], running: Web, files: dict[str, Path]
) -> None:
    page = open_page("ilse")
    at_bench(page, running, 2)
    bring(page, "Side", files["torn"])
    told = page.get_by_role("list", name="Being measured")
    expect(told.get_by_role("alert")).to_contain_text("torn.png", timeout=MEASURED_MS)
    told.get_by_role("button", name="Try again").click()
    expect(told.get_by_role("alert")).to_be_visible(timeout=MEASURED_MS)
    told.get_by_role("button", name="Close").click()
    expect(told).to_have_count(0)


A_TEST_S, A_TAP_S, TWO_MINUTES_S = 8.0, 2.0, 120.0
"""A hand test done and noted, and a tap: house defaults."""


def test_a_shoe_is_read_by_touch_in_under_two_minutes(open_page: Callable[..., Page], running: Web) -> None:
    """Every hand test of a shoe, a tap each, and a practice picture of its sole, in so few gestures."""
    page = open_page("ilse", has_touch=True)
    at_bench(page, running, 3)
    tests = page.get_by_role("region", name="Hand tests")
    total = int(re.findall(r"of (\d+)", tests.inner_text())[0])
    done = int(re.findall(r"(\d+) done", tests.inner_text())[0])
    assert done < total, "the bench opens at the first test nobody did"
    for n in range(done, total):
        number = tests.get_by_role("textbox")
        if number.count():
            number.tap()
            number.fill("230")
            tests.get_by_role("button", name="Note it").tap()
        else:
            tests.get_by_role("radio").last.tap()
        expect(tests).to_contain_text(f"{n + 1} done")
    while not tests.get_by_text("Test 1 of").is_visible():
        tests.get_by_role("button", name="Back").tap()
    was = tests.get_by_role("radio", checked=True)
    expect(was).to_have_count(1)
    tests.get_by_role("radio", checked=False).first.tap()
    expect(tests.get_by_role("radio", checked=True)).to_have_count(1)
    page.get_by_role("button", name="Sole", exact=True).tap()
    page.get_by_role("button", name="Practice shoe").tap()
    page.get_by_role("dialog").wait_for(timeout=MEASURED_MS)
    expect(page.get_by_role("dialog")).to_contain_text("stays out of the catalogue")
    assert total * A_TEST_S + 2 * A_TAP_S < TWO_MINUTES_S
    page.keyboard.press("Escape")
    found = found_at_every_size(page)
    assert not found, "\n".join(found)


def test_a_worn_pair_is_laid_over_its_first_day(
    open_page: Callable[..., Page], running: Web, files: dict[str, Path]
) -> None:
    fitter = signed_in(running)
    athlete, _, _ = sold(fitter, "Stella Studden")
    pair = fitter.get(f"/api/athletes/{athlete}/pairs").json()[0]["id"]
    page = open_page("ilse")
    page.goto(f"{running.url}/pairs/{pair}")
    part = page.get_by_role("region", name="Photographed")
    for name in ("new", "worn"):
        part.locator("input[type=file]").set_input_files(files[name])
        page.get_by_role("dialog").wait_for(timeout=MEASURED_MS)
        page.keyboard.press("Escape")
    expect(part.get_by_text(re.compile("The studs are worn"))).to_be_visible()
    expect(part.locator("[data-drawing=shoe-side] path[stroke-dasharray]")).to_have_count(1)
