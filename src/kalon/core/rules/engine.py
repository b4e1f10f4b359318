"""Rules and how they combine into a spec.

Every effect is commutative (bands are based once, moves add up, limits take the tightest, scores add,
vetoes unite), so the order of rules never matters.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Callable, Iterable
from dataclasses import dataclass, field
from typing import Any

from ..contract import Contract, Mark
from ..feet.gauge import Feet, FeetReading, read_feet
from .brief import Brief

FOOT_SHARE_OF_STATURE = 0.152
DEFAULT_FOOT_MM = 260.0


@dataclass(frozen=True)
class Scale:
    """A property's drawn scale: name, unit, ends, how far outside a band the match falls to nothing, and the
    grain bands are rounded to."""

    name: str
    unit: str
    low: float
    high: float
    falloff: float
    grain: float


PROPERTIES: dict[str, Scale] = {
    "drop_mm": Scale("Drop, heel over toe", "mm", 0, 25, 6, 0.5),
    "heel_stack_mm": Scale("Heel stack", "mm", 0, 45, 12, 0.5),
    "bend_n_mm_per_deg": Scale("Stiffness in bending", "N·mm/°", 0, 800, 200, 5),
    "twist_n_mm_per_deg": Scale("Stiffness in twist", "N·mm/°", 0, 600, 200, 5),
    "downturn_deg": Scale("Downturn", "°", 0, 32, 10, 0.5),
    "asymmetry_deg": Scale("Asymmetry", "°", 0, 24, 10, 0.5),
    "cushion": Scale("Cushion", "of 10", 0, 10, 4, 0.1),
    "heel_flare": Scale("Heel flare", "×", 0.95, 1.3, 0.08, 0.01),
    "heel_round_mm": Scale("Heel rounding", "mm", 0, 20, 8, 0.5),
    "heel_counter": Scale("Heel cup firmness", "of 10", 0, 10, 5, 0.1),
    "collar_mm": Scale("Collar height", "mm", 30, 160, 40, 1),
    "mass_g": Scale("Mass of one shoe", "g", 120, 700, 150, 5),
    "toe_rubber": Scale("Rubber over the toe", "share", 0, 1, 0.5, 0.05),
    "heel_rubber": Scale("Rubber at the heel", "share", 0, 1, 0.5, 0.05),
}
"""Ends, falloffs and grains are house defaults."""

CHOICES: dict[str, tuple[str, ...]] = {
    "plate": ("soft_ground", "firm_ground_round", "firm_ground_blade", "hard_ground", "artificial_grass", "turf",
              "indoor"),
    "sole": ("gum_court", "flat_dense", "lug", "grip_flat", "spikes_full", "spikes_half", "rubber_spikes",
             "pimpled"),
    "cleat": ("none", "two_bolt", "three_bolt", "both"),
    "midsole": ("none", "split", "full"),
    "closure": ("slipper", "strap_1", "strap_2", "strap_3", "laces", "laces_strap", "dial", "ratchet", "laceless"),
    "upper": ("leather_unlined", "leather_lined", "leather_thin", "suede", "microfibre", "synthetic", "knit",
              "mesh"),
}  # fmt: skip
LEATHERS = frozenset({"leather_unlined", "leather_lined", "leather_thin", "suede"})
ROOMS = ("toe_room_mm", "toe_room_leather_mm", "ball_room_mm", "instep_room_mm", "heel_room_mm")


@dataclass(frozen=True)
class Case:
    """What rules look at: the brief, and the feet when they have been measured."""

    brief: Brief
    feet: Feet | None = None

    @property
    def foot_mm(self) -> float:
        """The longer foot; from height, or a usual length, before feet are measured."""
        lengths = [f.length_mm for f in (self.feet.left, self.feet.right) if f.length_mm] if self.feet else []
        if lengths:
            return max(lengths)
        stature = self.brief.stature_mm
        return FOOT_SHARE_OF_STATURE * stature if stature else DEFAULT_FOOT_MM

    @property
    def reading(self) -> FeetReading | None:
        """The reading of the feet, if any."""
        return read_feet(self.feet) if self.feet else None

    @property
    def odd_feet(self) -> bool:
        """Whether the feet differ by more than half a size in length or at the ball."""
        return bool(self.reading and self.reading.remedies)

    @property
    def bunion(self) -> bool:
        """Whether either foot has one."""
        return bool(self.feet and (self.feet.left.bunion or self.feet.right.bunion))

    def has(self, *complaints: str) -> bool:
        """Whether any of these is in the history."""
        return any(c in self.brief.history for c in complaints)


@dataclass(frozen=True)
class Band:
    """Base band of a property or room; one may hold at a time."""

    name: str
    low: float
    high: float
    weight: float = 1.0


@dataclass(frozen=True)
class Move:
    """Shift a band's ends."""

    name: str
    low: float = 0.0
    high: float = 0.0


@dataclass(frozen=True)
class Limit:
    """A band may not go below `least` or above `most`."""

    name: str
    least: float | None = None
    most: float | None = None


@dataclass(frozen=True)
class Weigh:
    """Raise (or lower) how much a property matters."""

    name: str
    add: float


@dataclass(frozen=True)
class Rank:
    """Add to a choice's score."""

    choice: str
    value: str
    add: float


@dataclass(frozen=True)
class Veto:
    """Rule a choice out."""

    choice: str
    value: str


@dataclass(frozen=True)
class Caution:
    """Something to say, attached to the answer that raised it."""

    about: str
    must_acknowledge: bool = False


Effect = Band | Move | Limit | Weigh | Rank | Veto | Caution


@dataclass(frozen=True)
class Rule:
    """A piece of the trade's knowledge: when it holds, what it does, why, and how sure we are."""

    id: str
    when: Callable[[Case], bool]
    does: tuple[Effect, ...] | Callable[[Case], tuple[Effect, ...]]
    text: str | Callable[[Case], str]
    mark: Mark
    school: str | None = None

    def effects(self, case: Case) -> tuple[Effect, ...]:
        """The effects in this case."""
        return self.does(case) if callable(self.does) else self.does

    def reason(self, case: Case) -> Reason:
        """Why, in a fitter's words."""
        text = self.text(case) if callable(self.text) else self.text
        return Reason(rule=self.id, text=text, mark=self.mark, school=self.school)


class Reason(Contract):
    """Which rule said so, in what words, with which mark."""

    rule: str
    text: str
    mark: Mark
    school: str | None = None


class SpecBand(Contract):
    """A wanted band, how much it matters, and why."""

    low: float
    high: float
    weight: float
    reasons: list[Reason]


class SpecRoom(Contract):
    """Wanted room, mm."""

    low: float
    high: float
    reasons: list[Reason]


class SpecChoice(Contract):
    """One value of a choice with its score, 0…1 of the best."""

    value: str
    score: float
    reasons: list[Reason]


class SpecVeto(Reason):
    """A value ruled out."""

    name: str
    value: str


class SpecCaution(Reason):
    """Something to say, and whether it must be acknowledged."""

    about: str
    must_acknowledge: bool


class Spec(Contract):
    """What the shoe must be like."""

    sport: str
    discipline: str
    properties: dict[str, SpecBand]
    choices: dict[str, list[SpecChoice]]
    vetoes: list[SpecVeto]
    cautions: list[SpecCaution]
    fit: dict[str, SpecRoom]
    rules_version: str


class Contradiction(Exception):
    """Two rules give one band two bases: a mistake in the rulebook, found at start-up."""


@dataclass
class _Draft:
    base: dict[str, Band] = field(default_factory=dict)
    low: dict[str, float] = field(default_factory=lambda: defaultdict(float))
    high: dict[str, float] = field(default_factory=lambda: defaultdict(float))
    least: dict[str, float] = field(default_factory=dict)
    most: dict[str, float] = field(default_factory=dict)
    weight: dict[str, float] = field(default_factory=lambda: defaultdict(float))
    score: dict[tuple[str, str], float] = field(default_factory=lambda: defaultdict(float))
    reasons: dict[Any, list[Reason]] = field(default_factory=lambda: defaultdict(list))
    vetoes: list[SpecVeto] = field(default_factory=list)
    cautions: list[SpecCaution] = field(default_factory=list)

    def take(self, effect: Effect, why: Reason) -> None:
        """Add one effect."""
        said = why.model_dump()
        match effect:
            case Band(name):
                if name in self.base:
                    raise Contradiction(f"{name} has two bases; the second is {why.rule}")
                self.base[name] = effect
                self.reasons[name].append(why)
            case Move(name, low, high):
                self.low[name] += low
                self.high[name] += high
                self.reasons[name].append(why)
            case Limit(name, least, most):
                if least is not None:
                    self.least[name] = max(least, self.least.get(name, least))
                if most is not None:
                    self.most[name] = min(most, self.most.get(name, most))
                self.reasons[name].append(why)
            case Weigh(name, add):
                self.weight[name] += add
                self.reasons[name].append(why)
            case Rank(choice, value, add):
                self.score[choice, value] += add
                self.reasons[choice, value].append(why)
            case Veto(choice, value):
                self.vetoes.append(SpecVeto(name=choice, value=value, **said))
            case Caution(about, must):
                self.cautions.append(SpecCaution(about=about, must_acknowledge=must, **said))

    def ends(self, name: str) -> tuple[float, float]:
        """The band's ends: base, moved, limited. A limit pushes the whole band, an upper one last.

        Scales cut it; a band wholly off its scale lies at that end."""
        base = self.base[name]
        low, high = sorted((base.low + self.low[name], base.high + self.high[name]))
        width = high - low
        if (least := self.least.get(name)) is not None and low < least:
            low, high = least, max(high, least + width)
        if (most := self.most.get(name)) is not None and high > most:
            low, high = min(low, most - width), most
        if name in PROPERTIES:
            scale = PROPERTIES[name]
            width = min(high - low, scale.falloff)
            low, high = (min(max(end, scale.low), scale.high) for end in (low, high))
            if low == high:
                low, high = max(scale.low, low - width), min(scale.high, high + width)
        grain = PROPERTIES[name].grain if name in PROPERTIES else 0.5
        return round(round(low / grain) * grain, 2), round(round(high / grain) * grain, 2)

    def sorted_reasons(self, key: Any) -> list[Reason]:
        """Reasons in an order that doesn't depend on the rules' order."""
        return sorted(self.reasons[key], key=lambda r: r.rule)


def compute(rules: Iterable[Rule], case: Case, version: str) -> Spec:
    """The spec that `rules` give for `case`."""
    draft = _Draft()
    for rule in rules:
        if rule.when(case):
            why = rule.reason(case)
            for effect in rule.effects(case):
                draft.take(effect, why)
    vetoed = {(v.name, v.value) for v in draft.vetoes}
    choices: dict[str, list[SpecChoice]] = {}
    for choice, values in CHOICES.items():
        scored = {v: draft.score[choice, v] for v in values if draft.score.get((choice, v), 0) > 0}
        best = max((s for v, s in scored.items() if (choice, v) not in vetoed), default=0.0)
        ranked = [
            SpecChoice(value=v, score=round(s / best, 3), reasons=draft.sorted_reasons((choice, v)))
            for v, s in scored.items()
            if (choice, v) not in vetoed
        ]
        if ranked:
            choices[choice] = sorted(ranked, key=lambda c: (-c.score, c.value))
        elif scored:
            draft.cautions.append(
                SpecCaution(
                    rule=f"engine.no_{choice}_left", mark="HD", about=choice, must_acknowledge=True,
                    text=f"Every {choice} is ruled out for this brief: change the ground or the session, or ask a "
                    "clinician before fitting.",
                )
            )  # fmt: skip
    names = [n for n in draft.base if n in PROPERTIES]
    return Spec(
        sport=case.brief.sport,
        discipline=case.brief.discipline,
        properties={
            n: SpecBand(
                low=draft.ends(n)[0],
                high=draft.ends(n)[1],
                weight=round(max(draft.base[n].weight + draft.weight[n], 0.0), 3),
                reasons=draft.sorted_reasons(n),
            )
            for n in PROPERTIES
            if n in names
        },
        choices=choices,
        vetoes=sorted(draft.vetoes, key=lambda v: (v.name, v.value, v.rule)),
        cautions=sorted(draft.cautions, key=lambda c: (not c.must_acknowledge, c.rule)),
        fit={
            n: SpecRoom(low=draft.ends(n)[0], high=draft.ends(n)[1], reasons=draft.sorted_reasons(n))
            for n in ROOMS
            if n in draft.base
        },
        rules_version=version,
    )
