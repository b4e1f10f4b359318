"""A sole seen squarely: which part of the picture is its face, and the studs on it, found by colour.

The face is what most of the shoe seen is of; a wall of the shoe beside it is shaded. A stud stands towards the camera:
what is seen of it is its tip, and the side of it that faces the camera, which lies nearer the point before the camera.
"""

from __future__ import annotations

from dataclasses import dataclass, replace

import cv2
import numpy as np
from numpy.typing import NDArray
from scipy import ndimage

from ..paper.counter import BLACK, Wall
from ..paper.sheet import PER_MM, Mask

Floats = NDArray[np.float64]
Lab = NDArray[np.float32]
COLOURS = 4
LEAST_STUD_MM2, MOST_STUD_MM2 = 9.0, 900.0
"""Areas of a stud as seen, with its side. House defaults."""
LEAST_MERGED_MM2 = 150.0
"""A patch this large that no stud can be made out in is several. House default."""
LEAST_FULL = 0.62
"""How much of its own smallest rectangle a stud fills; less is a seam, a line or a letter. House default."""
LEAST_APART = 9.0
"""How far a stud's colour is from the sole's. House default."""
MOST_STUDS = 150
USUAL_HIGH_MM = 10.0
"""How tall studs usually stand. House default."""
SHADE, LIGHT = 9.0, (0.87, 1.15)
"""Colours no further apart than this are one in another light, or where one is so much of the other. House defaults."""
LONGEST_MM = 50.0
"""No blade is longer. House default."""
LONG = 1.45
"""Longer than wide by this, a stud is a blade. House default."""


@dataclass(frozen=True)
class Spot:
    """One stud's tip as seen: its middle in wall millimetres, its long and wide sides, and the angle of the long one to
    u, degrees. A round one's sides are its diameter."""

    at: tuple[float, float]
    long: float
    wide: float
    angle_deg: float
    blade: bool
    told: bool = True
    """Whether tip and side were told by their colours, or by how tall studs stand."""


def _kernel(mm: float) -> NDArray[np.uint8]:
    size = max(round(mm * PER_MM), 1) | 1
    return np.asarray(cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (size, size)), dtype=np.uint8)


def face(lab: Lab, shoe: Mask) -> Mask | None:
    """The sole's face within what stands out; None where no colour is most of it."""
    core = cv2.erode(shoe, _kernel(3))
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
    own = np.min([np.linalg.norm(lab - c, axis=2) for c in centres[close]], axis=0)
    theirs = np.min([np.linalg.norm(lab - c, axis=2) for c in others], axis=0) if len(others) else np.full_like(own, 99)
    mask = ((own < theirs) & (own < 22) & (shoe > 0)).astype(np.uint8) * 255
    mask = cv2.morphologyEx(mask, cv2.MORPH_OPEN, _kernel(1.2))
    count, parts, stats, _ = cv2.connectedComponentsWithStats(mask, connectivity=8)
    if count < 2:
        return None
    best = 1 + int(np.argmax(stats[1:, cv2.CC_STAT_AREA]))
    mask = np.asarray(parts == best, dtype=np.uint8) * 255
    whole = np.asarray(ndimage.binary_fill_holes(_bridged(mask)), dtype=np.uint8) * 255
    return np.asarray(cv2.morphologyEx(whole, cv2.MORPH_OPEN, _kernel(6)), dtype=np.uint8)


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
    closed = cv2.morphologyEx((small > 127).astype(np.uint8) * 255, cv2.MORPH_CLOSE, _kernel(NOTCH_MM / 4))
    added = cv2.resize(closed, (wide.shape[1], wide.shape[0]), interpolation=cv2.INTER_LINEAR)
    added = added[rim:-rim, rim:-rim]
    notches = ((added > 127) & (mask == 0)).astype(np.uint8) * 255
    notches = cv2.morphologyEx(notches, cv2.MORPH_OPEN, _kernel(3))
    return np.asarray(np.bitwise_or(mask, np.asarray(notches, dtype=np.uint8)), dtype=np.uint8)


def spots(wall: Wall, lab: Lab, sole: Mask, camera: Floats, high_mm: float = USUAL_HIGH_MM) -> tuple[list[Spot], int]:
    """Studs on the sole's face; none on a plain one. `camera` (u, v, away) is where it stood and `high_mm` how tall
    studs
    stand, which tells tip from side where their colours don't. And how many patches are several that run into each
    other as seen."""
    soft = np.asarray(cv2.GaussianBlur(lab, (0, 0), PER_MM * 0.25), dtype=np.float32)
    weight = (sole > 0).astype(np.float32)
    plain = np.median(lab[cv2.erode(sole, _kernel(4)) > 0], axis=0)
    far = np.linalg.norm(soft - plain, axis=2)
    # The face's own colour round each place: what is close to it, averaged widely, so that shade doesn't count.
    like = weight * (far < 14)
    size = (soft.shape[1], soft.shape[0])
    few = cv2.resize(np.dstack([soft * like[..., None], like]), None, fx=1 / 8, fy=1 / 8, interpolation=cv2.INTER_AREA)
    few = cv2.GaussianBlur(few, (0, 0), 18 * PER_MM / 8)
    wide = cv2.resize(few[..., :3] / np.maximum(few[..., 3:], 1e-3), size, interpolation=cv2.INTER_LINEAR)
    local = np.asarray(wide, dtype=np.float32)
    apart = np.linalg.norm(soft - local, axis=2)
    inside = cv2.erode(sole, _kernel(2)) > 0
    if not inside.any():
        return [], 0
    scaled = np.clip(apart * 3, 0, 255).astype(np.uint8)
    level, _ = cv2.threshold(scaled[inside][None], 0, 255, cv2.THRESH_BINARY + cv2.THRESH_OTSU)
    level = max(level * 0.7, LEAST_APART * 3)
    unlike = scaled > level
    found, merged = _tips(wall, soft, local, unlike & (cv2.erode(sole, _kernel(2.5)) > 0), camera, high_mm)
    if not found:
        return [], merged
    # A tip at the rim is seen beyond it: what is of the tips' own colour there belongs to it.
    pixels = wall.pixels(np.array([s.at for s in found])).astype(int)
    tip = np.median(soft[pixels[:, 1], pixels[:, 0]], axis=0)
    beyond = (cv2.dilate(sole, _kernel(24)) > 0) & (np.linalg.norm(soft - tip, axis=2) < LEAST_APART)
    beyond[round((wall.v1 - 1) * PER_MM) :] = False  # the sheet
    found, merged = _tips(wall, soft, local, unlike & ((cv2.erode(sole, _kernel(1)) > 0) | beyond), camera, high_mm)
    alike = _alike(found)
    merged += sum(1 for s in found if s not in alike and s.blade)
    return alike[:MOST_STUDS], merged


def _tips(
    wall: Wall, soft: Lab, local: Lab, where: NDArray[np.bool_], camera: Floats, high_mm: float
) -> tuple[list[Spot], int]:
    mask = cv2.morphologyEx(where.astype(np.uint8) * 255, cv2.MORPH_OPEN, _kernel(0.8))
    mask = np.asarray(ndimage.binary_fill_holes(mask), dtype=np.uint8) * 255
    count, parts, stats, _ = cv2.connectedComponentsWithStats(mask, connectivity=8)
    found: list[Spot] = []
    merged = 0
    for i in range(1, count):
        x, y, w, h, area = (int(v) for v in stats[i])
        merged += MOST_STUD_MM2 < area / PER_MM**2 < 4 * MOST_STUD_MM2
        if not LEAST_STUD_MM2 <= area / PER_MM**2 <= MOST_STUD_MM2:
            continue
        box = (slice(y, y + h), slice(x, x + w))
        here = _of_blob(wall, soft[box] - local[box], np.asarray(parts[box] == i), (x, y), camera, high_mm)
        merged += not here and area > LEAST_MERGED_MM2 * PER_MM**2
        found += here
    return found, merged


def _of_blob(
    wall: Wall, colour: Lab, part: NDArray[np.bool_], corner: tuple[int, int], camera: Floats, high_mm: float
) -> list[Spot]:
    """The tips within one blob of colours against the face's, of studs that touch as seen: of two kinds the one that
    lies further from the point
    before the camera; its edge is half-way to the other kind and to the face."""
    core = next((c for mm in (2.4, 1.3) if (c := cv2.erode(part.astype(np.uint8), _kernel(mm)) > 0).sum() > 60), part)
    ys, xs = np.nonzero(core)
    values = colour[ys, xs]
    axis = _axis(values)
    along = values @ axis
    low, high = float(along.min()), float(along.max())
    scaled = ((along - low) / max(high - low, 1e-6) * 255).astype(np.uint8)
    level, _ = cv2.threshold(scaled[None], 0, 255, cv2.THRESH_BINARY + cv2.THRESH_OTSU)
    upper = scaled > level
    shape, told = part.astype(np.uint8), False
    tips = shape
    if 0.08 < upper.mean() < 0.92:
        one, other = values[upper].mean(axis=0), values[~upper].mean(axis=0)
        between = upper.mean() * (1 - upper.mean()) * float(np.linalg.norm(one - other)) ** 2
        if between > SPLIT * float(values.var(axis=0).sum()) and np.linalg.norm(one - other) > TOLD_APART:
            before = wall.pixels(camera[None, :2])[0] - np.array(corner)
            away = [float(np.hypot(xs[c].mean() - before[0], ys[c].mean() - before[1])) for c in (upper, ~upper)]
            tip, wall_side = (one, other) if away[0] > away[1] else (other, one)
            kinds = np.stack([np.linalg.norm(colour - c, axis=2) for c in (tip, wall_side, np.zeros(3))])
            tips = _opened((kinds.argmin(axis=0) == 0).astype(np.uint8) * cv2.dilate(shape, _kernel(0.8)))
            told = tips.sum() > LEAST_TIP * part.sum()
    if not told:
        tips = _opened(_far_end(wall, shape, corner, camera, high_mm))
    count, labels, stats, _ = cv2.connectedComponentsWithStats(tips, connectivity=8)
    most = int(stats[1:, cv2.CC_STAT_AREA].max()) if count > 1 else 0
    whole = [i for i in range(1, count) if stats[i, cv2.CC_STAT_AREA] > 0.35 * most]
    found = [_spot(wall, np.asarray(ndimage.binary_fill_holes(labels == i), dtype=np.uint8), corner) for i in whole]
    return [s if told else _slimmer(s) for s in found if s]


def _slimmer(spot: Spot) -> Spot:
    """A stud of one colour shows its foot's edge: its tip is less wide."""
    long, wide = (max(v - FLARE_MM, 0.6 * v) for v in (spot.long, spot.wide))
    return replace(spot, long=long, wide=wide, told=False)


LEAST_TIP = 0.18
"""How much of a blob a tip is at least. House default."""


def _opened(mask: NDArray[np.uint8]) -> NDArray[np.uint8]:
    return np.asarray(cv2.morphologyEx(mask, cv2.MORPH_OPEN, _kernel(1.5)), dtype=np.uint8)


def _far_end(
    wall: Wall, shape: NDArray[np.uint8], corner: tuple[int, int], camera: Floats, high_mm: float
) -> NDArray[np.uint8]:
    """The tip of a stud of one colour: what is left of it and of itself moved by how far its tip stands out. A shape
    swept along a way, laid over itself moved to the way's end, leaves the shape there."""
    ys, xs = np.nonzero(shape)
    at = wall.at(np.array([[xs.mean() + corner[0], ys.mean() + corner[1]]]))[0]
    way = (at - camera[:2]) * high_mm / (camera[2] - high_mm)
    far = float(np.linalg.norm(way))
    u, v = way * (1 + FLARE_MM / 2 / max(far, FLARE_MM)) * PER_MM
    moved = cv2.warpAffine(shape, np.array([[1, 0, u], [0, 1, -v]], dtype=float), shape.shape[::-1])
    return np.asarray(np.bitwise_and(shape, np.asarray(moved, dtype=np.uint8)), dtype=np.uint8)


FLARE_MM = 1.5
"""How much further out a stud is at its foot than at its tip. House default."""
TOLD_APART = 12.0
"""How far tip and side of a stud are apart in colour before they are told by it. House default."""
SPLIT = 0.55
"""How much of a blob's spread of colours two kinds must explain before they are tip and side. House default."""


def _axis(values: NDArray[np.float32]) -> NDArray[np.float32]:
    """The direction in which colours (n, 3) differ most."""
    centred = values - values.mean(axis=0)
    _, vectors = np.linalg.eigh(centred.T @ centred)
    return np.asarray(vectors[:, -1], dtype=np.float32)


def _spot(wall: Wall, shape: NDArray[np.uint8], corner: tuple[int, int]) -> Spot | None:
    """Middle, sides and angle of a shape, from its moments."""
    ys, xs = np.nonzero(shape)
    area = len(xs)
    if area / PER_MM**2 < LEAST_STUD_MM2:
        return None
    mx, my = xs.mean(), ys.mean()
    cov = np.cov(np.vstack([xs - mx, my - ys])) + np.eye(2) / 12  # v runs up
    values, vectors = np.linalg.eigh(cov)
    ratio = float(np.sqrt(values[1] / max(values[0], 1e-6)))
    points = np.column_stack([xs, ys]).astype(np.float32)
    (_, (a, b), _) = cv2.minAreaRect(points)
    if area < LEAST_FULL * (a + 1) * (b + 1):
        return None
    at = wall.at(np.array([[mx + corner[0] + 0.5, my + corner[1] + 0.5]]))[0]
    if ratio < LONG:
        across = 2 * np.sqrt(area / np.pi) / PER_MM
        return Spot((float(at[0]), float(at[1])), across, across, 0.0, False)
    long = np.sqrt(12 * values[1]) / PER_MM
    wide = area / PER_MM**2 / long
    if long > LONGEST_MM:
        return None
    angle = float(np.degrees(np.arctan2(vectors[1, 1], vectors[0, 1])))
    return Spot((float(at[0]), float(at[1])), float(long), float(wide), angle, True)


def _alike(found: list[Spot]) -> list[Spot]:
    """Without what is much smaller than the rest: scratches, letters, specks."""
    if len(found) < 3:
        return found
    sizes = np.array([s.long * s.wide for s in found])
    usual = float(np.median(sizes))
    long = float(np.median([s.long for s in found if s.blade] or [LONGEST_MM]))
    kept = zip(found, sizes, strict=True)
    return [s for s, size in kept if 0.25 * usual <= size <= 5 * usual and (not s.blade or s.long < 1.35 * long)]
