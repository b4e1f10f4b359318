"""Which one measurement not yet taken would make the choice surer: the worth of knowing it, before it is known."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from ..contract import Contract
from ..feet.gauge import NAMES, SIGMA_MM, Feet
from ..fit.foot import FIT_ZONES, MEASURES, FootToFit
from ..fit.size import HOPES, hope_of
from ..rules.engine import Spec
from .shelf import Shelf, Shoe, nearest_lines, shelf_gaps

NODES, WEIGHTS = np.polynomial.hermite_e.hermegauss(5)
"""Where the unmeasured number is tried, in spreads, and how much each counts."""
LEAST_GAIN = 0.01
"""Less than this isn't worth another measurement. House default."""
MOST_LINES = 90
"""How many lines of the shelf are weighed: of the few nearest sizes of each shoe, those that promise most."""


class Surer(Contract):
    """The number to measure next: which, what the best pair is worth chosen blind to it and chosen by it, and why."""

    measure: str
    now: float
    then: float
    text: str


def _weighed(shoes: Sequence[Shoe], shelf: Shelf, spec: Spec, foot: FootToFit) -> Shelf:
    rows = nearest_lines(shoes, shelf, spec, foot)
    if len(rows) > MOST_LINES:
        found = shelf_gaps(shoes, shelf.part(rows), spec, foot).quality
        rows = rows[np.argsort(-found, kind="stable")[:MOST_LINES]]
    return shelf.part(rows)


def surer(shoes: Sequence[Shoe], shelf: Shelf, spec: Spec, foot: FootToFit, feet: Feet) -> Surer | None:
    """The unmeasured number whose knowledge is expected to help the best pair most; none where none would much.

    The number is tried over its spread. Choosing anew for each value is never worth less than choosing one pair for
    all of them; the difference is what measuring is worth. `feet` are as measured."""
    unmeasured = [
        (zone, name)
        for zone, name in enumerate(MEASURES)
        if getattr(feet.left, name) is None or getattr(feet.right, name) is None
    ]
    if not unmeasured or not len(shelf.shoe):
        return None
    near = _weighed(shoes, shelf, spec, foot)
    share = WEIGHTS / WEIGHTS.sum()
    found: list[tuple[float, float, float, float, float, str]] = []
    for zone, name in unmeasured:
        spread = float(foot.sigma[zone])
        known = min(spread, SIGMA_MM[name])
        sigma = foot.sigma.copy()
        sigma[zone] = known
        qualities, chances = [], []
        for node in NODES:
            shift = np.zeros(len(FIT_ZONES))
            shift[zone] = node * (spread**2 - known**2) ** 0.5
            tried = replace(foot, sides={side: v + shift for side, v in foot.sides.items()}, sigma=sigma)
            weighed = shelf_gaps(shoes, near, spec, tried)
            qualities.append(weighed.quality)
            chances.append(weighed.joint)
        by_value, joint = np.array(qualities), np.array(chances)
        now, then = float((share @ by_value).max()), float(share @ by_value.max(axis=1))
        likely = float((share @ joint)[int(np.argmax(share @ by_value))])
        likelier = float(share @ np.take_along_axis(joint, by_value.argmax(axis=1)[:, None], axis=1)[:, 0])
        found.append((then - now, now, then, likely, likelier, name))
    gain, now, then, likely, likelier, name = max(found)
    if gain < LEAST_GAIN:
        return None
    was, become = hope_of(now, likely), hope_of(then, likelier)
    change = f": {HOPES[become]} where it is {HOPES[was]} now" if become != was else ""
    return Surer(
        measure=name,
        now=round(now, 4),
        then=round(then, 4),
        text=f"Measure the {NAMES[name]}, and the choice is surer{change}.",
    )
