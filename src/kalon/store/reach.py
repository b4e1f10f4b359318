"""How athletes are reached, and that they agreed to it; the words are kept as they were agreed to."""

from __future__ import annotations

from typing import Any
from uuid import UUID

from ..core.care.reach import Reach
from ..core.errors import Conflict, NotFound
from .athletes import get as get_athlete
from .audit import done_before, once, record, used_elsewhere
from .database import Cx, Row, Who

COLUMNS = ", ".join(Reach.model_fields)


def of(cx: Cx, athlete_id: UUID) -> Row | None:
    """How somebody is reached, with the words they agreed to; none where nobody said."""
    return cx.execute(
        f"SELECT {COLUMNS}, said, agreed_at, version FROM athlete_reach WHERE athlete_id = %s", [athlete_id]
    ).fetchone()


def reach_of(row: Row) -> Reach:
    """A row as the core has it."""
    return Reach(**{n: row[n] for n in Reach.model_fields})


def save(cx: Cx, who: Who, athlete_id: UUID, change_id: UUID, version: int, given: Reach, words: str | None) -> None:
    """How somebody is reached from now on; `words` are what they agreed to, none where they didn't.

    The same change again is no change. Raises `Conflict` when somebody else changed it since `version` (0: nothing was
    known). The trail says that it was changed, and no number."""
    once(cx, change_id)
    if done := done_before(cx, change_id, part="reach"):
        if done["athlete_id"] != athlete_id:
            raise used_elsewhere()
        return
    get_athlete(cx, athlete_id)
    known = cx.execute(
        "SELECT said, agreed_at, agreed_by, version FROM athlete_reach WHERE athlete_id = %s FOR NO KEY UPDATE",
        [athlete_id],
    ).fetchone()
    if (known["version"] if known else 0) != version:
        raise Conflict("Somebody changed this meanwhile. Look again before changing it.", code="changed-elsewhere")
    values: dict[str, Any] = given.model_dump()
    if words and known and known["said"]:
        said = {"said": known["said"], "agreed_at": known["agreed_at"], "agreed_by": known["agreed_by"]}
    elif words:
        now = cx.execute("SELECT now() AS at").fetchone()
        said = {"said": words, "agreed_at": now["at"] if now else None, "agreed_by": who.staff_id}
    else:
        said = {"said": "", "agreed_at": None, "agreed_by": None}
    values |= said | {"athlete_id": athlete_id, "shop_id": who.shop_id, "version": version + 1}
    changed = ", ".join(f"{n} = excluded.{n}" for n in values if n not in ("athlete_id", "shop_id"))
    cx.execute(
        f"INSERT INTO athlete_reach ({', '.join(values)}) VALUES ({', '.join(['%s'] * len(values))}) "
        f"ON CONFLICT (athlete_id) DO UPDATE SET {changed}",
        list(values.values()),
    )
    agreed = {"agreed": bool(said["said"])}
    record(cx, who, athlete_id, None, "reach", version + 1, change_id, {}, agreed)


def told(cx: Cx, who: Who, order_id: UUID) -> None:
    """Whoever an order is for was told that it is here. Again is no change. Raises `NotFound`."""
    gone = cx.execute(
        "UPDATE shoe_order SET reached_at = coalesce(reached_at, now()), reached_by = coalesce(reached_by, %s) "
        "WHERE id = %s AND shop_id = %s",
        [who.staff_id, order_id, who.shop_id],
    ).rowcount
    if not gone:
        raise NotFound("There is no such order here.")


def untold(cx: Cx, who: Who, order_id: UUID) -> None:
    """They weren't told after all. Raises `NotFound`."""
    gone = cx.execute(
        "UPDATE shoe_order SET reached_at = NULL, reached_by = NULL WHERE id = %s AND shop_id = %s",
        [order_id, who.shop_id],
    ).rowcount
    if not gone:
        raise NotFound("There is no such order here.")
