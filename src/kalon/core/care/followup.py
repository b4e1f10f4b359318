"""At the follow-up: what was measured against what was predicted."""

from __future__ import annotations

import math
from typing import Literal

from pydantic import Field

from ..contract import Contract, NonNegative
from ..fit.foot import FIT_ZONES
from ..fit.size import WORDS, ZONE_NAMES, FitWord, fit_word
from ..sports.every import facts_of

MEASURING_SIGMA_MM = {"length": 1.5, "ball_girth": 3.0, "instep_girth": 3.0, "heel_width": 1.5}
"""How sure a gap measured in a worn shoe is, one standard deviation. House default."""


OTHER = {
    "length": "A longer pair; don't wear this one on jammed toes.",
    "ball_girth": "A spot stretch now, or a wider pair.",
    "instep_girth": "Skip a crossing of the laces, or a higher-volume pair.",
    "heel_width": "Another heel, or a wider pair.",
}
"""What helps where a shoe will give no more. Common practice, no source."""


NEXT_TIME: dict[str, dict[Literal["slack", "tight"], str]] = {
    "length": {"slack": "half a size less", "tight": "half a size more"},
    "ball_girth": {"slack": "a narrower width", "tight": "a wider width or a softer upper, not a longer one"},
    "instep_girth": {"slack": "a lower volume", "tight": "a higher volume"},
    "heel_width": {"slack": "another heel, not a smaller size", "tight": "a wider heel"},
}
"""What to take next time where a zone was slack or tight at the follow-up. Common practice, no source."""


def _takes_up(sport: str) -> str:
    """What takes up room that is left."""
    if not sport or facts_of(sport).insole:
        return "a thicker sock, an insole or lacing"
    return "laces or straps drawn closer"


class ZonePrediction(Contract):
    """What was predicted for a zone: gap new and settled, mm, its spread, the band, and the wear it takes."""

    zone: Literal["length", "ball_girth", "instep_girth", "heel_width"]
    new_mm: float
    settled_mm: float
    sigma_mm: NonNegative
    low_mm: float
    high_mm: float
    judged_new: bool = False
    """The band is for the new shoe: what it gives by wear is not slack."""


class FollowUpIn(Contract):
    """Predictions at the sale, hours worn since, and gaps seen, mm."""

    predicted: list[ZonePrediction]
    tau_h: float = Field(gt=0)
    hours: float = Field(ge=0, le=5000)
    sport: str = ""
    """What it is worn for, where that is known: not every shoe takes an insole."""
    seen_mm: dict[Literal["length", "ball_girth", "instep_girth", "heel_width"], float]


class ZoneOutcome(Contract):
    """One zone: predicted at these hours, seen, and whether the difference is more than chance would do."""

    zone: str
    predicted_mm: float
    sigma_mm: float
    seen_mm: float
    off_mm: float
    surprising: bool
    word: FitWord
    text: str


class FollowUpOut(Contract):
    """Zone by zone, and what to do."""

    zones: list[ZoneOutcome]
    advice: list[str]


def follow_up(given: FollowUpIn) -> FollowUpOut:
    """Compare. A difference beyond two spreads (prediction and measuring together) is called surprising."""
    outcomes, advice = [], []
    done = -math.expm1(-given.hours / given.tau_h)
    for p in given.predicted:
        if p.zone not in given.seen_mm:
            continue
        expected = p.new_mm + (p.settled_mm - p.new_mm) * done
        seen = given.seen_mm[p.zone]
        sigma = math.hypot(p.sigma_mm, MEASURING_SIGMA_MM[p.zone])
        off = seen - expected
        surprising = abs(off) > 2 * sigma
        given_by = expected - p.new_mm if p.judged_new else 0.0
        word = fit_word(seen, p.low_mm + given_by, p.high_mm + given_by, FIT_ZONES.index(p.zone))
        more = "more" if off > 0 else "less"
        outcomes.append(
            ZoneOutcome(
                zone=p.zone, predicted_mm=expected, sigma_mm=sigma, seen_mm=seen, off_mm=off, surprising=surprising,
                word=word,
                text=f"{abs(off):.1f} mm {more} room at the {ZONE_NAMES[p.zone]} than predicted"
                + (", more than measuring explains." if surprising else ", within what measuring explains."),
            )
        )  # fmt: skip
        where = ZONE_NAMES[p.zone]
        if word == "slack":
            advice.append(f"Slack at the {where}: {_takes_up(given.sport)}; {NEXT_TIME[p.zone]['slack']} next time.")
        elif word in ("tight", "too_tight"):
            comes = max((p.settled_mm - p.new_mm) * (1 - done), 0.0)
            lacks = p.low_mm + given_by - seen
            if lacks <= comes + MEASURING_SIGMA_MM[p.zone]:
                advice.append(f"Still {WORDS[word]} at the {where}: go on wearing in, in short wears.")
            else:
                advice.append(
                    f"Still {WORDS[word]} at the {where}, {lacks:.0f} mm short, and {comes:.0f} mm at most is still to "
                    f"come: wearing in won't do it. {OTHER[p.zone]}"
                )
    if not advice and outcomes:
        advice.append("As wanted in every zone seen. The same size next time.")
    return FollowUpOut(zones=outcomes, advice=advice)
