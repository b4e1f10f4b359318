"""The journal of the made-up shops: what was sold so far by day, the days that are closed, and what happened today."""

from __future__ import annotations

from datetime import date, timedelta
from uuid import UUID

from ..core.house import HOUSE
from ..store import journal, sales
from ..store.database import Cx, Who
from ..store.ids import new_id

OPEN_DAYS = 3
COST_SHARE = 0.55
"""What a shop pays for a pair of the makers whose cost is known."""
LOWER_MINOR = 1000


def takings_so_far(cx: Cx) -> None:
    """Sales stand in the journal in the order they were made."""
    cx.execute("DELETE FROM journal_line")
    cx.execute("DELETE FROM journal_year")
    cx.execute("SELECT journal_from_sales()")
    cx.execute(
        "UPDATE journal_line j SET cost_minor = p.cost_minor FROM stock_line l JOIN variant v ON v.id = l.variant_id "
        "JOIN model_price p ON p.model_id = v.model_id WHERE l.id = j.stock_line_id AND p.shop_id = j.shop_id"
    )


def takings_today(cx: Cx, who: Who, today: date) -> None:
    """The days before these are closed; somebody had something given back, and somebody left money for an order."""
    before = [d["day"] for d in journal.open_days(cx, today - timedelta(days=OPEN_DAYS))]
    if before:
        journal.close(cx, who, before[-1], new_id(), HOUSE)
    sold = cx.execute(
        "SELECT j.id FROM journal_line j JOIN sale s ON s.id = j.sale_id JOIN fitting f ON f.id = s.fitting_id "
        "WHERE j.shop_id = %s AND j.kind = 'sale' AND f.state = 'returned' ORDER BY j.number DESC LIMIT 1",
        [who.shop_id],
    ).fetchone()
    if sold:
        line: UUID = sold["id"]
        sales.bring_back(
            cx, who, line, journal.Back(new_id(), LOWER_MINOR, "A lace hook broke: lowered after the sale.", None)
        )
