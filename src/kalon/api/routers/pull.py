"""The pull station: the stock ranked, one shoe in all sizes, and the tray."""

from __future__ import annotations

from typing import Annotated
from uuid import UUID

from fastapi import APIRouter, Path, Query

from ...core.errors import Conflict
from ...core.match.nearest import alike, nearness
from ...core.match.rank import rank
from ...core.match.substitutes import substitutes
from ...core.match.surer import surer
from ...core.money import Money
from ...core.rules.words import SPORTS
from ...store import catalogue, stock
from ...store.bench import Loaded, load, shelf_for
from ..desk import Anyone, needs_seller
from ..schemas import PairOut, PlaceOut, PullOut, RuledOut, ShoeFit, SubstituteOut, TakeIn
from ..view import pair_out, shoe_fit

router = APIRouter(prefix="/api/fittings/{fitting_id}", tags=["pull"])
SUBSTITUTES_SHOWN = 6
VETOED_SHOWN = 60
"""How many ruled out shoes are told one by one."""


@router.get("/pull")
def pull(
    desk: Anyone, fitting_id: UUID, limit: Annotated[int, Query(ge=1, le=200)] = 30, like: UUID | None = None
) -> PullOut:
    """The stock of this sport in order, fit first, with reasons; and what was ruled out.

    With `like`, a model, the order is how like it a shoe is, and each says what differs."""
    with desk.open() as cx:
        on = load(cx, fitting_id)
        foot, spec, brief = on.foot, on.spec, on.case.brief
        shoes, shelf = shelf_for(cx, on, brief.sport)
        liked = catalogue.model(cx, like) if like else None
    alike_to = {s.id: alike(s, liked) for s in shoes} if liked else {}
    ranking = rank(
        shoes,
        shelf,
        spec,
        foot,
        on.keeps["rank.fit_power"],
        cheapest=on.case.school("price") == "cheapest_that_fits",
        most=limit,
        nearness={slug: nearness(a) for slug, a in alike_to.items()} if liked else None,
    )
    next_measure = surer(shoes, shelf, spec, foot, on.case.feet or on.feet)
    with desk.open() as cx:
        by_line = stock.lines(cx, [p.line_id for p in ranking.places], fitting_id)
        names = catalogue.names(cx, [v.shoe_id for v in ranking.vetoed[:VETOED_SHOWN]])
    currency = on.now.currency
    most = None if brief.budget is None else Money.of(brief.budget, currency)
    places = [
        PlaceOut(
            pair=pair_out(row, currency),
            over_budget=most is not None and (price := catalogue.price_of(row)) is not None and price > most,
            like=alike_to.get(p.shoe_id),
            **p.model_dump(exclude={"shoe_id", "line_id", "label"}),
        )
        for p in ranking.places
        if (row := by_line.get(p.line_id))
    ]
    vetoed = [
        RuledOut(maker=names[v.shoe_id][0], name=names[v.shoe_id][1], text=v.text, rule=v.rule, mark=v.mark)
        for v in ranking.vetoed[:VETOED_SHOWN]
    ]
    return PullOut(
        places=places,
        of=ranking.of,
        vetoed=vetoed,
        vetoed_of=ranking.vetoed_of,
        foot_notes=list(foot.notes),
        surer=next_measure,
    )


@router.get("/substitutes")
def of_other_sports(desk: Anyone, fitting_id: UUID) -> list[SubstituteOut]:
    """Shoes of other sports on hand that may serve, with what each gives up."""
    with desk.open() as cx:
        on = load(cx, fitting_id)
        found = []
        for sport in SPORTS:
            if sport != on.case.brief.sport:
                shoes, shelf = shelf_for(cx, on, sport)
                found += substitutes(shoes, shelf, on.spec, on.foot, on.keeps["rank.fit_power"])
        found = sorted(found, key=lambda p: -p.score)[:SUBSTITUTES_SHOWN]
        rows = stock.lines(cx, [p.line_id for p in found], fitting_id)
    return [
        SubstituteOut(
            pair=pair_out(row, on.now.currency),
            sport=SPORTS[row["sport"]].name,
            hope=p.hope,
            doubt=p.doubt,
            score=p.score,
            gives_up=[c.text for c in p.costs],
            unknown=p.unknown,
        )
        for p in found
        if (row := rows.get(p.line_id))
    ]


@router.get("/pull/{model_id}/{width}")
def one_shoe(desk: Anyone, fitting_id: UUID, model_id: UUID, width: Annotated[str, Path(max_length=20)]) -> ShoeFit:
    """One model in one width: every size on these feet, new and settled."""
    with desk.open() as cx:
        return shoe_fit(cx, fitting_id, model_id, width)


@router.put("/tray/{line_id}")
def into_tray(desk: Anyone, fitting_id: UUID, line_id: UUID, given: TakeIn | None = None) -> list[PairOut]:
    """Put a pair in the tray; one that is promised to another only with a reason in words."""
    with desk.open() as cx:
        on = load(cx, fitting_id, lock=True)
        _open(on)
        on.require_acknowledged()
        anyway = given.anyway if given else ""
        if anyway:
            needs_seller(desk)  # it breaks a promise
        stock.pull(cx, desk.who, on.row, line_id, on.now["shelf.hold_h"], anyway)
        return [pair_out(r, on.now.currency) for r in stock.tray(cx, fitting_id)]


def _open(on: Loaded) -> None:
    if on.row["state"] != "open":
        raise Conflict("This fitting is settled: begin a new one, or undo the sale first.", code="settled")


@router.delete("/tray/{line_id}")
def out_of_tray(desk: Anyone, fitting_id: UUID, line_id: UUID) -> list[PairOut]:
    """Put a pair back."""
    with desk.open() as cx:
        on = load(cx, fitting_id, lock=True)
        _open(on)
        stock.put_back(cx, desk.who, on.row, line_id)
        return [pair_out(r, on.now.currency) for r in stock.tray(cx, fitting_id)]
