"""What a trial, an arrival or a follow-up shows of one zone of one pair, as it is kept: numbers with their spreads."""

from __future__ import annotations

import hashlib
import math
from datetime import date
from typing import Annotated, Any

import numpy as np
from pydantic import Field
from scipy.special import ndtr

from ..care.followup import MEASURING_SIGMA_MM
from ..contract import Contract
from ..feet.gauge import Feet
from ..fit.chance import new_gap
from ..fit.foot import FIT_ZONES, MEASURES, FootToFit
from ..fit.size import WantedBand, ZoneFit
from ..fit.stretch import CAPACITY_SPREAD, Build, Upper, capacity_mm, give_of
from ..fit.trial import PairTrial, heard_of
from ..shoes.inner import Zone
from .given import Sighting
from .larger import larger_foot
from .observe import VERDICT_SIGMA_MM, Floats, Side, Verdict, band_of

Four = tuple[float, float, float, float]


Gap = Annotated[float, Field(ge=-60, le=60)]
Width = Annotated[float, Field(gt=0, le=60)]
FootMm = Annotated[float, Field(ge=20, le=500)]


class TrialEvidence(Contract):
    """A verdict on a new gap: what it was of all that could have been said; the larger foot and the band wanted of the
    new gap, mm; and the chance there was, with what was known then (`version`), of its being called fine.

    `measured` names the measuring of the foot, which later fittings may carry; `last` is what the model was made on."""

    verdict: Verdict
    sides: list[Side]
    low_mm: float = Field(ge=-100, le=100)
    high_mm: float = Field(ge=-100, le=100)
    foot_mm: FootMm
    foot_sigma_mm: Width
    measured: str = Field("", max_length=40)
    fine_chance: float = Field(ge=0, le=1)
    version: int = Field(0, ge=0)
    on: date | None = None
    last: str = Field("", max_length=80)
    sport: str
    kind: str

    def frozen_as(self, before: TrialEvidence, *, kept: bool) -> TrialEvidence:
        """The same with the chance that was said when it was first kept; and, where those were `kept` then, by which
        version, on which day and last."""
        said: dict[str, Any] = {"fine_chance": before.fine_chance}
        if kept:
            said |= {"version": before.version, "on": before.on or self.on, "last": before.last or self.last}
        return self.model_copy(update=said)


class ReturnEvidence(Contract):
    """A gap measured in a worn shoe: what was predicted for it, the new gap it came from, and what the shoe can give by
    the table, mm; the hours worn and the pace."""

    foot_mm: FootMm
    foot_sigma_mm: Width
    measured: str = Field("", max_length=40)
    seen_mm: Gap
    seen_sigma_mm: Width
    predicted_mm: Gap
    predicted_sigma_mm: Width
    new_mm: Gap
    new_sigma_mm: Width
    hours: float = Field(ge=0, le=5000)
    c_mm: float = Field(gt=0, le=60)
    tau_h: float = Field(gt=0, le=500)
    on: date | None = None
    last: str = Field("", max_length=80)
    sport: str
    kind: str

    def as_new(self) -> Sighting:
        """The new gap this speaks for: the one seen, less what had given by then, as unsure as that is."""
        of = (np.array([v]) for v in (self.seen_mm, self.seen_sigma_mm, self.predicted_mm, self.new_mm))
        gap, sigma = gap_when_new(*of)
        return Sighting(line="-", gap_mm=float(gap[0]), sigma_mm=float(sigma[0]))


def gap_when_new(seen: Floats, seen_sigma: Floats, predicted: Floats, new: Floats) -> tuple[Floats, Floats]:
    """New gaps that gaps seen in worn shoes speak for, mm, (n,): less what had given by then, as unsure as that is."""
    given = predicted - new
    return seen - given, np.maximum(np.hypot(seen_sigma, CAPACITY_SPREAD * given), 0.1)


def kind_of(upper: Upper, build: Build) -> str:
    """What learns to give together: an upper on a build, boards giving as plates do."""
    return f"{upper}/{'slip' if build == 'slip' else 'plate'}"


def measuring(athlete: str, feet: Feet) -> str:
    """A name for the measuring feet come from: the same bare numbers of the same athlete are the same measuring, in
    whatever sock. It can't be traced back to whose it was."""
    numbers = " ".join(str(getattr(foot, m)) for foot in (feet.left, feet.right) for m in MEASURES)
    return hashlib.sha256(f"{athlete} {numbers}".encode()).hexdigest()[:24]


def of_trial(
    trial: PairTrial, foot: FootToFit, inner: Four, sigma: Four, band: WantedBand, upper: Upper, build: Build,
    reinforced: float, sport: str,
) -> dict[Zone, TrialEvidence]:  # fmt: skip
    """By zone: what a trial of one pair shows. `inner` and `sigma` are what was known of its inside, mm."""
    found: dict[Zone, TrialEvidence] = {}
    names: tuple[Zone, ...] = ("length", "ball_girth", "instep_girth", "heel_width")
    larger, unsure = larger_of(foot)
    for zone, heard in heard_of(trial).items():
        name = names[zone]
        gives = capacity_mm(upper, build, name, inner[zone], reinforced)
        if band.judged_new(zone):
            gives = 0.0
        ends = new_gap(np.array([band.low[zone], band.high[zone]]), np.full(2, gives))
        gap = inner[zone] - foot.larger[zone]
        spread = math.hypot(sigma[zone], foot.sigma[zone], VERDICT_SIGMA_MM)
        below, above = band_of("fine", float(ends[0]), float(ends[1]), heard.sides)
        fine = ndtr((above - gap) / spread) - ndtr((below - gap) / spread)
        found[name] = TrialEvidence(
            verdict=heard.verdict,
            sides=list(heard.sides),
            low_mm=round(float(ends[0]), 3),
            high_mm=round(float(ends[1]), 3),
            foot_mm=round(float(larger[zone]), 3),
            foot_sigma_mm=round(max(float(unsure[zone]), 0.01), 4),
            fine_chance=round(float(np.clip(fine, 0, 1)), 4),
            sport=sport,
            kind=kind_of(upper, build),
        )
    return found


def larger_of(foot: FootToFit) -> tuple[Floats, Floats]:
    """The larger true foot and its spread, mm, by zone."""
    own = foot.sigma if foot.reading is None else foot.reading
    shared = np.sqrt(np.maximum(foot.sigma**2 - own**2, 0.0))
    return larger_foot(foot.sides["left"], foot.sides["right"], own, shared)


def of_return(
    zones: list[ZoneFit], seen_mm: dict[Zone, float], hours: float, foot: FootToFit, inner: Four, sigma: Four,
    upper: Upper, build: Build, reinforced: float, sport: str,
) -> dict[Zone, ReturnEvidence]:  # fmt: skip
    """By zone: what a follow-up of a pair as it was settled on shows."""
    tau = give_of(upper, build).tau_h
    larger, unsure = larger_of(foot)
    done = -math.expm1(-hours / tau)
    found: dict[Zone, ReturnEvidence] = {}
    for z in zones:
        name: Zone = z.zone  # type: ignore[assignment]
        if name not in seen_mm:
            continue
        at = FIT_ZONES.index(name)
        found[name] = ReturnEvidence(
            foot_mm=round(float(larger[at]), 3),
            foot_sigma_mm=round(max(float(unsure[at]), 0.01), 4),
            seen_mm=seen_mm[name],
            seen_sigma_mm=MEASURING_SIGMA_MM[name],
            predicted_mm=round(z.new_mm + (z.settled_mm - z.new_mm) * done, 3),
            predicted_sigma_mm=max(round(z.sigma_mm, 4), 0.01),
            new_mm=round(z.new_mm, 3),
            new_sigma_mm=round(math.hypot(sigma[at], float(foot.sigma[at])), 4),
            hours=hours,
            c_mm=max(capacity_mm(upper, build, name, inner[at], reinforced), 0.05),
            tau_h=tau,
            sport=sport,
            kind=kind_of(upper, build),
        )
    return found
