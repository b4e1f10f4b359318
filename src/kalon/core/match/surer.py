"""Which one measurement not yet taken would make the choice surer: the worth of knowing it, before it is known."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from ..contract import Contract
from ..feet.gauge import NAMES, SIGMA_MM, Feet
from ..fit.foot import FIT_ZONES, MEASURES, FootToFit
from ..fit.size import HOPES, hope_of
from ..rules.engine import Spec
from .rank import Shelf, Shoe, shelf_gaps

NODES, WEIGHTS = np.polynomial.hermite_e.hermegauss(7)
"""Where the unmeasured number is tried, in spreads, and how much each counts."""
LEAST_GAIN = 0.02
"""Less than this isn't worth another measurement. House default."""
MOST_LINES = 600
"""How many lines of the shelf are weighed: those nearest to the wanted room."""


class Surer(Contract):
    """The number to measure next: which, the quality of the best pair now and as expected once it is known, and why."""

    measure: str
    now: float
    then: float
    text: str


def _best(shoes: Sequence[Shoe], shelf: Shelf, spec: Spec, foot: FootToFit) -> float:
    return float(np.max(shelf_gaps(shoes, shelf, spec, foot).quality))


def _nearest(shelf: Shelf, foot: FootToFit) -> Shelf:
    if len(shelf.shoe) <= MOST_LINES:
        return shelf
    far = np.abs(shelf.inner[:, 0] - foot.larger[0])
    rows: NDArray[np.intp] = np.sort(np.argpartition(far, MOST_LINES)[:MOST_LINES])
    return Shelf(shelf.shoe[rows], shelf.label[rows], shelf.inner[rows], [shelf.line_ids[r] for r in rows])


def surer(shoes: Sequence[Shoe], shelf: Shelf, spec: Spec, foot: FootToFit, feet: Feet) -> Surer | None:
    """The unmeasured number whose knowledge is expected to help the best pair most; none where none would much.

    The number is tried over its spread; for each value the best pair is chosen anew, and what that is worth on average
    is held against choosing now. `feet` are as measured."""
    unmeasured = [
        (zone, name)
        for zone, name in enumerate(MEASURES)
        if getattr(feet.left, name) is None or getattr(feet.right, name) is None
    ]
    if not unmeasured or not len(shelf.shoe):
        return None
    near = _nearest(shelf, foot)
    now = _best(shoes, near, spec, foot)
    found: list[tuple[float, str]] = []
    for zone, name in unmeasured:
        spread = float(foot.sigma[zone])
        left = max(spread**2 - SIGMA_MM[name] ** 2, 0.0) ** 0.5
        sigma = foot.sigma.copy()
        sigma[zone] = min(spread, SIGMA_MM[name])
        then = 0.0
        for node, weight in zip(NODES, WEIGHTS / WEIGHTS.sum(), strict=True):
            shift = np.zeros(len(FIT_ZONES))
            shift[zone] = node * left
            tried = replace(foot, sides={side: v + shift for side, v in foot.sides.items()}, sigma=sigma)
            then += weight * _best(shoes, near, spec, tried)
        found.append((then, name))
    then, name = max(found)
    if then - now < LEAST_GAIN:
        return None
    become = hope_of(min(then, 1.0))
    change = f": the best pair is {HOPES[hope_of(now)]}, and {HOPES[become]} once it is known" if (
        become != hope_of(now)
    ) else ""  # fmt: skip
    return Surer(
        measure=name,
        now=round(now, 4),
        then=round(min(then, 1.0), 4),
        text=f"Measure the {NAMES[name]} and the choice is surer{change}.",
    )
