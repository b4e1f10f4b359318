"""Calendars (iCalendar, RFC 5545): the break-in of a pair, and the bench's day. Fetched when first asked for."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import UTC, date, datetime, timedelta
from typing import Any

from icalendar import Calendar, Event

from ..core.care.breakin import BreakInOut
from ..core.care.day import KINDS, day_text


def _calendar(what: str, name: str) -> Calendar:
    calendar = Calendar()
    calendar.add("prodid", f"-//kalon//{what}//EN")
    calendar.add("version", "2.0")
    if name:
        calendar.add("x-wr-calname", name)
    return calendar


def _all_day(calendar: Calendar, uid: str, on: date, summary: str, text: str) -> None:
    event = Event()
    event.add("uid", uid)
    event.add("dtstamp", datetime.now(UTC))
    event.add("dtstart", on)
    event.add("dtend", on + timedelta(days=1))
    event.add("summary", summary)
    event.add("description", text)
    event.add("transp", "TRANSPARENT")
    calendar.add_component(event)


def break_in_calendar(plan: BreakInOut, pair: str, key: str) -> bytes:
    """The wears as all-day entries."""
    calendar = _calendar("break-in", "")
    for index, wear in enumerate(plan.wears):
        text = f"{wear.how.capitalize()}. Hot spot: stop, tape, shorter next time."
        _all_day(calendar, f"{key}-{index}@kalon", wear.on, f"Wear in {pair}: {wear.minutes} min", text)
    return bytes(calendar.to_ical())


def _short(name: str | None) -> str:
    """A first name and an initial: a calendar leaves the shop."""
    first, _, last = (name or "").partition(" ")
    return f"{first} {last[0]}." if last else first


def day_calendar(shop: str, rows: Sequence[dict[str, Any]]) -> bytes:
    """The matters of a day and the weeks after it, all-day."""
    calendar = _calendar("day", f"Bench, {shop}")
    calendar.add("refresh-interval;value=duration", "PT4H")
    for row in rows:
        text = day_text(row["kind"], row["detail"])
        name = _short(row["name"])
        title = KINDS[row["kind"]].title
        head = f"{title}: {name}" if name else title
        _all_day(calendar, f"{row['key']}@kalon", row["on_day"], head, text)
    return bytes(calendar.to_ical())
