"""A stud plate standing on a ground: how deep it sinks, who carries the load, grip along each way, and turning.

A rigid plate on ground that resists in proportion to depth, over a hard base; side grip by ploughing and
friction. Ground values are house defaults; only the turning window has an outside source (see the checks).
x forward from the heel, y towards the big toe, millimetres.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray
from pydantic import Field, model_validator

from ..contract import Contract
from ..errors import BadInput, bad_field

Floats = NDArray[np.float64]
Surface = Literal["soft_natural", "firm_natural", "hard_natural", "artificial_grass", "carpet_turf", "indoor_hall"]


@dataclass(frozen=True)
class Ground:
    """Bearing q (N/mm³), depth of the hard base D (mm), ploughing g (N/mm³), friction μ."""

    bearing: float
    depth: float
    plough: float
    friction: float

    def wetted(self) -> Ground:
        """The same ground wet. House default."""
        return Ground(self.bearing * 0.7, self.depth, self.plough * 0.7, self.friction * 0.6)


GROUNDS: dict[Surface, Ground] = {
    "soft_natural": Ground(0.010, 60, 0.035, 0.20),
    "firm_natural": Ground(0.05, 60, 0.075, 0.40),
    "hard_natural": Ground(0.30, 60, 0.15, 0.50),
    "artificial_grass": Ground(0.04, 35, 0.086, 0.45),
    "carpet_turf": Ground(0.20, 4, 0.04, 0.75),
    "indoor_hall": Ground(5.0, 0.2, 0.0, 0.90),
}
"""House defaults."""
BASE_N_PER_MM3 = 2.0
SOLE_AREA_MM2 = 6000.0
SOLE_RADIUS_MM = 45.0


class Stud(Contract):
    """One stud: round ones by diameter, blades by length, width and the angle of their length to forward."""

    shape: Literal["conical", "blade", "nub"]
    x_mm: float = Field(ge=-50, le=420)
    y_mm: float = Field(ge=-150, le=150)
    height_mm: float = Field(ge=0, le=40)
    diameter_mm: float | None = Field(None, gt=0, le=40)
    length_mm: float | None = Field(None, gt=0, le=80)
    width_mm: float | None = Field(None, gt=0, le=40)
    angle_deg: float = Field(0, ge=-360, le=360)

    @model_validator(mode="after")
    def _measured(self) -> Stud:
        if self.shape == "blade":
            if self.length_mm is None or self.width_mm is None:
                raise ValueError("A blade needs length_mm and width_mm")
        elif self.diameter_mm is None:
            raise ValueError("A round stud needs diameter_mm")
        return self

    @property
    def area_mm2(self) -> float:
        """Area of the tip."""
        if self.shape == "blade":
            return (self.length_mm or 0) * (self.width_mm or 0)
        return math.pi / 4 * (self.diameter_mm or 0) ** 2

    @property
    def plan(self) -> tuple[float, float, float]:
        """Long and wide sides, mm, and the angle of the long one to forward, radians; a round stud is all width."""
        if self.shape != "blade":
            return 0.0, self.diameter_mm or 0, 0.0
        return self.length_mm or 0, self.width_mm or 0, math.radians(self.angle_deg)


class StudsIn(Contract):
    """A plate, a ground and a load."""

    studs: list[Stud] = Field(min_length=1, max_length=400)
    surface: Surface
    wet: bool = False
    load_n: float = Field(gt=0, le=10_000)
    cop_mm: tuple[float, float] | None = None
    """Where the load acts; in the middle of the studs when not said."""
    pivot_mm: tuple[float, float] | None = None
    """What the foot turns about; where the load acts when not said."""


class StudOut(Contract):
    """One stud in the ground."""

    penetration_mm: float
    load_n: float
    tip_pressure_kpa: float


class Traction(Contract):
    """Grip each way, as a ratio to the load."""

    forward: float
    back: float
    medial: float
    lateral: float


class StudsSweep(Contract):
    """The same plate elsewhere."""

    surface: Surface
    wet: bool
    forward: float
    torque_n_m: float
    worst_pressure_kpa: float


class StudsOut(Contract):
    """Per stud, the studs' share of the load, grip, turning resistance, and the same plate on every ground."""

    per_stud: list[StudOut]
    stud_share: float
    traction: Traction
    torque_n_m: float
    worst_pressure_kpa: float
    sweep: list[StudsSweep]


@dataclass(frozen=True)
class Plate:
    """Studs as arrays (n,): places, heights, tip areas and plans, mm, mm² and radians."""

    x: Floats
    y: Floats
    height: Floats
    area: Floats
    long: Floats
    wide: Floats
    angle: Floats

    @staticmethod
    def of(studs: Sequence[Stud]) -> Plate:
        """Arrays from studs."""
        return Plate(*np.array([(s.x_mm, s.y_mm, s.height_mm, s.area_mm2, *s.plan) for s in studs]).T)

    def across(self, direction_rad: Floats | float) -> Floats:
        """Width each stud shows to a motion in that direction (one, or one a stud), mm: |l·sin| + |w·cos|."""
        turn = self.angle - direction_rad
        round_ = self.long == 0
        width = np.abs(self.long * np.sin(turn)) + np.abs(self.wide * np.cos(turn))
        return np.where(round_, self.wide, width)


@dataclass(frozen=True)
class Standing:
    """A plate at rest: depth of each tip, load on each stud and on the sole at it."""

    depth: Floats
    stud_n: Floats
    sole_n: Floats


def _holds(plate: Plate, cop: tuple[float, float]) -> bool:
    """Whether the load acts within the studs: else the plate tips over."""
    offset = np.column_stack([plate.x - cop[0], plate.y - cop[1]])
    angles = np.sort(np.arctan2(offset[:, 1], offset[:, 0]))
    widest = np.diff(np.concatenate([angles, [angles[0] + 2 * math.pi]])).max()
    return bool(widest < math.pi - 1e-6)


def stand(plate: Plate, ground: Ground, load_n: float, cop: tuple[float, float]) -> Standing:
    """Balance of force and moments, by Newton's method on a convex, piecewise quadratic energy.

    Raises `BadInput` when the load acts outside the studs.
    """
    if not _holds(plate, cop):
        raise bad_field("cop_mm", "outside", "The load acts outside the studs: the plate would tip over.")
    n = len(plate.x)
    sole_area = SOLE_AREA_MM2 / n
    tallest = plate.height.max()
    shape = np.column_stack([np.ones(n), plate.x - cop[0], plate.y - cop[1]])
    wanted = np.array([load_n, 0.0, 0.0])
    arm = np.array([1.0, 0.01, 0.01])  # moments weighed at a hundred millimetres

    offset = tallest - plate.height
    soft, hard, flat = plate.area * ground.bearing, plate.area * BASE_N_PER_MM3, sole_area * ground.bearing

    def forces(u: Floats) -> tuple[Floats, Floats, Floats, Floats, Floats]:
        depth = shape @ u - offset
        stud = soft * np.maximum(depth, 0) + hard * np.maximum(depth - ground.depth, 0)
        under = flat * np.maximum(depth - plate.height, 0)
        slope = soft * (depth > 0) + hard * (depth > ground.depth) + flat * (depth > plate.height)
        return depth, stud, under, slope, wanted - shape.T @ (stud + under)

    def energy(u: Floats) -> float:
        depth = shape @ u - offset
        stored = soft * np.maximum(depth, 0) ** 2 + hard * np.maximum(depth - ground.depth, 0) ** 2
        stored = stored + flat * np.maximum(depth - plate.height, 0) ** 2
        return float(stored.sum() / 2 - wanted @ u)

    u = np.array([load_n / (ground.bearing * plate.area.sum()) / 2 + 1.0, 0.0, 0.0])
    depth, stud, under, slope, residual = forces(u)
    for _ in range(200):
        if abs(residual[0]) < 1e-7 * load_n and np.abs(residual[1:]).max() < 1e-5 * load_n:
            break
        step = np.linalg.solve(shape.T @ (slope[:, None] * shape) + 1e-9 * np.diag([1.0, 1e3, 1e3]), residual)
        after = forces(u + step)
        if np.linalg.norm(after[4] * arm) > 0.9 * np.linalg.norm(residual * arm):
            share, here, downhill = 1.0, energy(u), float(residual @ step)
            while share > 1e-4 and energy(u + share * step) > here - 1e-4 * share * downhill:
                share /= 2
            step = share * step
            after = forces(u + step)
        u = u + step
        depth, stud, under, slope, residual = after
    else:
        raise BadInput("This plate finds no rest on this ground. Check the studs' places and the load.")
    return Standing(depth, stud, under)


def _grip(plate: Plate, ground: Ground, rest: Standing, direction: float) -> float:
    sunk = np.clip(rest.depth, 0, plate.height)
    ploughed = float((0.5 * ground.plough * plate.across(direction) * sunk**2).sum())
    load = float((rest.stud_n + rest.sole_n).sum())
    return ploughed / load + ground.friction


def _torque_n_m(plate: Plate, ground: Ground, rest: Standing, pivot: tuple[float, float]) -> float:
    dx, dy = plate.x - pivot[0], plate.y - pivot[1]
    radius = np.hypot(dx, dy)
    sunk = np.clip(rest.depth, 0, plate.height)
    across = plate.across(np.arctan2(dy, dx) + math.pi / 2)
    side = 0.5 * ground.plough * across * sunk**2 + ground.friction * rest.stud_n
    sole = ground.friction * float(rest.sole_n.sum()) * 2 / 3 * SOLE_RADIUS_MM
    return (float((side * radius).sum()) + sole) / 1000


def _pressures_kpa(plate: Plate, rest: Standing) -> Floats:
    return np.asarray(rest.stud_n / plate.area * 1000)


@dataclass(frozen=True)
class Grip:
    """What matters of a plate on a ground."""

    forward: float
    torque_n_m: float
    worst_kpa: float


def grip_of(plate: Plate, surface: Surface, wet: bool, load_n: float, cop: tuple[float, float]) -> Grip:
    """Grip forward, turning resistance about the load, and the worst pressure of a plate."""
    ground = GROUNDS[surface].wetted() if wet else GROUNDS[surface]
    rest = stand(plate, ground, load_n, cop)
    return Grip(
        forward=_grip(plate, ground, rest, 0.0),
        torque_n_m=_torque_n_m(plate, ground, rest, cop),
        worst_kpa=float(_pressures_kpa(plate, rest).max()),
    )


def studs(given: StudsIn) -> StudsOut:
    """How a stud plate stands, grips and turns on a ground, and on every other."""
    plate = Plate.of(given.studs)
    cop = given.cop_mm or (float(plate.x.mean()), float(plate.y.mean()))
    pivot = given.pivot_mm or cop
    ground = GROUNDS[given.surface].wetted() if given.wet else GROUNDS[given.surface]
    rest = stand(plate, ground, given.load_n, cop)
    pressures = _pressures_kpa(plate, rest)
    forward, sideways = _grip(plate, ground, rest, 0.0), _grip(plate, ground, rest, math.pi / 2)
    sweep = []
    for surface, plain in GROUNDS.items():
        for wet in (False, True):
            other = plain.wetted() if wet else plain
            there = stand(plate, other, given.load_n, cop)
            sweep.append(
                StudsSweep(
                    surface=surface,
                    wet=wet,
                    forward=_grip(plate, other, there, 0.0),
                    torque_n_m=_torque_n_m(plate, other, there, pivot),
                    worst_pressure_kpa=float(_pressures_kpa(plate, there).max()),
                )
            )
    return StudsOut(
        per_stud=[
            StudOut(penetration_mm=max(float(d), 0.0), load_n=float(f), tip_pressure_kpa=float(p))
            for d, f, p in zip(rest.depth, rest.stud_n, pressures, strict=True)
        ],
        stud_share=float(rest.stud_n.sum() / given.load_n),
        traction=Traction(forward=forward, back=forward, medial=sideways, lateral=sideways),
        torque_n_m=_torque_n_m(plate, ground, rest, pivot),
        worst_pressure_kpa=float(pressures.max()),
        sweep=sweep,
    )
