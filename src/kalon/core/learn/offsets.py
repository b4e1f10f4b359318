"""`learn`: how makers, models and single sizes depart from their labels, and the true foot, from ordinary trials."""

from __future__ import annotations

import math
from typing import Annotated, Literal

import numpy as np
from pydantic import Field, model_validator

from ..contract import Contract
from ..errors import AtField
from ..fit.foot import FIT_ZONES
from ..shoes.inner import SPREADS, Zone
from .state import NOWHERE, Known, Lines, Prior, Seen, infer

VERDICT_SIGMA_MM = 1.5
"""How unsure a verdict is of the gap it judges, one standard deviation; and how far outside the band it has to be to
be said. House default."""
Verdict = Literal["jam", "fine", "slack"]
Key = Annotated[str, Field(min_length=1, max_length=120)]
Millimetres = Annotated[float, Field(ge=-100, le=500)]
Sigma = Annotated[float, Field(gt=0, le=60)]


class LearnLine(Contract):
    """A size of a shoe: its maker, its model, and what its label says of the zone, mm."""

    id: Key
    maker: Key
    model: Key
    base_mm: float = Field(ge=20, le=500)


class Sighting(Contract):
    """What was seen of one line on one foot: a verdict, or a gap measured, mm, with one standard deviation."""

    line: Key
    verdict: Verdict | None = None
    low_mm: Millimetres | None = None
    high_mm: Millimetres | None = None
    """The band it was judged by, where it isn't the fitting's."""
    gap_mm: Millimetres | None = None
    sigma_mm: Sigma | None = None

    @model_validator(mode="after")
    def _one_of_both(self) -> Sighting:
        if (self.verdict is None) == (self.gap_mm is None) or (self.gap_mm is None) != (self.sigma_mm is None):
            raise AtField("verdict", "Either a verdict, or a gap with its spread")
        return self


class LearnFitting(Contract):
    """A fitting: the foot as measured, the band that was wanted of the gap, mm, and what was seen."""

    id: Key
    foot_mm: float = Field(ge=20, le=500)
    foot_sigma_mm: Sigma
    low_mm: Millimetres = 0.0
    high_mm: Millimetres = 0.0
    seen: list[Sighting] = Field([], max_length=200)

    @model_validator(mode="after")
    def _right_way(self) -> LearnFitting:
        if self.low_mm > self.high_mm:
            raise AtField("low_mm", "The band's lower end lies above its upper one")
        return self


class Inside(Contract):
    """The inside of a line as read, mm, with one standard deviation."""

    line: Key
    mm: float = Field(gt=0, le=500)
    sigma_mm: Sigma


class LearnSpread(Contract):
    """One standard deviation, mm, of makers, of models within one, of sizes within a model."""

    maker: Sigma
    model: Sigma
    line: Sigma


class LearnIn(Contract):
    """The evidence of one zone."""

    zone: Zone = "length"
    lines: list[LearnLine] = Field(max_length=20_000)
    fittings: list[LearnFitting] = Field([], max_length=100_000)
    insides: list[Inside] = Field([], max_length=20_000)
    spread_mm: LearnSpread | None = None

    @model_validator(mode="after")
    def _known_lines(self) -> LearnIn:
        lines = {line.id for line in self.lines}
        if len(lines) != len(self.lines):
            raise AtField("lines", "A line is named twice")
        of_maker: dict[str, str] = {}
        for line in self.lines:
            if of_maker.setdefault(line.model, line.maker) != line.maker:
                raise AtField("lines", f"{line.model} is of two makers")
        for name in [s.line for f in self.fittings for s in f.seen] + [i.line for i in self.insides]:
            if name not in lines:
                raise AtField("lines", f"{name} is no line")
        return self


class Learned(Contract):
    """A departure from the label, or (of a line) all of its, mm, with one standard deviation."""

    mean_mm: float
    sd_mm: float


class LearnedFoot(Contract):
    """The true foot of a fitting, mm, with one standard deviation."""

    foot_mm: float
    foot_sd_mm: float


class LearnOut(Contract):
    """What was learned of a zone; a line's departure is its maker's, its model's and its own together."""

    makers: dict[str, Learned]
    models: dict[str, Learned]
    with_maker: dict[str, Learned]
    """By model: its maker's departure and its own together."""
    lines: dict[str, Learned]
    fittings: dict[str, LearnedFoot]


def spread_of(zone: Zone) -> LearnSpread:
    """How far makers, models and sizes usually depart in a zone. House defaults."""
    at = FIT_ZONES.index(zone)
    return LearnSpread(maker=SPREADS.maker[at], model=SPREADS.model[at], line=SPREADS.size[at])


def band_of(verdict: Verdict, low: float, high: float) -> tuple[float, float]:
    """Between which gaps a verdict is said, noise apart, of a wanted band."""
    below, above = low - VERDICT_SIGMA_MM, high + VERDICT_SIGMA_MM
    return {"jam": (-math.inf, below), "fine": (below, above), "slack": (above, math.inf)}[verdict]


def sites(given: LearnIn) -> Seen:
    """Everything seen as sites, in the order of fittings and then insides."""
    at = {line.id: i for i, line in enumerate(given.lines)}
    rows: list[tuple[int, int, float, float, float, float]] = []
    for f, fitting in enumerate(given.fittings):
        for s in fitting.seen:
            if s.verdict:
                low, high = band_of(
                    s.verdict,
                    fitting.low_mm if s.low_mm is None else s.low_mm,
                    fitting.high_mm if s.high_mm is None else s.high_mm,
                )
                rows.append((at[s.line], f, math.nan, VERDICT_SIGMA_MM, low, high))
            else:
                rows.append((at[s.line], f, s.gap_mm or 0.0, s.sigma_mm or 1.0, 0.0, 0.0))
    rows += [(at[i.line], NOWHERE, i.mm, i.sigma_mm, 0.0, 0.0) for i in given.insides]
    table = np.array(rows, dtype=float).reshape(-1, 6)
    return Seen(
        line=table[:, 0].astype(np.intp),
        fitting=table[:, 1].astype(np.intp),
        mm=table[:, 2],
        sigma=table[:, 3],
        low=table[:, 4],
        high=table[:, 5],
    )


def posterior(given: LearnIn) -> tuple[Known, list[str], list[str]]:
    """The posterior with the names of its makers and models, in order."""
    makers = sorted({line.maker for line in given.lines})
    models = sorted({line.model for line in given.lines})
    of_maker = {name: i for i, name in enumerate(makers)}
    of_model = {name: i for i, name in enumerate(models)}
    lines = Lines(
        maker=np.array([of_maker[line.maker] for line in given.lines], dtype=np.intp),
        model=np.array([of_model[line.model] for line in given.lines], dtype=np.intp),
        base=np.array([line.base_mm for line in given.lines]),
    )
    spread = given.spread_mm or spread_of(given.zone)
    prior = Prior(
        maker_mean=np.zeros(len(makers)),
        maker_sd=np.full(len(makers), spread.maker),
        model_mean=np.zeros(len(models)),
        model_sd=np.full(len(models), spread.model),
        line_sd=spread.line,
    )
    foot = np.array([f.foot_mm for f in given.fittings])
    foot_sigma = np.array([f.foot_sigma_mm for f in given.fittings])
    return infer(lines, prior, foot, foot_sigma, sites(given)), makers, models


def learn(given: LearnIn) -> LearnOut:
    """Makers, models, sizes and feet as normal posteriors of all that was read, measured and said."""
    if not given.lines:
        feet = {f.id: LearnedFoot(foot_mm=f.foot_mm, foot_sd_mm=f.foot_sigma_mm) for f in given.fittings}
        return LearnOut(makers={}, models={}, with_maker={}, lines={}, fittings=feet)
    known, makers, models = posterior(given)
    sd = np.sqrt(np.diag(known.cov))

    def named(names: list[str], first: int) -> dict[str, Learned]:
        return {
            name: Learned(mean_mm=float(known.mean[first + i]), sd_mm=float(sd[first + i]))
            for i, name in enumerate(names)
        }

    both = {}
    for line in given.lines:
        if line.model not in both:
            m, k = makers.index(line.maker), len(makers) + models.index(line.model)
            var = known.cov[m, m] + known.cov[k, k] + 2 * known.cov[m, k]
            both[line.model] = Learned(mean_mm=float(known.mean[m] + known.mean[k]), sd_mm=float(var**0.5))
    return LearnOut(
        makers=named(makers, 0),
        models=named(models, len(makers)),
        with_maker=both,
        lines={
            line.id: Learned(mean_mm=float(m), sd_mm=float(s))
            for line, m, s in zip(given.lines, known.line_mean, known.line_sd, strict=True)
        },
        fittings={
            f.id: LearnedFoot(foot_mm=f.foot_mm + float(m), foot_sd_mm=float(s))
            for f, m, s in zip(given.fittings, known.foot_mean, known.foot_sd, strict=True)
        },
    )
