"""Setting a scan on the floor: its unit, its feet, which way is down, which end is the heel, which side it is."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray
from scipy import ndimage
from scipy.spatial import ConvexHull, QhullError

from ..errors import BadInput
from .plan import SideFound, side_by, side_votes

Floats = NDArray[np.float64]
Unit = Literal["mm", "cm", "m", "inch"]
MM_PER: dict[Unit, float] = {"mm": 1.0, "m": 1000.0, "cm": 10.0, "inch": 25.4}
SHORTEST_MM, LONGEST_MM = 100.0, 650.0
"""A scan's longest extent: a toddler's foot up to a grown foot with a long stump."""
FLOOR_MM = 3.0
"""What lies this close to a resting plane counts as resting on it."""
APART_MM = 14.0
"""Feet in one file stand at least this far apart."""
SAMPLE = 14_000


def unit_of(extent: float) -> Unit:
    """The unit that makes the longest extent a foot's. Raises `BadInput` when none does."""
    for unit, factor in MM_PER.items():
        if SHORTEST_MM <= extent * factor <= LONGEST_MM:
            return unit
    raise BadInput(
        f"The scan is {extent:.4g} units long: in no unit (mm, cm, m, inch) is that a foot. Is it a scan of a foot?",
        code="scan-size",
    )


def extent_of(points: Floats) -> float:
    """Longest extent of a cloud along its own main axis."""
    centred = points - points.mean(axis=0)
    _, axes = np.linalg.eigh(centred.T @ centred)
    return float(np.ptp(centred @ axes[:, 2]))


def pieces(points: Floats) -> list[NDArray[np.bool_]]:
    """Masks of the feet in a cloud (mm), larger first: clumps with at least a fifth of the points. Specks go."""
    low = points.min(axis=0)
    cells = ((points - low) / (APART_MM / 2)).astype(np.int64)
    grid = np.zeros(cells.max(axis=0) + 3, dtype=bool)
    grid[tuple((cells + 1).T)] = True
    labels, count = ndimage.label(grid, np.ones((3, 3, 3)))
    of_point = labels[tuple((cells + 1).T)]
    sizes = np.bincount(of_point, minlength=count + 1)
    wanted = [i for i in np.argsort(sizes)[::-1] if sizes[i] >= 0.2 * len(points)]
    return [of_point == i for i in wanted]


def _facing(points: Floats) -> list[Floats]:
    """Outward directions in which the cloud might rest, those with the largest flat hull first."""
    try:
        hull = ConvexHull(points)
    except QhullError:
        raise BadInput("The scan is flat or empty: there is no foot in it to measure.", code="scan-flat") from None
    normals = hull.equations[:, :3]
    corners = points[hull.simplices]
    areas = 0.5 * np.linalg.norm(np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0]), axis=1)
    found: list[Floats] = []
    free = np.ones(len(areas), dtype=bool)
    for _ in range(10):
        if not free.any():
            break
        lead = normals[np.argmax(np.where(free, areas, -1))]
        near = free & (normals @ lead > np.cos(np.radians(7)))
        mean = (normals[near] * areas[near, None]).sum(axis=0)
        found.append(mean / np.linalg.norm(mean))
        free &= normals @ lead < np.cos(np.radians(14))
    return found


def _resting_area(points: Floats, down: Floats) -> float:
    """Area (mm²) of what lies on the plane that bounds the cloud in direction `down`."""
    depth = points @ down
    resting = points[depth > np.quantile(depth, 0.999) - FLOOR_MM]
    side = _across(down)
    flat = np.column_stack([resting @ side, resting @ np.cross(down, side)])
    cells = ((flat - flat.min(axis=0)) / 5.0).astype(np.int64)
    return 25.0 * len(np.unique(cells[:, 0] * 4096 + cells[:, 1]))


def _across(axis: Floats) -> Floats:
    other = np.eye(3)[np.argmin(np.abs(axis))]
    found: Floats = np.cross(axis, other)
    return np.asarray(found / np.linalg.norm(found))


def _level(points: Floats, up: Floats) -> tuple[Floats, float]:
    """The floor refined: unit normal and height, by least squares through what rests on it."""
    for _ in range(3):
        depth = points @ up
        height = float(np.quantile(depth, 0.001))
        resting = points[depth < height + FLOOR_MM]
        side = _across(up)
        flat = np.column_stack([resting @ side, resting @ np.cross(up, side), np.ones(len(resting))])
        low = resting @ up
        for _ in range(2):
            fit, *_ = np.linalg.lstsq(flat, low, rcond=None)
            off = low - flat @ fit
            near = off < max(0.8, np.quantile(off, 0.7))
            flat, low = flat[near], low[near]
        up = up - fit[0] * side - fit[1] * np.cross(up, side)
        up = up / np.linalg.norm(up)
    return up, float(np.quantile(points @ up, 0.001))


@dataclass(frozen=True)
class Pose:
    """How a foot was set on the floor: rows of `turn` are forward, leftward and up; then `origin` is taken off."""

    turn: Floats
    origin: Floats

    def apply(self, points: Floats) -> Floats:
        """Points (n, 3) in the foot's frame."""
        return points @ self.turn.T - self.origin


def stand(points: Floats, up: Floats | None = None) -> Pose:
    """Set one foot's cloud (mm) on the floor with its toes forward. `up` overrides the search for the sole."""
    rng = np.random.default_rng(0)
    some = points if len(points) <= SAMPLE else points[rng.choice(len(points), SAMPLE, replace=False)]
    if up is None:
        downs = _facing(some)
        up = -max(downs, key=lambda d: _resting_area(some, d))
    up, floor = _level(some, up / np.linalg.norm(up))
    side = _across(up)
    flat = np.column_stack([some @ side, some @ np.cross(up, side)])
    height = some @ up - floor
    low = flat[height < 0.35 * min(float(np.quantile(height, 0.98)), 120.0)]
    centred = low - low.mean(axis=0)
    _, axes = np.linalg.eigh(centred.T @ centred)
    forward2 = axes[:, 1]
    along = flat @ forward2
    lowest, highest = np.quantile(low @ forward2, [0.002, 0.998])
    quarter = 0.22 * (highest - lowest)
    top_first = np.quantile(height[along < lowest + quarter], 0.95)
    top_last = np.quantile(height[along > highest - quarter], 0.95)
    if top_last > top_first:
        forward2 = -forward2
    forward = forward2[0] * side + forward2[1] * np.cross(up, side)
    turn = np.stack([forward, np.cross(up, forward), up])
    start = float(np.quantile(some[height < 60] @ forward, 0.0005))
    return Pose(turn, np.array([start, float(np.median(some @ turn[1])), floor]))


def side_of(points: Floats) -> SideFound:
    """Left or right from a scan standing in its frame (x forward, y leftward, z up).

    Besides what the plan shows, the hollow of the arch and the ridge of the instep are on the big toe's side.
    """
    points = points[:: max(1, len(points) // (2 * SAMPLE))]
    x, y, z = points.T
    share = x / float(np.quantile(x, 0.9995))
    low = z < 0.16 * x.max()
    votes = side_votes(points)
    mid = (share > 0.38) & (share < 0.60)
    edge = np.quantile(y[mid & low], [0.01, 0.99])
    centre, breadth = float(edge.mean()), float(np.ptp(edge))
    ground = mid & (z < 4)
    if ground.sum() > 20:
        votes.append((3.0, -2 * float(np.median(y[ground]) - centre) / breadth))
    ridge = (share > 0.5) & (share < 0.65)
    top = ridge & (z > np.quantile(z[ridge], 0.97))
    votes.append((2.0, 2 * float(np.median(y[top]) - centre) / breadth))
    return side_by(votes)
