"""Bodies of the shoe bench: pictures of shoes, hand tests, and what a shoe is good for."""

from __future__ import annotations

from datetime import datetime
from typing import Any, Literal
from uuid import UUID

from pydantic import Field

from ..core.match.good_for import GoodFor
from ..core.mechanics.studs import Stud
from ..core.rules.bench import Lifter, OnGround
from ..core.shoes.lost import Lost
from ..core.shoes.pictured import Pictured, Way
from ..files.shoes import ShoeSaid
from .schemas import MOST_VERSIONS, Wire


class SpotOut(Wire):
    """One stud's tip: its place on the wall, its sides and angle as seen or by calliper, how tall it alone stands, and
    whether tip and side were told by their colours."""

    at: list[float]
    long: float
    wide: float
    angle_deg: float
    blade: bool
    height_mm: float | None = None
    told: bool = True
    calliper: bool = False


class PictureShape(Wire):
    """What a drawing of a picture needs: corners in pixels of the photograph, the rest in mm of the paper or the wall;
    `wall` is the left end, the top, and how wide and high what is seen squarely is, mm; `sides_mm` each spot's sides as
    measured: a diameter, or length and width."""

    paper: Literal["a4", "letter"]
    corners: list[list[float]]
    corners_found: bool
    tilt_deg: float
    size: list[int]
    on_paper: list[list[float]]
    outline: list[list[float]]
    wall: list[float] = []
    spots: list[SpotOut] = []
    sides_mm: list[list[float]] = []
    marks: dict[str, list[float]] = {}


class PictureOut(Wire):
    """One picture of a shoe."""

    id: UUID
    way: Way
    name: str
    said: dict[str, Any]
    reading: Pictured
    shape: PictureShape
    version: int
    practice: bool
    taken_at: datetime
    taken_by: str
    kept: bool


class PictureChange(Wire):
    """What the fitter now says of a picture, as read at `version`."""

    version: int = Field(ge=1, le=MOST_VERSIONS)
    said: ShoeSaid


class PictureKeep(Wire):
    """Keep what a picture told at `version` for the catalogue."""

    version: int = Field(ge=1, le=MOST_VERSIONS)


class PracticeShoe(Wire):
    """A practice camera's picture of a made-up shoe."""

    id: UUID
    way: Way
    seed: int = Field(ge=0, le=1_000_000)


class FindingSaid(Wire):
    """One thing a hand may find, and what it means."""

    slug: str
    text: str
    means: str


class HandTestOut(Wire):
    """One hand test: how it is done, what it tells of, what may be found, and what was found last."""

    slug: str
    name: str
    how: str
    tells: str
    unit: str
    findings: list[FindingSaid]
    found: str | None
    """The finding's slug, or the number read; none where nobody did it."""
    means: str


class HandFound(Wire):
    """What a hand found: a finding's slug, or a number read."""

    id: UUID
    finding: str | None = Field(None, max_length=40)
    value: float | None = Field(None, ge=0, le=10_000)


class PropertyOut(Wire):
    """One number known of a model, on its scale."""

    slug: str
    name: str
    value: float
    unit: str
    low: float
    high: float


class PlateOut(Wire):
    """The studs of a model as they were found, for a size of this inner length."""

    studs: list[Stud]
    for_mm: float


class ShoeBench(Wire):
    """A model on the bench: what is known, the hand tests, what it is good for, and its pictures here."""

    model_id: UUID
    maker: str
    name: str
    sport: str
    properties: list[PropertyOut]
    plate: PlateOut | None
    tests: list[HandTestOut]
    good_for: list[GoodFor]
    pictures: list[PictureOut]


class LostOut(Wire):
    """What a pair lost between two pictures, laid over each other."""

    way: Way
    then: PictureOut | None
    now: PictureOut | None
    lost: list[Lost]
    of_model: bool
    """The first picture is of the model, new, not of this very pair."""


class PairPictures(Wire):
    """Pictures of a pair somebody owns, and what they say it lost."""

    pictures: list[PictureOut]
    lost: list[LostOut]


class OwnMechanics(Wire):
    """The mechanics of one model under this athlete, by what was measured of it."""

    name: str
    on_ground: OnGround | None = None
    lifter: Lifter | None = None
