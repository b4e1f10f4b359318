"""Rank a stockroom against a spec and a pair of feet: fit first, then the spec, with every place explained."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

from ..contract import Contract
from ..fit.foot import FIT_ZONES, FootToFit
from ..fit.size import WORDS, ZONE_NAMES, FitWord, Gaps, WantedBand, capacities, fit_word, gaps
from ..fit.stretch import Build, Upper, give_of
from ..house import HOUSE
from ..rules.engine import Spec, SpecBand
from ..rules.scales import CHOICE_WEIGHT, scale
from ..rules.spec import fit_target

CHEAP_FROM_FIT = 0.75
"""From here a pair counts as fitting when the cheapest that fits is wanted. House default."""
UNASKED = 0.1
"""What a value nobody asked for is worth, of 1. House default."""


@dataclass(frozen=True)
class Shoe:
    """A model as far as ranking goes."""

    id: str
    sport: str
    upper: Upper
    build: Build
    reinforced: float
    properties: dict[str, float]
    choices: dict[str, str]
    price_minor: int = 0


@dataclass(frozen=True)
class Shelf:
    """Stock lines as arrays: which shoe each belongs to, its label, and inner measures (n, 4) mm."""

    shoe: NDArray[np.intp]
    label: NDArray[np.float64]
    inner: NDArray[np.float64]
    line_ids: Sequence[str] = field(default_factory=list)


class Point(Contract):
    """One thing that helps or costs, in words, and how much of the spec it is."""

    text: str
    share: float


class Ranked(Contract):
    """One shoe's place."""

    shoe_id: str
    line_id: str
    label: float
    score: float
    fit: float
    chance: float
    spec: float
    helps: list[Point]
    costs: list[Point]
    lift: str | None


class Ruled(Contract):
    """A shoe that is out, and why."""

    shoe_id: str
    text: str
    rule: str
    mark: str


class Ranking(Contract):
    """Shoes in order, and those ruled out."""

    places: list[Ranked]
    vetoed: list[Ruled]


def membership(value: float, band: SpecBand, falloff: float) -> float:
    """1 inside the band, falling in a straight line to 0 at `falloff` outside it."""
    outside = max(band.low - value, value - band.high, 0.0)
    return max(1 - outside / falloff, 0.0)


def _amount(value: float, unit: str) -> str:
    return f"{value:g} {unit}".replace(" °", "°")


def judge(shoe: Shoe, spec: Spec) -> tuple[float, list[Point], list[Point]]:
    """How well a shoe meets the spec, 0…1, with what helps and what costs, weightiest first."""
    helps: list[Point] = []
    costs: list[Point] = []
    got = total = 0.0
    for name, band in spec.properties.items():
        drawn = scale(name, spec.sport)
        total += band.weight
        if name not in shoe.properties:
            costs.append(Point(text=f"{drawn.name} not known.", share=band.weight))
            continue
        value = shoe.properties[name]
        part = membership(value, band, drawn.falloff)
        got += band.weight * part
        if part >= 1:
            helps.append(Point(text=f"{drawn.name} {_amount(value, drawn.unit)}, as wanted.", share=band.weight))
        else:
            side = "below" if value < band.low else "above"
            by = band.low - value if value < band.low else value - band.high
            costs.append(
                Point(
                    text=f"{drawn.name} {_amount(value, drawn.unit)}: {_amount(round(by, 1), drawn.unit)} {side} "
                    f"{band.low:g}–{band.high:g}.",
                    share=band.weight * (1 - part),
                )
            )
    for name, ranked in spec.choices.items():
        weight = counted.weight if (counted := spec.choice_weights.get(name)) else CHOICE_WEIGHT[name]
        total += weight
        scores = {c.value: c.score for c in ranked}
        value_name = shoe.choices.get(name, "none")
        part = max(scores.get(value_name, 0.0), UNASKED)
        got += weight * part
        words = value_name.replace("_", " ")
        if part >= 0.85:
            helps.append(Point(text=f"{name.capitalize()}: {words}.", share=weight * part))
        else:
            best = ranked[0].value.replace("_", " ")
            costs.append(
                Point(text=f"{name.capitalize()}: {words}; {best} would serve best.", share=weight * (1 - part))
            )
    helps.sort(key=lambda p: -p.share)
    costs.sort(key=lambda p: -p.share)
    return (got / total if total else 1.0), helps, costs


def veto_of(shoe: Shoe, spec: Spec) -> Ruled | None:
    """The veto that rules a shoe out, if any."""
    for veto in spec.vetoes:
        if shoe.choices.get(veto.name) == veto.value:
            return Ruled(shoe_id=shoe.id, text=veto.text, rule=veto.rule, mark=veto.mark)
    return None


def shelf_gaps(shoes: Sequence[Shoe], shelf: Shelf, spec: Spec, foot: FootToFit) -> Gaps:
    """Gaps of every line on the shelf; shoes of different uppers are judged against their own bands."""
    give = [give_of(s.upper, s.build) for s in shoes]
    free = np.array([1 - s.reinforced for s in shoes])
    length = np.array([g.length_mm for g in give]) * free
    girth = np.array([g.girth_pct for g in give]) * free
    capacity = capacities(length[shelf.shoe], girth[shelf.shoe], shelf.inner)
    targets = [fit_target(spec, s.upper).band() for s in shoes]
    shape = (len(shelf.shoe), len(FIT_ZONES))
    found = Gaps(np.empty(shape), np.empty(shape), np.empty(shape), np.empty(shape), np.empty(shape[0]))
    for when_new in (False, True):
        of_kind = np.array([t.length_when_new == when_new for t in targets])[shelf.shoe]
        if not of_kind.any():
            continue
        index = shelf.shoe[of_kind]
        wanted = type(targets[0])(
            np.stack([t.low for t in targets])[index], np.stack([t.high for t in targets])[index], when_new
        )
        part = gaps(foot.larger, foot.sigma, shelf.inner[of_kind], capacity[of_kind], wanted)
        for whole, piece in zip(
            (found.new, found.settled, found.sigma, found.chance, found.joint),
            (part.new, part.settled, part.sigma, part.chance, part.joint),
            strict=True,
        ):
            whole[of_kind] = piece
    return found


def rank(
    shoes: Sequence[Shoe],
    shelf: Shelf,
    spec: Spec,
    foot: FootToFit,
    fit_power: float | None = None,
    cheapest: bool = False,
) -> Ranking:
    """Places of all shoes on the shelf. Fit is the likeliest size's joint chance, as a mean per zone.

    `fit_power` is how much fit counts against the spec (the house's when not said); `cheapest` puts those that fit
    in order of price, the rest after them.
    """
    power = HOUSE["rank.fit_power"] if fit_power is None else fit_power
    vetoed = [v for s in shoes if (v := veto_of(s, spec))]
    out = {v.shoe_id for v in vetoed}
    if not len(shelf.shoe):
        return Ranking(places=[], vetoed=vetoed)
    result = shelf_gaps(shoes, shelf, spec, foot)
    order = np.lexsort((-result.joint, shelf.shoe))
    first = order[np.unique(shelf.shoe[order], return_index=True)[1]]
    places = []
    for row in first:
        shoe = shoes[shelf.shoe[row]]
        if shoe.id in out:
            continue
        chance = float(result.joint[row])
        fit = chance ** (1 / len(FIT_ZONES))
        meets, helps, costs = judge(shoe, spec)
        score = fit**power * meets ** (1 - power)
        target = fit_target(spec, shoe.upper).band()
        word, zone = _worst(result, int(row), target)
        where = "snug in every zone" if word == "snug" else f"{WORDS[word]} at the {ZONE_NAMES[FIT_ZONES[zone]]}"
        text = f"Fit in EU {float(shelf.label[row]):g}: {where}, {chance * 100:.0f} in 100 as wanted."
        points = helps if word == "snug" else costs
        points.insert(0, Point(text=text, share=fit if word == "snug" else 1 - fit))
        places.append(
            Ranked(
                shoe_id=shoe.id,
                line_id=str(shelf.line_ids[row]),
                label=float(shelf.label[row]),
                score=round(score, 4),
                fit=round(fit, 4),
                chance=round(chance, 4),
                spec=round(meets, 4),
                helps=helps[:4],
                costs=costs[:4],
                lift=_lift(word, zone, fit, costs),
            )
        )
    price = {shoe.id: shoe.price_minor for shoe in shoes}
    places.sort(key=lambda p: (-p.score, p.shoe_id))
    if cheapest:
        places.sort(key=lambda p: (p.fit < CHEAP_FROM_FIT, price[p.shoe_id] if p.fit >= CHEAP_FROM_FIT else 0))
    return Ranking(places=places, vetoed=vetoed)


def _worst(result: Gaps, row: int, target: WantedBand) -> tuple[FitWord, int]:
    """The likeliest trouble of a line: the word and zone furthest from wanted, snug when all are."""
    found: tuple[FitWord, int] = ("snug", int(np.argmin(result.chance[row])))
    for zone in map(int, np.argsort(result.chance[row])):
        judged = result.new if zone == 0 and target.length_when_new else result.settled
        word = fit_word(float(judged[row, zone]), float(target.low[zone]), float(target.high[zone]), zone)
        if word != "snug":
            return word, zone
    return found


def _lift(word: str, zone: int, fit: float, costs: list[Point]) -> str | None:
    """The one change that would lift this shoe most."""
    if word != "snug" and fit < 0.75:
        more = "less" if word == "slack" else "more"
        return f"A width or size with {more} room at the {ZONE_NAMES[FIT_ZONES[zone]]} would lift it most."
    return f"Without this it would stand higher: {costs[0].text}" if costs else None
