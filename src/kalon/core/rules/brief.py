"""The brief: what the athlete does, on what, how often, with which body. One vocabulary, asked in trade words."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from typing import Any, Literal

from pydantic import Field, model_validator

from ..contract import Contract
from ..errors import BadInput, read
from ..mechanics.edge import ToeStrength
from ..mechanics.squat import Bar

Sport = Literal["climbing", "football", "lifting"]
Level = Literal["new", "club", "competitive"]
Surface = Literal[
    "soft_natural", "firm_natural", "hard_natural", "artificial_grass", "carpet_turf", "indoor_hall"
]  # fmt: skip
History = Literal[
    "knee", "ankle", "heel_pain", "back", "hip", "achilles", "forefoot", "numbness", "diabetes", "surgery"
]  # fmt: skip

DEGREES_PER_CM = 3.6
"""Dorsiflexion per cm of knee-to-wall distance. Konor 2012, published; value from memory."""


class BriefDraft(Contract):
    """A brief while it is being asked: any answer may be missing."""

    sport: Sport | None = None
    discipline: str | None = None
    surface: Surface | None = None
    wet: bool = False
    level: Level = "club"
    sessions_per_week: float = Field(2, ge=0, le=21)
    body_kg: float | None = Field(None, ge=15, le=250)
    stature_mm: float | None = Field(None, ge=900, le=2300)
    dorsiflexion_deg: float | None = Field(None, ge=0, le=60)
    knee_to_wall_cm: float | None = Field(None, ge=0, le=25)
    toe_strength: ToeStrength | None = None
    edge_mm: float | None = Field(None, ge=1, le=60)
    stance_min: float | None = Field(None, ge=0, le=60)
    bar: Bar | None = None
    bar_kg: float | None = Field(None, ge=0, le=500)
    feel: Literal["leather", "synthetic", "either"] = "either"
    history: list[History] = Field([], max_length=10)
    schools: dict[str, str] = {}
    event_on: date | None = None
    wears_now: str = Field("", max_length=200)


@dataclass(frozen=True)
class Option:
    """One answer in the athlete's words; `hint` tells how to recognise it."""

    value: str
    text: str
    hint: str = ""


@dataclass(frozen=True)
class Ask:
    """One question of the brief. `disciplines` limits it; empty asks always."""

    field: str
    kind: Literal["choice", "many", "number", "yes", "date", "text"]
    text: str
    options: tuple[Option, ...] = ()
    unit: str = ""
    needed: bool = False
    disciplines: tuple[str, ...] = ()


@dataclass(frozen=True)
class School:
    """A matter on which practitioners differ: the first option is the house's."""

    slug: str
    text: str
    options: tuple[Option, ...]


@dataclass(frozen=True)
class Vocabulary:
    """What a sport is asked about."""

    name: str
    disciplines: tuple[Option, ...]
    asks: tuple[Ask, ...]
    schools: tuple[School, ...]
    needs: tuple[str, ...] = ()


_BODY = Ask("body_kg", "number", "Body mass", unit="kg", needed=True)
_LEVEL = Ask("level", "choice", "How far along?", (
    Option("new", "New to it"), Option("club", "Club, regular"), Option("competitive", "Competes")))  # fmt: skip
_OFTEN = Ask("sessions_per_week", "number", "Sessions a week")
_EVENT = Ask("event_on", "date", "First match or event in the new pair")
_HISTORY = Ask("history", "many", "Anything that hurts or has been hurt?", (
    Option("knee", "Knee"), Option("ankle", "Ankle"), Option("heel_pain", "Heel pain"), Option("back", "Back"),
    Option("hip", "Hip"), Option("achilles", "Achilles tendon"), Option("forefoot", "Ball of the foot"),
    Option("numbness", "Numb or tingling toes"), Option("diabetes", "Diabetes, poor circulation"),
    Option("surgery", "Recent operation")))  # fmt: skip

FOOTBALL = Vocabulary(
    "Football",
    (Option("match", "Matches"), Option("training", "Training"), Option("casual", "Casual games")),
    (
        Ask("surface", "choice", "What is the ground like?", (
            Option("soft_natural", "Soft wet grass", "a stud sinks in fully"),
            Option("firm_natural", "Firm grass", "gives a little underfoot"),
            Option("hard_natural", "Hard dry grass", "studs hardly go in"),
            Option("artificial_grass", "Artificial grass", "long fibres, rubber granules"),
            Option("carpet_turf", "Carpet turf", "short carpet over a hard base"),
            Option("indoor_hall", "Hall floor", "wood or sprung floor indoors")), needed=True),
        Ask("wet", "yes", "Often wet?"),
        _BODY, _OFTEN, _LEVEL, _HISTORY,
        Ask("feel", "choice", "Touch on the ball", (
            Option("either", "No preference"), Option("leather", "Leather"), Option("synthetic", "Synthetic"))),
        _EVENT,
    ),
    (
        School("football_size", "How football boots are sized", (
            Option("half_under", "Half a size under street, toes wiggle"),
            Option("street_with_room", "Street size with a finger's room (synthetic)"))),
        School("turf_on_artificial", "Turf shoes on artificial grass", (
            Option("casual_only", "Casual games only"), Option("never", "Never"),
            Option("fine_when_dry", "Fine when dry"))),
        School("softening", "Softening leather", (
            Option("wear_only", "Wear only"), Option("steam_leather", "Gentle steam for leather"))),
    ),
    ("surface",),
)  # fmt: skip

CLIMBING = Vocabulary(
    "Climbing",
    (
        Option("first_shoe", "First pair"), Option("indoor_general", "Indoor, a bit of all"),
        Option("indoor_boulder", "Indoor and competition bouldering", "volumes, heel and toe hooks"),
        Option("outdoor_boulder", "Outdoor bouldering"),
        Option("steep_sport", "Steep sport routes", "overhangs, small pockets"),
        Option("technical_edging", "Technical faces", "vertical, tiny edges"),
        Option("gritstone", "Gritty friction rock", "rounded edges, many heel hooks"),
        Option("sandstone_slab", "Sandstone slab", "dimples, smears"),
        Option("trad", "Trad, one pitch", "standing to place protection"),
        Option("multi_pitch", "Long routes, all day"), Option("board", "Board training"),
        Option("mileage", "Endurance mileage"),
    ),
    (
        _BODY,
        Ask("edge_mm", "number", "Smallest edge stood on", unit="mm",
            disciplines=("technical_edging", "trad", "multi_pitch", "steep_sport", "outdoor_boulder")),
        Ask("stance_min", "number", "Longest stand on one edge", unit="min",
            disciplines=("technical_edging", "trad", "multi_pitch")),
        Ask("toe_strength", "choice", "Feet and toes", (
            Option("weak", "Not strong yet"), Option("average", "Average"), Option("strong", "Strong"))),
        _OFTEN, _LEVEL, _HISTORY, _EVENT,
    ),
    (
        School("climbing_fit", "How tight a performance pair", (
            Option("wearable_snug", "Snug and wearable 10–15 minutes"),
            Option("performance_tight", "Tighter, never numb"))),
        School("boulder_closure", "Closure for bouldering", (
            Option("fast", "Fast: straps or slip-on"), Option("laces", "Laces, for the heel"))),
    ),
)  # fmt: skip

LIFTING = Vocabulary(
    "Lifting and gym",
    (
        Option("olympic", "Snatch, clean and jerk"), Option("powerlifting_squat", "Heavy squats"),
        Option("deadlift", "Deadlifts"), Option("general_strength", "General strength"),
        Option("machines", "Hack squat, leg press"),
        Option("mixed_training", "Mixed training", "lifts, jumps, ropes, short runs"),
        Option("gym_running", "Mostly running at the gym"),
    ),
    (
        _BODY,
        Ask("stature_mm", "number", "Height", unit="mm"),
        Ask("knee_to_wall_cm", "number", "Knee to wall, heel down", unit="cm",
            disciplines=("olympic", "powerlifting_squat", "machines", "general_strength")),
        Ask("bar", "choice", "Where the bar sits", (
            Option("high", "High on the back"), Option("low", "Low on the back"), Option("front", "In front"),
            Option("overhead", "Overhead")), disciplines=("olympic", "powerlifting_squat")),
        Ask("bar_kg", "number", "Working weight", unit="kg", disciplines=("olympic", "powerlifting_squat")),
        _OFTEN, _LEVEL, _HISTORY, _EVENT,
    ),
    (
        School("squat_heel", "Heel for squats", (
            Option("computed", "Computed for this lifter"), Option("flat", "Flat always"),
            Option("raised", "Raised always"))),
    ),
)  # fmt: skip

SPORTS: dict[Sport, Vocabulary] = {"football": FOOTBALL, "climbing": CLIMBING, "lifting": LIFTING}


def _one_of(value: str, allowed: list[str], what: str) -> None:
    if value not in allowed:
        raise ValueError(f"No {what} is called {value}; one of: {', '.join(allowed)}")


class Brief(BriefDraft):
    """A brief complete enough for a spec."""

    sport: Sport
    discipline: str
    body_kg: float = Field(ge=15, le=250)

    @model_validator(mode="after")
    def _in_vocabulary(self) -> Brief:
        words = SPORTS[self.sport]
        _one_of(self.discipline, [d.value for d in words.disciplines], f"{self.sport} discipline")
        for field in words.needs:
            if getattr(self, field) is None:
                raise ValueError(f"{self.sport.capitalize()} needs an answer to: {field}")
        schools = {s.slug: [o.value for o in s.options] for s in words.schools}
        for slug, side in self.schools.items():
            _one_of(slug, list(schools), f"{self.sport} school")
            _one_of(side, schools[slug], f"side of {slug}")
        return self

    def school(self, slug: str) -> str:
        """This brief's side in a matter, the house's where it doesn't say."""
        house = next(s.options[0].value for s in SPORTS[self.sport].schools if s.slug == slug)
        return self.schools.get(slug, house)

    @property
    def ankle_deg(self) -> float | None:
        """Dorsiflexion in degrees, from the angle or from the knee-to-wall distance."""
        if self.dorsiflexion_deg is not None:
            return self.dorsiflexion_deg
        return None if self.knee_to_wall_cm is None else min(self.knee_to_wall_cm * DEGREES_PER_CM, 60.0)


def still_to_ask(draft: BriefDraft) -> list[str]:
    """Fields a spec cannot do without and that are not answered yet."""
    if draft.sport is None:
        return ["sport"]
    needed = ["discipline", "body_kg", *SPORTS[draft.sport].needs]
    return [f for f in needed if getattr(draft, f) is None]


def complete(draft: BriefDraft) -> Brief:
    """The brief from its draft; raises `BadInput` naming what is still to ask."""
    gaps = still_to_ask(draft)
    if gaps:
        raise BadInput("The brief still needs: " + ", ".join(g.replace("_", " ") for g in gaps) + ".",
                       code="brief-incomplete")  # fmt: skip
    return read(Brief, asked_only(draft).model_dump(mode="json"), "brief")


def asked_only(draft: BriefDraft) -> BriefDraft:
    """The draft without schools of another sport, left behind when the sport was changed."""
    if draft.sport is None:
        return draft
    known = {s.slug for s in SPORTS[draft.sport].schools}
    values: dict[str, Any] = draft.model_dump()
    values["schools"] = {k: v for k, v in draft.schools.items() if k in known}
    return BriefDraft.model_validate(values)
