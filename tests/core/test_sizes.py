"""Size systems: exact both ways, and only what is sold is named."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from kalon.core.errors import BadInput, read
from kalon.core.sizes import (
    SOLD,
    STEP,
    SYSTEMS,
    SizeConvertIn,
    System,
    foot_by_label,
    label_of,
    last_of,
    nearest_sold,
    size_convert,
)
from kalon.core.units import HALF_UK_MM, inch_to_mm, mm_to_inch


@pytest.mark.parametrize("system", SYSTEMS)
@given(last=st.floats(100, 400))
def test_label_and_last_are_inverse(system: System, last: float) -> None:
    assert last_of(system, label_of(system, last)) == pytest.approx(last)


@pytest.mark.parametrize("system", SYSTEMS)
@given(a=st.floats(100, 399), more=st.floats(0.1, 50))
def test_longer_last_has_larger_label(system: System, a: float, more: float) -> None:
    assert label_of(system, a + more) > label_of(system, a)


@given(mm=st.floats(0.1, 500))
def test_inches_round_trip(mm: float) -> None:
    assert inch_to_mm(mm_to_inch(mm)) == pytest.approx(mm)


def test_half_a_uk_size() -> None:
    assert pytest.approx(4.233, abs=1e-3) == HALF_UK_MM
    assert last_of("uk", 8.5) - last_of("uk", 8) == pytest.approx(HALF_UK_MM)


@pytest.mark.parametrize(
    ("system", "label", "last_mm"),
    [("uk", 8, 279.4), ("us_men", 9, 279.4), ("uk_child", 10, 186.27), ("us_women", 9.5, 270.93), ("eu", 42, 280.0)],
)
def test_lasts_by_hand(system: System, label: float, last_mm: float) -> None:
    """A UK size is (label + 25) / 3 inches, a child's (label + 12) / 3, a Paris point two thirds of a centimetre: common
    practice, no source. A US woman's is (label + 22.5) / 3 inches: from memory."""
    assert last_of(system, label) == pytest.approx(last_mm, abs=0.01)


def test_a_label_and_its_last_convert_alike() -> None:
    by_label = size_convert(SizeConvertIn(system="eu", label=42))
    by_last = size_convert(SizeConvertIn(last_mm=by_label.last_mm))
    assert by_label == by_last


def test_foot_systems_go_through_the_allowance() -> None:
    snug = size_convert(SizeConvertIn(last_mm=280, allowance_mm=10)).labels
    roomy = size_convert(SizeConvertIn(last_mm=280, allowance_mm=20)).labels
    assert snug["mondopoint_mm"] == 270
    assert roomy["mondopoint_mm"] == 260
    assert snug["eu"] == roomy["eu"]
    assert snug["jp_cm"] * 10 == pytest.approx(snug["mondopoint_mm"])


def test_no_child_size_is_named_for_an_adult() -> None:
    found = size_convert(SizeConvertIn(system="eu", label=42))
    assert "uk_child" not in found.nearest
    assert "uk_child" in found.labels
    assert size_convert(SizeConvertIn(system="uk_child", label=10)).nearest["uk_child"] == 10


@pytest.mark.parametrize("system", SYSTEMS)
def test_nearest_is_on_the_grid_and_near(system: System) -> None:
    low, high = SOLD[system]
    for tenth in range(int(low * 10), int(high * 10)):
        near = nearest_sold(system, tenth / 10)
        assert near is not None
        assert near % STEP[system] == 0
        assert abs(near - tenth / 10) <= STEP[system] / 2 + 1e-9


@pytest.mark.parametrize(
    ("given_", "field"),
    [
        ({}, "one way"),
        ({"system": "eu"}, "one way"),
        ({"system": "eu", "label": 42, "last_mm": 280}, "one way"),
        ({"last_mm": 20}, "last_mm"),
        ({"last_mm": 4000}, "last_mm"),
        ({"system": "eu", "label": 900}, "one way"),
        ({"system": "moon", "label": 4}, "system"),
        ({"last_mm": 280, "colour": "red"}, "colour"),
        ({"last_mm": float("nan")}, "last_mm"),
        ({"last_mm": "long"}, "last_mm"),
    ],
)
def test_impossible_input_is_refused_by_field(given_: dict[str, object], field: str) -> None:
    with pytest.raises(BadInput) as caught:
        read(SizeConvertIn, given_)
    if field != "one way":
        assert field in [f.field for f in caught.value.fields]
    assert caught.value.text.endswith(".")


@pytest.mark.parametrize("system", SYSTEMS)
@given(label=st.floats(1, 30))
def test_a_size_typed_as_a_foot_is_on_the_systems_line(system: System, label: float) -> None:
    per_size, at_zero = foot_by_label(system)
    assert at_zero + label * per_size == pytest.approx(last_of(system, label) - 15)  # house default: the allowance
