"""A practice camera over a sheet of paper on a floor: where it stands, and the picture it takes."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from ..core.paper.sheet import SIZES_MM, Paper

Floats = NDArray[np.float64]
Picture = NDArray[np.uint8]
Light = NDArray[np.float32]
"""A picture while it is painted (h, w, 3), or one value of it (h, w)."""

TINT = np.array([1.0, 0.985, 0.955], np.float32)
"""Paper and floors are a little warm."""
PER_MM = 8
"""Pixels a millimetre of the page before it is photographed."""


@dataclass(frozen=True)
class Shot:
    """A photograph with what is true of it: corners of the paper (4, 2) in pixels, and how far the camera leans."""

    picture: Picture
    corners: Floats
    tilt_deg: float


@dataclass(frozen=True)
class View:
    """A camera over the paper: its lens (3, 3), and how points are turned and shifted before it, mm. Points have their
    origin in the middle of the paper, x right, y down the sheet, z away from the camera."""

    lens: Floats
    rotation: Floats
    shift: Floats
    size: tuple[int, int]
    corners: Floats

    def project(self, points: Floats) -> Floats:
        """Points (n, 3) as pixels (n, 2)."""
        seen = (points @ self.rotation.T + self.shift) @ self.lens.T
        return np.asarray(seen[:, :2] / seen[:, 2:])


def smooth_noise(rng: np.random.Generator, shape: tuple[int, int], grain: int) -> Light:
    """Noise of about that grain in pixels, one standard deviation 1."""
    coarse = rng.normal(0, 1, (shape[0] // grain + 2, shape[1] // grain + 2)).astype(np.float32)
    return np.asarray(cv2.resize(coarse, shape[::-1], interpolation=cv2.INTER_CUBIC), dtype=np.float32)


def about(mask: cv2.typing.MatLike, soft: float) -> tuple[slice, slice]:
    """The rows and columns of a mask (h, w) that aren't empty, and as far round them as `soft` pixels of blur reach."""
    x, y, width, height = cv2.boundingRect(mask)
    reach = int(4 * soft) + 2
    return slice(max(y - reach, 0), y + height + reach), slice(max(x - reach, 0), x + width + reach)


def blend(picture: Light, mask: Picture, colour: Light | Floats, soft: float, share: float = 1.0) -> None:
    """Lay a colour (3,) over a picture where a mask (h, w) is, its edges softened by so many pixels."""
    where = about(mask, soft)
    cover = cv2.GaussianBlur(mask[where], (0, 0), soft).astype(np.float32)[..., None] * np.float32(share / 255)
    picture[where] += cover * (np.asarray(colour, np.float32) - picture[where])


def stood(rng: np.random.Generator, width: int, paper: Paper, tilt_deg: float, further: float) -> View:
    """A telephone's camera `tilt_deg` off straight above; at `further` 1 the sheet would fill the picture's height."""
    height = round(width * 4 / 3)
    w_mm, h_mm = SIZES_MM[paper]
    corners_mm = np.array([[0, 0], [w_mm, 0], [w_mm, h_mm], [0, h_mm]]) - np.array([w_mm, h_mm]) / 2
    focal = float(rng.uniform(0.72, 0.86)) * height
    around = np.radians(rng.uniform(0, 360))
    axis = np.array([np.cos(around), np.sin(around), 0.0])
    turn, _ = cv2.Rodrigues(axis * np.radians(tilt_deg))
    spin, _ = cv2.Rodrigues(np.array([0, 0, np.radians(rng.uniform(-12, 12))]))
    away = further * focal * h_mm / height
    shift = np.array([rng.uniform(-10, 10), rng.uniform(-10, 10), away])
    lens = np.array([[focal, 0, width / 2], [0, focal, height / 2], [0, 0, 1]])
    view = View(lens, np.asarray(turn @ spin, dtype=float), shift, (width, height), np.zeros((4, 2)))
    return View(
        view.lens, view.rotation, view.shift, view.size, view.project(np.column_stack([corners_mm, np.zeros(4)]))
    )


def developed(
    view: View,
    page: Picture,
    rng: np.random.Generator,
    noise: float,
    paint: Callable[[Light], None],
    before: Light | None = None,
) -> Picture:
    """The picture of the page on a floor, or before a picture (h, w, 3), which is painted over; `paint` puts what
    stands on it in, before light and noise."""
    width, height = view.size
    source = (
        np.array([[0, 0], [page.shape[1], 0], [page.shape[1], page.shape[0]], [0, page.shape[0]]], np.float32) - 0.5
    )
    map_ = cv2.getPerspectiveTransform(source, view.corners.astype(np.float32))
    grain = 16 * smooth_noise(rng, (height, width), 24) + 7 * smooth_noise(rng, (height, width), 5)
    picture = (92 + grain)[..., None] * TINT if before is None else before
    seen = cv2.warpPerspective(cv2.GaussianBlur(page, (0, 0), 1.6), map_, (width, height), flags=cv2.INTER_LINEAR)
    cover = cv2.warpPerspective(np.full_like(page, 255), map_, (width, height), flags=cv2.INTER_LINEAR)
    where = about(cover, 0)
    lies = cover[where].astype(np.float32)[..., None] / 255
    picture[where] += lies * (seen[where][..., None] * TINT - picture[where])
    paint(picture)
    picture *= 1 + 0.05 * smooth_noise(rng, (height, width), height // 2)[..., None]
    picture += rng.normal(0, noise, (height, width, 1)).astype(np.float32)
    return np.clip(picture, 0, 255, out=picture).astype(np.uint8)
