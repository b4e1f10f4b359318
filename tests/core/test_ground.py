"""Studs, pedals and sideways: the trade's orderings, balance, and what bad input says."""

from __future__ import annotations

import math
from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from kalon.core.errors import BadInput, read
from kalon.core.mechanics.pedal import PedalIn, loss_w, peak_force_n, pedal, sole_for_loss
from kalon.core.mechanics.plates import LAYOUTS, plate, plate_grip
from kalon.core.mechanics.sideways import (
    FORCE_REDUCTION_PCT,
    SidewaysIn,
    cushion_wanted,
    flare_word,
    floor_word,
    sideways,
)
from kalon.core.mechanics.studs import GROUNDS, Plate, Stud, StudsIn, stand, studs
from tests.outside.test_published import ring

LOAD = 1480.0
"""A 75 kg player running, on one foot."""
GRASS = ["soft_natural", "firm_natural", "artificial_grass"]


def grip(name: str, surface: Any, wet: bool = False) -> Any:
    return plate_grip(name, 265.0, surface, wet, LOAD)


def test_long_studs_grip_best_on_soft_ground() -> None:
    found = {n: grip(n, "soft_natural").forward for n in LAYOUTS}
    assert max(found, key=lambda n: found[n]) == "soft_ground"


@pytest.mark.parametrize("surface", GRASS)
def test_blades_twist_harder_than_round_studs(surface: str) -> None:
    assert grip("firm_ground_blade", surface).torque_n_m > grip("firm_ground_round", surface).torque_n_m


def test_nubs_press_least_on_hard_ground_and_grip_best_on_carpet() -> None:
    studded = [n for n in LAYOUTS if n != "indoor"]
    press = {n: grip(n, "hard_natural").worst_kpa for n in studded}
    assert min(press, key=lambda n: press[n]) == "turf"
    hold = {n: grip(n, "carpet_turf").forward for n in LAYOUTS}
    assert max(hold, key=lambda n: hold[n]) == "turf"


def test_long_studs_press_most_on_hard_ground() -> None:
    press = {n: grip(n, "hard_natural").worst_kpa for n in LAYOUTS}
    assert max(press, key=lambda n: press[n]) == "soft_ground"


@pytest.mark.parametrize("name", list(LAYOUTS))
@pytest.mark.parametrize("surface", list(GROUNDS))
def test_wet_ground_holds_less(name: str, surface: Any) -> None:
    assert grip(name, surface, True).forward < grip(name, surface).forward


@pytest.mark.parametrize("surface", list(GROUNDS))
@given(
    load=st.floats(20, 4000),
    cop=st.tuples(st.floats(60, 180), st.floats(-15, 15)),
    name=st.sampled_from(sorted(LAYOUTS)),
)
@settings(max_examples=25, deadline=None)
def test_forces_and_moments_balance(surface: Any, load: float, cop: tuple[float, float], name: str) -> None:
    on = Plate.of(plate(name, 265.0))
    rest = stand(on, GROUNDS[surface], load, cop)
    force = rest.stud_n + rest.sole_n
    assert force.sum() == pytest.approx(load, rel=1e-5)
    assert (force * (on.x - cop[0])).sum() == pytest.approx(0, abs=1e-3 * load)
    assert (force * (on.y - cop[1])).sum() == pytest.approx(0, abs=1e-3 * load)
    assert (rest.stud_n >= 0).all()


@given(load=st.floats(50, 2000), more=st.floats(1, 1000))
@settings(max_examples=25, deadline=None)
def test_more_load_sinks_deeper(load: float, more: float) -> None:
    on = Plate.of(ring())
    light, heavy = (stand(on, GROUNDS["firm_natural"], f, (0.0, 0.0)) for f in (load, load + more))
    assert heavy.depth.mean() > light.depth.mean()


def test_a_blade_shows_its_length_across_and_its_width_along() -> None:
    blade = Plate.of([Stud(shape="blade", x_mm=0, y_mm=0, height_mm=11, length_mm=24, width_mm=6)])
    assert blade.across(0.0)[0] == pytest.approx(6)
    assert blade.across(math.pi / 2)[0] == pytest.approx(24)
    turned = Plate.of([Stud(shape="blade", x_mm=0, y_mm=0, height_mm=11, length_mm=24, width_mm=6, angle_deg=90)])
    assert turned.across(0.0)[0] == pytest.approx(24)
    peg = Plate.of([Stud(shape="conical", x_mm=0, y_mm=0, height_mm=11, diameter_mm=9, angle_deg=30)])
    assert peg.across(np.array([1.2]))[0] == 9


def test_the_call_tells_every_stud_and_every_ground() -> None:
    found = studs(StudsIn(studs=list(ring()), surface="hard_natural", wet=True, load_n=700))
    assert len(found.per_stud) == 6
    assert sum(s.load_n for s in found.per_stud) == pytest.approx(700 * found.stud_share)
    assert found.traction.forward == found.traction.back
    here = next(s for s in found.sweep if s.surface == "hard_natural" and s.wet)
    assert here.torque_n_m == pytest.approx(found.torque_n_m)
    assert len(found.sweep) == 2 * len(GROUNDS)


@pytest.mark.parametrize(
    ("values", "said"),
    [
        ({"cop_mm": [400, 0]}, "tip over"),
        ({"studs": []}, "at least 1"),
        ({"surface": "moon"}, "soft_natural"),
        ({"load_n": 0}, "more than 0 N"),
        ({"studs": [{"shape": "blade", "x_mm": 0, "y_mm": 0, "height_mm": 9}]}, "length_mm"),
        ({"studs": [{"shape": "conical", "x_mm": 0, "y_mm": 0, "height_mm": 9}]}, "diameter_mm"),
        ({"studs": [{"shape": "conical", "x_mm": 0, "y_mm": 0, "height_mm": 9, "diameter_mm": 9}]}, "tip over"),
    ],
)
def test_a_plate_that_cannot_stand_is_named(values: dict[str, Any], said: str) -> None:
    body = {"studs": [s.model_dump(exclude_none=True) for s in ring()], "surface": "firm_natural", "load_n": 700}
    with pytest.raises(BadInput) as caught:
        studs(read(StudsIn, body | values))
    assert said in caught.value.text or any(said in f.text for f in caught.value.fields)


# Pedal


@given(k=st.floats(200, 6000), more=st.floats(10, 3000), watts=st.floats(50, 1500))
def test_stiffer_soles_lose_less(k: float, more: float, watts: float) -> None:
    force = peak_force_n(watts, 90, 172.5)
    assert loss_w(force, 15, k + more, 90) < loss_w(force, 15, k, 90)
    assert sole_for_loss(force, 15, loss_w(force, 15, k, 90), 90) == pytest.approx(k)


def test_cleat_saddle_and_dial() -> None:
    found = pedal(PedalIn(power_w=250, cadence_rpm=90, sole_n_mm_per_deg=1500, foot_mm=270, stack_change_mm=-3,
                          girth_change_mm=4))  # fmt: skip
    assert found.cleat_from_heel_mm == pytest.approx(0.67 * 270)
    assert (found.saddle_change_mm, found.dial_clicks) == (-3, 4)
    measured = pedal(PedalIn(power_w=250, cadence_rpm=90, sole_n_mm_per_deg=1500, foot_mm=270, heel_to_ball_mm=200))
    assert measured.cleat_from_heel_mm == pytest.approx((200 + 0.62 * 270) / 2)
    assert pedal(PedalIn(power_w=250, cadence_rpm=90, sole_n_mm_per_deg=1500)).cleat_from_heel_mm is None
    assert [s.loss_w for s in found.sweep] == sorted((s.loss_w for s in found.sweep), reverse=True)


# Sideways

SHOE: dict[str, Any] = {
    "heel_sole_mm": 78, "heel_upper_mm": 73, "fore_sole_mm": 108, "fore_upper_mm": 104, "stack_mm": 22,
}  # fmt: skip


def test_half_width_over_height() -> None:
    found = sideways(SidewaysIn(**SHOE))
    assert found.tipping_index_heel == pytest.approx(39 / 97)
    assert found.tips_at_deg == pytest.approx(math.degrees(math.atan(39 / 97)))
    assert found.flare_heel == pytest.approx(78 / 73)
    assert found.word == "steady"


@given(stack=st.floats(5, 40), more=st.floats(1, 20))
def test_a_taller_stack_tips_sooner(stack: float, more: float) -> None:
    low, high = (sideways(SidewaysIn(**SHOE | {"stack_mm": s})).tips_at_deg for s in (stack, stack + more))
    assert high < low


@pytest.mark.parametrize(
    ("flare", "word"), [(0.97, "rolls"), (1.0, "steady"), (1.12, "steady"), (1.17, "wide"), (1.25, "catches")]
)
def test_flare_words(flare: float, word: str) -> None:
    assert flare_word(flare, 1.0, 1.12, 1.2) == word


@given(kg=st.floats(30, 130), more=st.floats(1, 40))
def test_cushion_goes_with_body_and_floor(kg: float, more: float) -> None:
    hardest = sorted(FORCE_REDUCTION_PCT, key=lambda f: FORCE_REDUCTION_PCT[f])
    wanted = [cushion_wanted(kg, f, None) for f in hardest]
    assert wanted == sorted(wanted, reverse=True)
    assert cushion_wanted(kg + more, "concrete", None) >= cushion_wanted(kg, "concrete", None)
    assert cushion_wanted(kg, "concrete", "high") >= cushion_wanted(kg, "concrete", "low")


def test_floors_have_words() -> None:
    assert (floor_word("concrete"), floor_word("sprung_wood")) == ("hard floor", "springy floor")


def test_lunging_rounds_the_heel() -> None:
    found = [sideways(SidewaysIn(**SHOE, lunging=n)).heel_round_mm for n in ("seldom", "often", "most")]
    assert found == sorted(set(found))
