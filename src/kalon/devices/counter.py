"""A practice camera before a counter with a sheet hung on its front, a finger's breadth below its top: where it stands,
the wall, and painted solids.

Points are (u, v, depth) in millimetres: along the counter's edge, up from it, away from the camera.
"""

from __future__ import annotations

from collections.abc import Sequence

import cv2
import numpy as np
from numpy.typing import NDArray

from ..core.paper.sheet import SIZES_MM, Paper
from .camera import Floats, Light, Picture, View, about, blend, smooth_noise

Colour = tuple[float, float, float]
WALL_MM = 260.0
"""How far behind the edge the wall stands."""


def before_counter(rng: np.random.Generator, width: int, paper: Paper, tilt_deg: float, *, level: bool = False) -> View:
    """A telephone's camera before the counter, `tilt_deg` off square; `level` keeps it at its top's height or above."""
    height = width
    long, short = max(SIZES_MM[paper]), min(SIZES_MM[paper])
    focal = float(rng.uniform(0.72, 0.86)) * width
    away = focal * (long + (420 if level else 270)) / width
    around = np.radians(rng.uniform(0, 360)) if not level else np.radians(rng.uniform(-25, 25))
    turn, _ = cv2.Rodrigues(np.array([np.cos(around), np.sin(around), 0.0]) * np.radians(tilt_deg))
    roll, _ = cv2.Rodrigues(np.array([0, 0, np.radians(rng.uniform(-3, 3))]))
    up = np.diag([1.0, -1.0, 1.0])
    low = (10, 30) if level else (-35, -5)
    middle = np.array([long / 2 + rng.uniform(-8, 8), rng.uniform(*low), 0.0])
    rotation = roll @ turn @ up
    shift = np.array([0.0, 0.0, away]) - rotation @ middle
    lens = np.array([[focal, 0, width / 2], [0, focal, height / 2], [0, 0, 1]])
    below = float(rng.uniform(4, 14))
    corners = np.array([[0, 0, 0], [long, 0, 0], [long, -short, 0], [0, -short, 0]], dtype=float) - [0, below, 0]
    view = View(lens, rotation, shift, (width, height), np.zeros((4, 2)))
    return View(lens, rotation, shift, (width, height), view.project(corners))


def hung_page(rng: np.random.Generator, paper: Paper, per_mm: int) -> NDArray[np.uint8]:
    """The sheet, its long side along the edge."""
    long, short = max(SIZES_MM[paper]), min(SIZES_MM[paper])
    page = np.full((round(short * per_mm), round(long * per_mm)), 243.0)
    return np.asarray(np.clip(page + 3 * smooth_noise(rng, page.shape, 160), 0, 255), dtype=np.uint8)


TOPS: tuple[Colour, ...] = ((172, 140, 100), (92, 116, 134))
"""A counter's top: wood, or slate."""


def backdrop(view: View, rng: np.random.Generator, unlike: Colour) -> Light:
    """The wall, the counter's top and its front (h, w, 3); the top is the one further from a sole's colour, as a fitter
    would lay a cloth there."""
    height, width = view.size[1], view.size[0]
    wall, front = (np.full(3, rng.uniform(*span)) for span in ((105, 172), (60, 100)))
    top = max((np.array(t) for t in TOPS), key=lambda t: _hue_apart(t, np.array(unlike))) * rng.uniform(0.8, 1.1)
    picture = np.empty((height, width, 3), np.float32)
    picture[:] = wall
    picture[on_top(view)] = top
    picture[front_of(view)] = front
    picture += 2.5 * smooth_noise(rng, (height, width), 40)[..., None]
    return picture


def _hue_apart(one: Floats, other: Floats) -> float:
    return float(np.linalg.norm(one / one.sum() - other / other.sum()))


class Canvas:
    """Filled shapes laid over each other, the later over the earlier, then softened and put into a picture as one."""

    def __init__(self, view: View) -> None:
        self.view = view
        self.colour = np.zeros((view.size[1], view.size[0], 3), np.uint8)
        self.cover = np.zeros((view.size[1], view.size[0]), np.uint8)

    def fill(self, points: Sequence[Sequence[float]] | Floats, colour: Floats | Colour) -> None:
        """A closed shape of points (k, 3)."""
        polygon = np.round(self.view.project(np.asarray(points, dtype=float)) * 16).astype(np.int32)
        shade = [float(np.clip(c, 0, 255)) for c in colour]
        cv2.fillPoly(self.colour, [polygon], shade, lineType=cv2.LINE_AA, shift=4)
        cv2.fillPoly(self.cover, [polygon], 255.0, lineType=cv2.LINE_AA, shift=4)

    def onto(self, picture: Light, soft: float) -> None:
        """Into a picture (h, w, 3), edges softened by so many pixels."""
        where = about(self.cover, soft)
        mask, filled = self.cover[where], self.colour[where].astype(np.float32)
        filled[mask == 0] = 0
        weight = cv2.GaussianBlur((mask > 0).astype(np.float32), (0, 0), soft)[..., None]
        colour = cv2.GaussianBlur(filled, (0, 0), soft) / np.maximum(weight, np.float32(1e-3))
        cover = cv2.GaussianBlur(mask, (0, 0), soft).astype(np.float32)[..., None] / 255
        picture[where] += cover * (colour - picture[where])


def _ways(view: View) -> tuple[Floats, Floats, Floats]:
    """Where the camera stands (3,), and how far up (h, w) and how far away (h, w) each pixel's way goes."""
    across, down = np.arange(view.size[0])[None, :], np.arange(view.size[1])[:, None]
    turned = view.rotation.T @ np.linalg.inv(view.lens)
    up, away = (row[0] * across + row[1] * down + row[2] for row in turned[1:])
    return -view.rotation.T @ view.shift, up, away


def front_of(view: View) -> NDArray[np.bool_]:
    """Where the counter's front and the sheet on it hide what lies behind them (h, w)."""
    at, up, away = _ways(view)
    return np.asarray((away > 1e-9) & (at[1] * away - at[2] * up < 0))


def on_top(view: View) -> NDArray[np.bool_]:
    """Where the counter's top is seen as far as the wall (h, w); from below its edge, nowhere."""
    at, up, away = _ways(view)
    far = at[2] * up - at[1] * away  # how deep the top is met, times how far down the way goes
    return np.asarray((at[1] > 0) & (up < -1e-9) & (far < 0) & (far > WALL_MM * up))


def shadow(picture: Light, view: View, points: Floats, share: float, soft: float) -> None:
    """Darken what lies under points (k, 3) of a shape."""
    mask: Picture = np.zeros(picture.shape[:2], np.uint8)
    cv2.fillPoly(mask, [np.round(view.project(points) * 16).astype(np.int32)], 255, shift=4)
    blend(picture, mask, np.zeros(3), soft, share)
