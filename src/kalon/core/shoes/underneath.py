"""The studs on a sole seen squarely, found by colour.

A stud stands towards the camera: what is seen of it is its tip, and the side of it that faces the camera, which lies
nearer the point before the camera.
"""

from __future__ import annotations

from dataclasses import dataclass, replace

import cv2
import numpy as np
from numpy.typing import NDArray

from ..paper.counter import Wall, apart
from ..paper.sheet import PER_MM, Mask, disc, without_holes

Floats = NDArray[np.float64]
Lab = NDArray[np.float32]
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
    calliper: bool = False
    """Whether its sides are the stud's own, by calliper, not as seen."""


@dataclass(frozen=True)
class Seen:
    """What of studs is seen on a sole: their tips, where anything of them is (h, w), and how many patches are several
    that run into each other: parted by their shapes, or not to be made out."""

    tips: list[Spot]
    where: Mask
    parted: int = 0
    merged: int = 0


def spots(wall: Wall, lab: Lab, sole: Mask, camera: Floats, high_mm: float = USUAL_HIGH_MM) -> Seen:
    """Studs on the sole's face; none on a plain one. `camera` (u, v, away) is where it stood and `high_mm` how tall
    studs stand, which tells tip from side where their colours don't."""
    soft = np.asarray(cv2.GaussianBlur(lab, (0, 0), PER_MM * 0.25), dtype=np.float32)
    inside = cv2.erode(sole, disc(2)) > 0
    if not inside.any():
        return Seen([], np.zeros_like(sole))
    local = _local(soft, lab, sole)
    scaled = np.clip(apart(soft, local) * 3, 0, 255).astype(np.uint8)
    level, _ = cv2.threshold(scaled[inside][None], 0, 255, cv2.THRESH_BINARY + cv2.THRESH_OTSU)
    unlike = scaled > max(level * 0.7, LEAST_APART * 3)
    seen = _tips(wall, soft - local, unlike & (cv2.erode(sole, disc(2.5)) > 0), camera, high_mm)
    if not seen.tips:
        return seen
    # A tip at the rim is seen beyond it: what is of the tips' own colour there belongs to it.
    pixels = wall.pixels(np.array([s.at for s in seen.tips])).astype(int)
    tip = np.median(soft[pixels[:, 1], pixels[:, 0]], axis=0)
    beyond = (cv2.dilate(sole, disc(24)) > 0) & (apart(soft, tip) < LEAST_APART)
    beyond[round((wall.v1 - 1) * PER_MM) :] = False  # the sheet
    beyond &= (sole > 0) | _of_studs(beyond & (sole == 0), sole)  # not a wall of their colour
    seen = _tips(wall, soft - local, unlike & ((cv2.erode(sole, disc(1)) > 0) | beyond), camera, high_mm)
    return replace(seen, tips=[s for s in seen.tips if _on_sole(wall, s, sole, camera, high_mm)][:MOST_STUDS])


def _on_sole(wall: Wall, spot: Spot, sole: Mask, camera: Floats, high_mm: float) -> bool:
    """Whether a tip's foot, that much nearer the point before the camera, stands on the sole."""
    foot = camera[:2] + (np.array(spot.at) - camera[:2]) * (1 - high_mm / camera[2])
    x, y = wall.pixels(foot[None])[0].astype(int)
    near = round(FOOT_MM * PER_MM)
    return bool(sole[max(y - near, 0) : max(y + near, 0) + 1, max(x - near, 0) : max(x + near, 0) + 1].any())


FOOT_MM = 3.0
"""No stud's foot stands further beyond the rim as seen. House default."""


def _local(soft: Lab, lab: Lab, sole: Mask) -> Lab:
    """The face's own colour round each place (h, w, 3): what is close to it, averaged widely, so that shade doesn't
    count."""
    plain = np.median(lab[cv2.erode(sole, disc(4)) > 0], axis=0)
    like = (sole > 0).astype(np.float32) * (apart(soft, plain) < 14)
    few = cv2.resize(np.dstack([soft * like[..., None], like]), None, fx=1 / 8, fy=1 / 8, interpolation=cv2.INTER_AREA)
    few = cv2.GaussianBlur(few, (0, 0), 18 * PER_MM / 8)
    size = (soft.shape[1], soft.shape[0])
    wide = cv2.resize(few[..., :3] / np.maximum(few[..., 3:], 1e-3), size, interpolation=cv2.INTER_LINEAR)
    return np.asarray(wide, dtype=np.float32)


def _of_studs(mask: NDArray[np.bool_], sole: Mask) -> NDArray[np.bool_]:
    """What of the mask beyond the sole's rim is no larger than a stud and lies at the rim."""
    count, parts, stats, _ = cv2.connectedComponentsWithStats(mask.astype(np.uint8), connectivity=8)
    rim = np.unique(parts[(cv2.dilate(sole, disc(2)) > 0) & mask])
    keep = np.isin(np.arange(count), rim) & (stats[:, cv2.CC_STAT_AREA] < MOST_STUD_MM2 * PER_MM**2)
    keep[0] = False
    return np.asarray(keep[parts])


def _tips(wall: Wall, colour: Lab, where: NDArray[np.bool_], camera: Floats, high_mm: float) -> Seen:
    """Tips in blobs of colours against the face's."""
    mask = cv2.morphologyEx(where.astype(np.uint8) * 255, cv2.MORPH_OPEN, disc(0.8))
    mask = without_holes(mask)
    count, parts, stats, _ = cv2.connectedComponentsWithStats(mask, connectivity=8)
    patches: list[_Patch] = []
    merged = 0
    for i in range(1, count):
        x, y, w, h, area = (int(v) for v in stats[i])
        if not LEAST_STUD_MM2 <= area / PER_MM**2 <= 4 * MOST_STUD_MM2:
            mask[parts == i] = 0
            continue
        box = (slice(y, y + h), slice(x, x + w))
        here = _of_blob(wall, colour[box], np.asarray(parts[box] == i), (x, y), camera, high_mm)
        merged += not here and area > LEAST_MERGED_MM2 * PER_MM**2
        patches += here
    return _sorted_out(wall, patches, mask, merged)


def _sorted_out(wall: Wall, patches: list[_Patch], where: Mask, merged: int) -> Seen:
    """One stud a patch, or several where a patch is two to four studs of the others' size run together."""
    seen = [(p, p.spot(wall)) for p in patches]
    alike = _alike([s for _, s in seen if s])
    kinds = {b: [s.long * s.wide for s in alike if s.blade is b] for b in (True, False)}
    usual = {b: float(np.median(sizes)) for b, sizes in kinds.items() if sizes}
    tips: list[Spot] = []
    parted = 0
    for patch, spot in seen:
        odd = spot not in alike or _as_two(spot, alike)
        if spot and not odd:
            tips.append(spot)
            continue
        parts = patch.parted(wall) if spot is None or spot.blade else []
        if parts and all(_of_size(s.long * s.wide, usual.get(s.blade)) for s in parts):
            tips, parted = tips + parts, parted + 1
            continue
        merged += bool(spot and spot.blade) or patch.area_mm2 > LEAST_MERGED_MM2
        if spot in alike and spot:
            tips.append(spot)
    return Seen(tips, where, parted, merged)


def _as_two(spot: Spot | None, alike: list[Spot]) -> bool:
    """Whether a blade among round studs is as wide as they are, and may be two of them."""
    rounds = [s.wide for s in alike if not s.blade]
    if not spot or not spot.blade or len(rounds) < LEAST_ROUNDS:
        return False
    return bool(spot.wide > float(np.median(rounds)) / ALIKE and sum(s.blade for s in alike) < len(rounds) / 2)


LEAST_ROUNDS = 4
"""Among so many round studs a blade as wide as they are is looked at twice. House default."""


def _of_size(size: float, usual: float | None) -> bool:
    return usual is None or usual / ALIKE < size < usual * ALIKE


def _of_blob(
    wall: Wall, colour: Lab, part: NDArray[np.bool_], corner: tuple[int, int], camera: Floats, high_mm: float
) -> list[_Patch]:
    """The tips within one blob of colours against the face's, of studs that touch as seen: of two kinds the one that
    lies further from the point before the camera; its edge is half-way to the other kind and to the face."""
    core = next((c for mm in (2.4, 1.3) if (c := cv2.erode(part.astype(np.uint8), disc(mm)) > 0).sum() > 60), part)
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
            kinds = np.stack([apart(colour, c) for c in (tip, wall_side, np.zeros(3))])
            tips = _opened((kinds.argmin(axis=0) == 0).astype(np.uint8) * cv2.dilate(shape, disc(0.8)))
            told = tips.sum() > LEAST_TIP * part.sum()
    if not told:
        tips = _opened(_far_end(wall, shape, corner, camera, high_mm))
    count, labels, stats, _ = cv2.connectedComponentsWithStats(tips, connectivity=8)
    most = int(stats[1:, cv2.CC_STAT_AREA].max()) if count > 1 else 0
    whole = [i for i in range(1, count) if stats[i, cv2.CC_STAT_AREA] > 0.35 * most]
    return [_Patch(without_holes(labels == i) // 255, corner, told) for i in whole]


@dataclass(frozen=True)
class _Patch:
    """One tip as seen, or several that run into each other: a shape (h, w) and where its corner lies."""

    shape: NDArray[np.uint8]
    corner: tuple[int, int]
    told: bool

    @property
    def area_mm2(self) -> float:
        """How large it is as seen."""
        return float(self.shape.sum()) / PER_MM**2

    def spot(self, wall: Wall) -> Spot | None:
        """The one tip it is, if it is one."""
        found = _spot(wall, self.shape, self.corner)
        return found if self.told or found is None else _slimmer(found)

    def parted(self, wall: Wall) -> list[Spot]:
        """The tips it is when it is two to four of one size; none when it can't be parted so."""
        ys, xs = np.nonzero(self.shape)
        points = np.column_stack([xs, ys]).astype(np.float32)
        stop = (cv2.TERM_CRITERIA_EPS + cv2.TERM_CRITERIA_MAX_ITER, 60, 0.05)
        for count in range(2, MOST_RUN + 1):
            if len(points) < count * LEAST_STUD_MM2 * PER_MM**2:
                break
            cv2.setRNGSeed(1)
            _, of, _ = cv2.kmeans(points, count, None, stop, 4, cv2.KMEANS_PP_CENTERS)  # type: ignore[call-overload]
            spots = []
            for i in range(count):
                part = np.zeros_like(self.shape)
                part[ys[of[:, 0] == i], xs[of[:, 0] == i]] = 1
                spots.append(_Patch(part, self.corner, self.told).spot(wall))
            told = [s for s in spots if s]
            sizes = [s.long * s.wide for s in told]
            alike = len(told) == count and max(sizes) < ALIKE * min(sizes) and len({s.blade for s in told}) == 1
            if alike and all(_full(np.column_stack([xs, ys])[of[:, 0] == i], spots[0]) for i in range(count)):
                return told
        return []


def _full(points: NDArray[np.int64], kind: Spot | None) -> bool:
    """Whether pixels (n, 2) fill the rectangle, or the circle, of a stud of that kind."""
    around = points.astype(np.float32)
    if kind and kind.blade:
        (_, (a, b), _) = cv2.minAreaRect(around)
        return len(points) > FULL * (a + 1) * (b + 1)
    _, radius = cv2.minEnclosingCircle(around)
    return len(points) > FULL * np.pi * (radius + 0.5) ** 2


def _slimmer(spot: Spot) -> Spot:
    """A stud of one colour shows its foot's edge: its tip is less wide."""
    long, wide = (max(v - FLARE_MM, 0.6 * v) for v in (spot.long, spot.wide))
    return replace(spot, long=long, wide=wide, told=False)


MOST_RUN, ALIKE, FULL = 4, 1.5, 0.75
"""So many studs at most run into each other as seen, of sizes no further apart, each filling so much of its rectangle
or circle. House defaults."""
LEAST_TIP = 0.18
"""How much of a blob a tip is at least. House default."""


def _opened(mask: NDArray[np.uint8]) -> NDArray[np.uint8]:
    return np.asarray(cv2.morphologyEx(mask, cv2.MORPH_OPEN, disc(1.5)), dtype=np.uint8)


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
