"""Size systems: exact both ways, and only what is sold is named."""

from __future__ import annotations

import re
from dataclasses import replace
from pathlib import Path
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from kalon.core import sizes, systems
from kalon.core.errors import BadInput, read
from kalon.core.sheets import labels
from kalon.core.shoes import inner
from kalon.core.sizes import (
    SizeConvertIn,
    foot_by_label,
    label_of,
    last_of,
    nearest_sold,
    size_convert,
)
from kalon.core.systems import SIZE_SYSTEMS, SYSTEMS, SizeSystem, System
from kalon.core.units import HALF_UK_MM, inch_to_mm, mm_to_inch, signed


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
    of = SIZE_SYSTEMS[system]
    for tenth in range(int(of.low * 10), int(of.high * 10)):
        near = nearest_sold(system, tenth / 10)
        assert near is not None
        assert near % of.step == 0
        assert abs(near - tenth / 10) <= of.step / 2 + 1e-9


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


ROOT = Path(__file__).parents[2]


@pytest.mark.parametrize("system", [s for s in SYSTEMS if s not in ("eu", "uk")])
def test_a_size_system_is_named_in_one_file(system: System) -> None:
    """But the two the shelf and the tax begin with, the demo, steps of the database and what is written from the core."""
    named = [
        str(path.relative_to(ROOT))
        for where in ("src/kalon", "web/src")
        for path in (ROOT / where).rglob("*.*")
        if path.suffix in (".py", ".ts", ".tsx") and "demo" not in path.parts and path.name != "schema.d.ts"
        and re.search(rf'["\']{system}["\']', path.read_text(encoding="utf-8"))
    ]  # fmt: skip
    assert named == ["src/kalon/core/systems.py"]


def test_a_system_more_is_read_in_lists_over_blocks_and_under_the_hand(monkeypatch: pytest.MonkeyPatch) -> None:
    """An entry alone: its own cells, columns and letters. It is one nobody has, ten to the inch."""
    entries = dict(SIZE_SYSTEMS)
    ours: Any = "tenths"
    entries[ours] = SizeSystem("Tenths", 2.54, 0, 1, 60, 130, land=("tenths",), words=("tenths", "10ths"),
                               headings=("tenths",), middle_letter="C")  # fmt: skip
    for module in (systems, sizes):
        monkeypatch.setattr(module, "SIZE_SYSTEMS", entries)
    monkeypatch.setattr(inner, "SIZE_SYSTEMS", entries)
    assert sizes.last_of(ours, 100) == pytest.approx(254.0)
    assert sizes.label_words(ours, 100) == "Tenths 100"
    assert inner.width_step_mm("D", ours) == pytest.approx(inner.LETTER_MM)
    with pytest.raises(ValueError, match="tenths"):
        systems.check_systems()
    monkeypatch.setattr(systems, "SYSTEMS", (*SYSTEMS, ours))
    systems.check_systems()
    entries["uk"] = replace(entries["uk"], words=("uk", "tenths"))
    with pytest.raises(ValueError, match="called alike"):
        systems.check_systems()


# From memory: what each land's boxes of one last of 280 mm say, and ISO 9407's own definition of Mondopoint.
@pytest.mark.parametrize(
    ("system", "label"),
    [("eu", 42), ("uk", 8.071), ("us_men", 9.071), ("us_women", 10.571), ("uk_child", 21.071), ("us_child", 22.071),
     ("jp_cm", 26.5), ("mondopoint_mm", 265)],
)  # fmt: skip
def test_one_last_in_every_system(system: System, label: float) -> None:
    assert label_of(system, 280.0) == pytest.approx(label, abs=5e-4)


def test_a_bare_number_is_of_a_system_only_where_it_can_be_no_other() -> None:
    assert {n: labels.by_value(n) for n in (15, 16, 20, 21, 33, 33.5, 42, 52, 60, 99, 100, 340, 341)} == {
        15: None, 16: "eu", 20: None, 21: None, 33: None, 33.5: "eu", 42: "eu", 52: "eu", 60: None, 99: None,
        100: "mondopoint_mm", 340: "mondopoint_mm", 341: None,
    }  # fmt: skip


@given(mm=st.floats(-400, 400), decimals=st.integers(0, 2))
def test_a_number_with_its_sign_is_the_number_and_nothing_has_none(mm: float, decimals: int) -> None:
    said = signed(mm, decimals)
    assert float(said.replace("−", "-")) == pytest.approx(round(mm, decimals))
    assert (said[0] in "+−") == (round(mm, decimals) != 0)
    assert (signed(-0.04), signed(0.05), signed(-1.25, 0)) == ("0.0", "+0.1", "−1")
