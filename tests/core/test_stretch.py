"""Stretch: what the trade says about leather and synthetic must come out of the numbers."""

from __future__ import annotations

import itertools

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from kalon.core.fit.stretch import (
    BUILDS,
    TABLE,
    UPPERS,
    Build,
    StretchIn,
    Upper,
    capacity_mm,
    give_of,
    settled_stretch,
    stretch,
)

ZONES = ("length", "ball_girth", "instep_girth", "heel_width", "toe_box")
EVERY = list(itertools.product(UPPERS, BUILDS))


def settled(upper: Upper, build: Build, zone: str = "length", interference: float = 10, **more: float) -> float:
    return stretch(
        StretchIn(upper=upper, build=build, zone=zone, interference_mm=interference, inner_mm=240, **more)  # type: ignore[arg-type]
    ).settled_mm


@pytest.mark.parametrize(("upper", "build"), EVERY)
def test_every_construction_has_a_row(upper: Upper, build: Build) -> None:
    give = give_of(upper, build)
    assert give.length_mm > 0
    assert give.girth_pct > 0
    assert give.tau_h > 0
    assert give.mark in ("CP", "PUB", "MEM", "HD")
    assert give.anchor


@pytest.mark.parametrize(("upper", "build"), EVERY)
@pytest.mark.parametrize("zone", ZONES)
@given(interference=st.floats(-60, 60), inner=st.floats(50, 400))
def test_never_more_than_pressed_nor_than_it_can(
    upper: Upper, build: Build, zone: str, interference: float, inner: float
) -> None:
    found = stretch(StretchIn(upper=upper, build=build, zone=zone, interference_mm=interference, inner_mm=inner))  # type: ignore[arg-type]
    assert 0 <= found.settled_mm <= max(interference, 0) + 1e-9
    assert found.settled_mm <= found.capacity_mm + 1e-9
    values = [p.stretch_mm for p in found.curve]
    assert values == sorted(values)
    assert all(v <= found.settled_mm + 1e-9 for v in values)


@given(a=st.floats(0, 50), more=st.floats(0, 10))
def test_tighter_gives_more(a: float, more: float) -> None:
    assert settled("suede", "slip", interference=a + more) >= settled("suede", "slip", interference=a) - 1e-12


def test_loose_does_not_stretch() -> None:
    assert settled("leather_unlined", "slip", interference=-3) == 0


def test_t80_is_when_four_fifths_are_done() -> None:
    given_ = StretchIn(upper="knit", build="slip", zone="length", interference_mm=3, inner_mm=240)
    t80 = stretch(given_).t80_h
    at = stretch(given_.model_copy(update={"hours": [t80]}))
    assert at.curve[0].stretch_mm == pytest.approx(0.8 * at.settled_mm)


@pytest.mark.parametrize("zone", ZONES)
def test_unlined_leather_gives_more_than_lined_and_than_synthetic(zone: str) -> None:
    for build in BUILDS:
        unlined, lined, synthetic = (
            settled(u, build, zone)
            for u in ("leather_unlined", "leather_lined", "synthetic")  # type: ignore[arg-type]
        )
        assert unlined > lined > synthetic


@pytest.mark.parametrize("upper", UPPERS)
def test_a_plate_holds_length(upper: Upper) -> None:
    assert settled(upper, "plate") < settled(upper, "slip")
    assert settled(upper, "board") == settled(upper, "plate")


@pytest.mark.parametrize(("upper", "build"), EVERY)
def test_reinforcement_only_takes_away(upper: Upper, build: Build) -> None:
    shares = [settled(upper, build, "ball_girth", reinforced=r) for r in (0, 0.3, 0.7, 1)]
    assert shares == sorted(shares, reverse=True)
    assert shares[-1] == 0


def test_arrays_and_single_values_agree() -> None:
    interference = np.linspace(-5, 20, 26)
    capacity = np.full(26, capacity_mm("leather_lined", "slip", "ball_girth", 240))
    many = settled_stretch(interference, capacity)
    for i, value in zip(interference, many, strict=True):
        assert settled("leather_lined", "slip", "ball_girth", float(i)) == pytest.approx(value)


def test_no_capacity_no_stretch() -> None:
    assert settled_stretch(np.array([5.0]), np.array([0.0]))[0] == 0


def test_the_trade_anchors() -> None:
    """Common practice, no source: synthetic climbing shoes half a size at most, leather nearly a full size;
    football leather about a quarter size in length, mostly width; a plate shoe 1–2 mm of length at most."""
    half, full, quarter = 4.233, 8.467, 2.117
    assert TABLE["synthetic", "slip"].length_mm <= half
    assert 0.85 * full <= TABLE["leather_unlined", "slip"].length_mm <= 1.05 * full
    assert TABLE["leather_unlined", "plate"].length_mm == pytest.approx(quarter, abs=0.1)
    assert TABLE["synthetic", "plate"].length_mm <= 2
    assert TABLE["leather_unlined", "plate"].girth_pct * 2.4 > TABLE["leather_unlined", "plate"].length_mm


def test_a_heel_gives_half_as_much_as_a_ball_of_the_same_measure() -> None:
    """House default: a counter stands behind it."""
    heel, ball = (capacity_mm("synthetic", "slip", zone, 240) for zone in ("heel_width", "ball_girth"))
    assert heel == pytest.approx(ball / 2)
