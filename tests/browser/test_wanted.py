"""The wanted shoe drawn, its parts and reasons, what is laid in; drawings dragged; like the pair they like."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import Page, expect

from tests.browser.driver import pick, saved
from tests.browser.shots import fitting_of
from tests.browser.sizes import axe
from tests.running import Web

TAVI = "Tavi Umber"


def at_spec(page: Page, url: str, athlete: str) -> None:
    page.goto(f"{fitting_of(page, url, athlete)}/spec")
    page.locator("[data-drawing=wanted-shoe]").wait_for()


def test_the_parts_open_their_reasons_and_how_they_are_read(page: Page, running: Web) -> None:
    at_spec(page, running.url, TAVI)
    heel = page.locator("[data-part=heel]")
    heel.get_by_role("button", name=re.compile("^\\d+ Heel")).click()
    expect(heel).to_contain_text("Heel cup firmness")
    expect(heel).to_contain_text("At the bench: press the heel cup together with finger and thumb.")
    assert axe(page) == []
    page.locator("[data-balloon=sole]").click()
    expect(page.locator("[data-part=sole]")).to_contain_text("Stiffness in bending")
    expect(heel).not_to_contain_text("At the bench")


def test_an_answer_tried_moves_the_shoe_old_against_new(page: Page, running: Web) -> None:
    at_spec(page, running.url, TAVI)
    drawing = page.locator("[data-drawing=wanted-shoe]")
    studs = drawing.locator("[data-studs]").get_attribute("data-studs")
    page.keyboard.press("w")
    pick(page, "Ground", "Hall floor")
    page.locator("[data-moved]").wait_for()
    expect(drawing.locator("[data-outline=was]")).to_be_visible()
    expect(drawing.locator(f"[data-studs='{studs}']")).to_have_count(0)
    page.get_by_role("button", name="Back to the brief").click()
    expect(drawing.locator("[data-outline=was]")).to_have_count(0)
    expect(drawing.locator(f"[data-studs='{studs}']")).to_be_visible()


def test_scales_are_one_press_away_and_stay(page: Page, running: Web) -> None:
    at_spec(page, running.url, TAVI)
    page.keyboard.press("s")
    expect(page.locator("[data-band]").first).to_be_visible()
    expect(page.locator("[data-drawing=wanted-shoe]")).to_have_count(0)
    page.reload()
    expect(page.locator("[data-band]").first).to_be_visible()
    page.keyboard.press("s")
    expect(page.locator("[data-drawing=wanted-shoe]")).to_be_visible()


def test_a_feature_counts_by_hand(page: Page, running: Web) -> None:
    at_spec(page, running.url, TAVI)
    part = page.locator("[data-part=sole]")
    part.get_by_role("button", name=re.compile("^\\d+ Sole")).click()
    button = part.get_by_role("button", name=re.compile("metal studs counts", re.IGNORECASE))
    button.click()
    dialog = page.get_by_role("dialog")
    dialog.get_by_role("slider").fill("0.1")
    dialog.get_by_label("Why").fill("allowed at their ground")
    dialog.get_by_role("button", name="Set").click()
    saved(page)
    expect(button).to_have_accessible_name(re.compile("counts 0.1, moved by hand"))
    button.click()
    dialog.get_by_role("button", name=re.compile("^Back to")).click()
    saved(page)


DRAGGED = (
    ("Dagny Pell", "Heel", "lifter", (0, -14)),
    ("Ewart Linn", "Edge", "toe-on-edge", (-24, 0)),
    ("Vido Carrick-Yann", "Stiffness of the sole", "pedal-stroke", (0, 16)),
    ("Lio Farrant", "Heel stack", "heel-behind", (0, -14)),
    (TAVI, "Load on one foot", "stud-plate", (24, 0)),
    (TAVI, "Stud 4", "stud-plate", (16, 10)),
)


@pytest.mark.parametrize(("athlete", "handle", "drawing", "by"), DRAGGED)
def test_every_mechanical_drawing_is_dragged_and_goes_back(
    page: Page, running: Web, athlete: str, handle: str, drawing: str, by: tuple[int, int]
) -> None:
    at_spec(page, running.url, athlete)
    figure = page.locator(f"[data-drawing={drawing}]")
    grip = figure.get_by_role("slider", name=handle, exact=True)
    grip.scroll_into_view_if_needed()
    was, before = figure.inner_text(), grip.get_attribute("aria-valuetext")
    box = grip.bounding_box()
    assert box
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x + by[0] / 2, y + by[1] / 2)
    page.mouse.move(x + by[0], y + by[1])
    page.mouse.up()
    expect(grip).not_to_have_attribute("aria-valuetext", before or "")
    expect(figure.locator("[data-tried]")).to_be_visible()
    page.wait_for_function("([f, was]) => f.innerText !== was", arg=[figure.element_handle(), was])
    dragged = grip.get_attribute("aria-valuetext")
    grip.press("ArrowRight" if by[0] else "ArrowUp")
    expect(grip).not_to_have_attribute("aria-valuetext", dragged or "")
    figure.locator("[data-tried]").click()
    expect(grip).to_have_attribute("aria-valuetext", before or "")


def test_what_is_dragged_without_connection_says_that_it_is_not_computed(page: Page, running: Web) -> None:
    at_spec(page, running.url, TAVI)
    figure = page.locator("[data-drawing=stud-plate]")
    load = figure.get_by_role("slider", name="Load on one foot")
    load.wait_for()
    page.context.set_offline(True)
    load.press("End")
    expect(figure.get_by_role("alert")).to_contain_text("Not computed: there is no connection.")
    page.context.set_offline(False)
    load.press("Home")
    expect(figure.get_by_role("alert")).to_have_count(0)
    expect(load).to_have_attribute("aria-valuenow", "200")


def test_a_stud_dragged_on_one_plate_is_no_other_plate_s(page: Page, running: Web) -> None:
    at_spec(page, running.url, TAVI)
    figure = page.locator("[data-drawing=stud-plate]")
    figure.get_by_role("slider", name="Stud 2").press("ArrowUp")
    expect(figure.locator("[data-tried]")).to_be_visible()
    page.keyboard.press("w")
    pick(page, "Ground", "Artificial grass")
    page.locator("[data-moved]").wait_for()
    expect(figure).to_have_attribute("data-plate", "artificial_grass")
    expect(figure.locator("[data-tried]")).to_have_count(0)


def test_the_drawn_studs_are_those_computed_with(page: Page, running: Web) -> None:
    at_spec(page, running.url, TAVI)
    drawn = page.locator("[data-drawing=wanted-shoe] [data-studs] circle").count()
    assert drawn == page.locator("[data-drawing=stud-plate] [data-stud]").count()


def test_like_the_pair_they_like_and_the_shoe_laid_in(page: Page, running: Web) -> None:
    page.goto(f"{fitting_of(page, running.url, 'Sunniva Crake')}/pull")
    page.locator("[data-drawing=foot-in-shoe]").wait_for()
    pick(page, "Like the pair they like", "Roof, Orvane")
    expect(page.get_by_role("complementary")).to_contain_text("Beside Roof")
    first = page.locator("[data-like]").first
    expect(first).to_have_text("itself, or its twin")
    page.keyboard.press("ArrowDown")
    expect(page.locator("[data-differs] li").first).to_be_visible()
    page.get_by_text("Laid into the wanted shoe").click()
    expect(page.locator("[data-outline=laid]")).to_be_visible()
    page.locator("main").focus()
    page.keyboard.press("]")
    expect(page.locator("[data-outline=laid]")).to_be_visible()
    assert axe(page) == []
    pick(page, "Like the pair they like", "in order of fit")
    expect(page.locator("[data-like]")).to_have_count(0)


def test_gauge_only_feet_show_what_is_usual_and_lead_to_what_to_measure(page: Page, running: Web) -> None:
    page.goto(f"{fitting_of(page, running.url, 'Kester Vane')}/pull")
    surer = page.locator("[data-surer]")
    expect(surer).to_contain_text("and the choice is surer")
    surer.get_by_role("link", name="measure it").click()
    expect(page.locator("[data-estimated=heel_width_mm]").first).to_contain_text(re.compile(r"usual \d+ ± \d+"))
    expect(page.locator("[data-guessed]")).not_to_have_count(0)
    assert axe(page) == []


def test_on_a_standing_tablet_nothing_is_cut_and_cautions_come_first(page: Page, running: Web) -> None:
    page.set_viewport_size({"width": 820, "height": 1180})
    at_spec(page, running.url, "Nuala Tarrant-Oke")
    caution = page.locator("[data-caution]").first
    drawing = page.locator("[data-drawing=wanted-shoe]")
    for shown in (caution, drawing):
        box = shown.bounding_box()
        assert box
        assert box["x"] >= 0
        assert box["x"] + box["width"] <= 820
        assert box["y"] < 1180
    edge = page.locator("[data-drawing=toe-on-edge] svg").first
    edge.scroll_into_view_if_needed()
    cut = edge.evaluate(
        """svg => [...svg.querySelectorAll('path, text, circle')].filter(e => e.getAttribute('fill') !== 'transparent')
        .map(e => e.getBBox()).filter(b => b.y < -2 || b.x < -2).length"""
    )
    assert cut == 0
