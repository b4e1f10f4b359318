"""Rank a stockroom against a spec and a pair of feet: fit first, then the spec, with every place explained."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from functools import partial
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ..contract import Contract
from ..fit.chance import SLACK_SPAN_MM, TIGHT_SPAN_MM, rough_worth
from ..fit.foot import FIT_ZONES, FootToFit
from ..fit.size import (
    HOPES,
    LEAST_QUALITY,
    SHOE_SIGMA_MM,
    WORDS,
    ZONE_NAMES,
    FitWord,
    Gaps,
    Hope,
    WantedBand,
    capacities,
    doubt_at,
    fit_word,
    gaps,
    hope_of,
)
from ..fit.stretch import UPPERS, Build, Upper, give_of, settled_stretch
from ..house import HOUSE
from ..rules.aloud import short_word
from ..rules.changes import CHOICE_NAMES, value_word
from ..rules.engine import Spec, SpecBand, SpecVeto, Wish
from ..rules.scales import CHOICE_WEIGHT, scale
from ..rules.spec import fit_target
from ..shoes.anatomy import FEATURES, Features
from .score import SAMPLE_EU, UNASKED, MetShares, met_shares

UNKNOWN = 0.5
"""What a shoe counts for against the spec when nothing of it is known, of 1. House default."""
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
    price_minor: int | None = 0
    """None where nobody knows."""
    features: Features = field(default_factory=dict)
    maker: str = ""
    gives: float = 1.0
    """How much it gives against the table, as follow-ups have shown."""


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


class Ruled(Contract):
    """A shoe that is out, and why."""

    shoe_id: str
    text: str
    rule: str
    mark: str


class Ranking(Contract):
    """Shoes in order, as many as were asked for, of how many; and those ruled out."""

    places: list[Ranked]
    vetoed: list[Ruled]
    of: int = 0
    vetoed_of: int = 0


def _amount(value: float, unit: str) -> str:
    return f"{value:g} {unit}".replace(" °", "°").replace("-", "−")


def _as_wanted(name: str, value: float, sport: str) -> str:
    """A property in its band, in a hand's words first: "Downturn: a strong hook, as wanted (20°)."."""
    drawn = scale(name, sport)
    word, amount = short_word(name, value, value, sport), _amount(value, drawn.unit)
    return f"{drawn.name}: {word}, as wanted ({amount})." if word else f"{drawn.name} {amount}, as wanted."


def _off(name: str, value: float, band: SpecBand, sport: str) -> str:
    """A property outside its band: what the hand finds, what was wanted, and by how much."""
    drawn = scale(name, sport)
    side = "below" if value < band.low else "above"
    by = round(band.low - value if value < band.low else value - band.high, 2)
    ends = f"{band.low:g} to {band.high:g}" if band.low < 0 else f"{band.low:g}–{band.high:g}"
    amount = f"{_amount(by, drawn.unit)} {side} {ends}".replace("-", "−")
    found, wanted = (short_word(name, *ends, sport) for ends in ((value, value), (band.low, band.high)))
    if not found:
        return f"{drawn.name} {_amount(value, drawn.unit)}: {amount}."
    said = f"{found}, a little {side} the wanted" if found == wanted else f"{found}; wanted: {wanted}"
    return f"{drawn.name}: {said} ({_amount(value, drawn.unit)}, {amount})."


@dataclass(frozen=True)
class Met:
    """How well a shoe meets a spec: the share of what is known of it, 0…1 (none where nothing is), how much of the
    spec that is, what helps and what costs, weightiest first, and the names of what isn't known."""

    share: float | None
    known: float
    helps: list[Point]
    costs: list[Point]
    unknown: list[str]


def judge(shoe: Shoe, spec: Spec, told: int | None = None) -> Met:
    """Hold a shoe against a spec. What isn't known of it neither helps nor costs: it leaves the total.

    Of what helps and what costs the weightiest `told` are put in words, or all."""
    helps: list[tuple[float, Callable[[], str]]] = []
    costs: list[tuple[float, Callable[[], str]]] = []
    unknown: list[tuple[float, str]] = []
    got = counted = total = 0.0
    for name, band in spec.properties.items():
        drawn = scale(name, spec.sport)
        total += band.weight
        if name not in shoe.properties:
            unknown.append((band.weight, drawn.name))
            continue
        value = shoe.properties[name]
        part = max(1 - max(band.low - value, value - band.high, 0.0) / drawn.falloff, 0.0)
        counted += band.weight
        got += band.weight * part
        if part >= 1:
            helps.append((band.weight, partial(_as_wanted, name, value, spec.sport)))
        else:
            costs.append((band.weight * (1 - part), partial(_off, name, value, band, spec.sport)))
    for name, ranked in spec.choices.items():
        weight = moved.weight if (moved := spec.choice_weights.get(name)) else CHOICE_WEIGHT[name]
        total += weight
        if name not in shoe.choices:
            unknown.append((weight, CHOICE_NAMES[name]))
            continue
        has = shoe.choices[name]
        part = max(next((c.score for c in ranked if c.value == has), 0.0), UNASKED)
        counted += weight
        got += weight * part
        if part >= 0.85:
            helps.append((weight * part, partial(_choice, name, has)))
        else:
            costs.append((weight * (1 - part), partial(_choice, name, has, ranked[0].value)))
    for name, wished in spec.features.items():
        total += wished.weight
        there = shoe.features.get(name)
        if there is None:
            unknown.append((wished.weight, FEATURES[name].name))
            continue
        counted += wished.weight
        if there != (wished.wish == "avoid"):
            got += wished.weight
            if there:
                helps.append((wished.weight, partial(_feature_help, name)))
        else:
            costs.append((wished.weight, partial(_feature_cost, name, wished.wish)))
    unknown.sort(key=lambda u: -u[0])
    return Met(
        share=got / counted if counted else None if total else 1.0,
        known=counted / total if total else 1.0,
        helps=_in_words(helps, told),
        costs=_in_words(costs, told),
        unknown=[name for _, name in unknown],
    )


def _in_words(points: list[tuple[float, Callable[[], str]]], told: int | None) -> list[Point]:
    """The weightiest points, said."""
    points.sort(key=lambda p: -p[0])
    return [Point(text=say(), share=share) for share, say in points[:told]]


def _choice(name: str, has: str, best: str | None = None) -> str:
    """A kind as wanted, or beside the best of it."""
    words = f"{CHOICE_NAMES[name]}: {value_word(has)}"
    return f"{words}; best {value_word(best)}." if best else f"{words}."


def _feature_help(name: str) -> str:
    return f"{FEATURES[name].name}: {FEATURES[name].does}."


def _feature_cost(name: str, wish: Wish) -> str:
    """What is said of a shoe that lacks a feature, or has one better done without."""
    feature = FEATURES[name]
    if wish == "avoid":
        return f"{feature.name}: better without; it {feature.does}."
    return f"{feature.name}: it has none; it {feature.does}."


def to_ask(shoe: Shoe, spec: Spec) -> list[str]:
    """What has to be found out before a shoe is pulled: what isn't known of it and could rule it out."""
    out: dict[str, list[str]] = {}
    for veto in spec.vetoes:
        if veto.name not in shoe.choices:
            out.setdefault(veto.name, []).append(value_word(veto.value).lower())
    return [
        f"{CHOICE_NAMES[name]} not known: look before pulling. {_listed(values)} would be out."
        for name, values in out.items()
    ] + [
        f"{FEATURES[name].name}: not known, and without it the shoe is out. Look: {FEATURES[name].seen}."
        for name, wished in spec.features.items()
        if wished.wish == "need" and name not in shoe.features
    ]


def _listed(values: list[str]) -> str:
    text = ", ".join(dict.fromkeys(values))
    return text[0].upper() + text[1:]


def vetoes_of(shoes: Sequence[Shoe], spec: Spec) -> dict[int, SpecVeto | str]:
    """By the place of each shoe that is out: the veto it meets, or the feature it would need and lacks."""
    out: dict[int, SpecVeto | str] = {}
    for veto in spec.vetoes:
        for i, shoe in enumerate(shoes):
            if shoe.choices.get(veto.name) == veto.value:
                out.setdefault(i, veto)
    for name, wished in spec.features.items():
        if wished.wish == "need":
            for i, shoe in enumerate(shoes):
                if shoe.features.get(name) is False:
                    out.setdefault(i, name)
    return out


def _ruled(shoe: Shoe, by: SpecVeto | str, spec: Spec) -> Ruled:
    """Why a shoe is out, in words."""
    if not isinstance(by, str):
        return Ruled(shoe_id=shoe.id, text=by.text, rule=by.rule, mark=by.mark)
    why = spec.features[by].reasons[0]
    text = f"It has no {FEATURES[by].name.lower()}. {why.text}"
    return Ruled(shoe_id=shoe.id, text=text, rule=why.rule, mark=why.mark)


def veto_of(shoe: Shoe, spec: Spec) -> Ruled | None:
    """The veto that rules a shoe out, if any."""
    out = vetoes_of([shoe], spec)
    return _ruled(shoe, out[0], spec) if out else None


FAR_BELOW_MM, FAR_ABOVE_MM = 28.0, 34.0
"""So far outside the wanted length no line can be among the nearest of a shoe that has any within: four sizes and five.
House default."""


def near(spec: Spec, foot: FootToFit) -> tuple[float, float]:
    """Inner lengths, mm, between which the lines lie that may come into question."""
    bands = [fit_target(spec, upper).band() for upper in UPPERS]
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

    def part(self, rows: NDArray[np.intp]) -> LineWants:
        """Of some of the lines."""
        return LineWants(self.capacity[rows], self.low[rows], self.high[rows], self.when_new[rows])


def lines_of(shoes: Sequence[Shoe], shelf: Shelf, spec: Spec) -> LineWants:
    """Shoes of different uppers give differently and are judged against their own bands."""
    give = [give_of(s.upper, s.build) for s in shoes]
    free = np.array([(1 - s.reinforced) * s.gives for s in shoes])
    length = np.array([g.length_mm for g in give]) * free
    girth = np.array([g.girth_pct for g in give]) * free
    of_upper = {upper: fit_target(spec, upper).band() for upper in {s.upper for s in shoes}}
    targets = [of_upper[s.upper] for s in shoes]
    return LineWants(
        capacity=capacities(length[shelf.shoe], girth[shelf.shoe], shelf.inner),
        low=np.stack([t.low for t in targets])[shelf.shoe],
        high=np.stack([t.high for t in targets])[shelf.shoe],
        when_new=np.array([t.length_when_new for t in targets])[shelf.shoe],
    )


def nearest_lines(shoes: Sequence[Shoe], shelf: Shelf, spec: Spec, foot: FootToFit) -> NDArray[np.intp]:
    """The rows of the few lines of each shoe whose expected room lies nearest to the wanted, shoe by shoe."""
    return _nearest(shelf, lines_of(shoes, shelf, spec), foot)


def _nearest(shelf: Shelf, lines: LineWants, foot: FootToFit) -> NDArray[np.intp]:
    new = shelf.inner - foot.larger
    judged = new + settled_stretch(-new, lines.capacity)
    judged[lines.when_new, 0] = new[lines.when_new, 0]
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
    return _gaps(shelf, lines_of(shoes, shelf, spec), foot)


def _gaps(shelf: Shelf, lines: LineWants, foot: FootToFit) -> Gaps:
    wanted = WantedBand(lines.low, lines.high, lines.when_new)
    return gaps(foot.larger, foot.sigma, shelf.inner, lines.capacity, wanted, shelf.spread, spread=False)


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
    """About the quality of each line, (n,), in a fraction of the time of `_gaps`."""
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
    result = _gaps(shelf, lines, foot)
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
    vetoed = [_ruled(shoes[i], out[i], spec) for i in sorted(out)[:most]]
    here[list(out)] = False
    of = int(here.sum())
    if not of:
        return Ranking(places=[], vetoed=vetoed, vetoed_of=len(out))
    open_ = shelf.part(np.flatnonzero(here[shelf.shoe])) if out else shelf
    lines = lines_of(shoes, open_, spec)
    rows = _nearest(open_, lines, foot)
    close, lines = open_.part(rows), lines.part(rows)
    if most is not None and of > most:
        rows = _worth_weighing(shoes, close, lines, spec, foot, power, cheapest, most, nearness)
        close, lines = close.part(rows), lines.part(rows)
    found = _weigh(shoes, close, lines, spec, foot, power)
    shown = [shoes[i] for i in found.shelf.shoe[found.first]]
    fits = found.quality >= LEAST_QUALITY["should_fit"]

    def place(i: int) -> tuple[float, float, float, str]:
        score = -round(float(found.score[i]), 4)
        if nearness is not None:
            return -nearness[shown[i].id], 0.0, score, shown[i].id
        if cheapest:
            price = shown[i].price_minor if fits[i] else 0
            return float(not fits[i]), math.inf if price is None else float(price), score, shown[i].id
        return score, 0.0, 0.0, shown[i].id

    order = sorted(range(len(shown)), key=place)[:most]
    targets = {upper: fit_target(spec, upper).band() for upper in {shown[i].upper for i in order}}
    places = [_explained(shown[i], found, i, spec, targets[shown[i].upper]) for i in order]
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
    hope = hope_of(fit)
    doubt = "" if hope == "should_fit" else _doubt(result, row, target)
    where = "snug in every zone" if word == "snug" else f"{WORDS[word]} at the {ZONE_NAMES[FIT_ZONES[zone]]}"
    text = f"Fit in EU {label:g}: {HOPES[hope]}, {doubt or where}."
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
    judged = result.new if zone == 0 and target.length_when_new else result.settled
    return doubt_at(float(judged[row, zone]), float(target.low[zone]), float(target.high[zone]), zone)


def _worst(result: Gaps, row: int, target: WantedBand) -> tuple[FitWord, int]:
    """The likeliest trouble of a line: the word and zone furthest from wanted, snug when all are."""
    found: tuple[FitWord, int] = ("snug", int(np.argmin(result.worth[row])))
    for zone in map(int, np.argsort(result.worth[row])):
        judged = result.new if zone == 0 and target.length_when_new else result.settled
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
