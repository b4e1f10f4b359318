"""Plans of pairs: of an athlete or a squad; kept, tried out, and as a sheet."""

from __future__ import annotations

from typing import Annotated, Literal
from uuid import UUID

from fastapi import APIRouter, Query, Response

from ...core.care.wear import SHARES, WearWord
from ...core.errors import BadInput
from ...store import house, plans
from ...store.database import Cx
from ...store.plans import PlanBody
from ..desk import Anyone, Desk
from ..schemas_pairs import PlanIn, PlanPage, PlanPair, PlanTry, PlanWaits

router = APIRouter(prefix="/api/plan", tags=["plans"])
Athlete = Annotated[UUID | None, Query()]
Squad = Annotated[str, Query(max_length=100)]


def _one(athlete: UUID | None, squad: str) -> None:
    if (athlete is None) == (not squad):
        raise BadInput("A plan is of one athlete, or of one squad.")


def _page(cx: Cx, athlete: UUID | None, squad: str, version: int, body: PlanBody, *, curve: bool) -> PlanPage:
    people = plans.people_of(cx, athlete, squad)
    found = plans.planned(cx, people, body, curve=curve)
    names = {p["id"]: p["name"] for p in people}
    return PlanPage(
        name=people[0]["name"] if athlete else squad,
        version=version,
        body=body,
        currency=house.current(cx).currency,
        needs=found.needs,
        owned=[
            PlanPair(
                id=r["id"],
                athlete=names.get(r["athlete_id"], ""),
                name=f"{r['maker']} {r['name']}".strip(),
                size=r["size"],
                left_h=found.left[r["id"]],
                word=_word(r["worn_h"], r["median_h"]),
            )
            for r in found.owned
        ],
        out=found.out,
        waiting=[PlanWaits(athlete=name, why=why) for name, why in found.waiting],
    )


def _word(worn: float, median: float | None) -> WearWord:
    used = worn / median if median else 0.0
    return next((w for share, w in SHARES if used < share), "retire")


@router.get("")
def one(desk: Anyone, athlete: Athlete = None, squad: Squad = "", curve: bool = True) -> PlanPage:
    """The plan of an athlete or a squad as it stands."""
    _one(athlete, squad)
    with desk.open() as cx:
        version, body = plans.get(cx, athlete, squad)
        return _page(cx, athlete, squad, version, body, curve=curve)


@router.put("")
def keep(desk: Anyone, given: PlanIn, athlete: Athlete = None, squad: Squad = "") -> PlanPage:
    """Keep a plan."""
    _one(athlete, squad)
    with desk.open() as cx:
        version = plans.save(cx, desk.who, athlete, squad, given.version, given.body)
        return _page(cx, athlete, squad, version, given.body, curve=True)


@router.post("/try")
def tried(desk: Anyone, given: PlanTry, athlete: Athlete = None, squad: Squad = "") -> PlanPage:
    """What a plan would come to; nothing is kept."""
    _one(athlete, squad)
    with desk.open() as cx:
        version, _ = plans.get(cx, athlete, squad)
        return _page(cx, athlete, squad, version, given.body, curve=given.curve)


@router.get("/sheet.pdf", response_class=Response, responses={200: {"content": {"application/pdf": {}}}})
def sheet(desk: Anyone, athlete: Athlete = None, squad: Squad = "", paper: Literal["a4", "letter"] = "a4") -> Response:
    """The plan to print."""
    from ..printed_lists import plan_pdf

    _one(athlete, squad)
    page = _of(desk, athlete, squad)
    return Response(
        plan_pdf(page, desk.who.shop_name, paper),
        media_type="application/pdf",
        headers={"content-disposition": 'inline; filename="plan-of-pairs.pdf"'},
    )


def _of(desk: Desk, athlete: UUID | None, squad: str) -> PlanPage:
    with desk.open() as cx:
        version, body = plans.get(cx, athlete, squad)
        return _page(cx, athlete, squad, version, body, curve=True)
