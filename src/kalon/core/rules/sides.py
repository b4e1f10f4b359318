"""What the sides of a school come to, on scales: the first brief of a sport on which they differ, laid side by side."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache

from .brief import Brief
from .changes import CHOICE_NAMES, ROOM_NAMES, value_word
from .engine import Spec, SpecRoom
from .scales import ROOM_SCALE_MM, scale
from .spec import plain_answers, spec_for
from .words import SPORTS, Option, School, Sport

MOST_SCALES = 2


@dataclass(frozen=True)
class Drawn:
    """One matter on its scale, with what each side wants: bands by side, `unit` the scale's."""

    name: str
    unit: str
    low: float
    high: float
    bands: dict[str, tuple[float, float]]


@dataclass(frozen=True)
class Sides:
    """Where the sides of a school part: on which brief in words, on which scales, and what leads by side."""

    brief: str
    drawn: tuple[Drawn, ...]
    leads: dict[str, str]


def _room(spec: Spec, name: str) -> SpecRoom | None:
    """A room wanted; leather has that of every upper where it has none of its own."""
    return spec.fit.get(name) or (spec.fit.get("toe_room_mm") if name == "toe_room_leather_mm" else None)


def _drawn(specs: dict[str, Spec], sport: Sport) -> list[Drawn]:
    found = []
    first = next(iter(specs.values()))
    for name in first.properties:
        bands = {side: (b.low, b.high) for side, s in specs.items() if (b := s.properties.get(name))}
        if len(bands) == len(specs) and len(set(bands.values())) > 1:
            on = scale(name, sport)
            found.append(Drawn(on.name, on.unit, on.low, on.high, bands))
    for name in ROOM_NAMES:
        rooms = {side: (r.low, r.high) for side, s in specs.items() if (r := _room(s, name))}
        if len(rooms) == len(specs) and len(set(rooms.values())) > 1:
            found.append(Drawn(ROOM_NAMES[name], "mm", *ROOM_SCALE_MM, rooms))
    return found


def _leads(specs: dict[str, Spec]) -> dict[str, str]:
    """What leads by side in the first choice that differs; else what some sides rule out and others don't."""
    for choice, name in CHOICE_NAMES.items():
        first = {side: s.choices[choice][0].value for side, s in specs.items() if s.choices.get(choice)}
        if len(first) == len(specs) and len(set(first.values())) > 1:
            return {side: f"{name}: {value_word(value)}" for side, value in first.items()}
    out = {side: {v.value for v in s.vetoes} for side, s in specs.items()}
    parted = sorted({v for gone in out.values() for v in gone if not all(v in other for other in out.values())})
    return {
        side: f"{value_word(parted[0]).capitalize()}: {'out' if parted[0] in gone else 'in'}"
        for side, gone in out.items()
        if parted
    }


def _told(sport: Sport, discipline: Option, answers: dict[str, str]) -> str:
    texts = {(a.field, o.value): o.text for a in SPORTS[sport].asks for o in a.options}
    return ", ".join([discipline.text, *(texts[answer].lower() for answer in answers.items())])


@cache
def sides_of(sport: Sport, slug: str) -> Sides | None:
    """Where the sides of a school part; None where they move nothing that a scale or a choice shows."""
    words = SPORTS[sport]
    school: School = next(s for s in words.schools if s.slug == slug)
    for discipline in words.disciplines:
        for answers in plain_answers(sport, discipline.value):
            usual = {"sport": sport, "discipline": discipline.value, "body_kg": 70, "level": "competitive", **answers}
            specs = {
                o.value: spec_for(Brief.model_validate(usual | {"schools": {slug: o.value}})) for o in school.options
            }
            drawn, leads = _drawn(specs, sport), _leads(specs)
            if drawn or leads:
                return Sides(_told(sport, discipline, answers), tuple(drawn[:MOST_SCALES]), leads)
    return None
