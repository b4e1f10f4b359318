"""A fitter who never finds anything: everything is fine, where the others of the same shelves find that some isn't.

The learner can't tell such verdicts from a shelf on which everything fits: once the first pair is mostly right, most
verdicts are *fine*. Beside the others' they can be told, and nothing of the shoes has to be known for it.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from math import exp, lgamma

LEAST_VERDICTS = 60
"""A fitter with fewer verdicts is held against nobody. House default."""
CHANCE = 1e-3
"""As rare as this it has to be among fitters who are all alike. House default."""


@dataclass(frozen=True)
class Verdicts:
    """How many verdicts somebody gave, and how many of them were *fine*."""

    count: int = 0
    fine: int = 0

    @property
    def found(self) -> int:
        """How often something was found."""
        return self.count - self.fine

    def __add__(self, other: Verdicts) -> Verdicts:
        return Verdicts(self.count + other.count, self.fine + other.fine)


def total(each: Iterable[Verdicts]) -> Verdicts:
    """All together."""
    whole = Verdicts()
    for one in each:
        whole += one
    return whole


def _log_ways(n: int, k: int) -> float:
    return lgamma(n + 1) - lgamma(k + 1) - lgamma(n - k + 1)


def chance_of_so_few(own: Verdicts, others: Verdicts) -> float:
    """How likely somebody who finds as much as the others found so little or less (Fisher's exact test, one-sided)."""
    count, found = own.count + others.count, own.found + others.found
    whole = _log_ways(count, own.count)
    least = max(0, found - others.count)
    return min(sum(exp(_log_ways(found, k) + _log_ways(count - found, own.count - k) - whole)
                   for k in range(least, own.found + 1)), 1.0)  # fmt: skip


def never_finds(own: Verdicts, others: Verdicts) -> bool:
    """Whether a fitter finds so little beside the others that somebody should look at how the tests are done."""
    return own.count >= LEAST_VERDICTS and others.count >= LEAST_VERDICTS and chance_of_so_few(own, others) < CHANCE


def never_told(name: str, own: Verdicts, others: Verdicts) -> str:
    """It in a sentence."""
    said = f"{name} found everything fine" if not own.found else f"{name} found {own.found} not fine"
    return (
        f"{said} in {own.count} verdicts; of the others' {others.count}, {others.found} weren't. Look at how the tests "
        "are done: such verdicts say little of the shoes."
    )
