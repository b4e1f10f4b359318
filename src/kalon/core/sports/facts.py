"""What the bench knows of a sport beside its rules: everything that would else be a line in somebody's table.

A sport is one of these, in a file of its own beside its rules (`core/rules/NAME.py`); `every.py` holds them all.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Literal

from ..fit.stretch import Build
from .trying import TrialTest
from .words import Sport, Vocabulary

Slack = Literal["harms", "little", "free"]
"""Whether room to grow does harm, may be little, or does none."""


@dataclass(frozen=True)
class Drawn:
    """The shoe that is drawn where nothing is said of one, mm and degrees; `blade_mm` of steel under it."""

    stack: float
    drop: float
    collar: float
    spring: float
    sole: float
    blade_mm: float = 0.0


@dataclass(frozen=True)
class WornIn:
    """How a pair is broken in: the first wears, and later ones; hours about the house before it is played in; whether
    the hands of a fitter may soften leather by steam."""

    first: str
    later: str
    at_home_h: float = 0.0
    steamed: bool = False


@dataclass(frozen=True)
class Purpose:
    """One thing a model may be meant for. `serves` and `never` name what briefs ask for (`shoes.meant.asked_for`);
    what neither names it is simply not meant for. Common practice, from memory."""

    text: str
    serves: frozenset[str] = frozenset()
    never: frozenset[str] = frozenset()
    never_in: tuple[Sport, ...] = ()
    """Whole sports it is never for."""

    @staticmethod
    def of(text: str, serves: str = "", never: str = "") -> Purpose:
        """With what it serves, and is never for, in words apart."""
        return Purpose(text, frozenset(serves.split()), frozenset(never.split()))


@dataclass(frozen=True)
class SportFacts:
    """One sport."""

    vocabulary: Vocabulary
    trial: tuple[TrialTest, ...]
    worn_in: WornIn
    build: Build
    """How its shoes are built where nobody says."""
    girths: tuple[float, float, float]
    """Ball girth, instep girth and heel width of a regular last, shares of inner length."""
    right_mm: tuple[float, float]
    """Room at the toe of a shoe its wearer calls right, mm."""
    drawn: Drawn
    looked_at: tuple[str, ...]
    """The parts one looks at on a worn pair (`care.seen`), in the order one turns it over."""
    lives_h: Mapping[str, float]
    """Median life of a pair of the usual price by what it is worn as, hours; the first is the sport's own."""
    new_height: str
    """What the body has to get used to in another pair."""
    usual_g: float
    """What one shoe for the reference foot weighs, g; 0 where nobody weighs them."""
    slack: Slack
    worn_as: Mapping[str, str] = field(default_factory=dict)
    """Disciplines worn as something else than the sport is: by discipline, a name of `lives_h`."""
    called: str = ""
    """What an athlete calls such a shoe, where the sport's name isn't it."""
    sole_kind: Literal["plate", "sole"] = "sole"
    """Which choice says what is underneath."""
    insole: bool = True
    """Whether its shoes take an insole, and have eyelet rows and a heel tab."""
    foam: bool = False
    """Whether one runs and lands in it on a foam midsole, which is what cushions an older or a heavy wearer."""
    turns_ankles: bool = True
    """Whether ankles turn in it, so that a brace may be worn."""
    toes_spread: bool = True
    """Whether its toe box may be widened: not where toes are to work as one."""
    own_cares: frozenset[str] = frozenset()
    """Concerns of the feet that its own rules answer, so that the general rule is silent."""
    sized_up: tuple[str, str] | None = None
    """The school, and its side, by which its shoes are sized up anyway."""
    by_body: bool = False
    """Whether stiffness is computed from the body and the ground alone."""
    hand_tests: tuple[str, ...] = ()
    """Tests at the shoe bench beside those of every shoe (`shoes.hand_tests`)."""
    scales: Mapping[str, Mapping[str, float | str]] = field(default_factory=dict)
    """Where its shoes go beyond what is usual on a property's scale: what is different of it."""
    in_hand: Mapping[str, tuple[tuple[float, float, str], ...]] = field(default_factory=dict)
    """The same under the hand: by property, the ranges of the findings and how a shoe with each is said."""

    purposes: Mapping[str, Purpose] = field(default_factory=dict)
    """What its models may be meant for, by name."""
    meant_words: Mapping[str, tuple[str, ...]] = field(default_factory=dict)
    """And the words lists say it in, in six languages; common practice, from memory."""

    @property
    def use(self) -> str:
        """What its shoes are worn as."""
        return next(iter(self.lives_h))
