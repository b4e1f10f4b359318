"""What goes over the wire of an athlete through the years, and of what was changed of their record."""

from __future__ import annotations

from datetime import date
from uuid import UUID

from ..core.care.complaints import Told
from ..core.contract import Side
from ..core.feet.growth import GrowthOut
from ..core.feet.measures import Source
from ..core.fit.trial import Pinch, Severity
from .schemas import ChangeOut, Wire


class Measured(Wire):
    """A number as it was found that day, in the unit its name ends in, half its 95 % interval, and the way of it."""

    value: float
    uncertainty: float
    source: Source


class VisitMeasured(Wire):
    """A day on which the feet were measured."""

    fitting_id: UUID
    on: date
    left: dict[str, Measured]
    right: dict[str, Measured]
    outlines: dict[Side, list[list[float]]]


class SaidOfFeet(Wire):
    """What was said of a foot, on its day; no side: nobody said which; no zone: no place on the foot."""

    fitting_id: UUID
    on: date
    station: Told
    side: Side | None
    zone: Pinch | None
    severity: Severity | None
    text: str


class EventThen(Wire):
    """An event they trained for."""

    fitting_id: UUID
    on: date
    sport: str | None


class YearsOut(Wire):
    """An athlete through the years, everything oldest first."""

    today: date
    visits: list[VisitMeasured]
    growth: dict[Side, GrowthOut]
    said: list[SaidOfFeet]
    events: list[EventThen]


class ChangesOut(Wire):
    """What was changed of an athlete's record, newest first, and what stands in `pairs` is called."""

    changes: list[ChangeOut]
    pairs: dict[str, str]
    before: int | None
    """Where older ones go on; none when that was all."""
