"""What goes over the wire of the queue: who waits for what, since when, for how long yet."""

from __future__ import annotations

from datetime import date, datetime, time
from typing import Literal
from uuid import UUID

from pydantic import Field

from ..core.care.queue import About
from ..core.contract import Day
from ..core.rules.words import Sport
from .schemas import FittingOut, Wire


class QueueIn(Wire):
    """Somebody who came in, or an appointment (`on` and `at`, the shop's time); the id makes sending it twice
    harmless."""

    id: UUID
    athlete_id: UUID | None = None
    called: str = Field("", max_length=80)
    """How somebody of whom there is no record is known meanwhile: "blue jacket"."""
    about: About = "fitting"
    sport: Sport | None = None
    on: Day | None = None
    at: time | None = None
    minutes: int | None = Field(None, ge=5, le=480)


class QueueStep(Wire):
    """They came, left or never came, were done with, or are back in the queue."""

    step: Literal["came", "left", "done", "back"]


class TakeIn(Wire):
    """Somebody is taken up; the ids make sending it twice harmless."""

    fitting_id: UUID
    change_id: UUID


class WaitOut(Wire):
    """Minutes until their turn: the middle, and the eight in ten round it."""

    low_min: float
    mid_min: float
    high_min: float
    text: str


class QueuePlace(Wire):
    """Somebody in the queue."""

    id: UUID
    state: Literal["fitted", "waits", "to_come", "late"]
    """Being fitted, here and waiting, expected later, or expected and not here yet."""
    name: str
    athlete_id: UUID | None
    about: About
    says: str
    """For what, in words."""
    sport: str | None
    at: datetime | None
    minutes: int | None
    takes_min: float
    """How long such takes here, the middle."""
    came_at: datetime | None
    taken_by: str | None
    mine: bool
    taken_at: datetime | None
    fitting_id: UUID | None
    wait: WaitOut | None


class QueueOut(Wire):
    """The day's queue in its order, and appointments of later days."""

    now: datetime
    today: date
    at_once: int
    """How many are fitted at once here."""
    places: list[QueuePlace]
    later: list[QueuePlace]


class TakenOut(Wire):
    """Whom was taken up: the fitting that was begun, or where they are to be seen."""

    athlete_id: UUID
    fitting: FittingOut | None
    place: str
