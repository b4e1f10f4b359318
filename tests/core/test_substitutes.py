"""Shoes of other sports: only with a sole for the ground, no need hurt, enough known; what they give up is said."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from kalon.core.fit.foot import foot_to_fit
from kalon.core.match.shelf import Shelf, Shoe
from kalon.core.match.substitutes import as_for, substitutes
from tests.made import FEET, court, football, spec

FOOT = foot_to_fit(FEET)
HALL = spec(football(surface="indoor_hall"))
COURT = Shoe(
    "court", "court", "synthetic", "board", 0.0,
    {name: (band.low + band.high) / 2 for name, band in HALL.properties.items()},
    {"sole": "gum_court", "closure": "laces", "upper": "synthetic"}, features={"non_marking": True},
)  # fmt: skip


def found(shoe: Shoe, wanted: object = HALL) -> list[str]:
    lines = Shelf(np.zeros(1, dtype=int), np.array([42.0]), np.array([[277, 249.3, 253.5, 66.1]]), ["line"])
    return [p.shoe_id for p in substitutes([shoe], lines, wanted, FOOT, 0.6)]  # type: ignore[arg-type]


def test_a_court_shoe_serves_a_hall_by_the_same_sole_under_another_word() -> None:
    assert as_for(COURT, "football").choices["plate"] == "indoor"
    assert as_for(replace(COURT, choices={"plate": "turf"}), "field").choices["sole"] == "pimpled"
    assert found(COURT) == ["court"]


@pytest.mark.parametrize(
    "less",
    [
        replace(COURT, choices=COURT.choices | {"sole": "lug"}),  # another ground's sole
        replace(COURT, choices=COURT.choices | {"sole": "pimpled"}),  # serves a hall by less than half
        replace(COURT, choices={"closure": "laces", "upper": "synthetic"}),  # nobody knows its sole
        replace(COURT, properties={}, features={}),  # too little is known
        replace(COURT, properties=dict.fromkeys(COURT.properties, 9999.0)),  # nothing as wanted
    ],
)
def test_what_would_hurt_or_is_not_known_does_not_serve(less: Shoe) -> None:
    assert found(less) == []


def test_the_same_shoe_too_short_does_not_serve() -> None:
    lines = Shelf(np.zeros(1, dtype=int), np.array([37.0]), np.array([[247, 222, 226, 59]]), ["line"])
    assert substitutes([COURT], lines, HALL, FOOT, 0.6) == []


def test_a_football_hall_shoe_serves_a_court() -> None:
    wanted = spec(court())
    shoe = replace(
        COURT, id="hall", sport="football", choices={"plate": "indoor", "closure": "laces", "upper": "synthetic"},
        properties={name: (band.low + band.high) / 2 for name, band in wanted.properties.items()},
    )  # fmt: skip
    best = wanted.choices["sole"][0].value
    assert found(shoe, wanted) == (["hall"] if best == "gum_court" else [])
