"""A scanned foot measured: lengths, widths, girths, heights, angles, each with its uncertainty.

The foot stands in its own frame: x along the axis from the back of the heel to the 2nd toe, y towards the big
toe, z up from the floor; millimetres. Places along the foot are shares of its length, the metatarsal heads are
looked for near 72 % (1st) and 62 % (5th; from memory).
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import cv2
import numpy as np
from numpy.typing import NDArray
from scipy import ndimage

from ..contract import Side
from ..errors import BadInput
from .gauge import ToeShape
from .measures import BUNION_DEG, Number, Reading, toe_shape_of
from .plan import HEEL_AT, INSTEP_AT, TOE_EDGE_AT, Ball, SideFound, aligned, find_ball, first_toe_angle_deg, toe_tips
from .surface import Cutter, Loop, Surface, compact, loop, neighbours, refined, roughness_mm, smoothed
from .upright import LONGEST_MM, MM_PER, Unit, extent_of, pieces, side_of, stand, unit_of

Floats = NDArray[np.float64]

TOE_HEIGHT_AT = 0.92
PROFILE_AT = (0.08, 0.30, 0.40, 0.55, 0.60, 0.65, 0.78, 0.85)
"""Further sections for the drawing and the volume."""
FINE_MM = 2.4
"""Coarser surfaces are refined, for the edges are looked for among corners."""
QUIET_MM = 0.06
"""Roughness below this is the shape itself."""
SPREAD: dict[str, tuple[float, float, float]] = {
    "length_mm": (0.20, 0.6, 1.1),
    "ball_width_mm": (0.35, 1.0, 0.0),
    "ball_girth_mm": (0.85, 2.9, 0.0),
    "ball_angle_deg": (0.9, 2.8, 0.0),
    "instep_height_mm": (0.20, 0.6, 0.7),
    "instep_girth_mm": (0.35, 1.0, 1.2),
    "heel_width_mm": (0.20, 0.5, 0.4),
    "toe_height_mm": (0.20, 0.5, 0.7),
    "heel_to_ball_mm": (1.3, 4.4, 0.0),
    "first_toe_angle_deg": (0.4, 0.8, 0.0),
    "arch_height_index": (0.0025, 0.0085, 0.0),
}
"""Of each number: one standard deviation on a clean scan, what each mm of roughness adds to it, and by how much
each mm of roughness lifts the number itself (extremes of a noisy surface stand out). House default, from the
accuracy table in docs/accuracy.md."""
SCALE_SIGMA = 0.002
"""A scanner's own scale error, share of a length. House default."""


@dataclass(frozen=True)
class ScanGiven:
    """What the fitter said or corrected about a scan; None where it is to be found."""

    unit: Unit | None = None
    side: Side | None = None
    mirrored: bool = False
    up: tuple[float, float, float] | None = None
    flip_ends: bool = False
    """The end taken for the heel is the toes."""
    pick: int = 0
    """Which foot, when there are two in the file; the larger first."""
    stance: Literal["standing", "sitting"] = "standing"


@dataclass(frozen=True)
class ScanShape:
    """A scan standing in the foot's frame, with what the drawing needs."""

    surface: Surface
    side: Side
    found: SideFound
    unit: Unit
    feet_in_file: int
    outline: Floats
    """Plan outline (k, 2), closed, without the leg."""
    profile: Floats
    """Side view: x, lowest and highest z (k, 3)."""
    loops: dict[str, Loop]


@dataclass(frozen=True)
class _Stood:
    surface: Surface
    side: Side
    found: SideFound


def open_scan(surface: Surface, given: ScanGiven = ScanGiven()) -> tuple[Surface, Unit, int]:
    """One foot of a scan in millimetres, cleaned of specks; its unit, and how many feet the file holds."""
    points = surface.vertices
    if len(surface.faces) < 300:
        raise BadInput(
            f"Only {len(surface.faces)} triangles: too few for a foot (at least 300).", code="scan-too-coarse"
        )
    if not np.isfinite(points).all():
        raise BadInput("Some corners of the scan are not numbers (NaN or infinite).", code="scan-not-finite")
    unit = given.unit
    some = points[:: max(1, len(points) // 20_000)]
    if unit is None:
        unit = unit_of(extent_of(some))
    factor = MM_PER[unit]
    extent = float(np.ptp(some, axis=0).max()) * factor
    if extent > 4 * LONGEST_MM or extent < 60:
        raise BadInput(
            f"In {unit} the scan is {extent / 10:.0f} cm across: that is no pair of feet. Choose another unit.",
            code="scan-size",
        )
    mm = Surface(points * factor, surface.faces)
    feet = pieces(mm.vertices)
    if len(feet) > 2:
        raise BadInput("There are more than two large pieces in the file: scan the feet only.", code="scan-pieces")
    if not feet:
        raise BadInput("The scan falls into scattered bits: there is no foot in it.", code="scan-pieces")
    mask = feet[min(given.pick, len(feet) - 1)]
    return compact(mm, mask), unit, len(feet)


def _stand(one: Surface, given: ScanGiven) -> _Stood:
    pose = stand(one.vertices, np.array(given.up, dtype=float) if given.up else None)
    points = pose.apply(one.vertices)
    if given.flip_ends:
        points = points * np.array([-1.0, -1.0, 1.0])
        points[:, 0] -= points[points[:, 2] < 60, 0].min()
    if given.mirrored:
        points = points * np.array([1.0, -1.0, 1.0])
    found = side_of(points)
    side = given.side or found.side
    if side == "left":
        points = points * np.array([1.0, -1.0, 1.0])
    return _Stood(Surface(aligned(points), one.faces), side, found)


def _upright_plane(x: float) -> tuple[Floats, Floats]:
    return np.array([x, 0.0, 0.0]), np.array([1.0, 0.0, 0.0])


def ball_plane(ball: Ball) -> tuple[Floats, Floats]:
    """The upright plane through the two metatarsal heads: origin and unit normal."""
    normal = np.array([ball.y1 - ball.y5, ball.x5 - ball.x1, 0.0])
    return np.array([ball.x1, ball.y1, 0.0]), normal / np.linalg.norm(normal)


def _measure(stood: _Stood, unit: Unit, feet: int, rough: float) -> tuple[ScanShape, dict[str, Number], ToeShape]:
    surface = stood.surface
    cutter = Cutter(surface)
    p = surface.vertices
    low = p[p[:, 2] < 70]
    length = float(low[:, 0].max())
    if not 100 <= length <= 400:
        raise BadInput(
            f"The foot comes out {length:.0f} mm long, which no foot is: check the unit ({unit}) and which way is up.",
            code="scan-size",
        )
    noise = max(rough - QUIET_MM, 0.0)
    heads = find_ball(p, length, 0.2 * length, noise)
    values: dict[str, float] = {"length_mm": length}
    gaps: dict[str, float] = {}
    loops: dict[str, Loop] = {}

    def section(name: str, origin: Floats, normal: Floats, below: float = np.inf) -> Floats:
        found = cutter.cut(origin, normal)
        found = found[(found[:, :, 2] < below).all(axis=1)]
        round_it = loop(found, normal)
        if round_it is None:
            raise BadInput(f"The scan has no surface at the {name}: a hole, or not a whole foot.", code="scan-hole")
        loops[name] = round_it
        gaps[name] = round_it.gap_mm
        return found.reshape(-1, 3)

    origin, normal = ball_plane(heads)
    ball = section("ball", origin, normal)
    along = ball @ np.array([-normal[1], normal[0], 0.0])
    values["ball_width_mm"] = float(np.ptp(along))
    values["ball_girth_mm"] = loops["ball"].girth_mm
    values["ball_angle_deg"] = heads.angle_deg
    values["heel_to_ball_mm"] = heads.x1
    instep = section("instep", *_upright_plane(INSTEP_AT * length))
    values["instep_height_mm"] = float(instep[:, 2].max())
    values["instep_girth_mm"] = loops["instep"].girth_mm
    heel_low = section("heel", *_upright_plane(HEEL_AT * length), below=0.16 * length)
    values["heel_width_mm"] = float(np.ptp(heel_low[:, 1]))
    toe = cutter.cut(*_upright_plane(TOE_HEIGHT_AT * length)).reshape(-1, 3)
    if len(toe):
        values["toe_height_mm"] = float(toe[:, 2].max())
    values["arch_height_index"] = values["instep_height_mm"] / heads.x1
    tip_at, second_tip = toe_tips(p, length, heads.y1 - heads.y5)
    edge = cutter.cut(*_upright_plane(TOE_EDGE_AT * tip_at)).reshape(-1, 3)
    if len(edge):
        y2 = float(edge[edge[:, 2] < 50][:, 1].max())
        values["first_toe_angle_deg"] = first_toe_angle_deg(
            heads, HEEL_AT * length, float(heel_low[:, 1].max()), TOE_EDGE_AT * tip_at, y2
        )
    for share in PROFILE_AT:
        found = cutter.cut(*_upright_plane(share * length))
        extra = loop(found[(found[:, :, 2] < 0.5 * length).all(axis=1)], np.array([1.0, 0.0, 0.0]))
        if extra:
            loops[f"{share * 100:.0f} %"] = extra
    shape = ScanShape(surface, stood.side, stood.found, unit, feet, _outline(p, length), _profile(p, length), loops)
    numbers = {
        name: Number(value=v - SPREAD[name][2] * noise, sigma=_sigma(name, v, noise, gaps))
        for name, v in values.items()
    }
    return shape, numbers, toe_shape_of(tip_at, second_tip)


_NEAR_A_LOOP = {"ball_width_mm": "ball", "ball_girth_mm": "ball", "ball_angle_deg": "ball", "heel_to_ball_mm": "ball",
        "instep_girth_mm": "instep", "instep_height_mm": "instep", "arch_height_index": "instep",
        }  # fmt: skip


def _sigma(name: str, value: float, noise: float, gaps: dict[str, float]) -> float:
    clean, gain, _ = SPREAD[name]
    gap = gaps.get(_NEAR_A_LOOP.get(name, ""), 0.0)
    in_mm = name.endswith("_mm")
    return float(np.sqrt(clean**2 + (gain * noise) ** 2 + in_mm * ((gap**2 / 600) ** 2 + (SCALE_SIGMA * value) ** 2)))


def _outline(points: Floats, length: float) -> Floats:
    """Plan outline (k, 2) from the heel round by the big toe, every few millimetres."""
    low = points[points[:, 2] < 0.22 * length]
    cells = np.round(low[:, :2] + np.array([10, 110])).astype(np.int64)
    mask = np.zeros((int(length) + 24, 220), np.uint8)
    ok = (cells >= 0).all(axis=1) & (cells[:, 0] < mask.shape[0]) & (cells[:, 1] < mask.shape[1])
    mask[cells[ok, 0], cells[ok, 1]] = 255
    kernel = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (7, 7))
    closed = cv2.morphologyEx(mask, cv2.MORPH_CLOSE, kernel)
    contours, _ = cv2.findContours(closed, cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_NONE)
    largest = max(contours, key=cv2.contourArea)[:, 0, ::-1].astype(float)
    smooth = ndimage.gaussian_filter1d(largest, 2.0, axis=0, mode="wrap")[::3]
    return np.asarray(smooth - np.array([10, 110]))


def _profile(points: Floats, length: float) -> Floats:
    """Side view (k, 3): x, lowest and highest point, every 4 mm; the leg is cut off at 45 % of the length."""
    low = points[points[:, 2] < 0.45 * length]
    bins = np.clip((low[:, 0] / 4).astype(np.int64), 0, int(length / 4))
    count = int(length / 4) + 1
    top, bottom = np.full(count, -np.inf), np.full(count, np.inf)
    np.maximum.at(top, bins, low[:, 2])
    np.minimum.at(bottom, bins, low[:, 2])
    good = np.isfinite(top)
    return np.column_stack([(np.arange(count) * 4 + 2.0)[good], bottom[good], top[good]])


def measure_scan(surface: Surface, given: ScanGiven = ScanGiven()) -> tuple[ScanShape, Reading]:
    """Everything a scan tells of one foot; equal corners of the surface are one (`merged`).

    Raises `BadInput` with what is wrong and what to do.
    """
    one, unit, feet = open_scan(surface, given)
    graph = neighbours(one)
    rough = roughness_mm(one, graph)
    if rough > QUIET_MM:
        one = smoothed(one, graph, int(np.clip(round(rough * 30), 3, 9)))
    one = refined(one, FINE_MM)
    shape, numbers, toes = _measure(_stand(one, given), unit, feet, rough)
    notes = [f"{len(surface.faces):,} triangles in {shape.unit}, roughness {rough:.2f} mm."]
    questions = []
    if shape.feet_in_file == 2:
        notes.append("Two feet in the file: this is one of them.")
    if given.side is None and shape.found.agree < 0.8:
        questions.append(f"It looks like a {shape.side} foot, but not clearly. Check the side.")
    if given.side and given.side != shape.found.side and shape.found.agree >= 0.8:
        questions.append(
            f"You said {given.side}, but it is shaped like a {shape.found.side} foot: the wrong foot, or a mirrored "
            "file. Check the side, or mirror it."
        )
    for zone in ("ball", "instep"):
        if (gap := shape.loops[zone].gap_mm) > 8:
            questions.append(f"A hole of {gap:.0f} mm at the {zone}: the number there is less sure.")
    angle = numbers.get("first_toe_angle_deg")
    return shape, Reading(
        source="scan",
        side=shape.side,
        stance=given.stance,
        numbers=numbers,
        toe_shape=toes,
        bunion=bool(angle and angle.value >= BUNION_DEG),
        notes=notes,
        questions=questions,
    )
