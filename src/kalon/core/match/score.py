"""How well shoes meet a spec, as arrays: the numbers of `rank.judge` for a whole shelf at once, without its words."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Protocol, TypeVar

import numpy as np
from numpy.typing import NDArray

from ..rules.engine import Spec, SpecBand
from ..rules.scales import CHOICE_WEIGHT, scale
from ..shoes.anatomy import Features
from ..shoes.meant import MEANT_WEIGHT, serves

Floats = NDArray[np.float64]
Value = TypeVar("Value", float, Floats)

UNASKED = 0.1
"""What a value nobody asked for is worth, of 1. House default."""
SAMPLE_EU = 42.0
"""The size a model's mass is of. House default."""


class Known(Protocol):
    """What is known of a shoe."""

    @property
    def properties(self) -> dict[str, float]:
        """Its numbers."""

    @property
    def choices(self) -> dict[str, str]:
        """Its kinds."""

    @property
    def features(self) -> Features:
        """What it has and hasn't."""

    @property
    def meant_for(self) -> tuple[str, ...]:
        """What it is said to be meant for."""


@dataclass(frozen=True)
class MetShares:
    """By shoe, (n,): the share met of what is known of it, 0…1 (nan where nothing is), and how much that is."""

    share: Floats
    known: Floats


def membership(value: Value, band: SpecBand, falloff: float) -> Value:
    """1 inside the band, falling in a straight line to 0 at `falloff` outside it; element-wise."""
    outside = np.maximum(np.maximum(band.low - value, value - band.high), 0.0)
    found: Value = np.maximum(1 - outside / falloff, 0.0)
    return found


def met_shares(shoes: Sequence[Known], label: Floats, spec: Spec) -> MetShares:
    """Hold shoes, each in one size (EU labels, (n,)), against a spec. What isn't known of one leaves its total."""
    got, counted = np.zeros(len(shoes)), np.zeros(len(shoes))
    total = 0.0
    for name, band in spec.properties.items():
        values = np.array([s.properties.get(name, np.nan) for s in shoes], dtype=float)
        if name == "mass_g":
            values = np.round(values * (label / SAMPLE_EU) ** 2)
        total += _add(got, counted, band.weight, membership(values, band, scale(name, spec.sport).falloff))
    for name, ranked in spec.choices.items():
        weight = moved.weight if (moved := spec.choice_weights.get(name)) else CHOICE_WEIGHT[name]
        worth = {c.value: max(c.score, UNASKED) for c in ranked}
        part = [worth.get(v, UNASKED) if (v := s.choices.get(name)) is not None else np.nan for s in shoes]
        total += _add(got, counted, weight, np.array(part, dtype=float))
    for name, wished in spec.features.items():
        wanted = wished.wish != "avoid"
        part = [float(has == wanted) if (has := s.features.get(name)) is not None else np.nan for s in shoes]
        total += _add(got, counted, wished.weight, np.array(part, dtype=float))
    meant = _as_meant(shoes, spec)
    _add(got, counted, MEANT_WEIGHT, meant)
    whole = total + np.where(np.isnan(meant), 0.0, MEANT_WEIGHT)  # where nobody said, nothing is missing
    with np.errstate(invalid="ignore", divide="ignore"):
        share, known = np.where(counted > 0, got / counted, np.nan), counted / whole
    return MetShares(np.where(whole > 0, share, 1.0), np.where(whole > 0, known, 1.0))


def _as_meant(shoes: Sequence[Known], spec: Spec) -> Floats:
    """1 where a shoe is meant for what is asked, 0 where for something else, nan where nobody said."""
    found = np.full(len(shoes), np.nan)
    if spec.asked_for:
        worth = {None: np.nan, "yes": 1.0, "no": 0.0, "never": 0.0}
        of: dict[tuple[str, ...], float] = {}
        for i, shoe in enumerate(shoes):
            if meant := shoe.meant_for:
                if meant not in of:
                    of[meant] = worth[serves(meant, spec.asked_for)]
                found[i] = of[meant]
    return found


def _add(got: Floats, counted: Floats, weight: float, part: Floats) -> float:
    """Count one thing in, where it is known; its weight, for the whole."""
    known = ~np.isnan(part)
    counted[known] += weight
    got[known] += weight * part[known]
    return weight
