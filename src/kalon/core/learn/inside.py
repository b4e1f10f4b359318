"""One inside per size and version: what its label says, its maker's and model's habits, what was read of it and what
trials told of it, as one normal posterior a zone."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

from ..match.shelf import Shelf
from ..shoes.inner import SPREADS
from .given import Learned

Floats = NDArray[np.float64]
Zones = Mapping[int, Learned]
"""By a zone's place among the four of a fit."""
HABIT_VARIANCE = np.array(SPREADS.maker) ** 2 + np.array(SPREADS.model) ** 2
SIZE_VARIANCE = np.array(SPREADS.size) ** 2
WHOLE = np.sqrt(HABIT_VARIANCE + SIZE_VARIANCE)


@dataclass(frozen=True)
class Book:
    """What was learned up to a version: departures of makers and models from their labels, the insides of sizes that
    were tried, and how much models give against the table."""

    makers: Mapping[str, Zones] = field(default_factory=dict)
    models: Mapping[str, Zones] = field(default_factory=dict)
    """Maker's and model's together."""
    sizes: Mapping[str, Zones] = field(default_factory=dict)
    """Absolute, mm, by the id of a size; label, habits, readings and trials of then in one."""
    gives: Mapping[str, float] = field(default_factory=dict)
    """Factor of the table's capacity, by model."""

    def of_model(self, maker: str, model: str, zone: int) -> tuple[Learned | None, bool]:
        """What a model departs from its label by, and whether it was met itself: an unseen one of a known maker
        departs as that maker's do, with the spread between models; none of an unknown maker."""
        known = self.models.get(model, {}).get(zone)
        if known:
            return known, True
        own = self.makers.get(maker, {}).get(zone)
        return own and Learned(mean_mm=own.mean_mm, sd_mm=math.hypot(own.sd_mm, SPREADS.model[zone])), False


@dataclass(frozen=True)
class Read:
    """Readings of some sizes as one a zone: mm and one standard deviation, (n, 4); NaN where nothing was read."""

    mm: Floats
    sigma: Floats

    def part(self, rows: NDArray[np.intp] | NDArray[np.bool_]) -> Read:
        """Of some of the sizes."""
        return Read(self.mm[rows], self.sigma[rows])

    def told(self, label: Floats) -> tuple[Floats, Floats]:
        """Their precision, per mm², and what it is times how far they lie from the label, per mm; nought where none."""
        precision = np.nan_to_num(self.sigma**-2.0)
        return precision, precision * np.nan_to_num(self.mm - label)


@dataclass(frozen=True)
class Habits:
    """What was learned of some sizes, (n, 4), NaN where nothing was: what their models depart from the label by and
    whether the model itself was met, and the insides of those that were tried."""

    mean: Floats
    sd: Floats
    met: NDArray[np.bool_]
    tried: Floats
    tried_sd: Floats

    @classmethod
    def of(cls, book: Book, shoes: Sequence[tuple[str, str]], at: NDArray[np.intp], sizes: Mapping[int, str]) -> Habits:
        """From a book: maker and model of each shoe, which shoe each row is of, and the ids of the rows' sizes."""
        mean, sd = np.full((2, len(shoes), 4), np.nan)
        met = np.zeros((len(shoes), 4), dtype=bool)
        unmet: dict[str, tuple[list[float], list[float]]] = {}
        for place, (maker, model) in enumerate(shoes):
            if model in book.models:
                each = [book.of_model(maker, model, zone) for zone in range(4)]
                met[place] = [own for _, own in each]
                mean[place], sd[place] = _as_numbers([known for known, _ in each])
                continue
            if maker not in unmet:
                unmet[maker] = _as_numbers([book.of_model(maker, "", zone)[0] for zone in range(4)])
            mean[place], sd[place] = unmet[maker]
        tried, tried_sd = np.full((2, len(at), 4), np.nan)
        for row, size in sizes.items():
            for zone, found in book.sizes.get(size, {}).items():
                tried[row, zone], tried_sd[row, zone] = found.mean_mm, found.sd_mm
        return cls(mean[at], sd[at], met[at], tried, tried_sd)


def _as_numbers(known: Sequence[Learned | None]) -> tuple[list[float], list[float]]:
    """Means and spreads, mm; not a number where nothing is known."""
    return [k.mean_mm if k else math.nan for k in known], [k.sd_mm if k else math.nan for k in known]


def insides(label: Floats, now: Read, then: Read, habits: Habits) -> tuple[Floats, Floats]:
    """The inside of some sizes and one standard deviation, both (n, 4) mm.

    `label` is what the boxes say (n, 4), `now` what is read of each today, `then` what was when the habits were
    learned. Habits hold what was read then; so that no reading counts twice, a size's own is taken out of its model's
    habit before it is put to it. A size that was tried is known by all of then together: only what was read since is
    put to it, and what was set aside since is taken out.
    """
    read, push = now.told(label)
    was_read, was_push = then.told(label)
    known = ~np.isnan(habits.sd)
    precision = np.where(known, np.nan_to_num(habits.sd**-2.0), 1 / HABIT_VARIANCE)
    drawn = precision * np.where(known, np.nan_to_num(habits.mean), 0.0)
    through = np.where(habits.met, 1 / (1 + SIZE_VARIANCE * was_read), 0.0)
    other = np.maximum(precision - through * was_read, 1 / HABIT_VARIANCE)
    departs = (drawn - through * was_push) / other
    start = 1 / (1 / other + SIZE_VARIANCE)
    whole = start + read
    mean = (start * departs + push) / whole

    tried = ~np.isnan(habits.tried_sd)
    if tried.any():
        of_tried = np.nan_to_num(habits.tried_sd**-2.0)
        away = of_tried * np.nan_to_num(habits.tried - label) - was_push + push
        of_tried = np.maximum(of_tried - was_read + read, WHOLE**-2.0)
        mean, whole = np.where(tried, away / of_tried, mean), np.where(tried, of_tried, whole)
    return label + mean, whole**-0.5


@dataclass(frozen=True)
class Shelved:
    """Lines as they are kept, (n,) and (n, 4): which shoe each belongs to, its EU size, its id, what its box says, mm,
    and what was read of it."""

    shoe: NDArray[np.intp]
    label: Floats
    line_ids: Sequence[str]
    box: Floats
    read: Read

    def with_insides(self, book: Book, shoes: Sequence[tuple[str, str]], sizes: Mapping[int, str], then: Read) -> Shelf:
        """A shelf of them: what was learned put to what is kept. `sizes` names those rows of which something was."""
        habits = Habits.of(book, shoes, self.shoe, sizes)
        inner, sigma = insides(self.box, self.read, then, habits)
        return Shelf(self.shoe, self.label, inner, self.line_ids, sigma)
