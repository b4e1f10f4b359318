"""What a shop keeps for all its fittings: its clock, and what is usual among its own feet."""

from __future__ import annotations

from datetime import UTC, date, datetime, timedelta, tzinfo
from functools import cache
from zoneinfo import ZoneInfo, available_timezones

from psycopg.types.json import Jsonb

from ..core.contract import SIDES
from ..core.feet.gauge import Norms, recentred
from ..core.house import House
from .database import Cx, Who

COUNT_AGAIN = timedelta(hours=6)
SAMPLE = 400
"""Newest fittings looked at for the norm."""


@cache
def known_zones() -> frozenset[str]:
    """Every time zone there is by name."""
    return frozenset(available_timezones())


def zone_of(house: House) -> tzinfo:
    """The shop's time zone; UTC where this machine doesn't know the name."""
    return ZoneInfo(house.time_zone) if house.time_zone in known_zones() else UTC


def day_of(moment: datetime, zone: tzinfo) -> date:
    """The shop's day of a moment."""
    return moment.astimezone(zone).date()


def today(zone: tzinfo) -> date:
    """The shop's day now."""
    return datetime.now(zone).date()


def norms(cx: Cx) -> Norms | None:
    """The norm as last counted; none before the first fitting."""
    row = cx.execute("SELECT body FROM shop_norm").fetchone()
    return norms_from(row["body"]) if row else None


def norms_from(body: dict[str, list[float]] | None) -> Norms | None:
    """The norm from how it is stored."""
    return {name: (pair[0], pair[1]) for name, pair in body.items()} if body else None


def count_norms(cx: Cx, who: Who, *, now: bool = False) -> None:
    """Count the shop's newest feet for its norm, unless that was done lately."""
    fresh = cx.execute("SELECT 1 FROM shop_norm WHERE counted_at > now() - %s", [COUNT_AGAIN]).fetchone()
    if fresh and not now:
        return
    counted = {name: list(pair) for name, pair in recentred(girth_shares(cx)).items()}
    cx.execute(
        "INSERT INTO shop_norm (shop_id, body) VALUES (%s, %s) "
        "ON CONFLICT (shop_id) DO UPDATE SET body = excluded.body, counted_at = now()",
        [who.shop_id, Jsonb(counted)],
    )


def girth_shares(cx: Cx, limit: int = SAMPLE) -> dict[str, list[float]]:
    """Girths as shares of length over the newest gauge numbers of the shop's athletes, one fitting each."""
    rows = cx.execute(
        """
        SELECT f.athlete_id, p.body
        FROM (SELECT id, athlete_id, opened_at FROM fitting WHERE shop_id = (SELECT shop_now())
              ORDER BY opened_at DESC, id DESC LIMIT %s) f
        JOIN fitting_part p ON p.fitting_id = f.id AND p.part = 'feet' ORDER BY f.opened_at DESC, f.id DESC
        """,
        [limit],
    ).fetchall()
    found: dict[str, list[float]] = {"ball_girth_mm": [], "instep_girth_mm": []}
    seen = set()
    for row in rows:
        shares = {
            name: [
                foot[name] / foot["length_mm"]
                for side in SIDES
                if (foot := row["body"].get(side) or {}).get(name) and foot.get("length_mm")
            ]
            for name in found
        }
        if row["athlete_id"] in seen or not any(shares.values()):
            continue
        seen.add(row["athlete_id"])
        for name, own in shares.items():
            found[name] += own
    return found
