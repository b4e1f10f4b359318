"""What the chain has learned, as a fitting sees it: the book of the version it was begun under."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import replace
from typing import Literal
from uuid import UUID

import numpy as np

from ..core.fit.foot import FIT_ZONES, MEASURES
from ..core.learn.given import Learned
from ..core.learn.inside import Book, Floats, Habits, Read, Shelved, insides
from ..core.learn.said import Heard
from ..core.match.shelf import Shelf, Shoe
from ..core.remembered import Remembered
from ..core.shoes.inner import ShoeReading, as_one, read_of
from .catalogue import LABELS, READ, READ_SIGMAS, SIGMAS
from .database import Cx, Row

NOTHING = Book()
NOW = """
    SELECT l.* FROM learned l
    JOIN (SELECT chain_id, maker, max(version) AS version FROM learned_maker GROUP BY 1, 2) n
        ON n.chain_id = l.chain_id AND n.maker = l.maker AND n.version = l.version
"""
"""What stands now, maker by maker; a maker whose evidence was all taken back has nothing."""
CHAIN = "(SELECT chain_id FROM shoe_model WHERE id = ANY(%(models)s) LIMIT 1)"
"""The chain the models are of; the learner, who is under no row security, sees several."""
VERSION = f"coalesce(%(version)s, (SELECT max(version) FROM learned_version WHERE chain_id = {CHAIN}))"
"""The version asked for, or the newest."""
AT = f"""
    SELECT l.maker, l.model_id, l.variant_id, l.zone, l.mean_mm, l.sd_mm, l.seen, false AS gives
    FROM (SELECT DISTINCT chain_id, maker FROM shoe_model WHERE id = ANY(%(models)s)) m
    CROSS JOIN LATERAL (SELECT max(k.version) AS version FROM learned_maker k WHERE k.chain_id = m.chain_id
                        AND k.maker = m.maker AND k.version <= {VERSION}) n
    JOIN learned l ON l.chain_id = m.chain_id AND l.maker = m.maker AND l.version = n.version
    WHERE l.model_id IS NULL OR l.model_id = ANY(%(models)s)
    UNION ALL
    (SELECT DISTINCT ON (g.kind, g.model_id) '', g.model_id, NULL, g.kind, g.log_mean, g.log_sd, g.seen, true
     FROM learned_give g WHERE g.chain_id = {CHAIN} AND g.version <= {VERSION} AND g.model_id = ANY(%(models)s)
     ORDER BY g.kind, g.model_id, g.version DESC)
"""
"""The rows that stood at a version, of some models and their makers; under row security, of the own chain."""
SINCE = f"""
    WITH made AS MATERIALIZED (
            SELECT chain_id, at FROM learned_version WHERE chain_id = {CHAIN} AND version = {VERSION}),
        changed AS MATERIALIZED (
            SELECT r.variant_id FROM made v JOIN shoe_reading r ON r.chain_id = v.chain_id AND r.at > v.at
            UNION
            SELECT r.variant_id FROM made v JOIN shoe_reading r ON r.chain_id = v.chain_id AND r.set_aside_at > v.at)
    SELECT r.* FROM made v, changed c CROSS JOIN LATERAL (
        SELECT r.variant_id, r.zone, r.mm, r.sigma_mm, r.source,
               (r.at IS NULL OR r.at <= v.at) AND (r.set_aside_at IS NULL OR r.set_aside_at > v.at)
               AND (r.last = '' OR m.last = '' OR r.last = m.last) AS stood
        FROM shoe_reading r JOIN variant s ON s.id = r.variant_id JOIN shoe_model m ON m.id = s.model_id
        WHERE r.variant_id = c.variant_id AND s.model_id = ANY(%(models)s) OFFSET 0) r
"""
"""Readings of sizes of which some came or went since a version, and whether each stood then."""
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


def _put(into: dict[str, dict[int, Learned]], key: str, row: Row) -> None:
    zone = FIT_ZONES.index(row["zone"])
    into.setdefault(key, {})[zone] = Learned(mean_mm=row["mean_mm"], sd_mm=row["sd_mm"])


def book(cx: Cx, version: int | None, models: Sequence[str]) -> Book:
    """What was known of some models at a version (none: the newest)."""
    if version == 0 or not models:
        return NOTHING
    if version is None:
        return _book(cx, None, models)
    return _books.of((version, tuple(models)), lambda: _book(cx, version, models))


_books: Remembered[Book] = Remembered(200)
"""What was known at a version never changes, and a model is of one chain; each process remembers some."""


def _book(cx: Cx, version: int | None, models: Sequence[str]) -> Book:
    given = {"version": version, "models": [UUID(m) for m in models]}
    makers: dict[str, dict[int, Learned]] = {}
    of_model: dict[str, dict[int, Learned]] = {}
    sizes: dict[str, dict[int, Learned]] = {}
    gives: dict[str, float] = {}
    for row in sorted(cx.execute(AT, given).fetchall(), key=lambda r: r["seen"]):
        if row["gives"]:
            gives[str(row["model_id"])] = math.exp(row["mean_mm"])  # of two kinds, the one more was seen of
        elif row["variant_id"]:
            _put(sizes, str(row["variant_id"]), row)
        elif row["model_id"]:
            _put(of_model, str(row["model_id"]), row)
        else:
            _put(makers, row["maker"], row)
    return Book(makers, of_model, sizes, gives)


def _numbers(rows: Sequence[Row], names: Sequence[str]) -> Floats:
    """Columns of rows, (n, 4); NaN where there is none."""
    return np.array([[r[n] for n in names] for r in rows], dtype=float).reshape(-1, len(names))


def _read(rows: Sequence[Row]) -> Read:
    return Read(_numbers(rows, READ), _numbers(rows, READ_SIGMAS))


def _then(now: Read, changed: dict[str, list[Row]], sizes: Mapping[int, str]) -> Read:
    """Readings as they were when a version was made; `sizes` names the rows that changed since, or were tried."""
    moved = [(row, changed[size]) for row, size in sizes.items() if size in changed]
    if not moved:
        return now
    then = Read(now.mm.copy(), now.sigma.copy())
    for row, kept in moved:
        readings = [ShoeReading(**{n: r[n] for n in ("zone", "mm", "sigma_mm", "source")}) for r in kept if r["stood"]]
        for zone in range(len(FIT_ZONES)):
            parts = read_of(readings, zone)
            then.mm[row, zone], then.sigma[row, zone] = as_one(parts) if parts else (np.nan, np.nan)
    return then


def _since(cx: Cx, version: int | None, models: Sequence[str]) -> dict[str, list[Row]]:
    """All readings of those sizes of some models of which one was read or set aside after a version was made."""
    if version == 0 or not models:
        return {}
    given = {"version": version, "models": [UUID(m) for m in models]}
    found: dict[str, list[Row]] = {}
    for row in cx.execute(SINCE, given).fetchall():
        found.setdefault(str(row["variant_id"]), []).append(row)
    return found


def on_rows(cx: Cx, version: int | None, rows: Sequence[Row]) -> list[Row]:
    """Rows of sizes with their insides at a version (none: the newest), the one inside there is of each; `gives` says
    how much they give against the table, `known_from` what their length is read with, or else rests on."""
    if not rows:
        return []
    models = sorted({str(r["model_id"]) for r in rows})
    known = book(cx, version, models)
    names = {i: str(r.get("variant_id") or r["id"]) for i, r in enumerate(rows)}
    now = _read(rows)
    then = _then(now, _since(cx, version, models), names)
    shoes = {(r["maker"], str(r["model_id"])): None for r in rows}
    place = {shoe: i for i, shoe in enumerate(shoes)}
    at = np.array([place[r["maker"], str(r["model_id"])] for r in rows])
    habits = Habits.of(known, list(shoes), at, names)
    inner, sigma = insides(_numbers(rows, LABELS), now, then, habits)
    by_habit = np.isnan(now.sigma[:, 0]) & ~(np.isnan(habits.tried_sd[:, 0]) & np.isnan(habits.sd[:, 0]))
    return [
        r
        | dict(zip((*MEASURES, *SIGMAS), (*inner[i].round(2).tolist(), *sigma[i].round(3).tolist()), strict=True))
        | {"gives": known.gives.get(str(r["model_id"]), 1.0)}
        | ({"known_from": "learned"} if by_habit[i] else {})
        for i, r in enumerate(rows)
    ]


def heard(cx: Cx, row: Row) -> dict[str, Heard]:
    """How much is learned of a size by now, zone by zone; nothing where nobody knows its maker."""
    rows = cx.execute(AT, {"version": None, "models": [row["model_id"]]}).fetchall()
    found: dict[str, Heard] = {}
    for r in sorted(rows, key=lambda r: (r["variant_id"] is not None, r["model_id"] is not None)):
        if r["gives"] or r["maker"] != row["maker"] or (r["variant_id"] and r["variant_id"] != row["id"]):
            continue
        of: Literal["size", "model", "maker"] = "size" if r["variant_id"] else "model" if r["model_id"] else "maker"
        found[r["zone"]] = Heard(of, r["seen"])
    return found


def on_row(cx: Cx, version: int | None, row: Row) -> Row:
    """One of them."""
    (found,) = on_rows(cx, version, [row])
    return found


def on_shelf(
    cx: Cx, version: int, shoes: Sequence[Shoe], kept: Shelved, *, here: bool = True
) -> tuple[list[Shoe], Shelf]:
    """Lines as a shelf, with their insides at a version: this shop's lines, or (not `here`) sizes of the range."""
    models = [s.id for s in shoes]
    known, changed = book(cx, version, models), _since(cx, version, models)
    rows: dict[int, str] = {}
    if named := {*known.sizes, *changed}:
        found = cx.execute(LINES_HERE if here else LINES, [[UUID(s) for s in named]]).fetchall()
        size_of = {str(r["line"]): str(r["id"]) for r in found}
        of = {str(r["model"]) for r in found}
        places = [i for i, s in enumerate(shoes) if s.id in of]
        for row in np.flatnonzero(np.isin(kept.shoe, places)):
            if size := size_of.get(str(kept.line_ids[int(row)])):
                rows[int(row)] = size
    given = [replace(s, gives=known.gives[s.id]) if s.id in known.gives else s for s in shoes]
    then = _then(kept.read, changed, rows)
    return given, kept.with_insides(known, [(s.maker, s.id) for s in shoes], rows, then)
