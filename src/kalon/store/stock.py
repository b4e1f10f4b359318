"""What a shop has: its stock lines as rows and as arrays, and the tray of a fitting."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any, cast
from uuid import UUID

from ..core.errors import Conflict, NotFound
from ..core.sizes import on_the_box
from . import learned, reserved
from .audit import record
from .catalogue import OF_COLOUR, OF_SIZE, PRICE_HERE
from .database import Cx, Row, Who
from .ids import new_id

TRAY_HOLDS = 4
LINE = f"""
    SELECT l.id, v.model_id, l.variant_id, v.width, v.system, v.label, v.runs_ahead, v.eu_label, v.colour, v.gtin,
           {OF_SIZE}, v.known_from,
           l.on_hand, m.maker, m.name, m.sport, m.upper, m.build, m.reinforced, m.properties, m.choices,
           m.features, m.last, m.meant_for, {PRICE_HERE}
    FROM stock_line l JOIN variant v ON v.id = l.variant_id JOIN model_here m ON m.id = v.model_id {OF_COLOUR}
"""


def lines(cx: Cx, ids: Sequence[str], fitting_id: UUID) -> dict[str, Row]:
    """Some stock lines with their models, by id, as a fitting knows them, and how many other fittings hold each."""
    given = {"ids": list(ids), "fitting": fitting_id}
    return {str(r["id"]): r for r in _known(cx, cx.execute(HELD_LINE + "WHERE l.id = ANY(%(ids)s)", given).fetchall())}


def _known(cx: Cx, rows: list[Row]) -> list[Row]:
    return learned.on_rows(cx, rows[0]["learned_version"], rows) if rows else []


def run_of(cx: Cx, model_id: UUID, width: str, version: int) -> list[Row]:
    """Every size of a model in one width, sold out or not; of several colours the one on hand; their insides at a
    version of what was learned. Raises `NotFound`."""
    rows = cx.execute(
        "SELECT DISTINCT ON (eu_label) * FROM (" + LINE + " WHERE v.model_id = %s AND v.width = %s) every "
        "ORDER BY eu_label, on_hand > 0 DESC, colour",
        [model_id, width],
    ).fetchall()
    if not rows:
        raise NotFound("There is no such model in that width here.")
    return learned.on_rows(cx, version, rows)


def line(cx: Cx, line_id: UUID, version: int | None = None) -> Row:
    """One stock line with its model, its inside at a version of what was learned (the newest where none is said).
    Raises `NotFound`."""
    row = cx.execute(LINE + " WHERE l.id = %s", [line_id]).fetchone()
    if not row:
        raise NotFound("There is no such pair in stock here.")
    return learned.on_row(cx, version, row)


def size_of(cx: Cx, line_id: UUID) -> UUID:
    """The size a stock line is of. Raises `NotFound`."""
    row = cx.execute("SELECT variant_id FROM stock_line WHERE id = %s", [line_id]).fetchone()
    if not row:
        raise NotFound("There is no such pair in stock here.")
    return cast(UUID, row["variant_id"])


def listing(cx: Cx, text: str, limit: int) -> list[Row]:
    """Stock lines, narrowed by a text in maker, name, sport or size; so many at most."""
    like = "%" + text.replace("\\", "\\\\").replace("%", "\\%").replace("_", "\\_") + "%"
    rows = cx.execute(
        LINE + " WHERE m.maker || ' ' || m.name || ' ' || m.sport || ' ' || v.eu_label || ' ' || v.width ILIKE %s "
        "ORDER BY m.maker, m.name, v.width, v.eu_label LIMIT %s",
        [like, limit],
    ).fetchall()
    return learned.on_rows(cx, None, rows)


HELD_LINE = (
    LINE.replace("m.last,", "m.last, others.n AS also_pulled, as_of.learned_version,", 1)
    + """
    LEFT JOIN fitting as_of ON as_of.id = %(fitting)s
    LEFT JOIN LATERAL (SELECT count(*) AS n FROM reservation r WHERE r.stock_line_id = l.id AND r.ended_at IS NULL
                       AND r.until > now() AND r.fitting_id IS DISTINCT FROM %(fitting)s
                       AND (r.athlete_id IS NULL OR r.athlete_id <> as_of.athlete_id)) others ON true
    """
)
"""A line with how many pairs of it others hold: fittings touched not long ago, sister shops, customers."""


def tray(cx: Cx, fitting_id: UUID) -> list[Row]:
    """The pairs pulled for a fitting, in the order pulled, and who else holds the same line."""
    rows = cx.execute(
        HELD_LINE + "JOIN tray_pair t ON t.stock_line_id = l.id WHERE t.fitting_id = %(fitting)s ORDER BY t.pulled_at",
        {"fitting": fitting_id},
    ).fetchall()
    return _known(cx, rows)


def pull(cx: Cx, who: Who, fitting: Row, line_id: UUID, hold_h: float, anyway: str = "") -> None:
    """Put a pair in a locked fitting's tray, and hold it for so long; again is no change.

    Raises `Conflict` when the tray is full, the pair is gone, or every pair is promised to others and nobody says in
    words why it is taken `anyway`."""
    have = [
        r["stock_line_id"]
        for r in cx.execute("SELECT stock_line_id FROM tray_pair WHERE fitting_id = %s", [fitting["id"]]).fetchall()
    ]
    if line_id in have:
        return
    pair = line(cx, line_id)
    if pair["on_hand"] < 1:
        raise Conflict("That pair is sold out.", code="sold-out")
    if len(have) >= TRAY_HOLDS:
        raise Conflict(f"The tray holds {TRAY_HOLDS} pairs: put one back first.", code="tray-full")
    reserved.make_room(cx, who, line_id, fitting, anyway)
    cx.execute(
        "INSERT INTO tray_pair (shop_id, fitting_id, stock_line_id) VALUES (%s, %s, %s)",
        [who.shop_id, fitting["id"], line_id],
    )
    reserved.for_tray(cx, who, fitting, line_id, hold_h)
    _note(cx, who, fitting, {}, _named(pair))


def put_back(cx: Cx, who: Who, fitting: Row, line_id: UUID) -> None:
    """Take a pair out of a locked fitting's tray; again is no change."""
    gone = cx.execute(
        "DELETE FROM tray_pair WHERE fitting_id = %s AND stock_line_id = %s", [fitting["id"], line_id]
    ).rowcount
    if gone:
        _note(cx, who, fitting, _named(line(cx, line_id)), {})


def called(cx: Cx, line_ids: list[UUID]) -> dict[UUID, str]:
    """What the pairs of stock lines are called, with their size; lines that aren't here are left out."""
    rows = cx.execute(
        "SELECT l.id, m.maker, m.name, v.eu_label, v.system, v.label FROM stock_line l "
        "JOIN variant v ON v.id = l.variant_id JOIN model_here m ON m.id = v.model_id WHERE l.id = ANY(%s)",
        [line_ids],
    ).fetchall()
    return {r["id"]: f"{r['maker']} {r['name']} {on_the_box(r)}" for r in rows}


def _named(pair: Row) -> dict[str, Any]:
    return {"pair": f"{pair['maker']} {pair['name']} {on_the_box(pair)}", "stock_line_id": str(pair["id"])}


def _note(cx: Cx, who: Who, fitting: Row, before: dict[str, Any], after: dict[str, Any]) -> None:
    record(cx, who, fitting["athlete_id"], fitting["id"], "tray", 1, new_id(), before, after)
    cx.execute("UPDATE fitting SET touched_at = now() WHERE id = %s", [fitting["id"]])


def add_line(cx: Cx, shop_id: UUID, chain_id: UUID, line_id: UUID, variant_id: UUID) -> None:
    """A size a shop keeps from now on; nothing of it is on hand yet."""
    cx.execute(
        "INSERT INTO stock_line (id, shop_id, chain_id, variant_id) VALUES (%s, %s, %s, %s)",
        [line_id, shop_id, chain_id, variant_id],
    )
