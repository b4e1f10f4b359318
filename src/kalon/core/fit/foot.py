"""The foot a shoe has to hold: measured, corrected for sock, stance, time of day and effort.

Every correction here is a house default.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ..contract import SIDES, Contract, Side
from ..feet.gauge import Feet, Norms, Sock
from ..feet.standing import SITTING_TO_STANDING as SPREADS
from ..feet.usual import estimates, filled, guessed_note

FIT_ZONES = ("length", "ball_girth", "instep_girth", "heel_width")
"""The zones fit is judged in, in the order of every array here."""
MEASURES = ("length_mm", "ball_girth_mm", "instep_girth_mm", "heel_width_mm")
SOCK_MM: dict[Sock, float] = {"none": 0.0, "thin": 0.4, "medium": 0.8, "thick": 1.5}
"""Thickness of the sock, pressed."""
SOCK_SIGMA = 0.3
"""Spread of a sock's thickness, share of it."""
AROUND = np.array([2.0, 2 * np.pi, 2 * np.pi, 2.0])
"""How often a sock's thickness counts: toe and heel, round the foot, both sides of the heel."""
DAY_SWELL = np.array([0.004, 0.015, 0.015, 0.008])
"""Growth from morning to evening, share of each measure."""
EFFORT_SWELL = np.array([0.003, 0.012, 0.012, 0.006])
"""Growth over a long effort (long routes, long rides), share of each measure."""
SITTING_TO_STANDING = np.array([SPREADS[m] for m in MEASURES])
SITTING_NOTE = "Measured sitting: standing spreads the foot, 1.2 % in length. House default."
MORNING_H, EVENING_H = 7.0, 19.0


@dataclass(frozen=True)
class FootToFit:
    """Per side: what the shoe must hold, mm in the order of `FIT_ZONES`, and one standard deviation."""

    sides: dict[Side, NDArray[np.float64]]
    sigma: NDArray[np.float64]
    notes: tuple[str, ...]
    reading: NDArray[np.float64] | None = None
    """How much of `sigma` is each foot's own reading; the rest (sock, swelling) is of both. All of it, if not told."""

    @property
    def larger(self) -> NDArray[np.float64]:
        """The larger foot zone by zone."""
        return np.maximum(self.sides["left"], self.sides["right"])

    @property
    def larger_side(self) -> tuple[Side, ...]:
        """Which side that is, zone by zone."""
        return tuple("left" if left >= right else "right" for left, right in zip(*self.sides.values(), strict=True))


def day_share(time_of_day: str | None) -> float:
    """How much of the day's swelling was there when measured, 0…1; half when nobody noted the time."""
    if time_of_day is None:
        return 0.5
    hours, minutes = time_of_day.split(":")
    hour = int(hours) + int(minutes) / 60
    return min(max((hour - MORNING_H) / (EVENING_H - MORNING_H), 0.0), 1.0)


def foot_to_fit(
    feet: Feet, *, long_effort: bool = False, sock: Sock | None = None, norms: Norms | None = None
) -> FootToFit:
    """Both feet at the end of a day in the socks of the sport; what isn't measured is as usual, with its spread.

    Raises `BadInput` where nothing stands in for what is missing."""
    guessed = guessed_note(estimates(feet, norms))
    feet = filled(feet, norms)
    worn = sock or feet.sock
    still_to_swell = 1 - day_share(feet.time_of_day)
    growth = DAY_SWELL * still_to_swell + (EFFORT_SWELL if long_effort and feet.effort == "rested" else 0.0)
    spread = SITTING_TO_STANDING if feet.stance == "sitting" else np.ones(4)
    sides: dict[Side, NDArray[np.float64]] = {}
    for side in SIDES:
        measured = np.array([getattr(getattr(feet, side), m) for m in MEASURES], dtype=float)
        sides[side] = measured * spread * (1 + growth) + SOCK_MM[worn] * AROUND
    bare = np.array([max(feet.left.sigma(m), feet.right.sigma(m)) for m in MEASURES])
    sigma = np.sqrt(
        bare**2
        + (SOCK_SIGMA * SOCK_MM[worn] * AROUND) ** 2
        + (0.5 * growth * sides["left"]) ** 2
        + (0.3 * (spread - 1) * sides["left"]) ** 2
    )
    notes = [f"Sock {worn}: {2 * SOCK_MM[worn]:g} mm in length."]
    if guessed:
        notes.append(guessed)
    if still_to_swell > 0:
        when = f"at {feet.time_of_day}" if feet.time_of_day else "at a time nobody noted"
        notes.append(f"Measured {when}: {growth[1] * 100:.1f} % more girth by evening. House default.")
    if feet.stance == "sitting":
        notes.append(SITTING_NOTE)
    if long_effort:
        notes.append("Long efforts swell the foot: a little more room. Common practice.")
    return FootToFit(sides, sigma, tuple(notes), bare)


class Swelling(Contract):
    """How much one measure of one foot still grows, mm: by the evening, and over a long effort on top."""

    side: Side
    measure: str
    now_mm: float
    by_evening_mm: float
    after_effort_mm: float


def swelling(feet: Feet) -> list[Swelling]:
    """What the day and a long effort add to each measure there is. House default."""
    left_to_come = 1 - day_share(feet.time_of_day)
    effort = 0.0 if feet.effort == "after_effort" else 1.0
    found = []
    for side in SIDES:
        for i, measure in enumerate(MEASURES):
            value = getattr(getattr(feet, side), measure)
            if value is not None:
                found.append(
                    Swelling(
                        side=side,
                        measure=measure,
                        now_mm=value,
                        by_evening_mm=float(value * DAY_SWELL[i] * left_to_come),
                        after_effort_mm=float(value * EFFORT_SWELL[i] * effort),
                    )
                )
    return found
