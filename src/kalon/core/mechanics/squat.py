"""The lifter at depth, from the side: what a raised heel does to the trunk.

Segment lengths, masses and centres: Drillis & Contini and Winter, *Biomechanics and Motor Control of
Human Movement* (published). x forward, z up, ankle at the origin, millimetres.
"""

from __future__ import annotations

import math
from functools import lru_cache
from typing import Literal

from pydantic import Field
from scipy.optimize import brentq

from ..contract import Contract, Positive
from ..errors import bad_field

Bar = Literal["high", "low", "front", "overhead"]

FOOT, SHANK, THIGH, TRUNK = 0.152, 0.246, 0.245, 0.288
"""Lengths as shares of stature."""
MASS = {"foot": 0.029, "shank": 0.093, "thigh": 0.200, "trunk": 0.678}
"""Shares of body mass, both sides; trunk is head, arms and trunk."""
SHANK_CENTRE, THIGH_CENTRE, TRUNK_CENTRE = 0.567, 0.567, 0.626
"""From the ankle, the knee and the hip."""
HEEL_TO_BALL = 0.57
"""Share of foot length between the heel's and the ball's contact. House default."""
MIDFOOT_AHEAD = 0.25
"""The balance point ahead of the ankle, share of foot length. House default."""
BAR_OFFSET: dict[Bar, tuple[float, float]] = {
    "high": (0, 0), "low": (-70, -20), "front": (0, 90), "overhead": (620, 0),
}  # fmt: skip
"""Bar from the shoulder, mm along the trunk and forward of it. Overhead: arm's length. House defaults."""
SOLD_DROPS_MM = (0, 4, 8, 15, 20, 25)


class SquatIn(Contract):
    """A lifter, a load and a heel."""

    stature_mm: float = Field(ge=900, le=2300)
    body_kg: float = Field(ge=15, le=250)
    bar_kg: float = Field(0, ge=0, le=500)
    dorsiflexion_deg: float = Field(ge=0, le=60)
    drop_mm: float = Field(0, ge=0, le=40)
    depth_deg: float = Field(0, ge=-30, le=60)
    foot_mm: Positive | None = None
    shank_mm: Positive | None = None
    thigh_mm: Positive | None = None
    trunk_mm: Positive | None = None
    abduction_deg: float = Field(0, ge=0, le=60)
    bar: Bar = "high"


class SquatSweep(Contract):
    """The trunk lean one heel gives; none when the lifter cannot balance there."""

    drop_mm: float
    trunk_lean_deg: float | None


class SquatOut(Contract):
    """Wedge, trunk lean from the vertical, joints (toe, heel, ankle, knee, hip, shoulder, bar), and the sweep."""

    wedge_deg: float
    trunk_lean_deg: float | None
    feasible: bool
    joints: list[tuple[float, float]]
    sweep: list[SquatSweep]


def _lengths(given: SquatIn) -> tuple[float, float, float, float]:
    s = given.stature_mm
    return (given.foot_mm or FOOT * s, given.shank_mm or SHANK * s, given.thigh_mm or THIGH * s,
            given.trunk_mm or TRUNK * s)  # fmt: skip


def wedge_deg(drop_mm: float, foot_mm: float) -> float:
    """Angle a heel tips the foot by, degrees."""
    return math.degrees(math.atan(drop_mm / (HEEL_TO_BALL * foot_mm)))


def _pose(given: SquatIn, drop_mm: float, lean: float) -> tuple[float, list[tuple[float, float]]]:
    """Balance (body-plus-bar centre of mass ahead of the mid-foot, mm) and joints at a trunk lean in radians."""
    foot, shank, thigh, trunk = _lengths(given)
    wedge = math.radians(wedge_deg(drop_mm, foot))
    forward = math.radians(given.dorsiflexion_deg) + wedge
    knee = (shank * math.sin(forward), shank * math.cos(forward))
    depth = math.radians(given.depth_deg)
    hip = (
        knee[0] - thigh * math.cos(math.radians(given.abduction_deg)) * math.cos(depth),
        knee[1] - thigh * math.sin(depth),
    )
    along = (math.sin(lean), math.cos(lean))
    ahead = (math.cos(lean), -math.sin(lean))
    shoulder = (hip[0] + trunk * along[0], hip[1] + trunk * along[1])
    up, front = BAR_OFFSET[given.bar]
    bar = (shoulder[0] + up * along[0] + front * ahead[0], shoulder[1] + up * along[1] + front * ahead[1])
    middle = MIDFOOT_AHEAD * foot
    moment = (
        given.body_kg
        * (
            MASS["foot"] * middle
            + MASS["shank"] * SHANK_CENTRE * knee[0]
            + MASS["thigh"] * (knee[0] + THIGH_CENTRE * (hip[0] - knee[0]))
            + MASS["trunk"] * (hip[0] + TRUNK_CENTRE * (shoulder[0] - hip[0]))
        )
        + given.bar_kg * bar[0]
    )
    heel = (-0.25 * foot, drop_mm - 0.039 * given.stature_mm)
    toe = (0.75 * foot, -0.039 * given.stature_mm)
    return moment / (given.body_kg + given.bar_kg) - middle, [toe, heel, (0.0, 0.0), knee, hip, shoulder, bar]


def trunk_lean_deg(given: SquatIn, drop_mm: float) -> float | None:
    """The trunk lean, degrees from the vertical, that balances over the mid-foot; none if there is none."""

    def balance(lean: float) -> float:
        return _pose(given, drop_mm, lean)[0]

    low, high = math.radians(-30), math.radians(90)
    if balance(low) > 0 or balance(high) < 0:
        return None
    return math.degrees(float(brentq(balance, low, high, xtol=1e-9)))


def squat(given: SquatIn) -> SquatOut:
    """Trunk lean with this heel, and with every heel sold."""
    if given.foot_mm and given.foot_mm > given.stature_mm / 3:
        raise bad_field("foot_mm", "impossible", "A foot is never a third of a person's height.")
    lean = trunk_lean_deg(given, given.drop_mm)
    _, joints = _pose(given, given.drop_mm, math.radians(lean if lean is not None else 90))
    return SquatOut(
        wedge_deg=wedge_deg(given.drop_mm, _lengths(given)[0]),
        trunk_lean_deg=lean,
        feasible=lean is not None,
        joints=joints,
        sweep=[SquatSweep(drop_mm=d, trunk_lean_deg=trunk_lean_deg(given, d)) for d in SOLD_DROPS_MM],
    )


WANTED_LEAN_DEG: dict[Bar, float] = {"high": 38.0, "low": 45.0, "front": 28.0, "overhead": 28.0}
"""The most trunk lean wanted at the bottom, by bar. House default."""


@lru_cache(maxsize=1024)
def smallest_heel(given: SquatIn, wanted_deg: float | None = None) -> tuple[float, float | None]:
    """The smallest heel sold that reaches the wanted lean, mm, and the lean it gives, degrees.

    When none reaches it, the highest sold."""
    wanted = WANTED_LEAN_DEG[given.bar] if wanted_deg is None else wanted_deg
    for drop in SOLD_DROPS_MM:
        lean = trunk_lean_deg(given, drop)
        if lean is not None and lean <= wanted:
            return drop, lean
    highest = SOLD_DROPS_MM[-1]
    return highest, trunk_lean_deg(given, highest)
