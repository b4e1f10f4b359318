"""The pull station: the stock ranked, one shoe in all sizes, and the tray."""

from __future__ import annotations

from typing import Annotated, Literal
from uuid import UUID

from fastapi import APIRouter, Query

from ...core.match.rank import rank
from ...store import fittings, stock
from ...store.bench import bench_of, require_acknowledged
from ..desk import Anyone
from ..schemas import PairOut, PlaceOut, PullOut, RuledOut, ShoeFit
from ..view import pair_out, shoe_fit

router = APIRouter(prefix="/api/fittings/{fitting_id}", tags=["pull"])


@router.get("/pull")
def pull(desk: Anyone, fitting_id: UUID, limit: Annotated[int, Query(ge=1, le=200)] = 30) -> PullOut:
    """The stock of this sport in order, fit first, with reasons; and what was ruled out."""
    with desk.open() as cx:
        bench = bench_of(cx, fitting_id)
        shoes, shelf, rows = stock.shelf(cx, bench.brief.sport)
    ranking = rank(
        shoes,
        shelf,
        bench.spec,
        bench.foot,
        bench.house["rank.fit_power"],
        cheapest=bench.case.school("price") == "cheapest_that_fits",
    )
    budget = bench.brief.budget
    by_line = {str(r["id"]): r for r in rows}
    models = {str(r["model_id"]): r for r in rows}
    places = [
        PlaceOut(
            pair=pair_out(by_line[p.line_id]),
            over_budget=budget is not None and by_line[p.line_id]["price_cents"] > 100 * budget,
            **p.model_dump(exclude={"shoe_id", "line_id", "label"}),
        )
        for p in ranking.places[:limit]
    ]
    vetoed = [
        RuledOut(
            maker=models[v.shoe_id]["maker"], name=models[v.shoe_id]["name"], text=v.text, rule=v.rule, mark=v.mark
        )
        for v in ranking.vetoed
    ]
    return PullOut(places=places, vetoed=vetoed, foot_notes=list(bench.foot.notes))


@router.get("/pull/{model_id}/{width}")
def one_shoe(desk: Anyone, fitting_id: UUID, model_id: UUID, width: Literal["narrow", "regular", "wide"]) -> ShoeFit:
    """One model in one width: every size on these feet, new and settled."""
    with desk.open() as cx:
        return shoe_fit(cx, fitting_id, model_id, width)


@router.put("/tray/{line_id}")
def into_tray(desk: Anyone, fitting_id: UUID, line_id: UUID) -> list[PairOut]:
    """Put a pair in the tray."""
    with desk.open() as cx:
        fittings.get(cx, fitting_id, lock=True)
        require_acknowledged(cx, fitting_id, bench_of(cx, fitting_id).spec)
        stock.pull(cx, desk.who.shop_id, fitting_id, line_id)
        return [pair_out(r) for r in stock.tray(cx, fitting_id)]


@router.delete("/tray/{line_id}")
def out_of_tray(desk: Anyone, fitting_id: UUID, line_id: UUID) -> list[PairOut]:
    """Put a pair back."""
    with desk.open() as cx:
        fittings.get(cx, fitting_id, lock=True)
        stock.put_back(cx, fitting_id, line_id)
        return [pair_out(r) for r in stock.tray(cx, fitting_id)]
