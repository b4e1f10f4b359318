"""The brief: what the athlete does, on what, how often, with which body. What is asked is in `words`."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any, Literal

from pydantic import Field, model_validator

from ..contract import Contract, Day
from ..errors import AtField, BadInput, bad_field, read
from ..mechanics.edge import ToeStrength
from ..mechanics.sideways import Floor
from ..mechanics.squat import Bar
from ..mechanics.studs import Surface
from .present import PresentShoe
from .words import SPORTS, Sport

Level = Literal["new", "club", "competitive"]
History = Literal[
    "knee", "ankle", "heel_pain", "back", "hip", "achilles", "forefoot", "numbness", "diabetes", "surgery",
    "orthosis", "older",
]  # fmt: skip
Pedal = Literal["flat", "two_bolt", "three_bolt", "undecided"]
Role = Literal["pace_bowler", "spin_bowler", "batter", "keeper", "fielder", "all_rounder"]
Wicket = Literal["grass", "artificial_outdoor", "artificial_indoor", "sports_hall"]

DEGREES_PER_CM = 3.6
"""Dorsiflexion per cm of knee-to-wall distance. Konor 2012, published; value from memory."""


UNASKED_YET = {"sport": "the sport", "discipline": "what they do most", "also": "what the pair is also for"}
"""What comes before a sport's own questions, in words."""


class Also(Contract):
    """Something else the same pair is for, with its share of the time, %; answers that differ there."""

    discipline: str
    share_pct: float = Field(ge=5, le=90)
    surface: Surface | None = None
    floor: Floor | None = None
    pedal: Pedal | None = None
    role: Role | None = None
    wicket: Wicket | None = None


class BriefDraft(Contract):
    """A brief while it is being asked: any answer may be missing."""

    sport: Sport | None = None
    discipline: str | None = None
    also: list[Also] = Field([], max_length=3)
    surface: Surface | None = None
    wet: bool = False
    floor: Floor | None = None
    lunging: Literal["seldom", "often", "most"] | None = None
    pedal: Pedal | None = None
    ride_km: float | None = Field(None, ge=1, le=600)
    power_w: float | None = Field(None, ge=20, le=2500)
    cadence_rpm: float | None = Field(None, ge=30, le=200)
    role: Role | None = None
    wicket: Wicket | None = None
    creased: bool = False
    level: Level = "club"
    sessions_per_week: float = Field(2, ge=0, le=21)
    body_kg: float | None = Field(None, ge=15, le=250)
    stature_mm: float | None = Field(None, ge=900, le=2300)
    thigh_mm: float | None = Field(None, ge=200, le=700)
    dorsiflexion_deg: float | None = Field(None, ge=0, le=60)
    knee_to_wall_cm: float | None = Field(None, ge=0, le=25)
    toe_strength: ToeStrength | None = None
    edge_mm: float | None = Field(None, ge=1, le=60)
    stance_min: float | None = Field(None, ge=0, le=60)
    small_edges_pct: float | None = Field(None, ge=0, le=100)
    bar: Bar | None = None
    bar_kg: float | None = Field(None, ge=0, le=500)
    feel: Literal["leather", "synthetic", "either"] = "either"
    growing: bool = False
    history: list[History] = Field([], max_length=12)
    schools: dict[str, str] = {}
    event_on: Day | None = None
    note: str = Field("", max_length=600)
    """What else they said, in their words."""
    wears_now: str = Field("", max_length=200)
    present: PresentShoe = PresentShoe()
    looks: str = Field("", max_length=200)
    budget: float | None = Field(None, ge=0, le=5000)


def _one_of(value: str, allowed: list[str], what: str, field: str) -> None:
    if value not in allowed:
        raise AtField(field, f"No {what} is called {value}; one of: {', '.join(allowed)}")


def unsaid_of_also(draft: BriefDraft) -> list[str]:
    """Paths of what a further discipline can't do without, and that neither it nor the first one says."""
    if draft.sport is None:
        return []
    words = SPORTS[draft.sport]
    said = {f for f in words.needed(draft.discipline) if getattr(draft, f) is not None}
    return [
        f"also.{i}.{field}"
        for i, other in enumerate(draft.also)
        for field in words.needed(other.discipline)
        if getattr(other, field) is None and field not in said
    ]


OF_ONE_SPORT = ("discipline", "also", "schools")
"""Answers whose words belong to one sport: they are left behind when the sport is changed."""


def _in_words(draft: BriefDraft, name: str) -> None:
    """Raise `AtField` when the answers to `name` are not in the sport's own words."""
    if draft.sport is None:
        return
    words = SPORTS[draft.sport]
    disciplines = [d.value for d in words.disciplines]
    if name == "discipline" and draft.discipline is not None:
        _one_of(draft.discipline, disciplines, f"{draft.sport} discipline", name)
    if name == "also":
        for i, other in enumerate(draft.also):
            _one_of(other.discipline, disciplines, f"{draft.sport} discipline", f"also.{i}.discipline")
        if sum(o.share_pct for o in draft.also) > 95:
            raise AtField(name, "The other disciplines' shares leave no time for the first; together at most 95 %")
    if name == "schools":
        schools = {s.slug: [o.value for o in s.options] for s in words.schools}
        for slug, side in draft.schools.items():
            _one_of(slug, list(schools), f"{draft.sport} school", f"schools.{slug}")
            _one_of(side, schools[slug], f"side of {slug}", f"schools.{slug}")


def check_answers(draft: BriefDraft, given: Iterable[str]) -> None:
    """Raise `BadInput` when an answer just given (by path) is none the sport knows; what was left behind is let be."""
    paths = set(given)
    if "schools" not in paths:
        now = {k: v for k, v in draft.schools.items() if f"schools/{k}" in paths}
        draft = draft.model_copy(update={"schools": now})
    for name in OF_ONE_SPORT:
        if not any(path.split("/")[0] == name for path in paths):
            continue
        try:
            _in_words(draft, name)
        except AtField as error:
            raise bad_field(error.field, "not-in-sport", f"{error}.") from None


class Brief(BriefDraft):
    """A brief complete enough for a spec."""

    sport: Sport
    discipline: str
    body_kg: float = Field(ge=15, le=250)

    @model_validator(mode="after")
    def _in_vocabulary(self) -> Brief:
        words = SPORTS[self.sport]
        for name in OF_ONE_SPORT:
            _in_words(self, name)
        needed = words.needed(self.discipline)
        for ask in (a for a in words.asks if a.field in needed and getattr(self, a.field) is None):
            allowed = ", ".join(o.value for o in ask.options)
            raise AtField(ask.field, f"{self.sport.capitalize()} needs an answer here; one of: {allowed}")
        for path in unsaid_of_also(self):
            raise AtField(path, "What the pair is also for needs an answer here too")
        return self

    @property
    def ankle_deg(self) -> float | None:
        """Dorsiflexion in degrees, from the angle or from the knee-to-wall distance."""
        if self.dorsiflexion_deg is not None:
            return self.dorsiflexion_deg
        return None if self.knee_to_wall_cm is None else min(self.knee_to_wall_cm * DEGREES_PER_CM, 60.0)

    def each(self) -> list[tuple[float, Brief]]:
        """One plain brief a discipline with its share of the time (0…1), the first one's what is left. What another
        discipline of the sport can't do without is left behind where it isn't asked."""
        if not self.also:
            return [(1.0, self._own())]
        rest = 1 - sum(o.share_pct for o in self.also) / 100
        plain: dict[str, Any] = {"also": []}
        found = [(rest, self.model_copy(update=plain)._own())]
        for other in self.also:
            differs = other.model_dump(exclude={"share_pct"}, exclude_none=True)
            found.append((other.share_pct / 100, self._own().model_copy(update=plain | differs)._own()))
        return found

    def _own(self) -> Brief:
        words = SPORTS[self.sport]
        strange = set(words.needs) - set(words.needed(self.discipline))
        return self.model_copy(update=dict.fromkeys(strange)) if strange else self


def still_to_ask(draft: BriefDraft) -> list[str]:
    """Fields a spec cannot do without and that are not answered yet."""
    if draft.sport is None:
        return ["sport"]
    needed = ["discipline", "body_kg", *SPORTS[draft.sport].needed(draft.discipline)]
    known = asked_only(draft)
    return [f for f in needed if getattr(known, f) is None] or (["also"] if unsaid_of_also(known) else [])


def _as_asked(field: str, sport: Sport | None) -> str:
    """A field in the words of its question: "body mass"."""
    asks = SPORTS[sport].asks if sport else ()
    return next((a.short.lower() for a in asks if a.field == field and a.short), UNASKED_YET.get(field, field))


def complete(draft: BriefDraft) -> Brief:
    """The brief from its draft; raises `BadInput` naming what is still to ask."""
    gaps = still_to_ask(draft)
    if gaps:
        said = ", ".join(_as_asked(gap, draft.sport) for gap in gaps)
        raise BadInput(f"The brief still needs: {said}.", code="brief-incomplete")
    return read(Brief, asked_only(draft).model_dump(mode="json"), "brief")


def asked_only(draft: BriefDraft) -> BriefDraft:
    """The draft without answers in another sport's words, left behind when the sport was changed."""
    if draft.sport is None:
        return draft
    words = SPORTS[draft.sport]
    sides = {s.slug: {o.value for o in s.options} for s in words.schools}
    disciplines = {d.value for d in words.disciplines}
    values: dict[str, Any] = draft.model_dump()
    values["schools"] = {k: v for k, v in draft.schools.items() if v in sides.get(k, ())}
    values["also"] = [o for o in values["also"] if o["discipline"] in disciplines]
    if draft.discipline not in disciplines:
        values["discipline"] = None
    return BriefDraft.model_validate(values)
