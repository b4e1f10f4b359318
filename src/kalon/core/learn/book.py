"""What was learned, laid over what a shelf is known to measure: sizes start from their maker's and model's habits."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace

import numpy as np

from ..match.shelf import Shelf, Shoe
from ..shoes.inner import SPREADS
from .offsets import Learned

Zones = dict[int, Learned]
"""By a zone's place among the four of a fit."""


@dataclass(frozen=True)
class Book:
    """What was learned up to a version: departures of makers and models from their labels, the insides of sizes that
    were tried or read, and how much models give against the table."""

    version: int = 0
    makers: Mapping[str, Zones] = field(default_factory=dict)
    models: Mapping[str, Zones] = field(default_factory=dict)
    """Maker's and model's together."""
    sizes: Mapping[str, Zones] = field(default_factory=dict)
    """Absolute, mm, by the id of a size."""
    gives: Mapping[str, float] = field(default_factory=dict)
    """Factor of the table's capacity, by model."""

    def of_model(self, maker: str, model: str, zone: int) -> Learned | None:
        """What a model departs from its label by, and of an unseen one of a known maker; none of an unknown maker."""
        known = self.models.get(model, {}).get(zone)
        if known:
            return known
        own = self.makers.get(maker, {}).get(zone)
        return own and Learned(mean_mm=own.mean_mm, sd_mm=math.hypot(own.sd_mm, SPREADS.model[zone]))

    def of_size(self, size: str, maker: str, model: str, zone: int, mm: float, sigma: float) -> tuple[float, float]:
        """The inside of a size and its spread, mm, given what the catalogue says of it."""
        known = self.sizes.get(size, {}).get(zone)
        if known and known.sd_mm < sigma:
            return known.mean_mm, known.sd_mm
        habit = self.of_model(maker, model, zone)
        if habit and label_only(sigma, zone):
            return mm + habit.mean_mm, math.hypot(habit.sd_mm, SPREADS.size[zone])
        return mm, sigma


NEAR = 0.004
"""A spread this near to a label's own is a label's."""


def label_only(sigma: float, zone: int) -> bool:
    """Whether a size's spread says that only its label is known."""
    return abs(sigma - SPREADS.whole(zone)) < NEAR


def laid_over(shoes: Sequence[Shoe], shelf: Shelf, book: Book, rows: Mapping[int, str]) -> tuple[list[Shoe], Shelf]:
    """Shoes and shelf with what was learned; `rows` names the sizes of those lines of which something is."""
    if not (book.makers or book.models or book.gives):
        return list(shoes), shelf
    inner, spread = shelf.inner.copy(), shelf.spread.copy()
    for zone in range(inner.shape[1]):
        habits = [book.of_model(s.maker, s.id, zone) for s in shoes]
        mean = np.array([h.mean_mm if h else 0.0 for h in habits])
        sd = np.array([math.hypot(h.sd_mm, SPREADS.size[zone]) if h else 0.0 for h in habits])
        moved = (np.abs(spread[:, zone] - SPREADS.whole(zone)) < NEAR) & (sd[shelf.shoe] > 0)
        inner[moved, zone] += mean[shelf.shoe[moved]]
        spread[moved, zone] = sd[shelf.shoe[moved]]
    for row, size in rows.items():
        for zone, known in book.sizes.get(size, {}).items():
            if known.sd_mm < shelf.spread[row, zone]:
                inner[row, zone], spread[row, zone] = known.mean_mm, known.sd_mm
    given = [replace(s, gives=book.gives.get(s.id, 1.0)) for s in shoes] if book.gives else list(shoes)
    return given, replace(shelf, inner=inner, sigma=spread)
