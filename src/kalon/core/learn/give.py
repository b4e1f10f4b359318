"""`stretch-learn`: how much kinds of upper and single models really give, from what follow-ups measured.

A capacity is the table's × exp(A + B), A of a kind (an upper on a build), B of a model of it. A follow-up saw a gap
after so many hours of wear; how far the shoe had given by then depends on the capacity. Each follow-up's likelihood is
a curve over t = A + B, the new gap averaged over (thirty-one-point Gauss–Hermite); the curves of a model multiply, and
A and B are integrated on a grid. Nothing is taken to be normal on the way: what is reported is the mean and standard
deviation of the posterior.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import Annotated

import numpy as np
from numpy.typing import NDArray
from pydantic import Field

from ..contract import Contract
from ..fit.stretch import settled_stretch

Floats = NDArray[np.float64]

KIND_SD, MODEL_SD = 0.30, 0.25
"""How far kinds and models usually depart from the table, one standard deviation of the logarithm. House defaults."""
GRID = np.linspace(-2.4, 2.4, 481)
"""A, B's sum and A alike: capacities between a ninth and eleven times the table's."""
STEP = float(GRID[1] - GRID[0])
_NODES, _WEIGHTS = np.polynomial.hermite_e.hermegauss(31)
_SHARES = _WEIGHTS / _WEIGHTS.sum()

Key = Annotated[str, Field(min_length=1, max_length=120)]
Spread = Annotated[float, Field(gt=0, le=60)]


class Worn(Contract):
    """One zone of one pair at a follow-up: the table's capacity and pace, the new gap and the one seen, mm."""

    kind: Key
    model: Key
    c_mm: float = Field(gt=0, le=60)
    tau_h: float = Field(gt=0, le=500)
    new_mm: float = Field(ge=-60, le=60)
    new_sigma_mm: Spread
    hours: float = Field(ge=0, le=5000)
    seen_mm: float = Field(ge=-60, le=60)
    seen_sigma_mm: Spread


class GiveSpread(Contract):
    """One standard deviation of the logarithm, of kinds and of models within one."""

    kind: float = Field(KIND_SD, gt=0, le=1)
    model: float = Field(MODEL_SD, gt=0, le=1)


class StretchLearnIn(Contract):
    """The follow-ups to learn from."""

    evidence: list[Worn] = Field(max_length=1_000_000)
    spread: GiveSpread = GiveSpread()


class Gives(Contract):
    """Capacity against the table: the logarithm's mean and standard deviation, and the factor at the mean."""

    log_mean: float
    log_sd: float
    factor: float


class StretchLearnOut(Contract):
    """By kind, and by model of a kind (the kind's share included)."""

    kinds: dict[str, Gives]
    models: dict[str, Gives]


def curve(worn: Sequence[Worn]) -> Floats:
    """Log likelihood of some follow-ups over `GRID`, each averaged over where its new gap may have been. Curves of
    several lots add up to that of all: it is all that is to be kept of them."""
    total = np.zeros_like(GRID)
    for w in worn:
        new = (w.new_mm + w.new_sigma_mm * _NODES)[:, None]
        capacity = w.c_mm * np.exp(GRID)[None, :]
        given = settled_stretch(-new, np.broadcast_to(capacity, (len(_NODES), len(GRID))))
        expected = new + given * -np.expm1(-w.hours / w.tau_h)
        log = -0.5 * ((w.seen_mm - expected) / w.seen_sigma_mm) ** 2
        most = log.max(axis=0)
        total += most + np.log(_SHARES @ np.exp(log - most))
    return total


def _normal(x: Floats, sd: float) -> Floats:
    found: Floats = np.exp(-0.5 * (x / sd) ** 2) / (sd * np.sqrt(2 * np.pi))
    return found


def _moments(density: Floats) -> Gives:
    share = density / density.sum()
    mean = float(share @ GRID)
    sd = float(np.sqrt(max(share @ (GRID - mean) ** 2, 0.0)))
    return Gives(log_mean=mean, log_sd=sd, factor=float(np.exp(mean)))


def of_kind(likely: Floats, spread: GiveSpread | None = None) -> Floats:
    """Log of what curves of models (…, grid) say of their kind, over the same grid: the model's own share averaged."""
    beside = _normal(GRID[:, None] - GRID[None, :], (spread or GiveSpread()).model) * STEP
    found: Floats = np.log(np.maximum(np.exp(likely - likely.max(axis=-1, keepdims=True)) @ beside, 1e-300))
    return found


def kind_and_models(likely: Floats, shares: Floats, spread: GiveSpread | None = None) -> tuple[Gives, list[Gives]]:
    """A kind and all its models, from their curves (models, grid) and what each says of the kind (`of_kind`)."""
    sd = spread or GiveSpread()
    log_kind = np.log(_normal(GRID, sd.kind)) + shares.sum(axis=0)
    beside = _normal(GRID[:, None] - GRID[None, :], sd.model) * STEP
    rest = log_kind - shares
    given = np.exp(rest - rest.max(axis=1, keepdims=True)) @ beside
    density = np.exp(likely - likely.max(axis=1, keepdims=True)) * given
    return _moments(np.exp(log_kind - log_kind.max())), [_moments(d) for d in density]


def stretch_learn(given: StretchLearnIn) -> StretchLearnOut:
    """How much each kind, and each model, gives against the table."""
    kinds: dict[str, Gives] = {}
    models: dict[str, Gives] = {}
    for kind in sorted({w.kind for w in given.evidence}):
        of_model: dict[str, list[Worn]] = {}
        for w in given.evidence:
            if w.kind == kind:
                of_model.setdefault(w.model, []).append(w)
        likely = np.array([curve(worn) for worn in of_model.values()])
        shares = of_kind(likely, given.spread)
        kinds[kind], known = kind_and_models(likely, shares, given.spread)
        models |= dict(zip(of_model, known, strict=True))
    return StretchLearnOut(kinds=kinds, models=models)
