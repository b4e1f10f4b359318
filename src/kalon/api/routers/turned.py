"""The fitting turned to the athlete, and pairs held beside each other."""

from __future__ import annotations

from typing import Annotated
from uuid import UUID

from fastapi import APIRouter, Query

from ...store.bench import load
from ..desk import Anyone
from ..schemas_turned import PairBeside, TurnedOut
from ..turned import beside, turned

router = APIRouter(prefix="/api/fittings/{fitting_id}", tags=["turned"])
TRAY_AND_MORE = 4


@router.get("/turned")
def for_them(desk: Anyone, fitting_id: UUID) -> TurnedOut:
    """The same moment of a fitting in the athlete's words, with nothing in it that isn't theirs."""
    with desk.open() as cx:
        return turned(cx, load(cx, fitting_id), desk.who.shop_name)


@router.get("/beside")
def pairs_beside(
    desk: Anyone,
    fitting_id: UUID,
    line: Annotated[list[UUID], Query(max_length=TRAY_AND_MORE)] = [],  # noqa: B006
) -> list[PairBeside]:
    """The pairs of the tray, and others by their stock lines, to be held beside each other."""
    with desk.open() as cx:
        return beside(cx, load(cx, fitting_id), line)
