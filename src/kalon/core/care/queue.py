"""Who waits, in which order, and for how long yet: by how long such fittings take here.

How long something takes is lognormal: what is usual (house defaults) until the shop's own have been seen, those of the
same sport counting most. The wait is played out many times over, with whoever is being fitted now gone on from how long
they have been at it, and told as the middle and the eight in ten round it.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from math import exp, log
from typing import Literal

import numpy as np
from scipy.special import ndtr, ndtri

About = Literal["fitting", "return", "growth", "pick_up"]


@dataclass(frozen=True)
class Matter:
    """What somebody waits for: in words, and how many minutes it usually takes."""

    text: str
    usual_min: float
    begins: bool
    """Whether taking it up begins a fitting of its own."""


MATTERS: dict[About, Matter] = {
    "fitting": Matter("A fitting", 45, True),
    "return": Matter("Seen again", 15, False),
    "growth": Matter("Growth check", 10, True),
    "pick_up": Matter("Picks a pair up", 10, False),
}
"""Minutes: house defaults."""
BETWEEN = 0.4
"""How far the usual of a shop lies from ours, as a share: one standard deviation of its logarithm. House default."""
OF_SPORTS = 0.25
"""The same of a sport's from its shop's. House default."""
WITHIN, AS_IF = 0.45, 6.0
"""How far one lies from the next, likewise, believed as if so many had been seen. House default."""
LEAST_MIN, MOST_MIN = 1.0, 240.0
"""What took less was pressed by mistake, what took longer was left open: neither is learned."""


@dataclass(frozen=True)
class Done:
    """One that was done: what, of which sport, in how many minutes."""

    about: About
    sport: str | None
    minutes: float


@dataclass(frozen=True)
class Takes:
    """How long one takes: its median in minutes, the spread of its logarithm, and of how many that is known."""

    median_min: float
    log_sd: float
    many: int

    @property
    def _mean(self) -> float:
        return log(self.median_min)

    def drawn(self, draws: np.random.Generator, many: int, so_far_min: float = 0.0) -> np.ndarray:
        """So many lengths in minutes, from now on, of one that has lasted so long already."""
        lasted = ndtr((log(so_far_min) - self._mean) / self.log_sd) if so_far_min > 0 else 0.0
        share = lasted + (1 - lasted) * draws.random(many)
        whole = np.exp(self._mean + self.log_sd * ndtri(np.minimum(share, 1 - 1e-9)))
        return np.maximum(whole - so_far_min, 0.0)


def _learned(mean: float, apart: float, logs: Sequence[float], within: float) -> tuple[float, float]:
    """Mean and its standard deviation after what was seen, from a mean so sure before."""
    before, seen = 1 / apart**2, len(logs) / within**2
    return (mean * before + sum(logs) / within**2) / (before + seen), (before + seen) ** -0.5


def takes(about: About, sport: str | None, done: Sequence[Done]) -> Takes:
    """How long a matter takes here, of a sport where one is said."""
    usual = log(MATTERS[about].usual_min)
    of_kind = [(d.sport, log(d.minutes)) for d in done if d.about == about and LEAST_MIN <= d.minutes <= MOST_MIN]
    logs = [m for _, m in of_kind]
    middle = sum(logs) / len(logs) if logs else usual
    square = (AS_IF * WITHIN**2 + sum((m - middle) ** 2 for m in logs)) / (AS_IF + len(logs))
    within = square**0.5
    mean, apart = _learned(usual, BETWEEN, logs, within)
    if sport:
        own = [m for s, m in of_kind if s == sport]
        mean, apart = _learned(mean, (apart**2 + OF_SPORTS**2) ** 0.5, own, within)
    return Takes(exp(mean), (within**2 + apart**2) ** 0.5, len(logs))


@dataclass(frozen=True)
class Waiting:
    """One who waits, or is to come in so many minutes."""

    takes: Takes
    comes_in_min: float = 0.0


@dataclass(frozen=True)
class Wait:
    """Minutes until it is their turn: the middle, and the eight in ten round it."""

    low_min: float
    mid_min: float
    high_min: float


DRAWS = 600
EDGES = (0.1, 0.5, 0.9)


def waits(busy: Sequence[tuple[Takes, float]], at_once: int, places: Sequence[Waiting]) -> list[Wait]:
    """For how long each still waits, in the order they are taken.

    `busy`: who is being fitted now, and for how many minutes already; `at_once`: how many are fitted at once, those
    busy among them. The same question has the same answer."""
    draws = np.random.default_rng(len(places) * 7919 + len(busy))
    servers = max(at_once, len(busy), 1)
    free = np.zeros((DRAWS, servers))
    for i, (length, so_far) in enumerate(busy):
        free[:, i] = length.drawn(draws, DRAWS, so_far)
    rows = np.arange(DRAWS)
    found = []
    for place in places:
        first = free.argmin(axis=1)
        start = np.maximum(free[rows, first], place.comes_in_min)
        free[rows, first] = start + place.takes.drawn(draws, DRAWS)
        low, mid, high = (float(v) for v in np.quantile(start, EDGES))
        found.append(Wait(low, mid, high))
    return found


SOON_MIN = 2.0


def _round(minutes: float) -> int:
    return round(minutes) if minutes < 10 else 5 * round(minutes / 5)


def wait_text(wait: Wait) -> str:
    """As one says it across the counter."""
    if wait.high_min < SOON_MIN:
        return "now"
    low, mid, high = (_round(m) for m in (wait.low_min, wait.mid_min, wait.high_min))
    about = f"about {mid} min" if mid else "any moment"
    return about if low == high else f"{about} ({low} to {high})"
