"""One fact, one place: every fact that comes in by more than one door, and its doors; docs/facts.md is made from it:
`python -m tests.core.facts`.

The phrases are what fitters and athletes write. A door is what a spec is asked with.
"""

from __future__ import annotations

from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

PAGE = Path(__file__).parents[2] / "docs" / "facts.md"

Given = dict[str, Any]


def elsewhere(note: str = "", where: str = "on the athlete's page", *, now: bool = True, **more: Any) -> Given:
    """Said on the athlete's page or by their link (now), or in another sport's brief."""
    return {"heard": [{"where": where, "note": note, "now": now, **more}]}


def in_words(phrase: str) -> dict[str, Given]:
    """A phrase by each door that takes words."""
    return {
        "brief, in words": {"note": phrase},
        "brief, what they wear now": {"wears_now": phrase},
        "feet, in words": {"feet": {"note": phrase}},
        "their page": elsewhere(phrase),
        "their link": elsewhere(phrase, "in what they answered by their link"),
    }


def told(tick: str, phrase: str) -> dict[str, Given]:
    """What the brief has a tick for."""
    return {"brief, ticked": {"history": [tick]}, **in_words(phrase)}


def lasting(tick: str, phrase: str) -> dict[str, Given]:
    """The same where it lasts: another sport's brief says it too."""
    then = "at the ice fitting of 3 May 2026"
    return {
        **told(tick, phrase),
        "another sport's brief, ticked": elsewhere(where=then, now=False, history=[tick]),
        "another sport's brief, in words": elsewhere(phrase, then, now=False),
    }


@dataclass(frozen=True)
class Fact:
    """A fact, its doors, and briefs on which it has to tell."""

    name: str
    doors: dict[str, Given]
    briefs: tuple[str, ...]
    joined: str = "`Case.concerns`"
    base: Given = field(default_factory=dict)


_FOOT = {"length_mm": 265, "ball_width_mm": 103, "ball_girth_mm": 249, "instep_girth_mm": 254, "heel_width_mm": 66}


def feet(**more: Any) -> Given:
    """Both feet measured, alike."""
    return {"feet": {"left": _FOOT | more, "right": _FOOT | more}}


FOOTBALL, COURT, BAR = "football match surface=firm_natural", "court badminton", "lifting powerlifting_squat"
CLIMB, RIDE, RUN, SKATE = (
    "climbing steep_sport",
    "cycling road_fast pedal=three_bolt",
    "lifting gym_running",
    "ice hockey",
)
NUMB = (FOOTBALL, COURT, BAR, CLIMB, RIDE, SKATE)

FACTS: tuple[Fact, ...] = (
    Fact("Feet that don't feel", lasting("numbness", "tingling toes"), NUMB),
    Fact("Diabetes, poor supply", {
        **lasting("diabetes", "type 2 diabetic"), "feet, ticked": {"feet": {"concerns": ["circulation"]}}}, NUMB),
    Fact("A wound", {"feet, ticked": {"feet": {"wounds_or_numbness": True}}, **in_words("a small wound at the heel")}, NUMB),
    Fact("An operation", {
        **told("surgery", "operated in March"), "feet, ticked": {"feet": {"concerns": ["surgery"]}}}, (CLIMB, BAR)),
    Fact("Still growing", {
        "brief, ticked": {"growing": True}, "date of birth": {"age_years": 11.0}, **in_words("11-year-old"),
        "brief, other words": {"note": "she is still growing"}}, (FOOTBALL, CLIMB, BAR, COURT)),
    Fact("Older", {
        **told("older", "aged 67"), "date of birth": {"age_years": 67.0}, "brief, other words": {"note": "in his seventies"}},
        ("football training surface=hard_natural", COURT, CLIMB)),
    Fact("A prescribed insole", lasting("orthosis", "wears orthotics"), (FOOTBALL, COURT, RIDE)),
    Fact("A knee", lasting("knee", "bad left knee, it gives way"), (FOOTBALL, COURT, "lifting olympic")),
    Fact("An ankle", lasting("ankle", "rolled her ankle twice last season"), (FOOTBALL, COURT, SKATE)),
    Fact("A torn cruciate", {
        **in_words("torn cruciate in March"),
        "another sport's brief, in words": elsewhere("torn cruciate in March", "at the ice fitting", now=False)}, (FOOTBALL,)),
    Fact("Heel pain", told("heel_pain", "plantar fasciitis, left"), (FOOTBALL, COURT, RUN)),
    Fact("A back", told("back", "slipped disc years ago"), ("football casual surface=hard_natural", "field cricket wicket=grass role=pace_bowler")),
    Fact("A sore ball of the foot", told("forefoot", "Morton's neuroma"), ("football match surface=hard_natural", COURT)),
    Fact("An Achilles tendon", told("achilles", "achilles plays up"), (COURT, CLIMB)),
    Fact("Pregnancy", in_words("five months pregnant"), (FOOTBALL, COURT, RIDE)),
    Fact("A prosthesis", {
        **in_words("below-knee prosthesis, right"),
        "another sport's brief, in words": elsewhere("below-knee prosthesis, right", "at the ice fitting", now=False)},
        (COURT, "lifting mixed_training present.drop_mm=10")),
    Fact("A stiff big toe", in_words("hallux rigidus on the right"), (FOOTBALL, COURT)),
    Fact("Legs of unlike length", in_words("left leg shorter by 8 mm"), (COURT,)),
    Fact("A bunion", {"feet, looked at": feet(bunion=True), **{
        d: feet() | g for d, g in in_words("bunion on both feet").items() if "feet" not in g}},
        (FOOTBALL, CLIMB, RIDE), "`Case.bunion`: what was looked at, else what was noted"),
    Fact("A low arch", {"feet, looked at": feet(arch="low"), **{
        d: feet() | g for d, g in in_words("flat feet since childhood").items() if "feet" not in g}},
        (FOOTBALL, COURT, RUN), "`Case.arches`: what was looked at, else what was noted"),
    Fact("A running shoe worn now", {
        "brief, the shoe they wear": {"present": {"kind": "running"}}, "brief, in words": {"wears_now": "old running shoes"},
        "brief, said": {"note": "has only worn runners so far"}}, (COURT, BAR)),
    Fact("A boot that creases", {
        "brief, ticked": {"creased": True}, "brief, what they wear now": {"wears_now": "boots creased at the eyelets"}}, (SKATE,)),
    Fact("The drop they are used to", {
        "brief, measured": {"present": {"drop_mm": 10}}, "the shop's own pair": {"present": {"model": {"drop_mm": 10}}}},
        ("lifting mixed_training note=prosthesis",), "`Case.present_drop_mm`"),
    Fact("Football in a hall", {
        "football, hall floor": {}, "court, indoor football": {"sport": "court", "discipline": "indoor_football", "surface": None}},
        ("football match surface=indoor_hall",), "`rules.spec`: the court's rules are asked"),
)  # fmt: skip
ONE_DOOR = {
    "Body mass": "the brief's number; an earlier brief's is carried into it, and no note is read for kilograms",
    "Height, thigh, knee to wall": "the brief's numbers",
    "The ground": "the brief's answer, or that of each further discipline; hours on other grounds are logged with a pair",
    "Lengths, girths and widths": "gauge and captures, one number each by the surest reading (`feet.combine`)",
    "Socks": "Feet",
    "Sessions a week and level": "the brief",
}
"""Facts that have one door, and where it is."""


def page() -> str:
    """The page as Markdown."""
    parts = [
        "# Facts, and the doors they come in by\n",
        "Made by `python -m tests.core.facts`. A fact is one before any rule runs, whichever door it came in by: a test "
        "(`tests/core/test_facts.py`) opens every door of the table and sees the same bands, rooms, choices, vetoes, features "
        "and cautions behind each.\n",
        "| Fact | Doors | One in |\n|---|---|---|",
        *(f"| {f.name} | {'; '.join(f.doors)} | {f.joined} |" for f in FACTS),
        "\n## Facts with one door\n",
        *(f"- **{name}**: {where}." for name, where in ONE_DOOR.items()),
    ]
    return "\n".join(parts) + "\n"


if __name__ == "__main__":
    PAGE.write_text(page())
