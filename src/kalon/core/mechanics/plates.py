"""Usual layouts of each plate, drawn for a 265 mm foot and scaled with it. All house defaults."""

from __future__ import annotations

from functools import lru_cache

import numpy as np

from .studs import Grip, Plate, Stud, Surface, grip_of

DRAWN_FOR_MM = 265.0

FORE = ((205, 30), (205, -26), (172, 36), (172, -36), (140, 34), (140, -34))
REAR = ((52, 22), (52, -22), (18, 20), (18, -20))
SIX = ((200, 24), (200, -24), (150, 36), (150, -36), (30, 22), (30, -22))
"""Places (x, y) of the studs of a moulded plate and of a six-stud one."""


def _round(places: tuple[tuple[float, float], ...], diameter: float, height: float) -> list[Stud]:
    return [Stud(shape="conical", x_mm=x, y_mm=y, diameter_mm=diameter, height_mm=height) for x, y in places]


def _grid(pitch: float, diameter: float, height: float) -> list[Stud]:
    """Nubs over the whole sole: a foot-shaped field, narrow at the waist."""
    found = []
    for x in np.arange(10, 250, pitch):
        share = x / DRAWN_FOR_MM
        half = 28 + 14 * np.exp(-(((share - 0.68) / 0.2) ** 2)) - 6 * np.exp(-(((share - 0.36) / 0.12) ** 2))
        for y in np.arange(-42, 43, pitch):
            if abs(y) <= half:
                found.append(Stud(shape="nub", x_mm=float(x), y_mm=float(y), diameter_mm=diameter, height_mm=height))
    return found


def _blades() -> list[Stud]:
    def blade(x: float, y: float, angle: float) -> Stud:
        return Stud(shape="blade", x_mm=x, y_mm=y, length_mm=24, width_mm=6, height_mm=11, angle_deg=angle)

    return [
        *(blade(x, y, -12 if y > 0 else 12) for x, y in FORE),
        *(blade(x, y, 8 if y > 0 else -8) for x, y in REAR),
    ]


_MANY = tuple((x, y) for x in (212, 186, 160, 134) for y in (32, 11, -11, -32)) + tuple(
    (x, y) for x in (58, 36, 14) for y in (20, -20)
)

LAYOUTS: dict[str, tuple[Stud, ...]] = {
    "soft_ground": tuple(_round(SIX, 11, 17)),
    "firm_ground_round": tuple(_round(FORE, 10.5, 11) + _round(REAR, 10.5, 11)),
    "firm_ground_blade": tuple(_blades()),
    "hard_ground": tuple(_round(_MANY, 9, 6.5)),
    "artificial_grass": tuple(_round(_MANY, 8.5, 8)),
    "turf": tuple(_grid(14.5, 6, 4)),
    "indoor": tuple(_grid(10, 11, 0.5)),
}


@lru_cache(maxsize=256)
def plate(name: str, foot_mm: float) -> tuple[Stud, ...]:
    """A plate's studs for a foot of this length: places scale, studs don't."""
    grown = foot_mm / DRAWN_FOR_MM
    return tuple(s.model_copy(update={"x_mm": s.x_mm * grown, "y_mm": s.y_mm * grown}) for s in LAYOUTS[name])


@lru_cache(maxsize=256)
def _arrays(name: str, foot_mm: float) -> Plate:
    return Plate.of(plate(name, foot_mm))


@lru_cache(maxsize=4096)
def plate_grip(name: str, foot_mm: float, surface: Surface, wet: bool, load_n: float) -> Grip:
    """A usual plate on a ground, loaded at the ball of the foot."""
    return grip_of(_arrays(name, foot_mm), surface, wet, load_n, load_point(foot_mm))


def load_point(foot_mm: float) -> tuple[float, float]:
    """Where a player on the ball of the foot loads the plate, mm. House default."""
    return 0.6 * foot_mm, 0.0
