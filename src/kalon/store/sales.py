"""Settling: one pair leaves the stock once, with what it was computed from; and the follow-up after it."""

from __future__ import annotations

from datetime import date
from typing import Any
from uuid import UUID, uuid5

from psycopg.types.json import Jsonb

from ..core.errors import Conflict, NotFound
from ..core.formats import brought_up, newest
from ..core.house import House
from ..core.money import Money
from ..core.sizes import on_the_box
from ..core.takings.asked import Asked
from ..core.takings.journal import BECAME_WORDS
from . import fittings, journal, moves, pairs, reserved, stock
from .audit import once, record, used_elsewhere
from .catalogue import FACTS
from .database import Cx, Row, Who
from .ids import new_id

COLUMNS = (
    "s.id, s.fitting_id, s.stock_line_id, s.sold_at, s.price_minor, s.currency, s.rules_version, s.snapshot, s.format, "
    "s.pair, s.undone_at, p.name AS sold_by"
)

NOT_KEPT = ("on_hand", "cost_minor", *FACTS)
"""What a sale doesn't keep of its pair: what changes, and what the shop paid for it."""


def read_up(row: Row) -> Row:
    """A sale's row with its snapshot in the newest format and its pair's names beside it."""
    kept = brought_up("sale", {**row["snapshot"], "pair": row["pair"]}, row["format"])
    pair = {n: row["pair"][n] for n in ("eu_label", "width", "maker", "name", "upper", "build")}
    return {**row, **pair, "snapshot": kept}


def standing(cx: Cx, fitting_id: UUID) -> Row | None:
    """The sale that stands, with the pair as it was sold."""
    row = cx.execute(
        f"SELECT {COLUMNS} FROM sale s JOIN staff p ON p.id = s.sold_by "
        "WHERE s.fitting_id = %s AND s.undone_at IS NULL",
        [fitting_id],
    ).fetchone()
    return read_up(row) if row else None


def get(cx: Cx, sale_id: UUID) -> Row | None:
    """A sale by its id, standing or taken back."""
    row = cx.execute(
        f"SELECT {COLUMNS} FROM sale s JOIN staff p ON p.id = s.sold_by WHERE s.id = %s", [sale_id]
    ).fetchone()
    return read_up(row) if row else None


def paid(sale: Row) -> Money:
    """What was paid for a pair: lowered, with tax."""
    settled = sale["snapshot"]["settled"]
    tax = settled.get("tax")
    minor = tax["total_minor"] if tax else sale["price_minor"] - settled.get("discount_minor", 0)
    return Money(minor, sale["currency"])


def told_before(cx: Cx, fitting_id: UUID, line_id: UUID, sale_id: UUID) -> bool:
    """Whether this very sale was made already. Raises `Conflict` when the id was another's, or it was taken back."""
    once(cx, sale_id)
    known = get(cx, sale_id)
    if not known:
        return False
    if (known["fitting_id"], known["stock_line_id"]) != (fitting_id, line_id):
        raise used_elsewhere()
    if known["undone_at"]:
        raise Conflict("This sale was taken back. Settle anew if the pair is wanted after all.", code="sale-undone")
    return True


def settle(
    cx: Cx,
    who: Who,
    fitting_id: UUID,
    line_id: UUID,
    sale_id: UUID,
    rules_version: str,
    snapshot: dict[str, Any],
    asked: Asked | None,
    anyway: str = "",
) -> None:
    """Sell a pair from the tray for what it is `asked` for. The same `sale_id` again changes nothing.

    Raises `Conflict` when sold out, when nobody said a price or why it is lowered, or when every pair is promised to
    others and nobody says in words why it is sold `anyway`."""
    fitting = fittings.get(cx, fitting_id, lock=True)
    if told_before(cx, fitting_id, line_id, sale_id):
        return
    now = standing(cx, fitting_id)
    if now:
        raise Conflict(
            f"{now['sold_by']} already settled this on {now['maker']} {now['name']} {on_the_box(now['pair'])}.",
            code="already-settled",
        )
    in_tray = cx.execute(
        "SELECT 1 FROM tray_pair WHERE fitting_id = %s AND stock_line_id = %s", [fitting_id, line_id]
    ).fetchone()
    if not in_tray:
        raise Conflict("Only a pair from the tray can be settled on. Pull it first.", code="not-in-tray")
    pair = stock.line(cx, line_id, fitting["learned_version"])
    if asked is None:
        raise Conflict(
            "Nobody knows what this pair costs: say what it is sold for, or give it a price in the stockroom.",
            code="no-price",
        )
    if asked.discount.minor and not asked.why.strip():
        raise Conflict("Say why the price is lowered: whoever reads the journal asks.", code="discount-why")
    reserved.make_room(cx, who, line_id, fitting, anyway)
    try:
        moves.book(cx, who, line_id, "sold", -1, sale_id)
    except Conflict:
        raise Conflict(
            "The last pair of that size was sold a moment ago. Choose another from the tray.", code="sold-out"
        ) from None
    as_sold = {k: str(v) if isinstance(v, UUID) else v for k, v in pair.items() if k not in NOT_KEPT}
    cx.execute(
        "INSERT INTO sale (id, shop_id, fitting_id, stock_line_id, sold_by, price_minor, currency, rules_version, "
        "snapshot, format, pair) VALUES (%s, %s, %s, %s, %s, %s, %s, %s, %s, %s, %s)",
        [sale_id, who.shop_id, fitting_id, line_id, who.staff_id, asked.price.minor, asked.price.currency,
         rules_version, Jsonb(snapshot), newest("sale"), Jsonb(as_sold)],
    )  # fmt: skip
    cx.execute("UPDATE fitting SET state = 'settled', touched_at = now() WHERE id = %s", [fitting_id])
    reserved.let_go_of_tray(cx, fitting_id)
    reserved.kept_by(cx, line_id, fitting["athlete_id"])
    sold_for = {"price_minor": asked.price.minor, "currency": asked.price.currency}
    pairs.of_sale(cx, who, fitting, sale_id, pair | sold_for, snapshot)
    record(cx, who, fitting["athlete_id"], fitting_id, "sale", 1, new_id(), {},
           {"stock_line_id": str(line_id), "sale_id": str(sale_id)})  # fmt: skip
    journal.sold(cx, who, sale_id, fitting, pair, asked)


def undo(cx: Cx, who: Who, fitting_id: UUID, sale_id: UUID, keeps: House) -> None:
    """Take one sale back as if it hadn't been: the pair returns to stock, its follow-up is withdrawn, and the journal
    says so in a line. Again is no change.

    Raises `Conflict` after the follow-up or where more than minutes have gone by (`journal.can_undo`), `NotFound` for a
    sale that isn't this fitting's."""
    fitting = fittings.get(cx, fitting_id, lock=True)
    known = get(cx, sale_id)
    if not known or known["fitting_id"] != fitting_id:
        raise NotFound("There is no such sale here.")
    if known["undone_at"]:
        return
    if fitting["state"] == "returned":
        raise Conflict("The athlete has already been back: this sale stays.", code="already-returned")
    lines = journal.of_sale(cx, sale_id)
    late = journal.can_undo(keeps, lines)
    if late:
        raise Conflict(late, code="too-late-to-undo")
    cx.execute("UPDATE sale SET undone_at = now() WHERE id = %s", [sale_id])
    moves.book(cx, who, known["stock_line_id"], "undone", 1, new_id(), f"sale {sale_id}")
    pairs.sale_undone(cx, sale_id)
    cx.execute("UPDATE follow_up SET withdrawn_at = now() WHERE fitting_id = %s", [fitting_id])
    cx.execute("UPDATE fitting SET state = 'open', touched_at = now() WHERE id = %s", [fitting_id])
    reserved.for_tray_again(cx, who, fitting_id)
    record(
        cx, who, fitting["athlete_id"], fitting_id, "sale", 2, new_id(),
        {"stock_line_id": str(known["stock_line_id"]), "sale_id": str(sale_id)}, {"undone": True},
    )  # fmt: skip
    journal.undone(cx, who, lines)


def bring_back(cx: Cx, who: Who, line_id: UUID, back: journal.Back) -> Row:
    """Money is given back upon the sale of a journal's line; with the pair, where it came back. Again is no change.

    A pair that came back is counted in, and out again where it is worn or goes to its supplier. Raises `NotFound`,
    `Conflict` for more than stands of the sale, a pair that is back already, or an undone sale."""
    once(cx, back.id)
    if journal.written(cx, back.id, "refund", line_id):
        return journal.get(cx, back.id)
    upon = journal.get(cx, line_id)
    known = get(cx, upon["sale_id"]) if upon["sale_id"] else None
    if not known or upon["kind"] != "sale":
        raise Conflict("Only what was sold can be given back.", code="not-a-sale")
    fitting = fittings.get(cx, known["fitting_id"], lock=True, erased_too=True)
    known, upon = get(cx, upon["sale_id"]) or known, journal.get(cx, line_id)
    if known["undone_at"]:
        raise Conflict("This sale was undone: nothing of it stands.", code="sale-undone")
    if back.became:
        if upon["back_already"]:
            raise Conflict("The pair came back already.", code="back-already")
        stock_line = known["stock_line_id"]
        moves.book(cx, who, stock_line, "brought_back", 1, back.id, back.why)
        if back.became != "shelf":
            gone: moves.Kind = "returned" if back.became == "supplier" else "written_off"
            moves.book(cx, who, stock_line, gone, -1, uuid5(back.id, gone), BECAME_WORDS[back.became])
    if fitting["state"] != "erased":  # of whom nothing is kept, nothing is written but the money and the pair
        _told_of(cx, who, fitting, known, back)
    journal.gave_back(cx, who, journal.lines_of(cx, line_id), back)
    return journal.get(cx, back.id)


def _told_of(cx: Cx, who: Who, fitting: Row, sale: Row, back: journal.Back) -> None:
    """What coming back means for the fitting, its follow-up and the pair owned; and the trail's entry of it."""
    if back.became:
        pairs.brought_back(cx, sale["id"])
        cx.execute(
            "UPDATE follow_up SET withdrawn_at = now() WHERE fitting_id = %s AND done_at IS NULL", [fitting["id"]]
        )
        cx.execute("UPDATE fitting SET state = 'returned', touched_at = now() WHERE id = %s", [fitting["id"]])
    said = {"why": back.why, "became": back.became}
    record(cx, who, fitting["athlete_id"], fitting["id"], "sale", 3, back.id, {"sale_id": str(sale["id"])}, said)


def follow_up(cx: Cx, fitting_id: UUID) -> Row | None:
    """The follow-up booked for a fitting."""
    return cx.execute(
        "SELECT id, due_on, done_at FROM follow_up WHERE fitting_id = %s AND withdrawn_at IS NULL", [fitting_id]
    ).fetchone()


def book(cx: Cx, who: Who, fitting_id: UUID, due_on: date) -> None:
    """Book the follow-up, or move it. Raises `Conflict` before there is a sale."""
    fitting = fittings.get(cx, fitting_id, lock=True)
    if not standing(cx, fitting_id):
        raise Conflict("Settle on a pair first; then the follow-up can be booked.", code="not-settled")
    before = follow_up(cx, fitting_id)
    if before and before["due_on"] == due_on:
        return
    if before and before["done_at"]:
        raise Conflict("The athlete has already been back.", code="already-returned")
    cx.execute(
        "INSERT INTO follow_up (id, shop_id, fitting_id, due_on) VALUES (%s, %s, %s, %s) "
        "ON CONFLICT (fitting_id) DO UPDATE SET due_on = excluded.due_on, withdrawn_at = NULL",
        [new_id(), who.shop_id, fitting_id, due_on],
    )
    record(
        cx, who, fitting["athlete_id"], fitting_id, "follow_up", 1, new_id(),
        {"due_on": before["due_on"].isoformat() if before else None}, {"due_on": due_on.isoformat()},
    )  # fmt: skip


def finish(cx: Cx, who: Who, fitting_id: UUID) -> None:
    """The athlete has been back. Raises `NotFound` without a booked follow-up."""
    fitting = fittings.get(cx, fitting_id, lock=True)
    if fitting["state"] == "returned":
        return
    if not standing(cx, fitting_id) or not follow_up(cx, fitting_id):
        raise NotFound("No follow-up is booked for this fitting.")
    cx.execute("UPDATE follow_up SET done_at = coalesce(done_at, now()) WHERE fitting_id = %s", [fitting_id])
    cx.execute("UPDATE fitting SET state = 'returned', touched_at = now() WHERE id = %s", [fitting_id])
    record(cx, who, fitting["athlete_id"], fitting_id, "follow_up", 2, new_id(), {}, {"done": True})


def reopen(cx: Cx, who: Who, fitting_id: UUID) -> None:
    """The follow-up isn't closed after all. Again is no change. Raises `NotFound` where none was booked."""
    fitting = fittings.get(cx, fitting_id, lock=True)
    if fitting["state"] == "settled":
        return
    if fitting["state"] != "returned" or not follow_up(cx, fitting_id):
        raise NotFound("No follow-up is booked for this fitting.")
    cx.execute("UPDATE follow_up SET done_at = NULL WHERE fitting_id = %s", [fitting_id])
    cx.execute("UPDATE fitting SET state = 'settled', touched_at = now() WHERE id = %s", [fitting_id])
    record(cx, who, fitting["athlete_id"], fitting_id, "follow_up", 3, new_id(), {"done": True}, {"done": False})


def unbook(cx: Cx, who: Who, fitting_id: UUID) -> None:
    """No follow-up is booked after all. Again is no change. Raises `Conflict` once the athlete has been back."""
    fitting = fittings.get(cx, fitting_id, lock=True)
    before = follow_up(cx, fitting_id)
    if not before:
        return
    if before["done_at"]:
        raise Conflict("The athlete has already been back.", code="already-returned")
    cx.execute("UPDATE follow_up SET withdrawn_at = now() WHERE fitting_id = %s", [fitting_id])
    record(
        cx, who, fitting["athlete_id"], fitting_id, "follow_up", 4, new_id(),
        {"due_on": before["due_on"].isoformat()}, {"due_on": None},
    )  # fmt: skip
