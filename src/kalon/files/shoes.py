"""A picture of a shoe measured: an insole on paper, a sole or a side over a hung sheet, with what the fitter says."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any, Literal

import cv2
import numpy as np
from numpy.typing import NDArray
from pydantic import Field

from ..core.contract import Contract
from ..core.errors import BadInput
from ..core.paper.counter import Hung, Wall, behind_it, hung, lab_of, round_it, seen_squarely, standing_out
from ..core.paper.polygon import even
from ..core.paper.sheet import (
    PER_MM,
    Paper,
    Sheet,
    blob,
    camera_at,
    find_hung_paper,
    find_paper,
    flattened,
    largest,
    seen_from_above,
    sharp_edge,
    slab_on_paper,
    tilt_deg,
    to_paper,
)
from ..core.shoes.face import MOST_FAINT, face, faint, under_studs
from ..core.shoes.insole import THICK_SIGMA_MM, USUAL_THICK_MM, measure_insole
from ..core.shoes.pictured import Pictured, Way
from ..core.shoes.profile import MARKS, Marks, columns, marks_of, measure_side, silhouette
from ..core.shoes.sole import heel_first, measure_sole
from ..core.shoes.underneath import USUAL_HIGH_MM, Spot, spots
from .reading import jpeg, read_picture

Report = Callable[[float, str], None]
Floats = NDArray[np.float64]
Points = list[tuple[float, float]]
FAR_TILT_DEG = 25.0
"""From further aside than this a shoe's picture is asked for again. House default."""
SAID_SIGMA_MM = 0.4
"""How sure an insole's thickness is once somebody says it. House default."""
PICTURE_BYTES = 25_000_000


class SpotSaid(Contract):
    """One stud's tip where a fitter put it: place on the wall, sides and angle as seen, or sides by calliper."""

    at: tuple[float, float]
    long: float = Field(gt=0, le=80)
    wide: float = Field(gt=0, le=40)
    angle_deg: float = Field(0, ge=-360, le=360)
    blade: bool = False
    height_mm: float | None = Field(None, ge=0, le=40)
    """How tall this one stands, where it is not as tall as the rest."""
    told: bool = True
    calliper: bool = False


class ShoeSaid(Contract):
    """What the fitter says of a picture: the paper, its corners in pixels and what was found on it in mm where it was
    dragged, and what a rule or a calliper tells."""

    paper: Paper = "a4"
    corners: Points | None = Field(None, min_length=4, max_length=4)
    outline: Points | None = Field(None, min_length=12, max_length=4000)
    thick_mm: float | None = Field(None, gt=0, le=25)
    """How thick an insole is."""
    stud_mm: float | None = Field(None, gt=0, le=30)
    """How tall the studs stand."""
    sole_mm: float | None = Field(None, gt=80, le=420)
    """How long the sole is, by rule."""
    upper_heel_mm: float | None = Field(None, gt=25, le=120)
    """How wide the upper is at the heel, by calliper."""
    wide_mm: float | None = Field(None, gt=30, le=180)
    """How wide the sole is at the ball, for a picture from the side."""
    inner: Literal["up", "down"] | None = None
    """Whether the inner side lies up or down in a sole's picture."""
    spots: list[SpotSaid] | None = Field(None, max_length=200)
    marks: dict[str, tuple[float, float]] = Field({}, max_length=len(MARKS))
    """Marks on a side that were dragged, by name."""


@dataclass(frozen=True)
class ShoePicture:
    """One picture measured: the numbers, what a drawing of it needs, and the picture itself to measure again from."""

    said: dict[str, Any]
    reading: Pictured
    shape: dict[str, Any]
    copy: bytes
    view: bytes


def _nothing(_: float, __: str) -> None:
    pass


@dataclass(frozen=True)
class _Open:
    """A picture with its sheet found or said."""

    pixels: NDArray[np.uint8]
    copy: bytes
    corners: Floats
    sheet: Sheet | None
    questions: list[str]

    @property
    def size(self) -> tuple[int, int]:
        return self.pixels.shape[1], self.pixels.shape[0]


NO_PAPER: dict[Way, str] = {
    "insole": "No sheet of paper can be made out. Lay white paper on a darker floor, all four corners in view.",
    "sole": "No sheet of paper can be made out. Hang white paper on the counter's front, all four corners in view.",
    "side": "No sheet of paper can be made out. Hang white paper on the counter's front, all four corners in view.",
}


def _opened(data: bytes, way: Way, said: ShoeSaid, report: Report, again: bool) -> _Open:
    if len(data) > PICTURE_BYTES:
        raise BadInput(
            f"The picture has {len(data) / 1e6:.0f} MB; at most {PICTURE_BYTES / 1e6:.0f} MB are read.",
            code="file-large",
        )
    report(0.1, "reading the picture")
    pixels = read_picture(data)
    copy = data
    if not again:
        # What is measured is what is kept: measured again, nothing moves by itself. Studs are told by their colour.
        copy = jpeg(pixels, 92, whole_colour=True)
        pixels = read_picture(copy)
    report(0.3, "looking for the paper")
    if said.corners is not None:
        corners = np.array(said.corners, dtype=float)
        to_paper(corners, said.paper)
        return _Open(pixels, copy, corners, None, [])
    sheet = find_paper(pixels) if way == "insole" else find_hung_paper(pixels)
    questions = []
    if not sheet.found:
        if not sheet.likely:
            raise BadInput(NO_PAPER[way], code="paper-none")
        questions.append("The paper's four corners were not all found: drag each to its corner.")
    to_paper(sheet.corners, said.paper)
    return _Open(pixels, copy, sheet.corners, sheet, questions)


def _aside(tilt: float, questions: list[str], where: str) -> None:
    if tilt > FAR_TILT_DEG:
        questions.append(f"Taken from {tilt:.0f}° aside: {where} is surer.")


def _done(
    open_: _Open, said: ShoeSaid, reading: Pictured, tilt: float, shape: dict[str, Any], view: bytes, note: str
) -> ShoePicture:
    return ShoePicture(
        said=said.model_dump(exclude_defaults=True, mode="json"),
        reading=reading.model_copy(
            update={"notes": [note, *reading.notes], "questions": open_.questions + reading.questions}
        ),
        shape={
            "paper": said.paper,
            "corners": np.round(open_.corners, 1).tolist(),
            "corners_found": bool(open_.sheet.found) if open_.sheet else True,
            "tilt_deg": round(tilt, 1),
            "size": list(open_.size),
        }
        | shape,
        copy=open_.copy,
        view=view,
    )  # fmt: skip


def _points(points: Floats, step: float) -> list[list[float]]:
    rounded: list[list[float]] = np.round(even(points, step), 2).tolist()
    return rounded


def _insole(open_: _Open, said: ShoeSaid, report: Report) -> ShoePicture:
    flat = flattened(open_.pixels, open_.corners, said.paper)
    camera = camera_at(open_.corners, said.paper, open_.size)
    tilt = tilt_deg(camera, said.paper)
    _aside(tilt, open_.questions, "straighter from above")
    report(0.6, "looking for the insole")
    if said.outline is not None:
        edge = np.array(said.outline, dtype=float)
    else:
        mask = blob(flat)
        if mask is None:
            text = "No insole stands out from the paper. Lay it face down on a white sheet, in even light."
            raise BadInput(text, code="outline-none")
        edge = sharp_edge(flat, largest(mask))
    report(0.8, "measuring")
    thick = USUAL_THICK_MM if said.thick_mm is None else said.thick_mm
    outline, reading = measure_insole(
        seen_from_above(slab_on_paper(edge, camera, thick)),
        scale_sigma=0.0004 + 0.00002 * tilt,
        height_mm=float(camera[2]),
        thick_sigma_mm=THICK_SIGMA_MM if said.thick_mm is None else SAID_SIGMA_MM,
    )
    how = "house default" if said.thick_mm is None else "as said"
    note = f"From {camera[2] / 10:.0f} cm above and {tilt:.0f}° aside; the insole taken {thick:g} mm thick ({how})."
    shape = {"on_paper": _points(edge, 5.0), "outline": _points(outline, 2.0)}
    return _done(open_, said, reading, tilt, shape, jpeg(flat[::2, ::2], 82), note)


def _over_sheet(open_: _Open, said: ShoeSaid) -> tuple[Hung, Wall, NDArray[np.float32], float]:
    sheet = hung(open_.corners, said.paper, open_.size)
    wall = seen_squarely(open_.pixels, sheet)
    _aside(sheet.aside_deg, open_.questions, "square before it")
    return sheet, wall, lab_of(wall.picture), sheet.aside_deg


STANDS = (
    "Nothing of a shoe's size stands out over the sheet. Put it on the counter's edge above the paper, before a plain "
    "wall."
)


def _on_wall(wall: Wall, mask: NDArray[np.uint8]) -> Floats:
    contours, _ = cv2.findContours(mask, cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_NONE)
    edge = max(contours, key=cv2.contourArea)[:, 0].astype(float) + 0.5
    return largest(mask) * np.array([1.0, -1.0]) + np.array([wall.u0, wall.v1]) if len(edge) > 40 else wall.at(edge)


ROUND_MM = 20.0
"""How much of the wall is shown over and beside a shoe."""
STEP_MM = 10.0
"""In steps of this, so that what is shown stays as it is while the shoe is measured again."""


def _window(wall: Wall, edge: Floats) -> tuple[dict[str, Any], bytes]:
    """What is shown of the wall, where it lies, and it as a JPEG of 2 pixels a millimetre."""
    (u0, _), (u1, v1) = edge.min(axis=0) - ROUND_MM, edge.max(axis=0) + ROUND_MM
    step = round(STEP_MM * PER_MM)
    top, left = (max(round(mm * PER_MM), 0) // step * step for mm in (wall.v1 - v1, u0 - wall.u0))
    shown = wall.picture[top:, left : math.ceil((u1 - wall.u0) / STEP_MM) * step]
    h, w = shown.shape[:2]
    place = [wall.u0 + left / PER_MM, wall.v1 - top / PER_MM, w / PER_MM, h / PER_MM]
    return {"wall": [round(x, 2) for x in place]}, jpeg(shown[::2, ::2], 82)


def _rim_and_studs(
    open_: _Open, said: ShoeSaid, report: Report, sheet: Hung, wall: Wall, lab: NDArray[np.float32]
) -> tuple[Floats, list[Spot], float]:
    """A sole's rim (k, 2) and its studs' tips on the wall, found or as said, and how much of the rim is hardly told."""
    shoe = standing_out(wall, lab, behind_it(lab))
    found: NDArray[np.uint8] | None = None
    if shoe is not None:
        wall, part = round_it(wall, shoe)
        lab = lab[part]
        found = face(lab, shoe[part], wall.pixels(sheet.camera[None, :2])[0])
    if found is None:
        raise BadInput(STANDS, code="outline-none")
    report(0.7, "looking for studs")
    seen = spots(wall, lab, found, sheet.camera, said.stud_mm or USUAL_HIGH_MM)
    if said.spots is None:
        if seen.merged:
            open_.questions.append("Some studs run into each other as seen: photograph it more squarely, or add them.")
        elif seen.parted:
            open_.questions.append("Some studs run into each other as seen and were parted: check where they stand.")
    if said.outline is not None:
        return np.array(said.outline, dtype=float), seen.tips, 0.0
    edge = _on_wall(wall, found)
    hardly = faint(wall, lab, edge)
    if hardly > MOST_FAINT:
        open_.questions.append(
            "The sole's edge can hardly be told from what is behind it: hang something lighter there, or drag the edge."
        )
    return under_studs(wall, edge, seen.where), seen.tips, hardly


def _sole(open_: _Open, said: ShoeSaid, report: Report) -> ShoePicture:
    sheet, wall, lab, tilt = _over_sheet(open_, said)
    report(0.5, "looking for the sole")
    if said.outline is None or said.spots is None:
        edge, tips, hardly = _rim_and_studs(open_, said, report, sheet, wall, lab)
    else:
        edge, tips, hardly = np.array(said.outline, dtype=float), [], 0.0
    own: list[float | None] = [None] * len(tips)
    if said.spots is not None:
        tips = [Spot(s.at, s.long, s.wide, s.angle_deg, s.blade, s.told, s.calliper) for s in said.spots]
        own = [s.height_mm for s in said.spots]
    report(0.85, "measuring")
    outline, reading = measure_sole(
        edge, tips, sheet.camera, stud_mm=said.stud_mm, sole_mm=said.sole_mm, upper_heel_mm=said.upper_heel_mm,
        inner=said.inner, heights=own, faint=hardly,
    )  # fmt: skip
    how = f"the sole {said.sole_mm:g} mm long by rule" if said.sole_mm else "scale from the sheet"
    note = f"From {sheet.camera[2] / 10:.0f} cm before it and {tilt:.0f}° aside; {how}."
    if said.stud_mm is None and None in own:
        reading.questions.append("Say how tall the studs stand: their places and the grip rest on it.")
    window, view = _window(wall, edge)
    shape = window | {
        "on_paper": _points(edge, 5.0),
        "outline": _points(outline, 2.0),
        "spots": [
            {"at": [round(s.at[0], 2), round(s.at[1], 2)], "long": round(s.long, 2), "wide": round(s.wide, 2),
             "angle_deg": round(s.angle_deg, 1), "blade": s.blade, "height_mm": high, "told": s.told,
             "calliper": s.calliper}
            for s, high in zip(tips, own, strict=True)
        ],
        "sides_mm": [
            [x for x in (s.length_mm or s.diameter_mm, s.width_mm) if x is not None] for s in reading.studs
        ],
    }  # fmt: skip
    reading = reading.model_copy(update={"studs": heel_first(reading.studs)})
    return _done(open_, said, reading, tilt, shape, view, note)


def _side(open_: _Open, said: ShoeSaid, report: Report) -> ShoePicture:
    sheet, wall, lab, tilt = _over_sheet(open_, said)
    report(0.5, "looking for the shoe")
    behind = behind_it(lab)
    shoe = standing_out(wall, lab, behind)
    if shoe is None:
        raise BadInput(STANDS, code="outline-none")
    report(0.7, "looking for its seam")
    near, part = round_it(wall, shoe)
    seen = columns(near, lab[part], behind[part], shoe[part])
    marks: Marks = marks_of(seen, sheet.camera, said.wide_mm) | {n: p for n, p in said.marks.items() if n in MARKS}
    report(0.85, "measuring")
    reading = measure_side(marks, sheet.camera, wide_mm=said.wide_mm)
    if "heel_seam" not in marks:
        reading.questions.append("Sole and upper are of one colour: the seam over the sole can't be made out.")
    edge = silhouette(seen)
    ground, forward = marks["heel"], np.sign(marks["toe"][0] - marks["heel"][0])
    grown = reading.numbers["sole_length_mm"].value / abs(marks["toe"][0] - marks["heel"][0])
    own = np.column_stack([(edge[:, 0] - ground[0]) * forward, edge[:, 1] - marks["heel_ground"][1]]) * grown
    _, over, away = sheet.camera / 10
    note = f"From {away:.0f} cm before it, {over:+.0f} cm over the sheet's edge and {tilt:.0f}° aside."
    window, view = _window(wall, edge)
    shape = window | {"on_paper": _points(edge, 2.0), "outline": _points(own, 2.0), "marks": marks}
    return _done(open_, said, reading, tilt, shape, view, note)


WAYS: dict[Way, Callable[[_Open, ShoeSaid, Report], ShoePicture]] = {"insole": _insole, "sole": _sole, "side": _side}


def measure_shoe(
    data: bytes, said: ShoeSaid, report: Report = _nothing, way: Way = "insole", *, again: bool = False
) -> ShoePicture:
    """Measure the picture of an insole, a sole or a side; `again` when `data` is the copy kept of it.

    Raises `BadInput` saying what is wrong and what to do."""
    return WAYS[way](_opened(data, way, said, report, again), said, report)
