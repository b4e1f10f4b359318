"""The stockroom, the house, and the words the interface asks with."""

from __future__ import annotations

from typing import Annotated
from uuid import UUID

from fastapi import APIRouter, Query

from ...core.fit.trial import TESTS
from ...core.rules.brief import SPORTS, Option
from ...core.rules.engine import PROPERTIES
from ...store import staff, stock
from ..desk import Anyone, Manager
from ..schemas import (
    AskOut,
    CountIn,
    OptionOut,
    PairOut,
    PersonIn,
    PersonOut,
    ScaleOut,
    SchoolOut,
    SportOut,
    TestOut,
    Vocabulary,
)
from ..view import pair_out

router = APIRouter(prefix="/api", tags=["rooms"])


def _options(options: tuple[Option, ...]) -> list[OptionOut]:
    return [OptionOut(value=o.value, text=o.text, hint=o.hint) for o in options]


@router.get("/vocabulary")
def vocabulary(desk: Anyone) -> Vocabulary:  # noqa: ARG001
    """What each sport is asked about, its tests, and the scales properties are drawn on."""
    sports = [
        SportOut(
            slug=slug,
            name=v.name,
            disciplines=_options(v.disciplines),
            asks=[
                AskOut(
                    field=a.field,
                    kind=a.kind,
                    text=a.text,
                    options=_options(a.options),
                    unit=a.unit,
                    needed=a.needed,
                    disciplines=list(a.disciplines),
                )
                for a in v.asks
            ],
            schools=[SchoolOut(slug=s.slug, text=s.text, options=_options(s.options)) for s in v.schools],
            tests=[
                TestOut(slug=t.slug, name=t.name, how=t.how, passes=t.passes, seconds=t.seconds) for t in TESTS[slug]
            ],
        )
        for slug, v in SPORTS.items()
    ]
    scales = {k: ScaleOut(name=s.name, unit=s.unit, low=s.low, high=s.high) for k, s in PROPERTIES.items()}
    return Vocabulary(sports=sports, scales=scales)


@router.get("/stock")
def stockroom(desk: Anyone, text: Annotated[str, Query(max_length=100)] = "") -> list[PairOut]:
    """Stock lines by maker, name, sport, size or width."""
    with desk.open() as cx:
        return [pair_out(r) for r in stock.listing(cx, text)]


@router.put("/stock/{line_id}/on-hand")
def count(desk: Manager, line_id: UUID, given: CountIn) -> PairOut:
    """Set what was counted on the shelf."""
    with desk.open() as cx:
        return pair_out(stock.count(cx, line_id, given.on_hand))


@router.get("/people")
def people(desk: Manager) -> list[PersonOut]:
    """Everyone of the shop."""
    with desk.open() as cx:
        return [PersonOut(**r) for r in staff.people(cx)]


@router.post("/people", status_code=201)
def add_person(desk: Manager, given: PersonIn) -> list[PersonOut]:
    """A new person."""
    with desk.open() as cx:
        staff.add_staff(cx, desk.who.shop_id, given.login, given.name, given.role, given.password)
        return [PersonOut(**r) for r in staff.people(cx)]
