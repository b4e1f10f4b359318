"""A picture of a shoe measured: an insole on a sheet of paper, with what the fitter says of it."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray
from pydantic import Field

from ..core.contract import Contract
from ..core.errors import BadInput
from ..core.paper.polygon import even
from ..core.paper.sheet import (
    Paper,
    blob,
    camera_at,
    find_paper,
    flattened,
    largest,
    seen_from_above,
    sharp_edge,
    slab_on_paper,
    tilt_deg,
    to_paper,
)
from ..core.shoes.insole import THICK_SIGMA_MM, USUAL_THICK_MM, measure_insole
from ..core.shoes.pictured import Pictured
from .reading import jpeg, read_picture

Report = Callable[[float, str], None]
Points = list[tuple[float, float]]
FAR_TILT_DEG = 25.0
"""From further aside than this a shoe's picture is asked for again. House default."""
SAID_SIGMA_MM = 0.4
"""How sure an insole's thickness is once somebody says it. House default."""
PICTURE_BYTES = 25_000_000


class ShoeSaid(Contract):
    """What the fitter says of a picture: the paper, its corners in pixels and the outline on it in mm where they were
    dragged, and how thick the insole is."""

    paper: Paper = "a4"
    corners: Points | None = Field(None, min_length=4, max_length=4)
    outline: Points | None = Field(None, min_length=12, max_length=4000)
    thick_mm: float | None = Field(None, gt=0, le=25)


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


def _edge(flat: NDArray[np.uint8], said: ShoeSaid) -> NDArray[np.float64]:
    if said.outline is not None:
        return np.array(said.outline, dtype=float)
    mask = blob(flat)
    if mask is None:
        raise BadInput(
            "No insole stands out from the paper. Lay it face down on a white sheet, in even light.",
            code="outline-none",
        )
    return sharp_edge(flat, largest(mask))


def measure_shoe(data: bytes, said: ShoeSaid, report: Report = _nothing) -> ShoePicture:
    """Measure the picture of an insole. Raises `BadInput` saying what is wrong and what to do."""
    if len(data) > PICTURE_BYTES:
        raise BadInput(
            f"The picture has {len(data) / 1e6:.0f} MB; at most {PICTURE_BYTES / 1e6:.0f} MB are read.",
            code="file-large",
        )
    report(0.1, "reading the picture")
    pixels = read_picture(data)
    report(0.3, "looking for the paper")
    sheet = find_paper(pixels) if said.corners is None else None
    corners = np.array(said.corners, dtype=float) if said.corners is not None else sheet.corners  # type: ignore[union-attr]
    to_paper(corners, said.paper)
    flat = flattened(pixels, corners, said.paper)
    camera = camera_at(corners, said.paper, (pixels.shape[1], pixels.shape[0]))
    tilt = tilt_deg(camera, said.paper)
    questions: list[str] = []
    if sheet is not None and not sheet.found:
        if not sheet.likely:
            raise BadInput(
                "No sheet of paper can be made out. Lay white paper on a darker floor, all four corners in view.",
                code="paper-none",
            )
        questions.append("The paper's four corners were not all found: drag each to its corner.")
    if tilt > FAR_TILT_DEG:
        questions.append(f"Taken from {tilt:.0f}° aside: straighter from above is surer.")
    report(0.6, "looking for the insole")
    thick = USUAL_THICK_MM if said.thick_mm is None else said.thick_mm
    edge = _edge(flat, said)
    report(0.8, "measuring")
    outline, reading = measure_insole(
        seen_from_above(slab_on_paper(edge, camera, thick)),
        scale_sigma=0.0004 + 0.00002 * tilt,
        height_mm=float(camera[2]),
        thick_sigma_mm=THICK_SIGMA_MM if said.thick_mm is None else SAID_SIGMA_MM,
    )
    how = "house default" if said.thick_mm is None else "as said"
    note = f"From {camera[2] / 10:.0f} cm above and {tilt:.0f}° aside; the insole taken {thick:g} mm thick ({how})."
    return ShoePicture(
        said=said.model_dump(exclude_defaults=True, mode="json"),
        reading=reading.model_copy(update={"notes": [note], "questions": questions}),
        shape={
            "paper": said.paper,
            "corners": np.round(corners, 1).tolist(),
            "corners_found": bool(sheet.found) if sheet else True,
            "tilt_deg": round(tilt, 1),
            "size": [pixels.shape[1], pixels.shape[0]],
            "on_paper": np.round(even(edge, 5.0), 2).tolist(),
            "outline": np.round(even(outline, 2.0), 2).tolist(),
        },
        copy=jpeg(pixels, 92),
        view=jpeg(flat[::2, ::2], 82),
    )
