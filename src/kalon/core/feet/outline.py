"""A foot's outline measured in plan: lengths, widths, angles and toe shape, each with its uncertainty.

An outline is a closed polygon (k, 2) in millimetres in any position; it may be a pen's line round the foot, which
stands off it by the pen's thickness, or the edge of the foot itself.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ..contract import Side
from ..errors import BadInput
from ..paper.polygon import area, dense, inset
from .gauge import Stance
from .measures import BUNION_DEG, Number, Reading, Source, toe_shape_of
from .plan import (
    HEEL_AT,
    TOE_EDGE_AT,
    SideFound,
    aligned,
    edges,
    find_ball,
    first_toe_angle_deg,
    side_by,
    side_votes,
    toe_tips,
)

Floats = NDArray[np.float64]

PEN_OFF_MM = 2.0
"""How far the middle of a pen's line stands off the foot when the pen is held upright. House default."""
PEN_SIGMA_MM = 0.35
"""Spread of that from hand to hand. House default."""
WOBBLE_MM = 0.15
"""Unsteadiness of a drawn line, which widens the look for the heads. House default."""
CLEAN = {
    "length_mm": 0.35, "ball_width_mm": 0.55, "ball_angle_deg": 1.7, "heel_width_mm": 0.35, "heel_to_ball_mm": 2.4,
    "first_toe_angle_deg": 1.1,
}  # fmt: skip
"""One standard deviation on a true outline. House default, from the accuracy table in docs/accuracy.md."""


@dataclass(frozen=True)
class OutlineShape:
    """An outline in the foot's frame (k, 2), heel at 0, big toe at +y, and which side it is."""

    outline: Floats
    side: Side
    found: SideFound
    turn: Floats
    """(2, 3): takes the given outline's points, with a 1 behind, into the frame."""


def _check(polygon: Floats) -> None:
    if len(polygon) < 12 or not np.isfinite(polygon).all():
        raise BadInput("An outline needs at least twelve points, all of them numbers.", code="outline-short")
    size = np.ptp(polygon, axis=0)
    span = float(np.hypot(*size))
    if not 100 <= span <= 480:
        raise BadInput(
            f"The outline is {span / 10:.0f} cm across: that is no foot. Check the paper's corners and its size.",
            code="outline-size",
        )
    if abs(area(polygon)) < 0.12 * span * span:
        raise BadInput("The outline is too thin for a foot, or crosses itself.", code="outline-shape")


def frame(polygon: Floats, side: Side | None) -> OutlineShape:
    """Turn an outline into the foot's frame and say which foot it is. Raises `BadInput`."""
    _check(polygon)
    edge = dense(polygon)
    centre = edge.mean(axis=0)
    _, axes = np.linalg.eigh(np.cov((edge - centre).T))
    forward = axes[:, 1]
    along = (edge - centre) @ forward
    across = (edge - centre) @ np.array([-forward[1], forward[0]])
    low, high = along.min(), along.max()
    part = 0.16 * (high - low)
    if np.ptp(across[along < low + part]) > np.ptp(across[along > high - part]):
        forward = -forward
    turn = np.array([forward, [-forward[1], forward[0]]])
    flat = (edge - centre) @ turn.T
    flat[:, 0] -= flat[:, 0].min()
    found = side_by(side_votes(np.column_stack([flat, np.zeros(len(flat))])))
    which = side or found.side
    if which == "left":
        turn = turn * np.array([[1.0], [-1.0]])
    points = np.column_stack([(edge - centre) @ turn.T, np.zeros(len(edge))])
    stood = aligned(points)[:, :2]
    fit, *_ = np.linalg.lstsq(np.column_stack([edge, np.ones(len(edge))]), stood, rcond=None)
    placed = np.column_stack([polygon, np.ones(len(polygon))]) @ fit
    return OutlineShape(placed, which, found, np.asarray(fit.T, dtype=float))


def measure_outline(
    polygon: Floats,
    *,
    side: Side | None = None,
    off_mm: float = PEN_OFF_MM,
    off_sigma_mm: float = PEN_SIGMA_MM,
    scale_sigma: float = 0.0,
    stance: Stance = "standing",
    source: Source = "tracing",
) -> tuple[OutlineShape, Reading]:
    """Everything an outline tells of one foot.

    `off_mm` is how far the line stands off the foot (its spread `off_sigma_mm`), `scale_sigma` the relative
    spread of the scale. Raises `BadInput` with what is wrong and what to do.
    """
    _check(polygon)
    shape = frame(inset(polygon, off_mm), side)
    points = np.column_stack([dense(shape.outline), np.zeros(len(dense(shape.outline)))])
    length = float(points[:, 0].max())
    ball = find_ball(points, length, 1.0, WOBBLE_MM)
    at, inner, outer = edges(points, length, 1.0)
    heel_in, heel_out = (float(np.interp(HEEL_AT * length, at, e)) for e in (inner, outer))
    tip, second = toe_tips(points, length, ball.y1 - ball.y5)
    toe_x = TOE_EDGE_AT * tip
    values = {
        "length_mm": length,
        "ball_width_mm": ball.width_mm,
        "ball_angle_deg": ball.angle_deg,
        "heel_width_mm": heel_in - heel_out,
        "heel_to_ball_mm": ball.x1,
        "first_toe_angle_deg": first_toe_angle_deg(
            ball, HEEL_AT * length, heel_in, toe_x, float(np.interp(toe_x, at, inner))
        ),
    }
    both_sides = {"length_mm", "ball_width_mm", "heel_width_mm"}
    numbers = {
        name: Number(
            value=value,
            sigma=float(
                np.sqrt(
                    CLEAN[name] ** 2
                    + (name in both_sides) * (2 * off_sigma_mm) ** 2
                    + name.endswith("_mm") * (scale_sigma * value) ** 2
                )
            ),
        )
        for name, value in values.items()
    }
    questions = []
    if side is None and shape.found.agree < 0.75:
        questions.append(f"It looks like a {shape.side} foot, but not clearly. Check the side.")
    if side and side != shape.found.side and shape.found.agree >= 0.75:
        questions.append(f"You said {side}, but the outline is shaped like a {shape.found.side} foot. Check the side.")
    return shape, Reading(
        source=source,
        side=shape.side,
        stance=stance,
        numbers=numbers,
        toe_shape=toe_shape_of(tip, second),
        bunion=values["first_toe_angle_deg"] >= BUNION_DEG,
        questions=questions,
    )
