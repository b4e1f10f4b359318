"""Lives learned: what was seen of a chain's pairs, and what follows from it; the learner's work, as the owner."""

from __future__ import annotations

import math
from datetime import UTC, datetime
from uuid import UUID

from psycopg.types.json import Jsonb

from ..core.care.lives import RETIRED_SD, LifeSeen, LivesIn, LivesOut, life, lives
from ..core.care.wear import sighting
from ..core.formats import newest
from .database import Cx, Row
from .pairs import inspections_of, kind_of, reckon_rows, seen

LOCK = 12
AT_ONCE = 500
SEEN = """
    SELECT p.* FROM pair p JOIN shop h ON h.id = p.shop_id
    WHERE h.chain_id = %s AND p.gone_at IS NULL AND (p.ended_why = 'worn_out' OR EXISTS (
        SELECT 1 FROM pair_seen w WHERE w.pair_id = p.id AND w.undone_at IS NULL AND w.worn_share IS NOT NULL))
"""
"""Pairs whose life somebody has seen something of."""


def run_due(cx: Cx) -> int:
    """Learn for the chains in which something was seen; how many pairs were reckoned anew. Commits by itself."""
    with cx.transaction():
        due = cx.execute("SELECT id, chain_id FROM life_due ORDER BY id FOR UPDATE SKIP LOCKED").fetchall()
        for chain in dict.fromkeys(r["chain_id"] for r in due):
            learn(cx, chain)
        cx.execute("DELETE FROM life_due WHERE id = ANY(%s)", [[r["id"] for r in due]])
    return len(due)


def _sighting(row: Row, looked: list[Row]) -> LifeSeen | None:
    """One pair's life, as its end or its inspections tell it; nothing where they tell next to nothing."""
    kind = kind_of(row)
    if row["ended_why"] == "worn_out" and row["worn_h"] > 0:
        return LifeSeen(kind=kind, life_h=row["worn_h"], log_sd=RETIRED_SD)
    found = sighting(life(kind), inspections_of(row, looked))
    return LifeSeen(kind=kind, life_h=math.exp(found[0]), log_sd=found[1]) if found else None


def learn(cx: Cx, chain: UUID) -> LivesOut:
    """Learn a chain's lives anew from all that was seen; what is kept of its pairs follows."""
    cx.execute("SELECT pg_advisory_xact_lock(hashtextextended(%s, %s))", [str(chain), LOCK])
    rows = cx.execute(SEEN, [chain]).fetchall()
    looked = seen(cx, [r["id"] for r in rows])
    sightings = [s for r in rows if (s := _sighting(r, looked[r["id"]]))]
    found = lives(LivesIn(seen=sightings))
    cx.execute(
        "INSERT INTO life_learned (chain_id, version, body, format, seen) "
        "SELECT %s, coalesce(max(version), 0) + 1, %s, %s, %s FROM life_learned WHERE chain_id = %s",
        [chain, Jsonb(found.model_dump(mode="json")), newest("lives"), len(sightings), chain],
    )
    _reckon(cx, chain, found)
    return found


def _reckon(cx: Cx, chain: UUID, known: LivesOut) -> None:
    after: UUID | None = None
    while True:
        rows = cx.execute(
            "SELECT p.* FROM pair p JOIN shop h ON h.id = p.shop_id WHERE h.chain_id = %s AND p.gone_at IS NULL "
            "AND p.ended_on IS NULL AND (%s::uuid IS NULL OR p.id > %s) ORDER BY p.id LIMIT %s FOR UPDATE OF p",
            [chain, after, after, AT_ONCE],
        ).fetchall()
        if not rows:
            return
        reckon_rows(cx, rows, datetime.now(UTC).date(), known)
        after = rows[-1]["id"]
