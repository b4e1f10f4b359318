"""`wear`: what is left of a pair, from its usual life and what was seen of it."""

from __future__ import annotations

import math
from datetime import date, timedelta
from typing import Literal

from pydantic import Field
from scipy.special import ndtr, ndtri

from ..contract import Contract, Day, Positive
from .cost import Span


class Life(Contract):
    """A life in hours: its median, and the spread of its logarithm."""

    median_h: Positive = Field(le=100_000)
    log_sd: Positive = Field(le=3)


class Inspection(Contract):
    """So much of a pair was worn away after so many hours, give or take."""

    hours: Positive = Field(le=100_000)
    worn_share: float = Field(gt=0, le=1.5)
    sigma: Positive = Field(le=1)


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


def wear(given: WearIn) -> WearOut:
    """What is left of a pair.

    An inspection f ± σ at h hours says ln L ~ N(ln(h/f), (σ/f)²). The pair is worn still, so its life is longer than
    the hours it has."""
    precision = 1 / given.life.log_sd**2
    push = precision * math.log(given.life.median_h)
    for seen in given.inspections:
        weight = (seen.worn_share / seen.sigma) ** 2
        precision += weight
        push += weight * math.log(seen.hours / seen.worn_share)
    mean, sd = push / precision, precision**-0.5
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
