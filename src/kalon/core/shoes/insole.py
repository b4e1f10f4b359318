"""An insole on paper: inner length, widths, ball girth from the width, and how the last curves.

Length is the longest way across the outline; widths are across that line; the curve is the angle between the middles of
the heel and of the forefoot. A girth from a width is as unsure as widths tell girths.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from ..errors import BadInput
from ..feet.measures import Number
from ..feet.usual import OF_BALL_WIDTH
from ..paper.polygon import across, area, longest
from .pictured import Pictured, check_possible

Floats = NDArray[np.float64]
BALL, HEEL = (0.55, 0.85), (0.06, 0.32)
FORE_AXIS, HEEL_AXIS = (0.56, 0.80), (0.08, 0.30)
"""Shares of the length in which widths are widest, and over which the middles are fitted."""
USUAL_THICK_MM, THICK_SIGMA_MM = 4.0, 1.2
"""How thick an insole usually is, where nobody says. House default."""
CLEAN = {"inner_length_mm": 0.34, "ball_width_mm": 0.28, "heel_width_mm": 0.28, "last_curve_deg": 0.5}
"""One standard deviation on a picture from straight above. House default, from docs/accuracy.md."""
WORDS = ((3.5, "straight"), (8.0, "semi-curved"))
GIRTH_LESS = 1.0
"""A shoe's girth over its insole's width, against a foot's over its width: the same. House default."""


def curve_word(degrees: float) -> str:
    """How a last curves, in a word. House default."""
    return next((word for most, word in WORDS if degrees < most), "curved")


def measure_insole(
    outline: Floats, *, scale_sigma: float = 0.0, height_mm: float = 700.0, thick_sigma_mm: float = THICK_SIGMA_MM
) -> tuple[Floats, Pictured]:
    """Everything an insole's outline (k, 2), in paper millimetres brought down to the paper, tells of the shoe; and the
    outline in the shoe's own frame, heel at 0.

    `height_mm` is how high the camera stood: what isn't known of the insole's thickness changes its scale by that much.
    Raises `BadInput` for what is no insole."""
    check_outline(outline, "insole")
    start, end = longest(outline)
    places, low, high = across(outline, start, end)
    length = float(np.linalg.norm(end - start))
    if widest(places, high - low, length, BALL) < widest(places, high - low, length, (1 - BALL[1], 1 - BALL[0])):
        start, end = end, start
        places, low, high = across(outline, start, end)
    values = {
        "inner_length_mm": length,
        "ball_width_mm": widest(places, high - low, length, BALL),
        "heel_width_mm": widest(places, high - low, length, HEEL),
        "last_curve_deg": abs(
            axis_deg(places, low, high, length, FORE_AXIS) - axis_deg(places, low, high, length, HEEL_AXIS)
        ),
    }
    check_possible(values)
    numbers = {
        name: Number(value=value, sigma=_sigma(name, value, scale_sigma, height_mm, thick_sigma_mm))
        for name, value in values.items()
    }
    ratio, spread = OF_BALL_WIDTH["ball_girth_mm"]
    wide = numbers["ball_width_mm"]
    numbers["ball_girth_mm"] = Number(
        value=wide.value * ratio * GIRTH_LESS, sigma=float(np.hypot(wide.value * spread, wide.sigma * ratio))
    )
    forward = (end - start) / length
    turn = np.array([forward, [-forward[1], forward[0]]])
    word = curve_word(values["last_curve_deg"])
    return (outline - start) @ turn.T, Pictured(way="insole", numbers=numbers, words={"last_curve_deg": word})


def _sigma(name: str, value: float, scale_sigma: float, height_mm: float, thick_sigma_mm: float) -> float:
    if not name.endswith("_mm"):
        return CLEAN[name]
    return float(np.sqrt(CLEAN[name] ** 2 + (scale_sigma * value) ** 2 + (value * thick_sigma_mm / height_mm) ** 2))


def widest(places: Floats, width: Floats, length: float, part: tuple[float, float]) -> float:
    """The widest of a part of the length, its ends as shares of it."""
    inside = (places > part[0] * length) & (places < part[1] * length)
    return float(width[inside].max())


def axis_deg(places: Floats, low: Floats, high: Floats, length: float, part: tuple[float, float]) -> float:
    """How the middles of a part of the length run against the whole, degrees."""
    inside = (places > part[0] * length) & (places < part[1] * length)
    slope = np.polyfit(places[inside], (low + high)[inside] / 2, 1)[0]
    return float(np.degrees(np.arctan(slope)))


def check_outline(outline: Floats, what: str) -> None:
    """Raise `BadInput` where an outline (k, 2) in millimetres can't be that of an insole or sole."""
    if len(outline) < 12 or not np.isfinite(outline).all():
        raise BadInput("An outline needs at least twelve points, all of them numbers.", code="outline-short")
    span = float(np.hypot(*np.ptp(outline, axis=0)))
    if not 90 <= span <= 480:
        raise BadInput(
            f"The outline is {span / 10:.0f} cm across: no shoe's {what}. Check the paper's corners and its size.",
            code="outline-size",
        )
    if abs(area(outline)) < 0.12 * span * span:
        raise BadInput(f"The outline is too thin for a shoe's {what}, or crosses itself.", code="outline-shape")
