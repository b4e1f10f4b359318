"""The bench's day, and calendars of it by secret links."""

from __future__ import annotations

from datetime import date, datetime, time, timedelta
from typing import Annotated
from uuid import UUID

from fastapi import APIRouter, Path, Query, Request, Response

from ...core.care.day import BEGIN, KINDS, day_place, day_text, when
from ...core.errors import BadInput
from ...store import day, house, pairs, shop
from ...store.database import Row, Who
from ..desk import Anyone, needs_seller, pool_of
from ..schemas_pairs import BeginItem, CalendarIn, CalendarMade, CalendarOut, DayItem, DayMark, TodayOut

router = APIRouter(prefix="/api", tags=["day"])
Token = Annotated[str, Path(min_length=20, max_length=80, pattern=r"^[A-Za-z0-9_-]+$")]
KIND_ORDER = list(KINDS)


def _item(row: Row, who: Who, now: date) -> DayItem:
    detail = row["detail"] | {"athlete": row["athlete_id"]}
    word, late = when(row["kind"], row["until"] or row["on_day"], now)
    return DayItem(
        when=word,
        late=late,
        drawn=KINDS[row["kind"]].drawn,
        kind=row["kind"],
        key=row["key"],
        on_day=row["on_day"],
        until=row["until"],
        mark_id=row["mark_id"],
        staff=row["staff"],
        mine=row["staff_id"] == who.staff_id,
        athlete_id=row["athlete_id"],
        name=row["name"],
        event_on=row["on_day"] if row["kind"] == "event" else detail.get("event_on"),
        text=day_text(row["kind"], detail),
        place=day_place(row["kind"], detail),
    )


@router.get("/today")
def today(desk: Anyone, days: Annotated[int, Query(ge=1, le=90)] = day.AHEAD_DAYS) -> TodayOut:
    """What stands in the day and the weeks after it; what was done today apart, what was done before nowhere."""
    with desk.open() as cx:
        zone = shop.zone_of(house.current(cx))
        now = shop.today(zone)
        midnight = datetime.combine(now, time(), zone)
        rows = day.items(cx, desk.who, now, now + timedelta(days=days), midnight)
        undone = day.still_to_do(cx) if desk.who.role == "manager" else []
    rows.sort(key=lambda r: (KIND_ORDER.index(r["kind"]), r["until"] or r["on_day"], r["key"]))
    done = [_item(r, desk.who, now) for r in rows if r["done"]]
    items = [_item(r, desk.who, now) for r in rows if not r["done"]]
    begin = [BeginItem(key=key, text=BEGIN[key][0], place=BEGIN[key][1]) for key in undone]
    return TodayOut(
        today=now, kinds={kind: of.title for kind, of in KINDS.items()}, items=items, done=done, begin=begin
    )


@router.post("/today/marks", status_code=204)
def mark(desk: Anyone, given: DayMark) -> None:
    """A matter is done, or put off until a day."""
    with desk.open() as cx:
        if given.until and given.until <= pairs.today_of(cx):
            raise BadInput("Put it off to a day that is still to come.")
        day.mark(cx, desk.who, given.id, given.key, given.until)


@router.delete("/today/marks/{mark_id}", status_code=204)
def unmark(desk: Anyone, mark_id: UUID) -> None:
    """It isn't done, or not put off, after all."""
    with desk.open() as cx:
        day.unmark(cx, mark_id)


@router.get("/calendars")
def calendars(desk: Anyone) -> list[CalendarOut]:
    """The calendars one has given out; a manager sees those of the whole shop."""
    with desk.open() as cx:
        return [CalendarOut(**r) for r in day.feeds(cx, desk.who)]


@router.post("/calendars", status_code=201)
def make_calendar(desk: Anyone, given: CalendarIn) -> CalendarMade:
    """A calendar by a secret link, shown this once. The whole shop's is not for trainees."""
    with desk.open() as cx:
        if given.whole:
            needs_seller(desk)
        return CalendarMade(token=day.make_feed(cx, desk.who, given.id, whole=given.whole))


@router.delete("/calendars/{feed_id}", status_code=204)
def end_calendar(desk: Anyone, feed_id: UUID) -> None:
    """End a calendar now: one's own, or as a manager anybody's."""
    with desk.open() as cx:
        day.end_feed(cx, desk.who, feed_id)


@router.get("/calendar/{token}.ics", response_class=Response, responses={200: {"content": {"text/calendar": {}}}})
def calendar(request: Request, token: Token) -> Response:
    """The calendar to whoever holds its link."""
    from ..calendars import day_calendar

    shop, rows = day.feed(pool_of(request), token, request.client.host if request.client else "")
    return Response(day_calendar(shop, rows), media_type="text/calendar")
