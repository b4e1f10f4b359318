"""What isn't measured: taken from the surest there is, as unsure as it is, and which one would help most."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from kalon.core.errors import BadInput
from kalon.core.feet.gauge import SIZING, Feet, GaugeFoot
from kalon.core.feet.usual import OF_LENGTH, can_size, estimates, filled, guessed_note, still_needed
from kalon.core.fit.foot import MEASURES, foot_to_fit
from kalon.core.match.rank import rank
from kalon.core.match.shelf import Shelf, Shoe
from kalon.core.match.surer import surer
from tests.made import FEET, foot, football, spec

GAUGE = {"length_mm": 265.0, "ball_width_mm": 103.0}


def gauged(left: dict[str, Any] | None = None, right: dict[str, Any] | None = None) -> Feet:
    """Feet of which a foot gauge told length and ball width, and a tape whatever is added."""
    return Feet(left=GaugeFoot(**(GAUGE | (left or {}))), right=GaugeFoot(**(GAUGE | (right or {}))))


def test_length_and_ball_width_go_on() -> None:
    feet = gauged()
    assert can_size(feet)
    fitted = foot_to_fit(feet)
    assert np.isfinite(fitted.sides["left"]).all()
    assert any("Not measured" in note and "ball girth" in note for note in fitted.notes)


def test_what_nothing_stands_in_for_is_named() -> None:
    assert still_needed(Feet()) == ["left.length_mm", "left.ball_width_mm", "right.length_mm", "right.ball_width_mm"]
    girth_only = Feet(left=GaugeFoot(length_mm=265, ball_girth_mm=249), right=GaugeFoot(length_mm=265))
    assert still_needed(girth_only) == ["right.ball_width_mm"]
    with pytest.raises(BadInput) as caught:
        filled(girth_only)
    assert caught.value.code == "feet-incomplete"


def test_a_measured_number_is_never_touched_and_nothing_is_said() -> None:
    assert filled(FEET) == FEET
    assert guessed_note(estimates(FEET)) == ""


def test_the_surest_source_counts() -> None:
    lone = estimates(gauged())["left"]
    assert lone["ball_girth_mm"].taken_from == "ball_width"
    beside = estimates(gauged(right={"ball_girth_mm": 255.0}))["left"]["ball_girth_mm"]
    assert (beside.taken_from, beside.mm) == ("other_foot", 255.0)
    taped = estimates(gauged(left={"ball_girth_mm": 249.0}))["left"]["instep_girth_mm"]
    assert taped.taken_from == "ball_girth"


@given(st.sampled_from(SIZING[2:]), st.floats(0, 1))
def test_knowing_more_never_makes_an_estimate_less_sure(name: str, at: float) -> None:
    value = getattr(foot(), name) * (0.95 + 0.1 * at)
    less, more = estimates(gauged()), estimates(gauged(left={name: value}))
    for other, was in less["left"].items():
        if other in more["left"]:
            assert more["left"][other].sigma_mm <= was.sigma_mm + 1e-9
    assert name not in more["left"]


def test_the_shop_s_own_norms_move_the_estimate() -> None:
    only = Feet(left=GaugeFoot(length_mm=265), right=GaugeFoot(length_mm=265))
    usual, fuller = estimates(only), estimates(only, {"ball_girth_mm": (0.97, 0.04)})
    assert fuller["left"]["ball_girth_mm"].mm == pytest.approx(0.97 * 265, abs=0.1)
    assert usual["left"]["ball_girth_mm"].mm < fuller["left"]["ball_girth_mm"].mm


def test_stated_spreads_hold_the_feet_they_are_of() -> None:
    """Feet drawn with the norms' own spreads lie within two of them 95 times in 100."""
    rng = np.random.default_rng(3)
    mean, spread = OF_LENGTH["heel_width_mm"]
    inside = 0
    for share in rng.normal(mean, spread, 400):
        one = estimates(Feet(left=GaugeFoot(length_mm=265), right=GaugeFoot(length_mm=265)))["left"]["heel_width_mm"]
        inside += abs(share * 265 - one.mm) <= 2 * one.sigma_mm
    assert 0.92 <= inside / 400 <= 0.99


def test_a_foot_less_measured_is_less_sure_and_promises_no_more() -> None:
    whole, part = foot_to_fit(FEET), foot_to_fit(gauged())
    unmeasured = [MEASURES.index(m) for m in MEASURES if m not in GAUGE]
    assert (part.sigma[unmeasured] > whole.sigma[unmeasured]).all()


SHOE = Shoe("a", "football", "synthetic", "plate", 0.0, {}, {"plate": "firm_ground_round", "upper": "synthetic"})
WANTED = spec(football())


def shelf_of(ball: list[float]) -> Shelf:
    """Pairs that differ at the ball, and all fit else."""
    rows = [[277.0, b, 255.0, 66.5] for b in ball]
    return Shelf(np.arange(len(ball)), np.full(len(ball), 42.0), np.array(rows), [str(i) for i in range(len(ball))])


def test_the_measurement_that_helps_most_is_named() -> None:
    shoes = [Shoe(f"s{i}", *[getattr(SHOE, n) for n in ("sport", "upper", "build", "reinforced", "properties",
                                                        "choices")]) for i in range(7)]  # fmt: skip
    feet = gauged(
        left={"instep_girth_mm": 254.0, "heel_width_mm": 66.0}, right={"instep_girth_mm": 254.0, "heel_width_mm": 66.0}
    )
    shelf = shelf_of([228.0, 236.0, 244.0, 250.0, 256.0, 264.0, 272.0])
    found = surer(shoes, shelf, WANTED, foot_to_fit(feet), feet)
    assert found is not None
    assert found.measure == "ball_girth_mm"
    assert found.then > found.now
    assert found.text.startswith("Measure the ball girth")


def test_nothing_more_is_asked_where_all_is_measured_or_nothing_would_change() -> None:
    assert surer([SHOE], shelf_of([249.0]), WANTED, foot_to_fit(FEET), FEET) is None
    feet = gauged()
    assert surer([], Shelf(np.array([], dtype=np.intp), np.array([]), np.empty((0, 4))), WANTED, foot_to_fit(feet),
                 feet) is None  # fmt: skip
    hopeless = surer([SHOE], shelf_of([180.0]), WANTED, foot_to_fit(feet), feet)
    assert hopeless is None


def test_a_measured_foot_keeps_its_place_in_the_ranking() -> None:
    shelf = shelf_of([249.0])
    sure = rank([SHOE], shelf, WANTED, foot_to_fit(FEET)).places[0]
    unsure = rank([SHOE], shelf, WANTED, foot_to_fit(gauged())).places[0]
    assert sure.fit > unsure.fit
