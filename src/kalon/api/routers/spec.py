"""The spec station."""

from __future__ import annotations

from uuid import UUID

from fastapi import APIRouter

from ...store import house
from ..desk import Anyone
from ..schemas import FittingOut, SpecView, WhatIfIn
from ..view import fitting_out, spec_view

router = APIRouter(prefix="/api/fittings/{fitting_id}/spec", tags=["spec"])


@router.get("")
def spec(desk: Anyone, fitting_id: UUID) -> SpecView:
    """The spec of the brief as it stands."""
    with desk.open() as cx:
        return spec_view(cx, fitting_id)


@router.post("/what-if")
def what_if(desk: Anyone, fitting_id: UUID, given: WhatIfIn) -> SpecView:
    """The spec with some answers changed, nothing kept."""
    with desk.open() as cx:
        return spec_view(cx, fitting_id, given.set)


@router.post("/newest-house")
def newest_house(desk: Anyone, fitting_id: UUID) -> FittingOut:
    """Compute this open fitting under the house as it now is."""
    with desk.open() as cx:
        house.take_newest(cx, desk.who, fitting_id)
        return fitting_out(cx, fitting_id)
