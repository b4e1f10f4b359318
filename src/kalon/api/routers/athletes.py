"""Today and the athletes."""

from __future__ import annotations

from typing import Annotated
from uuid import UUID

from fastapi import APIRouter, Query

from ...store import athletes, fittings, house, shop
from ..desk import Anyone
from ..schemas import (
    AthleteChange,
    AthleteIn,
    AthleteListed,
    AthleteNew,
    AthleteOut,
    AthletePage,
    ChangeOut,
    DueOut,
    FittingListed,
    TodayOut,
    WaitingOut,
)

router = APIRouter(prefix="/api", tags=["athletes"])


@router.get("/today")
def today(desk: Anyone) -> TodayOut:
    """Who is due, what waits."""
    with desk.open() as cx:
        found = fittings.today(cx)
        day = shop.today(shop.zone_of(house.current(cx)))
    return TodayOut(
        today=day, due=[DueOut(**r) for r in found["due"]], waiting=[WaitingOut(**r) for r in found["waiting"]]
    )


@router.get("/athletes")
def find(desk: Anyone, text: Annotated[str, Query(max_length=100)] = "") -> list[AthleteListed]:
    """Athletes by name or squad."""
    with desk.open() as cx:
        return [AthleteListed(**r) for r in athletes.find(cx, text)]


@router.post("/athletes", status_code=201)
def add(desk: Anyone, given: AthleteNew) -> AthleteOut:
    """A new athlete."""
    with desk.open() as cx:
        return AthleteOut(**athletes.add(cx, desk.who, given.change_id, _values(given)))


@router.get("/athletes/{athlete_id}")
def page(desk: Anyone, athlete_id: UUID) -> AthletePage:
    """An athlete with fittings and the history of the record."""
    with desk.open() as cx:
        return AthletePage(
            athlete=AthleteOut(**athletes.get(cx, athlete_id)),
            fittings=[FittingListed(**r) for r in athletes.fittings(cx, athlete_id)],
            changes=[ChangeOut(**r) for r in athletes.history(cx, athlete_id)],
        )


@router.put("/athletes/{athlete_id}")
def change(desk: Anyone, athlete_id: UUID, given: AthleteChange) -> AthleteOut:
    """Change an athlete's own data."""
    with desk.open() as cx:
        row = athletes.change(cx, desk.who, athlete_id, given.version, given.change_id, _values(given))
        return AthleteOut(**row)


def _values(given: AthleteIn) -> dict[str, object]:
    return {f: getattr(given, f) for f in athletes.FIELDS}
