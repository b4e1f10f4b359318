"""`foot-from-worn`: the foot of an athlete who isn't here, from their height, what they wear and how it fits."""

from __future__ import annotations

import math
from typing import Literal

import numpy as np
from pydantic import Field, model_validator

from ..contract import Contract
from ..errors import AtField
from ..feet.usual import OF_BALL_WIDTH, OF_LENGTH
from ..fit.foot import FIT_ZONES
from ..shoes.inner import SPREADS, Offset
from ..sizes import SHORTEST_LAST_MM, STREET_ROOM_MM, last_of
from ..sports.every import EVERY
from ..sports.words import Sport
from ..systems import System
from .given import Learned
from .linear import NO_EFFECT, Effects, Seen
from .observe import ALL, VERDICT_SIGMA_MM, VERDICTS, Told, Verdict, band_of
from .state import Known, infer

OF_STATURE, STATURE_SD_MM = 0.152, 9.0
"""Foot length as a share of stature, and its spread. House default."""
ANY_FOOT_MM, ANY_FOOT_SD_MM = 262.0, 16.0
"""An adult's foot of whom nothing is known. House default."""
RIGHT_MM: dict[str, tuple[float, float]] = {
    "street": (STREET_ROOM_MM - 3.0, STREET_ROOM_MM + 3.0),
    **{sport: facts.right_mm for sport, facts in EVERY.items()},
}
"""Room at the toe of a shoe its wearer calls right, by what it is for, mm. House defaults."""
SAID: dict[str, Verdict] = {"tight": "jam", "right": "fine", "loose": "slack"}
SAID_SIGMA_MM = VERDICT_SIGMA_MM
"""What somebody says of a shoe at home is taken to be as sure as a verdict in the shop. House default."""
UNLIKELY = 0.06
"""Given all the others, what was said had a chance below this: it contradicts them. House default."""


class WornShoe(Contract):
    """A shoe they have: what its box says, and how it fits in length."""

    maker: str = Field("", max_length=120)
    model: str = Field("", max_length=120)
    system: System = "eu"
    label: float
    runs_ahead: float | None = Field(None, ge=0, le=3)
    """How far its maker's sizes run ahead in that system, where that isn't what most have."""
    width: str = Field("regular", max_length=20)
    says: Literal["tight", "right", "loose"]
    sport: Sport | Literal["street"] = "street"
    learned: Offset | None = None
    """What is known of that model's inside length against its label, where anything is."""

    @property
    def last_mm(self) -> float:
        """Length of the last its box stands for, mm."""
        return last_of(self.system, self.label, runs_ahead=self.runs_ahead)

    @model_validator(mode="after")
    def _a_shoe(self) -> WornShoe:
        if not SHORTEST_LAST_MM <= self.last_mm <= 420:
            raise AtField("label", f"No shoe is {self.system} {self.label:g}")
        return self


class Traced(Contract):
    """A foot photographed on paper: a number with one standard deviation, mm."""

    mm: float = Field(gt=0, le=450)
    sigma_mm: float = Field(gt=0, le=60)


class FootFromWornIn(Contract):
    """All that is known of a foot that isn't here."""

    stature_mm: float | None = Field(None, ge=800, le=2300)
    worn: list[WornShoe] = Field(max_length=20)
    tracing: dict[Literal["length_mm", "ball_width_mm", "heel_width_mm"], Traced] = {}


class FootZone(Contract):
    """A number of the foot, mm, with one standard deviation."""

    mm: float
    sd_mm: float


class FootFromWornOut(Contract):
    """The foot, zone by zone, what contradicts what, and what would make it surer."""

    length: FootZone
    ball_girth: FootZone
    instep_girth: FootZone
    heel_width: FootZone
    conflicts: list[str]
    next: str


def _named(shoe: WornShoe) -> str:
    name = " ".join(p for p in (shoe.maker, shoe.model) if p) or "shoe"
    return f"{name} {shoe.system.split('_')[0].upper()} {shoe.label:g}"


def _start(given: FootFromWornIn) -> tuple[float, float]:
    mean, sd = (ANY_FOOT_MM, ANY_FOOT_SD_MM)
    if given.stature_mm is not None:
        mean, sd = OF_STATURE * given.stature_mm, STATURE_SD_MM
    traced = given.tracing.get("length_mm")
    if traced:
        precision = 1 / sd**2 + 1 / traced.sigma_mm**2
        mean, sd = (mean / sd**2 + traced.mm / traced.sigma_mm**2) / precision, precision**-0.5
    return mean, sd


def _offset(shoe: WornShoe) -> Learned:
    if shoe.learned:
        return Learned(mean_mm=shoe.learned.mean_mm, sd_mm=shoe.learned.sd_mm)
    return Learned(mean_mm=0.0, sd_mm=SPREADS.whole(0))


def _of_length(given: FootFromWornIn, mean: float, sd: float) -> Known:
    """The length's state: each maker named is one, a shoe without one is of its own. Nobody judges but who wears them:
    there is no fitter whose habits could be told apart."""
    shoes = given.worn
    names = [s.maker.casefold() or f"#{i}" for i, s in enumerate(shoes)]
    makers = sorted(set(names))
    first = {m: _offset(shoes[names.index(m)]) for m in makers}
    shared = [SPREADS.maker[0] / SPREADS.whole(0) * first[m].sd_mm for m in makers]
    own = [math.hypot(SPREADS.model[0], SPREADS.size[0]) / SPREADS.whole(0) * _offset(s).sd_mm for s in shoes]
    count = len(shoes)
    of = np.full((count, 2), NO_EFFECT, dtype=np.intp)
    of[:, 0] = [makers.index(n) for n in names]
    of[:, 1] = len(makers) + np.arange(count)
    departs = [_offset(s).mean_mm - first[n].mean_mm for s, n in zip(shoes, names, strict=True)]
    effects = Effects(
        of=of,
        own=np.zeros(count),
        mean=np.array([*(first[m].mean_mm for m in makers), *departs]),
        precision=np.diag(np.array([*shared, *own]) ** -2),
    )
    label = np.array([s.last_mm for s in shoes]) - mean
    bands = [band_of(SAID[s.says], *RIGHT_MM[s.sport]) for s in shoes]
    seen = Seen(
        cell=np.arange(count),
        foot=np.zeros(count, dtype=np.intp),
        mm=np.full(count, np.nan),
        sigma=np.full(count, SAID_SIGMA_MM),
        told=Told(
            low=np.array([b[0] for b in bands]) - label,
            high=np.array([b[1] for b in bands]) - label,
            sigma=np.full(count, SAID_SIGMA_MM),
            tail=np.zeros(count),
            fitter=np.full(count, ALL, dtype=np.intp),
            verdict=np.array([VERDICTS.index(SAID[s.says]) for s in shoes], dtype=np.intp),
        ),
    )
    return infer(effects, np.array([sd]), seen)


def foot_from_worn(given: FootFromWornIn) -> FootFromWornOut:
    """The foot of somebody who isn't here, each zone with its spread, from all they can tell."""
    mean, sd = _start(given)
    conflicts = []
    if given.worn:
        known = _of_length(given, mean, sd)
        mean, sd = mean + float(known.foot_mean[0]), float(known.foot_sd[0])
        for shoe, likely in zip(given.worn, np.exp(known.likely), strict=True):
            if likely < UNLIKELY:
                told = {"tight": "is tight", "right": "is right", "loose": "is loose"}[shoe.says]
                conflicts.append(f"That the {_named(shoe)} {told} doesn't go with the rest. Ask again?")
    zones = {"length": FootZone(mm=mean, sd_mm=sd)}
    width, heel = given.tracing.get("ball_width_mm"), given.tracing.get("heel_width_mm")
    for zone in FIT_ZONES[1:]:
        name = f"{zone}_mm"
        share, spread = OF_LENGTH[name]
        found = FootZone(mm=share * mean, sd_mm=math.hypot(share * sd, spread * mean))
        if width and name in OF_BALL_WIDTH:
            by, own = OF_BALL_WIDTH[name]
            other = FootZone(mm=by * width.mm, sd_mm=math.hypot(by * width.sigma_mm, own * width.mm))
            found = min(found, other, key=lambda z: z.sd_mm)
        if heel and zone == "heel_width":
            found = min(found, FootZone(mm=heel.mm, sd_mm=heel.sigma_mm), key=lambda z: z.sd_mm)
        zones[zone] = found
    return FootFromWornOut(**zones, conflicts=conflicts, next=_next(given, sd))


def _next(given: FootFromWornIn, sd: float) -> str:
    """What would make the length surer, in a sentence."""
    told = f"The length is known to ± {2 * sd:.0f} mm."
    if "length_mm" not in given.tracing and sd > 2:
        return f"{told} A picture of each foot on a sheet of paper would bring it to about ± 3 mm."
    if not given.worn:
        return f"{told} A shoe that fits, with its maker and size, would say what room they like."
    return told
