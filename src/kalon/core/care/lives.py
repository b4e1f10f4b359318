"""`lives`: how long pairs last here, learned by sport, ground, upper and price, as makers' offsets are.

The logarithm of a pair's life is the table's (`cost.life_of`), plus an offset of its use, its ground, its upper, plus a
slope by price, plus what is the pair's own. Offsets are normal with the spreads below. A retired pair lasted as long
as it was worn; one that was looked at is a normal sighting of a life; one still in use lasts longer than it has, which
is all it tells. Without the last, only pairs that died early would be heard: the posterior is found by Newton's method
and taken as normal about its top (Laplace; with sightings alone it is the closed form).
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Literal, cast, get_args

import numpy as np
from numpy.typing import NDArray
from pydantic import Field, model_validator
from scipy.special import log_ndtr

from ..contract import Contract, Positive
from ..errors import AtField
from .cost import LOG_SD, Ground, Use, life_of
from .wear import Life

Floats = NDArray[np.float64]

USE_SD, GROUND_SD, UPPER_SD, PRICE_SD = 0.17, 0.08, 0.08, 0.15
"""How far uses, grounds and uppers may lie from the table, and the slope by price, on the logarithm. House defaults."""
OWN_SD = math.sqrt(LOG_SD**2 - USE_SD**2 - GROUND_SD**2 - UPPER_SD**2)
"""How far one pair lies from another of its kind; all together are the spread of `cost`."""
RETIRED_SD = 0.12
"""How sharply a retired pair's hours tell its life, on the logarithm. House default."""
Family = Literal["leather", "suede", "microfibre", "synthetic", "knit", "mesh"]


def family_of(upper: str | None) -> Family | None:
    """An upper's family, by which lives are learned; none where nobody knows."""
    head = (upper or "").split("_")[0]
    return cast(Family, head) if head in get_args(Family) else None


class Kind(Contract):
    """What a pair's life is reckoned by. The price is against what such pairs usually cost in its shop; nothing where
    nobody knows."""

    use: Use
    ground: Ground | None = None
    upper: Family | None = None
    price_ratio: float | None = Field(None, ge=1e-3, le=1e3)


class LifeSeen(Contract):
    """One pair: its kind; a sighting of its life in hours, with the spread of its logarithm, or the hours it has
    lasted and still does, or both."""

    kind: Kind
    life_h: Positive | None = None
    log_sd: Positive | None = None
    lasts_beyond_h: Positive | None = None

    @model_validator(mode="after")
    def _tells_something(self) -> LifeSeen:
        if (self.life_h is None) != (self.log_sd is None):
            raise AtField("log_sd", "A sighting of a life has its spread")
        if self.life_h is None and self.lasts_beyond_h is None:
            raise AtField("life_h", "A life seen, or how long it has lasted so far")
        return self


class LivesIn(Contract):
    """What was seen of pairs' lives."""

    seen: list[LifeSeen] = Field(max_length=100_000)


class Learnt(Contract):
    """An offset of a logarithm: mean, standard deviation, how many pairs it rests on."""

    mean: float
    sd: float
    seen: int


class LivesOut(Contract):
    """What was learned, by name (`use:football`, `ground:turf`, `upper:leather`, `price`), with the covariance of all
    in the order of their names."""

    learned: dict[str, Learnt]
    cover: list[list[float]]


def _terms(kind: Kind) -> dict[str, float]:
    terms = {f"use:{kind.use}": 1.0}
    if kind.ground:
        terms[f"ground:{kind.ground}"] = 1.0
    if kind.upper:
        terms[f"upper:{kind.upper}"] = 1.0
    if kind.price_ratio:
        terms["price"] = math.log(kind.price_ratio)
    return terms


def _prior_sd(name: str) -> float:
    return {"use": USE_SD, "ground": GROUND_SD, "upper": UPPER_SD, "price": PRICE_SD}[name.split(":")[0]]


def _usual_log(kind: Kind) -> float:
    return math.log(life_of(kind.use, kind.ground, kind.price_ratio or 1.0))


@dataclass(frozen=True)
class Seen:
    """Pairs as rows of a linear model of the logarithm of a life against the table's: what each is made of, (n, terms);
    a sighting with its variance (not a number, and infinite, where there is none); and what it has lasted (not a number
    where that is no longer open)."""

    design: Floats
    off: Floats
    var: Floats
    beyond: Floats


ROUNDS, STILL = 60, 1e-9


def _posterior(prior: Floats, seen: Seen) -> tuple[Floats, Floats]:
    """Mean and covariance of the offsets, by Newton's method on the log posterior, which is concave."""
    sighted, open_ = np.isfinite(seen.off), np.isfinite(seen.beyond)
    weight = np.where(sighted, 1 / (OWN_SD**2 + seen.var), 0.0)
    off = np.where(sighted, seen.off, 0.0)
    # What a sighting leaves open of the pair's own life: its mean moves by `keeps` with the offsets', spread `own`.
    keeps = np.where(sighted, seen.var / (OWN_SD**2 + np.where(sighted, seen.var, 0.0)), 1.0)
    own = OWN_SD * np.sqrt(keeps)
    mean: Floats = np.zeros(seen.design.shape[1])
    cover: Floats = np.asarray(np.linalg.inv(prior), float)
    for _ in range(ROUNDS):
        expected = seen.design @ mean
        left = (keeps * expected + (1 - keeps) * off - np.where(open_, seen.beyond, 0.0)) / own
        slope = np.exp(-0.5 * left**2 - 0.5 * math.log(2 * math.pi) - log_ndtr(left))
        pull = np.where(open_, slope * keeps / own, 0.0)
        bend = np.where(open_, slope * (slope + left) * (keeps / own) ** 2, 0.0)
        gradient = seen.design.T @ (weight * (off - expected) + pull) - prior @ mean
        cover = np.asarray(np.linalg.inv(prior + seen.design.T @ ((weight + bend)[:, None] * seen.design)), float)
        step = cover @ gradient
        mean = mean + step
        if np.max(np.abs(step), initial=0.0) < STILL:
            break
    return mean, cover


def lives(given: LivesIn) -> LivesOut:
    """Learn how long pairs last from what was seen of them."""
    rows = [_terms(s.kind) for s in given.seen]
    names = sorted({n for r in rows for n in r})
    if not names:
        return LivesOut(learned={}, cover=[])
    place = {n: i for i, n in enumerate(names)}
    design: Floats = np.zeros((len(rows), len(names)))
    for i, row in enumerate(rows):
        for name, value in row.items():
            design[i, place[name]] = value
    usual = np.array([_usual_log(s.kind) for s in given.seen])
    life_h = np.array([s.life_h or math.nan for s in given.seen])
    own = np.array([s.log_sd or math.inf for s in given.seen]) ** 2
    beyond = np.array([s.lasts_beyond_h or math.nan for s in given.seen])
    at = Seen(design, np.log(life_h) - usual, own, np.log(beyond) - usual)
    mean, cover = _posterior(np.diag([_prior_sd(n) ** -2 for n in names]), at)
    return LivesOut(
        learned={
            n: Learnt(mean=float(mean[i]), sd=float(cover[i, i] ** 0.5), seen=int((design[:, i] != 0).sum()))
            for n, i in place.items()
        },
        cover=cover.tolist(),
    )


NOTHING = LivesOut(learned={}, cover=[])


def life(kind: Kind, known: LivesOut = NOTHING) -> Life:
    """How long a pair of this kind lasts: its median and spread, by the table and what was learned."""
    names = list(known.learned)
    terms = _terms(kind)
    at = np.array([terms.get(n, 0.0) for n in names])
    mean = (
        _usual_log(kind) + float(at @ np.array([known.learned[n].mean for n in names])) if names else _usual_log(kind)
    )
    spread = OWN_SD**2 + (float(at @ np.array(known.cover) @ at) if names else 0.0)
    spread += sum(_prior_sd(n) ** 2 for n in (f"use:{kind.use}",) if n not in known.learned)
    for head, value, sd in (("ground", kind.ground, GROUND_SD), ("upper", kind.upper, UPPER_SD)):
        spread += sd**2 if not value or f"{head}:{value}" not in known.learned else 0.0
    return Life(median_h=math.exp(mean), log_sd=spread**0.5)


def said(known: LivesOut, least: int = 3) -> list[str]:
    """What was learned, in sentences, of what rests on enough pairs and differs from the table."""
    out = []
    for name, learnt in known.learned.items():
        if learnt.seen < least or abs(learnt.mean) < learnt.sd or name == "price":
            continue
        head, _, what = name.partition(":")
        times = math.exp(learnt.mean)
        where = {"use": "Pairs for", "ground": "On", "upper": "Uppers of"}[head]
        longer = "longer" if times > 1 else "shorter"
        out.append(f"{where} {what}: {abs(times - 1):.0%} {longer} than the table, from {learnt.seen} pairs.")
    return out
