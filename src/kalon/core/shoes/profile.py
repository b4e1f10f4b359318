"""A shoe from the side, standing on a counter's edge: stacks, drop, collar, downturn, rounding of the heel, studs.

Heights are over the ground, which is where the shoe is lowest; what lies behind it is brought forward by how far
behind it is, which a
sole's usual plan tells. Heel, forefoot and collar are read at set shares of the length. House defaults throughout.
"""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray
from scipy import ndimage

from ..errors import BadInput
from ..feet.measures import Number
from ..paper.counter import BLACK, Wall, apart
from ..paper.sheet import PER_MM, Mask
from .pictured import Pictured, check_possible

Floats = NDArray[np.float64]
Lab = NDArray[np.float32]
HEEL_AT, FORE_AT, COLLAR_AT = 0.15, 0.68, 0.12
HOOKED_DEG = 1.5
"""From this much on a toe points down rather than lies flat."""
STUDDED_MM = 3.0
"""From this much between the ground and the sole on, something stands under it."""
FLAT_MM = 2.5
"""A sole no further from its lowest than this lies on the ground."""
STUD_IN_MM = 9.0
"""How far in from the sole's edge a stud's tip stands."""
USUAL_WIDTH_SHARE, WIDTH_SIGMA_MM = 0.36, 6.0
"""How wide a sole is at the ball for its length, and how sure that is."""
PLAN = ((0.0, 0.25), (0.03, 0.66), (0.1, 0.86), (0.15, 0.88), (0.45, 0.9), (0.6, 0.97), (0.68, 0.98), (0.8, 0.86),
        (0.9, 0.63), (0.97, 0.26), (1.0, 0.0))  # fmt: skip
"""How near a sole's outer edge lies at shares of its length, of half its width; it is straighter than its inner one."""
CLEAN = {"heel_stack_mm": 0.6, "fore_stack_mm": 0.6, "drop_mm": 0.5, "collar_mm": 2.0, "downturn_deg": 0.6,
         "heel_round_mm": 2.0, "stud_mm": 0.6, "sole_length_mm": 0.8}  # fmt: skip
"""One standard deviation on a good picture, mm and degrees."""


@dataclass(frozen=True)
class Columns:
    """A shoe's side by columns (n,), heel first, in millimetres over the sheet as seen: where each is along it, what is
    lowest and highest, the seam over the sole, and the sole's underside. No seam, no sole: of one colour."""

    u: Floats
    low: Floats
    high: Floats
    seam: Floats | None
    under: Floats
    foot: Floats
    """How low what stands under the sole reaches, its shadow left out."""
    stands: NDArray[np.bool_]
    """Where something that is no shadow stands under the sole."""


def columns(wall: Wall, lab: Lab, behind: Lab, shoe: Mask) -> Columns:
    """The shoe column by column."""
    inside = shoe > 0
    across = np.flatnonzero(inside.any(axis=0))
    a, b = int(across[0]), int(across[-1]) + 1
    part = inside[:, a:b]
    first, last = part.argmax(axis=0), part.shape[0] - part[::-1].argmax(axis=0)
    soft = np.asarray(cv2.GaussianBlur(lab[:, a:b], (0, 0), PER_MM * 0.3), dtype=np.float32)
    two = _two(soft, part, first, last)
    ends = (first, last) if two is None else _sole_rows(soft, behind[:, a:b], part, two)
    u = wall.u0 + (np.arange(a, b) + 0.5) / PER_MM
    high, low = wall.v1 - first / PER_MM, wall.v1 - last / PER_MM
    under = ndimage.median_filter(wall.v1 - ends[1] / PER_MM, size=3 * PER_MM + 1, mode="nearest")
    seam = (
        None
        if two is None
        else ndimage.median_filter(wall.v1 - ends[0] / PER_MM, size=SEAM_OVER_MM * PER_MM + 1, mode="nearest")
    )
    n = len(u)
    rows = np.arange(part.shape[0])[:, None]
    below = (rows >= ends[1]) & (rows < last) & part
    solid = below & (_off(soft, behind[:, a:b], DEEP_SHADE) > LEAST_SOLID)
    stands = (solid.sum(axis=0) > 0.5 * below.sum(axis=0)) & (below.sum(axis=0) > 2 * PER_MM)
    foot = wall.v1 - (np.where(below, np.where(solid, 1, -1), 0).cumsum(axis=0).argmax(axis=0) + 1) / PER_MM
    step = 1 if high[: n // 3].mean() > high[-n // 3 :].mean() else -1  # the heel stands higher than the toe
    return Columns(
        u[::step],
        low[::step],
        high[::step],
        None if seam is None else seam[::step],
        under[::step],
        foot[::step],
        stands[::step],
    )


SHADED, LIT = 0.62, 1.08
"""A colour in shade and in light, shares of it. House defaults."""

DEEP_SHADE, LEAST_SOLID = 0.5, 5.0
"""What lies in a shoe's shade is as dark as this share of itself; what is further off in colour stands there. House
defaults."""


def _off(soft: Lab, colour: Lab, shaded: float = SHADED) -> Lab:
    """How far colours (h, w, 3) are from one colour (3,) or (h, w, 3), in whatever light."""
    away = colour - BLACK
    share = np.einsum("...i,...i->...", soft - BLACK, away) / np.maximum((away * away).sum(axis=-1), 1e-6)
    there = np.clip(share, shaded, LIT)[..., None] * away
    return np.asarray(apart(soft - BLACK, there), dtype=np.float32)


def _sole_rows(
    soft: Lab, behind: Lab, part: NDArray[np.bool_], two: tuple[Lab, Lab]
) -> tuple[NDArray[np.intp], NDArray[np.intp]]:
    """The rows of the seam and of the sole's underside in every column: where upper, sole and the rest part best."""
    sole, upper, ground = _off(soft, two[0]), _off(soft, two[1]), _off(soft, behind)
    most = 30.0
    swing = np.where(part, np.minimum(upper, most) - np.minimum(sole, most), 0).cumsum(axis=0)
    like = np.where((sole < upper) & (sole < ground) & (sole < most), 1, -2)
    rows = np.arange(part.shape[0])[:, None]
    # Studs may have the upper's colour: the first stretch of sole from above counts, its edge where the two part best.
    ahead = THIN_MM * PER_MM
    share = ndimage.uniform_filter1d(
        (like > 0).astype(np.float32), ahead, axis=0, origin=-(ahead // 2), mode="constant"
    )
    begins = (share >= 0.7) & part
    start = np.where(begins.any(axis=0), begins.argmax(axis=0), 0)
    near = (rows >= start - PER_MM) & (rows <= start + ahead + PER_MM) | ~begins.any(axis=0)
    seam = np.where(near, swing, np.inf).argmin(axis=0) + 1
    run = np.where((rows >= seam) & part, like, 0).cumsum(axis=0)
    return seam, np.maximum(run.argmax(axis=0) + 1, seam)


def _two(soft: Lab, part: NDArray[np.bool_], first: NDArray[np.intp], last: NDArray[np.intp]) -> tuple[Lab, Lab] | None:
    """The sole's colour and the upper's: of a few kinds of colour, the one that is mostly low, and the one that is
    mostly high. None where they are one."""
    ys, xs = np.nonzero(part)
    some = slice(None, None, max(len(ys) // 8000, 1))
    ys, xs = ys[some], xs[some]
    values = soft[ys, xs]
    cv2.setRNGSeed(1)
    stop = (cv2.TERM_CRITERIA_EPS + cv2.TERM_CRITERIA_MAX_ITER, 30, 0.4)
    _, labels, centres = cv2.kmeans(values, 5, None, stop, 3, cv2.KMEANS_PP_CENTERS)  # type: ignore[call-overload]
    labels = labels.ravel()
    depth = (ys - first[xs]) / np.maximum(last[xs] - first[xs], 1)
    upper = max(range(5), key=lambda k: float((depth[labels == k] < 0.45).sum()))
    low = [k for k in range(5) if float(_off(centres[k][None], centres[upper])[0]) > ONE_COLOUR]
    if not low:
        return None
    sole = max(low, key=lambda k: float(((depth[labels == k] > 0.55) & (depth[labels == k] < 0.97)).sum()))
    return centres[sole], centres[upper]


THIN_MM = 3
"""A sole is no thinner than this."""
SEAM_OVER_MM = 24
"""A seam runs smoothly over so much; a stud below it is narrower. House default."""
ONE_COLOUR = 9.0
"""Colours no further apart, in whatever light, are one. House default."""


def silhouette(seen: Columns) -> Floats:
    """The shoe's outline (k, 2) in wall millimetres, its shadow left out."""
    bottom = np.where(seen.stands, seen.foot, seen.under)
    bottom = ndimage.median_filter(np.minimum(bottom, seen.high), size=2 * PER_MM + 1, mode="nearest")
    pick = slice(None, None, PER_MM // 2)
    top = np.column_stack([seen.u, seen.high])[pick]
    return np.vstack([top, np.column_stack([seen.u, bottom])[pick][::-1]])


MARKS: dict[str, str] = {
    "heel": "rearmost of the heel", "toe": "foremost of the toe", "heel_seam": "seam over the sole at the heel",
    "fore_seam": "seam over the sole at the ball", "heel_ground": "ground at the heel",
    "fore_ground": "ground at the ball",
    "collar": "top of the collar at the back", "under_rear": "underside before the heel",
    "under_ball": "underside behind the ball", "under_fore": "underside before the ball",
    "under_toe": "underside at the toe", "rounding": "where the heel meets the ground",
    "stud_root": "underside between the studs",
}  # fmt: skip
"""What is marked on a side, in the order it is gone through; every number comes from marks, and each can be dragged."""
Marks = dict[str, tuple[float, float]]
UNDER = {"under_rear": 0.25, "under_ball": 0.62, "under_fore": 0.74, "under_toe": 0.94}


def plan_share(share: float) -> float:
    """Half the sole's width at a share of its length, over its widest half."""
    return float(np.interp(share, *np.array(PLAN).T))


def _behind(share: float, wide: float) -> float:
    """How far behind the sheet the near edge of a sole lies, mm."""
    return FLUSH_MM + wide / 2 * (1 - plan_share(share))


FLUSH_MM = 2.0
"""How far behind the sheet a shoe stands when set flush with the counter."""


def marks_of(seen: Columns, camera: Floats, wide_mm: float | None = None) -> Marks:
    """Where everything to be measured lies, wall millimetres (u, v) as seen from `camera` (u, v, away)."""
    n = len(seen.u)
    heel, toe = float(seen.u[0]), float(seen.u[-1])
    wide = wide_mm or USUAL_WIDTH_SHARE * abs(toe - heel)
    ends = [p + (p - camera[0]) * (FLUSH_MM + wide / 2) / camera[2] for p in (heel, toe)]

    def at(share: float) -> int:
        """The column in which a share of the length is seen: what is near looks further from the camera's place."""
        true = ends[0] + share * (ends[1] - ends[0])
        near = camera[0] + (true - camera[0]) * camera[2] / (camera[2] + _behind(share, wide))
        return min(max(round(float((near - heel) / (toe - heel)) * (n - 1)), 0), n - 1)

    def span(a: float, b: float, more: int = 0) -> slice:
        first, last = sorted((at(a), at(b)))
        return slice(max(first - more, 0), max(last + more, first + 1))

    found: Marks = {}

    def put(name: str, column: int, v: float) -> None:
        found[name] = (round(float(seen.u[column]), 2), round(float(v), 2))

    put("heel", 0, np.median((seen.low + seen.high)[span(0, 0.02)]) / 2)
    put("toe", n - 1, np.median((seen.low + seen.high)[span(0.98, 1)]) / 2)
    root = _stud_root(seen, span(0.05, 0.85))
    line = seen.under if root is None else _tips(seen)
    for name, a, b in (("heel_ground", 0.06, 0.27), ("fore_ground", 0.5, 0.82)):
        part = line[span(a, b)]
        if not np.isfinite(part).any():
            part = seen.under[span(a, b)]
        v = float(np.nanquantile(part, 0.06 if root is None else 0.1))
        here = at(HEEL_AT if a < 0.3 else FORE_AT)
        flat = float(np.median(line[max(here - 2 * PER_MM, 0) : here + 2 * PER_MM]))
        if root is None and flat < v + FLAT_MM:  # it lies on the ground right there
            put(name, here, flat)
        else:
            put(name, at(a) + int(np.nanargmin(np.abs(part - v))), v)
    if seen.seam is not None:
        put("heel_seam", at(HEEL_AT), np.median(seen.seam[span(HEEL_AT - 0.01, HEEL_AT + 0.01)]))
        put("fore_seam", at(FORE_AT), np.median(seen.seam[span(FORE_AT - 0.01, FORE_AT + 0.01)]))
    put("collar", at(COLLAR_AT), np.median(seen.high[span(COLLAR_AT - 0.015, COLLAR_AT + 0.015)]))
    if root is not None:
        put("stud_root", at(FORE_AT), root)
        return found
    for name, share in UNDER.items():
        put(name, at(share), np.median(seen.under[span(share - 0.012, share + 0.012)]))
    raised = seen.under[span(0, 0.3)] < found["heel_ground"][1] + 1.0
    column = int(np.argmax(raised))
    put("rounding", column, seen.under[column])
    return found


def _tips(seen: Columns) -> Floats:
    """How low what stands under the sole reaches, column by column; not a number where nothing does."""
    sure = ndimage.binary_erosion(seen.stands, iterations=PER_MM)
    return np.where(sure, seen.foot, np.nan)


def _stud_root(seen: Columns, part: slice) -> float | None:
    """How high the underside is seen over what stands under it; none where it lies on the ground itself."""
    stands = ndimage.median_filter(seen.stands[part].astype(np.uint8), size=3 * PER_MM, mode="nearest")
    if int(np.abs(np.diff(stands.astype(int))).sum()) < 3 or not 0.08 < stands.mean() < 0.85:
        return None
    root0 = float(np.median(seen.under[part]))
    root, tip = root0, float(np.nanquantile(np.append(seen.foot[part][stands > 0], root0), 0.25))
    return root if root - tip >= STUDDED_MM else None


def measure_side(marks: Marks, camera: Floats, *, wide_mm: float | None = None) -> Pictured:
    """Everything marks (wall millimetres as seen) tell of a shoe; `camera` (u, v, away) is where it stood, mm, and
    `wide_mm` the sole's width at the ball where it is known. Raises `BadInput` for what can't be."""
    for name in ("heel", "toe", "heel_ground", "fore_ground", "collar"):
        if name not in marks:
            raise BadInput(f"There is no mark for the {MARKS[name]}.", code="mark-missing")
    away, high = float(camera[2]), float(camera[1])
    seen = max(abs(marks["toe"][0] - marks["heel"][0]), 1.0)
    wide = wide_mm or USUAL_WIDTH_SHARE * seen
    middle = FLUSH_MM + wide / 2

    def depth(name: str) -> float:
        """How far behind the sheet a mark lies: near the edge of the sole there, and further in under it."""
        share = abs(marks[name][0] - marks["heel"][0]) / seen
        inward = STUD_IN_MM if "stud_root" in marks and name.endswith("_ground") else 0.0
        return _behind(share, wide) + inward

    def along(name: str) -> float:
        u = marks[name][0]
        return float(u + (u - camera[0]) * depth(name) / away)

    def height(name: str) -> float:
        v = marks[name][1]
        return float(v + (v - high) * depth(name) / away)

    off = (1.5 if wide_mm else WIDTH_SIGMA_MM / 2) / away
    values = {"sole_length_mm": seen * (1 + middle / away)}
    spread = {"sole_length_mm": seen * (off + 2.0 / away)}
    words: dict[str, str] = {}
    level = 0.0
    if "under_rear" in marks:
        raised = {n: (along(n), height(n)) for n in UNDER}
        rear = _slope(marks | raised, "under_rear", "under_ball")
        fore = _slope(marks | raised, "under_fore", "under_toe")
        turned = float(np.degrees(np.arctan(rear) - np.arctan(fore)))
        level = max(turned, 0.0)
        values["downturn_deg"] = level if level >= HOOKED_DEG else 0.0
        spread["downturn_deg"] = 0.0
    if level < HOOKED_DEG and "heel_seam" in marks:
        heel, front = height("heel_seam") - height("heel_ground"), height("fore_seam") - height("fore_ground")
        values |= {"heel_stack_mm": heel, "fore_stack_mm": front, "drop_mm": heel - front}
        under = abs(high) * 4 / away if "stud_root" in marks else 0.0
        spread |= {"heel_stack_mm": heel * off + under, "fore_stack_mm": front * off + under}
        spread["drop_mm"] = abs(heel - front) * off
    base = height("heel_seam") if "heel_seam" in marks else height("heel_ground")
    collar = marks["collar"][1]
    values["collar_mm"] = collar + (collar - high) * middle / away - base
    spread["collar_mm"] = abs(collar - high) * off * 2
    if "rounding" in marks and level < HOOKED_DEG:
        values["heel_round_mm"] = max(abs(marks["rounding"][0] - marks["heel"][0]) - 1.0, 0.0)
        spread["heel_round_mm"] = 0.0
    if "stud_root" in marks:
        values["stud_mm"] = max(height("stud_root") - height("fore_ground"), 0.0)
        spread["stud_mm"] = abs(high) * 5 / away
        words["stud_mm"] = "studs under it"
    if not np.isfinite([*values.values(), *spread.values()]).all():
        raise BadInput(
            "The side can't be made out in this picture. Take it again, or drag its marks.", code="side-none"
        )
    check_possible(values)
    if values["collar_mm"] < 5:
        raise BadInput(
            "The collar comes out below the sole. Check its mark, and the seam's.", code="measure-impossible"
        )
    numbers = {n: Number(value=v, sigma=float(np.hypot(CLEAN[n], spread[n]))) for n, v in values.items()}
    return Pictured(way="side", numbers=numbers, words=words)


def _slope(marks: Marks, a: str, b: str) -> float:
    """Rise over run towards the toe."""
    towards = np.sign(marks["toe"][0] - marks["heel"][0])
    run = (marks[b][0] - marks[a][0]) * towards
    if run <= 1:
        raise BadInput(f"The mark for the {MARKS[b]} lies behind the {MARKS[a]}.", code="mark-order")
    return float((marks[b][1] - marks[a][1]) / run)
