"""The journal of a shop's takings: a line for whatever is taken or given back, numbered by the database without holes.

Lines are added and never changed. Whoever writes one does so last in its transaction: the others of the shop wait.
"""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, timedelta
from typing import Any
from uuid import UUID

from psycopg.types.json import Jsonb

from ..core.errors import BadInput, Conflict, NotFound
from ..core.formats import brought_up, newest
from ..core.house import House
from ..core.money import Money
from ..core.sizes import label_words
from ..core.takings.asked import Asked
from ..core.takings.journal import Became, Kind, check_back, moved, number_text
from ..core.takings.sums import Sums, Taken, sums
from .audit import once, record_shop, shop_done, used_elsewhere
from .database import Cx, Row, Who
from .ids import new_id

COLUMNS = (
    "j.id, j.year, j.number, j.day, j.at, j.kind, j.sale_id, j.order_id, j.stock_line_id, j.of_id, j.maker, j.model, "
    "j.sport, j.size, j.colour, j.pairs, j.price_minor, j.price_said, j.exchange, j.discount_minor, j.rate_pct, "
    "j.rate_why, j.tax_minor, j.total_minor, j.cost_minor, j.currency, j.why, j.became, j.means, j.till_number"
)
LINE = f"""
    SELECT {COLUMNS}, p.name AS by, o.year AS of_year, o.number AS of_number, s.fitting_id, a.name AS athlete,
           EXISTS (SELECT 1 FROM journal_line b WHERE b.sale_id = j.sale_id AND b.became IS NOT NULL) AS back_already,
           CASE WHEN j.kind = 'sale' THEN coalesce((SELECT sum(n.total_minor)::int FROM journal_line n
               WHERE n.sale_id = j.sale_id AND n.kind <> 'deposit_used'), 0) ELSE j.total_minor END AS stands_minor,
           now() - j.at AS age, EXISTS (SELECT 1 FROM journal_close c WHERE c.shop_id = j.shop_id AND c.day = j.day)
               AS day_closed
    FROM journal_line j JOIN staff p ON p.id = j.staff_id LEFT JOIN journal_line o ON o.id = j.of_id
    LEFT JOIN sale s ON s.id = j.sale_id LEFT JOIN fitting f ON f.id = s.fitting_id
    LEFT JOIN athlete a ON a.id = f.athlete_id
"""
"""A line with who wrote it, the number of the line it is upon, and whose fitting it was."""
EXCHANGED_WITHIN = timedelta(days=60)
"""A pair bought within so long of bringing one back in exchange is what it was exchanged for. House default."""


def _write(cx: Cx, who: Who, line_id: UUID, kind: Kind, of: Row | None, **values: Any) -> None:
    """One line; what it doesn't say it takes over from the one it is `of`."""
    names = ("sale_id", "order_id", "stock_line_id", "maker", "model", "sport", "size", "colour", "rate_pct",
             "rate_why", "currency")  # fmt: skip
    given = {n: of[n] for n in names} | {"of_id": of["id"]} if of else {}
    given |= values | {"id": line_id, "shop_id": who.shop_id, "kind": kind, "staff_id": who.staff_id}
    columns = list(given)
    cx.execute(
        f"INSERT INTO journal_line ({', '.join(columns)}, year, number, day) "
        f"VALUES ({', '.join(['%s'] * len(columns))}, 0, 0, shop_today())",
        [given[n] for n in columns],
    )


def get(cx: Cx, line_id: UUID) -> Row:
    """One line. Raises `NotFound`."""
    row = cx.execute(LINE + " WHERE j.id = %s", [line_id]).fetchone()
    if not row:
        raise NotFound("There is no such line in the journal here.")
    return row


def of_sale(cx: Cx, sale_id: UUID) -> list[Row]:
    """Every line of a sale, in order: the sale, then what was done upon it."""
    return cx.execute(LINE + " WHERE j.sale_id = %s ORDER BY j.year, j.number", [sale_id]).fetchall()


def stands(lines: list[Row]) -> Money:
    """What stands of a sale once everything upon it is counted. Deposits used for it are no part of it."""
    of = [r for r in lines if r["kind"] != "deposit_used"]
    return Money(sum(r["total_minor"] for r in of), of[0]["currency"])


# --- selling


def sold(cx: Cx, who: Who, sale_id: UUID, fitting: Row, pair: Row, asked: Asked) -> None:
    """The line of a sale; what was left for its order is used for it."""
    exchanged = cx.execute(
        "SELECT j.id FROM journal_line j JOIN sale s ON s.id = j.sale_id JOIN fitting f ON f.id = s.fitting_id "
        "WHERE f.athlete_id = %s AND j.kind = 'refund' AND j.exchange AND j.at > now() - %s AND NOT EXISTS "
        "(SELECT 1 FROM journal_line n JOIN sale b ON b.id = n.sale_id AND b.undone_at IS NULL "
        "WHERE n.of_id = j.id AND n.kind = 'sale') ORDER BY j.at DESC LIMIT 1",
        [fitting["athlete_id"], EXCHANGED_WITHIN],
    ).fetchone()
    _write(
        cx, who, sale_id, "sale", None, sale_id=sale_id, stock_line_id=pair["id"], maker=pair["maker"],
        model=pair["name"], sport=pair["sport"], size=label_words(pair["system"], pair["label"]),
        colour=pair["colour"], pairs=1, of_id=exchanged["id"] if exchanged else None, price_minor=asked.price.minor,
        price_said=asked.said, discount_minor=asked.discount.minor, why=asked.why if asked.discount.minor else "",
        rate_pct=asked.tax.rate_pct if asked.tax else None, rate_why=asked.tax.why if asked.tax else "",
        tax_minor=asked.tax.tax_minor if asked.tax else 0, total_minor=asked.total.minor, cost_minor=pair["cost_minor"],
        currency=asked.total.currency,
    )  # fmt: skip
    left = asked.total
    for order in cx.execute("SELECT id FROM shoe_order WHERE fitting_id = %s ORDER BY id", [fitting["id"]]).fetchall():
        there = left_for(cx, order["id"])
        use = min(there, left) if there and there.currency == left.currency else None
        if use and use.minor:
            _write(cx, who, new_id(), "deposit_used", None, sale_id=sale_id, order_id=order["id"], of_id=sale_id,
                   maker=pair["maker"], model=pair["name"], sport=pair["sport"], tax_minor=0, total_minor=-use.minor,
                   currency=use.currency)  # fmt: skip
            left = left - use


def can_undo(keeps: House, lines: list[Row]) -> str:
    """Why a sale can't be undone as if it hadn't been; empty where it can."""
    if not lines:
        return ""
    sale, minutes = lines[0], keeps["takings.undo_min"]
    number = number_text(sale["year"], sale["number"])
    if sale["back_already"]:
        return "The pair came back already."
    if any(r["kind"] in ("refund", "correction") for r in lines):
        return f"Something was given back upon sale {number} already: note that the pair came back."
    if sale["till_number"]:
        return f"Sale {number} is in the till as {sale['till_number']}: note that the pair came back."
    if sale["day_closed"]:
        return f"The day of sale {number} is closed: note that the pair came back."
    if sale["age"] > timedelta(minutes=minutes):
        return f"Sale {number} is older than {minutes:g} minutes: note that the pair came back."
    return ""


def undone(cx: Cx, who: Who, lines: list[Row]) -> None:
    """The line that takes a sale back at once, with what was left for its order."""
    for row in reversed(lines):
        kind: Kind = "undone" if row["kind"] == "sale" else row["kind"]
        _write(cx, who, new_id(), kind, row, pairs=-row["pairs"], price_minor=row["price_minor"],
               cost_minor=row["cost_minor"], tax_minor=-row["tax_minor"], total_minor=-row["total_minor"])  # fmt: skip


@dataclass(frozen=True)
class Back:
    """Money given back of a sale: how much (all of it where none is said), why, what became of the pair (none where it
    stays with them), and whether it goes towards another."""

    id: UUID
    amount_minor: int | None
    why: str
    became: Became | None
    exchange: bool = False


def gave_back(cx: Cx, who: Who, lines: list[Row], back: Back) -> None:
    """The line of a refund. Raises `Conflict` where more is given back than stands."""
    sale, there = lines[0], stands(lines)
    amount = there if back.amount_minor is None else Money(back.amount_minor, there.currency)
    check_back(there, amount)
    total, tax = moved(there.minor, -amount.minor, sale["rate_pct"])
    _write(cx, who, back.id, "refund", sale, pairs=-1 if back.became else 0, cost_minor=sale["cost_minor"],
           tax_minor=tax, total_minor=total, why=back.why, became=back.became, exchange=back.exchange)  # fmt: skip


def correct(cx: Cx, who: Who, line_id: UUID, correction_id: UUID, by_minor: int, why: str) -> Row:
    """Put the sum of a sale right by so much. The same id again changes nothing. Raises `Conflict` below nothing."""
    once(cx, correction_id)
    if written(cx, correction_id, "correction", line_id):
        return get(cx, correction_id)
    lines = lines_of(cx, line_id)
    there = stands(lines)
    if there.minor + by_minor < 0:
        check_back(there, Money(-by_minor, there.currency))
    total, tax = moved(there.minor, by_minor, lines[0]["rate_pct"])
    _write(cx, who, correction_id, "correction", lines[0], tax_minor=tax, total_minor=total, why=why)
    return get(cx, correction_id)


def lines_of(cx: Cx, line_id: UUID) -> list[Row]:
    """The lines of the sale whose line this is, locked. Raises `NotFound`, and `Conflict` for what is no sale's."""
    row = get(cx, line_id)
    if row["kind"] != "sale":
        raise Conflict("Only what was sold can be given back or put right.", code="not-a-sale")
    cx.execute("SELECT journal_lock()")
    return of_sale(cx, row["sale_id"])


def written(cx: Cx, line_id: UUID, kind: Kind, of_id: UUID | None = None, order_id: UUID | None = None) -> bool:
    """Whether this very line was written already. Raises `Conflict` when the id was another's."""
    row = cx.execute("SELECT kind, of_id, order_id FROM journal_line WHERE id = %s", [line_id]).fetchone()
    if row and (row["kind"] != kind or (of_id and row["of_id"] != of_id) or (order_id and row["order_id"] != order_id)):
        raise used_elsewhere()
    return row is not None


def note_till(cx: Cx, who: Who, line_id: UUID, number: str | None) -> Row:
    """Note the till's own number of a line. Raises `NotFound`."""
    before = get(cx, line_id)
    if before["till_number"] != number:
        cx.execute("UPDATE journal_line SET till_number = %s WHERE id = %s", [number, line_id])
        record_shop(
            cx, who, "stock", line_id, new_id(), {"till_number": before["till_number"]}, {"till_number": number}
        )
    return get(cx, line_id)


# --- deposits on orders


OVER = ("refused", "cancelled", "sent_back", "back", "credited", "lost")
"""States of an order of which no pair comes."""


def left_for(cx: Cx, order_id: UUID) -> Money | None:
    """What was left for an order and is neither used nor given back; none where nothing ever was."""
    row = cx.execute(
        "SELECT sum(total_minor)::int AS minor, max(currency) AS currency FROM journal_line WHERE order_id = %s",
        [order_id],
    ).fetchone()
    assert row  # an aggregate always answers
    return None if row["minor"] is None else Money(row["minor"], row["currency"])


def deposit(cx: Cx, who: Who, order: Row, line_id: UUID, minor: int, currency: str) -> None:
    """Money left for an order. The same id again changes nothing."""
    once(cx, line_id)
    if written(cx, line_id, "deposit", order_id=order["id"]):
        return
    if order["state"] in OVER:
        raise Conflict("This order has come to nothing: nothing is left for it.", code="order-over")
    there = left_for(cx, order["id"])
    if there and there.minor and there.currency != currency:
        raise Conflict(f"{there} was left for it before: give that back first.", code="other-money")
    _write(cx, who, line_id, "deposit", None, order_id=order["id"], maker=order["maker"], model=order["name"],
           sport=order["sport"], tax_minor=0, total_minor=minor, currency=currency)  # fmt: skip


def deposit_back(cx: Cx, who: Who, order: Row, line_id: UUID, why: str) -> None:
    """What was left for an order is given back. The same id again changes nothing. Raises `Conflict` where nothing."""
    once(cx, line_id)
    if written(cx, line_id, "deposit_back", order_id=order["id"]):
        return
    cx.execute("SELECT journal_lock()")
    there = left_for(cx, order["id"])
    if not there or not there.minor:
        raise Conflict("Nothing is left for this order.", code="nothing-left")
    _write(cx, who, line_id, "deposit_back", None, order_id=order["id"], maker=order["maker"], model=order["name"],
           sport=order["sport"], tax_minor=0, total_minor=-there.minor, currency=there.currency, why=why)  # fmt: skip


# --- days


def lines(cx: Cx, first: date, last: date, after: tuple[int, int] | None, limit: int) -> list[Row]:
    """Lines of some days, the newest first, after the year and number given."""
    upto = " AND (j.year, j.number) < (%(year)s, %(number)s)" if after else ""
    return cx.execute(
        LINE + f" WHERE j.shop_id = (SELECT shop_now()) AND j.day BETWEEN %(first)s AND %(last)s{upto} "
        "ORDER BY j.year DESC, j.number DESC LIMIT %(limit)s",
        {"first": first, "last": last, "limit": limit, "year": after and after[0], "number": after and after[1]},
    ).fetchall()


def taken(cx: Cx, first: date, last: date) -> list[Taken]:
    """What was taken on some days, put together by what is alike."""
    rows = cx.execute(
        "SELECT j.day, j.kind, j.rate_pct, p.name AS by, j.currency, c.rounding, count(*)::int AS lines, "
        "coalesce(sum(j.pairs) FILTER (WHERE j.pairs > 0), 0)::int AS out, "
        "coalesce(-sum(j.pairs) FILTER (WHERE j.pairs < 0), 0)::int AS back, "
        "sum(j.discount_minor)::bigint AS discount_minor, sum(j.tax_minor)::bigint AS tax_minor, "
        "sum(j.total_minor)::bigint AS total_minor FROM journal_line j JOIN staff p ON p.id = j.staff_id "
        "LEFT JOIN journal_close c ON c.shop_id = j.shop_id AND c.day = j.day "
        "WHERE j.shop_id = (SELECT shop_now()) AND j.day BETWEEN %s AND %s GROUP BY 1, 2, 3, 4, 5, 6",
        [first, last],
    ).fetchall()
    return [Taken(**r) for r in rows]


def open_days(cx: Cx, last: date) -> list[Row]:
    """Days up to one that have lines and aren't closed, the oldest first. Closing a day closes those before it, so
    that only what a clock set back wrote can lie before the last closed one: a year of that is looked through."""
    return cx.execute(
        "SELECT j.day, count(*)::int AS lines FROM journal_line j WHERE j.shop_id = (SELECT shop_now()) "
        "AND j.day <= %s AND j.day > coalesce((SELECT max(day) - 366 FROM journal_close), '-infinity') "
        "AND NOT EXISTS (SELECT 1 FROM journal_close c WHERE c.shop_id = j.shop_id AND c.day = j.day) "
        "GROUP BY 1 ORDER BY 1",
        [last],
    ).fetchall()


def close(cx: Cx, who: Who, day: date, close_id: UUID, keeps: House) -> None:
    """Close a day, and with it every day before it that is still open. The same id again closes nothing.

    Raises `BadInput` for a day that hasn't begun, `Conflict` where it is closed or holds nothing."""
    once(cx, close_id)
    if shop_done(cx, close_id, close_id):
        return
    cx.execute("SELECT journal_lock()")
    row = cx.execute("SELECT shop_today() AS today").fetchone()
    assert row  # it is asked without a table
    if day > row["today"]:
        raise BadInput(f"{day:%-d %B %Y} hasn't begun: it can't be closed yet.")
    done = cx.execute(
        "SELECT c.closed_at, p.name FROM journal_close c JOIN staff p ON p.id = c.staff_id WHERE c.day = %s", [day]
    ).fetchone()
    if done:
        raise Conflict(f"{done['name']} closed {day:%-d %B %Y} already.", code="closed")
    still = [r["day"] for r in open_days(cx, day)]
    if not still:
        raise Conflict("Nothing was taken on that day: there is nothing to close.", code="nothing-taken")
    for one in still:
        found = sums(taken(cx, one, one), keeps.tax.rounding)
        cx.execute(
            "INSERT INTO journal_close (shop_id, day, id, staff_id, sums, format, rounding) "
            "VALUES (%s, %s, %s, %s, %s, %s, %s)",
            [who.shop_id, one, close_id if one == day else new_id(), who.staff_id,
             Jsonb([s.model_dump(mode="json") for s in found]), newest("day"), keeps.tax.rounding],
        )  # fmt: skip
    record_shop(cx, who, "house", close_id, close_id, {}, {"closed": [d.isoformat() for d in still]})


def closed(cx: Cx, day: date) -> tuple[list[Sums], Row] | None:
    """What a closed day came to as it was closed, and when and by whom; none for an open one."""
    row = cx.execute(
        "SELECT c.sums, c.format, c.closed_at, p.name AS closed_by FROM journal_close c "
        "JOIN staff p ON p.id = c.staff_id WHERE c.shop_id = (SELECT shop_now()) AND c.day = %s",
        [day],
    ).fetchone()
    if not row:
        return None
    return [Sums.model_validate(brought_up("day", s, row["format"])) for s in row["sums"]], row
