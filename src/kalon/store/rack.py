"""The stockroom as a rack: models page by page, by key, each with its sizes and what is on hand of them."""

from __future__ import annotations

import re
from dataclasses import dataclass, field
from typing import Any
from uuid import UUID

from ..core.shoes.inner import FAMILIES_MM, LETTERS
from . import learned
from .catalogue import OF_SIZE
from .database import Cx, Row
from .reserved import STANDS


@dataclass(frozen=True)
class Asked:
    """What the rack is narrowed by; nothing where it isn't."""

    text: str = ""
    sport: str | None = None
    plate: str | None = None
    width: str | None = None
    feature: str | None = None
    most_minor: int | None = None
    here: bool = False
    """Only what is on hand."""


@dataclass
class _Where:
    sql: list[str] = field(default_factory=list)
    values: dict[str, Any] = field(default_factory=dict)

    def add(self, sql: str, **values: Any) -> None:
        self.sql.append(sql)
        self.values |= values


SIZE_HERE = (
    "EXISTS (SELECT 1 FROM variant v JOIN stock_line l ON l.variant_id = v.id WHERE v.model_id = m.id AND {only})"
)
NAMED = "m.maker || ' ' || m.name || ' ' || m.sport || ' ' || m.code"


def _where(asked: Asked) -> _Where:
    """The conditions a model has to meet. A number in the text is a size on hand; a long one a bar code."""
    found = _Where()
    of_size = ["(v.retired_at IS NULL OR l.on_hand > 0)"]
    if asked.here:
        of_size.append("l.on_hand > 0")
    for place, word in enumerate(asked.text.split()[:8]):
        name = f"word_{place}"
        if re.fullmatch(r"\d{8,14}", word):
            found.add(SIZE_HERE.format(only=f"v.gtin = %({name})s"), **{name: word.zfill(14)})
        elif re.fullmatch(r"\d{1,3}([.,]\d)?", word):
            of_size.append(f"(v.eu_label = %({name})s OR v.label = %({name})s) AND l.on_hand > 0")
            found.values[name] = float(word.replace(",", "."))
        else:
            like = "%" + word.replace("\\", "\\\\").replace("%", "\\%").replace("_", "\\_") + "%"
            width = word.lower() if word.lower() in FAMILIES_MM else word.upper()
            if width in FAMILIES_MM or width in LETTERS:
                of_width = SIZE_HERE.format(only=f"v.width = %({name}_w)s")
                found.add(f"({NAMED} ILIKE %({name})s OR {of_width})", **{name: like, f"{name}_w": width})
            else:
                found.add(f"{NAMED} ILIKE %({name})s", **{name: like})
    if asked.width:
        of_size.append("v.width = %(width)s")
        found.values["width"] = asked.width
    found.add(SIZE_HERE.format(only=" AND ".join(of_size)))
    if asked.sport:
        found.add("m.sport = %(sport)s", sport=asked.sport)
    if asked.plate:
        found.add("m.choices ->> 'plate' = %(plate)s", plate=asked.plate)
    if asked.feature:
        found.add("m.features ->> %(feature)s = 'true'", feature=asked.feature)
    if asked.most_minor is not None:
        found.add("m.now_minor <= %(most)s", most=asked.most_minor)
    return found


def models(cx: Cx, asked: Asked, after: tuple[str, str] | None, limit: int) -> list[Row]:
    """The next models in order of maker and name, after the pair of them given."""
    where = _where(asked)
    if after:
        where.add("(m.maker, m.name) > (%(after_maker)s, %(after_name)s)", after_maker=after[0], after_name=after[1])
    return cx.execute(
        "SELECT m.id, m.maker, m.name, m.sport, m.upper, m.build, m.price_minor, m.now_minor, m.choices, "
        "m.properties, m.features, m.meant_for, m.retired_at IS NOT NULL AS retired "
        f"FROM model_here m WHERE {' AND '.join(where.sql)} "
        "ORDER BY m.maker, m.name LIMIT %(limit)s",
        where.values | {"limit": limit},
    ).fetchall()


def sizes(cx: Cx, models: list[UUID]) -> list[Row]:
    """What the shop keeps of some models, size by size; each line looked up, however many others there are."""
    rows = cx.execute(
        "SELECT l.id, v.id AS variant_id, v.model_id, v.width, v.system, v.label, v.eu_label, v.colour, v.gtin, "
        f"{OF_SIZE}, v.known_from, m.maker, l.on_hand, coalesce(z.n, 0) AS reserved "
        "FROM variant v JOIN shoe_model m ON m.id = v.model_id "
        "JOIN LATERAL (SELECT s.id, s.on_hand FROM stock_line s WHERE s.variant_id = v.id "
        "OFFSET 0) l ON true LEFT JOIN (SELECT r.stock_line_id, count(*) AS n FROM reservation r "
        f"WHERE r.shop_id = (SELECT shop_now()) AND {STANDS} GROUP BY 1) z "
        "ON z.stock_line_id = l.id WHERE v.model_id = ANY(%s) "
        "AND (v.retired_at IS NULL OR l.on_hand > 0) ORDER BY v.model_id, v.width, v.eu_label, v.colour",
        [models],
    ).fetchall()
    return learned.on_rows(cx, None, rows)


def totals(cx: Cx, asked: Asked) -> Row:
    """How many models, sizes and pairs the rack holds, narrowed alike."""
    where = _where(asked)
    row = cx.execute(
        "SELECT count(DISTINCT v.model_id) AS models, count(*) AS sizes, coalesce(sum(l.on_hand), 0) AS pairs "
        f"FROM stock_line l JOIN variant v ON v.id = l.variant_id WHERE v.model_id IN (SELECT m.id FROM model_here m "
        f"WHERE {' AND '.join(where.sql)}) AND (v.retired_at IS NULL OR l.on_hand > 0)",
        where.values,
    ).fetchone()
    assert row  # an aggregate always answers
    return row
