"""A practice camera: photographs of a foot's outline on paper, or of the foot itself, from above or at an angle."""

from __future__ import annotations

from collections.abc import Callable

import cv2
import numpy as np
from numpy.typing import NDArray

from ..core.paper.sheet import SIZES_MM, Drawn, Paper
from .camera import PER_MM, Light, Shot, blend, developed, smooth_noise, stood
from .foot import FootDims, Mesh, loft, surface, toes

Floats = NDArray[np.float64]
Picture = NDArray[np.uint8]

SKIN = np.array([196.0, 150.0, 122.0])
PEN_MM = 2.0
"""How far from the foot an upright pen draws the middle of its line. From memory."""
TOE_GAP_MM = 9
"""A pen doesn't follow gaps between toes narrower than this."""


def silhouette(dims: FootDims, per_mm: int = PER_MM) -> tuple[NDArray[np.uint8], Floats]:
    """The foot in plan without its leg, as a mask, and the pixel of the frame's origin (a right foot, toes up)."""
    length = dims.length_mm
    shape = loft(dims)
    ring = np.linspace(0, 2 * np.pi, 240, endpoint=False)
    origin = np.array([90.0 * per_mm, (length + 25) * per_mm])
    mask = np.zeros((int((length + 50) * per_mm), int(180 * per_mm)), np.uint8)

    def place(xy: Floats) -> NDArray[np.int32]:
        return np.round((origin + np.column_stack([-xy[:, 1], -xy[:, 0]]) * per_mm) * 16).astype(np.int32)

    sections = [shape.section(float(c), ring) for c in np.linspace(0, 0.81 * length, 500)]
    inner = np.array([s[np.argmax(s[:, 1]), :2] for s in sections])
    outer = np.array([s[np.argmin(s[:, 1]), :2] for s in sections])
    cv2.fillPoly(mask, [place(np.vstack([inner, outer[::-1]]))], 255, shift=4)
    for s in sections[-40:]:
        cv2.fillPoly(mask, [place(s[:, :2])], 255, shift=4)
    for toe in toes(dims):
        xs = np.linspace(toe.base, toe.tip, 120)
        half = np.array([toe.half_width * toe.swell(float(x)) for x in xs])
        mid = np.array([toe.middle(float(x)) for x in xs])
        body = np.vstack([np.column_stack([xs, mid + half]), np.column_stack([xs, mid - half])[::-1]])
        cv2.fillPoly(mask, [place(body)], 255, shift=4)
    return mask, origin


def outline(dims: FootDims) -> Floats:
    """The plan outline (k, 2) in the foot's frame, toes together as a pen sees them, mm."""
    mask, origin = silhouette(dims)
    mask = _closed(mask, PER_MM)
    contours, _ = cv2.findContours(mask, cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_NONE)
    points = max(contours, key=cv2.contourArea)[::4, 0].astype(float) + 0.5
    flat = (points - origin) / PER_MM
    return np.column_stack([-flat[:, 1], -flat[:, 0]])


def _closed(mask: NDArray[np.uint8], per_mm: int) -> NDArray[np.uint8]:
    """Without gaps narrower than a pen: grown by half of it all round, and shrunk again."""
    half = TOE_GAP_MM * per_mm / 2
    grown = cv2.distanceTransform(255 - mask, cv2.DIST_L2, cv2.DIST_MASK_PRECISE) <= half
    left = cv2.distanceTransform(grown.astype(np.uint8), cv2.DIST_L2, cv2.DIST_MASK_PRECISE) > half
    return left.astype(np.uint8) * 255


def sheet(dims: FootDims, rng: np.random.Generator, paper: Paper, drawn: Drawn) -> Picture:
    """The paper seen straight from above at `PER_MM`, with the pen's line on it (or bare, for a foot to stand on)."""
    width, height = SIZES_MM[paper]
    page = np.full((round(height * PER_MM), round(width * PER_MM)), 243.0)
    page += 3 * smooth_noise(rng, page.shape, 160)
    if drawn == "line":
        mask, origin = silhouette(dims)
        mask = _closed(mask, PER_MM)
        if dims.side == "left":
            mask, origin = mask[:, ::-1], np.array([mask.shape[1] - origin[0], origin[1]])
        away = cv2.distanceTransform(255 - mask, cv2.DIST_L2, 5) / PER_MM
        away = np.where(mask > 0, -cv2.distanceTransform(mask.copy(), cv2.DIST_L2, 5) / PER_MM, away)
        wobble = 0.22 * smooth_noise(rng, away.shape, 14 * PER_MM)
        line = np.clip(1.25 - np.abs(away - PEN_MM - wobble) / 0.55, 0, 1)
        turn = float(rng.uniform(-7, 7)) * (dims.length_mm < 0.92 * height)
        place = cv2.getRotationMatrix2D((float(origin[0]), float(origin[1] - 0.5 * dims.length_mm * PER_MM)), turn, 1)
        place[:, 2] += np.array(
            [page.shape[1] / 2 - origin[0], page.shape[0] / 2 - origin[1] + dims.length_mm * PER_MM / 2]
        )
        ink = cv2.warpAffine(line.astype(np.float32), place, page.shape[::-1])
        page -= ink * rng.uniform(150, 205)
    return np.asarray(np.clip(page, 0, 255), dtype=np.uint8)


def photograph(
    dims: FootDims,
    seed: int,
    *,
    tilt_deg: float = 15.0,
    paper: Paper = "a4",
    drawn: Drawn = "line",
    width: int = 2000,
    noise: float = 3.0,
) -> Shot:
    """A photograph of the sheet on a floor, from `tilt_deg` off straight above."""
    rng = np.random.default_rng(seed)
    further = 1.5 + 0.5 * float(np.sin(np.radians(tilt_deg))) if drawn == "line" else 2.6
    view = stood(rng, width, paper, tilt_deg, further)
    page = sheet(dims, rng, paper, drawn)

    def paint(picture: Light) -> None:
        if drawn == "foot":
            _stand_on(picture, surface(dims, 12_000, leg_mm=0.36 * dims.length_mm), dims, view.project)

    return Shot(developed(view, page, rng, noise, paint), view.corners, tilt_deg)


def _stand_on(picture: Light, mesh: Mesh, dims: FootDims, project: Callable[[Floats], Floats]) -> None:
    """Paint the foot's surface, standing in the middle of the sheet, into a picture."""
    v = mesh.vertices
    world = np.column_stack([-v[:, 1], dims.length_mm / 2 - v[:, 0], -v[:, 2]])
    seen = project(world)
    corners = seen[mesh.faces]
    mask = np.zeros(picture.shape[:2], np.uint8)
    for triangle in np.round(corners * 16).astype(np.int32):
        cv2.fillConvexPoly(mask, triangle, 255, shift=4)
    blend(picture, mask, SKIN, 1.2)
