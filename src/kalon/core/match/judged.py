"""One shoe held against a spec: what helps, what costs, what isn't known of it, and what rules it out, in words."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import partial

from ..contract import Contract
from ..rules.aloud import said_word, short_word
from ..rules.changes import CHOICE_NAMES, value_word
from ..rules.engine import Spec, SpecBand, SpecVeto, Wish
from ..rules.scales import CHOICE_WEIGHT, SLIPPER, scale
from ..shoes.anatomy import FEATURES
from ..shoes.meant import MEANT_WEIGHT, asked_word, in_words, serves
from .plain import lacks, means, off
from .score import UNASKED
from .shelf import Shoe


class Point(Contract):
    """One thing that helps or costs, in words, and how much of the spec it is."""

    text: str
    share: float
    about: str = ""
    """What it is about, in a sentence's middle: "downturn"."""
    plain: str = ""
    """What the shoe does, to follow "It": "has no shank"."""


class Ruled(Contract):
    """A shoe that is out, and why."""

    shoe_id: str
    text: str
    rule: str
    mark: str


def _amount(value: float, unit: str) -> str:
    return f"{value:g} {unit}".replace(" °", "°").replace("-", "−")


Said = tuple[str, str, str]
"""A point in words: whole, what it is about, and what the shoe does, to follow "It"."""


def _thing(name: str, sport: str) -> str:
    """A property in a sentence's middle: "downturn"."""
    called = scale(name, sport).name.split(",")[0]
    return called[:1].lower() + called[1:]


def _as_wanted(name: str, value: float, sport: str) -> Said:
    """A property in its band, in a hand's words first: "Downturn: a strong hook, as wanted (20°)."."""
    drawn = scale(name, sport)
    word, amount = short_word(name, value, value, sport), _amount(value, drawn.unit)
    text = f"{drawn.name}: {word}, as wanted ({amount})." if word else f"{drawn.name} {amount}, as wanted."
    return text, _thing(name, sport), ""


def _off(name: str, value: float, band: SpecBand, sport: str) -> Said:
    """A property outside its band: what the hand finds, what was wanted, and by how much."""
    drawn = scale(name, sport)
    side = "below" if value < band.low else "above"
    by = round(band.low - value if value < band.low else value - band.high, 2)
    ends = f"{band.low:g} to {band.high:g}" if band.low < 0 else f"{band.low:g}–{band.high:g}"
    amount = f"{_amount(by, drawn.unit)} {side} {ends}".replace("-", "−")
    found, wanted = (short_word(name, *ends, sport) for ends in ((value, value), (band.low, band.high)))
    plain = off(name, value, band.low)
    if not found:
        return f"{drawn.name} {_amount(value, drawn.unit)}: {amount}.", _thing(name, sport), plain
    said = f"{found}, a little {side} the wanted" if found == wanted else f"{found}; wanted: {wanted}"
    return f"{drawn.name}: {said} ({_amount(value, drawn.unit)}, {amount}).", _thing(name, sport), plain


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
    helps: list[tuple[float, Callable[[], Said]]] = []
    costs: list[tuple[float, Callable[[], Said]]] = []
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
    meant = serves(shoe.meant_for, spec.asked_for)
    if meant:
        total += MEANT_WEIGHT
        counted += MEANT_WEIGHT
        got += MEANT_WEIGHT * (meant == "yes")
        (helps if meant == "yes" else costs).append((MEANT_WEIGHT, partial(_meant, shoe, spec, meant == "yes")))
    unknown.sort(key=lambda u: -u[0])
    return Met(
        share=got / counted if counted else None if total else 1.0,
        known=counted / total if total else 1.0,
        helps=_in_words(helps, told),
        costs=_in_words(costs, told),
        unknown=[name for _, name in unknown],
    )


def _in_words(points: list[tuple[float, Callable[[], Said]]], told: int | None) -> list[Point]:
    """The weightiest points, said."""
    points.sort(key=lambda p: -p[0])
    found = []
    for share, say in points[:told]:
        text, about, plain = say()
        found.append(Point(text=text, share=share, about=about, plain=plain))
    return found


def _choice(name: str, has: str, best: str | None = None) -> Said:
    """A kind as wanted, or beside the best of it."""
    mine = said_word(name, has)
    if not best:
        return f"{CHOICE_NAMES[name]}: {mine}, as wanted.", mine, ""
    better = said_word(name, best)
    beside = f"{better} would be better"
    verb = "is" if has == SLIPPER else "has"
    return f"{CHOICE_NAMES[name]}: {mine}; {beside}.", mine, f"{verb} {mine} where {beside}"


def _meant(shoe: Shoe, spec: Spec, wanted: bool) -> Said:
    """What a shoe is meant for, beside what is asked for."""
    said = f"meant for {in_words(shoe.meant_for)}"
    if wanted:
        return f"{said[0].upper()}{said[1:]}, as wanted.", "what it is meant for", ""
    not_for = f"{said}, not for {asked_word(spec.asked_for)}"
    return f"{not_for[0].upper()}{not_for[1:]}.", "what it is meant for", f"is {not_for}"


def _feature_help(name: str) -> Said:
    return f"{FEATURES[name].name}: {FEATURES[name].does}.", FEATURES[name].said, ""


def _feature_cost(name: str, wish: Wish) -> Said:
    """What is said of a shoe that lacks a feature, or has one better done without: what it has or lacks, and what that
    means."""
    plain = lacks(name, wish)
    return f"It {plain}: {means(name, wish)}.", FEATURES[name].said, plain


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
    """By the place of each shoe that is out: the veto it meets (as by what it is meant for), or the feature it would
    need and lacks."""
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
    if spec.asked_for:
        for i, shoe in enumerate(shoes):
            if shoe.meant_for and serves(shoe.meant_for, spec.asked_for) == "never":
                text = f"It is meant for {in_words(shoe.meant_for)}: never for {asked_word(spec.asked_for)}."
                veto = SpecVeto(name="meant_for", value=shoe.meant_for[0], rule="shoe.meant_for", mark="HD", text=text)
                out.setdefault(i, veto)
    return out


def ruled(shoe: Shoe, by: SpecVeto | str, spec: Spec) -> Ruled:
    """Why a shoe is out, in words."""
    if not isinstance(by, str):
        return Ruled(shoe_id=shoe.id, text=by.text, rule=by.rule, mark=by.mark)
    why = spec.features[by].reasons[0]
    text = f"It has no {FEATURES[by].name.lower()}. {why.text}"
    return Ruled(shoe_id=shoe.id, text=text, rule=why.rule, mark=why.mark)


def veto_of(shoe: Shoe, spec: Spec) -> Ruled | None:
    """The veto that rules a shoe out, if any."""
    out = vetoes_of([shoe], spec)
    return ruled(shoe, out[0], spec) if out else None
