"""Shoes as far as ranking goes, a shelf of them as arrays, and the gaps of every line on it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ..fit.chance import SLACK_SPAN_MM, TIGHT_SPAN_MM
from ..fit.foot import FootToFit
from ..fit.size import SHOE_SIGMA_MM, Gaps, WantedBand, capacities, gaps
from ..fit.stretch import UPPERS, Build, Upper, give_of, settled_stretch
from ..money import Money
from ..rules.engine import Spec
from ..rules.scales import SLIPPER
from ..rules.spec import fit_target
from ..shoes.anatomy import Features
from .score import SAMPLE_EU

GIVES_AS: Upper = "synthetic"
"""What an upper nobody knows is taken to give as: the least. House default."""


@dataclass(frozen=True)
class Shoe:
    """A model as far as ranking goes. `upper` is what it gives as; whether that is known, `choices` says."""

    id: str
    sport: str
    upper: Upper
    build: Build
    reinforced: float
    properties: dict[str, float]
    choices: dict[str, str]
    price: Money | None = None
    """What it costs in the shop; none where nobody knows."""
    features: Features = field(default_factory=dict)
    maker: str = ""
    meant_for: tuple[str, ...] = ()
    """What it is said to be meant for; nothing where nobody said."""
    gives: float = 1.0
    """How much it gives against the table, as follow-ups have shown."""

    @property
    def fits_as(self) -> tuple[str, str]:
        """What its wanted room goes by: upper and closure."""
        return self.upper, self.choices.get("closure", "")


def sized(properties: dict[str, float], eu_label: float) -> dict[str, float]:
    """A model's properties in one size: its mass goes with the length squared."""
    mass = properties.get("mass_g")
    return properties if mass is None else properties | {"mass_g": round(mass * (eu_label / SAMPLE_EU) ** 2)}


def in_size(shoe: Shoe, eu_label: float) -> Shoe:
    """The shoe in one size."""
    return replace(shoe, properties=sized(shoe.properties, eu_label))


class _Some(Sequence[str]):
    """Some of many ids, looked up only where they are asked for."""

    def __init__(self, ids: Sequence[str], rows: NDArray[np.intp]) -> None:
        self._ids = ids
        self._rows = rows

    def __len__(self) -> int:
        return len(self._rows)

    def __getitem__(self, place: Any) -> Any:
        return self._ids[int(self._rows[place])]


@dataclass(frozen=True)
class Shelf:
    """Stock lines as arrays: which shoe each belongs to, its label, inner measures and how sure each is, one standard
    deviation, both (n, 4) mm (the usual ones of a measured shoe when not said)."""

    shoe: NDArray[np.intp]
    label: NDArray[np.float64]
    inner: NDArray[np.float64]
    line_ids: Sequence[str] = field(default_factory=list)
    sigma: NDArray[np.float64] | None = None

    @property
    def spread(self) -> NDArray[np.float64]:
        """One standard deviation of each inner measure, (n, 4) mm."""
        return np.broadcast_to(SHOE_SIGMA_MM, self.inner.shape) if self.sigma is None else self.sigma

    def part(self, rows: NDArray[np.intp]) -> Shelf:
        """Some of its lines."""
        return Shelf(self.shoe[rows], self.label[rows], self.inner[rows], _Some(self.line_ids, rows), self.spread[rows])


FAR_BELOW_MM, FAR_ABOVE_MM = 28.0, 34.0
"""So far outside the wanted length no line can be among the nearest of a shoe that has any within: four sizes and five.
House default."""


def near(spec: Spec, foot: FootToFit) -> tuple[float, float]:
    """Inner lengths, mm, between which the lines lie that may come into question."""
    bands = [fit_target(spec, upper, closure).band() for upper in UPPERS for closure in ("", SLIPPER)]
    low, high = min(b.low[0] for b in bands), max(b.high[0] for b in bands)
    return float(foot.larger[0] + low - FAR_BELOW_MM), float(foot.larger[0] + high + FAR_ABOVE_MM)


TRIED_SIZES = 3
"""How many sizes of a shoe are weighed in full: those whose expected room lies nearest to the wanted."""


@dataclass(frozen=True)
class LineWants:
    """What the gaps of a shelf need, by line: capacity and band, mm (n, 4), and whether length is judged new (n,)."""

    capacity: NDArray[np.float64]
    low: NDArray[np.float64]
    high: NDArray[np.float64]
    when_new: NDArray[np.bool_]
    spared: bool = False
    """Whether nothing may press: every zone is judged new."""

    def part(self, rows: NDArray[np.intp]) -> LineWants:
        """Of some of the lines."""
        return LineWants(self.capacity[rows], self.low[rows], self.high[rows], self.when_new[rows], self.spared)


def lines_of(shoes: Sequence[Shoe], shelf: Shelf, spec: Spec) -> LineWants:
    """Shoes of different uppers give differently and are judged against their own bands."""
    give = [give_of(s.upper, s.build) for s in shoes]
    free = np.array([(1 - s.reinforced) * s.gives for s in shoes])
    length = np.array([g.length_mm for g in give]) * free
    girth = np.array([g.girth_pct for g in give]) * free
    of_kind = {kind: fit_target(spec, *kind).band() for kind in {s.fits_as for s in shoes}}
    targets = [of_kind[s.fits_as] for s in shoes]
    return LineWants(
        capacity=capacities(length[shelf.shoe], girth[shelf.shoe], shelf.inner),
        low=np.stack([t.low for t in targets])[shelf.shoe],
        high=np.stack([t.high for t in targets])[shelf.shoe],
        when_new=np.array([t.length_when_new for t in targets])[shelf.shoe],
        spared=spec.unfelt,
    )


def nearest_lines(shoes: Sequence[Shoe], shelf: Shelf, spec: Spec, foot: FootToFit) -> NDArray[np.intp]:
    """The rows of the few lines of each shoe whose expected room lies nearest to the wanted, shoe by shoe."""
    return nearest_of(shelf, lines_of(shoes, shelf, spec), foot)


def nearest_of(shelf: Shelf, lines: LineWants, foot: FootToFit) -> NDArray[np.intp]:
    """The same, with what the lines need known."""
    new = shelf.inner - foot.larger
    judged = new + settled_stretch(-new, lines.capacity)
    judged[lines.when_new, 0] = new[lines.when_new, 0]
    judged = new if lines.spared else judged
    outside = np.maximum((lines.low - judged) / TIGHT_SPAN_MM, (judged - lines.high) / SLACK_SPAN_MM)
    middle = np.abs(judged - (lines.low + lines.high) / 2) / (lines.high - lines.low + 1)
    far = np.sum(np.maximum(outside, 0.0) ** 2, axis=1) + 0.01 * np.sum(middle**2, axis=1)
    order = np.lexsort((far, shelf.shoe))
    of = shelf.shoe[order]
    again = np.zeros(len(of), dtype=bool)  # another colour of the same size
    again[1:] = (of[1:] == of[:-1]) & (shelf.inner[order[1:]] == shelf.inner[order[:-1]]).all(axis=1)
    order, of = order[~again], of[~again]
    place = np.arange(len(of)) - np.searchsorted(of, of, side="left")
    return order[place < TRIED_SIZES]


def shelf_gaps(shoes: Sequence[Shoe], shelf: Shelf, spec: Spec, foot: FootToFit) -> Gaps:
    """Gaps of every line on the shelf, without the spread of where they settle."""
    return line_gaps(shelf, lines_of(shoes, shelf, spec), foot)


def line_gaps(shelf: Shelf, lines: LineWants, foot: FootToFit) -> Gaps:
    """Gaps of every line, with what the lines need known."""
    wanted = WantedBand(lines.low, lines.high, lines.when_new, lines.spared)
    return gaps(foot.larger, foot.sigma, shelf.inner, lines.capacity, wanted, shelf.spread, spread=False)
