"""The spec: all rules of a sport with the common ones, checked against contradictions when loaded."""

from __future__ import annotations

import itertools
from collections.abc import Iterator, Sequence
from dataclasses import replace
from typing import Any

from pydantic import Field

from ..feet.gauge import Feet, Norms
from ..fit.size import FitTarget, RoomBand
from ..house import HOUSE, House
from ..shoes.anatomy import FEATURES
from . import cautions, climbing, court, cycling, field, football, ice, lifting
from .blend import blend
from .brief import Brief
from .changes import changes
from .concerns import Heard
from .engine import (
    Avoid,
    Band,
    Case,
    Contradiction,
    Effect,
    Limit,
    Move,
    Need,
    Rank,
    Rule,
    SchoolSays,
    Spec,
    Veto,
    Want,
    Weigh,
    compute,
)
from .hand import HandWeight, with_weights
from .scales import CHOICES, LEATHERS, PROPERTIES, ROOMS, SLIPPER
from .words import SPORTS, Sport, every_school

VERSION = "2026-12.2"
"""Kept with every fitting; raise it when a rule's effect changes."""

RULES: dict[Sport, tuple[Rule, ...]] = {
    "football": football.RULES + cautions.RULES,
    "climbing": climbing.RULES + cautions.RULES,
    "lifting": lifting.RULES + cautions.RULES,
    "cycling": cycling.RULES + cautions.RULES,
    "court": court.RULES + cautions.RULES,
    "field": field.RULES + cautions.RULES,
    "ice": ice.RULES + cautions.RULES,
}


class SpecIn(Brief):
    """A brief, with the feet when they are measured and the house it is computed under."""

    feet: Feet | None = None
    house: House = HOUSE
    heard: list[Heard] = Field([], max_length=20)
    """What was said elsewhere: in another sport's brief, on the athlete's page, by their link."""
    body_kg: float = Field(ge=15, le=250)
    age_years: float | None = Field(None, ge=0, le=120)
    """How old the athlete is, where it is known."""


def _in_the_hall(case: Case) -> Brief | None:
    """Football on a hall floor as the court has it: the same game by another door; none for anything else."""
    brief = case.brief
    if brief.sport != "football" or brief.surface != "indoor_hall":
        return None
    shared = {s.slug for s in SPORTS["court"].schools}
    schools = {slug: side for slug, side in brief.schools.items() if slug in shared}
    other: dict[str, Any] = {"sport": "court", "discipline": "indoor_football", "schools": schools}
    return brief.model_copy(update=other)


def _of_one(case: Case) -> Spec:
    """The spec of one discipline. A hall's is the court's, and only its sole is named as football names it."""
    own = compute(RULES[case.brief.sport], case, VERSION)
    brief = _in_the_hall(case)
    if brief is None:
        return own
    in_hall = replace(case, brief=brief)
    court_s = compute(RULES["court"] + football.TOUCH, in_hall, VERSION)
    choices = {"plate": own.choices["plate"]} | {n: c for n, c in court_s.choices.items() if n != "sole"}
    vetoes = [v for v in own.vetoes if v.name == "plate"] + [v for v in court_s.vetoes if v.name != "sole"]
    weights = own.choice_weights | court_s.choice_weights
    return court_s.model_copy(
        update={
            "sport": own.sport,
            "discipline": own.discipline,
            "asked_for": own.asked_for,
            "choices": choices,
            "vetoes": vetoes,
            "choice_weights": {name: weights[name] for name in choices},
        }
    )


def _plain_spec(case: Case) -> Spec:
    parts = case.brief.each()
    grounds = tuple(part.surface for _, part in parts)
    found = [(share, _of_one(replace(case, brief=part, on_surfaces=grounds))) for share, part in parts]
    return found[0][1] if len(found) == 1 else blend(found)


def spec_for(
    brief: Brief,
    feet: Feet | None = None,
    house: House = HOUSE,
    weights: dict[str, HandWeight] | None = None,
    norms: Norms | None = None,
    heard: Sequence[Heard] = (),
    age_years: float | None = None,
) -> Spec:
    """The spec of a brief on these feet in this house, weights moved by hand last."""
    return spec_of(Case(brief, feet, house, norms=norms, heard=tuple(heard), age_years=age_years), weights)


def spec_of(case: Case, weights: dict[str, HandWeight] | None = None) -> Spec:
    """The spec of a case, weights moved by hand last."""
    found = _plain_spec(case)
    return with_weights(found, weights) if weights else found


def schools_say(case: Case, taken: Spec) -> list[SchoolSays]:
    """What each side not taken would have said, where it says anything else."""
    brief = case.brief
    found = []
    for school in SPORTS[brief.sport].schools:
        side = case.school(school.slug)
        for option in school.options:
            if option.value == side:
                continue
            other = brief.model_copy(update={"schools": brief.schools | {school.slug: option.value}})
            moves = changes(taken, _plain_spec(replace(case, brief=other)))
            if moves:
                found.append(
                    SchoolSays(
                        school=school.slug, text=school.text, side=option.value, says=option.text, moves=moves[:6]
                    )
                )
    return found


def spec(given: SpecIn) -> Spec:
    """The full traced spec of a brief: bands, choices, vetoes, cautions, room, and what other schools say."""
    values = given.model_dump(include=set(Brief.model_fields))
    brief = Brief.model_validate(values)
    case = Case(brief, given.feet, given.house, heard=tuple(given.heard), age_years=given.age_years)
    found = spec_of(case)
    return found.model_copy(update={"schools": schools_say(case, found)})


def fit_target(found: Spec, upper: str, closure: str = "") -> FitTarget:
    """The wanted room for a shoe of this upper and closure: leather may have a band of its own, judged new; a slip-on
    is taken closer where it loosens with wear."""
    leather = upper in LEATHERS and "toe_room_leather_mm" in found.fit
    unlined = upper == "leather_unlined" and "toe_room_unlined_mm" in found.fit
    own = "toe_room_unlined_mm" if unlined else "toe_room_leather_mm"

    def room(name: str, closer: float = 0.0) -> RoomBand:
        return RoomBand(low=found.fit[name].low - closer, high=found.fit[name].high - closer)

    slips_on = found.fit.get("toe_room_slipper_mm") if closure == SLIPPER else None
    return FitTarget(
        length=room(own if leather else "toe_room_mm", found.fit["toe_room_mm"].low - slips_on.low if slips_on else 0),
        ball_girth=room("ball_room_mm"),
        instep_girth=room("instep_room_mm"),
        heel_width=room("heel_room_mm"),
        length_when_new=leather,
        spared=found.unfelt,
    )


def check_house(house: House) -> None:
    """Raise `ValueError` for a school or side nobody knows."""
    known = every_school()
    for slug, side in house.schools.items():
        if slug not in known:
            raise ValueError(f"There is no school called {slug}; one of: {', '.join(sorted(known))}")
        sides = [o.value for o in known[slug].options]
        if side not in sides:
            raise ValueError(f"{slug} has no side called {side}; one of: {', '.join(sides)}")


def plain_answers(sport: Sport, discipline: str | None = None) -> list[dict[str, Any]]:
    """Every way to answer what a discipline, or the whole sport, can't do without."""
    asks = {a.field: a for a in SPORTS[sport].asks}
    needed = [[(f, o.value) for o in asks[f].options] for f in SPORTS[sport].needed(discipline)]
    return [dict(answers) for answers in itertools.product(*needed)]


def every_plain_brief(sport: Sport) -> Iterator[Brief]:
    """One brief per discipline and needed answers, and one per discipline and side of a school."""
    words = SPORTS[sport]
    sides: list[dict[str, str]] = [{s.slug: o.value} for s in words.schools for o in s.options[1:]]
    for option in words.disciplines:
        answers = plain_answers(sport, option.value)
        for values in answers:
            yield Brief.model_validate(
                {"sport": sport, "discipline": option.value, "body_kg": 70, "level": "competitive", **values}
            )
        for side in sides:
            yield Brief.model_validate(
                {"sport": sport, "discipline": option.value, "body_kg": 70, "schools": side, **answers[0]}
            )


def _check_effect(rule: Rule, effect: Effect) -> None:
    match effect:
        case Weigh(name=name) if name in CHOICES:
            pass
        case Band(name=name) | Move(name=name) | Limit(name=name) | Weigh(name=name):
            if name not in PROPERTIES and name not in ROOMS:
                raise Contradiction(f"{rule.id} speaks of {name}, which is no property or room")
        case Want(feature=name) | Avoid(feature=name) | Need(feature=name):
            if name not in FEATURES:
                raise Contradiction(f"{rule.id} speaks of the feature {name}, which there is not")
        case Rank(choice=choice, value=value) | Veto(choice=choice, value=value):
            if value not in CHOICES.get(choice, ()):
                raise Contradiction(f"{rule.id} speaks of {choice} {value}, which there is not")
        case _:
            pass


def _check_limits(rules: tuple[Rule, ...], case: Case) -> None:
    least: dict[str, tuple[float, str]] = {}
    most: dict[str, tuple[float, str]] = {}
    for rule in rules:
        if not rule.when(case):
            continue
        for effect in rule.effects(case):
            _check_effect(rule, effect)
            if isinstance(effect, Limit):
                if effect.least is not None and effect.least > least.get(effect.name, (-1e9, ""))[0]:
                    least[effect.name] = (effect.least, rule.id)
                if effect.most is not None and effect.most < most.get(effect.name, (1e9, ""))[0]:
                    most[effect.name] = (effect.most, rule.id)
    for name in least.keys() & most.keys():
        if least[name][0] >= most[name][0]:
            raise Contradiction(f"{least[name][1]} and {most[name][1]} leave no room for {name}")


def check_rulebook() -> int:
    """Try every plain brief for contradictions: repeated ids, two bases, limits that cross, everything ruled out.

    Raises `Contradiction`. Returns how many briefs were tried."""
    tried = 0
    for sport, rules in RULES.items():
        ids = [r.id for r in rules]
        if repeated := {i for i in ids if ids.count(i) > 1}:
            raise Contradiction(f"rule ids used twice: {sorted(repeated)}")
        for brief in every_plain_brief(sport):
            everything = brief.model_copy(update={"history": ["knee", "ankle", "heel_pain", "forefoot", "numbness"]})
            _check_limits(rules, Case(everything))
            found = spec_for(brief)
            if lost := [c.rule for c in found.cautions if c.rule.startswith("engine.")]:
                raise Contradiction(f"{sport} {brief.discipline}: {', '.join(lost)}")
            tried += 1
    return tried
