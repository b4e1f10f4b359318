"""Takings as tables: lines, sums by day and rate, what sold, what it earned and what lies. docs/formats.md."""

from __future__ import annotations

from collections.abc import Iterator
from datetime import date
from decimal import Decimal
from typing import Any

from ..core.house import House
from ..core.money import Money
from ..core.sizes import label_words
from ..core.takings.journal import BECAME_WORDS, KIND_WORDS, number_text
from ..core.takings.sums import sums
from . import journal
from .catalogue import OF_COLOUR, PRICE_HERE
from .database import Cx, Row
from .exports import shortest

LINE_COLUMNS = (
    "number", "day", "at", "kind", "by", "maker", "model", "sport", "size", "colour", "pairs", "price", "price_said",
    "discount", "tax_rate_pct", "net", "tax", "total", "currency", "why", "became", "upon", "means", "till_number",
)  # fmt: skip
"""Columns of the journal taken out; amounts in whole units, to the last minor one."""
SUM_COLUMNS = ("day", "currency", "tax_rate_pct", "net", "tax", "total", "lines", "out", "back", "discount", "deposits")
"""Columns of sums by day and rate: a line a rate, then one a day with no rate that holds what isn't of any."""
MODEL_COLUMNS = (
    "maker", "model", "sport", "sold", "net", "cost", "margin", "margin_pct", "on_hand", "stock_at_cost",
    "stock_at_price", "without_cost", "without_price", "currency", "last_sold",
)  # fmt: skip
"""Columns of what each model sold and what lies of it. Cost and margin are of the pairs whose cost is known."""
SLOW_COLUMNS = (
    "maker",
    "model",
    "size",
    "width",
    "colour",
    "on_hand",
    "price",
    "cost",
    "currency",
    "last_sold",
    "here_since",
)
"""Columns of sizes of which none was sold for the house's days."""
AT_ONCE = 2_000


def whole(minor: int | None, currency: str) -> Decimal | str:
    """An amount in whole units, exact; an empty cell for none."""
    return "" if minor is None else Decimal(Money(minor, currency).amount)


def gtin(row: Row) -> str:
    """A size's bar code as it is printed; empty where it has none."""
    return shortest(row["gtin"]) if row["gtin"] else ""


def lines(cx: Cx, first: date, last: date) -> Iterator[list[Any]]:
    """The journal's lines of some days in order, as rows of `LINE_COLUMNS`."""
    with cx.cursor(name="journal") as cursor:
        cursor.itersize = AT_ONCE
        where = " WHERE j.shop_id = (SELECT shop_now()) AND j.day BETWEEN %s AND %s ORDER BY j.year, j.number"
        for row in cursor.execute(journal.LINE + where, [first, last]):
            yield _line(row)


def _line(row: Row) -> list[Any]:
    def money(name: str) -> Decimal | str:
        return whole(row[name], row["currency"])

    return [
        number_text(row["year"], row["number"]), row["day"], row["at"], KIND_WORDS[row["kind"]], row["by"],
        row["maker"], row["model"], row["sport"], row["size"], row["colour"], row["pairs"], money("price_minor"),
        row["price_said"], money("discount_minor"), "" if row["rate_pct"] is None else row["rate_pct"],
        whole(row["total_minor"] - row["tax_minor"], row["currency"]), money("tax_minor"), money("total_minor"),
        row["currency"], row["why"], BECAME_WORDS[row["became"]] if row["became"] else "",
        number_text(row["of_year"], row["of_number"]) if row["of_number"] else "", row["means"],
        row["till_number"] or "",
    ]  # fmt: skip


def by_day(cx: Cx, first: date, last: date, keeps: House) -> Iterator[list[Any]]:
    """Sums by day and rate, as rows of `SUM_COLUMNS`; each line's tax is once in exactly one of them."""
    taken = journal.taken(cx, first, last)
    for day in sorted({t.day for t in taken}):
        for s in sums([t for t in taken if t.day == day], keeps.tax.rounding):
            for r in s.rates:
                amounts = [whole(n, s.currency) for n in (r.net_minor, r.tax_minor, r.total_minor)]
                yield [day, s.currency, "" if r.rate_pct is None else r.rate_pct, *amounts, "", "", "", "", ""]
            yield [
                day, s.currency, "", "", "", "", s.lines, s.out, s.back, whole(s.discount_minor, s.currency),
                whole(s.deposits_minor, s.currency),
            ]  # fmt: skip


MODELS = f"""
    WITH sold AS (
        SELECT v.model_id, j.currency, sum(j.pairs)::int AS sold, sum(j.total_minor - j.tax_minor)::bigint AS net,
               sum(CASE WHEN j.kind IN ('sale', 'undone') OR j.became = 'shelf' THEN j.pairs * j.cost_minor END)::bigint
                   AS cost,
               sum(j.total_minor - j.tax_minor)
                   FILTER (WHERE j.cost_minor IS NOT NULL OR s.cost_minor IS NOT NULL)::bigint AS of_cost
        FROM journal_line j JOIN stock_line l ON l.id = j.stock_line_id JOIN variant v ON v.id = l.variant_id
        LEFT JOIN journal_line s ON s.id = j.sale_id
        WHERE j.shop_id = (SELECT shop_now()) AND j.day BETWEEN %(first)s AND %(last)s GROUP BY 1, 2),
    here AS (
        SELECT v.model_id, sum(l.on_hand)::int AS on_hand,
               sum(l.on_hand * coalesce(c.cost_minor, p.cost_minor))::bigint AS at_cost,
               sum(l.on_hand * coalesce(c.now_minor, p.now_minor))::bigint AS at_price,
               sum(l.on_hand) FILTER (WHERE coalesce(c.cost_minor, p.cost_minor) IS NULL)::int AS without_cost,
               sum(l.on_hand) FILTER (WHERE coalesce(c.now_minor, p.now_minor) IS NULL)::int AS without_price
        FROM stock_line l JOIN variant v ON v.id = l.variant_id
        LEFT JOIN price_now p ON p.model_id = v.model_id AND p.colour = ''
        {OF_COLOUR}
        WHERE l.on_hand > 0 GROUP BY 1)
    SELECT m.maker, m.name AS model, m.sport, coalesce(s.sold, 0) AS sold, coalesce(s.net, 0) AS net, s.cost,
           s.of_cost - s.cost AS margin, s.of_cost, coalesce(h.on_hand, 0) AS on_hand, h.at_cost, h.at_price,
           coalesce(h.without_cost, 0) AS without_cost, coalesce(h.without_price, 0) AS without_price,
           coalesce(s.currency, shop_currency()) AS currency,
           (SELECT max(j.day) FROM journal_line j JOIN stock_line l ON l.id = j.stock_line_id
            JOIN variant v ON v.id = l.variant_id WHERE v.model_id = m.id AND j.kind = 'sale') AS last_sold
    FROM shoe_model m LEFT JOIN sold s ON s.model_id = m.id LEFT JOIN here h ON h.model_id = m.id
    WHERE s.model_id IS NOT NULL OR h.model_id IS NOT NULL ORDER BY m.maker, m.name, s.currency
"""


def by_model(cx: Cx, first: date, last: date) -> Iterator[list[Any]]:
    """What each model sold in some days and what lies of it now, as rows of `MODEL_COLUMNS`."""
    for r in cx.execute(MODELS, {"first": first, "last": last}):
        known = r["cost"] is not None and r["of_cost"]
        yield [
            r["maker"], r["model"], r["sport"], r["sold"],
            *(whole(r[n], r["currency"]) for n in ("net", "cost", "margin")),
            round(100 * r["margin"] / r["of_cost"], 1) if known else "", r["on_hand"],
            *(whole(r[n], r["currency"]) for n in ("at_cost", "at_price")), r["without_cost"], r["without_price"],
            r["currency"], r["last_sold"] or "",
        ]  # fmt: skip


SLOW = """
    SELECT m.maker, m.name AS model, v.system, v.label, v.width, v.colour, l.on_hand, {price}, b.last_sold, h.since
    FROM stock_line l JOIN variant v ON v.id = l.variant_id JOIN model_here m ON m.id = v.model_id {of_colour}
    LEFT JOIN LATERAL (SELECT max(day) AS last_sold FROM journal_line
                       WHERE stock_line_id = l.id AND kind = 'sale') b ON true
    LEFT JOIN LATERAL (SELECT min(at)::date AS since FROM movement WHERE stock_line_id = l.id AND pairs > 0) h ON true
    WHERE l.on_hand > 0 AND coalesce(b.last_sold, h.since, '-infinity') < shop_today() - %(days)s::int
    ORDER BY coalesce(b.last_sold, h.since, '-infinity'), m.maker, m.name, v.eu_label
"""


def slow(cx: Cx, days: float) -> Iterator[list[Any]]:
    """Sizes on hand of which none was sold for so many days, and that have been here so long, the slowest first."""
    for r in cx.execute(SLOW.format(price=PRICE_HERE, of_colour=OF_COLOUR), {"days": int(days)}):
        currency = r["currency"] or ""
        yield [
            r["maker"], r["model"], label_words(r["system"], r["label"]), r["width"], r["colour"], r["on_hand"],
            whole(r["price_minor"], currency), whole(r["cost_minor"], currency), currency, r["last_sold"] or "",
            r["since"] or "",
        ]  # fmt: skip
