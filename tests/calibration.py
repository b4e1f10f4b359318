"""Whether a stated chance comes true that often: made-up pairs on made-up feet, each judged and then worn.

The truth of a pair: the shoe's inner measures and the foot's are each off what was thought by their stated spreads,
and the shoe gives its kind's capacity, off by its stated spread. Zones may share the foot's and the shoe's errors.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from kalon.core.fit.foot import FIT_ZONES, foot_to_fit
from kalon.core.fit.size import SHOE_SIGMA_MM, WantedBand, capacities, gaps
from kalon.core.fit.stretch import CAPACITY_SPREAD, Build, Upper, give_of, settled_stretch
from tests.made import FEET

FOOT = foot_to_fit(FEET)
NEAR_MM = np.array([6.0, 9.0, 9.0, 3.0])
"""How far about the band's middle the made-up pairs lie: from surely right to surely wrong."""


@dataclass(frozen=True)
class Judged:
    """What was said of each pair, 0…1, and whether it came true; by zone, shape (n, 4), and jointly, shape (n,)."""

    zones: NDArray[np.float64]
    joint: NDArray[np.float64]
    zone_true: NDArray[np.bool_]
    joint_true: NDArray[np.bool_]


def errors(rng: np.random.Generator, n: int, shared: float) -> NDArray[np.float64]:
    """Standard errors of n pairs, shape (n, 4), whose zones share this share of their variance."""
    return np.sqrt(shared) * rng.normal(size=(n, 1)) + np.sqrt(1 - shared) * rng.normal(size=(n, 4))


def judged(upper: Upper, build: Build, wanted: WantedBand, n: int, seed: int, shared: float = 0.0) -> Judged:
    """Judge n pairs of a kind made about a wanted band, and wear them."""
    rng = np.random.default_rng(seed)
    foot = FOOT.larger
    give = give_of(upper, build)
    ones = np.ones(n)
    capacity = capacities(give.length_mm * ones, give.girth_pct * ones, np.broadcast_to(foot, (n, 4)))
    # New gaps that settle about the band: further down where the shoe gives.
    pressed = rng.uniform(0, 1, size=(n, 1)) * np.minimum(capacity, 8.0)
    if wanted.length_when_new:
        pressed[:, 0] = 0
    middle = (wanted.low + wanted.high) / 2
    inner = foot + middle - pressed + rng.normal(size=(n, 4)) * NEAR_MM * rng.uniform(0, 1, size=(n, 1))
    said = gaps(foot, FOOT.sigma, inner, capacity, wanted)
    new = inner - foot + FOOT.sigma * errors(rng, n, shared) + SHOE_SIGMA_MM * errors(rng, n, shared)
    gives = capacity * np.maximum(1 + CAPACITY_SPREAD * rng.normal(size=(n, 1)), 0.0)
    ended = new + settled_stretch(-new, gives)
    if wanted.length_when_new:
        ended[:, 0] = new[:, 0]
    true = (ended >= wanted.low) & (ended <= wanted.high)
    return Judged(said.chance, said.joint, true, true.all(axis=1))


SAID = (0.3, 0.5, 0.7, 0.9)


def came_true(said: NDArray[np.float64], true: NDArray[np.bool_]) -> dict[float, tuple[int, float, float]]:
    """Of what was said within 5 in 100 of each of `SAID`: how many, what was said on average, and what came true."""
    found = {}
    for about in SAID:
        near = np.abs(said - about) <= 0.05
        if near.any():
            found[about] = (int(near.sum()), float(said[near].mean()), float(true[near].mean()))
    return found


assert len(FIT_ZONES) == len(NEAR_MM)
