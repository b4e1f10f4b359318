"""Orders of the shop's own to suppliers: what to buy again, what was ordered, what came of it and what is missing."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import date
from typing import Literal
from uuid import UUID, uuid5

from ..core.errors import BadInput, Conflict, NotFound
from ..core.takings.restock import LOOKED_AT_DAYS, Advice, SizeSold, to_buy
from . import moves, orders
from .audit import once, record_shop, shop_done
from .catalogue import OF_COLOUR, PRICE_HERE, chain_of
from .database import Cx, Row, Who

State = Literal["draft", "sent", "done", "cancelled"]
MOST_LINES = 500
SIZE = (
    "v.id AS variant_id, v.model_id, v.width, v.system, v.label, v.eu_label, v.colour, v.gtin, v.code, m.maker, m.name"
)
ON_THE_WAY = """
    SELECT p.variant_id, sum(greatest(p.pairs - p.received, 0))::int AS n FROM purchase_line p
    JOIN purchase o ON o.id = p.purchase_id WHERE o.state IN ('draft', 'sent') AND NOT p.given_up GROUP BY 1
"""
WANTED = """
    SELECT variant_id, count(*)::int AS n FROM shoe_order
    WHERE shop_id = (SELECT shop_now()) AND from_shop IS NULL AND state = 'wanted' AND variant_id IS NOT NULL GROUP BY 1
"""
SOLD = f"""
    SELECT l.variant_id, sum(j.pairs)::int AS n FROM journal_line j JOIN stock_line l ON l.id = j.stock_line_id
    WHERE j.shop_id = (SELECT shop_now()) AND j.day > shop_today() - {LOOKED_AT_DAYS}
      AND (j.pairs > 0 OR j.kind = 'undone' OR j.became = 'shelf') GROUP BY 1
"""
ADVISED = f"""
    WITH sold AS ({SOLD}), wanted AS ({WANTED}), coming AS ({ON_THE_WAY})
    SELECT {SIZE}, {PRICE_HERE}, coalesce(l.on_hand, 0) - coalesce(r.n, 0) AS free, coalesce(s.n, 0) AS sold,
           coalesce(w.n, 0) AS wanted, coalesce(c2.n, 0) AS on_the_way
    FROM (SELECT variant_id FROM sold UNION SELECT variant_id FROM wanted) x
    JOIN variant v ON v.id = x.variant_id AND v.retired_at IS NULL JOIN model_here m ON m.id = v.model_id {OF_COLOUR}
    LEFT JOIN stock_line l ON l.variant_id = v.id LEFT JOIN sold s ON s.variant_id = v.id
    LEFT JOIN wanted w ON w.variant_id = v.id LEFT JOIN coming c2 ON c2.variant_id = v.id
    LEFT JOIN LATERAL (SELECT count(*)::int AS n FROM reservation WHERE stock_line_id = l.id AND kind <> 'tray'
                       AND ended_at IS NULL AND until > now()) r ON true
    WHERE m.retired_at IS NULL ORDER BY m.maker, m.name, v.width, v.colour, v.eu_label
"""


def advised(cx: Cx, cover_days: float) -> list[tuple[Row, Advice]]:
    """Sizes to buy again, with how many and why, by maker."""
    found = []
    for row in cx.execute(ADVISED):
        advice = to_buy(SizeSold(**{n: row[n] for n in SizeSold.model_fields}), cover_days)
        if advice.pairs:
            found.append((row, advice))
    return found


# --- orders


def get(cx: Cx, purchase_id: UUID, *, lock: bool = False) -> Row:
    """One order. Raises `NotFound`."""
    row = cx.execute(
        "SELECT p.*, s.name AS by FROM purchase p JOIN staff s ON s.id = p.staff_id WHERE p.id = %s"
        + (" FOR NO KEY UPDATE OF p" if lock else ""),
        [purchase_id],
    ).fetchone()
    if not row:
        raise NotFound("There is no such order here.")
    return row


def lines(cx: Cx, purchase_ids: list[UUID]) -> dict[UUID, list[Row]]:
    """The lines of some orders."""
    found: dict[UUID, list[Row]] = {p: [] for p in purchase_ids}
    rows = cx.execute(
        f"SELECT p.purchase_id, p.pairs, p.received, p.given_up, {SIZE}, {PRICE_HERE} FROM purchase_line p "
        f"JOIN variant v ON v.id = p.variant_id JOIN model_here m ON m.id = v.model_id {OF_COLOUR} "
        "WHERE p.purchase_id = ANY(%s) ORDER BY m.maker, m.name, v.width, v.colour, v.eu_label",
        [purchase_ids],
    )
    for row in rows:
        found[row["purchase_id"]].append(row)
    return found


def listing(cx: Cx, limit: int = 60) -> list[Row]:
    """Open orders, then the newest of the others."""
    return cx.execute(
        "SELECT p.*, s.name AS by FROM purchase p JOIN staff s ON s.id = p.staff_id "
        "WHERE p.shop_id = (SELECT shop_now()) ORDER BY p.state NOT IN ('draft', 'sent'), p.number DESC LIMIT %s",
        [limit],
    ).fetchall()


def save(
    cx: Cx, who: Who, purchase_id: UUID, change_id: UUID, version: int, supplier: str, expected_on: date | None,
    note: str, pairs: Mapping[UUID, int],
) -> None:  # fmt: skip
    """An order as it is to be until it is sent; one that isn't there yet begins at version 0. Again is no change.

    Raises `Conflict` once it is sent or when somebody else changed it since, `NotFound` for a size that isn't ours."""
    once(cx, purchase_id)
    if shop_done(cx, change_id, purchase_id):
        return
    if not pairs or len(pairs) > MOST_LINES:
        raise BadInput(f"An order has 1 to {MOST_LINES} lines.")
    chain = chain_of(cx, who.shop_id)
    known = cx.execute("SELECT state, version FROM purchase WHERE id = %s FOR NO KEY UPDATE", [purchase_id]).fetchone()
    if known:
        _as_read(known, version)
        if known["state"] != "draft":
            raise Conflict("This order was sent: what comes of it is received or given up.", code="sent")
        cx.execute(
            "UPDATE purchase SET supplier = %s, expected_on = %s, note = %s, version = version + 1 WHERE id = %s",
            [supplier, expected_on, note, purchase_id],
        )
        cx.execute("DELETE FROM purchase_line WHERE purchase_id = %s", [purchase_id])
    elif version:
        raise NotFound("There is no such order here.")
    else:
        once(cx, uuid5(who.shop_id, "purchases"))
        cx.execute(
            "INSERT INTO purchase (id, shop_id, chain_id, number, supplier, expected_on, note, state, staff_id) "
            "VALUES (%s, %s, %s, (SELECT coalesce(max(number), 0) + 1 FROM purchase WHERE shop_id = %s), "
            "%s, %s, %s, 'draft', %s)",
            [purchase_id, who.shop_id, chain, who.shop_id, supplier, expected_on, note, who.staff_id],
        )
    cx.cursor().executemany(
        "INSERT INTO purchase_line (shop_id, purchase_id, chain_id, variant_id, pairs) VALUES (%s, %s, %s, %s, %s)",
        [[who.shop_id, purchase_id, chain, variant, n] for variant, n in pairs.items()],
    )
    record_shop(cx, who, "stock", purchase_id, change_id, {}, {"purchase": supplier, "lines": len(pairs)})


def _as_read(known: Row, version: int) -> None:
    if known["version"] != version:
        raise Conflict("Somebody changed this order meanwhile. Nothing was changed: look again.", code="changed")


STEPS: dict[State, tuple[State, ...]] = {"draft": ("sent", "cancelled"), "sent": ("done",), "done": (), "cancelled": ()}


def step(cx: Cx, who: Who, purchase_id: UUID, change_id: UUID, to: State) -> None:
    """Send an order, let a draft go, or call what was sent done: what is missing comes no more. Again is no change."""
    once(cx, change_id)
    if shop_done(cx, change_id, purchase_id):
        return
    row = get(cx, purchase_id, lock=True)
    if to not in STEPS[row["state"]]:
        raise Conflict(f"Order {row['number']} is {row['state']} by now: look again.", code="order-moved")
    cx.execute(
        "UPDATE purchase SET state = %s, version = version + 1, sent_at = CASE WHEN %s THEN now() ELSE sent_at END "
        "WHERE id = %s",
        [to, to == "sent", purchase_id],
    )
    if to == "done":
        cx.execute(
            "UPDATE purchase_line SET given_up = true WHERE purchase_id = %s AND received < pairs", [purchase_id]
        )
    record_shop(cx, who, "stock", purchase_id, change_id, {"purchase": row["state"]}, {"purchase": to})


def chased(cx: Cx, who: Who, purchase_id: UUID, change_id: UUID, expected_on: date | None) -> None:
    """What is missing was asked after; it is expected on another day now. Again is no change."""
    once(cx, change_id)
    if shop_done(cx, change_id, purchase_id):
        return
    row = get(cx, purchase_id, lock=True)
    if row["state"] != "sent":
        raise Conflict(f"Nothing is awaited of order {row['number']}.", code="order-moved")
    cx.execute(
        "UPDATE purchase SET chased_at = now(), expected_on = %s, version = version + 1 WHERE id = %s",
        [expected_on, purchase_id],
    )
    record_shop(cx, who, "stock", purchase_id, change_id, {}, {"purchase": "chased"})


def receive(cx: Cx, who: Who, purchase_id: UUID, change_id: UUID, came: Mapping[UUID, int]) -> None:
    """Pairs that came of an order, by size; they are on hand from now on. The same change again receives nothing.

    More than were ordered may come. Once nothing is missing it is done. Raises `Conflict` for an order that isn't
    awaited, `NotFound` for a size that isn't of it."""
    once(cx, change_id)
    if shop_done(cx, change_id, purchase_id):
        return
    row = get(cx, purchase_id, lock=True)
    if row["state"] != "sent":
        raise Conflict(f"Order {row['number']} is {row['state']}: nothing is received of it.", code="order-moved")
    here = {r["variant_id"] for r in lines(cx, [purchase_id])[purchase_id]}
    if set(came) - here:
        raise NotFound("That size isn't of this order.")
    for variant, pairs in sorted(came.items()):
        line = orders.line_of(cx, who, variant)
        moves.book(cx, who, line, "received", pairs, uuid5(change_id, str(variant)), f"order {row['number']}")
        cx.execute(
            "UPDATE purchase_line SET received = received + %s WHERE purchase_id = %s AND variant_id = %s",
            [pairs, purchase_id, variant],
        )
    cx.execute(
        "UPDATE purchase SET version = version + 1, state = CASE WHEN EXISTS (SELECT 1 FROM purchase_line "
        "WHERE purchase_id = purchase.id AND received < pairs AND NOT given_up) THEN state ELSE 'done' END "
        "WHERE id = %s",
        [purchase_id],
    )
    told = {str(v): n for v, n in came.items()}
    record_shop(cx, who, "stock", purchase_id, change_id, {}, {"purchase": "received", "pairs": told})


def give_up(cx: Cx, who: Who, purchase_id: UUID, change_id: UUID, variant_id: UUID, *, yes: bool) -> None:
    """What is missing of a size comes no more, or is awaited after all. Again is no change."""
    once(cx, change_id)
    if shop_done(cx, change_id, purchase_id):
        return
    get(cx, purchase_id, lock=True)
    gone = cx.execute(
        "UPDATE purchase_line SET given_up = %s WHERE purchase_id = %s AND variant_id = %s",
        [yes, purchase_id, variant_id],
    ).rowcount
    if not gone:
        raise NotFound("That size isn't of this order.")
    cx.execute(
        "UPDATE purchase SET version = version + 1, state = CASE WHEN EXISTS (SELECT 1 FROM purchase_line "
        "WHERE purchase_id = purchase.id AND received < pairs AND NOT given_up) THEN 'sent' ELSE 'done' END "
        "WHERE id = %s AND state IN ('sent', 'done')",
        [purchase_id],
    )
    record_shop(cx, who, "stock", purchase_id, change_id, {}, {"purchase": "given up" if yes else "awaited"})
