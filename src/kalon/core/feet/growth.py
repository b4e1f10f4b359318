"""How a young foot grows from visit to visit: a straight line with what is usual at that age behind it.

Usual growth by age is from memory; the room and the spacing of visits are house defaults.
"""

from __future__ import annotations

from datetime import date, timedelta

import numpy as np
from pydantic import Field

from ..contract import Contract, Day, Positive
from ..units import HALF_UK_MM
from .measures import TWO_SIDED_95, Number, Reading
from .usual_growth import LATEST_DAYS, USUAL

GROWN = 18.0
SOONEST, LATEST = timedelta(days=30), timedelta(days=LATEST_DAYS)
DAYS = 365.25


DRIFT_MM = 0.5
"""How much a grown foot may have changed since it was last measured, one standard deviation. House default."""


USUAL_FOOT_MM = 240.0
"""A foot of which only widths or girths are known is taken to be so long when it grows. House default."""
TOLD_MM = 0.5
"""Growth since a reading is told from here on. House default."""


def grown_since(years: float, age_years: float) -> tuple[float, float]:
    """How much a foot usually grew over the last `years` until an age, mm, with its spread from child to child, which
    is the child's own and so adds up year by year."""
    begun, mean, spread = age_years - max(years, 0.0), 0.0, 0.0
    for (up_to, a_year, apart), since in zip(USUAL, (-np.inf, *(u[0] for u in USUAL)), strict=False):
        share = max(min(up_to, age_years) - max(since, begun), 0.0)
        mean += a_year * share
        spread += apart * share
    return mean, spread


def aged(reading: Reading, years: float, age_years: float | None) -> Reading:
    """A reading from an earlier day as it would be now: grown by what is usual since, and less sure by how much
    children differ; a grown foot only less sure.

    `age_years` is the age now, where it is known. Widths and girths grow in the proportion of the length."""
    mean, spread = grown_since(years, age_years) if age_years is not None else (0.0, 0.0)
    length = reading.numbers["length_mm"].value if "length_mm" in reading.numbers else USUAL_FOOT_MM
    numbers = dict(reading.numbers)
    for name, n in reading.numbers.items():
        if name.endswith("_mm"):
            share = n.value / length
            sigma = float(np.sqrt(n.sigma**2 + DRIFT_MM**2 + (spread * share) ** 2))
            numbers[name] = Number(value=n.value + mean * share, sigma=sigma)
    notes = list(reading.notes)
    if mean >= TOLD_MM:
        notes.append(
            f"Measured {years * 12:.0f} months ago: reckoned {mean:.0f} mm longer since, as is usual at that age (from "
            "memory). Measure again."
        )
    return reading.model_copy(update={"numbers": numbers, "notes": notes})


class Visit(Contract):
    """A day's length with one standard deviation, mm."""

    on: Day
    length_mm: Positive
    sigma_mm: Positive = 1.0


class GrowthIn(Contract):
    """When somebody was born, and a foot's lengths by visit."""

    born_on: Day
    visits: list[Visit] = Field(min_length=1, max_length=200)


class GrowthPoint(Contract):
    """The expected length on a day with its 95 % interval, mm."""

    on: date
    length_mm: float
    low_mm: float
    high_mm: float


class GrowthOut(Contract):
    """Growth a year, its uncertainty (half the 95 % interval), the curve to come, and when to measure again."""

    still_growing: bool
    mm_per_year: float
    uncertainty: float
    curve: list[GrowthPoint]
    remeasure_on: date | None
    text: str


def usual_growth(age_years: float) -> tuple[float, float]:
    """Millimetres a year usual at an age, and the spread; from memory."""
    for up_to, mean, spread in USUAL:
        if age_years < up_to:
            return mean, spread
    return 0.0, 0.3


ROOM_FROM_MM = 1.5
"""Usual growth a year from which a shoe wants room for it. House default."""


def years_old(born_on: date, today: date) -> float:
    """Age in years."""
    return (today - born_on).days / DAYS


def grows(age_years: float) -> bool:
    """Whether feet of that age usually grow enough to be given room."""
    return usual_growth(age_years)[0] >= ROOM_FROM_MM


def wants_room(born_on: date, today: date) -> bool:
    """The same by the date of birth."""
    return grows(years_old(born_on, today))


def _wait(mm_per_year: float) -> timedelta:
    """How long half a size lasts at that growth, within what is sensible between two visits."""
    return min(max(timedelta(days=HALF_UK_MM / max(mm_per_year, 0.5) * DAYS), SOONEST), LATEST)


def months_to_half_size(age_years: float) -> int:
    """After how many months half a size is usually used up at an age, within what is sensible between two visits."""
    return max(round(_wait(usual_growth(age_years)[0]).days / (DAYS / 12)), 1)


def growth(given: GrowthIn) -> GrowthOut:
    """How fast a foot grows, where it is heading, and when half a size will be used up."""
    visits = sorted(given.visits, key=lambda v: v.on)
    last = visits[-1].on
    age = (last - given.born_on).days / DAYS
    mean, spread = usual_growth(age)
    at = np.array([(v.on - last).days / DAYS for v in visits])
    weight = np.array([1 / v.sigma_mm**2 for v in visits])
    seen = np.array([v.length_mm for v in visits])
    # Normal posterior of length at the last visit (flat prior) and of growth a year (usual growth).
    precision = np.array([[weight.sum(), weight @ at], [weight @ at, weight @ at**2 + 1 / spread**2]])
    cover = np.linalg.inv(precision)
    length, rate = cover @ np.array([weight @ seen, weight @ (at * seen) + mean / spread**2])
    years = np.linspace(min(at.min(), 0.0), 1.0, 25)
    middle = length + rate * years
    sigma = np.sqrt(cover[0, 0] + 2 * years * cover[0, 1] + years**2 * cover[1, 1])
    curve = [
        GrowthPoint(
            on=last + timedelta(days=round(float(y) * DAYS)),
            length_mm=float(m),
            low_mm=float(m - TWO_SIDED_95 * s),
            high_mm=float(m + TWO_SIDED_95 * s),
        )
        for y, m, s in zip(years, middle, sigma, strict=True)
    ]
    within = TWO_SIDED_95 * float(np.sqrt(cover[1, 1]))
    if age >= GROWN:
        return GrowthOut(still_growing=False, mm_per_year=float(rate), uncertainty=within, curve=curve,
                         remeasure_on=None, text="Grown: no growth room is counted.")  # fmt: skip
    wait = _wait(float(rate))
    again = last + wait
    text = (
        f"About {rate:.0f} mm a year (±{within:.0f}) at {age:.0f}: half a size is used up in "
        f"{wait.days / 30.4:.0f} months. Usual growth from memory, room a house default."
    )
    return GrowthOut(
        still_growing=True, mm_per_year=float(rate), uncertainty=within, curve=curve, remeasure_on=again, text=text
    )
