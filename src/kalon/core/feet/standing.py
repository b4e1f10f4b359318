"""From a sitting foot to a standing one: it spreads under load. House default."""

from __future__ import annotations

from .measures import Number

SITTING_TO_STANDING: dict[str, float] = {
    "length_mm": 1.012,
    "ball_width_mm": 1.020,
    "ball_girth_mm": 1.020,
    "instep_girth_mm": 1.000,
    "heel_width_mm": 1.010,
    "instep_height_mm": 0.965,
    "heel_to_ball_mm": 1.012,
    "arch_height_index": 0.95,
}
"""Standing over sitting."""
UNSURE = 0.3
"""One standard deviation of the correction, share of it."""


def stood(name: str, number: Number) -> Number:
    """A number measured sitting, as it would be standing, and less sure by part of the correction."""
    factor = SITTING_TO_STANDING.get(name, 1.0)
    change = UNSURE * abs(factor - 1) * number.value
    return Number(value=number.value * factor, sigma=float((number.sigma**2 + change**2) ** 0.5))
