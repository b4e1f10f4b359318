"""A sheet hung on the front of a counter, a finger's breadth below its top: what stands at the edge is in its plane.

Wall coordinates are millimetres: u along the sheet's upper edge from its left end, v up from it, depth behind the
sheet.
The sheet may hang by a long or a short side; how far below the top doesn't matter, only what is between is dark. One
such picture serves a shoe from the side and, laid on its side, its sole.
"""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray
from scipy import ndimage

from .sheet import PER_MM, SIZES_MM, Mask, Paper, Picture, camera_at, disc, to_paper, without_holes

Floats = NDArray[np.float64]
ROOM_MM = 45.0
"""How far beside the sheet and the shoe is looked."""
HIGH_MM = 300.0
"""How high above the edge is looked."""
LEAST_APART = 7.0
"""How far a colour is from what is behind it before it counts as the shoe's, in lightness and colour. House default."""


BLACK = np.array([0, 128, 128], dtype=np.float32)
"""Black, in lightness and colour as `lab_of` has them: colours in more and less light lie on lines from it."""


@dataclass(frozen=True)
class Hung:
    """A hung sheet: the map (3, 3) from picture pixels to wall millimetres, how long its upper edge is, and where the
    camera stood: u, v and away from the wall, mm."""

    to_wall: Floats
    edge_mm: float
    camera: Floats

    @property
    def aside_deg(self) -> float:
        """How far from square to the middle of the upper edge the picture was taken."""
        off = float(np.hypot(self.camera[0] - self.edge_mm / 2, self.camera[1]))
        return float(np.degrees(np.arctan2(off, self.camera[2])))


def hung(corners: Floats, paper: Paper, size: tuple[int, int]) -> Hung:
    """Where things are over a sheet with these corners (4, 2), in any turn, in a picture of that size (w, h).
    Raises `BadInput` on impossible corners."""
    flat = to_paper(corners, paper)
    width, height = SIZES_MM[paper]
    target = np.array([[0, 0], [width, 0], [width, height], [0, height]])
    top = int(np.argmin([corners[i, 1] + corners[(i + 1) % 4, 1] for i in range(4)]))
    left, right = target[top], target[(top + 1) % 4]
    if corners[top, 0] > corners[(top + 1) % 4, 0]:
        left, right = right, left
    along = (right - left) / np.linalg.norm(right - left)
    up = (left + right) / 2 - target.mean(axis=0)
    up = up / np.linalg.norm(up)
    turn = np.array([[along[0], along[1], -along @ left], [up[0], up[1], -up @ left], [0, 0, 1]])
    at = camera_at(corners, paper, size)
    u, v = turn[:2, :2] @ at[:2] + turn[:2, 2]
    return Hung(np.asarray(turn @ flat), float(np.linalg.norm(right - left)), np.array([u, v, at[2]]))


@dataclass(frozen=True)
class Wall:
    """The wall seen squarely (h, w, 3), `PER_MM` pixels a millimetre, its left end at `u0` and its top at `v1`."""

    picture: Picture
    u0: float
    v1: float

    def at(self, pixels: Floats) -> Floats:
        """Pixels (k, 2), counted from corners, as wall millimetres."""
        return np.column_stack([self.u0 + pixels[:, 0] / PER_MM, self.v1 - pixels[:, 1] / PER_MM])

    def pixels(self, wall: Floats) -> Floats:
        """Wall millimetres (k, 2) as pixels, counted from corners."""
        return np.column_stack([(wall[:, 0] - self.u0) * PER_MM, (self.v1 - wall[:, 1]) * PER_MM])


def seen_squarely(picture: Picture, sheet: Hung, longest_mm: float = 330.0) -> Wall:
    """What stands over the sheet, seen from straight before it, as far as the picture shows."""
    beside = max(ROOM_MM, (longest_mm - sheet.edge_mm) / 2 + ROOM_MM)
    u0, u1 = -beside, sheet.edge_mm + beside
    move = np.array([[PER_MM, 0, -u0 * PER_MM], [0, -PER_MM, HIGH_MM * PER_MM], [0, 0, 1]], dtype=float)
    middles = np.array([[1, 0, -0.5], [0, 1, -0.5], [0, 0, 1]])
    shape = (round((u1 - u0) * PER_MM), round((HIGH_MM + 6) * PER_MM))
    seen = cv2.warpPerspective(
        picture, middles @ move @ sheet.to_wall, shape, flags=cv2.INTER_AREA, borderMode=cv2.BORDER_REPLICATE
    )
    return Wall(np.asarray(seen, dtype=np.uint8), u0, HIGH_MM)


def round_it(wall: Wall, mask: Mask, beside_mm: float = 12.0) -> tuple[Wall, tuple[slice, slice]]:
    """The part of the wall round what stands out, and which rows and columns that is."""
    rows, columns = np.flatnonzero(mask.any(axis=1)), np.flatnonzero(mask.any(axis=0))
    more = round(beside_mm * PER_MM)
    y, x = max(int(rows[0]) - more, 0), max(int(columns[0]) - more, 0)
    part = (slice(y, int(rows[-1]) + more), slice(x, int(columns[-1]) + more))
    return Wall(wall.picture[part], wall.u0 + x / PER_MM, wall.v1 - y / PER_MM), part


def lab_of(picture: Picture) -> NDArray[np.float32]:
    """Lightness and colour of each pixel, lightness counted less: shade changes it."""
    lab = cv2.cvtColor(picture, cv2.COLOR_RGB2LAB).astype(np.float32)
    lab[..., 0] *= 0.6
    return lab


def apart(one: cv2.typing.MatLike, other: cv2.typing.MatLike) -> NDArray[np.floating]:
    """How far colours (…, 3) are from others."""
    off = np.subtract(one, other)
    return np.asarray(np.sqrt(np.einsum("...i,...i->...", off, off)))


def behind_it(lab: NDArray[np.float32]) -> NDArray[np.float32]:
    """The colours behind what stands there (h, w, 3), which both ends of each row tell."""
    rim = round(18 * PER_MM)
    left, right = np.median(lab[:, :rim], axis=1), np.median(lab[:, -rim:], axis=1)
    left, right = (ndimage.median_filter(side, size=(9, 1), mode="nearest") for side in (left, right))
    share = np.linspace(0, 1, lab.shape[1], dtype=np.float32)[None, :, None]
    return np.asarray(left[:, None, :] * (1 - share) + right[:, None, :] * share, dtype=np.float32)


def standing_out(wall: Wall, lab: NDArray[np.float32], behind: NDArray[np.float32]) -> Mask | None:
    """What stands on the edge, as one blob: unlike what is behind it. None when nothing of a shoe's size does."""
    soft = cv2.GaussianBlur(lab, (0, 0), PER_MM * 0.4)
    scaled = np.clip(apart(soft, behind) * 3, 0, 255).astype(np.uint8)
    ground = round(wall.v1 * PER_MM)
    scaled[ground + round(0.5 * PER_MM) :] = 0
    level, _ = cv2.threshold(scaled[:ground], 0, 255, cv2.THRESH_BINARY + cv2.THRESH_OTSU)
    level = min(max(level * 0.6, LEAST_APART * 3), 75)
    mask = (scaled > level).astype(np.uint8) * 255
    mask = cv2.morphologyEx(cv2.morphologyEx(mask, cv2.MORPH_OPEN, disc(1)), cv2.MORPH_CLOSE, disc(1))
    count, labels, stats, _ = cv2.connectedComponentsWithStats(mask, connectivity=8)
    if count < 2:
        return None
    best = 1 + int(np.argmax(stats[1:, cv2.CC_STAT_AREA]))
    wide, area = stats[best, cv2.CC_STAT_WIDTH], stats[best, cv2.CC_STAT_AREA]
    if wide < 120 * PER_MM or area < 5000 * PER_MM**2:
        return None
    belongs = stats[:, cv2.CC_STAT_AREA] > 60 * PER_MM**2  # what a seam or a light stripe cut off
    belongs &= [_touches(one, stats[best]) for one in stats]
    belongs[0] = False
    return without_holes(cv2.morphologyEx(belongs[labels].astype(np.uint8), cv2.MORPH_CLOSE, disc(1)))


def _touches(one: NDArray[np.int32], other: NDArray[np.int32]) -> bool:
    """Whether the box of a part lies within that of the whole."""
    x, y, w, h = (int(v) for v in one[:4])
    X, Y, W, H = (int(v) for v in other[:4])
    return x >= X and y >= Y and x + w <= X + W and y + h <= Y + H
