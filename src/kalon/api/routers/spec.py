"""The spec station."""

from __future__ import annotations

from uuid import UUID

from fastapi import APIRouter

from ...core.rules.engine import Spec
from ...store.bench import spec_of
from ..desk import Anyone
from ..schemas import WhatIfIn

router = APIRouter(prefix="/api/fittings/{fitting_id}/spec", tags=["spec"])


@router.get("")
def spec(desk: Anyone, fitting_id: UUID) -> Spec:
    """The spec of the brief as it stands."""
    with desk.open() as cx:
        return spec_of(cx, fitting_id)


@router.post("/what-if")
def what_if(desk: Anyone, fitting_id: UUID, given: WhatIfIn) -> Spec:
    """The spec with some answers changed, nothing kept."""
    with desk.open() as cx:
        return spec_of(cx, fitting_id, given.set)
