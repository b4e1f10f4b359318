"""The bench's day: what stands in it, what was done or put off, and calendars of it by secret links."""

from __future__ import annotations

import secrets
from collections.abc import Callable
from datetime import date, datetime
from typing import Any
from uuid import UUID

from ..core.care.day import BEGIN, KINDS, waits_at
from ..core.errors import BadInput, Conflict, NotFound, read
from ..core.feet.gauge import Feet
from ..core.feet.usual import can_size
from ..core.rules.brief import BriefDraft, still_to_ask
from . import fittings
from .audit import once, used_elsewhere
from .database import Cx, Pool, Row, Who, transaction
from .links import Over, TooOften
from .staff import digest

AHEAD_DAYS = 28


def items(cx: Cx, who: Who, today: date, until: date, since: datetime) -> list[Row]:
    """What stands in the day, with whether it was put off until when; of what is `done`, only what was marked so
    since then."""
    rows = cx.execute(
        "SELECT i.*, s.name AS staff, m.until, m.id AS mark_id, m.id IS NOT NULL AND m.until IS NULL AS done "
        "FROM day_now(%s, %s) i "
        "LEFT JOIN staff s ON s.id = i.staff_id LEFT JOIN LATERAL (SELECT id, until, at FROM day_mark d "
        "WHERE d.shop_id = %s AND d.key = i.key AND d.undone_at IS NULL ORDER BY d.at DESC LIMIT 1) m ON true "
        "WHERE m.id IS NULL OR m.until IS NOT NULL OR m.at >= %s",
        [today, until, who.shop_id, since],
    ).fetchall()
    return [r | {"detail": _left_open(r["detail"])} if r["kind"] == "open" else r for r in rows]


def _left_open(detail: dict[str, Any]) -> dict[str, Any]:
    """What is told of a fitting left open, from its parts as they are kept."""
    feet, brief, trial = (fittings.kept_body(part, detail.pop(part)) for part in ("feet", "brief", "trial"))
    done = {
        "feet": detail.pop("captured") or _reads(lambda: can_size(read(Feet, feet))),
        "brief": _reads(lambda: not still_to_ask(read(BriefDraft, brief))),
        "pull": detail.pop("pulled"),
        "trial": fittings.passed(trial),
    }
    told = {"sport": brief.get("sport"), "event_on": brief.get("event_on"), "station": waits_at(done)}
    return detail | told


def _reads(done: Callable[[], bool]) -> bool:
    """Whether something is done; what no longer reads isn't, and keeps nobody else's matters from being told."""
    try:
        return done()
    except BadInput:
        return False


def still_to_do(cx: Cx) -> list[str]:
    """What a shop hasn't done of what every shop does in its first days, by the keys of `core.care.day.BEGIN`: neither
    by what is here nor by anybody's mark. A shop's first house is the one it was made with."""
    rows = cx.execute(
        "SELECT b.key FROM unnest(%s::text[]) WITH ORDINALITY AS b (key, place) WHERE NOT CASE b.key "
        "WHEN 'begin:list' THEN EXISTS (SELECT 1 FROM stock_line) "
        "WHEN 'begin:house' THEN EXISTS (SELECT 1 FROM house_version WHERE version > 1) "
        "WHEN 'begin:people' THEN (SELECT count(*) FROM (SELECT 1 FROM staff WHERE active LIMIT 2) s) > 1 "
        "WHEN 'begin:tablet' THEN EXISTS (SELECT 1 FROM tablet WHERE ended_at IS NULL) "
        "ELSE false END AND NOT EXISTS (SELECT 1 FROM day_mark d WHERE d.shop_id = shop_now() AND d.key = b.key "
        "AND d.undone_at IS NULL AND d.until IS NULL) ORDER BY b.place",
        [list(BEGIN)],
    ).fetchall()
    return [r["key"] for r in rows]


def mark(cx: Cx, who: Who, mark_id: UUID, key: str, until: date | None) -> None:
    """A matter is done, or put off until a day. The same id again changes nothing."""
    once(cx, mark_id)
    told = cx.execute("SELECT key FROM day_mark WHERE id = %s", [mark_id]).fetchone()
    if told:
        if told["key"] != key:
            raise used_elsewhere()
        return
    cx.execute(
        "INSERT INTO day_mark (id, shop_id, key, until, staff_id) VALUES (%s, %s, %s, %s, %s)",
        [mark_id, who.shop_id, key, until, who.staff_id],
    )


def unmark(cx: Cx, mark_id: UUID) -> None:
    """It isn't done, or not put off, after all. Again is no change. Raises `NotFound`."""
    gone = cx.execute("UPDATE day_mark SET undone_at = coalesce(undone_at, now()) WHERE id = %s", [mark_id]).rowcount
    if not gone:
        raise NotFound("There is no such mark here.")


# --- calendars


def feeds(cx: Cx, who: Who) -> list[Row]:
    """The calendars that somebody has given out and not ended; a manager sees everybody's."""
    return cx.execute(
        "SELECT d.id, d.whole, d.made_at, d.until, d.staff_id = %(me)s AS mine, s.name AS by FROM day_feed d "
        "JOIN staff s ON s.id = d.staff_id WHERE d.ended_at IS NULL AND d.until > now() "
        "AND (%(all)s OR d.staff_id = %(me)s) "
        "ORDER BY d.staff_id <> %(me)s, s.name, d.made_at",
        {"me": who.staff_id, "all": who.role == "manager"},
    ).fetchall()


MOST_FEEDS = 6


def make_feed(cx: Cx, who: Who, feed_id: UUID, *, whole: bool) -> str:
    """A calendar by a secret, which is given back this once. Raises `Conflict` for an id sent before."""
    once(cx, feed_id)
    if cx.execute("SELECT 1 FROM day_feed WHERE id = %s", [feed_id]).fetchone():
        raise used_elsewhere()
    if sum(f["mine"] for f in feeds(cx, who)) >= MOST_FEEDS:
        raise Conflict("That are many calendars: end one first.", code="too-many")
    token = secrets.token_urlsafe(32)
    cx.execute(
        "INSERT INTO day_feed (id, shop_id, staff_id, whole, token_hash) VALUES (%s, %s, %s, %s, %s)",
        [feed_id, who.shop_id, who.staff_id, whole, digest(token)],
    )
    return token


def end_feed(cx: Cx, who: Who, feed_id: UUID) -> None:
    """End a calendar now. Again is no change. Raises `NotFound` for somebody else's, but for a manager."""
    gone = cx.execute(
        "UPDATE day_feed SET ended_at = coalesce(ended_at, now()) WHERE id = %s AND (%s OR staff_id = %s)",
        [feed_id, who.role == "manager", who.staff_id],
    ).rowcount
    if not gone:
        raise NotFound("There is no such calendar of yours.")


def feed(pool: Pool, token: str, address: str) -> tuple[str, list[Row]]:
    """The shop's name and the matters of a calendar. Raises `Over`, or `TooOften`."""
    kinds = [kind for kind, of in KINDS.items() if of.in_calendar]
    with transaction(pool) as cx:
        rows = cx.execute("SELECT * FROM feed_day(%s, %s, %s)", [token, address, kinds]).fetchall()
    if not rows:
        raise Over("This calendar is over, or isn't one.")
    if rows[0]["kind"] == "wait":
        raise TooOften("That was very often just now. Ask again in ten minutes.")
    return rows[0]["shop"], rows[1:]
