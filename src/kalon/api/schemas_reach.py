"""People to reach over the wire."""

from __future__ import annotations

from datetime import datetime
from uuid import UUID

from pydantic import Field

from ..core.care.reach import Reach, Whom
from .schemas import MOST_VERSIONS, Wire


class ReachOut(Wire):
    """How somebody is reached, the words they agreed to (empty where they didn't), and the words they would now."""

    reach: Reach
    said: str
    agreed_at: datetime | None
    version: int
    would_say: str


class ReachIn(Wire):
    """How somebody is to be reached, upon the version that was read (0 where nothing was known)."""

    change_id: UUID
    version: int = Field(0, ge=0, le=MOST_VERSIONS)
    reach: Reach
    agrees: bool


class TellOut(Wire):
    """Whom to tell that an order is here, a text ready to send, and when and by whom they were told."""

    whom: Whom
    text: str
    reached_at: datetime | None
    reached_by: str | None
    athlete_id: UUID
