"""What a trial, an arrival or a follow-up shows of one zone of one pair, as it is kept: numbers with their spreads."""

from __future__ import annotations

import math

import numpy as np
from pydantic import Field
from scipy.special import ndtr

from ..care.followup import MEASURING_SIGMA_MM
from ..contract import Contract
from ..fit.chance import new_gap
from ..fit.foot import FIT_ZONES, FootToFit
from ..fit.size import WantedBand, ZoneFit
from ..fit.stretch import CAPACITY_SPREAD, Build, Upper, capacity_mm, give_of
from ..fit.trial import PairTrial, verdicts_of
from ..shoes.inner import Zone
from .offsets import VERDICT_SIGMA_MM, Sighting, Verdict, band_of

Four = tuple[float, float, float, float]


class TrialEvidence(Contract):
    """A verdict on a new gap: the foot as measured and the band wanted of the new gap, mm; and the chance there was,
    with what was known then, of its being called fine."""

    verdict: Verdict
    low_mm: float
    high_mm: float
    foot_mm: float
    foot_sigma_mm: float
    fine_chance: float = Field(ge=0, le=1)
    sport: str
    kind: str


class ReturnEvidence(Contract):
    """A gap measured in a worn shoe: what was predicted for it, the new gap it came from, and what the shoe can give by
    the table, mm; the hours worn and the pace."""

    foot_mm: float
    foot_sigma_mm: float
    seen_mm: float
    seen_sigma_mm: float
    predicted_mm: float
    predicted_sigma_mm: float
    new_mm: float
    new_sigma_mm: float
    hours: float
    c_mm: float
    tau_h: float
    sport: str
    kind: str

    def as_new(self) -> Sighting:
        """The new gap this speaks for: the one seen, less what had given by then, as unsure as that is."""
        given = self.predicted_mm - self.new_mm
        sigma = math.hypot(self.seen_sigma_mm, CAPACITY_SPREAD * given)
        return Sighting(line="-", gap_mm=self.seen_mm - given, sigma_mm=max(sigma, 0.1))


def kind_of(upper: Upper, build: Build) -> str:
    """What learns to give together: an upper on a build, boards giving as plates do."""
    return f"{upper}/{'slip' if build == 'slip' else 'plate'}"


def of_trial(
    trial: PairTrial, foot: FootToFit, inner: Four, sigma: Four, band: WantedBand, upper: Upper, build: Build,
    reinforced: float, sport: str,
) -> dict[Zone, TrialEvidence]:  # fmt: skip
    """By zone: what a trial of one pair shows. `inner` and `sigma` are what was known of its inside, mm."""
    found: dict[Zone, TrialEvidence] = {}
    names: tuple[Zone, ...] = ("length", "ball_girth", "instep_girth", "heel_width")
    for zone, verdict in verdicts_of(trial).items():
        name = names[zone]
        gives = capacity_mm(upper, build, name, inner[zone], reinforced)
        if band.judged_new(zone):
            gives = 0.0
        ends = new_gap(np.array([band.low[zone], band.high[zone]]), np.full(2, gives))
        gap = inner[zone] - foot.larger[zone]
        spread = math.hypot(sigma[zone], foot.sigma[zone], VERDICT_SIGMA_MM)
        below, above = band_of("fine", float(ends[0]), float(ends[1]))
        fine = ndtr((above - gap) / spread) - ndtr((below - gap) / spread)
        found[name] = TrialEvidence(
            verdict=verdict,
            low_mm=round(float(ends[0]), 3),
            high_mm=round(float(ends[1]), 3),
            foot_mm=round(float(foot.larger[zone]), 3),
            foot_sigma_mm=round(float(foot.sigma[zone]), 4),
            fine_chance=round(float(np.clip(fine, 0, 1)), 4),
            sport=sport,
            kind=kind_of(upper, build),
        )
    return found


def of_return(
    zones: list[ZoneFit], seen_mm: dict[Zone, float], hours: float, foot: FootToFit, inner: Four, sigma: Four,
    upper: Upper, build: Build, reinforced: float, sport: str,
) -> dict[Zone, ReturnEvidence]:  # fmt: skip
    """By zone: what a follow-up of a pair as it was settled on shows."""
    tau = give_of(upper, build).tau_h
    done = -math.expm1(-hours / tau)
    found: dict[Zone, ReturnEvidence] = {}
    for z in zones:
        name: Zone = z.zone  # type: ignore[assignment]
        if name not in seen_mm:
            continue
        at = FIT_ZONES.index(name)
        found[name] = ReturnEvidence(
            foot_mm=round(float(foot.larger[at]), 3),
            foot_sigma_mm=round(float(foot.sigma[at]), 4),
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
