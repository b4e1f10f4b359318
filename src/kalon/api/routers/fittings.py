"""A fitting as a whole, and the change of any of its parts (the feet and brief stations live by this)."""

from __future__ import annotations

from typing import Literal
from uuid import UUID

from fastapi import APIRouter

from ...store import captures, fittings, house, shop
from ...store.database import Cx, Who
from ..desk import Anyone
from ..schemas import FittingNew, FittingOut, PatchIn, PatchOut
from ..view import fitting_out, part_state

router = APIRouter(prefix="/api/fittings", tags=["fitting"])
FROZEN = {
    "settled": ("feet", "brief", "spec", "trial", "settle/lowered", "settle/prices"),
    "returned": ("feet", "brief", "spec", "trial", "settle"),
}


@router.post("", status_code=201)
def begin(desk: Anyone, given: FittingNew) -> FittingOut:
    """Begin a fitting; the athlete's last feet and brief are there already."""
    with desk.open() as cx:
        return begun(cx, desk.who, given.athlete_id, given.id)


def begun(cx: Cx, who: Who, athlete_id: UUID, fitting_id: UUID) -> FittingOut:
    """An athlete's fitting, begun now where it wasn't before."""
    if not fittings.begun_before(cx, athlete_id, fitting_id):
        zone = shop.zone_of(house.current(cx))
        fittings.open_fitting(cx, who, athlete_id, fitting_id, zone)
        captures.carry(cx, who, athlete_id, fitting_id)
        shop.count_norms(cx, who)
    return fitting_out(cx, fitting_id)


@router.get("/{fitting_id}")
def whole(desk: Anyone, fitting_id: UUID) -> FittingOut:
    """The whole fitting."""
    with desk.open() as cx:
        return fitting_out(cx, fitting_id)


@router.patch("/{fitting_id}/parts/{part}")
def patch(
    desk: Anyone,
    fitting_id: UUID,
    part: Literal["feet", "brief", "spec", "trial", "settle", "return"],
    given: PatchIn,
) -> PatchOut:
    """Set fields of a part. 409 with `clashes` when somebody else changed the same fields meanwhile."""
    with desk.open() as cx:
        found = fittings.patch(cx, desk.who, fitting_id, part, given.base_version, given.change_id, given.set, FROZEN)
    return PatchOut(**part_state(part, found))
