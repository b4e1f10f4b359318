"""What an athlete who isn't here opens by their link; and the shop's side of it. No session, and nothing else seen."""

from __future__ import annotations

from typing import Annotated, Literal
from uuid import UUID

from anyio.to_thread import run_sync
from fastapi import APIRouter, Path, Query, Request, Response
from starlette.concurrency import run_in_threadpool

from ...core.care.breakin import BreakInOut
from ...core.contract import Side
from ...core.errors import BadInput, read
from ...core.feet.said import Said
from ...core.house import House
from ...core.learn.answers import Answers, foot_of, size_said
from ...core.match.ordering import Arrival, arrival_says
from ...files import workers
from ...files.reading import is_picture
from ...store import bench, links
from ...store.database import Row
from ..desk import Anyone, pool_of
from ..schemas import AwayAnswers, AwayOrder, AwayPage, AwayPicture, LinkIn, LinkMade, LinkOut
from ..schemas_pairs import AwayPair, AwayWorn, WornIn
from ..sheet import sheet_of
from ..spool import lay_down

router = APIRouter(prefix="/api", tags=["away"])
PICTURE_BYTES = 25 * 1024 * 1024
Token = Annotated[str, Path(min_length=20, max_length=80, pattern=r"^[A-Za-z0-9_-]+$")]


@router.post("/fittings/{fitting_id}/link", status_code=201)
def make(desk: Anyone, fitting_id: UUID, given: LinkIn) -> LinkMade:
    """A link for the athlete of this fitting; its secret is shown this once. Those made before end."""
    with desk.open() as cx:
        token = links.make(cx, desk.who, fitting_id, given.id)
        made = links.of_fitting(cx, fitting_id)
    assert made  # it was just made
    return LinkMade(token=token, expires_at=made["expires_at"])


@router.delete("/fittings/{fitting_id}/link", status_code=204)
def end(desk: Anyone, fitting_id: UUID) -> None:
    """End a fitting's link now."""
    with desk.open() as cx:
        links.end(cx, fitting_id)


@router.get("/fittings/{fitting_id}/link")
def of_fitting(desk: Anyone, fitting_id: UUID) -> LinkOut | None:
    """What came through a fitting's link, and the foot that follows from it; null where none was made."""
    with desk.open() as cx:
        on = bench.load(cx, fitting_id)
        row = links.of_fitting(cx, fitting_id)
        answers = read(Answers, row["body"]) if row and row["body"] else Answers()
        known = links.known_makers(cx, answers)
    if not row:
        return None
    lengths = [
        (number["value"], number["sigma"])
        for c in on.captures
        if c["kind"] == "tracing" and (number := c["reading"].get("numbers", {}).get("length_mm"))
    ]
    traced = max(lengths) if lengths else None
    foot = foot_of(answers, known, traced)
    return LinkOut(
        made_at=row["made_at"],
        made_by=row["made_by"],
        expires_at=row["expires_at"],
        over=row["ended_at"] is not None or row["expires_at"] < on.row["asked_at"],
        agreed_at=row["agreed_at"],
        answers=answers if row["body"] else None,
        answered_at=row["at"],
        pictures=len(lengths),
        foot=foot,
        size=size_said(foot) if foot else "",
    )


# --- through the link


def _from(request: Request) -> str:
    return request.client.host if request.client else ""


def _page(row: Row) -> AwayPage:
    return AwayPage(
        shop=row["shop"],
        athlete=row["athlete"],
        expires_at=row["expires_at"],
        agreed=row["agreed_at"] is not None,
        would_say=links.SAID,
        open=row["state"] == "open",
        answers=read(Answers, row["answers"]) if row["answers"] else Answers(),
        pictures=[AwayPicture(id=p["id"], side=p["side"], length_mm=p["length"]) for p in row["pictures"]],
        orders=[
            AwayOrder(
                **{n: o[n] for n in ("id", "name", "size", "check", "made")},
                arrival=found,
                says=arrival_says(found, o["sheet"]),
            )
            for o in row["orders"]
            for found in (Arrival.model_validate(o["arrival"]),)
        ],
    )


@router.get("/away/{token}")
def page(request: Request, token: Token) -> AwayPage:
    """What a link shows to whoever holds it."""
    links.opened(pool_of(request), token, _from(request))
    return _page(links.page(pool_of(request), token))


@router.post("/away/{token}/agree")
def agree(request: Request, token: Token) -> AwayPage:
    """The athlete agrees that what they answer is kept."""
    pool = pool_of(request)
    links.opened(pool, token, _from(request), writes=True)
    links.agree(pool, token)
    return _page(links.page(pool, token))


@router.put("/away/{token}/answers")
def answer(request: Request, token: Token, given: AwayAnswers) -> AwayPage:
    """Keep what was answered, the newest whole."""
    pool = pool_of(request)
    links.opened(pool, token, _from(request), writes=True)
    links.answer(pool, token, given.change_id, given.answers)
    return _page(links.page(pool, token))


@router.put("/away/{token}/orders/{order_id}/arrival")
def arrival(request: Request, token: Token, order_id: UUID, given: Arrival) -> AwayPage:
    """Keep what the athlete found of a pair that came."""
    pool = pool_of(request)
    links.opened(pool, token, _from(request), writes=True)
    links.arrived(pool, token, order_id, given)
    return _page(links.page(pool, token))


@router.post(
    "/away/{token}/pictures",
    status_code=201,
    openapi_extra={
        "requestBody": {
            "required": True,
            "content": {"application/octet-stream": {"schema": {"type": "string", "format": "binary"}}},
        }
    },
)
async def picture(
    request: Request, token: Token, id: UUID, side: Side, paper: Literal["a4", "letter"] = "a4",
    name: Annotated[str, Query(max_length=200)] = "",
) -> AwayPage:  # fmt: skip
    """Measure a picture of a foot on a sheet of paper, sent as the body. The same id again changes nothing."""
    pool = pool_of(request)
    await run_in_threadpool(links.opened, pool, token, _from(request), writes=True)
    before = await run_in_threadpool(links.page, pool, token)
    if not before["agreed_at"]:
        raise BadInput(links.NOT_AGREED, code="link-refused")
    if any(p["id"] == str(id) for p in before["pictures"]):
        return _page(before)
    with workers.place(link=token), workers.spooled() as path:
        await lay_down(request, path, PICTURE_BYTES, begins=_is_picture)
        found = await workers.measured(path, name, Said(side=side, paper=paper), _nobody)
    traced = [f for f in found if f.kind == "tracing"]
    if not traced:
        raise _no_picture()
    await run_sync(links.pictured, pool, token, id, name or "picture", traced[0])
    return _page(await run_in_threadpool(links.page, pool, token))


def _no_picture() -> BadInput:
    return BadInput(
        "That is no picture. Take one of the foot on the sheet, as JPEG, PNG or HEIC.", code="unknown-format"
    )


def _is_picture(head: bytes) -> None:
    """Raises `BadInput` for what begins like no picture: nothing else is measured for a link."""
    if not is_picture(head):
        raise _no_picture()


async def _nobody(share: float, step: str) -> None:
    """Progress, told to nobody: the picture is small."""


# --- after the sale


def _pairs(request: Request, token: str) -> list[AwayPair]:
    return [
        AwayPair(
            **{n: r[n] for n in ("id", "name", "size", "sport", "bought_on", "ready_on", "worn_h", "follow_up")},
            left_h=max(r["median_h"] - r["worn_h"], 0.0) if r["median_h"] else None,
            plan=BreakInOut.model_validate(r["plan"]) if r["plan"] else None,
            worn=[AwayWorn(**w) for w in r["worn"]],
        )
        for r in links.pairs_of(pool_of(request), token)
    ]


@router.get("/away/{token}/pairs")
def pairs(request: Request, token: Token) -> list[AwayPair]:
    """The athlete's pairs: how they are worn in, what was logged, what is left."""
    links.opened(pool_of(request), token, _from(request))
    return _pairs(request, token)


@router.post("/away/{token}/pairs/{pair_id}/worn")
def worn(request: Request, token: Token, pair_id: UUID, given: WornIn) -> list[AwayPair]:
    """Log a wear; the id makes sending it twice harmless."""
    pool = pool_of(request)
    links.opened(pool, token, _from(request), writes=True)
    links.worn(pool, token, given.id, pair_id, given.on, given.minutes, given.surface)
    return _pairs(request, token)


@router.delete("/away/{token}/worn/{entry_id}")
def unworn(request: Request, token: Token, entry_id: UUID) -> list[AwayPair]:
    """A wear logged through this link no longer counts."""
    pool = pool_of(request)
    links.opened(pool, token, _from(request), writes=True)
    links.unworn(pool, token, entry_id)
    return _pairs(request, token)


@router.get(
    "/away/{token}/fit-sheet.pdf", response_class=Response, responses={200: {"content": {"application/pdf": {}}}}
)
def sheet(request: Request, token: Token, paper: Literal["a4", "letter"] = "a4") -> Response:
    """The fit sheet of the link's pair, to print."""
    from ..printed import fit_sheet_pdf

    links.opened(pool_of(request), token, _from(request))
    row = links.sale_of(pool_of(request), token)
    keeps = House.model_validate(row["snapshot"]["house"])
    data = fit_sheet_pdf(sheet_of(row["shop"], row["athlete"], row, row["follow_up"], keeps), paper)
    return Response(
        data, media_type="application/pdf", headers={"content-disposition": 'inline; filename="fit-sheet.pdf"'}
    )


@router.get("/away/{token}/break-in.ics", response_class=Response, responses={200: {"content": {"text/calendar": {}}}})
def calendar(request: Request, token: Token) -> Response:
    """The break-in of the link's pair as iCalendar (RFC 5545)."""
    from ..calendars import break_in_calendar

    links.opened(pool_of(request), token, _from(request))
    row = links.sale_of(pool_of(request), token)
    plan = BreakInOut.model_validate(row["snapshot"]["settled"]["plan"])
    return Response(
        break_in_calendar(plan, f"{row['maker']} {row['name']}", str(row["fitting_id"])),
        media_type="text/calendar",
        headers={"content-disposition": 'attachment; filename="break-in.ics"'},
    )
