"""Squads: a list of names brought in, fitted in a row, and a sheet for the coach."""

from __future__ import annotations

from datetime import timedelta
from typing import Annotated, Literal
from uuid import UUID

from fastapi import APIRouter, Query, Request, Response
from starlette.concurrency import run_in_threadpool

from ...core.errors import BadInput, NotFound
from ...core.house import DateOrder
from ...core.sheets.people import PersonLine, birth_dates, people, shown_order, two_ways
from ...files import sheets as files
from ...files import workers
from ...files.people import read_people
from ...store import house, pairs, squads
from ...store.database import Cx
from ..desk import Anyone, Desk
from ..schemas_pairs import PeopleList, SquadListed, SquadMember, SquadOut
from ..spool import lay_down

router = APIRouter(prefix="/api", tags=["squads"])
LIST_BYTES = 2_000_000
FITTED_FOR = timedelta(days=120)
"""Who was fitted so short a time ago isn't next. House default."""
Name = Annotated[str, Query(min_length=1, max_length=100)]


@router.get("/squads")
def listing(desk: Anyone) -> list[SquadListed]:
    """The squads by name."""
    with desk.open() as cx:
        return [SquadListed(**r) for r in squads.listing(cx)]


def _squad(cx: Cx, name: str) -> SquadOut:
    rows = squads.of(cx, name)
    if not rows:
        raise NotFound("There is no such squad here.")
    today = pairs.today_of(cx)
    members = [
        SquadMember(**{n: r[n] for n in SquadMember.model_fields if n in r} | {"plate": r["plate"] or r["sole"]})
        for r in rows
    ]
    waits = (
        r["id"]
        for r in rows
        if r["state"] is None or r["state"] == "open" or r["opened_at"].date() < today - FITTED_FOR
    )
    return SquadOut(name=name, today=today, members=members, next=next(waits, None))


@router.get("/squad")
def one(desk: Anyone, name: Name) -> SquadOut:
    """A squad: how far each has come, and who is next."""
    with desk.open() as cx:
        return _squad(cx, name)


@router.post(
    "/squad/list",
    openapi_extra={
        "requestBody": {
            "required": True,
            "content": {"application/octet-stream": {"schema": {"type": "string", "format": "binary"}}},
        }
    },
)
async def bring_in(
    request: Request, desk: Anyone, name: Name, id: UUID, write: bool = False, date_order: DateOrder | None = None
) -> PeopleList:
    """Read a list of athletes, sent as the body; with `write` keep every line that isn't refused, all or none. Dates
    such as 12/03/2004 go by what the list shows, by the order said here, or by the house's."""
    with workers.place(), workers.spooled() as path:
        await lay_down(request, path, LIST_BYTES)
        headings, rows = await workers.done(read_people, path)
    return await run_in_threadpool(_brought_in, desk, (headings, rows), name, id, write, date_order)


def _brought_in(
    desk: Desk,
    sheet: tuple[list[str], list[tuple[int, list[str]]]],
    name: str,
    list_id: UUID,
    write: bool,
    said: DateOrder | None,
) -> PeopleList:
    headings, rows = sheet
    if len(rows) > squads.LARGEST:
        raise BadInput(f"The list has {len(rows)} lines; a squad has at most {squads.LARGEST}.")
    with desk.open() as cx:
        dates = birth_dates(headings, rows)
        order = shown_order(dates) or said or house.current(cx).date_order
        asked = None if order else two_ways(dates)
        judged = people(headings, rows, name, pairs.today_of(cx), order or "dmy")
        known = squads.here(cx, [p.name for p in judged])
        lines = [_with_records(p, known.get(p.name)) for p in judged]
        fit = [p for p in lines if p.verdict != "refused"]
        write = write and bool(fit) and asked is None
        if write:
            squads.bring_in(cx, desk.who, list_id, [p.model_dump() for p in fit])
    count = {v: sum(p.verdict == v for p in lines) for v in ("new", "here", "refused")}
    return PeopleList(written=write, lines=lines, date_order=None if asked else order, two_ways=asked, **count)


def _with_records(line: PersonLine, known: object) -> PersonLine:
    if line.verdict == "refused" or not known:
        return line
    said = "Here already: put into this squad."
    return line.model_copy(update={"verdict": "here", "said": said})


@router.get("/squad/sheet.pdf", response_class=Response, responses={200: {"content": {"application/pdf": {}}}})
def sheet_pdf(desk: Anyone, name: Name, paper: Literal["a4", "letter"] = "a4") -> Response:
    """The coach's sheet: pairs, sizes, plates and days; nothing of anybody's body."""
    from ..printed_lists import coach_pdf

    with desk.open() as cx:
        squad = _squad(cx, name)
    return Response(
        coach_pdf(squad, desk.who.shop_name, paper),
        media_type="application/pdf",
        headers={"content-disposition": 'inline; filename="squad.pdf"'},
    )


@router.get("/squad/sheet.csv", response_class=Response, responses={200: {"content": {"text/csv": {}}}})
def sheet_csv(desk: Anyone, name: Name) -> Response:
    """The coach's sheet as a table."""
    with desk.open() as cx:
        squad = _squad(cx, name)
    headings = ["name", "pair", "eu_size", "width", "plate", "broken_in_on", "event_on", "seen_again_on"]
    rows = [
        [m.name, m.pair or "", m.eu_label or "", m.width or "", m.plate or "", m.ready_on or "", m.event_on or "",
         m.due_on or ""]
        for m in squad.members
    ]  # fmt: skip
    data = b"".join(files.write("csv", headings, rows))
    return Response(data, media_type="text/csv", headers={"content-disposition": 'attachment; filename="squad.csv"'})
