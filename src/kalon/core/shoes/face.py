"""A sole's face within a shoe seen squarely: what most of the shoe seen is of, without the walls beside it; its rim
where studs hide it, and where it can hardly be told from what is behind."""

from __future__ import annotations

import cv2
import numpy as np
from numpy.typing import NDArray

from ..paper.counter import BLACK, Wall, apart
from ..paper.polygon import dense
from ..paper.sheet import PER_MM, Mask, disc, without_holes

Floats = NDArray[np.float64]
Lab = NDArray[np.float32]
COLOURS = 4
SHADE, LIGHT = 9.0, (0.87, 1.15)
"""Colours no further apart than this are one in another light, or where one is so much of the other. House defaults."""


def face(lab: Lab, shoe: Mask, before: Floats | None = None) -> Mask | None:
    """The sole's face within what stands out; None where no colour is most of it. `before` (2,) is the pixel the camera
    stood before, which tells on which side the sole's own wall is seen."""
    core = cv2.erode(shoe, disc(3))
    pixels = lab[core > 0]
    if len(pixels) < 2000:
        return None
    some = pixels[:: max(len(pixels) // 6000, 1)]
    cv2.setRNGSeed(1)
    stop = (cv2.TERM_CRITERIA_EPS + cv2.TERM_CRITERIA_MAX_ITER, 30, 0.4)
    _, labels, centres = cv2.kmeans(some, COLOURS, None, stop, 3, cv2.KMEANS_PP_CENTERS)  # type: ignore[call-overload]
    counts = np.bincount(labels.ravel(), minlength=COLOURS)
    close = np.zeros(len(centres), dtype=bool)
    close[int(np.argmax(counts))] = True
    for _ in centres:  # one face in uneven light is one face, shade by shade
        close |= np.array([any(_one_in_light(c, other) for other in centres[close]) for c in centres])
    others = centres[~close]
    own = np.min([apart(lab, c) for c in centres[close]], axis=0)
    theirs = np.min([apart(lab, c) for c in others], axis=0) if len(others) else np.full_like(own, 99)
    mask = ((own < theirs) & (own < 22) & (shoe > 0)).astype(np.uint8) * 255
    mask = cv2.morphologyEx(mask, cv2.MORPH_OPEN, disc(1.2))
    count, parts, stats, _ = cv2.connectedComponentsWithStats(mask, connectivity=8)
    if count < 2:
        return None
    best = 1 + int(np.argmax(stats[1:, cv2.CC_STAT_AREA]))
    mask = np.asarray(parts == best, dtype=np.uint8) * 255
    if before is not None:
        mask = _without_wall(lab, mask, before)
    whole = without_holes(_bridged(mask))
    return np.asarray(cv2.morphologyEx(whole, cv2.MORPH_OPEN, disc(6)), dtype=np.uint8)


def _without_wall(lab: Lab, mask: Mask, before: Floats) -> Mask:
    """Without the sole's own wall, which is of the face's colour in shade and lies behind the face: it is seen beyond
    its edge on the camera's side, no further than something that far behind would be."""
    soft = cv2.GaussianBlur(lab, (0, 0), PER_MM * 0.4) - BLACK
    inner = cv2.erode(mask, disc(8)) > 0
    if not inner.any():
        return mask
    plain = np.median(soft[inner], axis=0)
    if float(plain @ plain) < DARKEST**2:
        return mask
    share = soft @ plain / float(plain @ plain)
    off = apart(soft, share[..., None] * plain)
    u, v = before
    reach = 1 - WALL_REACH
    moved = np.array([[reach, 0, u * (1 - reach)], [0, reach, v * (1 - reach)]])
    kept = cv2.warpAffine(mask, moved, mask.shape[::-1], flags=cv2.INTER_NEAREST | cv2.WARP_INVERSE_MAP)
    # Its light round about: the face's own, across a strip as wide as the wall may be.
    like = ((mask > 0) & (share > WALL_SHADE) & (off < SHADE)).astype(np.float32)
    few = cv2.resize(np.dstack([share * like, like]), None, fx=1 / 8, fy=1 / 8, interpolation=cv2.INTER_AREA)
    few = cv2.GaussianBlur(few, (0, 0), 14 * PER_MM / 8)
    light = cv2.resize(few[..., 0] / np.maximum(few[..., 1], 1e-3), mask.shape[::-1], interpolation=cv2.INTER_LINEAR)
    shaded = (share < WALL_SHADE * light) & (mask > 0) & (kept == 0)
    wall = cv2.morphologyEx(shaded.astype(np.uint8) * 255, cv2.MORPH_OPEN, disc(0.8))
    rest = cv2.morphologyEx(np.bitwise_and(mask, np.bitwise_not(wall)), cv2.MORPH_OPEN, disc(2))
    _, parts, stats, _ = cv2.connectedComponentsWithStats(np.asarray(rest, dtype=np.uint8), connectivity=8)
    large = stats[:, cv2.CC_STAT_AREA] > LEAST_PART_MM2 * PER_MM**2
    large[0] = False
    return np.asarray(large[parts], dtype=np.uint8) * 255


WALL_SHADE, WALL_REACH = 0.8, 0.07
"""A sole's wall has less than this of its face's light, and is seen beyond the face's edge by no more than this share
of how far the edge is from the point before the camera. House defaults."""
DARKEST = 6.0
"""A face no lighter than this has no shade. House default."""
LEAST_PART_MM2 = 40.0
"""A part of the face cut off by a wall's shade is at least so large. House default."""


def _one_in_light(one: Lab, other: Lab) -> bool:
    """Whether two colours are one in more and less light; a wall of the shoe is shaded more than that."""
    a, b = one - BLACK, other - BLACK
    share = float(a @ b / max(float(b @ b), 1e-6))
    return float(np.linalg.norm(one - other)) < SHADE or (
        LIGHT[0] < share < LIGHT[1] and float(np.linalg.norm(a - share * b)) < SHADE / 2
    )


NOTCH_MM = 32.0
"""A stud at the rim hides the sole's edge no wider than this. House default."""


def _bridged(mask: Mask) -> Mask:
    """The mask with notches in its rim closed, found at a quarter of the size."""
    rim = round(NOTCH_MM * PER_MM)
    wide = cv2.copyMakeBorder(mask, rim, rim, rim, rim, cv2.BORDER_CONSTANT, value=0)
    small = cv2.resize(wide, None, fx=0.25, fy=0.25, interpolation=cv2.INTER_AREA)
    closed = cv2.morphologyEx((small > 127).astype(np.uint8) * 255, cv2.MORPH_CLOSE, disc(NOTCH_MM / 4))
    added = cv2.resize(closed, (wide.shape[1], wide.shape[0]), interpolation=cv2.INTER_LINEAR)
    added = added[rim:-rim, rim:-rim]
    notches = ((added > 127) & (mask == 0)).astype(np.uint8) * 255
    notches = cv2.morphologyEx(notches, cv2.MORPH_OPEN, disc(3))
    return np.asarray(np.bitwise_or(mask, np.asarray(notches, dtype=np.uint8)), dtype=np.uint8)


HIDDEN_MM = 1.5
"""A rim this close to a stud as seen may be the stud's. House default."""
LONGEST_HIDDEN_MM, TANGENT_MM = 46.0, 8.0
"""No longer stretch of a rim is drawn across, and over how much beside it its ways are told. House defaults."""


def under_studs(wall: Wall, rim: Floats, studs: Mask) -> Floats:
    """The rim (k, 2), in wall millimetres, drawn smoothly across where studs (h, w) hide it."""
    edge = dense(rim)
    near = cv2.dilate(studs, disc(2 * HIDDEN_MM))
    x, y = wall.pixels(edge).astype(int).T
    h, w = studs.shape
    hidden = (near[np.clip(y, 0, h - 1), np.clip(x, 0, w - 1)] > 0) & (x >= 0) & (y >= 0) & (x < w) & (y < h)
    if not hidden.any() or hidden.mean() > 0.5:
        return rim
    first = int(np.flatnonzero(~hidden & ~np.roll(hidden, 1))[0])
    edge, hidden = np.roll(edge, -first, axis=0), np.roll(hidden, -first)
    starts = np.flatnonzero(np.diff(np.concatenate([[0], hidden.astype(int), [0]])))
    parts, done, count = [], 0, len(edge)
    for a, b in zip(starts[::2], starts[1::2], strict=True):
        start, end = edge[a - 1], edge[b % count]
        span = float(np.linalg.norm(end - start))
        parts.append(edge[done:a])
        done = b
        if span > LONGEST_HIDDEN_MM:
            parts.append(edge[a:b])
            continue
        steps = round(TANGENT_MM / 0.4)
        before, after = edge[(a - 1 - steps) % count], edge[(b + steps) % count]
        parts.append(_curve(start, end, start - before, after - end))
    return np.vstack([*parts, edge[done:]])


def _curve(start: Floats, end: Floats, out: Floats, back: Floats) -> Floats:
    """A cubic from one point to another in the ways given, every half millimetre (k, 2), ends left out."""
    span = float(np.linalg.norm(end - start))
    t = np.linspace(0, 1, max(round(2 * span), 2))[1:-1, None]
    m0, m1 = (span * v / max(float(np.linalg.norm(v)), 1e-9) for v in (out, back))
    found: Floats = (
        (2 * t**3 - 3 * t**2 + 1) * start
        + (t**3 - 2 * t**2 + t) * m0
        + (3 * t**2 - 2 * t**3) * end
        + (t**3 - t**2) * m1
    )
    return found


FAINT, LOOK_MM = 7.0, 2.0
"""Colours no further apart than this so far inside and outside a rim leave it hardly told. House defaults."""
MOST_FAINT = 0.15
"""With more than this share of its rim hardly told, a sole is asked for again. House default."""


def faint(wall: Wall, lab: Lab, rim: Floats) -> float:
    """The share of a rim (k, 2), in wall millimetres, that hardly differs from what is beyond it."""
    soft = cv2.GaussianBlur(lab, (0, 0), PER_MM * 0.5)
    edge = wall.pixels(dense(rim))
    along = np.roll(edge, -4, axis=0) - np.roll(edge, 4, axis=0)
    normal = np.column_stack([along[:, 1], -along[:, 0]]) / np.maximum(np.linalg.norm(along, axis=1), 1e-9)[:, None]
    sides = [edge + way * LOOK_MM * PER_MM * normal for way in (1, -1)]
    h, w = lab.shape[:2]
    one, other = (soft[np.clip(s[:, 1], 0, h - 1).astype(int), np.clip(s[:, 0], 0, w - 1).astype(int)] for s in sides)
    return float((np.linalg.norm(one - other, axis=1) < FAINT).mean())
