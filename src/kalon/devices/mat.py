"""A practice pressure mat: prints of made-up feet whose arch index is known, standing or in a step."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray
from scipy import ndimage

from .foot import TIPS, FootDims, toes

Floats = NDArray[np.float64]
Mask = NDArray[np.bool_]

STEP_MM = 0.5


@dataclass(frozen=True)
class Recording:
    """Frames (t, rows, columns) in kPa, the cell's width in mm, and the time between frames in ms."""

    frames: Floats
    cell_mm: float
    frame_ms: float


def _grid(dims: FootDims) -> tuple[Floats, Floats]:
    x = np.arange(-10, dims.length_mm + 10, STEP_MM)
    y = np.arange(-75, 75, STEP_MM)
    along, across = np.meshgrid(x, y, indexing="ij")
    return along, across


def _ellipse(x: Floats, y: Floats, at: tuple[float, float], along: float, across: float, turn: float = 0.0) -> Mask:
    c, s = np.cos(turn), np.sin(turn)
    u, v = (x - at[0]) * c + (y - at[1]) * s, -(x - at[0]) * s + (y - at[1]) * c
    return (np.abs(u / along) ** 2.2 + np.abs(v / across) ** 2.2) <= 1  # type: ignore[no-any-return]


@dataclass(frozen=True)
class _Plan:
    """What of a print doesn't depend on the waist: masks, and where the waist may lie."""

    fixed: dict[str, Mask]
    between: Mask
    outer: Floats
    y: Floats


@lru_cache(maxsize=4)
def _plan(dims: FootDims) -> _Plan:
    x, y = _grid(dims)
    length, breadth = dims.length_mm, dims.breadth_mm
    (x1, y1), (x5, y5) = dims.first_head, dims.fifth_head
    slant = float(np.arctan2(x1 - x5, y1 - y5))
    heel = _ellipse(x, y, (0.145 * length, 0), 0.135 * length, 0.43 * dims.heel_width_mm)
    middle = ((x1 + x5) / 2 - 0.005 * length, (y1 + y5) / 2)
    fore = _ellipse(x, y, middle, 0.088 * length, 0.475 * dims.ball_width_mm, -slant)
    share = np.clip((x - 0.145 * length) / (middle[0] - 0.145 * length), 0, 1)
    outer = -0.40 * dims.heel_width_mm + share * (y5 + 0.06 * breadth + 0.40 * dims.heel_width_mm)
    fixed = {"heel": heel, "fore": fore & ~heel}
    for i, toe in enumerate(toes(dims)):
        tip = TIPS[dims.toe_shape][i] * length
        pad = 0.055 * length if i == 0 else 0.034 * length
        at = (tip - pad - 0.008 * length, toe.middle(tip - pad))
        fixed[f"toe{i + 1}"] = _ellipse(x, y, at, pad, 0.86 * toe.half_width)
    return _Plan(fixed, (share > 0) & (share < 1) & ~heel & ~fore, outer, y)


def parts(dims: FootDims, waist_mm: float) -> dict[str, Mask]:
    """Contact of heel, waist, forefoot and toes on a grid of `STEP_MM`, for a waist of that width."""
    plan = _plan(dims)
    waist = plan.between & (plan.y >= plan.outer) & (plan.y <= plan.outer + waist_mm)
    return {**plan.fixed, "waist": waist}


def index_of(found: dict[str, Mask]) -> float:
    """Arch index of such a contact: middle third of the toeless print over all of it."""
    sole = found["heel"] | found["waist"] | found["fore"]
    rows = np.flatnonzero(sole.any(axis=1))
    by_row = sole.sum(axis=1)[rows[0] : rows[-1] + 1].astype(float)
    n = len(by_row)
    share = np.clip(np.minimum(np.arange(n) + 1, 2 * n / 3) - np.maximum(np.arange(n), n / 3), 0, 1)
    return float(by_row @ share / by_row.sum())


def waist_for(dims: FootDims) -> float:
    """Width of the waist (mm) that gives the wanted arch index."""
    low, high = 0.0, 1.2 * dims.heel_width_mm
    for _ in range(18):
        middle = (low + high) / 2
        if index_of(parts(dims, middle)) < dims.arch_index:
            low = middle
        else:
            high = middle
    return (low + high) / 2


LOADED = {
    "heel": (210.0, 0.0, 0.55),
    "waist": (70.0, 0.15, 0.75),
    "fore": (240.0, 0.25, 0.95),
    "toe1": (230.0, 0.4, 1.0),
    "toe2": (120.0, 0.45, 1.0),
    "toe3": (100.0, 0.45, 0.98),
    "toe4": (85.0, 0.45, 0.97),
    "toe5": (75.0, 0.45, 0.95),
}
"""Pressure of each part, kPa, and when in a step it bears. House default."""


def record(
    dims: FootDims,
    seed: int,
    *,
    cell_mm: float = 5.0,
    frames: int = 1,
    noise: float = 0.03,
    turn_deg: float | None = None,
) -> Recording:
    """The foot standing on the mat (one frame), or stepping over it (several)."""
    rng = np.random.default_rng(seed)
    found = parts(dims, waist_for(dims))
    turn = np.radians(rng.uniform(-12, 12) if turn_deg is None else turn_deg)
    rows, columns = round(380 / cell_mm), round(240 / cell_mm)
    shift = rng.uniform(-0.5, 0.5, 2) * cell_mm
    r, c = np.meshgrid(np.arange(rows * 5), np.arange(columns * 5), indexing="ij")
    up = (rows / 2 * cell_mm - (r + 0.5) * cell_mm / 5) + shift[0]
    over = ((c + 0.5) * cell_mm / 5 - columns / 2 * cell_mm) + shift[1]
    fx = up * np.cos(turn) + over * np.sin(turn) + dims.length_mm / 2
    fy = -(-up * np.sin(turn) + over * np.cos(turn))
    if dims.side == "left":
        fy = -fy
    spots = [(fx + 10) / STEP_MM, (fy + 75) / STEP_MM]
    body = int(rng.integers(0, 1000)) % 2
    times = [0.5] if frames == 1 else list((np.arange(frames) + 0.5) / frames)
    layers = {}
    for name, mask in found.items():
        depth = ndimage.distance_transform_edt(mask) * STEP_MM
        soft = (1 - np.exp(-depth / 2.5)) * LOADED[name][0] * rng.uniform(0.85, 1.15) * (1 + 0.1 * body)
        fine = ndimage.map_coordinates(soft, spots, order=1, cval=0.0)
        layers[name] = fine.reshape(rows, 5, columns, 5).mean(axis=(1, 3))
    shots = []
    for t in times:
        frame = np.zeros((rows, columns))
        for name, layer in layers.items():
            _, begin, end = LOADED[name]
            bears = (
                1.0 if frames == 1 else float(np.clip(np.sin(np.pi * np.clip((t - begin) / (end - begin), 0, 1)), 0, 1))
            )
            frame += layer * bears
        frame = frame * (1 + noise * rng.normal(size=frame.shape)) + (frame > 1) * rng.normal(0, 1.0, frame.shape)
        shots.append(np.round(np.clip(frame, 0, None), 1))
    return Recording(np.array(shots), cell_mm, 20.0)
