"""What the chain has learned, as a fitting sees it: the book of the version it was begun under."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import Any
from uuid import UUID

import numpy as np

from ..core.fit.foot import FIT_ZONES, MEASURES
from ..core.learn.book import Book, Zones, laid_over
from ..core.learn.offsets import Learned
from ..core.match.shelf import Shelf, Shoe
from .catalogue import SIGMAS
from .database import Cx, Row

NOTHING = Book()
NOW = """
    SELECT l.* FROM learned l
    JOIN (SELECT v.chain_id, m.maker, max(v.version) AS version FROM learned_version v, unnest(v.makers) m (maker)
          GROUP BY 1, 2) n ON n.chain_id = l.chain_id AND n.maker = l.maker AND n.version = l.version
"""
"""What stands now, maker by maker; a maker whose evidence was all taken back has nothing."""
AT = """
    SELECT l.maker, l.model_id, l.variant_id, l.zone, l.mean_mm, l.sd_mm, l.seen FROM learned l
    JOIN (SELECT m.maker, max(v.version) AS version FROM learned_version v, unnest(v.makers) m (maker)
          WHERE v.chain_id = {chain} AND v.version <= %(version)s GROUP BY m.maker) newest
        ON newest.maker = l.maker AND newest.version = l.version
    WHERE l.chain_id = {chain} AND (l.model_id IS NULL OR l.model_id = ANY(%(models)s))
"""
"""The rows that stood at a version, for some models and every maker; under row security, of the own chain."""
GIVE_AT = """
    SELECT g.kind, g.model_id, g.log_mean, g.log_sd, g.seen FROM learned_give g
    WHERE g.chain_id = {chain} AND g.version = (SELECT max(version) FROM learned_give
                                                WHERE chain_id = {chain} AND version <= %(version)s)
      AND g.model_id = ANY(%(models)s)
"""
CHAIN = "(SELECT chain_id FROM shoe_model WHERE id = ANY(%(models)s) LIMIT 1)"
"""The chain the models are of; the learner, who is under no row security, sees several."""
LINES_HERE = """
    SELECT v.model_id AS model, l.id AS line, v.id FROM stock_line l JOIN variant v ON v.id = l.variant_id
    WHERE l.variant_id = ANY(%s)
"""
LINES = "SELECT model_id AS model, id AS line, id FROM variant WHERE id = ANY(%s)"
"""Of sizes something is known of: their models, and what their lines on a shelf are called."""


def newest(cx: Cx) -> int:
    """The newest version of what the chain has learned; nought where nothing is."""
    row = cx.execute("SELECT coalesce(max(version), 0) AS version FROM learned_version").fetchone()
    return int(row["version"]) if row else 0


def _put(into: dict[str, Zones], key: str, row: Row) -> None:
    zone = FIT_ZONES.index(row["zone"])
    into.setdefault(key, {})[zone] = Learned(mean_mm=row["mean_mm"], sd_mm=row["sd_mm"])


def book(cx: Cx, version: int, models: Sequence[str]) -> Book:
    """What was known of some models at a version."""
    if version < 1:
        return NOTHING
    given: dict[str, Any] = {"version": version, "models": [UUID(m) for m in models]}
    makers: dict[str, Zones] = {}
    of_model: dict[str, Zones] = {}
    sizes: dict[str, Zones] = {}
    for row in cx.execute(AT.format(chain=CHAIN), given).fetchall():
        if row["variant_id"]:
            _put(sizes, str(row["variant_id"]), row)
        elif row["model_id"]:
            _put(of_model, str(row["model_id"]), row)
        else:
            _put(makers, row["maker"], row)
    gives = {
        str(row["model_id"]): math.exp(row["log_mean"])
        for row in cx.execute(GIVE_AT.format(chain=CHAIN), given).fetchall()
    }
    return Book(version, makers, of_model, sizes, gives)


def on_rows(cx: Cx, version: int, rows: Sequence[Row]) -> list[Row]:
    """Rows of sizes with what was learned of them laid over; `gives` says how much they give against the table."""
    if version < 1 or not rows:
        return [row | {"gives": 1.0} for row in rows]
    known = book(cx, version, sorted({str(r["model_id"]) for r in rows}))
    found = []
    for row in rows:
        size, model = str(row.get("variant_id") or row["id"]), str(row["model_id"])
        changed: Row = {"gives": known.gives.get(model, 1.0)}
        for zone, (mm, sigma) in enumerate(zip(MEASURES, SIGMAS, strict=True)):
            changed[mm], changed[sigma] = known.of_size(size, row["maker"], model, zone, row[mm], row[sigma])
        found.append(row | changed)
    return found


def on_shelf(
    cx: Cx, version: int, shoes: Sequence[Shoe], shelf: Shelf, *, here: bool = True
) -> tuple[list[Shoe], Shelf]:
    """A shelf with what was learned laid over. Its lines are this shop's, or (not `here`) sizes of the range."""
    if version < 1 or not shoes:
        return list(shoes), shelf
    known = book(cx, version, [s.id for s in shoes])
    rows: dict[int, str] = {}
    if known.sizes:
        sizes = {UUID(s) for s in known.sizes}
        found = cx.execute(LINES_HERE if here else LINES, [list(sizes)]).fetchall()
        named = {str(r["line"]): str(r["id"]) for r in found}
        models = {str(r["model"]) for r in found}
        places = [i for i, s in enumerate(shoes) if s.id in models]
        for row in np.flatnonzero(np.isin(shelf.shoe, places)):
            if size := named.get(str(shelf.line_ids[int(row)])):
                rows[int(row)] = size
    return laid_over(shoes, shelf, known, rows)
