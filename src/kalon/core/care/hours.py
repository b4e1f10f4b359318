"""How many hours a pair was worn: what was logged, and for weeks in which nobody logs, what is usual a week."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta

KEEPS_LOGGING = timedelta(days=21)
"""Whoever logged so short a time ago still logs; a longer silence is reckoned by sessions a week. House default."""


@dataclass(frozen=True)
class HoursWorn:
    """Hours logged, and hours reckoned for the days nobody logged."""

    logged_h: float
    reckoned_h: float

    @property
    def total_h(self) -> float:
        """Both together."""
        return self.logged_h + self.reckoned_h


def hours_worn(
    begun_on: date, until: date, hours_per_week: float, logged: Sequence[tuple[date, float]],
    told: tuple[date, float] | None = None,
) -> HoursWorn:  # fmt: skip
    """Hours a pair was worn from its first day until a day.

    `logged` are days and minutes. Between two entries, and for three weeks after one, the log counts alone; before the
    first, and after a longer silence, sessions a week count. What somebody told it had by a day (`told`, hours) stands
    for all before it."""
    if told is not None and told[0] <= until:
        since = hours_worn(told[0], until, hours_per_week, [(on, m) for on, m in logged if on > told[0]])
        return HoursWorn(told[1] + since.logged_h, since.reckoned_h)
    entries = sorted((on, minutes) for on, minutes in logged if begun_on <= on <= until)
    at = begun_on
    silent, logs = 0, False
    for on, _ in entries:
        silent += (on - at).days if not logs or on - at > KEEPS_LOGGING else 0
        at, logs = on, True
    silent += (until - at).days if until > at and (not logs or until - at > KEEPS_LOGGING) else 0
    return HoursWorn(sum(m for _, m in entries) / 60, silent / 7 * hours_per_week)
