"""Settling: one pair leaves the stock once, with what it was computed from; and the follow-up after it."""

from __future__ import annotations

from datetime import date
from typing import Any
from uuid import UUID

from psycopg.types.json import Jsonb

from ..core.errors import Conflict, NotFound
from . import fittings, stock
from .athletes import record
from .database import Cx, Row, Who
from .ids import new_id


def standing(cx: Cx, fitting_id: UUID) -> Row | None:
    """The sale that stands, with its pair."""
    return cx.execute(
        "SELECT s.id, s.stock_line_id, s.sold_at, s.price_cents, s.rules_version, s.snapshot, p.name AS sold_by, "
        "l.eu_label, l.width, m.maker, m.name, m.upper, m.build FROM sale s JOIN staff p ON p.id = s.sold_by "
        "JOIN stock_line l ON l.id = s.stock_line_id JOIN shoe_model m ON m.id = l.model_id "
        "WHERE s.fitting_id = %s AND s.undone_at IS NULL",
        [fitting_id],
    ).fetchone()


def settle(
    cx: Cx, who: Who, fitting_id: UUID, line_id: UUID, sale_id: UUID, rules_version: str, snapshot: dict[str, Any]
) -> None:
    """Sell a pair from the tray. The same `sale_id` again changes nothing. Raises `Conflict` when sold out."""
    fitting = fittings.get(cx, fitting_id, lock=True)
    now = standing(cx, fitting_id)
    if now and now["id"] == sale_id:
        return
    if now:
        raise Conflict(
            f"{now['sold_by']} already settled this on {now['maker']} {now['name']} {now['eu_label']:g}.",
            code="already-settled",
        )
    pair = next((r for r in stock.tray(cx, fitting_id) if r["id"] == line_id), None)
    if not pair:
        raise Conflict("Only a pair from the tray can be settled on. Pull it first.", code="not-in-tray")
    taken = cx.execute(
        "UPDATE stock_line SET on_hand = on_hand - 1 WHERE id = %s AND on_hand > 0 RETURNING on_hand", [line_id]
    ).fetchone()
    if not taken:
        raise Conflict(
            "The last pair of that size was sold a moment ago. Choose another from the tray.", code="sold-out"
        )
    cx.execute(
        "INSERT INTO sale (id, shop_id, fitting_id, stock_line_id, sold_by, price_cents, rules_version, snapshot) "
        "VALUES (%s, %s, %s, %s, %s, %s, %s, %s)",
        [sale_id, who.shop_id, fitting_id, line_id, who.staff_id, pair["price_cents"], rules_version, Jsonb(snapshot)],
    )
    cx.execute("UPDATE fitting SET state = 'settled', touched_at = now() WHERE id = %s", [fitting_id])
    record(cx, who, fitting["athlete_id"], fitting_id, "sale", 1, new_id(), {}, {"stock_line_id": str(line_id)})


def undo(cx: Cx, who: Who, fitting_id: UUID) -> None:
    """Take the sale back: the pair returns to stock. Raises `Conflict` after the follow-up."""
    fitting = fittings.get(cx, fitting_id, lock=True)
    now = standing(cx, fitting_id)
    if not now:
        return
    if fitting["state"] == "returned":
        raise Conflict("The athlete has already been back: this sale stays.", code="already-returned")
    cx.execute("UPDATE sale SET undone_at = now() WHERE id = %s", [now["id"]])
    cx.execute("UPDATE stock_line SET on_hand = on_hand + 1 WHERE id = %s", [now["stock_line_id"]])
    cx.execute("UPDATE fitting SET state = 'open', touched_at = now() WHERE id = %s", [fitting_id])
    record(
        cx, who, fitting["athlete_id"], fitting_id, "sale", 2, new_id(),
        {"stock_line_id": str(now["stock_line_id"])}, {"undone": True},
    )  # fmt: skip


def follow_up(cx: Cx, fitting_id: UUID) -> Row | None:
    """The follow-up booked for a fitting."""
    return cx.execute("SELECT id, due_on, done_at FROM follow_up WHERE fitting_id = %s", [fitting_id]).fetchone()


def book(cx: Cx, who: Who, fitting_id: UUID, due_on: date) -> None:
    """Book the follow-up, or move it. Raises `Conflict` before there is a sale."""
    fitting = fittings.get(cx, fitting_id, lock=True)
    if not standing(cx, fitting_id):
        raise Conflict("Settle on a pair first; then the follow-up can be booked.", code="not-settled")
    before = follow_up(cx, fitting_id)
    cx.execute(
        "INSERT INTO follow_up (id, shop_id, fitting_id, due_on) VALUES (%s, %s, %s, %s) "
        "ON CONFLICT (fitting_id) DO UPDATE SET due_on = excluded.due_on",
        [new_id(), who.shop_id, fitting_id, due_on],
    )
    record(
        cx, who, fitting["athlete_id"], fitting_id, "follow_up", 1, new_id(),
        {"due_on": before["due_on"].isoformat() if before else None}, {"due_on": due_on.isoformat()},
    )  # fmt: skip


def finish(cx: Cx, who: Who, fitting_id: UUID) -> None:
    """The athlete has been back. Raises `NotFound` without a booked follow-up."""
    fitting = fittings.get(cx, fitting_id, lock=True)
    if not follow_up(cx, fitting_id):
        raise NotFound("No follow-up is booked for this fitting.")
    cx.execute("UPDATE follow_up SET done_at = coalesce(done_at, now()) WHERE fitting_id = %s", [fitting_id])
    cx.execute("UPDATE fitting SET state = 'returned', touched_at = now() WHERE id = %s", [fitting_id])
    record(cx, who, fitting["athlete_id"], fitting_id, "follow_up", 2, new_id(), {}, {"done": True})
