"""People who never said a name, forgotten when the house's days are over."""

from __future__ import annotations

from datetime import date, tzinfo
from uuid import UUID

import structlog
from psycopg import Error, OperationalError

from ..core.care.unnamed import forgotten_on
from ..core.house import House
from . import house
from .database import Cx, Row
from .orders import OPEN
from .shop import today, zone_of

log = structlog.get_logger()
SEEN = """
    SELECT a.id, a.shop_id, coalesce(f.opened_by, c.staff_id) AS by, u.due_on,
           greatest(a.unnamed_since, f.touched_at, o.changed_at) AS seen_at
    FROM athlete a
    LEFT JOIN LATERAL (SELECT opened_by, max(touched_at) OVER () AS touched_at FROM fitting WHERE athlete_id = a.id
                       ORDER BY opened_at LIMIT 1) f ON true
    LEFT JOIN LATERAL (SELECT staff_id FROM change WHERE athlete_id = a.id ORDER BY id LIMIT 1) c ON true
    LEFT JOIN LATERAL (SELECT max(o.changed_at) AS changed_at FROM shoe_order o JOIN fitting v ON v.id = o.fitting_id
                       WHERE v.athlete_id = a.id) o ON true
    LEFT JOIN LATERAL (SELECT max(u.due_on) AS due_on FROM follow_up u JOIN fitting v ON v.id = u.fitting_id
                       WHERE v.athlete_id = a.id AND u.done_at IS NULL AND u.withdrawn_at IS NULL) u ON true
    WHERE a.unnamed_since IS NOT NULL AND a.merged_into IS NULL AND {which}
"""
"""People without a name: when they, or a pair ordered for them, were last worked with, and until when something of
theirs is due."""
FORGETTABLE = f"""
    NOT EXISTS (SELECT 1 FROM athlete_merge m WHERE m.kept_id = a.id AND m.undone_at IS NULL)
    AND NOT EXISTS (SELECT 1 FROM shoe_order o JOIN fitting v ON v.id = o.fitting_id WHERE v.athlete_id = a.id
                    AND o.state IN ({", ".join(f"'{s}'" for s in OPEN)}))
    AND NOT EXISTS (SELECT 1 FROM reservation r WHERE r.athlete_id = a.id AND r.ended_at IS NULL AND r.until > now())
"""
"""Of whom no record was put together with another's, and who waits for no pair."""


def _on(row: Row, keeps: House, zone: tzinfo) -> date:
    return forgotten_on(row["seen_at"].astimezone(zone).date(), row["due_on"], keeps["people.unnamed_days"])


def when_forgotten(cx: Cx, athlete_id: UUID) -> date | None:
    """The day somebody without a name is forgotten; none for who has one, or is kept for what they wait for."""
    row = cx.execute(SEEN.format(which=f"a.id = %s AND {FORGETTABLE}"), [athlete_id]).fetchone()
    keeps = house.current(cx)
    return _on(row, keeps, zone_of(keeps)) if row else None


def _is_over(row: Row, keeps: House) -> bool:
    zone = zone_of(keeps)
    return _on(row, keeps, zone) <= today(zone)


def _forget(cx: Cx, athlete_id: UUID, keeps: House) -> bool:
    """Forget one, unless somebody named or worked with them meanwhile; whether it was done."""
    cx.execute("SELECT hold_athlete(%s)", [athlete_id])
    row = cx.execute(SEEN.format(which=f"a.id = %s AND {FORGETTABLE}"), [athlete_id]).fetchone()
    if not row or not _is_over(row, keeps):
        return False
    cx.execute("SELECT athlete_forget(%s, %s, %s)", [athlete_id, row["shop_id"], row["by"]])
    return True


def forget_due(cx: Cx) -> int:
    """Forget whoever's days are over, in every shop, each in a transaction of its own; how many were. The connection
    must own the tables."""
    count = 0
    for row in cx.execute(SEEN.format(which=FORGETTABLE)).fetchall():
        keeps = house.newest_of(cx, row["shop_id"])
        if not _is_over(row, keeps):
            continue
        try:
            with cx.transaction():
                count += _forget(cx, row["id"], keeps)
        except OperationalError:
            raise
        except Error as error:  # one that can't be keeps no other
            log.warning("couldn't forget", athlete=str(row["id"]), kind=type(error).__name__)
    return count
