"""A made-up shoe's insole, and photographs of it on paper, of known measures."""

from __future__ import annotations

import io
from dataclasses import dataclass
from typing import Literal

import cv2
import numpy as np
from numpy.typing import NDArray
from PIL import Image
from scipy.interpolate import PchipInterpolator

from ..core.paper.sheet import SIZES_MM, Paper
from .camera import PER_MM, Light, Shot, blend, developed, smooth_noise, stood

Floats = NDArray[np.float64]
HEEL_CAP, TOE_CAP = 0.10, 0.13
"""Shares of the length over which heel and toe are rounded."""


@dataclass(frozen=True)
class ShoeDims:
    """What is true of a made-up right shoe, mm and degrees; the insole's are nominal, `true_insole` measures them."""

    length_mm: float
    ball_width_mm: float
    heel_width_mm: float
    last_curve_deg: float
    insole_mm: float
    """How thick the insole is."""
    colour: tuple[float, float, float]


COLOURS = ((60.0, 62.0, 70.0), (40.0, 70.0, 120.0), (150.0, 60.0, 50.0), (90.0, 110.0, 90.0), (120.0, 120.0, 118.0))


def a_shoe(seed: int) -> ShoeDims:
    """A made-up shoe from a seed."""
    rng = np.random.default_rng(seed + 7919)
    length = float(rng.uniform(228, 286))
    heel = float(rng.normal(0.232, 0.008)) * length
    return ShoeDims(
        length_mm=length,
        ball_width_mm=float(rng.normal(0.335, 0.012)) * length,
        heel_width_mm=heel,
        last_curve_deg=float(rng.uniform(0, 14)),
        insole_mm=float(rng.uniform(2.5, 6)),
        colour=COLOURS[int(rng.integers(len(COLOURS)))],
    )


def outline(dims: ShoeDims) -> Floats:
    """The insole's edge (k, 2): x from the heel, y to the inner side."""
    length = dims.length_mm
    s = 0.5 - 0.5 * np.cos(np.linspace(0, np.pi, 600))
    b, h = dims.ball_width_mm / 2, dims.heel_width_mm / 2
    body = PchipInterpolator(
        [0, 0.17, 0.42, 0.68, 0.8, 0.9, 1], [0.92 * h, h, 0.43 * (h + b), b, 0.96 * b, 0.84 * b, 0.7 * b]
    )(s)
    heel = np.sqrt(np.clip(1 - np.clip((HEEL_CAP - s) / HEEL_CAP, 0, 1) ** 2, 0, 1))
    toe = np.sqrt(np.clip(1 - np.clip((s - 1 + TOE_CAP) / TOE_CAP, 0, 1) ** 2, 0, 1))
    bend = np.clip((s - 0.32) / 0.2, 0, 1)
    slope = np.tan(np.radians(dims.last_curve_deg)) * bend * bend * (3 - 2 * bend)
    middle = np.concatenate([[0], np.cumsum((slope[1:] + slope[:-1]) / 2 * np.diff(s))]) * length
    half, x = body * heel * toe, s * length
    return np.vstack([np.column_stack([x, middle + half]), np.column_stack([x, middle - half])[::-1]])


def true_insole(edge: Floats) -> dict[str, float]:
    """Length, widths and curve of an outline by their definitions, from the outline itself and nothing else."""
    apart = np.linalg.norm(edge[:, None] - edge[None, :], axis=2)
    i, j = np.unravel_index(int(np.argmax(apart)), apart.shape)
    a, b = (edge[i], edge[j]) if edge[i, 0] < edge[j, 0] else (edge[j], edge[i])
    length = float(apart.max())
    u = (b - a) / length
    flat = (edge - a) @ np.array([[u[0], -u[1]], [u[1], u[0]]])
    closed = np.vstack([flat, flat[:1]])

    def cut(at: float) -> tuple[float, float]:
        x0, x1 = closed[:-1, 0], closed[1:, 0]
        hit = (x0 - at) * (x1 - at) < 0
        part = (at - x0[hit]) / (x1[hit] - x0[hit])
        y = closed[:-1, 1][hit] + part * (closed[1:, 1][hit] - closed[:-1, 1][hit])
        return float(y.min()), float(y.max())

    def widest(low: float, high: float) -> float:
        return max(hi - lo for lo, hi in (cut(float(x)) for x in np.linspace(low * length, high * length, 160)))

    def axis(low: float, high: float) -> float:
        xs = np.linspace(low * length, high * length, 60)
        return float(np.degrees(np.arctan(np.polyfit(xs, [sum(cut(float(x))) / 2 for x in xs], 1)[0])))

    return {
        "inner_length_mm": length,
        "ball_width_mm": widest(0.55, 0.85),
        "heel_width_mm": widest(0.06, 0.32),
        "last_curve_deg": abs(axis(0.56, 0.80) - axis(0.08, 0.30)),
    }


def _page(rng: np.random.Generator, paper: Paper) -> NDArray[np.uint8]:
    width, height = SIZES_MM[paper]
    page = np.full((round(height * PER_MM), round(width * PER_MM)), 243.0)
    page += 3 * smooth_noise(rng, page.shape, 160)
    return np.asarray(np.clip(page, 0, 255), dtype=np.uint8)


def _laid(edge: Floats, rng: np.random.Generator, side: Literal["left", "right"], turn_deg: float | None) -> Floats:
    """Points of a shoe laid on the paper, its middle in the middle, toes up the sheet, turned a little."""
    flip = np.array([1.0, -1.0 if side == "left" else 1.0])
    turn = np.radians(float(rng.uniform(-8, 8)) if turn_deg is None else turn_deg)
    spin = np.array([[np.cos(turn), -np.sin(turn)], [np.sin(turn), np.cos(turn)]])
    middle = (edge.min(axis=0) + edge.max(axis=0)) / 2
    flat = (edge - middle) * flip @ spin.T
    return np.column_stack([-flat[:, 1], -flat[:, 0]])


def _fill(picture: Light, polygon: Floats, colour: Floats, soft: float, share: float = 1.0) -> None:
    mask = np.zeros(picture.shape[:2], np.uint8)
    cv2.fillPoly(mask, [np.round(polygon * 16).astype(np.int32)], 255, shift=4)
    blend(picture, mask, colour, soft, share)


def insole_picture(
    dims: ShoeDims,
    seed: int,
    *,
    tilt_deg: float = 12.0,
    paper: Paper = "a4",
    side: Literal["left", "right"] = "right",
    width: int = 1800,
    noise: float = 3.0,
    shadow: float = 0.12,
) -> Shot:
    """A photograph of the insole on a sheet of paper, with the shadow it throws."""
    rng = np.random.default_rng(seed)
    view = stood(rng, width, paper, tilt_deg, 1.45 + 0.5 * float(np.sin(np.radians(tilt_deg))))
    page = _page(rng, paper)
    flat = _laid(outline(dims), rng, side, None if dims.length_mm < 278 else 0.0)
    throw = rng.normal(0, 1, 2)
    throw *= dims.insole_mm * 0.8 / max(float(np.linalg.norm(throw)), 1e-9)

    def paint(picture: Light) -> None:
        scale = width / 1800
        _fill(
            picture, view.project(np.column_stack([flat + throw, np.zeros(len(flat))])), np.zeros(3), 5 * scale, shadow
        )
        foot = view.project(np.column_stack([flat, np.zeros(len(flat))]))
        top = view.project(np.column_stack([flat, np.full(len(flat), -dims.insole_mm)]))
        _fill(picture, foot, np.array(dims.colour) * 0.8, 1.2 * scale)
        _fill(picture, top, np.array(dims.colour), 1.2 * scale)

    return Shot(developed(view, page, rng, noise, paint), view.corners, tilt_deg)


def insole_png(dims: ShoeDims, seed: int, tilt_deg: float = 8.0) -> bytes:
    """The photograph as a PNG file."""
    out = io.BytesIO()
    shot = insole_picture(dims, seed, tilt_deg=tilt_deg, width=1500)
    Image.fromarray(shot.picture).save(out, "PNG", compress_level=1)
    return out.getvalue()
