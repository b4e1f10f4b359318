"""Feet from visit to visit: how each side grows, by what was measured then."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date

from ..contract import SIDES, Side
from .combine import FeetFound
from .growth import GrowthIn, GrowthOut, Visit, growth
from .measures import TWO_SIDED_95


def growing(born_on: date | None, visits: Sequence[tuple[date, FeetFound]]) -> dict[Side, GrowthOut]:
    """How each foot grows that still does, from its lengths by day; nothing where nobody knows when they were born."""
    found: dict[Side, GrowthOut] = {}
    for side in SIDES:
        lengths = [
            Visit(on=on, length_mm=n.value, sigma_mm=n.uncertainty / TWO_SIDED_95)
            for on, feet in visits
            if (n := getattr(feet, side).numbers.get("length_mm"))
        ]
        if born_on and lengths and (out := growth(GrowthIn(born_on=born_on, visits=lengths))).still_growing:
            found[side] = out
    return found
