"""Lives learned: what was seen of a chain's pairs, and what follows from it; the learner's work, as the owner.

What is learned is one transaction that holds no pair. What then is kept of each pair is computed beside it and written
in a short transaction of its own, so that nobody who logs or looks waits for a chain.
"""

from __future__ import annotations

import math
from datetime import UTC, date, datetime
from typing import cast
from uuid import UUID

import structlog
from psycopg import OperationalError
from psycopg.types.json import Jsonb

from ..core.care.lives import RETIRED_SD, LifeSeen, LivesIn, LivesOut, life, lives
from ..core.care.wear import sighting
from ..core.formats import newest
from . import house
from .database import Cx, Row
from .pairs import PAIR, inspections_of, kind_of, lives_of, otherwise, reckon_rows, seen
from .parked import Parked, park, unpark

log = structlog.get_logger()

LOCK = 12
AT_ONCE = 500
SEEN = (
    PAIR
    + """
    JOIN shop h ON h.id = p.shop_id
    WHERE h.chain_id = %s AND p.gone_at IS NULL AND (p.ended_on IS NULL OR p.ended_why = 'worn_out')
"""
)
"""Pairs that tell something of a life: worn out, or in use still. Lost and given away ones say nothing."""
LEAST_MODELS = 10
"""From so many models of a sport on, a shelf knows what its pairs usually cost. House default."""
PRICES = """
    INSERT INTO shop_price (shop_id, sport, currency, price_minor, models)
    SELECT %(shop)s, sport, %(currency)s, percentile_cont(0.5) WITHIN GROUP (ORDER BY price_minor), count(*)
    FROM (SELECT DISTINCT m.id, m.sport, p.price_minor FROM stock_line l JOIN variant v ON v.id = l.variant_id
          JOIN shoe_model m ON m.id = v.model_id
          JOIN model_price p ON p.shop_id = l.shop_id AND p.model_id = m.id AND p.colour = ''
          WHERE l.shop_id = %(shop)s AND l.on_hand > 0 AND p.price_minor > 0 AND p.currency = %(currency)s) m
    GROUP BY sport HAVING count(*) >= %(least)s
"""


def run_due(cx: Cx) -> int:
    """Learn for the chains in which something was seen; how many pairs were reckoned anew. Commits by itself."""
    refresh_prices(cx)
    count = _pairs_due(cx)
    due = cx.execute("SELECT id, chain_id FROM life_due ORDER BY id").fetchall()
    for chain in dict.fromkeys(r["chain_id"] for r in due):
        given = [str(chain), LOCK]
        mine = cx.execute("SELECT pg_try_advisory_lock(hashtextextended(%s, %s)) AS mine", given).fetchone()
        if not (mine and mine["mine"]):
            continue
        try:
            count += _of_chain(cx, chain, [r["id"] for r in due if r["chain_id"] == chain])
        finally:
            cx.execute("SELECT pg_advisory_unlock(hashtextextended(%s, %s))", given)
    return count


def _pairs_due(cx: Cx) -> int:
    """Reckon anew the pairs whose hours changed; how many. Each in a transaction of its own."""
    due = cx.execute("SELECT id, pair_id FROM pair_due ORDER BY id LIMIT %s", [AT_ONCE]).fetchall()
    for pair in dict.fromkeys(r["pair_id"] for r in due):
        try:
            with cx.transaction():
                _reckon(cx, pair)
        except OperationalError:
            raise
        except Exception as error:
            # One pair that can't be reckoned keeps what is known of it, and no other from being reckoned.
            log.error("not reckoned", pair=str(pair), kind=type(error).__name__)
        cx.execute("DELETE FROM pair_due WHERE id = ANY(%s)", [[r["id"] for r in due if r["pair_id"] == pair]])
    return len(due)


def _reckon(cx: Cx, pair: UUID) -> None:
    for row in cx.execute(PAIR + "WHERE p.id = %s FOR NO KEY UPDATE OF p", [pair]).fetchall():
        chain = cx.execute("SELECT chain_id FROM shop WHERE id = %s", [row["shop_id"]]).fetchone()
        reckon_rows(cx, [row], datetime.now(UTC).date(), lives_of(cx, cast(Row, chain)["chain_id"]))


def _of_chain(cx: Cx, chain: UUID, due: list[int]) -> int:
    still = [r["id"] for r in cx.execute("SELECT id FROM life_due WHERE id = ANY(%s)", [due]).fetchall()]
    if not still:
        return 0  # another learner was quicker
    what = Parked("lives", chain=chain)
    try:
        with cx.transaction():
            found = learn(cx, chain)
            unpark(cx, what)
        reckon_chain(cx, chain, found)
    except OperationalError:
        raise
    except Exception as error:
        park(cx, what, error)
    cx.execute("DELETE FROM life_due WHERE id = ANY(%s)", [still])
    return len(still)


def refresh_prices(cx: Cx) -> int:
    """What pairs usually cost, shop by shop, once a day; in how many shops it was looked at. Commits by itself."""
    old = "SELECT id, chain_id FROM shop WHERE priced_at IS NULL OR priced_at < now() - interval '1 day' ORDER BY id"
    shops = cx.execute(old).fetchall()
    for row in shops:
        try:
            _refresh(cx, row)
        except OperationalError:
            raise
        except Exception as error:
            # What is usual in one shop isn't known today; the others' is, and it is looked at again tomorrow.
            log.error("prices not looked at", shop=str(row["id"]), kind=type(error).__name__)
            cx.execute("UPDATE shop SET priced_at = now() WHERE id = %s", [row["id"]])
    return len(shops)


def _refresh(cx: Cx, row: Row) -> None:
    with cx.transaction():
        currency = house.newest_of(cx, row["id"]).currency
        before = _prices(cx, row["id"])
        cx.execute("DELETE FROM shop_price WHERE shop_id = %s", [row["id"]])
        cx.execute(PRICES, {"shop": row["id"], "currency": currency, "least": LEAST_MODELS})
        cx.execute("UPDATE shop SET priced_at = now() WHERE id = %s", [row["id"]])
        if before != _prices(cx, row["id"]):
            cx.execute("INSERT INTO life_due (chain_id) VALUES (%s)", [row["chain_id"]])


def _prices(cx: Cx, shop_id: UUID) -> list[Row]:
    return cx.execute(
        "SELECT sport, currency, price_minor FROM shop_price WHERE shop_id = %s ORDER BY sport", [shop_id]
    ).fetchall()


def _sighting(row: Row, looked: list[Row]) -> LifeSeen | None:
    """One pair's life, as its end, its inspections and its hours so far tell it; nothing of one hardly worn."""
    kind = kind_of(row)
    if row["ended_why"] == "worn_out":
        return LifeSeen(kind=kind, life_h=row["worn_h"], log_sd=RETIRED_SD) if row["worn_h"] > 0 else None
    found = sighting(life(kind), inspections_of(row, looked))
    lasts = row["worn_h"] if row["worn_h"] > 0 else None
    if found:
        return LifeSeen(kind=kind, life_h=math.exp(found[0]), log_sd=found[1], lasts_beyond_h=lasts)
    return LifeSeen(kind=kind, lasts_beyond_h=lasts) if lasts else None


def _seen(row: Row, looked: list[Row]) -> LifeSeen | None:
    """The same; of a pair that can't be read nothing, and it keeps no other from being learned from."""
    try:
        return _sighting(row, looked)
    except Exception as error:
        log.error("not learned from", what="pair", pair=str(row["id"]), kind=type(error).__name__)
        return None


def learn(cx: Cx, chain: UUID) -> LivesOut:
    """Learn a chain's lives anew from all that was seen: a new version."""
    rows = cx.execute(SEEN, [chain]).fetchall()
    looked = seen(cx, [r["id"] for r in rows])
    sightings = [s for r in rows if (s := _seen(r, looked[r["id"]]))]
    found = lives(LivesIn(seen=sightings))
    cx.execute(
        "INSERT INTO life_learned (chain_id, version, body, format, seen) "
        "SELECT %s, coalesce(max(version), 0) + 1, %s, %s, %s FROM life_learned WHERE chain_id = %s",
        [chain, Jsonb(found.model_dump(mode="json")), newest("lives"), sum(s.life_h is not None for s in sightings),
         chain],
    )  # fmt: skip
    return found


def _otherwise(cx: Cx, rows: list[Row], today: date, known: LivesOut) -> list[UUID]:
    """Which pairs come out otherwise now; where one can't be reckoned, the others one by one."""
    try:
        return list(otherwise(cx, rows, today, known))
    except OperationalError:
        raise
    except Exception as error:
        if len(rows) == 1:
            log.error("not reckoned", pair=str(rows[0]["id"]), kind=type(error).__name__)
            return []
    return [pair for row in rows for pair in _otherwise(cx, [row], today, known)]


def reckon_chain(cx: Cx, chain: UUID, known: LivesOut) -> int:
    """Bring what is kept of a chain's pairs in use up to what is known of lives; how many changed. Each pair is locked
    for its own write alone, and looked at again then. Commits by itself."""
    after: UUID | None = None
    today, changed = datetime.now(UTC).date(), 0
    while True:
        rows = cx.execute(
            PAIR + "JOIN shop h ON h.id = p.shop_id WHERE h.chain_id = %s AND p.gone_at IS NULL "
            "AND p.ended_on IS NULL AND (%s::uuid IS NULL OR p.id > %s) ORDER BY p.id LIMIT %s",
            [chain, after, after, AT_ONCE],
        ).fetchall()
        if not rows:
            return changed
        for pair in _otherwise(cx, rows, today, known):
            with cx.transaction():
                now = cx.execute(PAIR + "WHERE p.id = %s AND p.gone_at IS NULL AND p.ended_on IS NULL "
                                 "FOR NO KEY UPDATE OF p", [pair]).fetchall()  # fmt: skip
                changed += reckon_rows(cx, now, today, known)
        after = rows[-1]["id"]
