"""What the inside of a size is made of beside its label: its maker's habit, its model's, the size's own; over time.

A model made on another last is another model under its maker. What nobody tells drifts: a model's habit walks from one
half-year to the next, and may have changed at a day that the verdicts give away (`changes.py`).
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date

import numpy as np

from .observe import Floats, Ints
from .state import NO_EFFECT, PARTS, Effects

WALK_MM = 0.5
"""How far a model's habit drifts in a year untold, one standard deviation; with the root of time. House default."""
EPOCH_DAYS = 182
"""A habit is taken to stand still for so long. House default."""
DAYS_A_YEAR = 365.25


@dataclass(frozen=True)
class Spread:
    """One standard deviation, mm: of makers, of models within one, of sizes within a model."""

    maker: float
    model: float
    line: float


@dataclass(frozen=True)
class Site:
    """Where something was seen: of which line, on which last, when (days; none is now), and by whom."""

    line: int
    last: str
    day: int | None
    fitter: int


@dataclass(frozen=True)
class Change:
    """A day from which on a model may be another, and how likely that is."""

    day: int
    chance: float


Model = tuple[str, str]
"""A model on a last: its name, and the last's."""


@dataclass(frozen=True)
class Bands:
    """What is known of the fitters' bands before: mean, mm, and precision, mm⁻², of how far each feels room larger."""

    mean: Floats
    precision: Floats


@dataclass(frozen=True)
class Laid:
    """Effects, and where each thing stands in them: the cell of every site and of every line as it is now; makers,
    fitters and models (as they are now) among the effects."""

    effects: Effects
    site: Ints
    now: Ints
    makers: dict[str, int]
    models: dict[Model, int]
    fitters: int


def day_of(on: date | None) -> int | None:
    """A day as a number; none stays none."""
    return None if on is None else on.toordinal()


def _epochs(days: Sequence[int], change: Change | None) -> list[int]:
    """The days on which a model's epochs begin, the first at its first day. One in which nothing was seen is none: its
    walk is the next one's too."""
    first = min(days, default=0)
    if not change:
        return sorted({first + (day - first) // EPOCH_DAYS * EPOCH_DAYS for day in days} | {first})
    begins = sorted({*range(first, max(days, default=0) + 1, EPOCH_DAYS), change.day})
    seen = set(np.searchsorted(begins, list(days), side="right").tolist())
    return [day for n, day in enumerate(begins, 1) if n in seen or day in (begins[0], change.day)]


def lay(
    maker: Sequence[str], model: Sequence[str], last: Sequence[str], sites: Sequence[Site], tried: set[int],
    spread: Spread, fitters: Bands, changes: dict[Model, Change],
) -> Laid:  # fmt: skip
    """The effects of some lines (maker, model and the last they are on now, of each) and of what was seen of them.

    `tried` are the lines somebody had on; what is only read has its own departure taken out, that there be fewer."""
    makers = {name: i for i, name in enumerate(sorted(set(maker)))}
    days: dict[Model, list[int]] = {(m, la): [] for m, la in zip(model, last, strict=True)}
    for site in sites:
        key = (model[site.line], site.last)
        days.setdefault(key, [])
        if site.day is not None:
            days[key].append(site.day)
    of_maker = {m: makers[k] for m, k in zip(model, maker, strict=True)}
    precision: list[tuple[int, int, float]] = [(i, i, spread.maker**-2) for i in makers.values()]
    count = len(makers)
    first: dict[Model, int] = {}
    begins: dict[Model, list[int]] = {}
    for key in sorted(days):
        begins[key] = _epochs(days[key], changes.get(key))
        first[key] = count
        precision.append((count, count, spread.model**-2))
        for n, (before, day) in enumerate(zip(begins[key], begins[key][1:], strict=False)):
            walk = WALK_MM**2 * (day - before) / DAYS_A_YEAR
            change = changes.get(key)
            if change and day == change.day:
                walk += change.chance * 2 * spread.model**2
            tight, at = 1 / walk, count + n
            precision += [(at, at, tight), (at + 1, at + 1, tight), (at, at + 1, -tight), (at + 1, at, -tight)]
        count += len(begins[key])
    own: dict[tuple[int, str], int] = {}
    for site in sites:
        if site.line in tried and (site.line, site.last) not in own:
            own[site.line, site.last] = count
            precision.append((count, count, spread.line**-2))
            count += 1
    who = count
    count += len(fitters.precision)

    cells: dict[tuple[int, str, int, int], int] = {}
    rows: list[list[int]] = []
    alone: list[float] = []

    def cell(line: int, la: str, day: int | None, fitter: int) -> int:
        key = (model[line], la)
        at = len(begins[key]) - 1 if day is None else int(np.searchsorted(begins[key], day, side="right")) - 1
        name = (line, la, at, fitter)
        if name not in cells:
            cells[name] = len(rows)
            row = [of_maker[model[line]], first[key] + at]
            mine = own.get((line, la))
            if mine is not None:
                row.append(mine)
            if fitter >= 0:
                row.append(who + fitter)
            rows.append(row)
            alone.append(0.0 if mine is not None else spread.line**2)
        return cells[name]

    at_site = np.array([cell(s.line, s.last, s.day, s.fitter) for s in sites], dtype=np.intp)
    now = np.array([cell(i, la, None, -1) for i, la in enumerate(last)], dtype=np.intp)
    of = np.full((len(rows), PARTS), NO_EFFECT, dtype=np.intp)
    for i, row in enumerate(rows):
        of[i, : len(row)] = row
    whole: Floats = np.zeros((count, count))
    for a, b, value in precision:
        whole[a, b] += value
    them = np.arange(who, count)
    whole[them, them] = fitters.precision
    mean = np.zeros(count)
    mean[who:] = fitters.mean
    return Laid(
        effects=Effects(of=of, own=np.array(alone), mean=mean, precision=whole),
        site=at_site,
        now=now,
        makers=makers,
        models={key: first[key] + len(begins[key]) - 1 for key in first},
        fitters=who,
    )
