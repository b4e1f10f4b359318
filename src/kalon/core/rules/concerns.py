"""One set of concerns from every door: what hurts, was hurt, doesn't feel or has to be spared, and who said so where.

Feet, the brief, its free words, an earlier brief of another sport, the athlete's own page and what they answered by
their link are read here, once, before any rule runs. Rules ask `Case.has` and know no door.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from typing import Literal

from pydantic import Field

from ..contract import Contract
from ..feet.cautions import TICKS, Tick, about_feet
from ..feet.gauge import Feet
from ..feet.growth import grows
from ..feet.noted import IMPLIES, Slug, denied, noted
from .brief import BriefDraft, History

Door = Literal["feet", "brief", "elsewhere"]

UNFELT: tuple[Slug, ...] = ("numbness", "diabetes", "wounds")
"""Feet that don't feel, aren't well supplied, or are open: nothing may press on them."""
TENDER: tuple[Slug, ...] = (*UNFELT, "surgery", "gout", "ingrown_nail", "swelling")
"""Feet a clinician should see before anything is fitted tight."""
LASTING: tuple[Slug, ...] = (
    "numbness", "diabetes", "knee", "ankle", "cruciate", "gout", "orthosis", "prosthesis", "bunion",
    "low_arch", "high_arch", "stiff_toe", "leg_length",
)  # fmt: skip
"""What holds although it was said for another sport, or long ago; the rest may be over."""
LASTS_OF_TICK: dict[Tick, Slug] = {"wounds_or_numbness": "numbness"}
"""What of a tick that stands for two things lasts: the wound of then may be healed, the spot that doesn't feel not."""
BY_BIRTH = "by the date of birth"
OLDER_YEARS = 60.0
"""From here an athlete counts as older. House default."""
BRIEF_WORDS = ("note", "wears_now", "looks")
"""Answers of a brief in the athlete's own words."""


class Heard(Contract):
    """What was said of this athlete somewhere else than in this fitting."""

    where: str = Field(max_length=120)
    """As it is said back: "at the football fitting of 3 May 2026"."""
    now: bool = False
    """Whether it is said of how they are now; else only what lasts is heard."""
    history: list[History] = Field([], max_length=12)
    ticked: list[Tick] = Field([], max_length=10)
    note: str = Field("", max_length=4000)


class Concern(Contract):
    """One thing to mind, and the first door it came in by."""

    slug: Slug
    door: Door
    about: str
    """The answer or finding that raised it: `history`, `feet`, `note` …"""
    words: str = ""
    """The words it was said in; empty for a tick."""
    where: str = ""
    """Where, when it was not in this fitting."""

    @property
    def said(self) -> str:
        """In brackets behind what it is: the words and the place; nothing for a tick of this fitting's brief."""
        at = {"feet": "at Feet", "brief": "in the brief", "elsewhere": self.where}[self.door]
        if self.words:
            return f" (noted {at}: “{self.words}”)"
        return f" ({at})" if self.door != "brief" else ""


def _of_note(text: str, door: Door, about: str, where: str = "") -> Iterable[Concern]:
    for slug, words in noted(text).items():
        yield Concern(slug=slug, door=door, about=about, words=words[:120], where=where)


def _here(brief: BriefDraft, feet: Feet | None) -> Iterable[Concern]:
    for slug in brief.history:
        yield Concern(slug=slug, door="brief", about="history")
    if brief.growing:
        yield Concern(slug="growing", door="brief", about="growing")
    if brief.creased:
        yield Concern(slug="creased", door="brief", about="creased")
    if brief.present.kind == "running":
        yield Concern(slug="running_shoe", door="brief", about="present")
    if feet is not None:
        yield from (Concern(slug=slug, door="feet", about="feet") for slug in about_feet(feet))
        yield from _of_note(feet.note, "feet", "feet")
    for name in BRIEF_WORDS:
        yield from _of_note(getattr(brief, name), "brief", name)


def _elsewhere(heard: Sequence[Heard], gone: set[Slug]) -> Iterable[Concern]:
    for one in heard:
        ticked: list[Slug] = list(one.history)
        for tick in one.ticked:
            ticked += [LASTS_OF_TICK[tick]] if tick in LASTS_OF_TICK else TICKS[tick]
        told = [
            *(Concern(slug=slug, door="elsewhere", about="elsewhere", where=one.where) for slug in ticked),
            *_of_note(one.note, "elsewhere", "elsewhere", one.where),
        ]
        yield from (c for c in told if (one.now or c.slug in LASTING) and c.slug not in gone)


def _by_age(age_years: float | None) -> Iterable[Concern]:
    if age_years is not None and grows(age_years):
        yield Concern(slug="growing", door="elsewhere", about="growing", where=BY_BIRTH)
    if age_years is not None and age_years >= OLDER_YEARS:
        yield Concern(slug="older", door="elsewhere", about="history", where=BY_BIRTH)


def concerns_of(
    brief: BriefDraft, feet: Feet | None, heard: Sequence[Heard] = (), age_years: float | None = None
) -> dict[Slug, Concern]:
    """Every concern by its name, each once, from the nearest door it came in by; who grows and who is older by their
    age too.

    What this fitting's own notes deny ("not diabetic") is no longer taken from elsewhere; a tick or a word of this
    fitting stands whatever else is said."""
    texts = [getattr(brief, name) for name in BRIEF_WORDS] + ([feet.note] if feet else [])
    gone = {slug for text in texts for slug in denied(text)}
    found: dict[Slug, Concern] = {}
    for concern in (*_here(brief, feet), *_by_age(age_years), *_elsewhere(heard, gone)):
        for slug in (concern.slug, *IMPLIES.get(concern.slug, ())):
            found.setdefault(slug, concern.model_copy(update={"slug": slug}))
    return found
