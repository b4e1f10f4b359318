"""`pairs`: which pairs to own for several uses with shares of time, within a budget; exact, by integer programme."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from pydantic import Field, model_validator
from scipy.optimize import Bounds, LinearConstraint, milp
from scipy.sparse import coo_array

from ..contract import Contract
from ..errors import AtField

Floats = NDArray[np.float64]

TINY = 1e-9
"""Values nearer than this are the same."""


class Need(Contract):
    """A use, and its share of the time."""

    id: str = Field(min_length=1, max_length=80)
    share: float = Field(ge=0, le=1)


class Owned(Contract):
    """A pair they have, and how well it serves each use, 0…1."""

    id: str = Field(min_length=1, max_length=80)
    scores: dict[str, float] = {}


class Offer(Owned):
    """A pair to be had, and its price."""

    price: float = Field(ge=0, le=100_000)


class PairsIn(Contract):
    """Uses, pairs owned, pairs to be had, and what may be spent."""

    needs: list[Need] = Field(min_length=1, max_length=60)
    owned: list[Owned] = Field([], max_length=100)
    offers: list[Offer] = Field([], max_length=600)
    budget: float = Field(ge=0, le=1_000_000)
    most_pairs: int | None = Field(None, ge=0, le=60)
    least_score: float = Field(0.5, ge=0, le=1)

    @model_validator(mode="after")
    def _named_once(self) -> PairsIn:
        names = [p.id for p in (*self.owned, *self.offers)]
        if len(set(names)) != len(names):
            raise AtField("offers", "A pair is named twice")
        if len({n.id for n in self.needs}) != len(self.needs):
            raise AtField("needs", "A need is named twice")
        return self


class Bought(Contract):
    """A pair to buy, and what it adds to what was there before it."""

    id: str
    gain: float


class PairsOut(Contract):
    """What to buy, which pair serves each use, what that is worth, and the order of buying."""

    buy: list[str]
    covers: dict[str, str]
    value: float
    value_now: float
    spent: float
    order: list[Bought]


def _scores(given: PairsIn, pairs: list[Owned]) -> Floats:
    """(need, pair): the share of time a pair serves it, times how well; nothing below the least score."""
    found = np.array([[p.scores.get(n.id, 0.0) for p in pairs] for n in given.needs]).reshape(
        len(given.needs), len(pairs)
    )
    share = np.array([n.share for n in given.needs])[:, None]
    worth: Floats = np.where(found >= given.least_score, found, 0.0) * share
    return worth


def _undominated(worth: Floats, price: Floats) -> list[int]:
    """The offers that no other serves as well as at no more: an optimum stands among them."""
    order = sorted(range(len(price)), key=lambda i: (price[i], -float(worth[:, i].sum())))
    kept: list[int] = []
    for i in order:
        if not kept or not (worth[:, kept] >= worth[:, [i]] - TINY).all(axis=0).any():
            kept.append(i)
    return sorted(kept)


def _chosen(worth: Floats, have: Floats, price: Floats, given: PairsIn) -> list[int]:
    """The offers to buy, by their places: the most worth, then the least spent."""
    able = _undominated(worth, price)
    return [able[i] for i in _best(worth[:, able], have, price[able], given)] if able else []


def _best(worth: Floats, have: Floats, price: Floats, given: PairsIn) -> list[int]:
    """An exact choice, by integer programme."""
    needs, offers = worth.shape
    gain = worth - have[:, None]
    n, p = np.nonzero(gain > TINY)
    if not len(n) or given.most_pairs == 0:
        return []
    links = len(n)
    size = offers + links
    row = np.arange(links)
    served = (np.r_[np.ones(links), -np.ones(links)], (np.r_[row, row], np.r_[offers + row, p]))
    rows = [
        LinearConstraint(coo_array(served, (links, size)), -np.inf, 0),  # a pair serves only once it is bought
        LinearConstraint(coo_array((np.ones(links), (n, offers + row)), (needs, size)), -np.inf, 1),
        LinearConstraint(np.r_[price, np.zeros(links)][None, :], -np.inf, given.budget + TINY),
    ]  # fmt: skip
    if given.most_pairs is not None:
        rows.append(LinearConstraint(np.r_[np.ones(offers), np.zeros(links)][None, :], -np.inf, given.most_pairs))
    whole = np.r_[np.ones(offers), np.zeros(links)]
    value = np.r_[np.zeros(offers), gain[n, p]]
    best = milp(-value, constraints=rows, integrality=whole, bounds=Bounds(0, 1), options={"mip_rel_gap": 0})
    if best.x is None:
        return []
    least = LinearConstraint(value[None, :], float(value @ best.x) - 1e-7, np.inf)
    spend = np.r_[price + 1e-6, np.zeros(links)]
    cheap = milp(spend, constraints=[*rows, least], integrality=whole, bounds=Bounds(0, 1), options={"mip_rel_gap": 0})
    chosen = cheap.x if cheap.x is not None else best.x
    return [int(i) for i in np.flatnonzero(chosen[:offers] > 0.5)]


def pairs(given: PairsIn) -> PairsOut:
    """What to buy: the most of share × score over all uses, then the least spent; the greatest gain first."""
    own, worth = _scores(given, given.owned), _scores(given, list(given.offers))
    have = own.max(axis=1, initial=0.0)
    price = np.array([o.price for o in given.offers])
    chosen = _chosen(worth, have, price, given) if given.offers else []
    order, now = [], have.copy()
    left = list(chosen)
    while left:
        gains = [float(np.maximum(worth[:, i] - now, 0).sum()) for i in left]
        first = max(range(len(left)), key=lambda i: (gains[i], -price[left[i]]))
        order.append(Bought(id=given.offers[left[first]].id, gain=gains[first]))
        now = np.maximum(now, worth[:, left[first]])
        left.pop(first)
    every = [*given.owned, *(given.offers[i] for i in chosen)]
    table = np.hstack([own, worth[:, chosen]])
    covers = {
        need.id: every[int(np.argmax(table[row]))].id
        for row, need in enumerate(given.needs)
        if table.shape[1] and table[row].max() > 0
    }
    return PairsOut(
        buy=[b.id for b in order],
        covers=covers,
        value=float(now.sum()),
        value_now=float(have.sum()),
        spent=float(price[chosen].sum()) if chosen else 0.0,
        order=order,
    )
