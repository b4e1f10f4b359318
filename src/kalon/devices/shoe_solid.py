"""A made-up shoe as a solid: its plan, its side, what stands under it, and what is true of it."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal

import numpy as np
from numpy.typing import NDArray
from scipy.interpolate import PchipInterpolator

from ..core.mechanics.studs import Stud
from .counter import Colour
from .shoe import ShoeDims, a_shoe, outline

Floats = NDArray[np.float64]


Kind = Literal["flat", "studded", "hooked"]
HEEL_AT, FORE_AT, COLLAR_AT = 0.15, 0.68, 0.12
"""Where heel, forefoot and collar are read, shares of the sole's length."""
SOLES: tuple[Colour, ...] = ((44, 46, 50), (150, 98, 58), (232, 230, 226), (38, 60, 104))
UPPERS: tuple[Colour, ...] = ((178, 40, 44), (40, 92, 60), (66, 66, 70), (30, 74, 150), (214, 176, 60))
STUDS: tuple[Colour, ...] = ((224, 222, 216), (30, 30, 32), (230, 190, 40), (186, 190, 196))
LAYOUTS: tuple[tuple[tuple[float, float], ...], ...] = (
    ((0.76, 24), (0.76, -24), (0.57, 34), (0.57, -34), (0.14, 21), (0.14, -21)),
    ((0.78, 28), (0.77, -25), (0.65, 34), (0.64, -34), (0.53, 32), (0.52, -32),
     (0.21, 21), (0.2, -21), (0.08, 18), (0.08, -18)),
    ((0.8, 30), (0.8, 10), (0.79, -10), (0.78, -27), (0.69, 32), (0.69, -32), (0.59, 33), (0.58, -33),
     (0.22, 21), (0.22, -21), (0.07, 18), (0.07, -18)),
)  # fmt: skip
"""Where studs stand: share of the length, and mm to the inner side on a sole of 280 mm."""


@dataclass(frozen=True)
class Solid:
    """What is true of a made-up right shoe, mm and degrees."""

    plan: ShoeDims
    """Of the outsole."""
    kind: Kind
    heel_stack_mm: float
    fore_stack_mm: float
    collar_mm: float
    downturn_deg: float
    heel_round_mm: float
    spring_mm: float
    flare: float
    """Width of the heel's sole over that of the upper there."""
    studs: tuple[Stud, ...]
    sole: Colour
    upper: Colour
    stud: Colour


def a_solid(seed: int, kind: Kind | None = None) -> Solid:
    """A made-up shoe from a seed."""
    rng = np.random.default_rng(seed + 15485863)
    inside = a_shoe(seed)
    kind = kind or ("flat", "studded", "hooked")[int(rng.integers(3))]
    length = min(inside.length_mm + float(rng.uniform(8, 16)), 298.0)
    plan = replace(
        inside,
        length_mm=length,
        ball_width_mm=inside.ball_width_mm + float(rng.uniform(5, 10)),
        heel_width_mm=inside.heel_width_mm + float(rng.uniform(4, 12)),
        last_curve_deg=max(inside.last_curve_deg, 3.0),
    )
    fore = float(rng.uniform(4, 8)) if kind == "hooked" else float(rng.uniform(9, 24))
    sole = SOLES[int(rng.integers(len(SOLES)))]
    contrast = [u for u in UPPERS if _apart(u, sole) > 70]
    studs = [s for s in STUDS if _apart(s, sole) > 80]
    made = Solid(
        plan=plan,
        kind=kind,
        heel_stack_mm=fore + (float(rng.uniform(0, 1.5)) if kind == "hooked" else float(rng.uniform(0, 20))),
        fore_stack_mm=fore,
        collar_mm=float(rng.uniform(45, 70)) if rng.random() < 0.75 else float(rng.uniform(90, 130)),
        downturn_deg=float(rng.uniform(2, 24)) if kind == "hooked" else 0.0,
        heel_round_mm=0.0 if kind != "flat" else float(rng.uniform(0, 14)),
        spring_mm=0.0 if kind == "hooked" else float(rng.uniform(2, 9)),
        flare=float(rng.uniform(1.0, 1.22)),
        studs=(),
        sole=sole,
        upper=contrast[int(rng.integers(len(contrast)))],
        stud=studs[int(rng.integers(len(studs)))],
    )
    return replace(made, studs=_studs(made, rng)) if kind == "studded" else made


def _apart(one: Colour, other: Colour) -> float:
    return float(np.linalg.norm(np.array(one) - np.array(other)))


def _studs(made: Solid, rng: np.random.Generator) -> tuple[Stud, ...]:
    blades = rng.random() < 0.4
    high, wide = float(rng.uniform(6, 15)), float(rng.uniform(8.5, 12))
    long, thin = float(rng.uniform(18, 25)), float(rng.uniform(5.5, 8))
    found = []
    for share, y in LAYOUTS[int(rng.integers(len(LAYOUTS)))]:
        x = share * made.plan.length_mm + float(rng.normal(0, 2))
        low, high_y = sides_at(made.plan, np.array([x]))
        half = (high_y[0] - low[0]) / 2
        place = (low[0] + high_y[0]) / 2 + np.sign(y) * min(abs(y), half - 13) + float(rng.normal(0, 1))
        common = {"x_mm": round(x, 2), "y_mm": round(float(place), 2), "height_mm": round(high, 2)}
        if blades and abs(y) > 15:
            angle = float(rng.uniform(4, 16)) * (-1 if (y > 0) == (share > 0.4) else 1)
            found.append(Stud(shape="blade", length_mm=long, width_mm=thin, angle_deg=round(angle, 1), **common))
        else:
            found.append(Stud(shape="conical", diameter_mm=wide, **common))
    return tuple(found)


def worn(made: Solid, by_mm: float) -> Solid:
    """The same shoe with its studs worn down by so much."""
    studs = tuple(s.model_copy(update={"height_mm": max(s.height_mm - by_mm, 0.5)}) for s in made.studs)
    return replace(made, studs=studs)


def softened(made: Solid, by_deg: float) -> Solid:
    """The same shoe with so much of its downturn gone."""
    return replace(made, downturn_deg=max(made.downturn_deg - by_deg, 0.0))


def sides_at(plan: ShoeDims, x: Floats) -> tuple[Floats, Floats]:
    """The outsole's lower and upper y at places along it, in the frame of its longest axis."""
    edge = outline(plan)
    half = len(edge) // 2
    inner, outer = edge[:half], edge[half:][::-1]
    return np.interp(x, outer[:, 0], outer[:, 1]), np.interp(x, inner[:, 0], inner[:, 1])


# --- from the side


def underside(made: Solid, x: Floats) -> Floats:
    """Height of the sole's underside over the ground at places along it, without what stands under it."""
    length = made.plan.length_mm
    s = x / length
    if made.kind == "hooked":
        line = -np.clip(s - FORE_AT, 0, None) * length * np.tan(np.radians(made.downturn_deg))
        tip = -(1 - FORE_AT) * length * np.tan(np.radians(made.downturn_deg))
        lifted: Floats = line - tip * s
        return lifted
    spring = made.spring_mm * np.clip((s - 0.78) / 0.22, 0, None) ** 2
    r = max(made.heel_round_mm, 1e-6)
    heel = 0.7 * r * (1 - np.sqrt(np.clip(1 - np.clip((r - x) / r, 0, 1) ** 2, 0, 1)))
    high = made.studs[0].height_mm if made.studs else 0.0
    raised: Floats = spring + heel + high
    return raised


def sole_top(made: Solid, x: Floats) -> Floats:
    """Height of the seam between sole and upper over the ground."""
    s = x / made.plan.length_mm
    heel, fore = made.heel_stack_mm, made.fore_stack_mm
    if made.kind == "hooked":
        thick: Floats = PchipInterpolator([0, HEEL_AT, FORE_AT, 1], [heel, heel, fore, fore])(s)
        return underside(made, x) + thick
    high = made.studs[0].height_mm if made.studs else 0.0
    seam = PchipInterpolator(
        [0, HEEL_AT, 0.4, FORE_AT, 0.85, 1], [heel + 2, heel, (heel + fore) / 2, fore, fore, fore + made.spring_mm]
    )(s)
    above: Floats = seam + high
    return above


def top_line(made: Solid, x: Floats) -> Floats:
    """Height of the upper's upper edge over the ground."""
    s = x / made.plan.length_mm
    base = float(sole_top(made, np.array([HEEL_AT * made.plan.length_mm]))[0])
    toe = float(sole_top(made, np.array([made.plan.length_mm]))[0])
    c = made.collar_mm
    line: Floats = PchipInterpolator(
        [0, 0.05, COLLAR_AT, 0.22, 0.34, 0.5, 0.68, 0.85, 0.96, 1],
        [base + 0.55 * c, base + 0.96 * c, base + c, base + 0.93 * c, base + 0.95 * c, base + 0.3 * c + 26,
         base + 0.08 * c + 28, max(toe, base) + 24, max(toe, base * 0.8) + 15, toe + 6],
    )(s)  # fmt: skip
    return line


def true_side(made: Solid) -> dict[str, float]:
    """What a side picture should tell, by the solid's own lines."""
    length = made.plan.length_mm
    heel, fore, collar = np.array([HEEL_AT]), np.array([FORE_AT]), np.array([COLLAR_AT])
    at = {n: float(sole_top(made, s * length)[0]) for n, s in (("heel", heel), ("fore", fore))}
    found = {"length_mm": length, "collar_mm": float(top_line(made, collar * length)[0]) - at["heel"]}
    if made.kind == "hooked":
        low = underside(made, np.array([0.3 * length, 0.6 * length, 0.75 * length, 0.95 * length]))
        rear, fore = (low[1] - low[0]) / (0.3 * length), (low[3] - low[2]) / (0.2 * length)
        return found | {"downturn_deg": float(np.degrees(np.arctan(rear) - np.arctan(fore)))}
    found |= {"heel_stack_mm": at["heel"], "fore_stack_mm": at["fore"], "drop_mm": at["heel"] - at["fore"]}
    return found | {"downturn_deg": 0.0} | ({"stud_mm": made.studs[0].height_mm} if made.studs else {})


def in_own_frame(made: Solid) -> tuple[tuple[Stud, ...], Floats]:
    """The studs and the sole's edge in the frame of the outline's principal axis: heel at 0, y to the inner side. By
    moments of points filling it, not of its edge."""
    edge = outline(made.plan)
    x = np.arange(0.25, made.plan.length_mm, 0.5)
    low, high = sides_at(made.plan, x)
    counts = np.maximum((high - low) / 0.5, 1).astype(int)
    columns = zip(x, low, high, counts, strict=True)
    filled = np.vstack([np.column_stack([np.full(n, at), np.linspace(a, b, n)]) for at, a, b, n in columns])
    values, vectors = np.linalg.eigh(np.cov(filled.T))
    forward = vectors[:, int(np.argmax(values))] * np.sign(vectors[0, int(np.argmax(values))])
    turn = np.array([forward, [-forward[1], forward[0]]])
    middle = filled.mean(axis=0)
    start = np.array([((edge - middle) @ forward).min(), 0.0])
    angle = float(np.degrees(np.arctan2(forward[1], forward[0])))
    placed = []
    for stud in made.studs:
        at = turn @ (np.array([stud.x_mm, stud.y_mm]) - middle) - start
        turned = {"x_mm": float(at[0]), "y_mm": float(at[1]), "angle_deg": stud.angle_deg - angle}
        placed.append(stud.model_copy(update=turned))
    return tuple(placed), (edge - middle) @ turn.T - start
