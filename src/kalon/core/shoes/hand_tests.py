"""Hand tests at the shoe bench, asked one by one: how to do each, and what each finding means for the catalogue.

A finding stands for a number on the property's scale, or a feature; the number of a hand test is a word's middle, so a
gauge or scales beat it. Common practice, no source; the numbers are house defaults.
"""

from __future__ import annotations

from dataclasses import dataclass

from ..rules.words import Sport


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
    sports: tuple[Sport, ...] = ()
    """Of these sports only; of all where none is named."""


def _three(
    a: float, b: float, c: float, words: tuple[str, str, str], means: tuple[str, str, str]
) -> tuple[Finding, ...]:
    return tuple(
        Finding(s, w, v, m) for s, w, v, m in zip(("soft", "middle", "firm"), words, (a, b, c), means, strict=True)
    )


TESTS: tuple[HandTest, ...] = (
    HandTest(
        "fold",
        "Fold it",
        "Both hands, toe and heel: bend it where the ball bends.",
        "bend_n_mm_per_deg",
        _three(
            60,
            220,
            520,
            ("bends in half", "bends at the ball with a push", "hardly bends"),
            (
                "Gives no support under load: not for lifting.",
                "Bends where the foot bends.",
                "Carries the foot on small steps and under load.",
            ),
        ),
    ),
    HandTest(
        "wring",
        "Wring it",
        "One hand at the heel, one at the ball: wring it like a cloth.",
        "twist_n_mm_per_deg",
        _three(
            50,
            200,
            430,
            ("wrings easily", "wrings with a push", "doesn't wring"),
            ("The middle gives no support sideways.", "Some support for the middle.", "Holds the foot level in a cut."),
        ),
    ),
    HandTest(
        "press_heel",
        "Press the heel's foam",
        "A thumb into the foam under the heel, hard.",
        "cushion",
        _three(
            1.5,
            5,
            8.5,
            ("hard as wood", "gives a little", "sinks in"),
            (
                "Low and stable; little for the floor's knocks.",
                "Some cushion, some feel.",
                "Soft landings; sways under a bar.",
            ),
        ),
    ),
    HandTest(
        "pinch_cup",
        "Pinch the heel cup",
        "Finger and thumb at both sides of the heel: press it together.",
        "heel_counter",
        _three(
            2,
            5.5,
            8.5,
            ("folds flat", "gives, comes back", "stands"),
            ("The heel wanders.", "Holds a quiet heel.", "Holds the heel in stops and turns."),
        ),
    ),
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
    HandTest(
        "nail",
        "Thumbnail into the rubber",
        "Press a thumbnail into the sole's edge and look.",
        "rubber_shore_a",
        _three(
            62,
            74,
            86,
            ("leaves a deep mark", "a mark that goes", "no mark"),
            ("Soft: grips and wears.", "In the middle.", "Hard: lasts, stands on edges."),
        ),
        sports=("climbing", "court", "cycling", "field"),
    ),
    HandTest(
        "spring",
        "Press the toe flat",
        "Press the toe down flat and let go.",
        "tension_rand",
        (
            Finding("springs", "springs back", True, "The rand keeps the hook."),
            Finding("stays", "stays flat", False, "No tension in the rand."),
        ),
        sports=("climbing",),
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
        sports=("court", "football"),
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
        sports=("court", "field"),
    ),
)


def tests_for(sport: Sport) -> tuple[HandTest, ...]:
    """The hand tests of a sport, in the order they are done."""
    return tuple(t for t in TESTS if not t.sports or sport in t.sports)
