"""Every named computation with the JSON of its contract."""

from __future__ import annotations

from typing import Any

from fastapi import APIRouter, Body

from ...core.calc import TABLE, call
from ..desk import Anyone
from ..schemas import CalcListed

router = APIRouter(prefix="/api/calc", tags=["calc"])


@router.get("")
def listing(desk: Anyone) -> list[CalcListed]:  # noqa: ARG001
    """The computations there are."""
    return [CalcListed(name=c.name, summary=c.summary) for c in TABLE.values()]


@router.post("/{name}")
def run(desk: Anyone, name: str, given: Any = Body()) -> dict[str, Any]:  # noqa: ARG001, B008
    """Run one."""
    return call(name, given)
