"""A model that was changed and nobody said so: its verdicts all pull one way from some day on."""

from __future__ import annotations

import math
from collections.abc import Mapping

import numpy as np

from .effects import DAYS_A_YEAR, Change
from .observe import Floats, Ints

CHANGES_A_YEAR = 0.1
"""How often a model is changed in a year and nobody says so. House default."""
LEAST_SEEN = 4
"""So many verdicts at least before a day and after it, for a change to be asked about. House default."""
APART = 2.6
"""How far apart the pulls before and after a day have to lie to be looked at closely, in spreads. House default."""
LOOKED_AT = 3
"""So many days are tried at most. House default."""
LEAST_CHANCE = 0.02
"""A change less likely than this is none. House default."""


def suspected(days: Ints, pull: Floats) -> list[int]:
    """The days from which on a model's sites pull another way than before, the most striking first. `days` and `pull`
    (mm⁻¹) are by site."""
    order = np.argsort(days, kind="stable")
    day, pulled = days[order], pull[order] - pull.mean()
    count = len(day)
    spread = math.sqrt(float(np.sum(pulled**2))) if count else 0.0
    if count < 2 * LEAST_SEEN or spread == 0:
        return []
    begins = np.arange(LEAST_SEEN, count - LEAST_SEEN + 1)
    begins = begins[day[begins - 1] < day[begins]]
    before = np.cumsum(pulled)[begins - 1]
    share = begins / count
    apart = np.abs(before) / (spread * np.sqrt(share * (1 - share)))
    best = np.argsort(-apart, kind="stable")[:LOOKED_AT]
    return [int(day[begins[i]]) for i in best if apart[i] > APART]


def changed_at(told: Mapping[int, float], days: Ints) -> Change | None:
    """The likeliest day and the chance that the model changed at all, from how much likelier each day of `told` makes
    what was seen than no change does (the logarithm)."""
    if not told:
        return None
    years = max(float(np.ptp(days)) / DAYS_A_YEAR, 0.25)
    prior = 1 - math.exp(-CHANGES_A_YEAR * years)
    of_days = max(len(np.unique(days)) - 1, 1)
    logs = {day: math.log(prior / of_days) + more for day, more in told.items()}
    most = max(0.0, *logs.values())
    changed = sum(math.exp(log - most) for log in logs.values())
    chance = changed / (changed + (1 - prior) * math.exp(-most))
    if chance < LEAST_CHANCE:
        return None
    return Change(max(logs, key=lambda d: logs[d]), chance)
