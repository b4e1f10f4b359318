"""What a shop has: its stock lines as rows and as arrays, and the tray of a fitting."""

from __future__ import annotations

from collections.abc import Sequence
from functools import partial
from typing import Any, LiteralString, cast
from uuid import UUID

import numpy as np
from numpy.typing import NDArray

from ..core.errors import Conflict, NotFound
from ..core.learn.inside import Read, Shelved
from ..core.match.shelf import Shoe
from ..core.remembered import Remembered
from ..core.sizes import on_the_box
from . import learned, reserved
from .audit import record
from .catalogue import FACTS, LABELS, OF_COLOUR, OF_SIZE, PRICE_HERE, READ, READ_SIGMAS, shoe_of
from .database import Cx, Row, Who, planned_anew
from .ids import new_id

TRAY_HOLDS = 4
LINE = f"""
    SELECT l.id, v.model_id, l.variant_id, v.width, v.system, v.label, v.eu_label, v.colour, v.gtin,
           {OF_SIZE}, v.known_from,
           l.on_hand, m.maker, m.name, m.sport, m.upper, m.build, m.reinforced, m.properties, m.choices,
           m.features, m.last, m.meant_for, {PRICE_HERE}
    FROM stock_line l JOIN variant v ON v.id = l.variant_id JOIN model_here m ON m.id = v.model_id {OF_COLOUR}
"""

INSIDE = ", ".join(f"array_agg(coalesce(v.{name}, 'NaN')::float4)" for name in FACTS)
SHELF = f"""
    SELECT array_agg({{id}}), array_agg(p.place::int4), array_agg(v.eu_label::float4), {INSIDE}
    FROM unnest(%(models)s::uuid[], %(places)s::int[]) AS p (id, place) JOIN variant v ON v.model_id = p.id
    {{lines}} AND coalesce(v.length_read_mm, v.length_label_mm) BETWEEN %(low)s AND %(high)s
"""
"""A shelf as one row of arrays: as rows, most of the time would go into handing them over one by one."""
ARRAY_HEAD = 20
"""Bytes before the first element of an array as PostgreSQL sends it; every element has its length before it, and none
is ever null."""
SHELF_ROW = np.dtype([("id", "V16"), ("place", ">i4"), ("label", ">f4"), *((name, ">f4") for name in FACTS)])
HERE = SHELF.format(id="l.id", lines="JOIN stock_line l ON l.variant_id = v.id WHERE l.on_hand > 0")
"""Lines on hand here."""
NOT_HERE = SHELF.format(
    id="v.id",
    lines="LEFT JOIN stock_line l ON l.variant_id = v.id WHERE coalesce(l.on_hand, 0) = 0 AND v.retired_at IS NULL",
)
"""Sizes of the range of which nothing is on hand here, by their own ids."""
SHORTEST_MM, LONGEST_MM = 0.0, 10_000.0


class LineIds(Sequence[str]):
    """Ids of stock lines, made text only where they are looked at."""

    def __init__(self, raw: NDArray[np.void]) -> None:
        self._raw = raw

    def __len__(self) -> int:
        return len(self._raw)

    def __getitem__(self, row: Any) -> Any:
        return str(UUID(bytes=self._raw[row].tobytes()))


def shelf(
    cx: Cx, sport: str, near: tuple[float, float] | None = None, *, here: bool = True
) -> tuple[list[Shoe], Shelved]:
    """All pairs on hand for a sport: the shoes, and their lines as arrays; or every size that is not on hand.

    With `near`, mm, only lines of such lengths by label or readings, and every line of the shoes that have none."""
    shoes = _shoes_of(cx, sport)
    ids = [UUID(s.id) for s in shoes]
    what = HERE if here else NOT_HERE
    rows = _read(cx, what, ids, np.arange(len(ids)), near or (SHORTEST_MM, LONGEST_MM))
    if near:
        without = np.setdiff1d(np.arange(len(ids)), rows["place"])
        if len(without):
            further = _read(cx, what, [ids[i] for i in without], without, (SHORTEST_MM, LONGEST_MM))
            rows = np.concatenate([rows, further])
    ids_low = np.ascontiguousarray(rows["id"]).view(">u8").reshape(-1, 2)[:, 1]
    order = np.lexsort((ids_low, rows["label"], rows["place"]))
    rows = rows[order]
    lines = Shelved(
        shoe=rows["place"].astype(np.intp),
        label=rows["label"].astype(float),
        line_ids=LineIds(rows["id"]),
        box=_columns(rows, LABELS),
        read=Read(_columns(rows, READ), _columns(rows, READ_SIGMAS)),
    )
    return shoes, lines


_shoes: Remembered[Shoe] = Remembered(50_000)
"""Shoes each process remembers, by how a model's row and its price last stood."""


def _shoes_of(cx: Cx, sport: str) -> list[Shoe]:
    """The chain's shoes of a sport at the shop's own prices, by their ids; only what was changed is read anew."""
    stand = cx.execute(
        "SELECT m.id, m.xmin::text AS stands, p.now_minor, p.currency FROM shoe_model m "
        "LEFT JOIN price_now p ON p.model_id = m.id AND p.colour = '' WHERE m.sport = %s ORDER BY m.id",
        [sport],
    ).fetchall()
    keys = {m["id"]: (m["id"], m["stands"], m["now_minor"], m["currency"]) for m in stand}
    found = {model: shoe for model, key in keys.items() if (shoe := _shoes.known(key))}
    if unread := [model for model in keys if model not in found]:
        rows = cx.execute(
            "SELECT id, maker, sport, upper, build, reinforced, properties, choices, features, meant_for, "
            "now_minor AS price_minor, currency FROM model_here WHERE id = ANY(%s)",
            [unread],
        ).fetchall()
        found |= {row["id"]: _shoes.of(keys[row["id"]], partial(shoe_of, row, "id")) for row in rows}
    return [found[model] for model in keys if model in found]


def _columns(rows: NDArray[np.void], names: Sequence[str]) -> NDArray[np.float64]:
    return np.stack([rows[n] for n in names], axis=1).astype(float)


def _read(
    cx: Cx, what: LiteralString, models: list[UUID], places: NDArray[np.intp], near: tuple[float, float]
) -> NDArray[np.void]:
    """Lines on hand of some models as rows of `SHELF_ROW`; each model is known by its place."""
    given = {"models": models, "places": places.tolist(), "low": near[0], "high": near[1]}
    with planned_anew(cx), cx.cursor(binary=True) as cursor:
        found = cursor.execute(what, given).pgresult
        sent = [found.get_value(0, at) for at in range(found.nfields)] if found else []
    if not sent or sent[0] is None:
        return np.empty(0, SHELF_ROW)
    columns = {
        name: np.frombuffer(data, np.dtype([("_bytes", ">i4"), ("value", SHELF_ROW[name])]), offset=ARRAY_HEAD)["value"]
        for name, data in zip(SHELF_ROW.names or (), sent, strict=True)
        if data is not None
    }
    rows = np.empty(len(columns["id"]), SHELF_ROW)
    for name, column in columns.items():
        rows[name] = column
    return rows


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
