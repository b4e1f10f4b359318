"""What is usual of young feet by age, from memory, and when they are measured again. House default.

Apart from what computes with it: every start of the machine reads it."""

from __future__ import annotations

from ..units import HALF_UK_MM

USUAL: tuple[tuple[float, float, float], ...] = (
    (3, 15.0, 4.0), (6, 10.0, 3.0), (10, 8.5, 2.5), (12, 8.0, 3.0), (14, 5.0, 3.5), (16, 2.0, 2.0), (18, 0.6, 1.0),
)  # fmt: skip
"""Up to that age: millimetres a year, and the spread from child to child (from memory)."""
LATEST_DAYS = 365


def measured_again() -> list[tuple[int, int]]:
    """By the age at which a foot was measured, up to so many years: after how many days it is to be measured again,
    when half a size of usual growth may have come; a year at most."""
    return [(int(up_to), min(round(HALF_UK_MM / a_year * 365), LATEST_DAYS)) for up_to, a_year, _ in USUAL]
