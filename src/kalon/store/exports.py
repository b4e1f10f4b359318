"""What a shop takes along as tables: stock, models, movements, people, visits, what was learned. docs/formats.md."""

from __future__ import annotations

from collections.abc import Iterator
from itertools import count
from pathlib import Path
from typing import Any, Literal, get_args

import psycopg
from psycopg.rows import dict_row

from ..core.money import Money
from ..core.rules.scales import PROPERTIES
from ..core.sheets.columns import INNER, KIND_FIELDS
from ..core.shoes.anatomy import FEATURES
from ..files.sheets import Kind as FileKind
from ..files.sheets import write
from ..files.workers import Progress
from .catalogue import price_of
from .database import LIMITS, Cx, Row, enter
from .learned import NOW

Kind = Literal["stock", "models", "movements", "athletes", "fittings", "follow-ups", "learned"]
KINDS: tuple[Kind, ...] = get_args(Kind)
AT_ONCE = 2_000
TOLD = ", ".join(f"max(s.mm) FILTER (WHERE s.zone = '{n.removesuffix('_mm')}') AS {n}" for n in INNER)
"""What a supplier's sheet told of a size's inside; what was read in the shop isn't a supplier's word."""
MADE = (
    "m.maker, m.name AS model, m.sport, m.upper, m.build, m.reinforced, m.price_minor, m.cost_minor, m.currency, "
    "shop_currency() AS money, m.properties, "
    "m.choices, m.features, m.last, m.meant_for"
)
TABLES: dict[Kind, str] = {
    "stock": f"SELECT {MADE}, v.system, v.runs_ahead, v.label AS size, v.width, v.colour, v.gtin, v.code, v.extra, "
    f"l.on_hand AS pairs, {', '.join(f'i.{n}' for n in INNER)} FROM stock_line l JOIN variant v ON v.id = l.variant_id "
    f"JOIN model_here m ON m.id = v.model_id LEFT JOIN LATERAL (SELECT {TOLD} FROM shoe_reading s "
    "WHERE s.variant_id = v.id AND s.source = 'sheet' AND s.set_aside_at IS NULL) i ON true "
    "WHERE v.retired_at IS NULL OR l.on_hand > 0 ORDER BY m.maker, m.name, v.width, v.colour, v.eu_label",
    "models": f"SELECT {MADE} FROM model_here m WHERE m.retired_at IS NULL ORDER BY m.maker, m.name",
    "movements": "SELECT t.at, t.kind, t.pairs, t.why, p.name AS by, m.maker, m.name AS model, v.system, "
    "v.label AS size, v.width, v.colour, v.gtin FROM movement t JOIN stock_line l ON l.id = t.stock_line_id "
    "JOIN variant v ON v.id = l.variant_id JOIN shoe_model m ON m.id = v.model_id "
    "LEFT JOIN staff p ON p.id = t.staff_id ORDER BY t.id",
    "athletes": "SELECT a.id, a.name, a.born_on, a.squad, a.note FROM athlete a ORDER BY a.name, a.id",
    "fittings": "SELECT f.id, a.name AS athlete, f.opened_at, f.state, b.body ->> 'sport' AS sport, "
    "b.body ->> 'discipline' AS discipline, s.sold_at, s.pair ->> 'maker' AS maker, s.pair ->> 'name' AS model, "
    "s.pair ->> 'width' AS width, (s.pair ->> 'eu_label')::float AS eu_size, s.price_minor, s.currency "
    "FROM fitting f JOIN athlete a ON a.id = f.athlete_id "
    "LEFT JOIN fitting_part b ON b.fitting_id = f.id AND b.part = 'brief' "
    "LEFT JOIN sale s ON s.fitting_id = f.id AND s.undone_at IS NULL ORDER BY f.opened_at, f.id",
    "follow-ups": "SELECT a.name AS athlete, s.pair ->> 'maker' AS maker, s.pair ->> 'name' AS model, "
    "(s.pair ->> 'eu_label')::float AS eu_size, u.due_on, u.done_at, (r.body ->> 'hours')::float AS hours, "
    + ", ".join(f"(r.body ->> '{n}')::float AS {n}" for n in INNER)
    + ", r.body ->> 'note' AS note FROM follow_up u JOIN fitting f ON f.id = u.fitting_id "
    "JOIN athlete a ON a.id = f.athlete_id LEFT JOIN sale s ON s.fitting_id = f.id AND s.undone_at IS NULL "
    "LEFT JOIN fitting_part r ON r.fitting_id = f.id AND r.part = 'return' WHERE u.withdrawn_at IS NULL "
    "ORDER BY u.due_on, a.name",
    "learned": "SELECT l.maker, m.name AS model, v.width, v.eu_label AS eu_size, l.zone, l.mean_mm, l.sd_mm, l.seen, "
    f"l.version, n.at FROM ({NOW}) l "
    "JOIN learned_version n ON n.chain_id = l.chain_id AND n.version = l.version "
    "LEFT JOIN shoe_model m ON m.id = l.model_id LEFT JOIN variant v ON v.id = l.variant_id "
    "ORDER BY l.maker, m.name NULLS FIRST, v.width NULLS FIRST, v.eu_label NULLS FIRST, l.zone",
}
PLAIN = ("maker", "model", "sport", "upper", "build", "reinforced", "last", "meant_for", "price", "cost", "currency")
SIZED = ("system", "size", "width", "colour", "gtin", "code", "pairs", *INNER, "runs_ahead")
FURTHER: dict[Kind, tuple[str, ...]] = {
    "movements": ("at", "kind", "pairs", "why", "by", "maker", "model", "system", "size", "width", "colour", "gtin"),
    "athletes": ("id", "name", "born_on", "squad", "note"),
    "fittings": ("id", "athlete", "opened_at", "state", "sport", "discipline", "sold_at", "maker", "model", "width",
                 "eu_size", "price", "currency"),
    "learned": ("maker", "model", "width", "eu_size", "zone", "mean_mm", "sd_mm", "seen", "version", "at"),
    "follow-ups": ("athlete", "maker", "model", "eu_size", "due_on", "done_at", "hours", *INNER, "note"),
}  # fmt: skip


def columns_of(cx: Cx, kind: Kind) -> list[str]:
    """The columns of an export: always the plain ones; of how shoes are made, and of what came along in sheets, those
    that hold anything."""
    if kind in FURTHER:
        return list(FURTHER[kind])
    used: set[str] = set()
    for column in ("properties", "choices", "features"):
        rows = cx.execute(f"SELECT DISTINCT jsonb_object_keys({column}) AS name FROM shoe_model").fetchall()
        used |= {r["name"] for r in rows}
    made = [n for n in (*KIND_FIELDS, *PROPERTIES, *FEATURES) if n in used]
    if kind == "models":
        return [*PLAIN, *made]
    extra = cx.execute(
        "SELECT DISTINCT jsonb_object_keys(v.extra) AS name FROM stock_line l JOIN variant v ON v.id = l.variant_id "
        "WHERE v.extra <> '{}' ORDER BY 1"
    ).fetchall()
    taken = {*PLAIN, *SIZED, *made}
    return [*PLAIN, *SIZED, *made, *(r["name"] for r in extra if r["name"] not in taken)]


def into_file(path: Path, report: Progress, database: str, token: str, kind: Kind, form: FileKind) -> int:
    """An export written to a file, in a process of its own: as it is read, for whoever has that token. Nobody who takes
    long to fetch it holds the database. How many rows it has."""
    with psycopg.connect(database, row_factory=dict_row, options=LIMITS) as cx, path.open("wb") as out:
        enter(cx, token)
        report(0.0, "reading")
        columns = columns_of(cx, kind)
        counted = count()
        rows = (row for row, _ in zip(rows_of(cx, kind, columns), counted, strict=False))
        for piece in write(form, columns, rows):
            out.write(piece)
    return next(counted)


def rows_of(cx: Cx, kind: Kind, columns: list[str]) -> Iterator[list[Any]]:
    """The rows of an export in the order of its columns, read as they are written out."""
    with cx.cursor(name="export") as cursor:
        cursor.itersize = AT_ONCE
        for row in cursor.execute(TABLES[kind]):
            yield _row(row, columns)


def _row(row: Row, columns: list[str]) -> list[Any]:
    of: Row = {}
    for part in ("extra", "properties", "choices", "features"):
        of |= row.get(part, {})
    of |= row
    if "price_minor" in row:
        price = price_of(row)
        of["price"], of["currency"] = (price.amount, price.currency) if price else ("", "")
    if row.get("cost_minor") is not None:
        of["cost"], of["currency"] = Money(row["cost_minor"], row["money"]).amount, row["money"]
    if "meant_for" in row:
        of["meant_for"] = "; ".join(row["meant_for"])
    if row.get("gtin"):
        of["gtin"] = shortest(row["gtin"])
    return [str(v) if type(v).__name__ == "UUID" else v for v in (of.get(c) for c in columns)]


def shortest(gtin: str) -> str:
    """A bar code as it is printed: 13 digits, or 8, 12 or 14 where it was one of those."""
    return gtin[6:] if gtin.startswith("000000") else gtin[1:] if gtin.startswith("0") else gtin
