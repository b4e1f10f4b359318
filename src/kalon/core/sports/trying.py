"""A test of trying on, and those that several sports share."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from ..contract import Mark

Asked = Literal["toes", "pinches", "slides", "slips"]
"""What a test asks: room at the toes, where it pinches, whether the foot slides, whether the heel slips."""


@dataclass(frozen=True)
class TrialTest:
    """One test: how it is done, what passes, and for how long when it is timed."""

    slug: str
    name: str
    how: str
    passes: str
    seconds: int | None = None
    mark: Mark = "CP"
    spared: str = ""
    """What passes on feet on which nothing may press, where that is another thing. From memory."""
    asks: tuple[Asked, ...] = ()
    """What somebody who did it was asked, and so could have said. House default."""


STAND = TrialTest(
    "stand",
    "Stand",
    "Both shoes, own socks, fully laced, full weight.",
    "No sharp pain; snug.",
    30,
    spared="Nothing presses: a finger finds room all round.",
    asks=("pinches",),
)
TOE = TrialTest(
    "toe", "Toes", "Wiggle the toes; press-check the front.", "They move; room as the spec says.", asks=("toes",)
)
WALK = TrialTest("walk", "Walk", "Walk about on a hard floor.", "No hot spot.", 120, asks=("pinches",))
JUMP = TrialTest("jump", "Jump and land", "Small jumps.", "No wobble, no heel slip.", asks=("slips",))
BEND = TrialTest("bend", "Bend", "Fold, wring and flop the shoe in the hand.", "As the spec says.")
CUT = TrialTest("cut", "Cut", "Shuffles, cuts, stop and start.", "The foot doesn't slide.", asks=("slides",))
