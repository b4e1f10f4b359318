"""Pairs that are spoken for: in a tray, held for a sister shop, kept for a customer; and how many are free.

Who takes a pair asks here, before it is taken, under a lock of its stock line: a fitting that pulls or settles, a
sister shop's hold, what is sent or lent. What was promised (to a sister shop, a customer) holds against a sale; what
lies in another tray is only being tried, and holds against promises.
"""

from __future__ import annotations

from datetime import datetime, timedelta
from uuid import UUID

from ..core.errors import Conflict, NotFound
from ..core.match.held import Holder, held_words
from . import house, shop
from .audit import once, record_shop, used_elsewhere
from .database import Cx, Row, Who
from .ids import new_id

STANDS = "r.ended_at IS NULL AND r.until > now()"
OF_LINE = f"""
    SELECT r.id, r.kind, r.fitting_id, r.order_id, r.athlete_id, r.name, r.until, r.at, h.name AS shop,
           a.name AS athlete, p.name AS by
    FROM reservation r LEFT JOIN sister_shops() h ON h.id = r.for_shop LEFT JOIN fitting f ON f.id = r.fitting_id
    LEFT JOIN athlete a ON a.id = f.athlete_id LEFT JOIN staff p ON p.id = coalesce(r.staff_id, f.opened_by)
    WHERE r.stock_line_id = %s AND {STANDS} ORDER BY r.at, r.id
"""


def of_line(cx: Cx, line_id: UUID) -> list[Row]:
    """Who holds pairs of a stock line now, the first first."""
    return cx.execute(OF_LINE, [line_id]).fetchall()


def _on_hand(cx: Cx, line_id: UUID) -> int:
    row = cx.execute("SELECT on_hand FROM stock_line WHERE id = %s", [line_id]).fetchone()
    if not row:
        raise NotFound("There is no such pair in stock here.")
    return int(row["on_hand"])


def in_the_way(
    cx: Cx, line_id: UUID, *, trays: bool, pairs: int = 1, fitting: Row | None = None, order_id: UUID | None = None
) -> list[Row]:
    """The holders because of whom so many pairs of a line, locked from here on, aren't free; none when they are, or
    there aren't so many at all. A fitting's own tray, what is kept for its athlete and an order's own hold aren't in
    its way."""
    once(cx, line_id)
    mine = (fitting["id"], fitting["athlete_id"]) if fitting else (None, None)
    others = [
        r
        for r in of_line(cx, line_id)
        if (trays or r["kind"] != "tray")
        and not (r["fitting_id"] and r["fitting_id"] == mine[0])
        and not (r["athlete_id"] and r["athlete_id"] == mine[1])
        and not (r["order_id"] and r["order_id"] == order_id)
    ]
    on_hand = _on_hand(cx, line_id)
    return others if pairs <= on_hand < pairs + len(others) else []


def refuse(cx: Cx, holders: list[Row]) -> None:
    """Raise `Conflict` naming the holders, if there are any."""
    if holders:
        zone = shop.zone_of(house.current(cx))
        said = [Holder(r["kind"], named(r), r["until"].astimezone(zone)) for r in holders]
        raise Conflict(held_words(said, datetime.now(zone)), code="held")


def make_room(cx: Cx, who: Who, line_id: UUID, fitting: Row, anyway: str) -> None:
    """Let a fitting take a pair of a line: where all are promised to others, only with a reason in words, and then the
    promises made last are broken and whom they were made to is told. Raises `Conflict`."""
    # Whoever steps on an order locks it before the line: so does whoever may break its hold.
    orders = {r["order_id"] for r in of_line(cx, line_id) if r["order_id"]} if anyway else set()
    cx.execute("SELECT 1 FROM shoe_order WHERE id = ANY(%s) ORDER BY id FOR NO KEY UPDATE", [list(orders)])
    holders = in_the_way(cx, line_id, trays=False, fitting=fitting)
    if not anyway or any(r["order_id"] and r["order_id"] not in orders for r in holders):
        refuse(cx, holders)
    # More may be promised than is there, where less was counted: as many promises are broken as one pair needs.
    broken = len(holders) - _on_hand(cx, line_id) + 1 if holders else 0
    for row in holders[len(holders) - broken :]:
        end(cx, row["id"], anyway)
        if row["order_id"]:
            told = f"Taken after all in {who.shop_name}: {anyway}"
            cx.execute(
                "UPDATE shoe_order SET state = 'asked', told = %s, changed_at = now() WHERE id = %s",
                [told[:300], row["order_id"]],
            )
        held = {"held": row["kind"], "shop": row["shop"]}
        record_shop(cx, who, "stock", line_id, new_id(), held, {"taken": anyway})


def named(row: Row) -> str:
    """Whom a pair is held for."""
    return str(row["shop"] or row["name"] or row["athlete"] or "")


def for_tray(cx: Cx, who: Who, fitting: Row, line_id: UUID, hold_h: float) -> None:
    """What a fitting has in its tray is held for it, until a while after it was last touched."""
    cx.execute(
        "INSERT INTO reservation (id, chain_id, shop_id, stock_line_id, kind, fitting_id, hold_s, until, staff_id) "
        "SELECT %s, l.chain_id, l.shop_id, l.id, 'tray', %s, %s, now() + make_interval(secs => %s), %s "
        "FROM stock_line l WHERE l.id = %s ON CONFLICT DO NOTHING",
        [new_id(), fitting["id"], hold_h * 3600, hold_h * 3600, who.staff_id, line_id],
    )


def for_tray_again(cx: Cx, who: Who, fitting_id: UUID) -> None:
    """A fitting that is open again holds what lies in its tray, as long as before."""
    cx.execute(
        "INSERT INTO reservation (id, chain_id, shop_id, stock_line_id, kind, fitting_id, hold_s, until, staff_id) "
        "SELECT gen_random_uuid(), r.chain_id, r.shop_id, r.stock_line_id, 'tray', r.fitting_id, r.hold_s, "
        "now() + make_interval(secs => r.hold_s), %s FROM tray_pair t JOIN LATERAL (SELECT * FROM reservation "
        "WHERE fitting_id = t.fitting_id AND stock_line_id = t.stock_line_id AND kind = 'tray' "
        "ORDER BY at DESC LIMIT 1) r ON true WHERE t.fitting_id = %s ON CONFLICT DO NOTHING",
        [who.staff_id, fitting_id],
    )


def let_go_of_tray(cx: Cx, fitting_id: UUID) -> None:
    """A settled fitting keeps no pair off the shelf."""
    cx.execute(
        "UPDATE reservation SET ended_at = now() WHERE fitting_id = %s AND kind = 'tray' AND ended_at IS NULL",
        [fitting_id],
    )


def for_sister(cx: Cx, who: Who, line_id: UUID, order_id: UUID, for_shop: UUID, hold: timedelta) -> None:
    """Hold a pair for a sister shop's order. Raises `Conflict` where none is free."""
    refuse(cx, in_the_way(cx, line_id, trays=True, order_id=order_id))
    if _on_hand(cx, line_id) < 1:  # sold while this waited
        raise Conflict("There is none of that size here any more.", code="too-few")
    let_go_of_order(cx, order_id)
    cx.execute(
        "INSERT INTO reservation (id, chain_id, shop_id, stock_line_id, kind, order_id, for_shop, until, staff_id) "
        "SELECT %s, l.chain_id, l.shop_id, l.id, 'sister', %s, %s, now() + %s, %s FROM stock_line l WHERE l.id = %s",
        [new_id(), order_id, for_shop, hold, who.staff_id, line_id],
    )


def let_go_of_order(cx: Cx, order_id: UUID) -> None:
    """What was held for an order before holds nothing."""
    cx.execute("UPDATE reservation SET ended_at = now() WHERE order_id = %s AND ended_at IS NULL", [order_id])


def keep(
    cx: Cx, who: Who, line_id: UUID, reservation_id: UUID, name: str, athlete_id: UUID | None, until: datetime
) -> None:
    """Keep a pair back for a customer. The same id again changes nothing. Raises `Conflict` where none is free."""
    once(cx, reservation_id)
    known = cx.execute("SELECT stock_line_id FROM reservation WHERE id = %s", [reservation_id]).fetchone()
    if known:
        if known["stock_line_id"] != line_id:
            raise used_elsewhere()
        return
    forget(cx)
    refuse(cx, in_the_way(cx, line_id, trays=True))
    if _on_hand(cx, line_id) < 1:
        raise Conflict("That pair is sold out.", code="sold-out")
    cx.execute(
        "INSERT INTO reservation (id, chain_id, shop_id, stock_line_id, kind, name, athlete_id, until, staff_id) "
        "SELECT %s, l.chain_id, l.shop_id, l.id, 'customer', %s, %s, %s, %s FROM stock_line l WHERE l.id = %s",
        [reservation_id, name, athlete_id, until, who.staff_id, line_id],
    )
    record_shop(cx, who, "stock", line_id, reservation_id, {}, {"kept_until": until.isoformat()})


def give_up(cx: Cx, who: Who, line_id: UUID, reservation_id: UUID) -> None:
    """A pair is no longer kept for a customer. Again is no change. Raises `NotFound`."""
    once(cx, reservation_id)
    row = cx.execute(
        "SELECT until, ended_at FROM reservation WHERE id = %s AND stock_line_id = %s AND kind = 'customer'",
        [reservation_id, line_id],
    ).fetchone()
    if not row:
        raise NotFound("No pair of that size is kept under that id.")
    if row["ended_at"] is None:
        end(cx, reservation_id, "")
        record_shop(cx, who, "stock", line_id, new_id(), {"kept_until": row["until"].isoformat()}, {})


def end(cx: Cx, reservation_id: UUID, why: str) -> None:
    """A reservation ends now, for a reason, and forgets whom it was for. Again is no change."""
    cx.execute(
        "UPDATE reservation SET ended_at = now(), ended_why = %s, name = '' WHERE id = %s AND ended_at IS NULL",
        [why[:300], reservation_id],
    )


def forget(cx: Cx) -> None:
    """What was kept for customers until a day that is over ended then; their names go."""
    cx.execute(
        "UPDATE reservation SET ended_at = until, name = '' WHERE shop_id = (SELECT shop_now()) AND kind = 'customer' "
        "AND ended_at IS NULL AND until <= now()"
    )


def kept_by(cx: Cx, line_id: UUID, athlete_id: UUID) -> None:
    """What was kept for an athlete they have now."""
    cx.execute(
        "UPDATE reservation SET ended_at = now(), ended_why = 'sold to them', name = '' WHERE stock_line_id = %s "
        "AND athlete_id = %s AND kind = 'customer' AND ended_at IS NULL",
        [line_id, athlete_id],
    )
