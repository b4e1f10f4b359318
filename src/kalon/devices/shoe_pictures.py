"""How a practice camera sees a made-up shoe: standing over a hung sheet, lying before it, or its insole on paper."""

from __future__ import annotations

import io
from dataclasses import asdict
from typing import Literal

import numpy as np
from numpy.typing import NDArray
from PIL import Image

from ..core.mechanics.studs import Stud
from ..core.paper.sheet import Paper
from ..core.shoes.pictured import Way
from .camera import PER_MM, Light, Shot, developed
from .counter import Canvas, Colour, backdrop, before_counter, front_of, hung_page, shadow
from .shoe import a_shoe, insole_png, outline, true_insole
from .shoe_solid import (
    Kind,
    Solid,
    a_solid,
    in_own_frame,
    sides_at,
    softened,
    sole_top,
    top_line,
    true_side,
    underside,
    worn,
)  # fmt: skip

Floats = NDArray[np.float64]


def _shade(colour: Colour, share: float) -> Colour:
    r, g, b = colour
    return r * share, g * share, b * share


def side_picture(
    made: Solid,
    seed: int,
    *,
    tilt_deg: float = 5.0,
    paper: Paper = "a4",
    side: Literal["left", "right"] = "right",
    width: int = 1800,
    noise: float = 3.0,
    dark: float = 0.35,
) -> Shot:
    """A photograph of the shoe standing over the sheet, its outer side flush with the counter's edge or nearly."""
    rng = np.random.default_rng(seed)
    view = before_counter(rng, width, paper, tilt_deg, level=True)
    length = made.plan.length_mm
    back, yaw = float(rng.uniform(0, 4)), float(rng.uniform(-1, 1))
    shift = 148.5 - length / 2 + float(rng.uniform(-10, 10))
    x = np.linspace(0.4, length - 0.4, 260)
    low, high = sides_at(made.plan, x)
    near = float(low.min())
    bottom, seam, top = underside(made, x), sole_top(made, x), top_line(made, x)

    def points(px: Floats, v: Floats, depth: float) -> Floats:
        u = px if side == "right" else length - px
        return np.column_stack([u + shift, v, depth + back + np.tan(np.radians(yaw)) * (px - length / 2)])

    def paint(picture: Light) -> None:
        scale = width / 1800
        front, clear = front_of(view), picture.copy()
        floor = points(np.concatenate([x, x[::-1]]), np.zeros(2 * len(x)), 0.0)
        floor[:, 2] = np.concatenate([low - near, (high - near)[::-1]]) + back
        shadow(picture, view, floor, dark, 7 * scale)
        canvas = Canvas(view)
        for depth in np.arange(float(high.max()) - near, -0.1, -2.5):
            y = depth + near
            for stud in (s for s in made.studs if depth <= s.y_mm - near < depth + 2.5):
                half = (stud.diameter_mm or stud.length_mm or 10) / 2
                px = stud.x_mm + np.array([-half * 1.15, half * 1.15, half * 0.9, -half * 0.9])
                canvas.fill(points(px, np.array([stud.height_mm + 1, stud.height_mm + 1, 0, 0]), depth), made.stud)
            inside = (low <= y) & (y <= high)
            middle, half_width = (low + high) / 2, np.maximum((high - low) / 2, 1e-6)
            share = np.abs(y - middle) / half_width
            crown = np.clip(1 - (share * (0.5 + made.flare / 2)) ** 2.6, 0, 1) ** 0.4
            for run in _runs(inside):
                shade = 0.72 + 0.28 * float((share[run] > 0.8).mean())
                canvas.fill(points(*_band(x[run], bottom[run], seam[run]), depth), _shade(made.sole, shade))
            for run in _runs(inside & (crown > 0)):
                crest = seam[run] + (top[run] - seam[run]) * crown[run]
                canvas.fill(
                    points(*_band(x[run], seam[run], crest), depth),
                    _shade(made.upper, (0.8 + 0.2 * y / near)),
                )
        canvas.onto(picture, 1.1 * scale)
        np.copyto(picture, clear, where=front[..., None])

    picture = developed(view, hung_page(rng, paper, PER_MM), rng, noise, paint, backdrop(view, rng, made.sole))
    return Shot(picture, view.corners, tilt_deg)


def _band(x: Floats, low: Floats, high: Floats) -> tuple[Floats, Floats]:
    return np.concatenate([x, x[::-1]]), np.concatenate([low, high[::-1]])


def _runs(inside: NDArray[np.bool_]) -> list[slice]:
    edges = np.flatnonzero(np.diff(np.concatenate([[0], inside.astype(int), [0]])))
    return [slice(int(a), int(b)) for a, b in zip(edges[::2], edges[1::2], strict=True) if b - a > 2]


def sole_picture(
    made: Solid,
    seed: int,
    *,
    tilt_deg: float = 12.0,
    paper: Paper = "a4",
    side: Literal["left", "right"] = "right",
    width: int = 1800,
    noise: float = 3.0,
    scuffed: float = 0.0,
) -> Shot:
    """A photograph of the shoe lying on its outer side over the sheet, its sole flush with the counter's front. A right
    shoe then points its toe to the left, a left one to the right, seen from before the counter."""
    rng = np.random.default_rng(seed)
    view = before_counter(rng, width, paper, tilt_deg)
    edge = outline(made.plan)
    length = made.plan.length_mm
    shift = 148.5 - length / 2 + float(rng.uniform(-10, 10))
    back, lean = float(np.clip(rng.normal(0, 1.2), -2.5, 2.5)), float(np.clip(rng.normal(0, 0.8), -1.8, 1.8))
    turn = float(rng.uniform(-1.0, 1.0))
    flip = -1.0 if side == "right" else 1.0
    lowest = float(edge[:, 1].min())

    def points(plane: Floats, depth: float) -> Floats:
        """Of the sole's plane (x from the heel, y to the inner side) at a depth behind it."""
        u = plane[:, 0] - length / 2
        v = plane[:, 1] - lowest
        c, s = np.cos(np.radians(turn)), np.sin(np.radians(turn))
        along, up = u * c - (v - 45) * s, 45 + u * s + (v - 45) * c
        behind = depth + back + np.tan(np.radians(lean)) * up
        return np.column_stack([flip * along + length / 2 + shift, up + 1.5, behind])

    def paint(picture: Light) -> None:
        scale = width / 1800
        front, clear = front_of(view), picture.copy()
        canvas = Canvas(view)
        middle = np.array([0.0, float(edge[:, 1].mean())])
        narrow = (edge - middle) * np.array([1.0, 1 / made.flare]) + middle
        inward = (narrow - np.array([length / 2, 0])) * np.array([0.985, 1.0]) + np.array([length / 2, 0])
        for depth in np.arange(86, 14, -6.0):
            share = 1 - 0.25 * ((depth - 14) / 72) ** 2
            layer = (inward - middle) * np.array([1.0, share]) + middle
            canvas.fill(points(layer, depth), _shade(made.upper, 0.7 + 0.2 * (86 - depth) / 72))
        for depth in np.arange(14, 0, -3.0):
            canvas.fill(points(edge, depth), _shade(made.sole, 0.62))
        canvas.onto(picture, 1.1 * scale)
        np.copyto(picture, clear, where=front[..., None])
        canvas = Canvas(view)
        canvas.fill(points(edge, 0.0), made.sole)
        order = sorted(made.studs, key=lambda s: -s.y_mm)
        for stud in order:
            base, tip = _foot_of(stud, 1.5), _foot_of(stud, 0.0)
            for share in np.linspace(0, 0.94, 10):
                wall = base + (tip - base) * share
                canvas.fill(points(wall, -stud.height_mm * share), _shade(made.stud, 0.66))
            keeps = 1 - 0.35 * scuffed
            dull = np.array(made.stud) * keeps + np.array(made.sole) * (1 - keeps)
            canvas.fill(points(tip, -stud.height_mm), dull)
        canvas.onto(picture, 1.1 * scale)

    picture = developed(view, hung_page(rng, paper, PER_MM), rng, noise, paint, backdrop(view, rng, made.sole))
    return Shot(picture, view.corners, tilt_deg)


def _foot_of(stud: Stud, wider: float) -> Floats:
    """The edge of a stud's tip (wider 0) or base, in the sole's plane."""
    around = np.linspace(0, 2 * np.pi, 40, endpoint=False)
    if stud.shape != "blade":
        half = (stud.diameter_mm or 0) / 2 + wider
        shape = half * np.column_stack([np.cos(around), np.sin(around)])
    else:
        a, b = (stud.length_mm or 0) / 2 + wider, (stud.width_mm or 0) / 2 + wider
        shape = np.array([[a, b], [-a, b], [-a, -b], [a, -b]])
        t = np.radians(stud.angle_deg)
        shape = shape @ np.array([[np.cos(t), np.sin(t)], [-np.sin(t), np.cos(t)]])
    return np.asarray(shape + np.array([stud.x_mm, stud.y_mm]))


def practice_picture(
    way: Way,
    seed: int,
    *,
    studs_worn_mm: float = 0.0,
    hook_lost_deg: float = 0.0,
    kind: Kind | None = None,
    tilt_deg: float | None = None,
) -> tuple[bytes, dict[str, object]]:
    """A practice picture of a made-up shoe as a PNG file, and what is true of it; worn by so much and taken from so far
    aside if said. Worn studs are scuffed too. An insole has neither studs nor hook."""
    if way == "insole":
        dims = a_shoe(seed)
        return insole_png(dims, seed, 8.0 if tilt_deg is None else tilt_deg), asdict(dims) | true_insole(outline(dims))
    made = softened(worn(a_solid(seed, kind), studs_worn_mm), hook_lost_deg)
    tilt = 3.0 if tilt_deg is None else tilt_deg
    if way == "side":
        seen = side_picture(made, seed, width=1600, tilt_deg=tilt)
    else:
        seen = sole_picture(made, seed, width=1600, tilt_deg=tilt, scuffed=min(studs_worn_mm / SCUFFED_BY_MM, 1.0))
    out = io.BytesIO()
    Image.fromarray(seen.picture).save(out, "PNG", compress_level=1)
    studs, edge = in_own_frame(made)
    true: dict[str, object] = dict(true_side(made))
    if way == "sole":
        true = {"sole_length_mm": float(np.ptp(edge[:, 0])), "studs": [s.model_dump() for s in studs]}
    return out.getvalue(), true


SCUFFED_BY_MM = 3.0
"""Worn by so much, a stud's tip has lost all the shine it loses."""
