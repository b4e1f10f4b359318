"""The shop's queue: who came in, who is to come, who took whom, and how long each took."""

from __future__ import annotations

from datetime import datetime, timedelta
from typing import Any, Literal
from uuid import UUID

from ..core.care.queue import Done
from ..core.care.unnamed import known_by
from ..core.errors import BadInput, Conflict, NotFound
from . import athletes
from .audit import once
from .database import Cx, Row, Who

PLACE = """
    SELECT q.id, q.athlete_id, q.about, q.sport, q.at, q.minutes, q.came_at, q.taken_by, q.taken_at, q.fitting_id,
           q.left_at, least(q.done_at, s.sold_at) AS done_at, coalesce(a.name, nullif(q.called, '')) AS name,
           p.name AS taken_by_name
    FROM queue_place q LEFT JOIN athlete a ON a.id = q.athlete_id LEFT JOIN staff p ON p.id = q.taken_by
    LEFT JOIN LATERAL (SELECT sold_at FROM sale WHERE fitting_id = q.fitting_id AND undone_at IS NULL
                       ORDER BY sold_at LIMIT 1) s ON true
"""
LONGEST = timedelta(hours=4)
"""Who was taken longer ago and isn't said to be done is no longer counted as being fitted: it was left open."""
SEEN = 200
"""So many of the newest that were done say how long such matters take here."""
MOST_WAITING = 60
MOST_AHEAD = 500
Step = Literal["came", "left", "done", "back"]


def get(cx: Cx, place_id: UUID, *, lock: bool = False) -> Row:
    """One place in the queue. Raises `NotFound`."""
    if lock:
        cx.execute("SELECT 1 FROM queue_place WHERE id = %s FOR NO KEY UPDATE", [place_id])
    row = cx.execute(PLACE + "WHERE q.id = %s", [place_id]).fetchone()
    if not row:
        raise NotFound("There is nobody of that in the queue here.")
    return row


def standing(cx: Cx, since: datetime, until: datetime) -> list[Row]:
    """Who came or is expected from one moment until another and isn't done or gone, those being fitted too, by the
    moment they are in the queue."""
    return cx.execute(
        PLACE + "WHERE q.done_at IS NULL AND q.left_at IS NULL AND coalesce(q.at, q.came_at) >= %s "
        "AND coalesce(q.at, q.came_at) < %s AND s.sold_at IS NULL AND (q.taken_at IS NULL OR q.taken_at > now() - %s) "
        "ORDER BY coalesce(q.at, q.came_at), q.made_at, q.id LIMIT %s",
        [since, until, LONGEST, MOST_WAITING],
    ).fetchall()


def booked(cx: Cx, since: datetime, until: datetime) -> list[Row]:
    """Appointments from one moment until another that nobody called off, by their time."""
    return cx.execute(
        PLACE + "WHERE q.at >= %s AND q.at < %s AND q.done_at IS NULL AND q.left_at IS NULL AND q.taken_at IS NULL "
        "ORDER BY q.at, q.id LIMIT %s",
        [since, until, MOST_AHEAD],
    ).fetchall()


def done(cx: Cx) -> list[Done]:
    """How long the newest matters took here: those of the queue, and fittings that were settled on the day they were
    begun."""
    rows = cx.execute(
        "(SELECT q.about, q.sport, extract(epoch FROM least(q.done_at, s.sold_at) - q.taken_at) / 60 AS minutes "
        "FROM (SELECT * FROM queue_place WHERE shop_id = shop_now() AND taken_at IS NOT NULL AND left_at IS NULL "
        "ORDER BY taken_at DESC LIMIT %(many)s) q LEFT JOIN LATERAL (SELECT sold_at FROM sale "
        "WHERE fitting_id = q.fitting_id AND undone_at IS NULL ORDER BY sold_at LIMIT 1) s ON true "
        "WHERE coalesce(q.done_at, s.sold_at) IS NOT NULL) UNION ALL "
        "(SELECT 'fitting', s.pair ->> 'sport', extract(epoch FROM s.sold_at - f.opened_at) / 60 "
        "FROM (SELECT fitting_id, pair, sold_at FROM sale WHERE shop_id = shop_now() AND undone_at IS NULL "
        "ORDER BY sold_at DESC LIMIT %(many)s) s JOIN fitting f ON f.id = s.fitting_id "
        "WHERE NOT EXISTS (SELECT 1 FROM queue_place q WHERE q.fitting_id = s.fitting_id))",
        {"many": SEEN},
    ).fetchall()
    return [Done(r["about"], r["sport"], float(r["minutes"])) for r in rows]


def add(cx: Cx, who: Who, place_id: UUID, given: dict[str, Any]) -> None:
    """Somebody waits, or has an appointment. The same id again changes nothing. Raises `BadInput`, `NotFound`."""
    once(cx, place_id)
    if cx.execute("SELECT 1 FROM queue_place WHERE id = %s", [place_id]).fetchone():
        return
    if given["athlete_id"]:
        athletes.get(cx, given["athlete_id"])
        same = cx.execute(
            "SELECT 1 FROM queue_place WHERE athlete_id = %s AND about = %s AND done_at IS NULL AND left_at IS NULL "
            "AND taken_at IS NULL AND at IS NOT DISTINCT FROM %s AND coalesce(at, came_at) > now() - %s",
            [given["athlete_id"], given["about"], given["at"], LONGEST],
        ).fetchone()
        if same:
            raise Conflict("They are in the queue for that already.", code="waits-already")
    if not given["athlete_id"] and not given["called"].strip():
        raise BadInput("Say who it is, or how you know them.")
    cx.execute(
        "INSERT INTO queue_place "
        "(id, shop_id, athlete_id, first_of, called, about, sport, at, minutes, came_at, made_by) "
        "VALUES (%s, %s, %s, %s, %s, %s, %s, %s, %s, CASE WHEN %s::timestamptz IS NULL THEN now() END, %s)",
        [place_id, who.shop_id, given["athlete_id"], given["athlete_id"],
         "" if given["athlete_id"] else given["called"].strip(), given["about"], given["sport"], given["at"],
         given["minutes"], given["at"], who.staff_id],
    )  # fmt: skip


def _taken(row: Row) -> Conflict:
    at = row["taken_at"]
    return (
        Conflict(f"{row['taken_by_name']} has taken {row['name'] or 'them'} already.", code="taken") if at else _gone()
    )


def _gone() -> Conflict:
    return Conflict("They are no longer in the queue.", code="gone")


def take(cx: Cx, who: Who, place_id: UUID, fitting_id: UUID, change_id: UUID, now: datetime) -> tuple[Row, UUID]:
    """Take somebody up: nobody else can from then on. Whom there was no record of has one, without a name; whoever was
    taken before by the same person is done. Gives the place as it was and whose record it is.

    Taking again with the same ids changes nothing. Raises `Conflict` when somebody else has, or they are gone."""
    row = get(cx, place_id, lock=True)
    if row["taken_at"] and not (row["taken_by"] == who.staff_id and row["fitting_id"] in (fitting_id, None)):
        raise _taken(row)
    if row["done_at"] or row["left_at"]:
        raise _gone()
    athlete_id = row["athlete_id"]
    if athlete_id is None:
        came = (row["came_at"] or now).astimezone(now.tzinfo)
        values = {"name": known_by(row["name"] or "", came), "born_on": None, "squad": "", "note": ""}
        athlete_id = athletes.add(cx, who, change_id, values, unnamed=True)["id"]
    if row["taken_at"]:
        return row, athlete_id
    cx.execute(
        "UPDATE queue_place SET done_at = now() WHERE taken_by = %s AND done_at IS NULL AND left_at IS NULL",
        [who.staff_id],
    )
    cx.execute(
        "UPDATE queue_place SET athlete_id = %s, first_of = coalesce(first_of, %s), called = '', taken_by = %s, "
        "taken_at = now(), came_at = coalesce(came_at, now()) WHERE id = %s",
        [athlete_id, athlete_id, who.staff_id, place_id],
    )
    return row, athlete_id


def begins(cx: Cx, place_id: UUID, fitting_id: UUID) -> None:
    """The fitting somebody was taken up with."""
    cx.execute("UPDATE queue_place SET fitting_id = %s WHERE id = %s", [fitting_id, place_id])


def last_sold(cx: Cx, athlete_id: UUID) -> UUID | None:
    """The fitting to be seen again: the one whose follow-up is due first, else the newest that was settled."""
    row = cx.execute(
        "SELECT f.id FROM fitting f LEFT JOIN follow_up u ON u.fitting_id = f.id AND u.done_at IS NULL "
        "AND u.withdrawn_at IS NULL WHERE f.athlete_id = %s AND f.state IN ('settled', 'returned') "
        "ORDER BY u.due_on NULLS LAST, f.opened_at DESC LIMIT 1",
        [athlete_id],
    ).fetchone()
    return row["id"] if row else None


STEPS: dict[Step, tuple[str, str]] = {
    "came": ("came_at = coalesce(came_at, now())", "taken_at IS NULL AND left_at IS NULL"),
    "left": ("left_at = coalesce(left_at, now())", "taken_at IS NULL"),
    "done": ("done_at = coalesce(done_at, now())", "taken_at IS NOT NULL AND left_at IS NULL"),
    "back": ("taken_by = NULL, taken_at = NULL, fitting_id = NULL, done_at = NULL, left_at = NULL", "true"),
}
"""What each step sets, and where it can be taken."""


def step(cx: Cx, who: Who, place_id: UUID, wanted: Step) -> None:
    """They came, left, were done with, or are back in the queue. Again is no change. Raises `Conflict`."""
    row = get(cx, place_id, lock=True)
    if wanted == "back" and row["taken_by"] not in (None, who.staff_id) and not row["done_at"]:
        raise _taken(row)
    sets, where = STEPS[wanted]
    if not cx.execute(f"UPDATE queue_place SET {sets} WHERE id = %s AND {where}", [place_id]).rowcount:
        raise _taken(row) if row["taken_at"] else _gone()


def described(cx: Cx) -> int:
    """Forget how those looked who came in before yesterday and of whom there is no record; how many. The connection
    must own the table."""
    return cx.execute(
        "UPDATE queue_place SET called = '' WHERE called <> '' AND coalesce(at, came_at) < now() - interval '2 days'"
    ).rowcount
