"""`lives`: how long pairs last here, learned by sport, ground, upper and price, as makers' offsets are.

The logarithm of a pair's life is the table's (`cost.life_of`), plus an offset of its use, its ground, its upper, plus a
slope by price, plus what is the pair's own. Offsets are normal with the spreads below; inspections and retired pairs
are normal sightings of a life, so that the posterior is that of a linear model with normal errors, in closed form.
"""

from __future__ import annotations

import math
from typing import Literal, cast, get_args

import numpy as np
from numpy.typing import NDArray
from pydantic import Field

from ..contract import Contract, Positive
from .cost import LOG_SD, REFERENCE, Ground, Use, life_of
from .wear import Life

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
    """What a pair's life is reckoned by. The price is in whole units, with tax; nothing where nobody knows."""

    use: Use
    ground: Ground | None = None
    upper: Family | None = None
    price: float | None = Field(None, gt=0, le=100_000)


class LifeSeen(Contract):
    """One pair: its kind, and a sighting of its life in hours, with the spread of its logarithm."""

    kind: Kind
    life_h: Positive
    log_sd: Positive


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
    if kind.price:
        terms["price"] = math.log(kind.price / REFERENCE[kind.use])
    return terms


def _prior_sd(name: str) -> float:
    return {"use": USE_SD, "ground": GROUND_SD, "upper": UPPER_SD, "price": PRICE_SD}[name.split(":")[0]]


def _usual_log(kind: Kind) -> float:
    return math.log(life_of(kind.use, kind.ground, kind.price or REFERENCE[kind.use]))


def lives(given: LivesIn) -> LivesOut:
    """Learn how long pairs last from what was seen of them."""
    rows = [_terms(s.kind) for s in given.seen]
    names = sorted({n for r in rows for n in r})
    if not names:
        return LivesOut(learned={}, cover=[])
    place = {n: i for i, n in enumerate(names)}
    design: NDArray[np.float64] = np.zeros((len(rows), len(names)))
    for i, row in enumerate(rows):
        for name, value in row.items():
            design[i, place[name]] = value
    weight = np.array([1 / (OWN_SD**2 + s.log_sd**2) for s in given.seen])
    off = np.array([math.log(s.life_h) - _usual_log(s.kind) for s in given.seen])
    precision = np.diag([_prior_sd(n) ** -2 for n in names]) + design.T @ (weight[:, None] * design)
    cover = np.linalg.inv(precision)
    mean = cover @ (design.T @ (weight * off))
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
