"""The plan of a foot: edges, axis, heads and toes, on shapes drawn by hand and on turned and mirrored outlines."""

from __future__ import annotations

from functools import cache

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from kalon.core.errors import BadInput
from kalon.core.feet.outline import measure_outline
from kalon.core.feet.plan import (
    FIFTH_HEAD,
    FIRST_HEAD,
    HEAD_SPREAD,
    Ball,
    edges,
    first_toe_angle_deg,
    head,
    reach,
    second_toe,
    side_by,
    toe_tips,
)
from kalon.core.paper.polygon import dense
from kalon.devices.foot import FootDims, sample_pair
from kalon.devices.paper import outline
from tests.much import much


@cache
def drawn(seed: int) -> tuple[FootDims, np.ndarray]:
    dims = sample_pair(seed)[1]
    return dims, outline(dims)


def plane(points: np.ndarray) -> np.ndarray:
    return np.column_stack([points, np.zeros(len(points))])


def test_edges_of_a_box_are_its_sides() -> None:
    box = plane(dense(np.array([[0.0, -20.0], [200.0, -20.0], [200.0, 30.0], [0.0, 30.0]]), 0.5))
    at, inner, outer = edges(box, 200.0, 1.0)
    assert np.diff(at) == pytest.approx(2.0)
    assert inner[:-1] == pytest.approx(30)
    assert outer[:-1] == pytest.approx(-20)


def test_edges_only_look_below() -> None:
    low = np.array([[50.0, 10.0, 0.0], [50.0, -10.0, 0.0]])
    high = np.array([[50.0, 40.0, 80.0]])
    _, inner, _ = edges(np.vstack([low, high]), 100.0, 20.0)
    assert np.nanmax(inner) == 10


@given(off=st.floats(-2.5, 2.5), height=st.floats(30, 50), bend=st.floats(0.004, 0.02))
def test_a_head_is_found_where_the_edge_stands_out_most(off: float, height: float, bend: float) -> None:
    place = FIRST_HEAD + off * HEAD_SPREAD
    at = np.arange(1.0, 260.0, 2.0)
    edge = height - bend * (at - place * 260) ** 2
    x, y = head(at, edge, FIRST_HEAD, 260.0, 6.0, 0.0)
    assert x == pytest.approx(place * 260, abs=0.5)
    assert y == pytest.approx(height, abs=0.1)


def test_on_a_level_edge_the_usual_place_is_taken() -> None:
    at = np.arange(1.0, 260.0, 2.0)
    for usual in (FIRST_HEAD, FIFTH_HEAD):
        x, _ = head(at, np.full_like(at, 40.0), usual, 260.0, 3.0, 0.05)
        assert x == pytest.approx(usual * 260, abs=2.1)


@given(far=st.floats(0.005, 0.03), more=st.floats(0.01, 1.0))
def test_a_stronger_pull_brings_the_head_nearer_its_usual_place(far: float, more: float) -> None:
    at = np.arange(1.0, 260.0, 2.0)
    edge = 40 - 0.004 * (at - (FIRST_HEAD + far) * 260) ** 2
    weak = head(at, edge, FIRST_HEAD, 260.0, 3.0, 0.0)[0]
    strong = head(at, edge, FIRST_HEAD, 260.0, 3.0, more)[0]
    assert abs(strong - FIRST_HEAD * 260) <= abs(weak - FIRST_HEAD * 260) + 0.3


def test_the_second_toe_is_the_tip_nearest_its_place_and_never_the_big_toe() -> None:
    across = np.arange(-50.0, 50.0) + 0.5

    def tips(*middles: float) -> np.ndarray:
        return np.max([240 - 0.12 * (across - m) ** 2 for m in middles], axis=0)

    assert second_toe(across, tips(22, 0, -16), 42, -58, 36) == pytest.approx(0, abs=1)
    assert second_toe(across, tips(22, 5, -16), 42, -58, 36) == pytest.approx(5, abs=1)
    big_over_it = second_toe(across, tips(4, -16), 42, -58, 18)
    assert big_over_it == pytest.approx(42 - 0.42 * 100)
    assert second_toe(across, np.full_like(across, 200.0), 42, -58, 36) == pytest.approx(0)


def test_reach_and_tips_of_a_drawn_foot() -> None:
    dims, points = drawn(2)
    across, forward = reach(plane(dense(points)), dims.length_mm)
    assert forward.max() == pytest.approx(dims.length_mm, abs=1)
    assert across.min() < -20 < 20 < across.max()
    first, second = toe_tips(plane(dense(points)), dims.length_mm, dims.breadth_mm)
    assert max(first, second) == pytest.approx(dims.length_mm, abs=1)


@settings(max_examples=much(8, 25), deadline=None)
@given(seed=st.integers(2, 9), turn=st.floats(0, 6.28), x=st.floats(-300, 300), y=st.floats(-300, 300))
def test_an_outline_measures_the_same_wherever_and_however_it_lies(seed: int, turn: float, x: float, y: float) -> None:
    _, points = drawn(seed)
    c, s = np.cos(turn), np.sin(turn)
    moved = points @ np.array([[c, s], [-s, c]]) + np.array([x, y])
    still, again = (measure_outline(p, off_mm=0)[1] for p in (points, moved))
    assert again.side == still.side
    for name in ("length_mm", "heel_width_mm", "ball_width_mm"):
        assert again.numbers[name].value == pytest.approx(still.numbers[name].value, abs=0.8), name


@settings(max_examples=10, deadline=None)
@given(seed=st.integers(2, 9))
def test_the_mirror_image_is_the_other_foot(seed: int) -> None:
    _, points = drawn(seed)
    right = measure_outline(points, off_mm=0)[1]
    left = measure_outline(points * np.array([1.0, -1.0]), off_mm=0)[1]
    assert (right.side, left.side) == ("right", "left")
    for name, number in right.numbers.items():
        assert left.numbers[name].value == pytest.approx(number.value, abs=0.5), name


@settings(max_examples=15, deadline=None)
@given(seed=st.integers(2, 9), grown=st.floats(0.85, 1.1))
def test_a_larger_outline_is_a_larger_foot_of_the_same_angles(seed: int, grown: float) -> None:
    _, points = drawn(seed)
    plain, large = (measure_outline(points * k, off_mm=0)[1].numbers for k in (1.0, grown))
    for name, within in (("length_mm", 0.002), ("heel_width_mm", 0.01), ("ball_width_mm", 0.02)):
        assert large[name].value / plain[name].value == pytest.approx(grown, rel=within), name
    assert large["first_toe_angle_deg"].value == pytest.approx(plain["first_toe_angle_deg"].value, abs=3)


def test_said_against_seen_is_asked() -> None:
    _, points = drawn(3)
    asked = measure_outline(points, side="left", off_mm=0)[1]
    assert asked.side == "left"
    assert any("shaped like a right foot" in q for q in asked.questions)
    assert measure_outline(points, side="right", off_mm=0)[1].questions == []


@pytest.mark.parametrize(
    ("points", "code"),
    [
        (np.zeros((5, 2)), "outline-short"),
        (np.full((30, 2), np.nan), "outline-short"),
        (np.random.default_rng(0).uniform(0, 5, (30, 2)), "outline-size"),
        (np.column_stack([np.linspace(0, 260, 40), np.zeros(40)]), "outline-shape"),
        (np.column_stack([np.linspace(0, 2600, 40), np.linspace(0, 90, 40) ** 1.2]), "outline-size"),
    ],
)
def test_what_is_no_outline_is_refused(points: np.ndarray, code: str) -> None:
    with pytest.raises(BadInput) as caught:
        measure_outline(points)
    assert caught.value.code == code


def test_the_balls_line_by_hand() -> None:
    ball = Ball(x1=190, y1=42, x5=164, y5=-55)
    assert ball.width_mm == pytest.approx(np.hypot(26, 97))
    assert ball.angle_deg == pytest.approx(np.degrees(np.arctan2(26, 97)))
    straight = first_toe_angle_deg(ball, 42.0, 33.0, 246.0, 42 + 56 * (42 - 33) / (190 - 42))
    assert straight == pytest.approx(0, abs=1e-9)
    assert first_toe_angle_deg(ball, 42.0, 33.0, 246.0, 30.0) > 10


@given(votes=st.lists(st.tuples(st.floats(0.1, 5), st.floats(-1, 1)), min_size=1, max_size=6))
def test_the_side_goes_with_the_weight_of_the_signs(votes: list[tuple[float, float]]) -> None:
    found, other = side_by(votes), side_by([(w, -v) for w, v in votes])
    assert 0.5 <= found.agree <= 1.0
    assert found.agree == pytest.approx(other.agree)
    if sum(w * np.clip(4 * v, -1, 1) for w, v in votes) > 1e-9:
        assert (found.side, other.side) == ("right", "left")
