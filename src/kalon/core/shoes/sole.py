"""A sole seen squarely: outline, widths, flare, and the plate of studs as it really is.

The frame is the outline's principal axis through its middle, heel at 0, y to the inner side, which is where the
forefoot
turns.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from ..feet.measures import Number
from ..mechanics.studs import Stud
from ..paper.polygon import across, principal
from .face import MOST_FAINT
from .insole import BALL, HEEL, axis_deg, check_outline, widest
from .pictured import Pictured, check_possible
from .underneath import Spot

Floats = NDArray[np.float64]
FLUSH_SIGMA_MM, LEAN_SIGMA_DEG = 1.5, 1.0
"""How far the sole lies behind the sheet, and how it leans, when held flush. House defaults."""
SAID_LENGTH_SIGMA_MM = 0.6
"""How sure a sole's length is, read with a rule. House default."""
CLEAN_MM, PLACE_MM, ACROSS_MM, UNTOLD_MM, CALLIPER_MM = 0.35, 0.45, 0.3, 1.6, 0.1
"""One standard deviation of an edge, a stud's place, its size, its size where its side has its tip's colour, in a good
picture, and by calliper. House defaults."""
FAINT_MM = 2.0
"""One standard deviation of a rim that can hardly be told from what is behind it. House default."""
USUAL_STUD_MM, STUD_SIGMA_MM, SAID_STUD_SIGMA_MM = 10.0, 3.0, 0.4
"""How tall studs usually are where nobody says, and how sure a height said is. House defaults."""
NUB_MM = 7.0
"""A round stud no wider than this and among many is a nub. House default."""
NUBS = 20


def measure_sole(
    outline: Floats,
    found: list[Spot],
    camera: Floats,
    *,
    stud_mm: float | None = None,
    sole_mm: float | None = None,
    upper_heel_mm: float | None = None,
    inner: str | None = None,
    heights: list[float | None] | None = None,
    faint: float = 0.0,
) -> tuple[Floats, Pictured]:
    """Everything a sole's outline (k, 2) and its studs, in wall millimetres, tell, studs in the order given; and the
    outline in the shoe's frame.

    `camera` (u, v, away) is where it stood, mm. `sole_mm` is the sole's length by rule, which sets the scale;
    `stud_mm` how tall the studs stand, `heights` single ones that stand otherwise; `upper_heel_mm` how wide the upper
    is at the heel; `inner` says whether the inner side is `up` or `down`; `faint` is the share of the rim that is
    hardly told. Raises `BadInput` for what is no sole."""
    check_outline(outline, "sole")
    middle, way = principal(outline)
    along = (outline - middle) @ way
    start, end = middle + along.min() * way, middle + along.max() * way
    places, low, high = across(outline, start, end)
    length = float(np.linalg.norm(end - start))
    back = (1 - BALL[1], 1 - BALL[0])
    if widest(places, high - low, length, BALL) < widest(places, high - low, length, back):
        start, end = end, start
        places, low, high = across(outline, start, end)
    grown = 1.0 if sole_mm is None else sole_mm / length
    forward = (end - start) / length
    aside = np.array([-forward[1], forward[0]])
    curve = axis_deg(places, low, high, length, (0.56, 0.80)) - axis_deg(places, low, high, length, (0.08, 0.30))
    inward = np.sign(curve) or 1.0
    if inner is not None:
        inward = np.sign(aside[1]) if inner == "up" else -np.sign(aside[1])
    turn = np.array([forward, inward * aside]) * grown
    height = float(camera[2])
    relative = float(np.hypot(FLUSH_SIGMA_MM / height, np.radians(LEAN_SIGMA_DEG) * 50 / height))
    if sole_mm is not None:
        relative = SAID_LENGTH_SIGMA_MM / sole_mm
    values = {
        "sole_length_mm": length * grown,
        "sole_ball_mm": widest(places, high - low, length, BALL) * grown,
        "sole_heel_mm": widest(places, high - low, length, HEEL) * grown,
    }
    check_possible(values)
    rim = float(np.hypot(CLEAN_MM, FAINT_MM * min(1.0, faint / MOST_FAINT)))
    numbers = {n: Number(value=v, sigma=float(np.hypot(rim, v * relative))) for n, v in values.items()}
    if upper_heel_mm:
        heel = numbers["sole_heel_mm"]
        spread = heel.value / upper_heel_mm * float(np.hypot(heel.sigma / heel.value, 1.0 / upper_heel_mm))
        numbers["heel_flare"] = Number(value=heel.value / upper_heel_mm, sigma=spread)
    tall = USUAL_STUD_MM if stud_mm is None else stud_mm
    studs, angles = [], float(np.degrees(np.arctan2(forward[1], forward[0])))
    many = len(found) >= NUBS and all(not s.blade for s in found)
    for i, spot in enumerate(found):
        single = heights[i] if heights else None
        own = tall if single is None else single
        # The tip stands nearer the camera: it looks further from the point before it, and larger.
        at = camera[:2] + (np.array(spot.at) - camera[:2]) * (1 - own / height)
        x, y = turn @ (at - start)
        size = 1.0 if spot.calliper else grown * (1 - own / height)
        angle = (spot.angle_deg - angles) * inward
        studs.append(_stud(spot, float(x), float(y), own, size, (angle + 90) % 180 - 90, many))
    if studs:
        said = stud_mm is not None or bool(heights and None not in heights)
        sigma = SAID_STUD_SIGMA_MM if said else STUD_SIGMA_MM
        off = float(np.hypot(*(camera[:2] - outline.mean(axis=0)))) / height * sigma
        numbers["stud_place_mm"] = Number(
            value=0.0,
            sigma=float(
                np.sqrt(PLACE_MM**2 + rim**2 - CLEAN_MM**2 + off**2 + (0.5 * values["sole_length_mm"] * relative) ** 2)
            ),
        )
        worst = max(CALLIPER_MM if s.calliper else ACROSS_MM if s.told else UNTOLD_MM for s in found)
        numbers["stud_across_mm"] = Number(value=0.0, sigma=worst)
    return (outline - start) @ turn.T, Pictured(way="sole", numbers=numbers, studs=studs)


def heel_first(studs: list[Stud]) -> list[Stud]:
    """Studs from the heel to the toe, from the inner side to the outer."""
    return sorted(studs, key=lambda s: (round(s.x_mm / 15), -s.y_mm))


def _stud(spot: Spot, x: float, y: float, high: float, size: float, angle: float, many: bool) -> Stud:
    place = {"x_mm": round(min(max(x, -50), 420), 2), "y_mm": round(min(max(y, -150), 150), 2), "height_mm": high}
    if spot.blade:
        return Stud(shape="blade", length_mm=round(spot.long * size, 2), width_mm=round(spot.wide * size, 2),
                    angle_deg=round(angle, 1), **place)  # fmt: skip
    across_mm = round(spot.wide * size, 2)
    return Stud(shape="nub" if many and across_mm <= NUB_MM else "conical", diameter_mm=across_mm, **place)


def spots_of(studs: list[Stud], outline: Floats, own: Floats) -> list[tuple[float, float]]:
    """Where studs in the shoe's frame stand on the wall, by the same outline in both frames (k, 2)."""
    a = np.column_stack([own, np.ones(len(own))])
    map_, *_ = np.linalg.lstsq(a, outline, rcond=None)
    placed = np.array([[s.x_mm, s.y_mm, 1.0] for s in studs]) @ map_ if studs else np.zeros((0, 2))
    return [(float(u), float(v)) for u, v in placed]
