"""Pairs that come and go: the ledger of movements. What is on hand is their sum, kept by the database."""

from __future__ import annotations

from typing import Literal
from uuid import UUID

from psycopg.errors import CheckViolation

from ..core.errors import Conflict
from . import reserved
from .audit import once, used_elsewhere
from .database import Cx, Row, Who
from .stock import line, size_of

Kind = Literal[
    "received", "counted", "sold", "undone", "brought_back", "returned", "lent", "transferred", "written_off"
]
"""What a movement was."""


def book(cx: Cx, who: Who, line_id: UUID, kind: Kind, pairs: int, change_id: UUID, why: str = "") -> None:
    """Book one movement. Raises `Conflict` when not so many are there; then nothing is changed."""
    try:
        with cx.transaction():
            cx.execute(
                "INSERT INTO movement (shop_id, stock_line_id, kind, pairs, change_id, why, staff_id) "
                "VALUES (%s, %s, %s, %s, %s, %s, %s)",
                [who.shop_id, line_id, kind, pairs, change_id, why, who.staff_id],
            )
    except CheckViolation:
        there = line(cx, line_id)["on_hand"]
        raise Conflict(f"There are {there} on hand: not so many to move.", code="too-few") from None


def move(cx: Cx, who: Who, line_id: UUID, move_id: UUID, by: int, kind: Kind = "counted", why: str = "") -> Row:
    """So many pairs more or fewer. The same `move_id` again moves nothing.

    Raises `Conflict` when there are not so many to take away, or what is lent or sent back is held for somebody. What
    is counted or written off is as it is."""
    once(cx, move_id)
    size_of(cx, line_id)
    done = cx.execute("SELECT stock_line_id, pairs, kind FROM movement WHERE change_id = %s", [move_id]).fetchone()
    if done:
        if (done["stock_line_id"], done["pairs"], done["kind"]) != (line_id, by, kind):
            raise used_elsewhere()
    elif by:
        if by < 0 and kind in ("lent", "returned"):
            reserved.refuse(cx, reserved.in_the_way(cx, line_id, trays=True, pairs=-by))
        book(cx, who, line_id, kind, by, move_id, why)
    return line(cx, line_id)


def history(cx: Cx, line_id: UUID, limit: int = 50) -> list[Row]:
    """The last movements of a stock line, newest first."""
    return cx.execute(
        "SELECT m.id, m.kind, m.pairs, m.why, m.at, p.name AS by FROM movement m "
        "LEFT JOIN staff p ON p.id = m.staff_id WHERE m.stock_line_id = %s ORDER BY m.id DESC LIMIT %s",
        [line_id, limit],
    ).fetchall()
