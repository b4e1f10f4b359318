"""Rules and how they combine into a spec.

Every effect is commutative (bands are based once, moves add up, limits take the tightest, scores add,
vetoes unite), so the order of rules never matters.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Callable, Iterable
from dataclasses import dataclass, field
from functools import cached_property
from typing import Any, Literal

from ..contract import Contract, Mark
from ..feet.gauge import Arch, Feet, FeetReading, Norms, read_feet
from ..feet.noted import Slug
from ..house import HOUSE, House
from ..shoes.anatomy import FEATURES
from ..shoes.meant import asked_for
from .brief import Brief
from .concerns import TENDER, UNFELT, Concern, Heard, concerns_of
from .possible import possible
from .present import lies
from .scales import CHOICE_WEIGHT, CHOICES, PROPERTIES, ROOMS, scale
from .words import house_side

FOOT_SHARE_OF_STATURE = 0.152
DEFAULT_FOOT_MM = 260.0


@dataclass(frozen=True)
class Case:
    """What rules look at: the brief, the house, and the feet when they have been measured."""

    brief: Brief
    feet: Feet | None = None
    house: House = HOUSE
    on_surfaces: tuple[str | None, ...] = ()
    """Grounds of the other disciplines in the same brief."""
    norms: Norms | None = None
    """What is usual among the shop's own feet; the house's norm when there is none."""
    heard: tuple[Heard, ...] = ()
    """What was said of this athlete elsewhere."""
    age_years: float | None = None
    """How old they are, where the date of birth is known."""

    @cached_property
    def concerns(self) -> dict[Slug, Concern]:
        """What is to be minded, whichever door it came in by."""
        return concerns_of(self.brief, self.feet, self.heard, self.age_years)

    @cached_property
    def foot_mm(self) -> float:
        """The longer foot; from height, or a usual length, before feet are measured."""
        lengths = [f.length_mm for f in (self.feet.left, self.feet.right) if f.length_mm] if self.feet else []
        if lengths:
            return max(lengths)
        stature = self.brief.stature_mm
        return FOOT_SHARE_OF_STATURE * stature if stature else DEFAULT_FOOT_MM

    @cached_property
    def reading(self) -> FeetReading | None:
        """The reading of the feet, if any."""
        return read_feet(self.feet, self.norms) if self.feet else None

    @property
    def odd_feet(self) -> bool:
        """Whether the feet differ by more than half a size somewhere."""
        return bool(self.reading and self.reading.remedies)

    @property
    def bunion(self) -> bool:
        """Whether either foot has one, looked at or noted."""
        seen = (self.feet.left.bunion, self.feet.right.bunion) if self.feet else (None, None)
        return any(seen) or (self.has("bunion") and None in seen)

    @cached_property
    def arches(self) -> set[Arch]:
        """The arches of the feet: as looked at, else as noted."""
        seen = {a for a in (self.feet.left.arch, self.feet.right.arch) if a} if self.feet else set()
        noted: dict[Slug, Arch] = {"low_arch": "low", "high_arch": "high"}
        return seen or {arch for slug, arch in noted.items() if self.has(slug)}

    def arch(self, word: Arch) -> bool:
        """Whether either foot's arch is of this class."""
        return word in self.arches

    @property
    def present_drop_mm(self) -> float | None:
        """The drop of the shoe they wear now, measured or known of it."""
        found = lies(self.brief.present, self.brief.sport).get("drop_mm")
        return found.value if found else None

    def volume(self, word: str) -> bool:
        """Whether either foot's volume is of this class."""
        return bool(self.reading and word in self.reading.volume.values())

    def share_of_length(self, name: str) -> float | None:
        """A measure of the larger foot as a share of its length, when both are known."""
        if not self.feet:
            return None
        pairs = [(getattr(f, name), f.length_mm) for f in (self.feet.left, self.feet.right)]
        shares = [value / length for value, length in pairs if value and length]
        return sum(shares) / len(shares) if shares else None

    def has(self, *complaints: Slug) -> bool:
        """Whether any of these is a concern."""
        return any(c in self.concerns for c in complaints)

    @property
    def growing(self) -> bool:
        """Whether the feet still grow, as answered, as noted, or by the date of birth."""
        return self.has("growing")

    @property
    def unfelt(self) -> bool:
        """Whether these feet don't feel, aren't well supplied or are open: nothing may press on them."""
        return self.has(*UNFELT)

    @property
    def tender(self) -> bool:
        """Whether a clinician should see these feet before anything is fitted tight."""
        return self.has(*TENDER)

    def does(self, *disciplines: str) -> bool:
        """Whether the discipline is one of these."""
        return self.brief.discipline in disciplines

    def school(self, slug: str) -> str:
        """The side taken: the athlete's, else the house's, else the first."""
        own = self.brief.schools.get(slug) or self.house.schools.get(slug)
        return own or house_side(self.brief.sport, slug)


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
    """Raise (or lower) how much a property or a choice matters."""

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
class Want:
    """A feature the shoe should have, and how much that counts; wants add up, less what is avoided."""

    feature: str
    add: float = 0.5


@dataclass(frozen=True)
class Avoid:
    """A feature the shoe should rather not have, and how much that counts."""

    feature: str
    add: float = 0.5


@dataclass(frozen=True)
class Need:
    """A feature no shoe may lack: known to lack it is out, and where nobody knows one has to look."""

    feature: str


@dataclass(frozen=True)
class Caution:
    """Something to say, attached to the answer that raised it."""

    about: str
    must_acknowledge: bool = False


Effect = Band | Move | Limit | Weigh | Rank | Veto | Want | Avoid | Need | Caution


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


class HandMove(Contract):
    """A weight moved by hand: what it was computed as, why it was moved, and what kept it from going further."""

    computed: float
    why: str
    kept: str | None = None


class SpecBand(Contract):
    """A wanted band, how much it matters, and why."""

    low: float
    high: float
    weight: float
    reasons: list[Reason]
    by_hand: HandMove | None = None


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


Wish = Literal["need", "want", "avoid"]


class SpecFeature(Contract):
    """A feature needed, wanted or avoided, how much that counts, and why."""

    wish: Wish
    weight: float
    reasons: list[Reason]
    by_hand: HandMove | None = None


class SpecVeto(Reason):
    """A value ruled out."""

    name: str
    value: str


class SpecCaution(Reason):
    """Something to say, and whether it must be acknowledged."""

    about: str
    must_acknowledge: bool


class ChoiceWeight(Contract):
    """How much a choice counts among the bands; held when a veto forbids counting it less."""

    weight: float
    held: bool
    reasons: list[Reason] = []
    """Why it counts more or less than usual."""
    by_hand: HandMove | None = None


class SchoolSays(Contract):
    """What a side of a school not taken would have said."""

    school: str
    text: str
    side: str
    says: str
    moves: list[str]


class Spec(Contract):
    """What the shoe must be like."""

    sport: str
    discipline: str
    asked_for: list[str] = []
    """What a shoe would have to be meant for (`shoes.meant`)."""
    properties: dict[str, SpecBand]
    choices: dict[str, list[SpecChoice]]
    features: dict[str, SpecFeature] = {}
    vetoes: list[SpecVeto]
    cautions: list[SpecCaution]
    fit: dict[str, SpecRoom]
    choice_weights: dict[str, ChoiceWeight] = {}
    held: list[str] = []
    """Properties whose weight a limit keeps from being moved down."""
    schools: list[SchoolSays] = []
    concerns: list[Concern] = []
    """What was to be minded, whichever door it came in by."""
    unfelt: bool = False
    """Whether nothing may press on these feet."""
    rules_version: str
    house_version: int = 0


MOST_WEIGHT = 3.0
"""No property counts for more. House default."""
NARROWEST = 3.0
"""A scale's end cuts a band to no less than its width by this. House default."""
NEED_WEIGHT = 1.5
"""What a feature nothing may lack counts for among the bands. House default."""
LEAST_WISH = 0.05
"""Wants and avoids that come to less cancel out. House default."""


class Contradiction(Exception):
    """Two rules give one band two bases: a mistake in the rulebook, found at start-up."""


@dataclass
class _Draft:
    sport: str
    base: dict[str, Band] = field(default_factory=dict)
    low: dict[str, float] = field(default_factory=lambda: defaultdict(float))
    high: dict[str, float] = field(default_factory=lambda: defaultdict(float))
    least: dict[str, float] = field(default_factory=dict)
    most: dict[str, float] = field(default_factory=dict)
    weight: dict[str, float] = field(default_factory=lambda: defaultdict(float))
    score: dict[tuple[str, str], float] = field(default_factory=lambda: defaultdict(float))
    reasons: dict[Any, list[Reason]] = field(default_factory=lambda: defaultdict(list))
    wishes: dict[str, float] = field(default_factory=lambda: defaultdict(float))
    needs: set[str] = field(default_factory=set)
    vetoes: list[SpecVeto] = field(default_factory=list)
    cautions: list[SpecCaution] = field(default_factory=list)

    def take(self, effect: Effect, why: Reason) -> None:
        """Add one effect."""
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
                self.vetoes.append(SpecVeto(name=choice, value=value, **why.model_dump()))
            case Want(feature, add):
                self.wishes[feature] += add
                self.reasons["feature", feature].append(why)
            case Avoid(feature, add):
                self.wishes[feature] -= add
                self.reasons["feature", feature].append(why)
            case Need(feature):
                self.needs.add(feature)
                self.reasons["feature", feature].append(why)
            case Caution(about, must):
                self.cautions.append(SpecCaution(about=about, must_acknowledge=must, **why.model_dump()))

    def ends(self, name: str) -> tuple[float, float]:
        """The band's ends: base, moved, limited. A limit pushes the whole band, an upper one last; where both push, the
        band is what lies between them.

        Scales cut it, to a third of its width. What is pushed is as wide as it was begun, however the rules widened it:
        so one that wants more never gets less, nor one that wants less more."""
        base = self.base[name]
        low, high = sorted((base.low + self.low[name], base.high + self.high[name]))
        width = base.high - base.low
        if (least := self.least.get(name)) is not None and low < least:
            low, high = least, max(high, least + width)
        if (most := self.most.get(name)) is not None and high > most:
            low, high = min(low, most - width), most
            low = low if least is None else max(low, least)
        grain = 0.5
        if name in PROPERTIES:
            drawn = scale(name, self.sport)
            grain = drawn.grain
            width = max(grain, min(width, drawn.falloff) / NARROWEST)
            low, high = max(low, drawn.low), min(high, drawn.high)
            floor, top = self.least.get(name, drawn.low), self.most.get(name, drawn.high)
            low = min(low, max(drawn.high - width, min(floor, drawn.high - grain)))
            high = max(high, min(drawn.low + width, max(top, drawn.low + grain)))
        return round(round(low / grain) * grain, 2), round(round(high / grain) * grain, 2)

    def band(self, name: str) -> SpecBand:
        """A property's band with weight and reasons."""
        low, high = self.ends(name)
        weight = min(max(self.base[name].weight + self.weight[name], 0.0), MOST_WEIGHT)
        return SpecBand(low=low, high=high, weight=round(weight, 3), reasons=self.sorted_reasons(name))

    def features(self) -> dict[str, SpecFeature]:
        """What is needed, wanted or avoided, weightiest first."""
        found = {
            name: wish_of(self.wishes[name], name in self.needs, self.sorted_reasons(("feature", name)))
            for name in FEATURES
            if name in self.needs or abs(self.wishes[name]) >= LEAST_WISH
        }
        return dict(sorted(found.items(), key=lambda f: -f[1].weight))

    def choice_weight(self, choice: str, *, held: bool) -> ChoiceWeight:
        """How much a choice counts here, and why where that isn't as usual."""
        weight = min(max(CHOICE_WEIGHT[choice] + self.weight[choice], 0.0), MOST_WEIGHT)
        return ChoiceWeight(weight=round(weight, 3), held=held, reasons=self.sorted_reasons(choice))

    def sorted_reasons(self, key: Any) -> list[Reason]:
        """Reasons in an order that doesn't depend on the rules' order, each rule's once."""
        return sorted({r.rule: r for r in self.reasons[key]}.values(), key=lambda r: r.rule)


def wish_of(sum_of: float, needed: bool, reasons: list[Reason]) -> SpecFeature:
    """A feature's wish from what wants and avoids come to."""
    if needed:
        return SpecFeature(wish="need", weight=max(NEED_WEIGHT, min(sum_of, MOST_WEIGHT)), reasons=reasons)
    wish: Wish = "want" if sum_of > 0 else "avoid"
    return SpecFeature(wish=wish, weight=round(min(abs(sum_of), MOST_WEIGHT), 3), reasons=reasons)


def compute(rules: Iterable[Rule], case: Case, version: str) -> Spec:
    """The spec that `rules` give for `case`."""
    draft = _Draft(case.brief.sport)
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
            draft.cautions.append(all_out(choice))
    held_choices = {v.name for v in draft.vetoes}
    return Spec(
        sport=case.brief.sport,
        discipline=case.brief.discipline,
        asked_for=[asked] if (asked := asked_for(case.brief.sport, case.brief.discipline, case.brief.surface)) else [],
        properties={n: draft.band(n) for n in PROPERTIES if n in draft.base},
        choices=choices,
        features=possible(draft.features(), choices),
        vetoes=sorted(draft.vetoes, key=lambda v: (v.name, v.value, v.rule)),
        cautions=sorted(draft.cautions, key=caution_order),
        fit={
            n: SpecRoom(low=draft.ends(n)[0], high=draft.ends(n)[1], reasons=draft.sorted_reasons(n))
            for n in ROOMS
            if n in draft.base
        },
        choice_weights={c: draft.choice_weight(c, held=c in held_choices) for c in choices},
        held=sorted(n for n in (*draft.least, *draft.most) if n in PROPERTIES and n in draft.base),
        concerns=[case.concerns[slug] for slug in sorted(case.concerns)],
        unfelt=case.unfelt,
        rules_version=version,
        house_version=case.house.version,
    )


def caution_order(caution: SpecCaution) -> tuple[bool, str]:
    """Those to acknowledge first, then by rule."""
    return not caution.must_acknowledge, caution.rule


def all_out(choice: str) -> SpecCaution:
    """What to say when every value of a choice is ruled out."""
    return SpecCaution(
        rule=f"engine.no_{choice}_left", mark="HD", about=choice, must_acknowledge=True,
        text=f"Every {choice} is ruled out for this brief: change the ground or the session, take two pairs, or ask a "
        "clinician before fitting.",
    )  # fmt: skip
