"""The spec: all rules of a sport with the common cautions, checked against contradictions when loaded."""

from __future__ import annotations

from typing import Any

from pydantic import Field

from ..feet.gauge import Feet
from ..fit.size import FitTarget, RoomBand
from . import cautions, climbing, football, lifting
from .brief import SPORTS, Brief, Sport, Surface
from .engine import LEATHERS, Case, Contradiction, Rule, Spec, compute

VERSION = "2026-11.1"
"""Kept with every fitting; raise it when a rule's effect changes."""

RULES: dict[Sport, tuple[Rule, ...]] = {
    "football": football.RULES + cautions.RULES,
    "climbing": climbing.RULES + cautions.RULES,
    "lifting": lifting.RULES + cautions.RULES,
}


class SpecIn(Brief):
    """A brief, with the feet when they are measured."""

    feet: Feet | None = None
    body_kg: float = Field(ge=15, le=250)


def spec_for(brief: Brief, feet: Feet | None = None) -> Spec:
    """The spec of a brief on these feet."""
    return compute(RULES[brief.sport], Case(brief, feet), VERSION)


def spec(given: SpecIn) -> Spec:
    """`spec_for` as the contract calls it."""
    values = given.model_dump()
    values.pop("feet")
    return spec_for(Brief.model_validate(values), given.feet)


def fit_target(found: Spec, upper: str) -> FitTarget:
    """The wanted room for a shoe of this upper: leather on a plate has a band of its own, judged new."""
    leather = upper in LEATHERS and "toe_room_leather_mm" in found.fit

    def room(name: str) -> RoomBand:
        return RoomBand(low=found.fit[name].low, high=found.fit[name].high)

    return FitTarget(
        length=room("toe_room_leather_mm" if leather else "toe_room_mm"),
        ball_girth=room("ball_room_mm"),
        instep_girth=room("instep_room_mm"),
        heel_width=room("heel_room_mm"),
        length_when_new=leather,
    )


def every_plain_brief(sport: Sport) -> list[Brief]:
    """One brief per discipline, surface and side of a school: where two bases could meet."""
    words = SPORTS[sport]
    grounds: list[Surface | None] = (
        list(football.PLATES) if "surface" in words.needs else [None]  # type: ignore[arg-type]
    )
    sides: list[dict[str, str]] = [{}] + [{s.slug: o.value} for s in words.schools for o in s.options]
    found = []
    for option in words.disciplines:
        for ground in grounds:
            for side in sides:
                values: dict[str, Any] = {"sport": sport, "discipline": option.value, "body_kg": 70}
                found.append(Brief(**values, surface=ground, schools=side))
    return found


def check_rulebook() -> int:
    """Compute every plain brief and look for repeated ids; raises `Contradiction`. Returns how many were tried."""
    tried = 0
    for sport, rules in RULES.items():
        ids = [r.id for r in rules]
        if repeated := {i for i in ids if ids.count(i) > 1}:
            raise Contradiction(f"rule ids used twice: {sorted(repeated)}")
        for brief in every_plain_brief(sport):
            spec_for(brief)
            tried += 1
    return tried
