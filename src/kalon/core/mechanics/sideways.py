"""Moving sideways on a court: when a heel rolls, when it catches, and how much cushion a floor asks for.

Bands are house defaults. Floor classes: EN 14904 (published; limits from memory).
"""

from __future__ import annotations

import math
from typing import Literal

from pydantic import Field

from ..contract import Contract
from ..feet.gauge import Arch

Floor = Literal["sprung_wood", "hard_wood", "vinyl_foam", "concrete", "clay"]
FORCE_REDUCTION_PCT: dict[Floor, float] = {
    "sprung_wood": 60, "vinyl_foam": 35, "hard_wood": 30, "clay": 25, "concrete": 5,
}  # fmt: skip
"""What a floor takes from a landing. House defaults within the classes of EN 14904."""
CLASSES_PCT: tuple[tuple[float, str], ...] = (
    (25, "hard floor"), (40, "floor with a little give"), (55, "floor with some give"), (75, "springy floor"),
)  # fmt: skip
"""Upper ends of what the classes hold and our words for each. From memory."""
ANKLE_SHARE_OF_FOOT = 0.28
"""Height of the ankle joint above the sole, share of foot length. House default."""
FLARES = (0.94, 1.0, 1.06, 1.12, 1.2)


class SidewaysIn(Contract):
    """A shoe from behind and in front, the body in it and the floor under it."""

    heel_sole_mm: float = Field(gt=20, le=140)
    heel_upper_mm: float = Field(gt=20, le=140)
    fore_sole_mm: float = Field(gt=30, le=180)
    fore_upper_mm: float = Field(gt=30, le=180)
    stack_mm: float = Field(ge=0, le=60)
    ankle_height_mm: float = Field(75, ge=30, le=130)
    body_kg: float = Field(70, ge=15, le=250)
    floor: Floor = "hard_wood"
    lunging: Literal["seldom", "often", "most"] = "seldom"
    arch: Arch | None = None
    flare_low: float = Field(1.0, ge=0.8, le=1.3)
    flare_high: float = Field(1.12, ge=0.9, le=1.4)
    flare_catches: float = Field(1.2, ge=1, le=1.6)


class SidewaysSweep(Contract):
    """The same shoe with another heel sole."""

    flare: float
    tipping_index: float
    tips_at_deg: float
    word: str


class SidewaysOut(Contract):
    """How steady the shoe stands sideways, and what floor and body ask of its cushion and heel."""

    tipping_index_heel: float
    tipping_index_fore: float
    tips_at_deg: float
    flare_heel: float
    flare_fore: float
    word: Literal["rolls", "steady", "wide", "catches"]
    cushion: float
    heel_round_mm: float
    floor_word: str
    sweep: list[SidewaysSweep]


def flare_word(flare: float, low: float, high: float, catches: float) -> Literal["rolls", "steady", "wide", "catches"]:
    """What a heel of this flare does."""
    return "rolls" if flare < low else "steady" if flare <= high else "wide" if flare <= catches else "catches"


def floor_word(floor: Floor) -> str:
    """A floor's give in a few words."""
    return next(word for limit, word in CLASSES_PCT if FORCE_REDUCTION_PCT[floor] <= limit)


def cushion_wanted(body_kg: float, floor: Floor, arch: Arch | None) -> float:
    """Cushion of 10: more on hard floors, under heavy bodies and stiff high-arched feet, less under flat ones."""
    hard = (60 - FORCE_REDUCTION_PCT[floor]) / 55
    foot = {"high": 1.0, "low": -0.5, "medium": 0.0, None: 0.0}[arch]
    return min(max(3.0 + 3.0 * hard + (body_kg - 70) / 25 + foot, 0.0), 9.5)


def heel_round_wanted(lunging: str) -> float:
    """Rounding of the heel's edge, mm, by how much is lunged."""
    return {"seldom": 4.0, "often": 8.0, "most": 13.0}[lunging]


def sideways(given: SidewaysIn) -> SidewaysOut:
    """Half-width against height at heel and forefoot, flare, and what the floor asks."""
    height = given.ankle_height_mm + given.stack_mm
    heel, fore = given.heel_sole_mm / 2 / height, given.fore_sole_mm / 2 / height
    ends = (given.flare_low, given.flare_high, given.flare_catches)
    flare = given.heel_sole_mm / given.heel_upper_mm
    sweep = []
    for other in FLARES:
        index = other * given.heel_upper_mm / 2 / height
        sweep.append(
            SidewaysSweep(
                flare=other,
                tipping_index=index,
                tips_at_deg=math.degrees(math.atan(index)),
                word=flare_word(other, *ends),
            )
        )
    return SidewaysOut(
        tipping_index_heel=heel,
        tipping_index_fore=fore,
        tips_at_deg=math.degrees(math.atan(heel)),
        flare_heel=flare,
        flare_fore=given.fore_sole_mm / given.fore_upper_mm,
        word=flare_word(flare, *ends),
        cushion=cushion_wanted(given.body_kg, given.floor, given.arch),
        heel_round_mm=heel_round_wanted(given.lunging),
        floor_word=floor_word(given.floor),
        sweep=sweep,
    )
