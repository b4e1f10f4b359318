"""A made-up foot of known dimensions, and its surface in three dimensions.

The surface is lofted so that each dimension holds by construction: the ball lies in one oblique section, the
instep and the heel in one upright section each, and their heights and widths are solved for the wanted girth.
Frame: x forward from the back of the heel, y towards the big toe, z up from the floor; millimetres. Seen from
above that is a right foot; a left foot is its mirror image in y.

Proportions are house defaults for practice feet, no more.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field, replace
from typing import Literal

import numpy as np
from numpy.typing import NDArray
from scipy.interpolate import PchipInterpolator
from scipy.optimize import brentq
from scipy.spatial import ConvexHull

from ..core.contract import Side
from ..core.feet.gauge import ToeShape

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
Sex = Literal["woman", "man"]

HEEL_AT, INSTEP_AT, FIRST_HEAD_AT, FRONT_AT, TOE_HEIGHT_AT = 0.16, 0.50, 0.72, 0.81, 0.92
INNER_SHARE = 0.42
"""How much of the ball's breadth lies on the big toe's side of the line from heel to 2nd toe."""
TIPS: dict[ToeShape, tuple[float, ...]] = {
    "first_longest": (1.0, 0.972, 0.94, 0.9, 0.855),
    "second_longest": (0.972, 1.0, 0.95, 0.905, 0.855),
    "square": (1.0, 0.998, 0.985, 0.94, 0.88),
}
INSTEP_INNER = 0.86
"""How far the inner edge at the instep stands out, share of that at the ball."""
TOE_HALF_WIDTHS = (0.128, 0.073, 0.071, 0.068, 0.066)
"""Half-widths of the toes, shares of the ball's breadth."""


@dataclass(frozen=True)
class FootDims:
    """What a made-up foot measures, exactly."""

    side: Side = "right"
    length_mm: float = 265.0
    ball_width_mm: float = 103.0
    ball_girth_mm: float = 249.0
    ball_angle_deg: float = 15.0
    instep_height_mm: float = 66.0
    instep_girth_mm: float = 254.0
    heel_width_mm: float = 66.0
    toe_height_mm: float = 24.0
    first_toe_angle_deg: float = 10.0
    arch_index: float = 0.235
    first_head_share: float = FIRST_HEAD_AT
    inner_share: float = INNER_SHARE
    toe_shape: ToeShape = "first_longest"
    sex: Sex = "man"
    age_years: float = 30.0
    bunion: bool = False

    @property
    def breadth_mm(self) -> float:
        """Ball width seen across the axis."""
        return self.ball_width_mm * float(np.cos(np.radians(self.ball_angle_deg)))

    @property
    def first_head(self) -> tuple[float, float]:
        """Inner edge at the 1st metatarsal head (x, y)."""
        return self.first_head_share * self.length_mm, self.inner_share * self.breadth_mm

    @property
    def fifth_head(self) -> tuple[float, float]:
        """Outer edge at the 5th metatarsal head (x, y)."""
        x, y = self.first_head
        return x - self.ball_width_mm * float(np.sin(np.radians(self.ball_angle_deg))), y - self.breadth_mm

    @property
    def heel_to_ball_mm(self) -> float:
        """From the back of the heel to the 1st metatarsal head, along the axis."""
        return self.first_head[0]

    @property
    def arch_height_index(self) -> float:
        """Dorsum height at half the length over the length from heel to 1st metatarsal head."""
        return self.instep_height_mm / self.heel_to_ball_mm


def sample_dims(rng: np.random.Generator, side: Side = "right") -> FootDims:
    """A made-up foot with sex- and age-typical proportions."""
    age = float(rng.choice([rng.uniform(7, 13), rng.uniform(14, 70)], p=[0.25, 0.75]))
    sex: Sex = "woman" if rng.random() < 0.5 else "man"
    if age < 14:
        length = 152 + 7.6 * age + rng.normal(0, 7)
    else:
        length = rng.normal(242, 10) if sex == "woman" else rng.normal(266, 11)
    length = float(np.clip(length, 190, 308))
    child = age < 14
    width = length * rng.normal(0.378 if child else 0.387 if sex == "woman" else 0.392, 0.012)
    bunion = bool(rng.random() < 0.12 and not child)
    toe_angle = rng.uniform(15.5, 20) if bunion else rng.normal(8, 2.5)
    angle = float(np.clip(rng.normal(15, 1.5), 11, 19))
    height = length * float(np.clip(rng.normal(0.248, 0.012), 0.22, 0.28))
    dims = FootDims(
        side=side,
        length_mm=round(length, 2),
        ball_width_mm=round(width, 2),
        ball_girth_mm=round(width * rng.normal(2.42, 0.035), 2),
        ball_angle_deg=round(angle, 2),
        instep_height_mm=round(height, 2),
        heel_width_mm=round(length * rng.normal(0.25, 0.008), 2),
        toe_height_mm=round(length * rng.normal(0.088, 0.004), 2),
        first_toe_angle_deg=round(float(np.clip(toe_angle, 3, 22)), 2),
        arch_index=round(float(np.clip(rng.normal(0.235, 0.03), 0.14, 0.31)), 4),
        first_head_share=round(float(np.clip(rng.normal(FIRST_HEAD_AT, 0.01), 0.69, 0.75)), 4),
        inner_share=round(float(rng.normal(INNER_SHARE, 0.012)), 4),
        toe_shape=str(rng.choice(["first_longest", "second_longest", "square"], p=[0.6, 0.25, 0.15])),  # type: ignore[arg-type]
        sex=sex,
        age_years=round(age, 1),
        bunion=bunion,
    )
    wide = dims.breadth_mm * rng.normal(0.86, 0.015)
    return replace(dims, instep_girth_mm=round(_girth(_instep(dims, wide), 1.0), 2))


def sample_pair(seed: int) -> tuple[FootDims, FootDims]:
    """Left and right of one made-up person: alike, and a little apart."""
    rng = np.random.default_rng(seed)
    right = sample_dims(rng, "right")
    longer = 1 + rng.normal(0, 0.006)
    left = replace(
        right,
        side="left",
        length_mm=round(right.length_mm * longer, 2),
        ball_width_mm=round(right.ball_width_mm * longer + rng.normal(0, 0.8), 2),
        ball_girth_mm=round(right.ball_girth_mm * longer + rng.normal(0, 1.5), 2),
        instep_girth_mm=round(right.instep_girth_mm * longer + rng.normal(0, 1.5), 2),
        instep_height_mm=round(right.instep_height_mm * longer, 2),
        heel_width_mm=round(right.heel_width_mm + rng.normal(0, 0.5), 2),
        first_toe_angle_deg=round(float(np.clip(right.first_toe_angle_deg + rng.normal(0, 1), 3, 22)), 2),
        arch_index=round(float(np.clip(right.arch_index + rng.normal(0, 0.008), 0.14, 0.31)), 4),
    )
    return left, right


@dataclass(frozen=True)
class Mesh:
    """A triangle surface: vertices (n, 3) in millimetres, faces (m, 3) of vertex numbers."""

    vertices: Floats
    faces: Ints

    def __add__(self, other: Mesh) -> Mesh:
        return Mesh(
            np.vstack([self.vertices, other.vertices]), np.vstack([self.faces, other.faces + len(self.vertices)])
        )


def _section(t: Floats, left: float, right: float, top: float, equator: float, arch: float, ridge: float) -> Floats:
    """A closed section (k, 2) of y and z: flat below, rounded above, `arch` lifted on the big toe's side."""
    middle, half = (right + left) / 2, (right - left) / 2
    eta = np.cos(t)
    upper = np.sin(t) >= 0
    y = middle + half * np.sign(eta) * np.abs(eta) ** 0.9
    rim = np.clip(1 - np.abs(eta) ** 2, 0, 1)
    lift = arch / (1 + np.exp(-(y - middle - 0.1 * half) / (0.16 * half)))
    over = (top - equator) * rim**0.46
    under = (equator - lift) * np.clip(1 - np.abs(eta) ** 5, 0, 1) ** 0.4
    z = np.where(upper, equator + over, equator - under)
    shift = np.where(upper, ridge * half * (over / max(top - equator, 1e-9)) ** 2, 0.0)
    return np.column_stack([y + shift, z])


def _arch(dims: FootDims, c: float) -> float:
    """How high the inner edge of the sole is lifted at `c`."""
    rise = float(np.clip((0.30 - dims.arch_index) / 0.16, 0, 1)) * 13 + 3
    s = (c / dims.length_mm - 0.24) / (0.62 - 0.24)
    return rise * float(np.sin(np.pi * s) ** 2) if 0 < s < 1 else 0.0


def _ridge(share: float) -> float:
    """How far the instep's ridge lies towards the big toe, share of the half-width."""
    return 0.22 * float(np.sin(np.pi * (share - 0.3) / 0.45)) if 0.3 < share < 0.75 else 0.0


def _instep(dims: FootDims, width: float) -> Floats:
    """The section at half the length when it is so wide."""
    z, arch = dims.instep_height_mm, _arch(dims, INSTEP_AT * dims.length_mm)
    equator = min(0.34 * z, 0.085 * dims.length_mm)
    inner = INSTEP_INNER * dims.first_head[1]
    return _section(RING, inner - width, inner, z, equator, arch, _ridge(INSTEP_AT))


RING = np.linspace(0, 2 * np.pi, 721)[:-1]


def _girth(section: Floats, stretch: float) -> float:
    """Tape length round a section whose y runs along an oblique plane: perimeter of its convex hull."""
    return float(ConvexHull(section * np.array([stretch, 1.0])).area)


@dataclass(frozen=True)
class Loft:
    """A foot's surface as functions of the place along it."""

    dims: FootDims
    ball_at: float
    tilt: float
    _left: Callable[[float], float] = field(repr=False)
    _right: Callable[[float], float] = field(repr=False)
    _top: Callable[[float], float] = field(repr=False)

    def tilt_at(self, c: float) -> float:
        """How far the section at `c` slants, mm forward per mm towards the big toe."""
        half = INSTEP_AT * self.dims.length_mm
        s = float(np.clip((c - half) / (self.ball_at - half), 0, 1))
        return self.tilt * s * s * (3 - 2 * s)

    def section(self, c: float, ring: Floats = RING) -> Floats:
        """The section at `c`: points (k, 3)."""
        length = self.dims.length_mm
        heel = HEEL_AT * length
        front = FRONT_AT * length
        left, right, top = self._left(c), self._right(c), self._top(c)
        equator = min(0.34 * top, 0.085 * length)
        shrink = 1.0
        if c < heel:
            shrink = float(np.sqrt(max(1 - (1 - c / heel) ** 2.4, 0)))
        elif c > front - 9:
            shrink = float(np.sqrt(max(1 - ((c - front + 9) / 9) ** 2, 0)))
        flat = _section(ring, left, right, top, equator, _arch(self.dims, c), _ridge(c / length))
        middle = np.array([(left + right) / 2, equator])
        flat = middle + (flat - middle) * shrink
        return np.column_stack([c + self.tilt_at(c) * flat[:, 0], flat])


def _curve(length: float, knots: list[tuple[float, float]]) -> Callable[[float], float]:
    at, value = zip(*knots, strict=True)
    run = PchipInterpolator(np.array(at) * length, value, extrapolate=True)
    return lambda c: float(run(c))


def loft(dims: FootDims) -> Loft:
    """Solve the surface for the wanted girths. Raises `ValueError` when no foot could be so."""
    length = dims.length_mm
    x1, y1 = dims.first_head
    tilt = float(np.tan(np.radians(dims.ball_angle_deg)))
    ball_at = x1 - tilt * y1
    stretch = float(np.hypot(1, tilt))
    left = dims.fifth_head[1]

    def ball(top: float) -> float:
        arch, ridge = _arch(dims, ball_at), _ridge(ball_at / length)
        flat = _section(RING, left, y1, top, min(0.34 * top, 0.085 * length), arch, ridge)
        return _girth(flat, stretch) - dims.ball_girth_mm

    top_ball = brentq(ball, 0.06 * length, 0.30 * length)

    wide = brentq(lambda w: _girth(_instep(dims, w), 1.0) - dims.instep_girth_mm, 0.15 * length, 0.6 * length)
    half_heel = dims.heel_width_mm / 2
    b = ball_at / length
    lefts = [(0.0, -half_heel), (HEEL_AT, -half_heel), (0.3, -0.97 * half_heel), (INSTEP_AT, INSTEP_INNER * y1 - wide),
             (b, left), (FRONT_AT, 0.93 * left)]  # fmt: skip
    rights = [(0.0, half_heel), (HEEL_AT, half_heel), (0.33, 0.86 * half_heel), (INSTEP_AT, INSTEP_INNER * y1),
              (b, y1), (FRONT_AT, 0.92 * y1)]  # fmt: skip
    ankle = max(0.30 * length, 1.1 * dims.instep_height_mm)
    tops = [(0.0, 0.24 * length), (HEEL_AT, 0.29 * length), (0.36, ankle), (INSTEP_AT, dims.instep_height_mm),
            (b, top_ball), (FRONT_AT, min(0.62 * top_ball, 1.15 * dims.toe_height_mm))]  # fmt: skip
    return Loft(dims, ball_at, tilt, _curve(length, lefts), _curve(length, rights), _curve(length, tops))


@dataclass(frozen=True)
class Toe:
    """One toe: edges and heights along x, all in millimetres."""

    base: float
    tip: float
    half_width: float
    height: float
    middle: Callable[[float], float]

    def swell(self, x: float) -> float:
        """Share of its full thickness at x: tapered at the root, rounded at the tip."""
        round_tip = min(1.05 * self.half_width, 0.4 * (self.tip - self.base))
        root = 0.3 * (self.tip - self.base)
        if x > self.tip - round_tip:
            return float(np.sqrt(max(1 - ((x - self.tip + round_tip) / round_tip) ** 2, 0)))
        if x < self.base + root:
            return float(np.sqrt(max(1 - (1 - (x - self.base) / root) ** 2, 0)))
        return 1.0

    def section(self, x: float, ring: Floats) -> Floats:
        """Points (k, 3) of the upright section at x."""
        s = self.swell(x)
        y = self.middle(x) + self.half_width * s * np.cos(ring)
        z = self.height / 2 * (1 + s * np.sign(np.sin(ring)) * np.abs(np.sin(ring)) ** 0.8)
        return np.column_stack([np.full(len(ring), x), y, z])


def first_toe_edge(dims: FootDims) -> tuple[float, float]:
    """The point on the big toe's inner edge that the toe angle is taken to: at 93 % of the toe's tip."""
    x1, y1 = dims.first_head
    heel = np.array([HEEL_AT * dims.length_mm, dims.heel_width_mm / 2])
    outward = np.arctan2(y1 - heel[1], x1 - heel[0])
    x2 = 0.93 * TIPS[dims.toe_shape][0] * dims.length_mm
    return x2, y1 + (x2 - x1) * float(np.tan(outward - np.radians(dims.first_toe_angle_deg)))


def _steady(y: float) -> Callable[[float], float]:
    return lambda _: y


def toes(dims: FootDims) -> list[Toe]:
    """The five toes; the 2nd lies on the axis."""
    length, breadth = dims.length_mm, dims.breadth_mm
    x1, y1 = dims.first_head
    x2, y2 = first_toe_edge(dims)
    slope = (y2 - y1) / (x2 - x1)
    half = [w * breadth for w in TOE_HALF_WIDTHS]
    tips = [t * length for t in TIPS[dims.toe_shape]]
    edge = half[0] * np.sqrt(1 + slope**2)

    def big(x: float) -> float:
        return float(y2 + (x - x2) * slope - edge)

    found = [Toe(x1 + 1, tips[0], float(edge), dims.toe_height_mm, big)]
    y = half[1]
    for i in range(1, 5):
        y -= half[i] if i == 1 else half[i] + 0.8
        at = y
        base = x1 - 0.27 * (y1 - at) - 0.02 * length
        found.append(Toe(base, tips[i], half[i], (0.80 - 0.03 * i) * dims.toe_height_mm, _steady(at)))
        y -= half[i]
    return found


def _strip(sections: Floats) -> Mesh:
    """Join sections (n, k, 3) into a tube whose ends are as the sections leave them."""
    n, k, _ = sections.shape
    i, j = np.meshgrid(np.arange(n - 1), np.arange(k), indexing="ij")
    a, b = i * k + j, i * k + (j + 1) % k
    c, d = a + k, b + k
    faces = np.stack([np.stack([a, c, b], -1), np.stack([b, c, d], -1)], 2).reshape(-1, 3)
    return Mesh(sections.reshape(-1, 3), faces.astype(np.int64))


def _leg(dims: FootDims, top_mm: float, n: int, k: int) -> Mesh:
    """A leg stump, open above."""
    length = dims.length_mm
    ring = np.linspace(0, 2 * np.pi, k, endpoint=False)
    sections = []
    for z in np.linspace(0.2 * length, top_mm, n):
        s = min((z / length - 0.2) / 0.15, 1.0)
        long, wide = (0.165 - 0.035 * s) * length, (0.112 + 0.012 * np.sin(np.pi * min(s, 1))) * length
        wide = min(wide, 0.47 * dims.heel_width_mm + 0.02 * length * s)
        sections.append(np.column_stack([0.235 * length + long * np.cos(ring), wide * np.sin(ring), np.full(k, z)]))
    return _strip(np.array(sections))


def surface(dims: FootDims, triangles: int = 60_000, leg_mm: float | None = None) -> Mesh:
    """The foot's surface with about that many triangles, with a leg stump up to `leg_mm` above the floor."""
    shape = loft(dims)
    length = dims.length_mm
    scale = np.sqrt(triangles / 60_000)
    n, k = int(140 * scale), int(150 * scale)
    ring = np.linspace(0, 2 * np.pi, k, endpoint=False)
    heel = HEEL_AT * length * (1 - np.cos(np.linspace(0, np.pi / 2, n // 5)))
    front = FRONT_AT * length
    nose = front - 9 + 9 * np.sin(np.linspace(0, np.pi / 2, n // 8))
    where = np.unique(np.concatenate([heel, np.linspace(HEEL_AT * length, front - 9, n - n // 5 - n // 8), nose]))
    mesh = _strip(np.array([shape.section(float(c), ring) for c in where]))
    around = np.linspace(0, 2 * np.pi, max(int(44 * scale), 12), endpoint=False)
    for toe in toes(dims):
        s = np.sin(np.linspace(-np.pi / 2, np.pi / 2, max(int(44 * scale), 12)))
        along = (toe.base + toe.tip) / 2 + (toe.tip - toe.base) / 2 * s
        mesh = mesh + _strip(np.array([toe.section(float(x), around) for x in along]))
    mesh = mesh + _leg(dims, leg_mm or 0.42 * length, max(int(26 * scale), 6), max(int(100 * scale), 16))
    if dims.side == "left":
        return Mesh(mesh.vertices * np.array([1.0, -1.0, 1.0]), mesh.faces[:, ::-1])
    return mesh
