"""Closed polygons (k, 2) in millimetres: resampled, measured, drawn in, and their longest way across."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from scipy import ndimage

Floats = NDArray[np.float64]
STEP_MM = 0.4


def dense(polygon: Floats, step: float = STEP_MM) -> Floats:
    """The polygon's edge as points at most `step` apart (n, 2)."""
    ends = np.roll(polygon, -1, axis=0)
    lengths = np.linalg.norm(ends - polygon, axis=1)
    counts = np.maximum(np.ceil(lengths / step).astype(np.int64), 1)
    at = np.concatenate([np.arange(c) / c for c in counts])
    rows = np.repeat(np.arange(len(polygon)), counts)
    found: Floats = polygon[rows] + at[:, None] * (ends - polygon)[rows]
    return found


def even(polygon: Floats, step: float) -> Floats:
    """The closed polygon resampled at equal steps."""
    edge = np.vstack([polygon, polygon[:1]])
    along = np.concatenate([[0], np.cumsum(np.linalg.norm(np.diff(edge, axis=0), axis=1))])
    at = np.linspace(0, along[-1], max(int(along[-1] / step), 24), endpoint=False)
    return np.column_stack([np.interp(at, along, edge[:, 0]), np.interp(at, along, edge[:, 1])])


def area(polygon: Floats) -> float:
    """Signed area, positive when the corners run against the clock."""
    x, y = polygon.T
    return float(0.5 * np.sum(x * np.roll(y, -1) - np.roll(x, -1) * y))


def inset(polygon: Floats, by_mm: float) -> Floats:
    """The polygon drawn in by a distance along its own normals (smoothed a little first)."""
    steady = ndimage.gaussian_filter1d(even(polygon, 0.5), 1.2, axis=0, mode="wrap")
    if area(steady) < 0:
        steady = steady[::-1]
    along = np.roll(steady, -2, axis=0) - np.roll(steady, 2, axis=0)
    along = ndimage.gaussian_filter1d(along, 3.0, axis=0, mode="wrap")
    inward = np.column_stack([-along[:, 1], along[:, 0]]) / np.maximum(np.linalg.norm(along, axis=1), 1e-9)[:, None]
    found: Floats = (steady + by_mm * inward)[::2]
    return found


def longest(polygon: Floats) -> tuple[Floats, Floats]:
    """The two points of a polygon that lie furthest apart."""
    from scipy.spatial import ConvexHull

    hull = polygon[ConvexHull(polygon).vertices]
    apart = np.linalg.norm(hull[:, None] - hull[None, :], axis=2)
    i, j = np.unravel_index(int(np.argmax(apart)), apart.shape)
    return hull[i], hull[j]


def across(polygon: Floats, start: Floats, end: Floats, step: float = 0.5) -> tuple[Floats, Floats, Floats]:
    """The polygon seen along the line from `start` to `end`: places along it, and the lowest and highest distance aside
    at each, mm; positive is left of the way."""
    forward = (end - start) / np.linalg.norm(end - start)
    points = dense(polygon, step / 2) - start
    along, aside = points @ forward, points @ np.array([-forward[1], forward[0]])
    places = np.arange(step, float(np.linalg.norm(end - start)), step)
    cell = np.clip(np.round(along / step).astype(int) - 1, 0, len(places) - 1)
    low, high = np.full(len(places), np.inf), np.full(len(places), -np.inf)
    np.minimum.at(low, cell, aside)
    np.maximum.at(high, cell, aside)
    full = np.isfinite(low) & np.isfinite(high)
    return places[full], low[full], high[full]


def principal(polygon: Floats) -> tuple[Floats, Floats]:
    """The middle of a polygon's area, and the direction it is longest in by its second moments: steadier than the two
    points furthest apart, which wander round a blunt end."""
    import cv2

    m = cv2.moments(polygon.astype(np.float32).reshape(-1, 1, 2))
    angle = 0.5 * np.arctan2(2 * m["mu11"], m["mu20"] - m["mu02"])
    middle = np.array([m["m10"], m["m01"]]) / m["m00"]
    return middle, np.array([np.cos(angle), np.sin(angle)])
