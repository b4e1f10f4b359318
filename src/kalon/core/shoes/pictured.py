"""What a picture of a shoe tells: numbers with their uncertainty, how they were read, and what should be asked."""

from __future__ import annotations

from typing import Literal

from ..contract import Contract
from ..feet.measures import Number

Way = Literal["insole"]
NAMES: dict[str, str] = {
    "inner_length_mm": "inner length", "ball_width_mm": "width at the ball", "ball_girth_mm": "girth at the ball",
    "heel_width_mm": "width at the heel", "last_curve_deg": "curve of the last",
}  # fmt: skip
"""What each number is called."""
LIMITS: dict[str, tuple[float, float]] = {
    "inner_length_mm": (90, 400), "ball_width_mm": (35, 160), "heel_width_mm": (25, 120),
}  # fmt: skip
"""Outside these no shoe is, mm."""


class Pictured(Contract):
    """A shoe as one picture shows it."""

    way: Way
    numbers: dict[str, Number]
    words: dict[str, str] = {}
    """What the numbers come to, in words."""
    notes: list[str] = []
    questions: list[str] = []
