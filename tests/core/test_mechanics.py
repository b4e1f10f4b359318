"""The squat and the edge: the trade's directions, and the physics they stand on."""

from __future__ import annotations

import math
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from kalon.core.errors import BadInput
from kalon.core.mechanics.edge import (
    EdgeIn,
    edge,
    endurance_min,
    smear_limit,
    stiffness_class,
    sustainable_fraction,
)
from kalon.core.mechanics.squat import (
    MASS,
    SOLD_DROPS_MM,
    WANTED_LEAN_DEG,
    SquatIn,
    smallest_heel,
    squat,
    trunk_lean_deg,
    wedge_deg,
)

LIFTER: dict[str, Any] = {"stature_mm": 1750, "body_kg": 75, "bar_kg": 80, "dorsiflexion_deg": 30}
CLIMBER: dict[str, Any] = {"body_kg": 70, "foot_mm": 260, "edge_mm": 10, "stance_min": 2}


def lean(**values: Any) -> float:
    found = trunk_lean_deg(SquatIn.model_validate(LIFTER | values), values.get("drop_mm", 0))
    assert found is not None
    return found


@given(a=st.floats(0, 20), more=st.floats(0.1, 15))
def test_a_higher_heel_raises_the_trunk(a: float, more: float) -> None:
    assert lean(drop_mm=a + more) < lean(drop_mm=a)


@given(a=st.floats(22, 40), more=st.floats(0.1, 8))
def test_a_freer_ankle_raises_the_trunk(a: float, more: float) -> None:
    assert lean(dorsiflexion_deg=a + more) < lean(dorsiflexion_deg=a)


def test_long_thighs_lean_further() -> None:
    assert lean(thigh_mm=470) > lean(thigh_mm=400)


def test_knees_out_shorten_the_thigh_seen_from_the_side() -> None:
    assert lean(abduction_deg=30) < lean()


def test_the_body_is_balanced_over_the_mid_foot() -> None:
    """With the joints of the answer, mass by mass."""
    found = squat(SquatIn.model_validate(LIFTER))
    _, _, ankle, knee, hip, shoulder, bar = found.joints
    foot = 0.152 * 1750
    middle = 0.25 * foot
    assert ankle == (0, 0)
    parts = [
        (75 * MASS["foot"], middle),
        (75 * MASS["shank"], 0.567 * knee[0]),
        (75 * MASS["thigh"], knee[0] + 0.567 * (hip[0] - knee[0])),
        (75 * MASS["trunk"], hip[0] + 0.626 * (shoulder[0] - hip[0])),
        (80, bar[0]),
    ]
    centre = sum(m * x for m, x in parts) / sum(m for m, _ in parts)
    assert centre == pytest.approx(middle, abs=1e-3)


def test_segments_keep_their_lengths() -> None:
    _, _, ankle, knee, hip, shoulder, _ = squat(SquatIn.model_validate(LIFTER)).joints
    assert math.dist(ankle, knee) == pytest.approx(0.246 * 1750)
    assert math.dist(knee, hip) == pytest.approx(0.245 * 1750)
    assert math.dist(hip, shoulder) == pytest.approx(0.288 * 1750)


def test_no_balance_is_said() -> None:
    stuck = SquatIn.model_validate(LIFTER | {"dorsiflexion_deg": 0, "bar_kg": 0, "thigh_mm": 600})
    found = squat(stuck)
    assert not found.feasible
    assert found.trunk_lean_deg is None


def test_the_sweep_holds_every_heel_sold() -> None:
    found = squat(SquatIn.model_validate(LIFTER))
    assert [s.drop_mm for s in found.sweep] == list(SOLD_DROPS_MM)
    assert found.sweep[0].trunk_lean_deg == pytest.approx(found.trunk_lean_deg)


def test_the_smallest_heel_reaches_the_wanted_lean_and_the_one_below_does_not() -> None:
    given_ = SquatIn.model_validate(LIFTER)
    heel, got = smallest_heel(given_)
    assert got is not None
    assert got <= WANTED_LEAN_DEG["high"]
    below = SOLD_DROPS_MM[SOLD_DROPS_MM.index(int(heel)) - 1]
    assert (trunk_lean_deg(given_, below) or 90) > WANTED_LEAN_DEG["high"]


def test_the_wedge_adds_no_range() -> None:
    assert wedge_deg(0, 266) == 0
    assert wedge_deg(20, 266) == pytest.approx(math.degrees(math.atan(20 / (0.57 * 266))))


def test_an_impossible_foot_is_refused() -> None:
    with pytest.raises(BadInput, match="third"):
        squat(SquatIn.model_validate(LIFTER | {"foot_mm": 900}))


def sole(**values: Any) -> float:
    return edge(EdgeIn.model_validate(CLIMBER | values)).sole_n_mm_per_deg


@given(kg=st.floats(35, 120), more=st.floats(0.1, 60))
def test_heavier_climbers_need_it_stiffer(kg: float, more: float) -> None:
    assert sole(body_kg=min(kg + more, 200)) >= sole(body_kg=kg)


@given(minutes=st.floats(0, 20), more=st.floats(0.1, 20))
def test_longer_stands_need_it_stiffer(minutes: float, more: float) -> None:
    assert sole(stance_min=minutes + more) >= sole(stance_min=minutes) - 1e-9


@given(mm=st.floats(3, 25), more=st.floats(0.1, 20))
def test_smaller_edges_need_it_stiffer(mm: float, more: float) -> None:
    assert sole(edge_mm=mm) >= sole(edge_mm=mm + more)


def test_stronger_toes_need_it_softer() -> None:
    assert sole(toe_strength="weak") > sole(toe_strength="average") > sole(toe_strength="strong")


def test_nothing_is_asked_of_the_sole_when_the_toes_hold_it() -> None:
    assert sole(edge_mm=60) == 0


@given(fraction=st.floats(0.16, 0.94))
def test_endurance_is_inverted(fraction: float) -> None:
    assert sustainable_fraction(endurance_min(fraction)) == pytest.approx(fraction, abs=1e-6)


def test_endurance_ends_are_held() -> None:
    assert sustainable_fraction(0) == 0.95
    assert sustainable_fraction(60) == 0.15


@pytest.mark.parametrize(
    ("value", "word"),
    [(0, "soft"), (149, "soft"), (150, "medium"), (299, "medium"), (300, "stiff"), (450, "very stiff")],
)
def test_stiffness_classes(value: float, word: str) -> None:
    assert stiffness_class(value) == word


def test_the_smear_limit_grows_with_the_body() -> None:
    assert smear_limit(70) == 120
    assert smear_limit(35) == 60
