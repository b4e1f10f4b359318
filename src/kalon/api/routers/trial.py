"""The trial station: what to try next, from what was found."""

from __future__ import annotations

from uuid import UUID

from fastapi import APIRouter

from ...core.errors import read
from ...core.fit.trial import Advice, advise
from ...core.match.rank import GIVES_AS
from ...core.parts import TrialPart
from ...store import fittings, stock
from ..desk import Anyone

router = APIRouter(prefix="/api/fittings/{fitting_id}/trial", tags=["trial"])


@router.get("/advice")
def advice(desk: Anyone, fitting_id: UUID) -> dict[str, list[Advice]]:
    """Advice by stock line."""
    with desk.open() as cx:
        trial = read(TrialPart, fittings.parts(cx, fitting_id)["trial"].body)
        tray = stock.tray(cx, fitting_id, 0)
    return {
        str(r["id"]): advise(trial.pairs[str(r["id"])], r["upper"] or GIVES_AS)
        for r in tray
        if str(r["id"]) in trial.pairs
    }
