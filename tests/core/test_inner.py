"""The inside of a size: the label's own spread, surer with every reading, and never surer than it is."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import ValidationError

from kalon.core.calc import call
from kalon.core.errors import AtField, BadInput
from kalon.core.fit.foot import FIT_ZONES
from kalon.core.sheets import labels
from kalon.core.shoes.inner import (
    LETTERS,
    SHARES,
    SPREADS,
    InnerIn,
    Offset,
    ShoeReading,
    by_label,
    inner,
    width_step_mm,
)


def size(**values: Any) -> InnerIn:
    return InnerIn.model_validate({"sport": "football", "build": "plate", "label": 42} | values)


def test_a_label_alone_says_a_length_and_how_unsure_it_is() -> None:
    found = inner(size())
    assert found.length.mm == pytest.approx(280.0)  # EU 42 is a last of 280 mm
    assert found.length.sigma_mm == pytest.approx((2.5**2 + 1.5**2 + 0.8**2) ** 0.5, abs=1e-3)
    assert found.ball_girth.mm == pytest.approx(280 * SHARES["football"][0], abs=0.01)
    assert found.length.known_from == ["label"]


def test_one_last_in_every_system_is_one_inside() -> None:
    eu, uk = inner(size()), inner(size(system="uk", label=8.0709))
    assert uk.length.mm == pytest.approx(eu.length.mm, abs=0.02)
    child = inner(size(system="uk_child", label=10))
    assert child.length.mm == pytest.approx((10 + 12) / 3 * 25.4, abs=0.01)


# A barleycorn is a third of an inch; a US woman's size lies so many whole sizes over the man's, which lies one over UK's.
@pytest.mark.parametrize(("ahead", "uk"), [(None, 5.5), (1.0, 6.0), (1.5, 5.5), (2.0, 5.0)])
def test_a_makers_own_step_of_womens_sizes(ahead: float | None, uk: float) -> None:
    found = inner(size(system="us_women", label=8, runs_ahead=ahead))
    assert found.length.mm == pytest.approx((uk + 25) / 3 * 25.4, abs=0.01)
    read = labels.size("8", "us_women", ahead)
    assert read.eu_label == labels.size(f"{uk:g}", "uk").eu_label
    assert read.runs_ahead == (None if ahead == 1.5 else ahead)
    assert labels.size("8", "us_men", ahead) == labels.size("8", "us_men")
    with pytest.raises(ValidationError):
        size(system="us_women", label=8, runs_ahead=4)


def test_letters_are_three_sixteenths_of_an_inch_and_rise() -> None:
    steps = [width_step_mm(letter) for letter in LETTERS]
    assert np.diff(steps) == pytest.approx(4.76)  # from memory
    assert width_step_mm("D") == 0
    assert width_step_mm("B", "us_women") == 0
    assert width_step_mm("EE") == width_step_mm("2e")
    assert width_step_mm("AAA") == width_step_mm("3A")


def test_a_width_nobody_prints_and_a_label_no_shoe_has_are_named() -> None:
    with pytest.raises(AtField, match="No width is called"):
        width_step_mm("roomy")
    with pytest.raises(ValidationError, match="No shoe is"):
        size(label=4)


def test_readings_make_the_closed_form_posterior() -> None:
    reading = ShoeReading(zone="length", mm=276.0, source="stick")
    found = inner(size(readings=[reading])).length
    prior = SPREADS.whole(0)
    weight = (1 / 1.0**2) / (1 / 1.0**2 + 1 / prior**2)
    assert found.mm == pytest.approx(280 + weight * (276 - 280), abs=0.01)
    assert found.sigma_mm == pytest.approx((1 / (1 + 1 / prior**2)) ** 0.5, abs=1e-3)
    assert found.known_from == ["stick", "label"]


@given(st.lists(st.tuples(st.sampled_from(FIT_ZONES), st.floats(-4, 4), st.floats(0.5, 6)), max_size=8))
def test_order_does_not_matter_and_more_is_never_less_sure(read: list[tuple[str, float, float]]) -> None:
    base = dict(zip(FIT_ZONES, by_label(size()), strict=True))
    readings = [{"zone": z, "mm": base[z] + off, "sigma_mm": sd} for z, off, sd in read]
    forth, back = inner(size(readings=readings)), inner(size(readings=readings[::-1]))
    fewer = inner(size(readings=readings[:-1]))
    for zone in FIT_ZONES:
        a, b, less = (getattr(f, zone) for f in (forth, back, fewer))
        assert a.mm == pytest.approx(b.mm, abs=0.011)
        assert a.sigma_mm <= less.sigma_mm + 1e-9


def test_a_stick_says_nothing_of_girth_and_what_was_learned_stands_for_the_label() -> None:
    stick = inner(size(readings=[ShoeReading(zone="ball_girth", mm=260, source="stick")]))
    assert stick.ball_girth == inner(size()).ball_girth
    learned = inner(size(learned={"length": Offset(mean_mm=-2.0, sd_mm=0.9)}))
    assert (learned.length.mm, learned.length.sigma_mm) == (278.0, 0.9)
    assert learned.length.known_from == ["learned"]


def test_readings_that_disagree_are_said() -> None:
    readings = [{"zone": "length", "mm": 276, "source": "stick"}, {"zone": "length", "mm": 284, "source": "sheet"}]
    assert "stick says 276 mm, sheet 284 mm" in inner(size(readings=readings)).conflicts[0]
    near = [{"zone": "length", "mm": 279, "source": "stick"}, {"zone": "length", "mm": 281, "source": "sheet"}]
    assert inner(size(readings=near)).conflicts == []


def test_stated_spreads_hold_shoes_made_with_them() -> None:
    """Shoes of made-up makers and models lie within 1.96 stated spreads 95 times in 100."""
    rng = np.random.default_rng(5)
    inside = 0
    for _ in range(600):
        true = 280 + rng.normal(0, SPREADS.maker[0]) + rng.normal(0, SPREADS.model[0]) + rng.normal(0, SPREADS.size[0])
        stick = ShoeReading(zone="length", mm=true + rng.normal(0, 1.0), source="stick")
        found = inner(size(readings=[stick] if rng.random() < 0.5 else [])).length
        inside += abs(found.mm - true) <= 1.96 * found.sigma_mm
    assert 0.92 <= inside / 600 <= 0.98


def test_it_is_called_by_name_and_refuses_in_words() -> None:
    found = call("inner", {"sport": "court", "system": "eu", "label": 40})
    assert found["length"]["mm"] == pytest.approx(40 * 20 / 3, abs=0.01)
    with pytest.raises(BadInput, match="No width is called"):
        call("inner", {"sport": "court", "label": 40, "width": "roomy"})
