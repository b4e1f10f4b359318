"""What a fitter says or corrects about a capture; everything else is found."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from ..contract import Contract, Side
from ..paper.sheet import Drawn, Paper
from .gauge import Stance
from .upright import Unit

Point = Annotated[list[Annotated[float, Field(ge=-20_000, le=20_000)]], Field(min_length=2, max_length=2)]


class Said(Contract):
    """One body for every kind of capture; a field that doesn't concern the kind is left out."""

    side: Side | None = None
    stance: Stance = "standing"
    pick: int = Field(0, ge=0, le=1)
    """Which foot, when two are in the file; the larger first."""
    unit: Unit | None = None
    mirrored: bool = False
    up: Annotated[list[Annotated[float, Field(ge=-1, le=1)]], Field(min_length=3, max_length=3)] | None = None
    flip_ends: bool = False
    paper: Paper = "a4"
    drawn: Drawn | None = None
    corners: Annotated[list[Point], Field(min_length=4, max_length=4)] | None = None
    """The paper's corners in the picture, pixels."""
    outline: Annotated[list[Point], Field(min_length=12, max_length=2000)] | None = None
    """The outline on the paper, millimetres from its top left corner."""
    pen_off_mm: float | None = Field(None, ge=0, le=8)
    cell_mm: float | None = Field(None, ge=1, le=20)
