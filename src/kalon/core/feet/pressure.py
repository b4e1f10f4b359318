"""A pressure mat's print: contact, arch index, peak pressure by zone, centre of pressure.

Frames are arrays (t, rows, columns) in kPa with the cell's width in millimetres; the first row lies furthest from
the wearer as a rule, but which way the print points is found. Arch index: Cavanagh & Rodgers 1987.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy import ndimage

from ..contract import Contract, Side
from ..errors import BadInput
from .gauge import Stance
from .measures import Number, Reading
from .plan import SideFound, side_by

Floats = NDArray[np.float64]
Mask = NDArray[np.bool_]

FINE_MM = 1.0
"""Step of the grid the print is outlined on."""
TOUCH_KPA = 4.0
"""Less than this is no contact. House default."""
EDGE_SHARE = (0.12, 0.033)
"""The print's edge runs where pressure falls to this share of what is next to it: a base and so much more for each
mm of cell, as coarse cells blur the edge. House default."""
TOE_LINE = (0.815, 0.735)
"""In front of this line, shares of the print's length at its inner and outer edge, peaks are toes. House default."""
AXIS_DEG = 2.6
"""From the middle of the forefoot to the 2nd toe, seen from the heel. House default."""
HEEL_ZONE = 0.31
SIDES_ZONE = (0.36, 0.70)
"""Across the forefoot from the inner edge: up to here the 1st head, up to there the 2nd and 3rd. House default."""
HIGH_PEAK_KPA = 450.0
"""Barefoot peak from which the place deserves a look. House default."""


class Zone(Contract):
    """Highest pressure and load of one part of the sole."""

    name: str
    peak_kpa: float
    load_n: float


@dataclass(frozen=True)
class Print:
    """A print in the foot's frame: x forward from the back of the heel, y towards the big toe; millimetres."""

    side: Side
    found: SideFound
    pressure: Floats
    """Highest pressure over the frames, kPa, on a grid of `FINE_MM`, rows along x, columns along y."""
    origin: tuple[float, float]
    """x and y of the first row and column."""
    contact: Mask
    toes: Mask
    thirds: tuple[float, float]
    """Where the toeless print is divided, x."""
    zones: list[Zone]
    path: Floats
    """Centre of pressure by frame (t, 2), NaN where nothing was loaded."""
    load_n: Floats
    """Load by frame (t,)."""


def check_frames(frames: Floats, cell_mm: float) -> None:
    """Raise `BadInput` when frames can't be a mat's."""
    if not 1 <= cell_mm <= 20:
        raise BadInput(f"A mat's cell is 1 to 20 mm wide, not {cell_mm:g}.", code="mat-cell")
    if frames.ndim != 3 or min(frames.shape) < 1:
        raise BadInput("There is no frame in the file.", code="mat-empty")
    if not np.isfinite(frames).all():
        raise BadInput("Some cells are not numbers.", code="mat-not-finite")
    if frames.min() < 0:
        raise BadInput("A pressure can't be less than nothing: some cells are negative.", code="mat-negative")
    if frames.max() > 3000:
        raise BadInput(
            f"The highest cell says {frames.max():.0f} kPa, which no foot does. Is the unit kPa?", code="mat-unit"
        )
    if frames.max() < TOUCH_KPA:
        raise BadInput("Nobody stands on the mat: no cell reaches 4 kPa.", code="mat-empty")


def measure_print(
    frames: Floats, cell_mm: float, *, side: Side | None = None, pick: int = 0, stance: Stance = "standing"
) -> tuple[Print, Reading]:
    """The print of one foot and what it tells. Raises `BadInput` with what is wrong and what to do."""
    check_frames(frames, cell_mm)
    peak = frames.max(axis=0)
    clumps = _clumps(peak, cell_mm)
    if not clumps:
        raise BadInput("No whole print is on the mat: stand in the middle of it.", code="mat-no-foot")
    if len(clumps) > 2:
        raise BadInput("There are more than two prints on the mat: one foot at a time.", code="mat-many")
    mask = clumps[min(pick, len(clumps) - 1)]
    turn, fine, origin = _framed(np.where(mask, peak, 0.0), cell_mm)
    found = side_by(_votes(fine, origin, cell_mm))
    which = side or found.side
    turn, fine, origin = _framed(np.where(mask, peak, 0.0), cell_mm, AXIS_DEG if which == "right" else -AXIS_DEG)
    if which == "left":
        fine = fine[:, ::-1]
        origin = (origin[0], -origin[1] - FINE_MM * (fine.shape[1] - 1))
        turn = np.diag([1.0, -1.0]) @ turn
    contact = _contact(fine, cell_mm)
    toes = _toes(fine, contact)
    sole = contact & ~toes
    rows = np.flatnonzero(sole.any(axis=1))
    start, end = int(rows[0]), int(rows[-1]) + 1
    cuts = (start + (end - start) / 3, start + 2 * (end - start) / 3)
    by_row = sole.sum(axis=1).astype(float)
    index = _between(by_row, *cuts) / by_row.sum()
    zones = _zones(fine, contact, toes, cuts, rows)
    centres, load = _paths(np.where(mask, frames, 0.0), cell_mm, turn)
    notes = [f"{len(frames)} frame{'s' if len(frames) > 1 else ''}, cells of {cell_mm:g} mm."]
    if len(clumps) == 2:
        notes.append("Two prints on the mat: this is one of them.")
    questions = []
    if not toes.any():
        questions.append("No toes could be told apart: the arch index counts the whole print. Measure again?")
    if side and side != found.side and found.agree > 0.8:
        questions.append(f"You said {side}, but the print is shaped like a {found.side} foot. Check the side.")
    if (rows[0] == 0 and _touches(mask)) or _touches(mask):
        questions.append("The print runs off the mat: stand in the middle and measure again.")
    print_ = Print(
        which, found, fine, origin, contact, toes, (cuts[0] * FINE_MM + origin[0], cuts[1] * FINE_MM + origin[0]),
        zones, centres, load,
    )  # fmt: skip
    sigma = float(np.hypot(0.0018, 0.0025 * (cell_mm / 5) ** 2))
    return print_, Reading(
        source="mat",
        side=which,
        stance=stance,
        numbers={"arch_index": Number(value=float(index), sigma=sigma)},
        notes=notes,
        questions=questions,
    )


def _touches(mask: Mask) -> bool:
    return bool(mask[0].any() or mask[-1].any() or mask[:, 0].any() or mask[:, -1].any())


def _clumps(peak: Floats, cell_mm: float) -> list[Mask]:
    """Prints on the mat, larger first: loaded cells with what lies near them."""
    loaded = peak >= TOUCH_KPA
    reach = max(1, round(14 / cell_mm))
    near = ndimage.binary_dilation(loaded, np.ones((3, 3), dtype=bool), iterations=reach)
    labels, count = ndimage.label(near, np.ones((3, 3)))
    masks = [(labels == i) & loaded for i in range(1, count + 1)]
    sized = sorted(masks, key=lambda m: -int(m.sum()))
    least = max(2500 / cell_mm**2, 0.3 * int(sized[0].sum())) if sized else 0
    return [m for m in sized if m.sum() >= least]


def _framed(peak: Floats, cell_mm: float, leftward_deg: float = 0.0) -> tuple[Floats, Floats, tuple[float, float]]:
    """Turn a print heel back, toes forward: the map (2, 2) from mat to frame, the fine grid, and its origin.

    `leftward_deg` turns the axis from the middle of the forefoot towards the 2nd toe.
    """
    r, c = np.nonzero(peak >= TOUCH_KPA)
    mm = np.column_stack([-r, c]) * cell_mm  # x up the mat, y to its right
    forward = np.linalg.eigh(np.cov(mm.T))[1][:, 1]
    for _ in range(3):
        right = np.array([-forward[1], forward[0]])
        along, across = mm @ forward, mm @ right
        low, high = along.min(), along.max()
        part = 0.22 * (high - low)
        back, front = along < low + part, (along > high - 1.9 * part) & (along < high - 0.6 * part)
        if np.ptp(across[back]) > np.ptp(across[(along > low + 2.6 * part) & (along < low + 3.7 * part)]):
            forward = -forward
            continue
        heel = mm[back].mean(axis=0)
        toe = mm[front].mean(axis=0)
        forward = (toe - heel) / np.linalg.norm(toe - heel)
    c, s = np.cos(np.radians(leftward_deg)), np.sin(np.radians(leftward_deg))
    forward = np.array([forward[0] * c + forward[1] * s, forward[1] * c - forward[0] * s])
    turn = np.array([forward, [forward[1], -forward[0]]])  # second row: to the left
    flat = mm @ turn.T
    low, high = flat.min(axis=0) - 2 * cell_mm, flat.max(axis=0) + 2 * cell_mm
    xs, ys = np.arange(low[0], high[0], FINE_MM), np.arange(low[1], high[1], FINE_MM)
    grid = np.stack(np.meshgrid(xs, ys, indexing="ij"), -1) @ turn
    fine = ndimage.map_coordinates(peak, [-grid[..., 0] / cell_mm, grid[..., 1] / cell_mm], order=1, cval=0.0)
    loaded = np.flatnonzero((fine > TOUCH_KPA).any(axis=1))
    middle = float(np.median(ys[np.nonzero(fine[loaded[0] : loaded[0] + 45] > TOUCH_KPA)[1]]))
    return turn, fine, (float(xs[0] - xs[loaded[0]]), float(ys[0]) - middle)


def _contact(fine: Floats, cell_mm: float) -> Mask:
    """The print's area: where pressure is more than a share of what is next to it."""
    near = ndimage.maximum_filter(fine, size=round(15 / FINE_MM))
    return (fine > TOUCH_KPA) & (fine > (EDGE_SHARE[0] + EDGE_SHARE[1] * cell_mm) * near)


def _votes(fine: Floats, origin: tuple[float, float], cell_mm: float) -> list[tuple[float, float]]:
    """Signs of which side the big toe is on: the foremost and strongest toe, and the outer band of the midfoot."""
    contact = _contact(fine, cell_mm)
    x = np.arange(fine.shape[0])
    rows = np.flatnonzero(contact.any(axis=1))
    share = (x - rows[0]) / max(rows[-1] - rows[0], 1)
    y = np.asarray(np.arange(fine.shape[1]) * FINE_MM + origin[1], dtype=float)
    fore = contact[(share > 0.6) & (share < 0.78)]
    columns = np.flatnonzero(fore.any(axis=0))
    if not len(columns):
        return [(1.0, 0.0)]
    middle, breadth = float(y[columns].mean()), float(np.ptp(y[columns])) + 1
    toes = (fine * contact)[share > 0.88]
    waist = contact[(share > 0.4) & (share < 0.55)]
    heel = contact[share < 0.25]
    votes = [(3.0, float((toes.sum(axis=0) @ y) / max(toes.sum(), 1e-9) - middle) / breadth)]
    if waist.any():
        votes.append((2.0, float(_mean_of(heel, y) - _mean_of(waist, y)) / breadth * 2))
    return votes


def _mean_of(mask: Mask, y: Floats) -> float:
    count = mask.sum(axis=0)
    return float(count @ y / max(count.sum(), 1))


def _toes(fine: Floats, contact: Mask) -> Mask:
    """Which of the contact belongs to toes: basins of the peaks in front of the toe line (watershed)."""
    rows = np.flatnonzero(contact.any(axis=1))
    columns = np.flatnonzero(contact[int(rows[0] + 0.55 * len(rows)) :].any(axis=0))
    if not len(columns):
        return np.zeros_like(contact)
    steady = ndimage.gaussian_filter(fine, 1.5 / FINE_MM)
    top = (steady == ndimage.maximum_filter(steady, size=round(9 / FINE_MM))) & contact
    labels, count = ndimage.label(top)
    places = np.array(ndimage.center_of_mass(top, labels, range(1, count + 1))).reshape(-1, 2)
    span = rows[-1] - rows[0] + 1
    out = np.clip((columns[-1] - places[:, 1]) / max(np.ptp(columns), 1), 0, 1)  # 0 at the big toe's edge
    line = TOE_LINE[0] + (TOE_LINE[1] - TOE_LINE[0]) * out
    is_toe = (places[:, 0] - rows[0]) / span > line
    hill = (255 - 255 * steady / steady.max()).astype(np.uint8)
    hill[~contact] = 255
    basins = ndimage.watershed_ift(hill, labels.astype(np.int32))
    toe_labels = np.flatnonzero(is_toe) + 1
    found: Mask = np.isin(basins, toe_labels) & contact
    return found


def _between(by_row: Floats, start: float, end: float) -> float:
    """Sum of rows from start to end, cut rows in part."""
    edges = np.arange(len(by_row))
    share = np.clip(np.minimum(edges + 1, end) - np.maximum(edges, start), 0, 1)
    return float(by_row @ share)


def _zones(fine: Floats, contact: Mask, toes: Mask, cuts: tuple[float, float], rows: NDArray[np.int64]) -> list[Zone]:
    x = np.arange(fine.shape[0])[:, None] + np.zeros(fine.shape[1])[None, :]
    fore = contact & ~toes & (x >= cuts[1])
    columns = np.flatnonzero(fore.any(axis=0))
    y = np.arange(fine.shape[1])[None, :] + np.zeros(fine.shape[0])[:, None]
    out = (columns[-1] - y) / max(np.ptp(columns), 1) if len(columns) else y * 0
    heel_to = rows[0] + HEEL_ZONE * len(rows)
    sole = contact & ~toes
    toe_columns = np.flatnonzero(toes.any(axis=0))
    big = toes & (y > toe_columns[-1] - 0.36 * np.ptp(columns)) if len(toe_columns) and len(columns) else toes & False
    parts = {
        "heel": sole & (x < heel_to),
        "midfoot": sole & (x >= heel_to) & ~fore,
        "1st head": fore & (out < SIDES_ZONE[0]),
        "2nd and 3rd heads": fore & (out >= SIDES_ZONE[0]) & (out < SIDES_ZONE[1]),
        "4th and 5th heads": fore & (out >= SIDES_ZONE[1]),
        "big toe": big,
        "small toes": toes & ~big,
    }
    return [
        Zone(
            name=name,
            peak_kpa=float(fine[m].max()) if m.any() else 0.0,
            load_n=float(fine[m].sum() * FINE_MM**2 / 1000),
        )
        for name, m in parts.items()
    ]


def _paths(frames: Floats, cell_mm: float, turn: Floats) -> tuple[Floats, Floats]:
    """Centre of pressure (t, 2) in the frame's directions, from the heel of the print, and load (t,) in newtons."""
    load = frames.sum(axis=(1, 2)) * cell_mm**2 / 1000
    r = np.arange(frames.shape[1])
    c = np.arange(frames.shape[2])
    weight = np.maximum(frames.sum(axis=(1, 2)), 1e-9)
    up = -(frames.sum(axis=2) @ r) / weight * cell_mm
    over = (frames.sum(axis=1) @ c) / weight * cell_mm
    peak = frames.max(axis=0)
    rr, cc = np.nonzero(peak >= TOUCH_KPA)
    flat = np.column_stack([-rr, cc]) * cell_mm @ turn.T
    centres = np.column_stack([up, over]) @ turn.T
    heel = flat[:, 0] < flat[:, 0].min() + 45
    centres = centres - np.array([flat[:, 0].min(), float(np.median(flat[heel, 1]))])
    centres[load < 0.05 * load.max()] = np.nan
    return centres, load
