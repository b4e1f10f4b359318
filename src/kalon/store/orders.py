"""Pairs that aren't here: from the supplier, or asked of a sister shop, held there, sent and received."""

from __future__ import annotations

from datetime import timedelta
from typing import Any, Literal, cast
from uuid import UUID, uuid5

from psycopg.types.json import Jsonb

from ..core.errors import Conflict, NotFound
from ..core.match.ordering import Arrival
from ..core.shoes.inner import ShoeReading
from . import moves, reserved
from .audit import once, record_shop, shop_done, used_elsewhere
from .catalogue import add_reading, chain_of, variant
from .database import Cx, Row, Who
from .ids import new_id

State = Literal[
    "wanted", "ordered", "arrived", "asked", "held", "sent", "received", "refused", "cancelled", "sent_back", "back",
    "credited", "lost",
]  # fmt: skip
HELD_FOR = timedelta(days=2)
"""How long a sister shop holds a pair that was asked for. House default."""
ASKING: dict[State, tuple[State, ...]] = {
    "wanted": ("ordered", "cancelled"), "ordered": ("arrived", "cancelled"), "asked": ("cancelled",),
    "held": ("cancelled",), "sent": ("received",), "arrived": ("sent_back",), "received": ("sent_back",),
}  # fmt: skip
"""What the shop that wants a pair may do next."""
GIVING: dict[State, tuple[State, ...]] = {
    "asked": ("held", "sent", "refused"), "held": ("sent", "refused"),
    "sent": ("lost",), "sent_back": ("back", "lost"),
}  # fmt: skip
"""What the sister shop that was asked may do next."""
WORDS: dict[State, str] = {
    "wanted": "wanted", "ordered": "ordered", "arrived": "here", "asked": "asked for", "held": "held for you",
    "sent": "on its way", "received": "here", "refused": "refused", "cancelled": "let go",
    "sent_back": "sent back", "back": "back where it came from", "credited": "credited by its supplier",
    "lost": "lost on its way",
}  # fmt: skip
OPEN = ("wanted", "ordered", "asked", "held", "sent", "sent_back")
"""States in which somebody may have something to do; the indexes of open orders hold the same."""
SELECTED = """
    SELECT o.id, o.shop_id, o.from_shop, o.variant_id, o.fitting_id, o.note, o.sheet, o.arrival, o.made, o.asked_at,
           r.until AS held_until, o.changed_at, o.told, o.reached_at,
           rb.name AS reached_by, f.athlete_id,
           d.left_minor, d.left_currency,
           CASE WHEN o.state = 'held' AND r.until IS NULL THEN 'asked' ELSE o.state END AS state,
           v.model_id, coalesce(v.width, '') AS width, v.system, v.label, v.eu_label, coalesce(v.colour, '') AS colour,
           coalesce(m.maker, 'A last maker') AS maker, coalesce(m.name, 'Made to measure') AS name,
           coalesce(m.sport, o.sheet ->> 'sport', '') AS sport, a.name AS athlete, coalesce(b.name, g.name) AS other
    FROM {orders} LEFT JOIN variant v ON v.id = o.variant_id LEFT JOIN shoe_model m ON m.id = v.model_id
    LEFT JOIN fitting f ON f.id = o.fitting_id
    LEFT JOIN LATERAL (SELECT name FROM athlete WHERE id = f.athlete_id LIMIT 1) a ON true
    LEFT JOIN LATERAL (SELECT until FROM reservation
                       WHERE order_id = o.id AND kind = 'sister' AND ended_at IS NULL AND until > now()
                       LIMIT 1) r ON true
    LEFT JOIN LATERAL (SELECT sum(total_minor)::int AS left_minor, max(currency) AS left_currency FROM journal_line
                       WHERE order_id = o.id) d ON true
    LEFT JOIN staff rb ON rb.id = o.reached_by
    LEFT JOIN sister_shops() b ON b.id = o.from_shop LEFT JOIN sister_shops() g ON g.id = o.shop_id
"""
"""Orders with their pairs; a hold whose time is over is asked for again."""
ORDER = SELECTED.format(orders="shoe_order o")
LISTED = SELECTED.format(
    orders="unnest(%s::uuid[]) w(id) JOIN LATERAL (SELECT * FROM shoe_order WHERE id = w.id LIMIT 1) o ON true"
)
"""So many of them by their ids, each found by its key."""


def get(cx: Cx, order_id: UUID) -> Row:
    """One order. Raises `NotFound`."""
    row = cx.execute(ORDER + " WHERE o.id = %s", [order_id]).fetchone()
    if not row:
        raise NotFound("There is no such order here.")
    return row


def ours(cx: Cx, who: Who, order_id: UUID) -> Row:
    """An order of this shop, locked. Raises `NotFound`, also for another shop's."""
    cx.execute("SELECT 1 FROM shoe_order WHERE id = %s FOR NO KEY UPDATE", [order_id])
    row = get(cx, order_id)
    if row["shop_id"] != who.shop_id:
        raise NotFound("There is no such order here.")
    return row


def ask(
    cx: Cx, who: Who, order_id: UUID, variant_id: UUID | None, from_shop: UUID | None, fitting_id: UUID | None,
    note: str, sheet: dict[str, Any],
) -> Row:  # fmt: skip
    """Want a pair: of its supplier, of a sister shop, or (no size) made to measure. The same id again changes nothing.

    Raises `Conflict` when the sister shop has none left."""
    once(cx, order_id)
    known = cx.execute("SELECT variant_id, from_shop FROM shoe_order WHERE id = %s", [order_id]).fetchone()
    if known:
        if (known["variant_id"], known["from_shop"]) != (variant_id, from_shop):
            raise used_elsewhere()
        return get(cx, order_id)
    if variant_id:
        variant(cx, variant_id)
        if from_shop and not any(s["shop_id"] == from_shop for s in elsewhere(cx, [variant_id]).get(variant_id, [])):
            raise Conflict("They have none of that size any more.", code="sold-out")
    cx.execute(
        "INSERT INTO shoe_order (id, chain_id, shop_id, from_shop, variant_id, fitting_id, state, note, sheet, "
        "asked_by, made) VALUES (%s, %s, %s, %s, %s, %s, %s, %s, %s, %s, %s)",
        [order_id, chain_of(cx, who.shop_id), who.shop_id, from_shop, variant_id, fitting_id,
         "asked" if from_shop else "wanted", note, Jsonb(sheet), who.staff_id, variant_id is None],
    )  # fmt: skip
    return get(cx, order_id)


def step(cx: Cx, who: Who, order_id: UUID, change_id: UUID, to: State) -> Row:
    """Take an order a step on; what is sent leaves one shop's stock, what comes enters the other's.

    The same change again is no change. Raises `Conflict` when the step can't follow, or the pair is gone."""
    once(cx, change_id)
    if shop_done(cx, change_id, order_id):
        return get(cx, order_id)
    locked = cx.execute("SELECT 1 FROM shoe_order WHERE id = %s FOR NO KEY UPDATE", [order_id]).fetchone()
    row = get(cx, order_id)
    ours = row["shop_id"] == who.shop_id
    if not locked or to not in next_steps(row, ours=ours):
        raise Conflict(f"This pair is {WORDS[row['state']]} by now: look again.", code="order-moved")
    if row["variant_id"]:
        _carry_pair(cx, who, row, to, change_id)
    cx.execute(
        "UPDATE shoe_order SET state = %s, changed_at = now(), told = '' WHERE id = %s",
        [to, order_id],
    )
    record_shop(cx, who, "stock", order_id, change_id, {"order": row["state"]}, {"order": to})
    return get(cx, order_id)


def says(state: State, *, ours: bool) -> str:
    """Where an order is, to the shop that wants it or the one that gives."""
    return "held for them" if state == "held" and not ours else WORDS[state]


def next_steps(row: Row, *, ours: bool) -> tuple[State, ...]:
    """What may be done next with an order, by the shop that wants it or the one that gives."""
    if ours and row["state"] == "sent_back" and not row["from_shop"]:
        return ("credited",)
    return (ASKING if ours else GIVING).get(row["state"], ())


def _carry_pair(cx: Cx, who: Who, row: Row, to: State, change_id: UUID) -> None:
    """What a step moves: a pair out of this shop's stock, or into it."""
    pair = f"{row['maker']} {row['name']} {row['label']:g}"
    if to == "held":
        reserved.for_sister(cx, who, _there(cx, row["variant_id"]), row["id"], row["shop_id"], HELD_FOR)
    if to == "sent":
        line_id = _there(cx, row["variant_id"])
        reserved.refuse(cx, reserved.in_the_way(cx, line_id, trays=True, order_id=row["id"]))
        moves.book(cx, who, line_id, "transferred", -1, change_id, f"sent to {row['other']}"[:300])
    if to in ("received", "arrived"):
        line_id = line_of(cx, who, row["variant_id"])
        kind: moves.Kind = "received" if to == "arrived" else "transferred"
        why = f"ordered {pair}" if to == "arrived" else f"from {row['other']}"
        moves.book(cx, who, line_id, kind, 1, change_id, why[:300])
        cx.execute("SELECT price_along(%s)", [row["id"]])
    if to == "sent_back":
        way: moves.Kind = "transferred" if row["from_shop"] else "returned"
        moves.book(cx, who, line_of(cx, who, row["variant_id"]), way, -1, change_id, f"{pair} sent back"[:300])
    if to == "lost":
        given = line_of(cx, who, row["variant_id"])
        moves.book(cx, who, given, "transferred", 1, change_id, f"never came to {row['other']}"[:300])
        moves.book(cx, who, given, "written_off", -1, uuid5(change_id, "lost"), f"{pair} lost on its way"[:300])
    if to == "back":
        moves.book(
            cx, who, line_of(cx, who, row["variant_id"]), "transferred", 1, change_id, f"back from {row['other']}"[:300]
        )


def found_on_arrival(cx: Cx, who: Who, order_id: UUID, change_id: UUID, found: Arrival) -> Row:
    """Keep what was found of an ordered pair when it came; an inside length read is a reading of that size.

    The same change again is no change. Raises `Conflict` for a pair that isn't here."""
    once(cx, change_id)
    if shop_done(cx, change_id, order_id):
        return get(cx, order_id)
    locked = cx.execute("SELECT 1 FROM shoe_order WHERE id = %s FOR NO KEY UPDATE", [order_id]).fetchone()
    row = get(cx, order_id)
    if not locked or row["shop_id"] != who.shop_id or row["state"] not in ("arrived", "received", "sent_back"):
        raise Conflict(f"This pair is {WORDS[row['state']]}: it is checked once it is here.", code="order-moved")
    before = row["arrival"]
    if row["variant_id"] and found.inner_mm is not None and found.inner_mm != before.get("inner_mm"):
        reading = ShoeReading(zone="length", mm=found.inner_mm, sigma_mm=None, source="stick")
        add_reading(cx, who, row["variant_id"], change_id, reading)
    after = found.model_dump(mode="json")
    cx.execute("UPDATE shoe_order SET arrival = %s, changed_at = now() WHERE id = %s", [Jsonb(after), order_id])
    record_shop(cx, who, "stock", order_id, change_id, {"arrival": before}, {"arrival": after})
    return get(cx, order_id)


def _there(cx: Cx, variant_id: UUID) -> UUID:
    """This shop's line of a size. Raises `Conflict` where none is on hand."""
    row = cx.execute("SELECT id FROM stock_line WHERE variant_id = %s AND on_hand > 0", [variant_id]).fetchone()
    if not row:
        raise Conflict("There is none of that size here any more.", code="too-few")
    return cast(UUID, row["id"])


def line_of(cx: Cx, who: Who, variant_id: UUID) -> UUID:
    """This shop's line of a size, kept from now on where it wasn't."""
    cx.execute(
        "INSERT INTO stock_line (id, shop_id, chain_id, variant_id) VALUES (%s, %s, %s, %s) "
        "ON CONFLICT (shop_id, variant_id) DO NOTHING",
        [new_id(), who.shop_id, chain_of(cx, who.shop_id), variant_id],
    )
    row = cx.execute("SELECT id FROM stock_line WHERE variant_id = %s", [variant_id]).fetchone()
    assert row  # it was just made sure of
    found: UUID = row["id"]
    return found


def listing(cx: Cx, limit: int = 100) -> list[Row]:
    """The orders of this shop and those asked of it: open ones first, then the newest; so many of each at most."""
    states = ", ".join(f"'{s}'" for s in OPEN)
    ours, theirs = "shop_id = (SELECT shop_now())", "from_shop = (SELECT shop_now())"
    newest = [
        f"(SELECT id FROM shoe_order WHERE {whose} {which} ORDER BY asked_at DESC, id LIMIT %(limit)s)"
        for whose in (ours, theirs)
        for which in (f"AND state IN ({states})", "")
    ]
    ids = [r["id"] for r in cx.execute(" UNION ".join(newest), {"limit": limit}).fetchall()]
    return cx.execute(
        f"{LISTED} ORDER BY o.state NOT IN ({states}), o.asked_at DESC, o.id LIMIT %s",
        [ids, 2 * limit],
    ).fetchall()


def of_fitting(cx: Cx, fitting_id: UUID) -> list[Row]:
    """What was ordered for a fitting."""
    return cx.execute(ORDER + " WHERE o.fitting_id = %s ORDER BY o.asked_at", [fitting_id]).fetchall()


def sisters(cx: Cx) -> list[Row]:
    """The chain's other shops."""
    return cx.execute("SELECT id, name FROM sister_shops()").fetchall()


def elsewhere(cx: Cx, variants: list[UUID]) -> dict[UUID, list[Row]]:
    """What sister shops have free of some sizes, by size."""
    found: dict[UUID, list[Row]] = {}
    for row in cx.execute("SELECT * FROM sister_stock(%s)", [variants]).fetchall():
        found.setdefault(row["variant_id"], []).append(row)
    return found


def needs(cx: Cx, months: int = 6) -> list[Row]:
    """What was wanted and not here, by month, sport, width and size: what to buy next."""
    return cx.execute(
        "SELECT to_char(o.asked_at, 'YYYY-MM') AS month, m.sport, v.width, v.eu_label, count(*) AS wanted, "
        "count(*) FILTER (WHERE o.state IN ('arrived', 'received')) AS came FROM shoe_order o "
        "JOIN variant v ON v.id = o.variant_id JOIN shoe_model m ON m.id = v.model_id "
        "WHERE o.shop_id = (SELECT shop_now()) AND o.asked_at > now() - make_interval(months => %s) "
        "GROUP BY 1, 2, 3, 4 ORDER BY 1 DESC, 5 DESC, 2, 3, 4 LIMIT 200",
        [months],
    ).fetchall()
