"""Hand tests at the shoe bench, asked one by one: how to do each, and what each finding means for the catalogue.

A finding stands for a range of a property, by the one table of them (`hands.py`), or for a feature; the number kept is
the range's middle, so a gauge or scales beat it. Common practice, no source; the numbers are house defaults.
"""

from __future__ import annotations

from dataclasses import dataclass

from ..sports.every import facts_of
from ..sports.words import Sport
from .hands import HANDS, feels_of


@dataclass(frozen=True)
class Finding:
    """What a hand may find: in its words, the number or feature it stands for, and what it means."""

    slug: str
    text: str
    value: float | bool
    means: str


@dataclass(frozen=True)
class HandTest:
    """One test: what it is called, how it is done, what it tells of (a property or a feature), what may be found."""

    slug: str
    name: str
    how: str
    tells: str
    findings: tuple[Finding, ...]
    """None: a number is read."""
    unit: str = ""
    every: bool = True
    """Done on every shoe; else where the sport has it (`SportFacts.hand_tests`)."""


def _of(slug: str, sport: str | None, *, every: bool = True) -> HandTest:
    """A test whose findings lie on a scale, from the one table of them."""
    hand = next(h for h in HANDS if h.bench == slug)
    return HandTest(
        slug,
        hand.name,
        hand.how,
        hand.tells,
        tuple(Finding(f.at_bench, f.text, f.value, f.means) for f in feels_of(hand, sport)),
        every=every,
    )


TESTS: tuple[HandTest, ...] = (
    _of("fold", None),
    _of("wring", None),
    _of("press_heel", None),
    _of("pinch_cup", None),
    HandTest(
        "flop",
        "Flop it",
        "Hold it level by the heel and shake: does the front hang?",
        "shank",
        (
            Finding("flops", "hangs down", False, "Nothing carries the middle."),
            Finding("stands", "stays level", True, "A shank carries the middle under load."),
        ),
    ),
    HandTest(
        "scales",
        "Weigh it",
        "One shoe on the scales.",
        "mass_g",
        (),
        "g",
    ),
    _of("nail", None, every=False),
    HandTest(
        "spring",
        "Press the toe flat",
        "Press the toe down flat and let go.",
        "tension_rand",
        (
            Finding("springs", "springs back", True, "The rand keeps the hook."),
            Finding("stays", "stays flat", False, "No tension in the rand."),
        ),
        every=False,
    ),
    HandTest(
        "insole",
        "Lift the insole",
        "Lift it at the heel.",
        "removable_insole",
        (
            Finding("out", "comes out", True, "Another, or an orthosis, goes in; photograph it."),
            Finding("glued", "is glued", False, "Read the inside with a stick."),
        ),
    ),
    HandTest(
        "rub",
        "Rub the sole on paper",
        "Rub it hard over white paper.",
        "non_marking",
        (
            Finding("clean", "leaves nothing", True, "Keeps to the hall's rules."),
            Finding("marks", "leaves a mark", False, "Halls may turn it away."),
        ),
        every=False,
    ),
    HandTest(
        "breathe",
        "Blow through it",
        "Hold the upper to the light, or blow.",
        "breathable",
        (
            Finding("through", "air goes through", True, "Lets heat out."),
            Finding("closed", "closed", False, "Keeps heat and wet."),
        ),
    ),
    HandTest(
        "coin",
        "A coin's edge in the tread",
        "Stand a coin in the pattern; how deep does it go?",
        "tread_mm",
        (),
        "mm",
        every=False,
    ),
)


def tests_for(sport: Sport) -> tuple[HandTest, ...]:
    """The hand tests of a sport, in the order they are done."""
    of = [t for t in TESTS if t.every or t.slug in facts_of(sport).hand_tests]
    scaled = {h.bench for h in HANDS}
    return tuple(_of(t.slug, sport, every=t.every) if t.slug in scaled else t for t in of)
