"""A model that was changed and nobody said so: its verdicts all pull one way from some day on."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence

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


def _strikes(days: Ints, pull: Floats, begins: Ints) -> Floats:
    """By day of `begins` how far apart a zone's sites pull before it and from it on, in spreads, squared; as far as
    chance puts them where there are too few. `days` and `pull` (mm⁻¹) are by site."""
    off = pull - pull.mean()
    spread = float(np.sum(off**2))
    later = days[None, :] >= begins[:, None]
    after = later.sum(axis=1)
    enough = (after >= LEAST_SEEN) & (len(days) - after >= LEAST_SEEN)
    if spread == 0 or not enough.any():
        return np.ones(len(begins))
    share = after / len(days)
    with np.errstate(divide="ignore", invalid="ignore"):
        apart = (later @ off) ** 2 / (spread * share * (1 - share))
    return np.where(enough, apart, 1.0)


def suspected(begins: Ints, zones: Sequence[tuple[Ints, Floats]]) -> list[int]:
    """The days from which on a model's sites pull another way than before, the most striking first, of all its zones
    together; `zones` has the days and pulls (mm⁻¹) of each by site."""
    if not zones:
        return []
    apart = 1 + np.sum([_strikes(days, pull, begins) - 1 for days, pull in zones], axis=0)
    best = np.argsort(-apart, kind="stable")[:LOOKED_AT]
    return [int(begins[i]) for i in best if apart[i] > APART**2]


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
