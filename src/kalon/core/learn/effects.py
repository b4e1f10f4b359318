"""What the inside of a size is made of beside its label: its maker's habit, its model's, the size's own; over time.

A model made on another last is another model under its maker. What nobody tells drifts: a model's habit walks from one
half-year to the next, and may have changed at a day that the verdicts give away (`changes.py`).
"""

from __future__ import annotations

import itertools
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date

import numpy as np
from numpy.typing import NDArray

from .linear import CORE, NO_EFFECT, PARTS, Effects
from .observe import Floats, Ints

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


NOW = -1
"""The day of what has none: it is of what there is now."""


@dataclass(frozen=True)
class Places:
    """Where things were seen, (n,) each: of which line, on which last (its place among names), on which day (a number,
    or `NOW`), and by whom (or nobody, below nought)."""

    line: Ints
    last: Ints
    day: Ints
    fitter: Ints


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


def day_of(on: date | None) -> int:
    """A day as a number; none is `NOW`."""
    return NOW if on is None else on.toordinal()


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
    maker: Sequence[str], model: Sequence[str], last: Sequence[str], lasts: Sequence[str], sites: Places,
    tried: NDArray[np.bool_], spread: Spread, fitters: Bands, changes: Mapping[Model, Change],
) -> Laid:  # fmt: skip
    """The effects of some lines (maker, model and the last they are on now, of each) and of what was seen of them, on
    `lasts`, which those of the lines are among.

    `tried` are the lines somebody had on; what is only read has its own departure taken out, that there be fewer."""
    makers = {name: i for i, name in enumerate(sorted(set(maker)))}
    models, kinds = sorted(set(model)), sorted(set(lasts))
    model_at, last_at = {n: i for i, n in enumerate(models)}, {n: i for i, n in enumerate(kinds)}
    named = np.array([last_at[n] for n in lasts], dtype=np.intp)
    of_model = np.array([model_at[m] for m in model], dtype=np.intp)
    now_last = np.array([last_at[n] for n in last], dtype=np.intp)
    on_last = named[sites.last] if len(sites.line) else sites.line
    wide = max(len(kinds), 1)
    code, now_code = of_model[sites.line] * wide + on_last, of_model * wide + now_last
    keys, place = np.unique(np.concatenate([now_code, code]), return_inverse=True)
    now_key, key = place[: len(model)], place[len(model) :]
    epochs = _Epochs.of([(models[k // wide], kinds[k % wide]) for k in keys.tolist()], key, sites.day, changes)

    own_code = sites.line * wide + on_last
    own_names, at = np.unique(own_code[tried[sites.line]], return_index=True)
    key_of_own = key[tried[sites.line]][at]
    first = len(makers)
    own_first = first + epochs.count
    who = own_first + len(own_names)
    count = who + len(fitters.precision)

    begins = max(epochs.most, 1)
    people = len(fitters.precision) + 1
    line = np.concatenate([sites.line, np.arange(len(model), dtype=np.intp)])
    on = np.concatenate([on_last, now_last])
    epoch = np.concatenate([epochs.at(key, sites.day), epochs.at(now_key, np.full(len(model), NOW))])
    by = np.concatenate([np.maximum(sites.fitter, -1), np.full(len(model), -1, dtype=np.intp)])
    names = ((line * wide + on) * begins + epoch) * people + by + 1
    _, at, cell = np.unique(names, return_index=True, return_inverse=True)
    line, on, epoch, by = line[at], on[at], epoch[at], by[at]
    of = np.full((len(at), PARTS), NO_EFFECT, dtype=np.intp)
    of[:, 0] = np.array([makers[n] for n in maker], dtype=np.intp)[line]
    of[:, 1] = first + epochs.first[np.concatenate([key, now_key])[at]] + epoch
    mine = np.searchsorted(own_names, line * wide + on)
    has = np.zeros(len(at), dtype=bool)
    if len(own_names):
        has = own_names[np.minimum(mine, len(own_names) - 1)] == line * wide + on
    of[has, 2] = own_first + mine[has]
    of[by >= 0, 3] = who + by[by >= 0]

    whole = np.zeros((count, count))
    diagonal = np.arange(count)
    whole[diagonal, diagonal] = np.concatenate(
        [np.full(first, spread.maker**-2.0), np.zeros(epochs.count), np.full(len(own_names), spread.line**-2.0),
         fitters.precision]
    )  # fmt: skip
    epochs.walk(whole, first, spread)
    mean = np.zeros(count)
    mean[who:] = fitters.mean
    return Laid(
        effects=Effects(
            of=of,
            own=np.where(has, 0.0, spread.line**2),
            mean=mean,
            precision=whole,
            block=np.concatenate(
                [np.full(first, CORE), epochs.of_key, key_of_own, np.full(len(fitters.precision), CORE)]
            ),
        ),
        site=cell[: len(sites.line)],
        now=cell[len(sites.line) :],
        makers=makers,
        models={
            n: first + f + len(b) - 1
            for n, f, b in zip(epochs.names, epochs.first.tolist(), epochs.begins, strict=True)
        },
        fitters=who,
    )


@dataclass(frozen=True)
class _Epochs:
    """The half-years of models: of each its name, the days its epochs begin on, the number of the first among all."""

    names: list[Model]
    begins: list[list[int]]
    first: Ints
    changes: Mapping[Model, Change]

    @classmethod
    def of(cls, names: list[Model], key: Ints, day: Ints, changes: Mapping[Model, Change]) -> _Epochs:
        """Of models `names`, each site being of model `key` on a `day`."""
        dated = day != NOW
        seen = np.unique(np.stack([key[dated], day[dated]], axis=1), axis=0)
        ends = np.searchsorted(seen[:, 0], np.arange(len(names)), side="right")
        days = np.split(seen[:, 1], ends[:-1]) if len(names) else []
        begins = [_epochs(of.tolist(), changes.get(name)) for name, of in zip(names, days, strict=True)]
        counts = np.array([len(b) for b in begins], dtype=np.intp)
        return cls(names, begins, np.cumsum(counts) - counts, changes)

    @property
    def of_key(self) -> Ints:
        """By epoch which model it is of."""
        return np.repeat(np.arange(len(self.begins)), [len(b) for b in self.begins])

    @property
    def count(self) -> int:
        return sum(map(len, self.begins))

    @property
    def most(self) -> int:
        return max(map(len, self.begins), default=0)

    def at(self, key: Ints, day: Ints) -> Ints:
        """Which of its model's epochs each day is in; `NOW` in the last."""
        far = 10_000_000
        every = np.array([k * far + b for k, of in enumerate(self.begins) for b in of], dtype=np.intp)
        when = np.where(day == NOW, far - 1, day)
        return np.asarray(np.searchsorted(every, key * far + when, side="right") - 1 - self.first[key])

    def walk(self, precision: Floats, first: int, spread: Spread) -> None:
        """Write how models depart and drift into the precision of all effects, theirs beginning at `first`."""
        for name, begins, own in zip(self.names, self.begins, self.first.tolist(), strict=True):
            precision[first + own, first + own] += spread.model**-2
            for n, (before, day) in enumerate(itertools.pairwise(begins)):
                walk = WALK_MM**2 * (day - before) / DAYS_A_YEAR
                change = self.changes.get(name)
                if change and day == change.day:
                    walk += change.chance * 2 * spread.model**2
                at = first + own + n
                precision[at : at + 2, at : at + 2] += np.array([[1, -1], [-1, 1]]) / walk
