"""A made-up shoe as a solid: its plan, its side, what stands under it, and how a practice camera sees it on a
counter."""

from __future__ import annotations

import io
from dataclasses import asdict, dataclass, replace
from typing import Literal

import numpy as np
from numpy.typing import NDArray
from PIL import Image
from scipy.interpolate import PchipInterpolator

from ..core.mechanics.studs import Stud
from ..core.paper.sheet import Paper
from ..core.shoes.pictured import Way
from .camera import PER_MM, Shot, developed
from .counter import Canvas, Colour, backdrop, before_counter, front_of, hung_page, shadow
from .shoe import ShoeDims, a_shoe, insole_png, outline, true_insole

Floats = NDArray[np.float64]


def _shade(colour: Colour, share: float) -> Colour:
    r, g, b = colour
    return r * share, g * share, b * share


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

    def paint(picture: Floats) -> None:
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
        picture[front] = clear[front]

    picture = developed(view, hung_page(rng, paper, PER_MM), rng, noise, paint, backdrop(view, rng, made.sole))
    return Shot(picture, view.corners, tilt_deg)


def _band(x: Floats, low: Floats, high: Floats) -> tuple[Floats, Floats]:
    return np.concatenate([x, x[::-1]]), np.concatenate([low, high[::-1]])


def _runs(inside: NDArray[np.bool_]) -> list[slice]:
    edges = np.flatnonzero(np.diff(np.concatenate([[0], inside.astype(int), [0]])))
    return [slice(int(a), int(b)) for a, b in zip(edges[::2], edges[1::2], strict=True) if b - a > 2]


# --- the sole


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

    def paint(picture: Floats) -> None:
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
        picture[front] = clear[front]
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


def practice_picture(
    way: Way, seed: int, *, studs_worn_mm: float = 0.0, hook_lost_deg: float = 0.0, kind: Kind | None = None
) -> tuple[bytes, dict[str, object]]:
    """A practice picture of a made-up shoe as a PNG file, and what is true of it; worn by so much if said."""
    if way == "insole":
        dims = a_shoe(seed)
        return insole_png(dims, seed), {**asdict(dims), **true_insole(outline(dims))}
    made = softened(worn(a_solid(seed, kind), studs_worn_mm), hook_lost_deg)
    picture = side_picture if way == "side" else sole_picture
    out = io.BytesIO()
    Image.fromarray(picture(made, seed, width=1600, tilt_deg=3.0).picture).save(out, "PNG", compress_level=1)
    studs, edge = in_own_frame(made)
    true: dict[str, object] = dict(true_side(made))
    if way == "sole":
        true = {"sole_length_mm": float(np.ptp(edge[:, 0])), "studs": [s.model_dump() for s in studs]}
    return out.getvalue(), true
