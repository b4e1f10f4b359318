"""What is measured of one foot, with how sure each number is, whatever it was measured with."""

from __future__ import annotations

from typing import Literal

from ..contract import Contract, Mark, Side
from .gauge import Arch, Stance, ToeShape

Source = Literal["gauge", "scan", "tracing", "mat", "record"]

NUMBERS: dict[str, tuple[str, str]] = {
    "length_mm": ("Length", "mm"),
    "ball_width_mm": ("Ball width", "mm"),
    "ball_girth_mm": ("Ball girth", "mm"),
    "ball_angle_deg": ("Ball angle", "°"),
    "instep_height_mm": ("Instep height", "mm"),
    "instep_girth_mm": ("Instep girth", "mm"),
    "heel_width_mm": ("Heel width", "mm"),
    "toe_height_mm": ("Toe height", "mm"),
    "heel_to_ball_mm": ("Heel to ball", "mm"),
    "first_toe_angle_deg": ("Big toe angle", "°"),
    "arch_height_index": ("Arch height index", ""),
    "arch_index": ("Arch index", ""),
}
"""Every number with its name and unit, in the order of a sheet."""

TWO_SIDED_95 = 1.959964
"""Normal distribution: half the width of the middle 95 %, in standard deviations."""

LOW_PRINT, HIGH_PRINT = 0.26, 0.21
"""Arch index from which a print is low-arched, and up to which high-arched (Cavanagh & Rodgers 1987)."""
LOW_HEIGHT, HIGH_HEIGHT = 0.31, 0.37
"""Arch height index, standing: one spread below and above the usual 0.340 ± 0.030 (Butler 2008, from memory)."""
TOES_LEVEL_MM = 3.0
"""Toe tips closer than this are level. House default."""
BUNION_DEG = 15.0
"""Big toe angle from which a bunion is likely enough to ask. House default."""


class Number(Contract):
    """A number with one standard deviation, in the unit its name ends in."""

    value: float
    sigma: float

    @property
    def within(self) -> float:
        """Half-width of the 95 % interval."""
        return TWO_SIDED_95 * self.sigma


class Reading(Contract):
    """One foot as one source saw it."""

    source: Source
    side: Side
    stance: Stance = "standing"
    numbers: dict[str, Number] = {}
    toe_shape: ToeShape | None = None
    bunion: bool | None = None
    arch: Arch | None = None
    notes: list[str] = []
    """What the fitter should know about this measuring."""
    questions: list[str] = []
    """What the fitter should confirm or do again."""


class ClassFound(Contract):
    """A class with the reason and the reason's mark."""

    value: str | None
    reason: str
    mark: Mark


def toe_shape_of(first_mm: float, second_mm: float) -> ToeShape:
    """The toe shape from the tips' places along the foot; level tips make it square. House default."""
    if second_mm - first_mm > TOES_LEVEL_MM:
        return "second_longest"
    if first_mm - second_mm > TOES_LEVEL_MM:
        return "first_longest"
    return "square"


def arch_class(numbers: dict[str, Number], seen: Arch | None = None) -> ClassFound:
    """Low, medium or high: by the print where there is one, else by height, else as the fitter saw it."""
    if index := numbers.get("arch_index"):
        word: Arch = "low" if index.value >= LOW_PRINT else "high" if index.value <= HIGH_PRINT else "medium"
        return ClassFound(
            value=word,
            reason=f"The middle third is {index.value:.3f} of the toeless print; low from {LOW_PRINT}, "
            f"high up to {HIGH_PRINT} (Cavanagh & Rodgers 1987).",
            mark="PUB",
        )
    if height := numbers.get("arch_height_index"):
        word = "low" if height.value < LOW_HEIGHT else "high" if height.value > HIGH_HEIGHT else "medium"
        return ClassFound(
            value=word,
            reason=f"Instep height is {height.value:.3f} of the length from heel to ball (Williams & McClay 2000); "
            f"usual {LOW_HEIGHT} to {HIGH_HEIGHT} standing.",
            mark="MEM",
        )
    if seen:
        return ClassFound(value=seen, reason="As you saw it.", mark="CP")
    return ClassFound(value=None, reason="Needs a print, an instep height with heel to ball, or your eye.", mark="HD")
