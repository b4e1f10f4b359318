"""The settle station: what a pair means, the sale, and the sheet the athlete takes home."""

from __future__ import annotations

from typing import Any, Literal
from uuid import UUID

from fastapi import APIRouter, Response

from ...core.care.breakin import BreakInOut
from ...store import house, sales
from ...store.bench import load, preview, sell
from ..costs import costs_of
from ..desk import Anyone, Seller
from ..schemas import CostsOut, FittingOut, SaleIn, SettlePreview
from ..sheet import fit_sheet
from ..view import fitting_out, preview_out

router = APIRouter(prefix="/api/fittings/{fitting_id}", tags=["settle"])


@router.get("/settle/{line_id}")
def what_it_means(desk: Anyone, fitting_id: UUID, line_id: UUID) -> SettlePreview:
    """Fit, what is given up, and the dated break-in plan of one pair."""
    with desk.open() as cx:
        on = load(cx, fitting_id)
        return preview_out(cx, on, preview(cx, on, line_id))


@router.get("/costs")
def costs(desk: Anyone, fitting_id: UUID) -> CostsOut:
    """What the pairs of the tray cost by the hour and the season, as sure as their lives are."""
    with desk.open() as cx:
        return costs_of(cx, load(cx, fitting_id))


@router.post("/sale", status_code=201)
def settle(desk: Seller, fitting_id: UUID, given: SaleIn) -> FittingOut:
    """Settle on a pair: it leaves the stock once, with everything it was computed from."""
    with desk.open() as cx:
        on = load(cx, fitting_id, lock=True)
        if not sales.told_before(cx, fitting_id, given.line_id, given.sale_id):
            on.require_acknowledged()
            sell(cx, desk.who, on, given.line_id, given.sale_id, given.anyway)
        return fitting_out(cx, fitting_id)


@router.delete("/sale/{sale_id}")
def undo(desk: Seller, fitting_id: UUID, sale_id: UUID) -> FittingOut:
    """Take this sale back; the pair returns to stock, the follow-up is withdrawn."""
    with desk.open() as cx:
        sales.undo(cx, desk.who, fitting_id, sale_id, house.current(cx))
        return fitting_out(cx, fitting_id)


@router.get("/fit-sheet.json")
def sheet_json(desk: Anyone, fitting_id: UUID) -> dict[str, Any]:
    """The fit sheet as data."""
    with desk.open() as cx:
        return fit_sheet(cx, desk.who.shop_name, fitting_id)


@router.get("/fit-sheet.pdf", response_class=Response, responses={200: {"content": {"application/pdf": {}}}})
def sheet_pdf(desk: Anyone, fitting_id: UUID, paper: Literal["a4", "letter"] = "a4") -> Response:
    """The fit sheet to print."""
    from ..printed import fit_sheet_pdf

    with desk.open() as cx:
        sheet = fit_sheet(cx, desk.who.shop_name, fitting_id)
    return Response(
        fit_sheet_pdf(sheet, paper),
        media_type="application/pdf",
        headers={"content-disposition": 'inline; filename="fit-sheet.pdf"'},
    )


@router.get("/break-in.ics", response_class=Response, responses={200: {"content": {"text/calendar": {}}}})
def calendar(desk: Anyone, fitting_id: UUID) -> Response:
    """The break-in plan as iCalendar (RFC 5545)."""
    from ..calendars import break_in_calendar

    with desk.open() as cx:
        sheet = fit_sheet(cx, desk.who.shop_name, fitting_id)
    plan = BreakInOut.model_validate(sheet["break_in"])
    return Response(
        break_in_calendar(plan, sheet["pair"], str(fitting_id)),
        media_type="text/calendar",
        headers={"content-disposition": 'attachment; filename="break-in.ics"'},
    )
