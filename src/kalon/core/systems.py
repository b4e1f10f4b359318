"""Size systems, an entry each: its line in millimetres, what it is called on boxes and in lists, who speaks in it."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal, get_args

from .units import INCH_MM

System = Literal["eu", "uk", "us_men", "us_women", "uk_child", "us_child", "jp_cm", "mondopoint_mm"]
SYSTEMS: tuple[System, ...] = get_args(System)
KEPT: System = "eu"
"""The system the shelf is kept by."""
People = Literal["", "men", "women", "children"]

PARIS_POINT_MM = 20 / 3
BARLEYCORN_MM = INCH_MM / 3
UK_ADULT_ZERO = 25
UK_CHILD_ZERO = 12
US_MEN_AHEAD_OF_UK = 1
US_WOMEN_AHEAD_OF_MEN = 1.5
"""What most makers have; others one or two. From memory."""
US_CHILD_ZERO = 11
"""From memory."""
UK_LETTERS = ("F", "G", "H", "J")
"""British letters from a man's regular up; the others are read as everywhere. Common practice, from memory."""
UK_LETTER_MM = 6.35
"""Ball girth a British width letter adds, a quarter of an inch. From memory."""


@dataclass(frozen=True)
class SizeSystem:
    """One system. Its labels are a straight line: `(label + zero) * mm` is a last's length, or the foot's."""

    name: str
    mm: float
    """Millimetres a whole size."""
    zero: float
    """Whole sizes from nothing to size 0."""
    step: float
    """The step sizes are sold in. House default."""
    low: float
    high: float
    """Smallest and largest label sold. House default."""
    unit: str = ""
    """What stands between its name and a label on a box."""
    of_foot: bool = False
    """Whether its labels state the foot: a last is longer by an allowance."""
    own_step: float = 0.0
    """How far most makers run ahead in it, where makers have a step of their own there."""
    land: tuple[str, ...] = ()
    """Words over a block of sizes that name whose sizes they are; the first is the land's."""
    people: People = ""
    words: tuple[str, ...] = ()
    """What lists call it beside a label; common practice, from memory."""
    headings: tuple[str, ...] = ()
    """What lists write over a column of it; common practice, from memory."""
    bare: tuple[tuple[float, float], ...] = ()
    """Between these a number alone can be no other system's size."""
    children: System | None = None
    """The system a child's letter (13C) turns a label of this into."""
    youth: bool = False
    """Whether youth sizes (3Y) go on in its scale; from memory."""
    junior: System | None = None
    """The system a junior run goes on in from where it begins anew."""
    middle_letter: str = "D"
    """The width letter that is regular. A Japanese 2E is what others call regular; from memory."""
    letters: tuple[str, ...] = ()
    letter_mm: float = 0.0
    """Width letters of its own from regular up, and what each adds to the ball's girth."""
    typed: bool = False
    """Whether feet may be typed in by it."""
    asked: str = ""
    """What an athlete calls it who says what they wear; not asked where nothing."""
    card: str = ""
    """What it is called on labels and cards, where it stands there."""


SIZE_SYSTEMS: Mapping[System, SizeSystem] = {
    "eu": SizeSystem(
        "EU", PARIS_POINT_MM, 0, 0.5, 16, 52, land=("eu", "eur", "euro"), words=("eu", "eur", "euro", "fr", "paris"),
        headings=("eu", "eur", "eu size", "size eu", "eur size"), bare=((15, 20), (33, 52.5)), typed=True, asked="EU",
        card="EU",
    ),
    "uk": SizeSystem(
        "UK", BARLEYCORN_MM, UK_ADULT_ZERO, 0.5, 1, 17, land=("uk", "gb"), words=("uk", "gb", "english"),
        headings=("uk", "uk size", "size uk"), children="uk_child", letters=UK_LETTERS, letter_mm=UK_LETTER_MM,
        typed=True, asked="UK", card="UK",
    ),
    "us_men": SizeSystem(
        "US men", BARLEYCORN_MM, UK_ADULT_ZERO - US_MEN_AHEAD_OF_UK, 0.5, 1, 18, land=("us", "usa"), people="men",
        words=("us men", "us", "usa", "us m", "us mens", "usm", "m", "men", "us y", "us youth"),
        headings=("us", "us size", "us men", "us mens", "us m", "size us", "us youth"), children="us_child", youth=True,
        asked="US men's", card="US",
    ),
    "us_women": SizeSystem(
        "US women", BARLEYCORN_MM, UK_ADULT_ZERO - US_MEN_AHEAD_OF_UK - US_WOMEN_AHEAD_OF_MEN, 0.5, 3, 19,
        own_step=US_WOMEN_AHEAD_OF_MEN, land=("us", "usa"), people="women",
        words=("us women", "us w", "us womens", "usw", "w", "women"), headings=("us women", "us womens", "us w"),
        children="us_child", middle_letter="B", asked="US women's", card="US women",
    ),
    "uk_child": SizeSystem(
        "UK child", BARLEYCORN_MM, UK_CHILD_ZERO, 0.5, 0, 13.5, land=("uk", "gb"), people="children",
        words=("uk child", "uk c", "uk kids", "uk junior"), headings=("uk child", "uk kids"), children="uk_child",
        junior="uk", letters=UK_LETTERS, letter_mm=UK_LETTER_MM,
    ),
    "us_child": SizeSystem(
        "US child", BARLEYCORN_MM, US_CHILD_ZERO, 0.5, 0, 13.5, land=("us", "usa"), people="children",
        words=("us child", "us c", "us k", "us kids"), headings=("us child", "us kids"), children="us_child",
    ),
    "jp_cm": SizeSystem(
        "JP", 10, 0, 0.5, 10, 34, unit="cm", of_foot=True, land=("cm",), words=("jp", "cm", "japan"),
        headings=("jp", "cm"), middle_letter="2E",
    ),
    "mondopoint_mm": SizeSystem(
        "Mondopoint", 1, 0, 5, 100, 340, unit="mm", of_foot=True, land=("mondo", "mondopoint"),
        words=("mondopoint", "mondo", "mp", "mm"), headings=("mondopoint", "mondo"), bare=((99.5, 340.5),), asked="mm",
    ),
}  # fmt: skip
"""Every system, in the order they are offered."""


def check_systems() -> None:
    """Every system named has its entry, and none is called what another is. Raises `ValueError`."""
    if set(SIZE_SYSTEMS) != set(SYSTEMS):
        raise ValueError(f"Size systems without an entry, or without a name: {set(SIZE_SYSTEMS) ^ set(SYSTEMS)}")
    for what in ("words", "headings"):
        said = [word for s in SIZE_SYSTEMS.values() for word in getattr(s, what)]
        if twice := {word for word in said if said.count(word) > 1}:
            raise ValueError(f"Two size systems are called alike in {what}: {sorted(twice)}")
