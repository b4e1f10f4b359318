"""The feet station in the real interface: every way in, corrections, sources, views, time; by mouse and by keys."""

from __future__ import annotations

import json
import re
from collections.abc import Callable
from pathlib import Path

import pytest
from playwright.sync_api import Page, expect

from kalon.devices.foot import sample_pair
from kalon.devices.practice import make
from tests.browser.driver import new_athlete, saved
from tests.browser.sizes import axe
from tests.running import Web
from tests.spoilt import good

pytestmark = pytest.mark.browser
LONG = 90_000


def figure(page: Page, side: str, label: str) -> float:
    """The number standing at a place on the sheet."""
    group = page.get_by_role("group", name=side, exact=True)
    return float(group.get_by_label(label, exact=True).input_value())


def brought(page: Page, kind: str, side: str) -> None:
    page.locator(f"[data-capture='{kind}/{side}']").wait_for(timeout=LONG)


def bring(page: Page, name: str, data: bytes) -> None:
    kinds = {"stl": "model/stl", "png": "image/png", "jpg": "image/jpeg"}
    file = {"name": name, "mimeType": kinds.get(name[-3:], "text/plain"), "buffer": data}
    page.get_by_label("Scan, photograph, mat CSV or record").set_input_files(file)  # type: ignore[arg-type]


def practise(page: Page, device: str, foot: str = "Both feet", seed: str = "2") -> None:
    page.get_by_role("button", name="Practice", exact=True).click()
    dialog = page.get_by_role("dialog")
    dialog.get_by_role("radio", name=device).click()
    dialog.get_by_role("radio", name=foot, exact=True).click()
    dialog.get_by_label("Made-up person, by number").fill(seed)
    dialog.get_by_role("button", name="Measure", exact=True).click()


def test_a_scan_brought_shows_progress_numbers_views_and_the_foot_turned(page: Page, running: Web) -> None:
    new_athlete(page, running.url, "Scanned Here")
    data, dims = make("stl", 2, "left")
    bring(page, "left.stl", data)
    page.get_by_role("list", name="Being measured").get_by_role("progressbar").wait_for()
    brought(page, "scan", "left")
    assert figure(page, "Left", "Length") == pytest.approx(dims.length_mm, abs=1)
    assert figure(page, "Left", "Ball girth") == pytest.approx(dims.ball_girth_mm, abs=2.5)
    expect(page.locator("[data-foot=left] [data-outline=captured]")).to_be_visible()
    expect(page.locator("[data-foot=right] [data-outline='from numbers']")).to_be_visible()
    expect(page.get_by_label("At what time")).not_to_have_value("")
    page.get_by_role("radio", name="scan", exact=True).click()
    expect(page.locator("[data-under=scan]")).to_be_visible()
    page.get_by_role("radio", name="Inner side").click()
    page.locator("[data-drawing=feet-inner]").wait_for()
    assert figure(page, "Left", "Instep height") == pytest.approx(dims.instep_height_mm, abs=1.5)
    expect(page.get_by_text("Arch height index")).to_be_visible()
    assert axe(page) == []
    page.get_by_role("radio", name="3-D").click()
    turned = page.locator("[data-drawing=foot-turned]")
    turned.wait_for()
    page.locator("[data-drawn=yes]").or_(page.get_by_text("can't draw in three dimensions")).wait_for(timeout=LONG)
    if page.locator("[data-drawn=yes]").count():
        turned.focus()
        for key in ("ArrowLeft", "ArrowUp", "+"):
            page.keyboard.press(key)
        expect(turned).to_have_attribute("data-turned", "3")
        assert axe(page) == []


def test_a_scan_is_confirmed_on_a_picture(page: Page, running: Web) -> None:
    new_athlete(page, running.url, "Checked Here")
    data, _ = make("stl", 2, "right")
    bring(page, "right.stl", data)
    brought(page, "scan", "right")
    page.get_by_role("button", name="Check", exact=True).click()
    dialog = page.get_by_role("dialog")
    expect(dialog.get_by_role("img", name="As the scan was understood", exact=False)).to_be_visible()
    assert axe(page) == []
    dialog.get_by_role("radio", name="m", exact=True).click()
    expect(dialog.get_by_role("alert")).to_contain_text("no pair of feet")
    dialog.get_by_role("radio", name="Left foot").click()
    brought(page, "scan", "left")
    dialog.get_by_role("button", name="It is right").click()
    page.get_by_role("button", name="Take out the left scan").click()
    expect(page.locator("[data-capture]")).to_have_count(0)
    page.get_by_role("button", name="Put it back").click()
    brought(page, "scan", "left")


def test_a_tracing_with_corners_and_outline_dragged(page: Page, running: Web) -> None:
    new_athlete(page, running.url, "Traced Here")
    dims = sample_pair(2)[1]
    bring(page, "photo.png", good()["photo.png"])
    brought(page, "tracing", "right")
    before = figure(page, "Right", "Length")
    assert before == pytest.approx(dims.length_mm, abs=1.5)
    page.get_by_role("radio", name="tracing", exact=True).click()
    expect(page.locator("image[data-under=tracing]")).to_be_visible()
    page.get_by_role("button", name="Check", exact=True).click()
    dialog = page.get_by_role("dialog")
    dialog.get_by_role("radio", name="Corners of the paper").click()
    handle = dialog.locator("[data-handle='2']")
    handle.wait_for()
    assert axe(page) == []
    box = handle.bounding_box()
    assert box
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x - 30, y - 40, steps=4)
    page.mouse.up()
    expect(page.locator("[aria-busy=true]")).to_have_count(0, timeout=LONG)
    dialog.get_by_role("radio", name="Outline", exact=True).click()
    dialog.get_by_role("button", name=re.compile("Outline point 1:")).focus()
    for _ in range(3):
        page.keyboard.press("Shift+ArrowUp")
    page.keyboard.press("Enter")
    expect(page.locator("[aria-busy=true]")).to_have_count(0, timeout=LONG)
    dialog.get_by_role("button", name="It is right").click()
    page.wait_for_timeout(500)
    assert figure(page, "Right", "Length") != before


def test_a_print_in_our_hatches_with_its_index_and_zones(page: Page, running: Web) -> None:
    new_athlete(page, running.url, "Printed Here")
    dims = sample_pair(2)[1]
    bring(page, "mat.csv", good()["mat.csv"])
    brought(page, "mat", "right")
    page.get_by_role("radio", name="print", exact=True).click()
    expect(page.locator("[data-under=mat] path").first).to_be_visible()
    expect(page.get_by_text("from 300")).to_be_visible()
    page.get_by_role("button", name="Check", exact=True).click()
    expect(page.get_by_role("dialog").get_by_role("row", name="heel")).to_be_visible()
    page.get_by_role("button", name="It is right").click()
    page.get_by_role("radio", name="Outer side").click()
    shown = page.get_by_text("Arch index").first.inner_text()
    assert float(re.findall(r"0\.\d+", shown)[0]) == pytest.approx(dims.arch_index, abs=0.01)


def test_sources_disagree_and_the_fitter_chooses(page: Page, running: Web) -> None:
    new_athlete(page, running.url, "Two Sources")
    group = page.get_by_role("group", name="Left", exact=True)
    dims = sample_pair(2)[0]
    group.get_by_label("Length", exact=True).fill(str(round(dims.length_mm + 9)))
    group.get_by_label("Heel width", exact=True).fill("65")
    saved(page)
    practise(page, "3-D scanner", "Left")
    brought(page, "scan", "left")
    assert figure(page, "Left", "Length") == pytest.approx(dims.length_mm, abs=1)
    expect(page.locator("[data-conflict='left/length_mm']")).to_contain_text("further apart")
    group.get_by_role("button", name=re.compile("Left Length: .*2 sources")).click()
    page.get_by_role("dialog", name="Sources of Length, left").get_by_role("button", name="gauge").click()
    saved(page)
    page.keyboard.press("Escape")
    assert figure(page, "Left", "Length") == round(dims.length_mm + 9)
    expect(page.locator("[data-conflict='left/length_mm']")).to_have_count(0)
    page.reload()
    page.locator("[data-drawing=feet]").wait_for()
    assert figure(page, "Left", "Length") == round(dims.length_mm + 9)


def test_a_mats_cells_are_asked_for_when_the_file_doesn_t_say(page: Page, running: Web) -> None:
    new_athlete(page, running.url, "Cells Asked")
    bring(page, "mat.csv", good()["mat.csv"].split(b"\n", 2)[2])
    jobs = page.get_by_role("list", name="Being measured")
    expect(jobs.get_by_role("alert").first).to_contain_text("how wide a cell")
    jobs.get_by_label("Width of a cell").fill("90")
    expect(jobs.get_by_text("At most 20 mm.")).to_be_visible()
    expect(jobs.get_by_role("button", name="Measure")).to_be_disabled()
    jobs.get_by_label("Width of a cell").fill("5")
    jobs.get_by_role("button", name="Measure").click()
    brought(page, "mat", "right")


def test_one_undo_takes_a_number_typed_over_a_capture_back_whole(page: Page, running: Web) -> None:
    new_athlete(page, running.url, "Undone Here")
    practise(page, "3-D scanner", "Left")
    brought(page, "scan", "left")
    before = figure(page, "Left", "Length")
    group = page.get_by_role("group", name="Left", exact=True)
    group.get_by_label("Length", exact=True).click()
    page.keyboard.type("251")
    saved(page)
    assert figure(page, "Left", "Length") == 251
    page.evaluate("document.activeElement.blur()")
    page.keyboard.press("Control+z")
    saved(page)
    page.wait_for_timeout(600)
    assert figure(page, "Left", "Length") == before


def test_a_spoilt_file_gets_a_sentence_and_can_be_tried_again(page: Page, running: Web) -> None:
    new_athlete(page, running.url, "Spoilt File")
    bring(page, "half.stl", good()["scan.stl"][:5000])
    alert = page.get_by_role("list", name="Being measured").get_by_role("alert")
    expect(alert).to_contain_text("cut short")
    expect(page.locator("[data-capture]")).to_have_count(0)
    page.get_by_role("button", name="Try again").click()
    expect(alert).to_contain_text("cut short")
    page.get_by_role("button", name="Close").click()
    expect(alert).to_have_count(0)


def test_a_dropped_file_is_read_and_feet_are_taken_out_and_brought_back(
    page: Page, running: Web, tmp_path: Path
) -> None:
    new_athlete(page, running.url, "Dropped Here")
    text = json.dumps(list(good()["mat.csv"]))
    page.evaluate(
        f"""() => {{
          const data = new DataTransfer();
          data.items.add(new File([new Uint8Array({text})], 'mat.csv', {{ type: 'text/csv' }}));
          window.dispatchEvent(new DragEvent('drop', {{ dataTransfer: data, bubbles: true, cancelable: true }}));
        }}"""
    )
    brought(page, "mat", "right")
    page.get_by_text("Take out", exact=True).first.click()
    with page.expect_download() as loaded:
        page.get_by_role("link", name="Numbers, CSV").click()
    file = tmp_path / "feet.csv"
    loaded.value.save_as(file)
    assert "right,arch_index" in file.read_text()
    new_athlete(page, running.url, "Brought Back")
    page.get_by_label("Scan, photograph, mat CSV or record").set_input_files(file)
    brought(page, "record", "right")


def test_the_whole_station_by_keyboard(page: Page, running: Web) -> None:
    new_athlete(page, running.url, "Keys Only")
    page.get_by_label("Length", exact=True).first.focus()
    for side in range(2):
        for value in ("262", "101", "246", "250", "65"):
            page.keyboard.type(value)
            if not (side and value == "65"):
                page.keyboard.press("Enter")
    page.keyboard.press("ArrowUp")
    page.keyboard.press("Shift+ArrowUp")
    page.keyboard.press("Tab")
    saved(page)
    assert figure(page, "Left", "Heel width") == 65
    assert figure(page, "Right", "Heel width") == 66.5
    page.evaluate("document.activeElement.blur()")
    page.keyboard.press("v")
    page.locator("[data-drawing=feet-inner]").wait_for()
    page.keyboard.press("v")
    page.locator("[data-drawing=feet-outer]").wait_for()
    page.keyboard.press("v")
    page.locator("[data-drawing=feet]").wait_for()
    page.keyboard.press("p")
    dialog = page.get_by_role("dialog")
    dialog.wait_for()
    dialog.get_by_role("radio", name="3-D scanner").focus()
    for way in ("Camera", "Pressure mat"):
        page.keyboard.press("ArrowRight")
        expect(dialog.get_by_role("radio", name=way)).to_be_focused()
    page.keyboard.press("Space")
    expect(dialog.get_by_role("radio", name="Pressure mat")).to_be_checked()
    dialog.get_by_role("button", name="Measure", exact=True).focus()
    page.keyboard.press("Enter")
    brought(page, "mat", "right")
    page.evaluate("document.activeElement.blur()")
    page.keyboard.press("u")
    expect(page.locator("[data-under=mat]").first).to_be_visible()
    assert axe(page) == []


def test_a_junior_s_growth_and_earlier_outlines(page: Page, running: Web) -> None:
    page.goto(f"{running.url}/athletes")
    page.get_by_role("link", name="Jory Petch").click()
    page.get_by_role("button", name="Begin a fitting").click()
    page.locator("[data-drawing=feet]").wait_for()
    expect(page.locator("[data-chart=growth]").first).to_be_visible()
    expect(page.get_by_text("Measure again by").first).to_be_visible()
    expect(page.locator("[data-chart=swelling]")).to_be_visible()
    page.get_by_role("radio", name="earlier").click()
    expect(page.get_by_text("Dotted:", exact=False)).to_be_visible()


def test_a_note_and_a_tick_raise_cautions(page: Page, running: Web) -> None:
    new_athlete(page, running.url, "Care Ful")
    page.get_by_label("A child's growing pains").check()
    expect(page.locator("[data-caution='caution.growing_pains']")).to_be_visible()
    page.get_by_label("Wounds or numb spots").check()
    expect(page.locator("[data-caution='caution.wounds']")).to_be_visible()
    page.get_by_label("Note on the feet").fill("tingling under the ball")
    expect(page.locator("[data-caution='caution.numbness']")).to_contain_text("“tingling”")
    saved(page)


def test_sizes_are_typed_as_lengths(page: Page, running: Web) -> None:
    new_athlete(page, running.url, "Sized Here")
    page.get_by_role("radio", name="EU", exact=True).click()
    group = page.get_by_role("group", name="Left", exact=True)
    group.get_by_label("Length", exact=True).fill("42")
    saved(page)
    page.get_by_role("radio", name="mm", exact=True).click()
    expect(group.get_by_label("Length", exact=True)).to_have_value("265")


def test_the_station_on_a_standing_tablet_with_everything_captured(
    open_page: Callable[..., Page], running: Web
) -> None:
    page = open_page(size={"width": 820, "height": 1180})
    new_athlete(page, running.url, "Tablet Feet")
    practise(page, "3-D scanner", "Left")
    brought(page, "scan", "left")
    over = page.evaluate("document.querySelector('main').scrollWidth - document.querySelector('main').clientWidth")
    assert over <= 1
    clash = page.evaluate(
        """() => { const f = [...document.querySelectorAll('[data-figure]')].map(e => e.getBoundingClientRect());
          return f.some((a, i) => f.some((b, j) => j > i && a.left < b.right - 2 && b.left < a.right - 2
            && a.top < b.bottom - 2 && b.top < a.bottom - 2)); }"""
    )
    assert clash is False
