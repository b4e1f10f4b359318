"""`wear`: what is left of a pair, from its usual life and what was seen of it."""

from __future__ import annotations

import math
from collections.abc import Sequence
from datetime import date, timedelta
from typing import Literal

import numpy as np
from numpy.typing import NDArray
from pydantic import Field, model_validator
from scipy.special import ndtr, ndtri

from ..contract import Contract, Day, Positive
from ..errors import AtField
from .cost import Span

Floats = NDArray[np.float64]


class Life(Contract):
    """A life in hours: its median, and the spread of its logarithm."""

    median_h: Positive = Field(le=100_000)
    log_sd: Positive = Field(le=3)


class Stretch(Contract):
    """A part looks as parts do between these shares of their lives."""

    low: float = Field(ge=0, le=1.5)
    high: float = Field(gt=0, le=2)

    @model_validator(mode="after")
    def _in_order(self) -> Stretch:
        if self.low >= self.high:
            raise AtField("high", "A stretch ends after it begins")
        return self


class Inspection(Contract):
    """So much of a pair was worn away after so many hours, give or take; or the stretches its parts were in then."""

    hours: Positive = Field(le=100_000)
    worn_share: float | None = Field(None, gt=0, le=1.5)
    sigma: float | None = Field(None, gt=0, le=1)
    parts: list[Stretch] = Field([], max_length=20)

    @model_validator(mode="after")
    def _one_way(self) -> Inspection:
        if (self.worn_share is None) != (self.sigma is None) or (self.worn_share is None) == (not self.parts):
            raise AtField("parts", "An inspection is a share with its spread, or the stretches its parts are in")
        return self


class WearIn(Contract):
    """A pair's usual life, what was seen of it, how long it has been worn, and how much it is worn a week."""

    life: Life
    inspections: list[Inspection] = Field([], max_length=100)
    hours_now: float = Field(ge=0, le=100_000)
    hours_per_week: float = Field(0.0, ge=0, le=168)
    today: Day | None = None


WearWord = Literal["fresh", "good", "look_again", "near_its_end", "retire"]
WORDS: dict[WearWord, str] = {
    "fresh": "Hardly worn.",
    "good": "Good for a while.",
    "look_again": "Look at it again at the next visit.",
    "near_its_end": "Near its end: buy the next and wear it in beside this one.",
    "retire": "Retire it from what it was bought for; it may serve for training while there is rubber left.",
}
SHARES: tuple[tuple[float, WearWord], ...] = (
    (0.15, "fresh"),
    (0.55, "good"),
    (0.8, "look_again"),
    (1.0, "near_its_end"),
)
"""Up to which share of the median life each word holds. House defaults."""


class WearOut(Contract):
    """The life as now known, what is left of it, when it is likely over, and a word."""

    median_h: float
    log_sd: float
    left_h: Span
    retire_on: date | None
    word: WearWord
    text: str


SCATTER = 0.14
"""How far one part runs ahead of or behind its pair, on the logarithm. House default."""
MISSEEN = 0.02
"""How often a finding tells nothing. House default."""
REACH, POINTS = 6.0, 601
SHARES_AT = np.linspace(0.005, 1.3, 260)


def _fits(parts: Sequence[Stretch], log_share: Floats) -> Floats:
    """How well shares of a life (their logarithms) fit the stretches the parts are in, on the logarithm."""
    total = np.zeros_like(log_share)
    for part in parts:
        below = ndtr((math.log(part.high) - log_share) / SCATTER)
        above = ndtr((math.log(part.low) - log_share) / SCATTER) if part.low > 0 else 0.0
        total += np.log((1 - MISSEEN) * (below - above) + MISSEEN)
    return total


def share_of(parts: Sequence[Stretch]) -> tuple[float, float]:
    """The share worn away that some stretches stand for, with one standard deviation, whatever the pair's hours."""
    weight = np.exp(_fits(parts, np.log(SHARES_AT)))
    weight /= weight.sum()
    mean = float(weight @ SHARES_AT)
    return mean, float(weight @ (SHARES_AT - mean) ** 2) ** 0.5


def known_life(life: Life, inspections: Sequence[Inspection]) -> tuple[float, float]:
    """Mean and standard deviation of the logarithm of a pair's life, from its usual life and what was seen.

    Shares with a spread weigh in closed form; stretches are multiplied in on a grid, then mean and spread are taken."""
    precision = 1 / life.log_sd**2
    push = precision * math.log(life.median_h)
    for seen in inspections:
        if seen.worn_share is not None and seen.sigma is not None:
            weight = (seen.worn_share / seen.sigma) ** 2
            precision += weight
            push += weight * math.log(seen.hours / seen.worn_share)
    mean, sd = push / precision, precision**-0.5
    looked = [s for s in inspections if s.parts]
    if not looked:
        return mean, sd
    at = mean + sd * np.linspace(-REACH, REACH, POINTS)
    likely = -0.5 * ((at - mean) / sd) ** 2
    for seen in looked:
        likely += _fits(seen.parts, math.log(seen.hours) - at)
    chance = np.exp(likely - likely.max())
    chance /= chance.sum()
    found = float(chance @ at)
    return found, float(chance @ (at - found) ** 2) ** 0.5


def sighting(life: Life, inspections: Sequence[Inspection]) -> tuple[float, float] | None:
    """What inspections alone say of a pair's life, as a normal of its logarithm beside this usual life: mean and
    standard deviation; none where they say next to nothing."""
    mean, sd = known_life(life, inspections)
    gained = sd**-2 - life.log_sd**-2
    if gained < LEAST_GAIN:
        return None
    return (mean * sd**-2 - math.log(life.median_h) * life.log_sd**-2) / gained, gained**-0.5


LEAST_GAIN = 0.25
"""Less than this precision of a logarithm is no sighting."""


def wear(given: WearIn) -> WearOut:
    """What is left of a pair.

    An inspection f ± σ at h hours says ln L ~ N(ln(h/f), (σ/f)²). The pair is worn still, so its life is longer than
    the hours it has."""
    mean, sd = known_life(given.life, given.inspections)
    passed = float(ndtr((math.log(given.hours_now) - mean) / sd)) if given.hours_now > 0 else 0.0
    passed = min(passed, 1 - 1e-9)

    def left(share: float) -> float:
        return max(math.exp(mean + sd * float(ndtri(passed + (1 - passed) * share))) - given.hours_now, 0.0)

    span = Span(low=left(0.05), mid=left(0.5), high=left(0.95))
    median = math.exp(mean)
    used = given.hours_now / median
    word: WearWord = next((w for share, w in SHARES if used < share), "retire")
    weeks = span.mid / given.hours_per_week if given.hours_per_week else None
    over = given.today + timedelta(weeks=weeks) if given.today and weeks is not None and weeks < 2600 else None
    return WearOut(median_h=median, log_sd=sd, left_h=span, retire_on=over, word=word, text=WORDS[word])


AT_ODDS = 2.5
"""What was seen and a pair's hours are at odds when they lie so many spreads apart. House default."""


def at_odds(worn_share: float, sigma: float, hours: float, life: Life) -> str:
    """A sentence where a pair is far more, or far less, worn than its hours and its usual life would have it."""
    expected = hours / life.median_h
    spread = math.hypot(sigma, expected * life.log_sd)
    if abs(worn_share - expected) < AT_ODDS * spread:
        return ""
    more = "more" if worn_share > expected else "less"
    return (
        f"It looks {more} worn than {hours:.0f} h would make it (about {min(expected, 9.99):.0%}): are its hours right?"
    )
