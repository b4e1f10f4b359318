"""The shelf as arrays: kept by each process, and of it only what changed is read anew."""

from __future__ import annotations

import time
from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import partial
from typing import Any, LiteralString
from uuid import UUID

import numpy as np
from numpy.typing import NDArray

from ..core.learn.inside import Read, Shelved
from ..core.match.shelf import Shoe
from ..core.remembered import Remembered
from .catalogue import FACTS, LABELS, READ, READ_SIGMAS, shoe_of
from .database import Cx, Row, planned_anew

INSIDE = ", ".join(f"array_agg(coalesce(v.{name}, 'NaN')::float4)" for name in FACTS)
SHELF = f"""
    SELECT array_agg({{id}}), array_agg(v.id), array_agg(v.model_id), array_agg(v.eu_label::float4), {INSIDE}
    FROM variant v {{lines}} AND {{which}}
"""
"""A shelf as one row of arrays: as rows, most of the time would go into handing them over one by one."""
OF_MODELS, OF_SIZES = "v.model_id = ANY(%(ids)s)", "v.id = ANY(%(ids)s)"
ARRAY_HEAD = 20
"""Bytes before the first element of an array as PostgreSQL sends it; every element has its length before it, and none
is ever null."""
SHELF_ROW = np.dtype(
    [("id", "V16"), ("size", "V16"), ("model", "V16"), ("label", ">f4"), *((name, ">f4") for name in FACTS)]
)
HERE = "JOIN stock_line l ON l.variant_id = v.id WHERE l.on_hand > 0"
"""Lines on hand here."""
NOT_HERE = (
    "LEFT JOIN stock_line l ON l.variant_id = v.id WHERE coalesce(l.on_hand, 0) = 0 AND v.retired_at IS NULL"
)  # fmt: skip
"""Sizes of the range of which nothing is on hand here, by their own ids."""
SINCE = """
    SELECT pg_snapshot_xmin(pg_current_snapshot())::text AS seen,
           (SELECT jsonb_agg(DISTINCT c.variant_id) FROM shelf_change c WHERE c.by_transaction >= %s::xid8) AS sizes
"""
KEPT_SHELVES, KEPT_FOR_S = 16, 6 * 3600.0
"""So many a process, each held against what changed at least so often: changes are kept for a day."""
MANY = 2_000
"""So many changed sizes are no longer read one by one."""


class LineIds(Sequence[str]):
    """Ids of stock lines, made text only where they are looked at."""

    def __init__(self, raw: NDArray[np.void]) -> None:
        self._raw = raw

    def __len__(self) -> int:
        return len(self._raw)

    def __getitem__(self, row: Any) -> Any:
        return str(UUID(bytes=self._raw[row].tobytes()))


@dataclass(frozen=True)
class _Kept:
    """All lines of a shelf in order of model, label and id, of some models, as of the transactions before one."""

    rows: NDArray[np.void]
    models: frozenset[UUID]
    seen: str
    at: float
    """When it was last held against what changed, on a clock that only goes on, s."""


def shelf(
    cx: Cx, sport: str, near: tuple[float, float] | None = None, *, here: bool = True
) -> tuple[list[Shoe], Shelved]:
    """All pairs on hand for a sport: the shoes, and their lines as arrays; or every size that is not on hand.

    With `near`, mm, only lines of such lengths by label or readings, and every line of the shoes that have none."""
    stand = cx.execute(STAND, [sport]).fetchone()
    assert stand
    key = (sport, stand["count"], stand["models"])
    shoes = _together.of(key, lambda: _each_shoe(cx, sport)) if stand["count"] else []
    ids = [UUID(s.id) for s in shoes]
    rows = _rows(cx, stand, sport, ids, here=here)
    names = np.array([m.bytes for m in ids], dtype="S16") if ids else np.empty(0, "S16")
    place = _place(names, rows["model"])
    if near is not None and len(rows):
        length = np.where(np.isnan(rows["length_read_mm"]), rows["length_label_mm"], rows["length_read_mm"])
        close = (length >= near[0]) & (length <= near[1])
        has = np.zeros(len(ids), dtype=bool)
        has[place[close]] = True
        kept = np.flatnonzero(close | ~has[place])
        rows, place = rows[kept], place[kept]
    lines = Shelved(
        shoe=place,
        label=rows["label"].astype(float),
        line_ids=LineIds(rows["id"]),
        box=_columns(rows, LABELS),
        read=Read(_columns(rows, READ), _columns(rows, READ_SIGMAS)),
    )
    return shoes, lines


def _place(names: NDArray[np.bytes_], model: NDArray[np.void]) -> NDArray[np.intp]:
    """Of each line's model its place among models in order of their ids."""
    if not len(model):
        return np.empty(0, dtype=np.intp)
    words = np.ascontiguousarray(model).view(">u8").reshape(-1, 2)
    new = np.append(True, (words[1:] != words[:-1]).any(axis=1))
    of = {name: n for n, name in enumerate(names.tolist())}
    each = [of[m.tobytes().rstrip(b"\0")] for m in model[new]]
    return np.asarray(np.array(each, dtype=np.intp)[np.cumsum(new) - 1])


_kept: Remembered[_Kept] = Remembered(KEPT_SHELVES)


def _rows(cx: Cx, stand: Row, sport: str, ids: list[UUID], *, here: bool) -> NDArray[np.void]:
    """Every line of some models, all a sport has, in order; from what is kept, where somebody is signed in who only
    reads."""
    if stand["shop"] is None or stand["writes"]:
        return _in_order(_read(cx, OF_MODELS, ids, here=here))
    key = (stand["shop"], sport, here)
    models = frozenset(ids)
    kept, now = _kept.known(key), time.monotonic()
    found = _brought_up(cx, kept, models, here=here) if kept and now - kept.at < KEPT_FOR_S else None
    if not found:
        found = _Kept(_in_order(_read(cx, OF_MODELS, ids, here=here)), models, stand["seen"], now)
    _kept.keep(key, found)
    return found.rows


def _brought_up(cx: Cx, kept: _Kept, models: frozenset[UUID], *, here: bool) -> _Kept | None:
    """What is kept with what changed since; none where that is more than is worth reading apart."""
    since = cx.execute(SINCE, [kept.seen]).fetchone()
    sizes = (since["sizes"] or []) if since else [None]
    if since is None or None in sizes or len(sizes) > MANY:
        return None
    rows, new = kept.rows, list(models - kept.models)
    gone = kept.models - models
    if not (sizes or new or gone):
        return replace(kept, seen=since["seen"], at=time.monotonic())
    old = np.isin(_bytes(rows["size"]), np.array([UUID(s).bytes for s in sizes], dtype="S16"))
    old |= np.isin(_bytes(rows["model"]), np.array([m.bytes for m in gone], dtype="S16"))
    parts = [rows[~old]]
    if sizes:
        read = _read(cx, OF_SIZES, [UUID(s) for s in sizes], here=here)
        known = np.array([m.bytes for m in models & kept.models], dtype="S16")
        parts.append(read[np.isin(_bytes(read["model"]), known)])
    if new:
        parts.append(_read(cx, OF_MODELS, new, here=here))
    return _Kept(_in_order(np.concatenate(parts)), models, since["seen"], time.monotonic())


def forget_old(cx: Cx) -> None:
    """Forget what changed before any shelf that is still kept was read."""
    cx.execute("DELETE FROM shelf_change WHERE at < now() - interval '1 day'")


def _bytes(ids: NDArray[np.void]) -> NDArray[np.bytes_]:
    """Ids to be looked up."""
    return np.ascontiguousarray(ids).view("S16")


def _in_order(rows: NDArray[np.void]) -> NDArray[np.void]:
    """By model, label and the line's id."""

    def words(name: str) -> tuple[NDArray[Any], NDArray[Any]]:
        both = np.ascontiguousarray(rows[name]).view(">u8").reshape(-1, 2)
        return both[:, 1], both[:, 0]

    if not len(rows):
        return rows
    return rows[np.lexsort((*words("id"), rows["label"], *words("model")))]


_shoes: Remembered[Shoe] = Remembered(50_000)
"""Shoes each process remembers, by how a model's row and its price last stood."""


_together: Remembered[list[Shoe]] = Remembered(24)
"""All shoes of a sport, by how all of them stood."""
EACH = """
    SELECT m.id, m.xmin::text AS stands, p.now_minor, p.currency FROM shoe_model m
    LEFT JOIN price_now p ON p.model_id = m.id AND p.colour = '' WHERE m.sport = %s ORDER BY m.id
"""
STAND = f"""
    SELECT count(*) AS count,
           md5(string_agg(concat_ws(' ', id, stands, now_minor, currency), ',' ORDER BY id)) AS models,
           (SELECT shop_now()) AS shop, pg_snapshot_xmin(pg_current_snapshot())::text AS seen,
           pg_current_xact_id_if_assigned() IS NOT NULL AS writes
    FROM ({EACH}) s
"""
"""How all models of a sport stand, in one; whose shelf it is, which transactions are seen by now (all before), and
whether this one changes something itself."""


def _each_shoe(cx: Cx, sport: str) -> list[Shoe]:
    """The chain's shoes of a sport at the shop's own prices, by their ids; only what was changed is read anew."""
    stand = cx.execute(EACH, [sport]).fetchall()
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


def _read(cx: Cx, which: LiteralString, ids: list[UUID], *, here: bool) -> NDArray[np.void]:
    """Lines on hand (or sizes not on hand) of some models or sizes as rows of `SHELF_ROW`."""
    what = SHELF.format(id="l.id" if here else "v.id", lines=HERE if here else NOT_HERE, which=which)
    with planned_anew(cx), cx.cursor(binary=True) as cursor:
        found = cursor.execute(what, {"ids": ids}).pgresult
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
