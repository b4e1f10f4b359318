"""How much an upper gives. A capacity per construction, filled up by interference, with time."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Literal, get_args

import numpy as np
from numpy.typing import NDArray
from pydantic import Field

from ..contract import Contract, Mark, NonNegative, Positive

Upper = Literal["leather_unlined", "leather_lined", "leather_thin", "suede", "microfibre", "synthetic", "knit", "mesh"]
Build = Literal["slip", "plate", "board"]
Zone = Literal["length", "ball_girth", "instep_girth", "heel_width", "toe_box"]
UPPERS: tuple[Upper, ...] = get_args(Upper)
BUILDS: tuple[Build, ...] = get_args(Build)

CAPACITY_SPREAD = 0.25
"""Standard deviation of a capacity as a share of it, between pairs of one kind. House default."""
HEEL_SHARE = 0.5
"""A heel counter lets a heel give half of what the free upper does. House default."""


@dataclass(frozen=True)
class Give:
    """What one construction can give: mm in length, percent in girth, and the wear it takes (hours)."""

    length_mm: float
    girth_pct: float
    tau_h: float
    mark: Mark
    anchor: str


_LEATHER_SLIP = Give(8.5, 5.0, 8, "CP", "climbing leather gives nearly a full size when sized far down")
_SYNTHETIC_SLIP = Give(4.2, 2.0, 5, "CP", "climbing synthetic gives half a size at most")
_KNIT_SLIP = Give(3.0, 2.5, 3, "HD", "house default")
_LEATHER_PLATE = Give(2.1, 5.0, 6, "CP", "football leather gives a quarter size in length, mostly width")
_SYNTHETIC_PLATE = Give(1.0, 2.0, 4, "CP", "on a plate 1–2 mm of length at most, a little width")

TABLE: dict[tuple[Upper, Literal["slip", "plate"]], Give] = {
    ("leather_unlined", "slip"): _LEATHER_SLIP,
    ("leather_thin", "slip"): Give(8.5, 6.0, 7, "HD", "as unlined leather, a little more in girth"),
    ("suede", "slip"): Give(7.0, 5.0, 7, "HD", "house default"),
    ("leather_lined", "slip"): Give(5.0, 3.5, 10, "HD", "house default"),
    ("synthetic", "slip"): _SYNTHETIC_SLIP,
    ("microfibre", "slip"): _SYNTHETIC_SLIP,
    ("knit", "slip"): _KNIT_SLIP,
    ("mesh", "slip"): _KNIT_SLIP,
    ("leather_unlined", "plate"): _LEATHER_PLATE,
    ("leather_thin", "plate"): Give(2.1, 6.0, 5, "HD", "house default"),
    ("suede", "plate"): Give(2.1, 5.0, 6, "HD", "as unlined leather on a plate"),
    ("leather_lined", "plate"): Give(1.5, 3.5, 7, "HD", "house default"),
    ("synthetic", "plate"): _SYNTHETIC_PLATE,
    ("microfibre", "plate"): _SYNTHETIC_PLATE,
    ("knit", "plate"): Give(1.0, 2.5, 3, "HD", "house default"),
    ("mesh", "plate"): Give(1.0, 2.0, 3, "HD", "house default"),
}


def give_of(upper: Upper, build: Build) -> Give:
    """The table's row; a board-lasted shoe gives as one on a plate."""
    return TABLE[(upper, "slip" if build == "slip" else "plate")]


def capacity_mm(upper: Upper, build: Build, zone: Zone, inner_mm: float, reinforced: float = 0.0) -> float:
    """Most that `zone` can give, mm. Girth-like zones scale with the shoe's inner measure."""
    give = give_of(upper, build)
    if zone == "length":
        full = give.length_mm
    else:
        full = give.girth_pct / 100 * inner_mm * (HEEL_SHARE if zone == "heel_width" else 1.0)
    return full * (1 - reinforced)


def settled_stretch(interference_mm: NDArray[np.float64], capacity: NDArray[np.float64]) -> NDArray[np.float64]:
    """Settled stretch, mm, element-wise: c·(1 − exp(−i⁺/c)); nothing where there is no interference."""
    pressed = np.maximum(interference_mm, 0.0)
    room = np.where(capacity > 0, capacity, 1.0)
    return np.where(capacity > 0, room * -np.expm1(-pressed / room), 0.0)


class StretchIn(Contract):
    """One zone of one shoe on one foot."""

    upper: Upper
    build: Build
    zone: Zone
    interference_mm: float = Field(ge=-60, le=60)
    inner_mm: Positive = Field(le=500)
    reinforced: float = Field(0.0, ge=0, le=1)
    hours: list[NonNegative] = Field(default=[0, 1, 2, 5, 10, 20], max_length=1000)


class StretchPoint(Contract):
    """Stretch after so many hours of wear."""

    hours: float
    stretch_mm: float


class StretchOut(Contract):
    """Capacity, what it settles at, the way there, and when four fifths of it are done."""

    capacity_mm: float
    settled_mm: float
    curve: list[StretchPoint]
    t80_h: float


def stretch(given: StretchIn) -> StretchOut:
    """Predict the stretch of one zone over hours of wear."""
    capacity = capacity_mm(given.upper, given.build, given.zone, given.inner_mm, given.reinforced)
    settled = float(settled_stretch(np.array([given.interference_mm]), np.array([capacity]))[0])
    tau = give_of(given.upper, given.build).tau_h
    return StretchOut(
        capacity_mm=capacity,
        settled_mm=settled,
        curve=[StretchPoint(hours=h, stretch_mm=settled * -math.expm1(-h / tau)) for h in given.hours],
        t80_h=tau * math.log(5),
    )
