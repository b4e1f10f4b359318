"""`cost`: what a pair costs by the hour and season, as sure as its life is; cheap pairs in a row against one dear."""

from __future__ import annotations

import math
from typing import Literal, cast

from pydantic import Field

from ..contract import Contract, Positive
from ..sports.every import EVERY, facts_of

Use = Literal["climbing", "football", "court", "dance", "running", "mixed", "lifting", "cycling", "cricket",
              "field sports", "ice"]  # fmt: skip
Ground = Literal["natural", "artificial", "turf"]

LIFE_H: dict[Use, float] = {cast(Use, use): hours for facts in EVERY.values() for use, hours in facts.lives_h.items()}
"""Median life of a pair of the usual price of its sport in its shop, hours. House defaults, each its sport's own."""
GROUND_H: dict[Ground, float] = {"natural": 120, "artificial": 90, "turf": 150}
"""Football, by ground. House defaults."""
WITH_PRICE, LOG_SD = 0.7, 0.35
"""Life goes with the price to this power, and its spread on the logarithm. House defaults."""
LIKELY = 1.6449
MOST = 1e10
"""No pair costs as much in any currency."""


def life_of(use: Use, ground: Ground | None, price_ratio: float = 1.0, with_price: float = WITH_PRICE) -> float:
    """Median life, hours, of a pair whose price is so many times what such pairs usually cost where it was bought."""
    usual = GROUND_H[ground] if use == "football" and ground else LIFE_H[use]
    return float(usual * price_ratio**with_price)


class CostIn(Contract):
    """A pair and its use. Prices are in whole units of one currency, without tax. `reference` is what pairs for this
    sport usually cost there; where nobody knows, the price says nothing of how long a pair lasts."""

    sport: Use
    ground: Ground | None = None
    price: Positive = Field(le=MOST)
    reference: Positive | None = Field(None, le=MOST)
    tax_pct: float = Field(0.0, ge=0, le=100)
    hours_per_week: Positive = Field(le=168)
    season_weeks: Positive = Field(40.0, le=53)
    with_price: float = Field(WITH_PRICE, ge=0, le=2)


class Span(Contract):
    """Nine times in ten between low and high; the middle is as likely passed as not."""

    low: float
    mid: float
    high: float


class CostOut(Contract):
    """What it costs with tax, by the hour of wear and by the season, and how long it lasts."""

    total: float
    per_hour: Span
    per_season: float
    lasts_h: Span
    lasts_weeks: Span


def cost(given: CostIn) -> CostOut:
    """What a pair costs by the hour and the season, with the spread its life has."""
    total = given.price * (1 + given.tax_pct / 100)
    ratio = given.price / given.reference if given.reference else 1.0
    median = life_of(given.sport, given.ground, ratio, given.with_price)
    spread = math.exp(LIKELY * LOG_SD)
    lasts = Span(low=median / spread, mid=median, high=median * spread)
    season_h = given.hours_per_week * given.season_weeks
    return CostOut(
        total=total,
        per_hour=Span(low=total / lasts.high, mid=total / lasts.mid, high=total / lasts.low),
        per_season=total / lasts.mid * season_h,
        lasts_h=lasts,
        lasts_weeks=Span(**{n: getattr(lasts, n) / given.hours_per_week for n in ("low", "mid", "high")}),
    )


class BreakEvenIn(Contract):
    """So many cheap pairs one after another, against one dear pair."""

    cheap: Positive = Field(le=MOST)
    count: int = Field(ge=1, le=50)
    dear: Positive = Field(le=MOST)
    with_price: float = Field(WITH_PRICE, ge=0.05, le=2)


class BreakEvenOut(Contract):
    """The price of a pair that lasts as long as the cheap ones together, and how the dear one compares."""

    same_hours: float
    cheap_total: float
    dear_lasts: float
    """In lives of a cheap pair."""
    cheaper: Literal["dear", "cheap", "same"]
    text: str


NEAR = 0.02


def break_even(given: BreakEvenIn) -> BreakEvenOut:
    """One dear pair against cheap ones in a row, at the same wear."""
    same = given.cheap * given.count ** (1 / given.with_price)
    lives = (given.dear / given.cheap) ** given.with_price
    by_dear, by_cheap = given.dear / lives, given.cheap
    cheaper: Literal["dear", "cheap", "same"] = "same"
    if abs(by_dear / by_cheap - 1) > NEAR:
        cheaper = "dear" if by_dear < by_cheap else "cheap"
    says = {
        "same": "By the hour they cost the same; the feel and the fit decide.",
        "dear": "By the hour the dear pair costs less.",
        "cheap": "By the hour the cheap pairs cost less; the dear one has to earn it by how it fits.",
    }[cheaper]
    return BreakEvenOut(
        same_hours=same,
        cheap_total=given.cheap * given.count,
        dear_lasts=lives,
        cheaper=cheaper,
        text=f"The dear pair lasts about as long as {lives:.1f} cheap ones. {says}",
    )


HOURS_A_SESSION = 1.5
"""How long a session wears a pair. House default."""
OF_SURFACE: dict[str, Ground] = {"artificial_grass": "artificial", "carpet_turf": "turf", "indoor_hall": "turf"}
"""Football's grounds by how they wear a sole; the rest as natural. House defaults."""


def use_of(sport: str, discipline: str, surface: str | None) -> tuple[Use, Ground | None]:
    """What a pair's life is reckoned as, from a brief's answers."""
    facts = facts_of(sport)
    use = cast(Use, facts.worn_as.get(discipline, facts.use))
    return use, OF_SURFACE.get(surface or "", "natural") if use == "football" else None
