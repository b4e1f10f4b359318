"""Rank a stockroom against a spec and a pair of feet: fit first, then the spec, with every place explained."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ..contract import Contract
from ..fit.chance import rough_worth
from ..fit.foot import FIT_ZONES, FootToFit
from ..fit.size import (
    HOPES,
    LEAST_CHANCE,
    LEAST_QUALITY,
    WORDS,
    ZONE_NAMES,
    FitWord,
    Gaps,
    Hope,
    WantedBand,
    doubt_at,
    fit_word,
    hope_of,
)  # fmt: skip
from ..house import HOUSE
from ..rules.engine import Spec
from ..rules.spec import fit_target
from .judged import Point, Ruled, judge, ruled, to_ask, vetoes_of
from .score import MetShares, met_shares
from .shelf import LineWants, Shelf, Shoe, in_size, line_gaps, lines_of, nearest_of

UNKNOWN = 0.5
"""What a shoe counts for against the spec when nothing of it is known, of 1. House default."""


class Ranked(Contract):
    """One shoe's place."""

    shoe_id: str
    line_id: str
    label: float
    score: float
    fit: float
    hope: Hope
    doubt: str
    chance: float
    spec: float | None
    """How well what is known of it meets the spec, 0…1."""
    known: float
    """How much of the spec that is, 0…1."""
    unknown: list[str]
    asks: list[str]
    """What has to be found out before it is pulled."""
    helps: list[Point]
    costs: list[Point]
    lift: str | None


class Ranking(Contract):
    """Shoes in order, as many as were asked for, of how many; and those ruled out."""

    places: list[Ranked]
    vetoed: list[Ruled]
    of: int = 0
    vetoed_of: int = 0


@dataclass(frozen=True)
class Weighed:
    """Lines of a shelf with their gaps; by shoe the row of its best size, how well it meets the spec, its score."""

    shelf: Shelf
    gaps: Gaps
    first: NDArray[np.intp]
    met: MetShares
    score: NDArray[np.float64]

    @property
    def quality(self) -> NDArray[np.float64]:
        """Quality of each shoe's best size."""
        found: NDArray[np.float64] = self.gaps.quality[self.first]
        return found


TOLD = 4
"""How many things that help, and that cost, are told of a place."""
NEAR_ENOUGH = 0.04
"""How far the quick estimate of a worth or score may be off; what it may have misplaced is weighed in full. Tested."""


def _rough_quality(shelf: Shelf, lines: LineWants, foot: FootToFit) -> NDArray[np.float64]:
    """About the quality of each line, (n,), in a fraction of the time of `line_gaps`."""
    gives = lines.capacity.copy()
    gives[lines.when_new, 0] = 0.0
    sigma = np.sqrt(foot.sigma**2 + shelf.spread**2)
    worth = rough_worth(shelf.inner - foot.larger, sigma, gives, lines.low, lines.high)
    found: NDArray[np.float64] = np.prod(worth, axis=1) ** (1 / len(FIT_ZONES))
    return found


def _best(shelf: Shelf, quality: NDArray[np.float64]) -> NDArray[np.intp]:
    """The row of each shoe's best line, shoe by shoe."""
    order = np.lexsort((-quality, shelf.shoe))
    found: NDArray[np.intp] = order[np.unique(shelf.shoe[order], return_index=True)[1]]
    return found


def _score(quality: NDArray[np.float64], met: MetShares, power: float) -> NDArray[np.float64]:
    share = np.where(np.isnan(met.share), UNKNOWN, met.share)
    found: NDArray[np.float64] = quality**power * share ** (1 - power)
    return found


def _weigh(shoes: Sequence[Shoe], shelf: Shelf, lines: LineWants, spec: Spec, foot: FootToFit, power: float) -> Weighed:
    """Score every shoe on the shelf, as arrays: the quality of its best size, and how well it meets the spec."""
    result = line_gaps(shelf, lines, foot)
    first = _best(shelf, result.quality)
    met = met_shares([shoes[i] for i in shelf.shoe[first]], shelf.label[first], spec)
    return Weighed(shelf, result, first, met, _score(result.quality[first], met, power))


def rank(
    shoes: Sequence[Shoe],
    shelf: Shelf,
    spec: Spec,
    foot: FootToFit,
    fit_power: float | None = None,
    cheapest: bool = False,
    most: int | None = None,
    nearness: Mapping[str, float] | None = None,
) -> Ranking:
    """Places of all shoes on the shelf, or of the `most` first. Fit is the quality of the size that promises most.

    `fit_power` is how much fit counts against the spec (the house's when not said); `cheapest` puts those that fit
    in order of price, the rest after them; `nearness`, by shoe, orders by that instead. Only what may be shown is
    weighed in full, and only what is shown is explained; of what is ruled out, too, the `most` first.
    """
    power = HOUSE["rank.fit_power"] if fit_power is None else fit_power
    if not len(shelf.shoe):
        return Ranking(places=[], vetoed=[])
    here = np.zeros(len(shoes), dtype=bool)
    here[shelf.shoe] = True
    out = {i: veto for i, veto in vetoes_of(shoes, spec).items() if here[i]}
    vetoed = [ruled(shoes[i], out[i], spec) for i in sorted(out)[:most]]
    here[list(out)] = False
    of = int(here.sum())
    if not of:
        return Ranking(places=[], vetoed=vetoed, vetoed_of=len(out))
    open_ = shelf.part(np.flatnonzero(here[shelf.shoe])) if out else shelf
    lines = lines_of(shoes, open_, spec)
    rows = nearest_of(open_, lines, foot)
    close, lines = open_.part(rows), lines.part(rows)
    if most is not None and of > most:
        rows = _worth_weighing(shoes, close, lines, spec, foot, power, cheapest, most, nearness)
        close, lines = close.part(rows), lines.part(rows)
    found = _weigh(shoes, close, lines, spec, foot, power)
    shown = [shoes[i] for i in found.shelf.shoe[found.first]]
    joint = found.gaps.joint[found.first]
    fits = (found.quality >= LEAST_QUALITY["should_fit"]) & (joint >= LEAST_CHANCE["should_fit"])

    def place(i: int) -> tuple[float, float, float, str]:
        score = -round(float(found.score[i]), 4)
        if nearness is not None:
            return -nearness[shown[i].id], 0.0, score, shown[i].id
        if cheapest:
            price = shown[i].price
            asked = 0.0 if not fits[i] else math.inf if price is None else price.whole
            return float(not fits[i]), asked, score, shown[i].id
        return score, 0.0, 0.0, shown[i].id

    order = sorted(range(len(shown)), key=place)[:most]
    targets = {kind: fit_target(spec, *kind).band() for kind in {shown[i].fits_as for i in order}}
    places = [_explained(shown[i], found, i, spec, targets[shown[i].fits_as]) for i in order]
    return Ranking(places=places, vetoed=vetoed, of=of, vetoed_of=len(out))


def _worth_weighing(
    shoes: Sequence[Shoe],
    close: Shelf,
    lines: LineWants,
    spec: Spec,
    foot: FootToFit,
    power: float,
    cheapest: bool,
    most: int,
    nearness: Mapping[str, float] | None,
) -> NDArray[np.intp]:
    """The rows of the shoes that may be among the `most` first, by a quick estimate and how far it may be off."""
    rough = _rough_quality(close, lines, foot)
    first = _best(close, rough)
    of = close.shoe[first]
    met = met_shares([shoes[i] for i in of], close.label[first], spec)
    score = _score(rough[first], met, power)
    if nearness is not None:
        score = np.array([nearness[shoes[i].id] for i in of])
    may = score >= np.partition(score, -most)[-most] - NEAR_ENOUGH
    if cheapest and nearness is None:
        may |= rough[first] >= LEAST_QUALITY["should_fit"] - NEAR_ENOUGH
    least = np.full(len(shoes), np.inf)
    least[of[may]] = rough[first][may] - NEAR_ENOUGH
    found: NDArray[np.intp] = np.flatnonzero(rough >= least[close.shoe])
    return found


def _explained(shoe: Shoe, found: Weighed, i: int, spec: Spec, target: WantedBand) -> Ranked:
    """One shoe's place in words: `i` counts the shoes of `found`."""
    row, result = int(found.first[i]), found.gaps
    label, fit = float(found.shelf.label[row]), float(result.quality[row])
    met = judge(in_size(shoe, label), spec, TOLD)
    helps, costs = met.helps, met.costs
    word, zone = _worst(result, row, target)
    hope = hope_of(fit, float(result.joint[row]))
    doubt = "" if hope == "should_fit" else _doubt(result, row, target)
    where = "snug in every zone" if word == "snug" else f"{WORDS[word]} at the {ZONE_NAMES[FIT_ZONES[zone]]}"
    text = f"Fit in this size: {HOPES[hope]}, {doubt or where}."
    points = helps if hope == "should_fit" else costs
    points.insert(0, Point(text=text, share=fit if hope == "should_fit" else 1 - fit))
    return Ranked(
        shoe_id=shoe.id,
        line_id=str(found.shelf.line_ids[row]),
        label=label,
        score=round(float(found.score[i]), 4),
        fit=round(fit, 4),
        hope=hope,
        doubt=doubt,
        chance=round(float(result.joint[row]), 4),
        spec=None if met.share is None else round(met.share, 4),
        known=round(met.known, 4),
        unknown=met.unknown,
        asks=to_ask(shoe, spec),
        helps=helps[:TOLD],
        costs=costs[:TOLD],
        lift=_lift(word, zone, fit, costs),
    )


def _doubt(result: Gaps, row: int, target: WantedBand) -> str:
    """The zone of a line that may disappoint most, and how."""
    zone = int(np.argmin(result.worth[row]))
    judged = result.new if target.judged_new(zone) else result.settled
    return doubt_at(float(judged[row, zone]), float(target.low[zone]), float(target.high[zone]), zone)


def _worst(result: Gaps, row: int, target: WantedBand) -> tuple[FitWord, int]:
    """The likeliest trouble of a line: the word and zone furthest from wanted, snug when all are."""
    found: tuple[FitWord, int] = ("snug", int(np.argmin(result.worth[row])))
    for zone in map(int, np.argsort(result.worth[row])):
        judged = result.new if target.judged_new(zone) else result.settled
        word = fit_word(float(judged[row, zone]), float(target.low[zone]), float(target.high[zone]), zone)
        if word != "snug":
            return word, zone
    return found


def _lift(word: str, zone: int, fit: float, costs: list[Point]) -> str | None:
    """The one change that would lift this shoe most."""
    if word != "snug" and fit < LEAST_QUALITY["should_fit"]:
        more = "less" if word == "slack" else "more"
        return f"A width or size with {more} room at the {ZONE_NAMES[FIT_ZONES[zone]]} would lift it most."
    return f"Without this it would stand higher: {costs[0].text}" if costs else None
