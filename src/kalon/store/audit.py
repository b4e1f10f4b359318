"""The trace every change leaves, and the guard that one id does one thing however often it is sent."""

from __future__ import annotations

from typing import Any, Literal
from uuid import UUID

from psycopg.types.json import Jsonb

from ..core.errors import Conflict
from .database import Cx, Row, Who


def record(
    cx: Cx,
    who: Who,
    athlete_id: UUID,
    fitting_id: UUID | None,
    part: str,
    version: int,
    change_id: UUID,
    before: dict[str, Any],
    after: dict[str, Any],
) -> None:
    """The row of one change of an athlete's record."""
    cx.execute(
        "INSERT INTO change (shop_id, athlete_id, fitting_id, part, version, change_id, before, after, staff_id) "
        "VALUES (%s, %s, %s, %s, %s, %s, %s, %s, %s)",
        [who.shop_id, athlete_id, fitting_id, part, version, change_id, Jsonb(before), Jsonb(after), who.staff_id],
    )


def record_shop(
    cx: Cx,
    who: Who,
    about: Literal["stock", "person", "house"],
    about_id: UUID | None,
    change_id: UUID,
    before: dict[str, Any],
    after: dict[str, Any],
) -> None:
    """The row of one change of the shop itself: a count, a person, the house."""
    cx.execute(
        "INSERT INTO shop_change (shop_id, about, about_id, change_id, before, after, staff_id) "
        "VALUES (%s, %s, %s, %s, %s, %s, %s)",
        [who.shop_id, about, about_id, change_id, Jsonb(before), Jsonb(after), who.staff_id],
    )


def once(cx: Cx, key: UUID) -> None:
    """Until this transaction ends, whoever else comes with the same id waits, and then sees what became of it."""
    cx.execute("SELECT pg_advisory_xact_lock(hashtextextended(%s, 7))", [str(key)])


def done_before(cx: Cx, change_id: UUID, *, part: str, fitting_id: UUID | None = None) -> Row | None:
    """The change already made under this id; none if it is new. Raises `Conflict` when it was another change."""
    row = cx.execute("SELECT athlete_id, fitting_id, part FROM change WHERE change_id = %s", [change_id]).fetchone()
    if row and (row["part"], row["fitting_id"]) != (part, fitting_id):
        raise used_elsewhere()
    return row


def used_elsewhere() -> Conflict:
    """What is answered when an id comes back with something else."""
    return Conflict("This was sent before under the same id, as something else. Nothing was changed.", code="id-used")


def shop_done(cx: Cx, change_id: UUID, about_id: UUID) -> bool:
    """Whether this change of the shop was made already. Raises `Conflict` when the id was another thing's."""
    row = cx.execute("SELECT about_id FROM shop_change WHERE change_id = %s", [change_id]).fetchone()
    if row and row["about_id"] != about_id:
        raise used_elsewhere()
    return row is not None
