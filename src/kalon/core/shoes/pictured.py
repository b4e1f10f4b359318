"""What a picture of a shoe tells: numbers with their uncertainty, how they were read, and what should be asked."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from ..contract import Contract
from ..errors import BadInput
from ..feet.measures import Number
from ..mechanics.studs import Stud

Way = Literal["insole", "sole", "side"]
NAMES: dict[str, str] = {
    "inner_length_mm": "inner length", "ball_width_mm": "width at the ball", "ball_girth_mm": "girth at the ball",
    "heel_width_mm": "width at the heel", "last_curve_deg": "curve of the last",
    "sole_length_mm": "length of the sole", "sole_ball_mm": "sole's width at the ball",
    "sole_heel_mm": "sole's width at the heel", "heel_flare": "heel flare", "heel_stack_mm": "heel stack",
    "fore_stack_mm": "forefoot stack", "drop_mm": "drop", "collar_mm": "height of the collar",
    "downturn_deg": "downturn", "heel_round_mm": "rounding of the heel", "stud_mm": "height of the studs",
}  # fmt: skip
"""What each number is called."""
LIMITS: dict[str, tuple[float, float]] = {
    "inner_length_mm": (90, 400), "ball_width_mm": (35, 160), "heel_width_mm": (25, 120),
    "sole_length_mm": (100, 420), "sole_ball_mm": (35, 180), "sole_heel_mm": (25, 140), "heel_stack_mm": (0, 110),
    "fore_stack_mm": (0, 90),
}  # fmt: skip
"""Outside these no shoe is, mm."""
AS_PROPERTY: dict[str, str] = {
    "drop_mm": "drop_mm", "heel_stack_mm": "heel_stack_mm", "collar_mm": "collar_mm", "downturn_deg": "downturn_deg",
    "heel_round_mm": "heel_round_mm", "heel_flare": "heel_flare", "last_curve_deg": "last_curve_deg",
}  # fmt: skip
"""Which of the numbers a model keeps, under which property."""
AS_ZONE: dict[str, str] = {"inner_length_mm": "length", "ball_girth_mm": "ball_girth", "heel_width_mm": "heel_width"}
"""Which of the numbers a size keeps, under which zone."""


class Pictured(Contract):
    """A shoe as one picture shows it."""

    way: Way
    numbers: dict[str, Number]
    words: dict[str, str] = {}
    """What the numbers come to, in words."""
    studs: list[Stud] = Field([], max_length=400)
    """What stands under the sole: x from the sole's heel, y to the inner side."""
    notes: list[str] = []
    questions: list[str] = []


def check_possible(values: dict[str, float]) -> None:
    """Raise `BadInput` for a number no shoe has."""
    for name, value in values.items():
        if name in LIMITS and not LIMITS[name][0] <= value <= LIMITS[name][1]:
            text = f"The {NAMES[name]} comes out as {value:.0f} mm, which no shoe has. Check the paper and its corners."
            raise BadInput(text, code="measure-impossible")
