"""A foot in plan: its edges, its axis, its metatarsal heads and toes. Shared by scans and outlines.

The foot's frame: x along the axis from the back of the heel to the 2nd toe, y towards the big toe, z up from the
floor (0 throughout for an outline); millimetres. Places along the foot are shares of its length.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy import ndimage

from ..contract import Side
from ..errors import BadInput

Floats = NDArray[np.float64]

HEEL_AT, INSTEP_AT = 0.16, 0.50
HEEL_CENTRE_AT = 0.115
"""Where the middle of the heel is taken for the axis."""
FIRST_HEAD, FIFTH_HEAD = 0.72, 0.62
HEAD_SPREAD, HEAD_PULL_MM = 0.015, 0.002
"""How far heads usually lie from there, share of the length, and what weighs against a far one. House default."""
TOE_EDGE_AT = 0.93
"""The big toe's edge is taken at this share of its tip's place."""
SECOND_TOE = 0.42
"""Where the 2nd toe lies across the ball from the big toe's side, when no tip stands apart. House default."""
SECOND_TOE_WITHIN = 0.08
ALIGN_ON = 40_000
"""Points of the sole the axis is looked for on."""


def edges(points: Floats, length: float, below: float, step: float = 2.0) -> tuple[Floats, Floats, Floats]:
    """Where the inner (+y) and outer (−y) edge lie along the foot: x, inner, outer, each (k,); NaN where nothing is."""
    x, y, z = points.T
    low = (z < below) & (x > 0) & (x < length)
    bins = (x[low] / step).astype(np.int64)
    count = int(length / step) + 1
    inner, outer = np.full(count, -np.inf), np.full(count, np.inf)
    np.maximum.at(inner, np.minimum(bins, count - 1), y[low])
    np.minimum.at(outer, np.minimum(bins, count - 1), y[low])
    empty = ~np.isfinite(inner)
    inner[empty], outer[empty] = np.nan, np.nan
    return np.asarray((np.arange(count) + 0.5) * step, dtype=float), inner, outer


def reach(points: Floats, length: float) -> tuple[Floats, Floats]:
    """How far forward the foot comes at each place across it: y (k,) in steps of 1 mm, x (k,)."""
    x, y, z = points.T
    front = (x > 0.74 * length) & (z < 0.18 * length)
    start = float(y[front].min())
    bins = (y[front] - start).astype(np.int64)
    furthest = np.full(bins.max() + 1, 0.74 * length)
    np.maximum.at(furthest, bins, x[front])
    return np.asarray(start + np.arange(len(furthest)) + 0.5, dtype=float), ndimage.gaussian_filter1d(furthest, 1.2)


def second_toe(across: Floats, forward: Floats, inner: float, outer: float, big_toe: float) -> float:
    """Where the 2nd toe points across the foot: the tip nearest its usual place, or that place.

    `inner` and `outer` are the edges at the ball, `big_toe` the inner edge near the tip: the big toe's own tip
    lies within its breadth of that and is passed over.
    """
    from scipy.signal import find_peaks  # brings all of scipy.stats: only where something is measured

    breadth = inner - outer
    usual = inner - SECOND_TOE * breadth
    peaks, _ = find_peaks(forward, prominence=0.5)
    tips = across[peaks]
    near = tips[(np.abs(tips - usual) < SECOND_TOE_WITHIN * breadth) & (big_toe - tips > 0.2 * breadth)]
    return float(near[np.argmin(np.abs(near - usual))]) if len(near) else usual


def aligned(points: Floats) -> Floats:
    """A standing foot (big toe at +y) turned about the upright until heel and 2nd toe lie on x; points (n, 3)."""
    tall = float(np.ptp(points[points[:, 2] < 60, 0]))
    sole = points[points[:, 2] < 0.22 * tall]
    p, turn = sole[:: max(1, len(sole) // ALIGN_ON)], np.eye(3)
    for _ in range(5):
        p = p - np.array([p[:, 0].min(), 0.0, 0.0])
        length = float(p[:, 0].max())
        at, inner, outer = edges(p, length, 0.15 * length)
        heel = (at > 0.07 * length) & (at < 0.16 * length)
        ball = (at > 0.62 * length) & (at < 0.76 * length)
        front = (at > 0.92 * length) & (at < 0.95 * length)
        middle = (inner[heel] + outer[heel]) / 2
        if not np.isfinite(middle).any() or not np.isfinite(inner[ball]).any():
            raise BadInput("No heel and ball could be found: is it a whole foot, heel to toes?", code="scan-not-a-foot")
        heel_y = float(np.nanmean(middle))
        p = p - np.array([0.0, heel_y, 0.0])
        toe_y = second_toe(
            *reach(p, length),
            inner=float(np.nanmax(inner[ball])) - heel_y,
            outer=float(np.nanmin(outer[ball])) - heel_y,
            big_toe=float(np.max(inner[front][np.isfinite(inner[front])], initial=-np.inf)) - heel_y,
        )
        angle = float(np.arctan2(toe_y, length - HEEL_CENTRE_AT * length))
        c, s = np.cos(angle), np.sin(angle)
        step = np.array([[c, -s, 0], [s, c, 0], [0, 0, 1]])
        p, turn = p @ step, turn @ step
        if abs(angle) < 3e-4:
            break
    sole, turned = sole @ turn, points @ turn
    start = float(sole[:, 0].min())
    sole = np.asarray(sole - np.array([start, 0.0, 0.0]))
    _, inner, outer = edges(sole[sole[:, 0] < 0.16 * length], 0.16 * length, 0.15 * length)
    centre = float(np.nanmean((inner + outer)[len(inner) // 2 :] / 2))
    return np.asarray(turned - np.array([start, centre, 0.0]))


def head(
    at: Floats, edge: Floats, expected: float, length: float, window: float, pull_mm: float
) -> tuple[float, float]:
    """The metatarsal head on one edge: where it stands out most, weighed against where it is expected.

    `edge` is the distance from the axis (k,). A head a spread away from its usual place must stand out by
    `pull_mm` more to be taken; the place is refined by a parabola over `window` each way.
    """
    inside = (np.abs(at / length - expected) <= 4 * HEAD_SPREAD) & np.isfinite(edge)
    x, y = at[inside], edge[inside]
    pull = pull_mm * ((x / length - expected) / HEAD_SPREAD) ** 2
    top = int(np.argmax(ndimage.gaussian_filter1d(y, window / 4) - pull))
    near = np.abs(x - x[top]) <= window + 0.1
    a, b = 0.0, 0.0
    if near.sum() >= 4:
        a, b, _ = np.polyfit(x[near] - x[top], (y - pull)[near], 2)
    shift = float(np.clip(-b / (2 * a), -window, window)) if a < 0 else 0.0
    place = float(x[top] + shift)
    return place, float(np.interp(place, x, y))


def toe_tips(points: Floats, length: float, breadth: float) -> tuple[float, float]:
    """How far forward the big toe and the 2nd toe come, in the foot's frame."""
    across, forward = reach(points, length)
    first = forward[(across > 0.10 * breadth) & (across < 0.40 * breadth)]
    second = forward[np.abs(across) < 0.045 * breadth]
    return float(first.max(initial=0.0)), float(second.max(initial=0.0))


@dataclass(frozen=True)
class Ball:
    """The metatarsal heads: where the inner edge stands out at the 1st, the outer at the 5th; mm."""

    x1: float
    y1: float
    x5: float
    y5: float

    @property
    def angle_deg(self) -> float:
        """How the line of the heads slants from square across the foot."""
        return float(np.degrees(np.arctan2(self.x1 - self.x5, self.y1 - self.y5)))

    @property
    def width_mm(self) -> float:
        """From head to head."""
        return float(np.hypot(self.x1 - self.x5, self.y1 - self.y5))


def find_ball(points: Floats, length: float, below: float, noise: float = 0.0) -> Ball:
    """Both heads of an aligned foot; `noise` (mm) widens the look and leans more on the usual places."""
    at, inner, outer = edges(points, length, below)
    window, pull = float(np.clip(3 + 25 * noise, 3, 9)), HEAD_PULL_MM * (1 + 60 * noise)
    x1, y1 = head(at, inner, FIRST_HEAD, length, window, pull)
    x5, y5 = head(at, -outer, FIFTH_HEAD, length, window, pull)
    return Ball(x1, y1, x5, -y5)


def side_votes(points: Floats) -> list[tuple[float, float]]:
    """Signs of which side the big toe is on, from the plan alone: weight, and evidence for +y.

    The longest toe, and the metatarsal head that lies further forward, are the big toe's.
    """
    x, y, z = points.T
    length = float(np.quantile(x, 0.9995))
    share = x / length
    low = z < 0.16 * length
    front = low & (share > 0.60) & (share < 0.80)
    left, right = np.quantile(y[front], [0.998, 0.002])
    tip = low & (share > 0.985)
    heads = low & (share > 0.5) & (share < 0.82)
    left_at = float(np.median(x[heads & (y > left - 1.5)]))
    right_at = float(np.median(x[heads & (y < right + 1.5)]))
    return [
        (3.0, float(np.median(y[tip]) - (left + right) / 2) / float(left - right)),
        (3.0, 4 * (left_at - right_at) / length),
    ]


@dataclass(frozen=True)
class SideFound:
    """Which foot it is, and the share of the evidence that agrees, 0.5…1."""

    side: Side
    agree: float


def side_by(votes: list[tuple[float, float]]) -> SideFound:
    """Left or right from weighted signs; the big toe at +y (leftward, seen from above, toes up) is a right foot."""
    total = sum(w * float(np.clip(4 * v, -1, 1)) for w, v in votes)
    weight = sum(w * abs(float(np.clip(4 * v, -1, 1))) for w, v in votes)
    return SideFound("right" if total > 0 else "left", 0.5 + 0.5 * abs(total) / max(weight, 1e-9))


def first_toe_angle_deg(ball: Ball, heel_x: float, heel_y: float, toe_x: float, toe_y: float) -> float:
    """Between the inner edge from heel to ball and from ball to big toe; a straight big toe gives few degrees."""
    outward = np.arctan2(ball.y1 - heel_y, ball.x1 - heel_x)
    inward = np.arctan2(toe_y - ball.y1, toe_x - ball.x1)
    return float(np.degrees(outward - inward))
