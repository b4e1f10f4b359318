"""A file measured: its reading, the shapes the drawing needs, and a working copy to measure again from."""

from __future__ import annotations

import io
import zipfile
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ..core.contract import Side
from ..core.errors import BadInput
from ..core.feet.gauge import NAMES, POSSIBLE_MM
from ..core.feet.measures import Number, Reading
from ..core.feet.outline import PEN_OFF_MM, PEN_SIGMA_MM, OutlineShape, measure_outline
from ..core.feet.pressure import HIGH_PEAK_KPA, Print, measure_print
from ..core.feet.said import Said
from ..core.feet.scan import ScanGiven, ScanShape, measure_scan
from ..core.feet.surface import Surface
from ..core.paper.polygon import even
from ..core.paper.sheet import (
    EDGE_HEIGHT_SIGMA_MM,
    Found,
    camera_at,
    find_outline,
    find_paper,
    flattened,
    seen_from_above,
    tilt_deg,
    to_paper,
    without_parallax,
)
from .reading import Kind, jpeg, kind_of, limit_of, read_mat, read_mesh, read_picture
from .records import read_record, readings_of

Report = Callable[[float, str], None]
Points = list[list[float]]
DRAWN_TRIANGLES = 24_000
"""A scan is shown with at most about so many."""
FAR_TILT_DEG = 38.0
"""From further aside than this the outline is less sure. House default."""


@dataclass(frozen=True)
class Measured:
    """One foot out of a file."""

    kind: Kind
    said: dict[str, Any]
    reading: Reading
    shape: dict[str, Any]
    copy: bytes
    view: bytes
    """What a picture or a three-dimensional view shows: a JPEG, or packed triangles."""


def _nothing(_: float, __: str) -> None:
    pass


def _points(values: NDArray[np.float64], digits: int = 1) -> Points:
    rounded: Points = np.round(values, digits).tolist()
    return rounded


def _checked(reading: Reading) -> Reading:
    for name, number in reading.numbers.items():
        if name in POSSIBLE_MM and not POSSIBLE_MM[name][0] <= number.value <= POSSIBLE_MM[name][1]:
            raise BadInput(
                f"The {NAMES[name]} comes out as {number.value:.0f}, which no foot has. Check the unit, the paper's "
                "corners and which way the foot points.",
                code="measure-impossible",
            )
    return reading


# --- scans


def _pack(**arrays: NDArray[Any]) -> bytes:
    """Arrays as NumPy's own archive, packed quickly: most of a scan's time once went into packing it tightly."""
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED, compresslevel=1) as archive:
        for name, array in arrays.items():
            with archive.open(f"{name}.npy", "w", force_zip64=True) as entry:
                np.lib.format.write_array(entry, array, allow_pickle=False)
    return out.getvalue()


def _unpack(data: bytes) -> dict[str, NDArray[Any]]:
    with np.load(io.BytesIO(data)) as found:
        return {name: found[name] for name in found.files}


def _scan(surface: Surface, said: Said, report: Report, copy: bytes | None) -> Measured:
    report(0.35, "measuring the scan")
    given = ScanGiven(
        unit=said.unit,
        side=said.side,
        mirrored=said.mirrored,
        up=(said.up[0], said.up[1], said.up[2]) if said.up else None,
        flip_ends=said.flip_ends,
        pick=said.pick,
        stance=said.stance,
    )
    shape, reading = measure_scan(surface, given)
    report(0.85, "keeping a copy")
    return Measured(
        "scan",
        said.model_dump(exclude_defaults=True),
        _checked(reading),
        _scan_shape(shape),
        copy or _pack(vertices=surface.vertices.astype(np.float32), faces=surface.faces.astype(np.int32)),
        _triangles(shape.surface),
    )


def _scan_shape(shape: ScanShape) -> dict[str, Any]:
    return {
        "unit": shape.unit,
        "feet_in_file": shape.feet_in_file,
        "side_found": shape.found.side,
        "side_agree": round(shape.found.agree, 2),
        "outline": _points(even(shape.outline, 2.5)),
        "profile": _points(shape.profile),
        "loops": {n: {"girth_mm": round(p.girth_mm, 1), "gap_mm": round(p.gap_mm, 1), "points": _points(p.points)}
                  for n, p in shape.loops.items()},
    }  # fmt: skip


def _triangles(surface: Surface) -> bytes:
    """The surface thinned for showing: a count of corners, then corners (float32) and faces (uint32), little-endian."""
    keep = surface.vertices[:, 2] < 0.5 * np.ptp(surface.vertices[:, 0]) + 20
    cell = 1.0
    while True:
        number = np.floor(surface.vertices / cell).astype(np.int64)
        key = (number[:, 0] * 4096 + number[:, 1]) * 4096 + number[:, 2]
        _, first, back = np.unique(key, return_index=True, return_inverse=True)
        faces = back[surface.faces[keep[surface.faces].all(axis=1)]]
        a, b, c = faces.T
        faces = faces[(a != b) & (b != c) & (a != c)]
        if len(faces) <= DRAWN_TRIANGLES or cell > 8:
            break
        cell *= 1.25
    head = np.array([len(first)], dtype="<u4").tobytes()
    packed: bytes = head + surface.vertices[first].astype("<f4").tobytes() + faces.astype("<u4").tobytes()
    return packed


# --- tracings


def _tracing(pixels: NDArray[np.uint8], said: Said, report: Report, copy: bytes | None) -> Measured:
    report(0.3, "looking for the paper")
    sheet = find_paper(pixels) if said.corners is None else None
    corners = np.array(said.corners, dtype=float) if said.corners is not None else sheet.corners  # type: ignore[union-attr]
    to_paper(corners, said.paper)
    flat = flattened(pixels, corners, said.paper)
    report(0.55, "looking for the outline")
    questions: list[str] = []
    if sheet is not None and not sheet.found:
        questions.append("The paper's four corners were not all found: drag each to its corner.")
    camera = camera_at(corners, said.paper, (pixels.shape[1], pixels.shape[0]))
    tilt = tilt_deg(camera, said.paper)
    if tilt > FAR_TILT_DEG:
        questions.append(f"Taken from {tilt:.0f}° aside: straighter from above is surer.")
    reading = Reading(source="tracing", side=said.side or "right", stance=said.stance)
    shape: OutlineShape | None = None
    found: Found | None = None
    try:
        if said.outline is not None:
            found = Found(np.array(said.outline, dtype=float), said.drawn or "line")
        else:
            found = find_outline(flat, said.drawn)
        report(0.75, "measuring the outline")
        shape, reading = _measured_outline(found, said, camera, tilt)
    except BadInput as error:
        if sheet is None or sheet.found:
            raise
        if not sheet.likely:
            raise BadInput(
                "No sheet of paper can be made out. Lay white paper on a darker floor, all four corners in view.",
                code="paper-none",
            ) from None
        questions.append(error.text)
    return Measured(
        "tracing",
        said.model_dump(exclude_defaults=True),
        _checked(reading.model_copy(update={"questions": questions + reading.questions})),
        {
            "paper": said.paper,
            "drawn": found.drawn if found else None,
            "corners": _points(corners),
            "corners_found": bool(sheet.found) if sheet else True,
            "tilt_deg": round(tilt, 1),
            "size": [pixels.shape[1], pixels.shape[0]],
            "on_paper": _points(even(found.outline, 5.0), 2) if found else [],
            "outline": _points(even(shape.outline, 2.0), 2) if shape else [],
            "turn": np.round(shape.turn, 6).tolist() if shape else [],
            "side_found": shape.found.side if shape else None,
        },
        copy or jpeg(pixels, 92),
        jpeg(flat[::2, ::2], 82),
    )


FOOT_SIGMA = {"length_mm": 2.0, "ball_width_mm": 1.3, "ball_angle_deg": 2.2, "heel_to_ball_mm": 2.6,
              "first_toe_angle_deg": 1.9}  # fmt: skip
"""One standard deviation when the foot itself is photographed. House default, from docs/accuracy.md."""


def _measured_outline(
    found: Found, said: Said, camera: NDArray[np.float64], tilt: float
) -> tuple[OutlineShape, Reading]:
    if found.drawn == "line":
        off = PEN_OFF_MM if said.pen_off_mm is None else said.pen_off_mm
        shape, reading = measure_outline(
            seen_from_above(found.outline), side=said.side, off_mm=off, off_sigma_mm=PEN_SIGMA_MM,
            scale_sigma=0.0004 + 0.00002 * tilt, stance=said.stance,
        )  # fmt: skip
        notes = [f"Pen line, taken {off:g} mm off the foot (house default), picture from {tilt:.0f}° aside."]
        return shape, reading.model_copy(update={"notes": notes})
    flat = without_parallax(found.outline, camera)
    shape, reading = measure_outline(seen_from_above(flat), side=said.side, off_mm=0.0, stance=said.stance)
    far = EDGE_HEIGHT_SIGMA_MM / float(camera[2])
    numbers = {
        name: Number(value=n.value, sigma=float(np.hypot(FOOT_SIGMA[name], name.endswith("_mm") * far * n.value * 0.5)))
        for name, n in reading.numbers.items()
        if name in FOOT_SIGMA
    }
    notes = [
        f"The foot itself, from {camera[2] / 10:.0f} cm above and {tilt:.0f}° aside; its edge stands above the paper, "
        "which is allowed for. The leg hides the heel: no heel width."
    ]
    questions = list(reading.questions)
    if tilt > 15 or camera[2] < 450:
        questions.append("A foot is surest photographed from straight above and at least 60 cm away; or draw round it.")
    return shape, reading.model_copy(update={"numbers": numbers, "notes": notes, "questions": questions})


# --- mats


def _mat(
    frames: NDArray[np.float64], cell_mm: float | None, said: Said, report: Report, copy: bytes | None
) -> Measured:
    cell = said.cell_mm or cell_mm
    if cell is None:
        raise BadInput("The file doesn't say how wide a cell is: give it in millimetres.", code="mat-cell")
    report(0.5, "reading the print")
    found, reading = measure_print(frames, cell, side=said.side, pick=said.pick, stance=said.stance)
    questions = list(reading.questions)
    for zone in found.zones:
        if zone.peak_kpa >= HIGH_PEAK_KPA:
            questions.append(
                f"{zone.peak_kpa:.0f} kPa at the {zone.name}: cushion there; if it hurts or callus builds, "
                "a podiatrist. House default."
            )
    return Measured(
        "mat",
        said.model_dump(exclude_defaults=True),
        reading.model_copy(update={"questions": questions}),
        _print_shape(found, cell),
        copy or _pack(frames=frames.astype(np.float32), cell=np.array([cell_mm or 0.0])),
        b"",
    )


def _print_shape(found: Print, cell_mm: float) -> dict[str, Any]:
    step = 4
    rows, columns = (n // step for n in found.pressure.shape)
    coarse = found.pressure[: rows * step, : columns * step].reshape(rows, step, columns, step).max(axis=(1, 3))
    sole = (found.contact[: rows * step, : columns * step]).reshape(rows, step, columns, step).mean(axis=(1, 3)) > 0.4
    path = found.path[np.isfinite(found.path).all(axis=1)]
    return {
        "cell_mm": cell_mm,
        "grid_mm": float(step),
        "origin": [round(found.origin[0], 1), round(found.origin[1], 1)],
        "grid": np.round(coarse * sole).astype(int).tolist(),
        "thirds": [round(t, 1) for t in found.thirds],
        "zones": [z.model_dump() for z in found.zones],
        "path": _points(path),
        "load_n": [round(float(v)) for v in found.load_n],
    }


# --- all


def measure(data: bytes, name: str, said: Said, report: Report = _nothing) -> list[Measured]:
    """Measure a file: one foot, or each foot of a record. Raises `BadInput` saying what is wrong and what to do."""
    report(0.05, "reading the file")
    kind = kind_of(data[:8192], len(data), name)
    if len(data) > limit_of(kind):
        raise BadInput(
            f"The file has {len(data) / 1e6:.0f} MB; at most {limit_of(kind) / 1e6:.0f} MB are read.", code="file-large"
        )
    if kind == "scan":
        return [_scan(read_mesh(data, name), said, report, None)]
    if kind == "tracing":
        return [_tracing(read_picture(data), said, report, None)]
    if kind == "mat":
        mat = read_mat(data)
        return [_mat(mat.frames, mat.cell_mm, said, report, None)]
    found = readings_of(read_record(data))
    return [_record(reading, outline) for reading, outline in found.values()]


def _record(reading: Reading, outline: list[tuple[float, float]]) -> Measured:
    shape = {"outline": [list(p) for p in outline]} if outline else {}
    return Measured("record", {"side": reading.side}, _checked(reading), shape, b"", b"")


def measure_again(kind: Kind, copy: bytes, said: Said, report: Report = _nothing) -> Measured:
    """Measure a kept copy again with what the fitter now says."""
    report(0.1, "reading the copy")
    if kind == "scan":
        arrays = _unpack(copy)
        surface = Surface(arrays["vertices"].astype(np.float64), arrays["faces"].astype(np.int64))
        return _scan(surface, said, report, copy)
    if kind == "tracing":
        return _tracing(read_picture(copy), said, report, copy)
    if kind == "mat":
        arrays = _unpack(copy)
        return _mat(arrays["frames"].astype(np.float64), float(arrays["cell"][0]) or None, said, report, copy)
    raise BadInput("A record has nothing to measure again.", code="file-record")


def sides_in(measured: list[Measured]) -> list[Side]:
    """Which feet came out of a file."""
    return [m.reading.side for m in measured]
