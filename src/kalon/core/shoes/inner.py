"""The inside of one size, zone by zone, from whatever is known of it: its label, what was learned, what was read.

A shop has a label and no inner measures. The label gives a length, the sport's usual shares give the rest, each with
the spread makers, models and single sizes have; every reading makes it surer. Shares and spreads are house defaults.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from pydantic import Field, model_validator

from ..contract import Contract, Positive
from ..errors import AtField
from ..fit.foot import FIT_ZONES
from ..sizes import SHORTEST_LAST_MM, last_of
from ..sports.every import EVERY
from ..sports.words import Sport
from ..systems import SIZE_SYSTEMS, System

Zone = Literal["length", "ball_girth", "instep_girth", "heel_width"]
Source = Literal["label", "learned", "sheet", "stick", "insole", "measured"]

SHARES: dict[Sport, tuple[float, float, float]] = {sport: facts.girths for sport, facts in EVERY.items()}
"""Ball girth, instep girth and heel width of a regular last, shares of inner length. House defaults."""
LETTER_MM = 4.76
"""Ball girth a width letter adds, 3/16 in. From memory."""
LETTERS = ("4A", "3A", "2A", "A", "B", "C", "D", "E", "2E", "3E", "4E", "5E", "6E")
SHORT: dict[str, str] = {
    "xn": "extra narrow", "n": "narrow", "m": "regular", "r": "regular", "std": "regular", "w": "wide",
    "xw": "extra wide", "xxw": "extra wide",
}  # fmt: skip
"""Makers' own letters that are words: they are no letters of the scale."""
FAMILIES_MM: dict[str, float] = {
    "extra narrow": -18.0, "narrow": -9.0, "regular": 0.0, "wide": 9.0, "extra wide": 18.0, "low": -7.0, "high": 7.0,
    "contoured": 0.0, "classic": 9.0,
}  # fmt: skip
"""Ball girth against a regular last by the words makers print. House defaults."""
HEEL_OF_STEP = 0.12
"""How much of a width's step the heel takes. House default."""


@dataclass(frozen=True)
class Spreads:
    """One standard deviation by zone, mm: of makers, of models within one, of sizes within a model."""

    maker: tuple[float, float, float, float] = (2.5, 4.0, 4.0, 1.2)
    model: tuple[float, float, float, float] = (1.5, 3.5, 4.0, 1.0)
    size: tuple[float, float, float, float] = (0.8, 2.0, 2.5, 0.6)

    def whole(self, zone: int) -> float:
        """Of a size of which only the label is known."""
        return float((self.maker[zone] ** 2 + self.model[zone] ** 2 + self.size[zone] ** 2) ** 0.5)


SPREADS = Spreads()
"""House defaults."""
READ_SIGMA_MM: dict[Source, tuple[float | None, ...]] = {
    "sheet": (1.5, 3.0, 3.0, 1.0), "stick": (1.0, None, None, None), "insole": (1.0, 4.0, None, 1.0),
    "measured": (1.0, 2.5, 2.5, 1.0),
}  # fmt: skip
"""How sure a reading is by its source and zone, one standard deviation, mm; none where it says nothing. House
defaults."""
LIMITS_MM = ((80.0, 420.0), (80.0, 420.0), (80.0, 440.0), (20.0, 140.0))
"""Outside these no shoe is, by zone."""


class ShoeReading(Contract):
    """One inner measure as read, mm, with one standard deviation (by its source when not said)."""

    zone: Zone
    mm: Positive = Field(le=450)
    sigma_mm: float | None = Field(None, gt=0, le=50)
    source: Source = "measured"


class Offset(Contract):
    """What was learned of a size: how far it departs from what its label says, mm, and how sure that is."""

    mean_mm: float = Field(ge=-60, le=60)
    sd_mm: float = Field(gt=0, le=60)


class InnerIn(Contract):
    """One size of a shoe: what its box says, what was read of it, and what was learned of its maker and model."""

    sport: Sport
    build: Literal["slip", "plate", "board"] = "board"
    system: System = "eu"
    label: float
    runs_ahead: float | None = Field(None, ge=0, le=3)
    """How far the maker's sizes run ahead in this system, where it isn't as most have it."""
    width: str = Field("regular", max_length=20)
    readings: list[ShoeReading] = Field([], max_length=100)
    learned: dict[Zone, Offset] = {}

    @model_validator(mode="after")
    def _made(self) -> InnerIn:
        by_label(self)
        return self


class InnerZone(Contract):
    """One zone: its measure, one standard deviation, mm, and what it rests on, surest first."""

    mm: float
    sigma_mm: float
    known_from: list[Source]


class InnerOut(Contract):
    """The inside of one size."""

    length: InnerZone
    ball_girth: InnerZone
    instep_girth: InnerZone
    heel_width: InnerZone
    conflicts: list[str] = []
    """Readings of one zone that lie further apart than their spreads allow."""


def width_step_mm(width: str, system: System = "eu") -> float:
    """Ball girth a printed width adds to a regular one's, mm. Raises `AtField` for one nobody prints."""
    word = width.strip()
    family = SHORT.get(word.lower(), word.lower())
    if family in FAMILIES_MM:
        return FAMILIES_MM[family]
    of = SIZE_SYSTEMS[system]
    if word.upper() in of.letters:
        return of.letter_mm * of.letters.index(word.upper())
    letter = word.upper().replace("AAAA", "4A").replace("AAA", "3A").replace("AA", "2A")
    letter = {"EE": "2E", "EEE": "3E", "EEEE": "4E"}.get(letter, letter)
    if letter in LETTERS:
        return LETTER_MM * (LETTERS.index(letter) - LETTERS.index(of.middle_letter))
    raise AtField("width", f"No width is called {width}; one of: {', '.join((*FAMILIES_MM, *LETTERS))}")


def by_label(given: InnerIn) -> tuple[float, float, float, float]:
    """What the box alone says of each zone, mm."""
    last = last_of(given.system, given.label, runs_ahead=given.runs_ahead)
    if not SHORTEST_LAST_MM <= last <= LIMITS_MM[0][1]:
        raise AtField("label", f"No shoe is {given.system} {given.label:g}: its last would be {last:.0f} mm")
    step = width_step_mm(given.width, given.system)
    ball, instep, heel = SHARES[given.sport]
    return last, last * ball + step, last * instep + step, last * heel + HEEL_OF_STEP * step


APART = 3.0
"""Spreads of their difference from which two readings are said to disagree. House default."""
Part = tuple[float, float, Source]
"""A measure, mm, one standard deviation, and where it is from."""


def read_of(readings: Sequence[ShoeReading], zone: int) -> list[Part]:
    """What readings say of a zone, as sure as each says or its source usually is; those that say nothing of it, out,
    and such as no shoe has (kept before that was refused)."""
    low, high = LIMITS_MM[zone]
    found: list[Part] = []
    for reading in readings:
        sigma = reading.sigma_mm or READ_SIGMA_MM.get(reading.source, (None,) * 4)[zone]
        if reading.zone == FIT_ZONES[zone] and sigma is not None and low <= reading.mm <= high:
            found.append((reading.mm, sigma, reading.source))
    return found


def as_one(parts: Sequence[Part]) -> tuple[float, float]:
    """Independent measures of one thing as one: mm and one standard deviation."""
    precision = sum(1 / sigma**2 for _, sigma, _ in parts)
    return sum(value / sigma**2 for value, sigma, _ in parts) / precision, precision**-0.5


def facts(given: InnerIn) -> list[float | None]:
    """What a catalogue keeps of a size: what its box says of the four zones, everything read of each as one, mm, and
    one standard deviation of that; none where nothing was read."""
    read = [as_one(parts) if (parts := read_of(given.readings, i)) else (None, None) for i in range(len(FIT_ZONES))]
    return [*by_label(given), *(mm for mm, _ in read), *(sigma for _, sigma in read)]


def surest(given: InnerIn) -> Source:
    """What the length of a size mostly rests on, apart from what is learned."""
    parts: list[Part] = [(0.0, SPREADS.whole(0), "label"), *read_of(given.readings, 0)]
    return min(parts, key=lambda p: p[1])[2]


def inner(given: InnerIn) -> InnerOut:
    """Each zone of one size as the normal posterior of its label, what was learned, and its readings."""
    base = by_label(given)
    zones: dict[str, InnerZone] = {}
    for i, zone in enumerate(FIT_ZONES):
        offset = given.learned.get(zone)  # type: ignore[call-overload]
        start: Part = (
            (base[i] + offset.mean_mm, offset.sd_mm, "learned") if offset else (base[i], SPREADS.whole(i), "label")
        )
        parts = [start, *read_of(given.readings, i)]
        mm, sigma = as_one(parts)
        first = sorted(parts, key=lambda p: p[1])
        zones[zone] = InnerZone(
            mm=round(mm, 2), sigma_mm=round(sigma, 3), known_from=list(dict.fromkeys(p[2] for p in first))
        )
    return InnerOut(**zones, conflicts=conflicts(given.readings))


def conflicts(readings: Sequence[ShoeReading]) -> list[str]:
    """Readings of one zone that lie further apart than their spreads allow, in words."""
    found = []
    for i, zone in enumerate(FIT_ZONES):
        read = read_of(readings, i)
        apart = [(a, b) for n, a in enumerate(read) for b in read[n + 1 :] if _disagree(a, b)]
        found += [
            f"{zone.replace('_', ' ').capitalize()}: {a[2]} says {a[0]:g} mm, {b[2]} {b[0]:g} mm. Read it again?"
            for a, b in apart[:1]
        ]
    return found


def _disagree(a: Part, b: Part) -> bool:
    return bool(abs(a[0] - b[0]) > APART * (a[1] ** 2 + b[1] ** 2) ** 0.5)
