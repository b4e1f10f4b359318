"""The day's takings: the journal, money given back, sums put right, the end of a day, and all of it as files."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from typing import Annotated, Any, Literal
from uuid import UUID

from fastapi import APIRouter, Query, Response
from starlette.responses import StreamingResponse

from ...core.errors import BadInput
from ...core.takings.journal import number_text
from ...core.takings.period import Period, period
from ...core.takings.sums import bars, sums
from ...files import sheets as files
from ...store import house, journal, sales, shop, takings
from ...store.database import Cx
from ..desk import Manager, Seller
from ..schemas import JournalLine
from ..schemas_takings import BackIn, CloseIn, CorrectIn, OpenDay, TakingsOut, TillIn
from ..view import line_out
from .sheets import MEDIA

router = APIRouter(prefix="/api/takings", tags=["takings"])
PAGE = 60
Form = Literal["csv", "xlsx", "json"]
When = Annotated[str, Query(min_length=4, max_length=10)]


def _after(text: str | None) -> tuple[int, int] | None:
    if not text:
        return None
    year, _, number = text.partition("-")
    if not (year.isdecimal() and number.isdecimal() and len(text) < 20):
        raise BadInput("Lines are read on after a number of the journal, as in 2026-0042.")
    return int(year), int(number)


def takings_out(cx: Cx, of: Period, after: str | None = None) -> TakingsOut:
    """Takings of some days for the interface. A closed day came to what it was closed with."""
    keeps = house.current(cx)
    today = shop.today(shop.zone_of(keeps))
    rows = journal.lines(cx, of.first, of.last, _after(after), PAGE + 1)
    done = journal.closed(cx, of.first) if of.first == of.last else None
    taken = journal.taken(cx, of.first, of.last)
    found = done[0] if done else sums(taken, keeps.tax.rounding)
    last = rows[PAGE - 1] if len(rows) > PAGE else None
    return TakingsOut(
        period=of.text,
        first=of.first,
        last=of.last,
        today=today,
        sums=found,
        bars=bars(taken, keeps.currency, monthly=len(of.text) == len("2026")),
        lines=[line_out(r) for r in rows[:PAGE]],
        more=number_text(last["year"], last["number"]) if last else None,
        closed_at=done[1]["closed_at"] if done else None,
        closed_by=done[1]["closed_by"] if done else None,
        open_days=[OpenDay(**d) for d in journal.open_days(cx, of.last)],
        rounding=keeps.tax.rounding,
    )


@router.get("")
def look(desk: Seller, of: When | None = None, after: Annotated[str | None, Query(max_length=20)] = None) -> TakingsOut:
    """The takings of a day (today where none is said), a month or a year, with its newest lines."""
    with desk.open() as cx:
        now = shop.today(shop.zone_of(house.current(cx)))
        return takings_out(cx, period(of or now.isoformat()), after)


@router.post("/lines/{journal_id}/back", status_code=201)
def back(desk: Seller, journal_id: UUID, given: BackIn) -> JournalLine:
    """Money is given back upon a sale, with the pair or without it."""
    with desk.open() as cx:
        found = journal.Back(given.id, given.amount_minor, given.why, given.became, given.exchange)
        return line_out(sales.bring_back(cx, desk.who, journal_id, found))


@router.post("/lines/{journal_id}/correct", status_code=201)
def correct(desk: Manager, journal_id: UUID, given: CorrectIn) -> JournalLine:
    """The sum of a sale is put right, in a line of its own."""
    with desk.open() as cx:
        return line_out(journal.correct(cx, desk.who, journal_id, given.id, given.by_minor, given.why))


@router.put("/lines/{journal_id}/till")
def till(desk: Seller, journal_id: UUID, given: TillIn) -> JournalLine:
    """The till's own number of a line is noted."""
    with desk.open() as cx:
        return line_out(journal.note_till(cx, desk.who, journal_id, given.number))


@router.post("/close")
def close(desk: Seller, given: CloseIn) -> TakingsOut:
    """Close a day, and every day before it that is open still. What comes later stands on the next."""
    with desk.open() as cx:
        journal.close(cx, desk.who, given.day, given.id, house.current(cx))
        return takings_out(cx, period(given.day.isoformat()))


def _file(
    desk: Seller, name: str, form: Form, columns: tuple[str, ...], rows: Callable[[Cx], Iterator[list[Any]]]
) -> StreamingResponse:
    def pieces() -> Iterator[bytes]:
        with desk.open() as cx:
            yield from files.write(form, columns, rows(cx))

    kept = {"content-disposition": f'attachment; filename="{name}.{form}"'}
    return StreamingResponse(pieces(), media_type=MEDIA[form], headers=kept)


@router.get("/journal.{form}", response_class=StreamingResponse)
def lines_file(desk: Seller, form: Form, of: When) -> StreamingResponse:
    """The journal's lines of a day, a month or a year as a file."""
    days = period(of)
    return _file(
        desk, f"journal-{days.text}", form, takings.LINE_COLUMNS, lambda cx: takings.lines(cx, days.first, days.last)
    )


@router.get("/sums.{form}", response_class=StreamingResponse)
def sums_file(desk: Seller, form: Form, of: When) -> StreamingResponse:
    """Sums by day and rate of tax as a file."""
    days = period(of)
    return _file(
        desk, f"takings-{days.text}", form, takings.SUM_COLUMNS,
        lambda cx: takings.by_day(cx, days.first, days.last, house.current(cx)),
    )  # fmt: skip


@router.get("/models.{form}", response_class=StreamingResponse)
def models_file(desk: Manager, form: Form, of: When) -> StreamingResponse:
    """What each model sold, what it earned where its cost is known, and what lies of it, as a file."""
    days = period(of)
    return _file(
        desk, f"models-{days.text}", form, takings.MODEL_COLUMNS, lambda cx: takings.by_model(cx, days.first, days.last)
    )


@router.get("/slow.{form}", response_class=StreamingResponse)
def slow_file(desk: Manager, form: Form) -> StreamingResponse:
    """Sizes of which none was sold for the house's days, as a file."""
    return _file(
        desk, "slow", form, takings.SLOW_COLUMNS,
        lambda cx: takings.slow(cx, house.current(cx)["takings.slow_days"]),
    )  # fmt: skip


@router.get("/day.pdf", response_class=Response, responses={200: {"content": {"application/pdf": {}}}})
def printed(desk: Seller, of: When, paper: Literal["a4", "letter"] = "a4") -> Response:
    """A day, a month or a year to print: its sums, and a day's lines."""
    from ..printed_takings import takings_pdf

    days = period(of)
    with desk.open() as cx:
        found, zone = takings_out(cx, days), shop.zone_of(house.current(cx))
        rows = journal.lines(cx, days.first, days.last, None, 2000) if days.first == days.last else []
    data = takings_pdf(found, [line_out(r) for r in reversed(rows)], desk.who.shop_name, zone, paper)
    return Response(data, media_type="application/pdf",
                    headers={"content-disposition": f'inline; filename="takings-{days.text}.pdf"'})  # fmt: skip
