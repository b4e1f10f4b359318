"""The return station: the follow-up booked, done, and compared with what was predicted."""

from __future__ import annotations

from uuid import UUID

from fastapi import APIRouter

from ...core.care.followup import FollowUpOut
from ...core.errors import BadInput
from ...store import sales
from ...store.bench import load, outcome
from ..desk import Anyone
from ..schemas import FittingOut, FollowUpBook
from ..view import fitting_out

router = APIRouter(prefix="/api/fittings/{fitting_id}", tags=["return"])


@router.put("/follow-up")
def book(desk: Anyone, fitting_id: UUID, given: FollowUpBook) -> FittingOut:
    """Book the follow-up, or move it."""
    with desk.open() as cx:
        sales.book(cx, desk.who, fitting_id, given.due_on)
        return fitting_out(cx, fitting_id)


@router.delete("/follow-up")
def unbook(desk: Anyone, fitting_id: UUID) -> FittingOut:
    """It isn't booked after all."""
    with desk.open() as cx:
        sales.unbook(cx, desk.who, fitting_id)
        return fitting_out(cx, fitting_id)


@router.get("/outcome")
def seen_against_predicted(desk: Anyone, fitting_id: UUID) -> FollowUpOut | None:
    """Measured against predicted; null before there are hours and at least one gap."""
    with desk.open() as cx:
        return outcome(load(cx, fitting_id))


@router.post("/follow-up/done")
def done(desk: Anyone, fitting_id: UUID) -> FittingOut:
    """The athlete has been back."""
    with desk.open() as cx:
        if outcome(load(cx, fitting_id, lock=True)) is None:
            raise BadInput("Note the hours worn and at least one gap before closing the follow-up.")
        sales.finish(cx, desk.who, fitting_id)
        return fitting_out(cx, fitting_id)


@router.delete("/follow-up/done")
def not_done(desk: Anyone, fitting_id: UUID) -> FittingOut:
    """It isn't closed after all."""
    with desk.open() as cx:
        sales.reopen(cx, desk.who, fitting_id)
        return fitting_out(cx, fitting_id)
