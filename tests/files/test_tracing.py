"""Tracings: the paper found and flattened, the line or the foot outlined, the outline measured."""

from __future__ import annotations

import numpy as np
import pytest

from kalon.core.errors import BadInput
from kalon.core.feet.outline import measure_outline
from kalon.core.feet.said import Said
from kalon.core.paper.polygon import area, dense, even, inset
from kalon.core.paper.sheet import camera_at, find_outline, find_paper, flattened, seen_from_above, tilt_deg, to_paper
from kalon.devices.foot import sample_pair
from kalon.devices.paper import outline, photograph
from kalon.files.captures import FOOT_SIGMA, measure_again
from kalon.files.reading import jpeg

A4 = np.array([[0.0, 0.0], [210.0, 0.0], [210.0, 297.0], [0.0, 297.0]])


def matched(found: np.ndarray, true: np.ndarray) -> float:
    """Largest corner error, px, over the ways round."""
    return min(float(np.linalg.norm(found - np.roll(true, k, axis=0), axis=1).max()) for k in range(4))


@pytest.mark.parametrize(("seed", "tilt"), [(2, 0), (3, 12), (4, 22), (6, 30), (7, 35), (8, 35)])
def test_tracings_at_any_tilt_up_to_35_degrees(seed: int, tilt: float) -> None:
    dims = sample_pair(seed)[seed % 2]
    shot = photograph(dims, seed, tilt_deg=tilt, width=1500)
    sheet = find_paper(shot.picture)
    assert sheet.found
    assert matched(sheet.corners, shot.corners) < 2
    found = find_outline(flattened(shot.picture, sheet.corners, "a4"))
    assert found.drawn == "line"
    shape, reading = measure_outline(seen_from_above(found.outline))
    assert shape.side == dims.side
    assert abs(reading.numbers["length_mm"].value - dims.length_mm) <= 1.5
    assert abs(reading.numbers["ball_width_mm"].value - dims.ball_width_mm) <= 2.0
    assert abs(reading.numbers["heel_width_mm"].value - dims.heel_width_mm) <= 2.0
    assert abs(reading.numbers["first_toe_angle_deg"].value - dims.first_toe_angle_deg) <= 3
    assert reading.toe_shape == dims.toe_shape


def test_letter_paper_is_letter_paper() -> None:
    dims = sample_pair(2)[1]
    shot = photograph(dims, 5, tilt_deg=10, paper="letter", width=1500)
    right = measure_again("tracing", jpeg(shot.picture), Said(paper="letter"))
    wrong = measure_again("tracing", jpeg(shot.picture), Said(paper="a4"))
    assert right.reading.numbers["length_mm"].value == pytest.approx(dims.length_mm, abs=1.5)
    assert wrong.reading.numbers["length_mm"].value > dims.length_mm + 8


def test_the_foot_itself_is_less_sure_and_says_so() -> None:
    dims = sample_pair(4)[1]
    shot = photograph(dims, 4, tilt_deg=6, drawn="foot", width=1500)
    found = measure_again("tracing", jpeg(shot.picture), Said())
    assert found.shape["drawn"] == "foot"
    assert set(found.reading.numbers) <= set(FOOT_SIGMA)
    number = found.reading.numbers["length_mm"]
    assert abs(number.value - dims.length_mm) <= number.within
    line = photograph(dims, 4, tilt_deg=6, width=1500)
    drawn = measure_again("tracing", jpeg(line.picture), Said())
    assert number.sigma > 2 * drawn.reading.numbers["length_mm"].sigma


def test_a_corner_outside_the_picture_is_asked_for_and_dragging_it_right_mends_it() -> None:
    dims = sample_pair(2)[1]
    shot = photograph(dims, 2, tilt_deg=20, width=1500)
    cut = int(shot.corners[:, 0].max()) - 60
    picture = np.ascontiguousarray(shot.picture[:, :cut])
    asked = measure_again("tracing", jpeg(picture), Said())
    assert any("corner" in q for q in asked.reading.questions)
    ordered = shot.corners[np.argsort(np.arctan2(*(shot.corners - shot.corners.mean(axis=0)).T[::-1]))]
    sides = np.linalg.norm(np.roll(ordered, -1, axis=0) - ordered, axis=1)
    if sides[0] > sides[1]:
        ordered = np.roll(ordered, 1, axis=0)
    mended = measure_again("tracing", jpeg(picture), Said(corners=ordered.tolist()))
    assert mended.reading.numbers["length_mm"].value == pytest.approx(dims.length_mm, abs=1.5)
    assert not [q for q in mended.reading.questions if "corner" in q]


def test_a_dragged_outline_counts() -> None:
    dims = sample_pair(2)[1]
    shot = photograph(dims, 2, tilt_deg=5, width=1500)
    before = measure_again("tracing", jpeg(shot.picture), Said())
    points = np.array(before.shape["on_paper"])
    middle = points.mean(axis=0)
    longer = middle + (points - middle) * 1.04
    after = measure_again("tracing", jpeg(shot.picture), Said(outline=longer.tolist()))
    grown = after.reading.numbers["length_mm"].value / before.reading.numbers["length_mm"].value
    assert grown == pytest.approx(1.04, abs=0.005)


def test_the_pens_distance_is_taken_off() -> None:
    dims = sample_pair(3)[1]
    edge = outline(dims)
    _, tight = measure_outline(edge, off_mm=0)
    _, pen = measure_outline(edge, off_mm=2)
    assert tight.numbers["length_mm"].value == pytest.approx(dims.length_mm, abs=0.4)
    assert tight.numbers["length_mm"].value - pen.numbers["length_mm"].value == pytest.approx(4, abs=0.2)


def test_the_camera_is_where_it_stood() -> None:
    shot = photograph(sample_pair(2)[1], 9, tilt_deg=25, width=1200)
    corners = find_paper(shot.picture).corners
    size = (shot.picture.shape[1], shot.picture.shape[0])
    assert tilt_deg(camera_at(corners, "a4", size), "a4") == pytest.approx(25, abs=4)


def test_corners_map_to_the_papers_own() -> None:
    corners = np.array([[100.0, 120.0], [700.0, 90.0], [760.0, 980.0], [60.0, 940.0]])
    map_ = to_paper(corners, "a4")
    seen = np.column_stack([corners, np.ones(4)]) @ map_.T
    assert seen[:, :2] / seen[:, 2:] == pytest.approx(A4, abs=1e-3)


@pytest.mark.parametrize(
    "corners",
    [[[0, 0], [1, 0], [2, 0], [3, 0]], [[0, 0], [900, 900], [900, 0], [0, 900]], [[0, 0], [0, 0], [9, 9], [9, 0]]],
)
def test_impossible_corners_are_refused(corners: list[list[float]]) -> None:
    with pytest.raises(BadInput, match="corner"):
        to_paper(np.array(corners, dtype=float), "a4")


@pytest.mark.parametrize(
    ("page", "words"),
    [
        (np.full((1188, 840, 3), 240, np.uint8), "drawn"),
        (np.zeros((1188, 840, 3), np.uint8), "drawn"),
    ],
)
def test_an_empty_sheet_is_said_to_be(page: np.ndarray, words: str) -> None:
    with pytest.raises(BadInput, match=words):
        find_outline(page, "line")


def test_polygon_arithmetic() -> None:
    square = np.array([[0.0, 0.0], [100.0, 0.0], [100.0, 100.0], [0.0, 100.0]])
    assert area(square) == pytest.approx(10_000)
    assert area(square[::-1]) == pytest.approx(-10_000)
    assert len(dense(square, 1.0)) == 400
    assert np.linalg.norm(np.diff(even(square, 2.0), axis=0), axis=1) == pytest.approx(2.0, rel=0.01)
    circle = 80 * np.column_stack([np.cos(np.linspace(0, 6.28, 200)), np.sin(np.linspace(0, 6.28, 200))])
    for way in (1, -1):
        assert np.linalg.norm(inset(circle[::way], 5), axis=1) == pytest.approx(75, abs=0.4)
