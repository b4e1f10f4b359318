"""Pairs that aren't here: what to order for a fitting, orders and transfers between sister shops, needs by month."""

from __future__ import annotations

from uuid import UUID

from fastapi import APIRouter

from ...core.errors import BadInput
from ...core.match.ordering import (
    Arrival,
    MadeSheet,
    OrderSheet,
    arrival_says,
    made_sheet,
    order_sheet,
)
from ...core.match.rank import rank
from ...core.rules.aloud import hand_words, sentence
from ...core.rules.spec import fit_target
from ...store import bench, catalogue, fittings, house, journal, learned, orders
from ...store.database import Cx, Row
from ..desk import Anyone, Desk, Seller
from ..schemas import ArrivalIn, Elsewhere, NeedOut, OrderIn, OrderOut, OrderPlace, StepIn
from ..schemas_takings import DepositBackIn, DepositIn

router = APIRouter(prefix="/api", tags=["orders"])
SHOWN = 8


def order_out(row: Row, desk: Desk) -> OrderOut:
    """An order for the interface: whose it is, and what may be done next from here. Of the feet it is for, the shop
    that was asked sees nothing."""
    ours = row["shop_id"] == desk.who.shop_id
    steps = orders.next_steps(row, ours=ours)
    own: dict[str, object] = {} if ours else {
        "sheet": {}, "arrival": {}, "fitting_id": None, "athlete": None, "left_minor": None, "left_currency": None,
    }  # fmt: skip
    here = ours and row["state"] in ("arrived", "received", "sent_back")
    return OrderOut(
        **{n: row[n] for n in OrderOut.model_fields if n in row} | own,
        ours=ours,
        steps=list(steps),
        says=orders.says(row["state"], ours=ours),
        arrival_says=arrival_says(Arrival.model_validate(row["arrival"]), row["sheet"]) if here else None,
    )


@router.get("/fittings/{fitting_id}/to-order")
def to_order(desk: Anyone, fitting_id: UUID) -> list[OrderPlace]:
    """The sizes of the range that aren't on hand here and promise most, and which sister shops have them. What will not
    fit is not offered."""
    with desk.open() as cx:
        on = bench.load(cx, fitting_id)
        shoes, shelf = bench.shelf_for(cx, on, on.case.brief.sport, here=False)
        ranking = rank(shoes, shelf, on.spec, on.foot, on.keeps["rank.fit_power"], most=SHOWN)
        ids = [UUID(p.line_id) for p in ranking.places]
        rows = catalogue.variants(cx, ids)
        has = orders.elsewhere(cx, ids)
    return [
        OrderPlace(
            **{n: row[n] for n in OrderPlace.model_fields if n in row},
            hope=place.hope,
            doubt=place.doubt,
            score=place.score,
            elsewhere=[Elsewhere(**{n: e[n] for n in Elsewhere.model_fields}) for e in has.get(variant_id, [])],
        )
        for place, variant_id in zip(ranking.places, ids, strict=True)
        if place.hope != "will_not_fit" and (row := rows.get(variant_id))
    ]


def _sheet(cx: Cx, fitting_id: UUID, variant_id: UUID) -> OrderSheet:
    on = bench.load(cx, fitting_id)
    row = catalogue.variant(cx, variant_id)
    run = learned.on_rows(cx, on.row["learned_version"], catalogue.run_of(cx, row["model_id"], row["width"]))
    fit = bench.sizes_of(on, run)
    size = next(r for r in run if r["eu_label"] == row["eu_label"])
    return order_sheet(on.case.brief.sport, fit.sizes, row["eu_label"], size["length_mm"], size["length_sigma_mm"])


def _made(cx: Cx, fitting_id: UUID) -> MadeSheet:
    on = bench.load(cx, fitting_id)
    said = [sentence(on.spec), *hand_words(on.spec).values()]
    return made_sheet(on.case.brief.sport, on.foot, fit_target(on.spec, ""), said)


@router.get("/fittings/{fitting_id}/to-order/made")
def to_measure(desk: Anyone, fitting_id: UUID) -> MadeSheet:
    """The sheet for a pair made to measure, the last resort."""
    with desk.open() as cx:
        return _made(cx, fitting_id)


@router.get("/fittings/{fitting_id}/to-order/{variant_id}")
def sheet(desk: Anyone, fitting_id: UUID, variant_id: UUID) -> OrderSheet:
    """The order sheet of one size for a fitting: how sure, the half size to add, what to check on arrival."""
    with desk.open() as cx:
        return _sheet(cx, fitting_id, variant_id)


@router.get("/fittings/{fitting_id}/orders")
def of_fitting(desk: Anyone, fitting_id: UUID) -> list[OrderOut]:
    """What was ordered for a fitting."""
    with desk.open() as cx:
        fittings.get(cx, fitting_id)
        return [order_out(r, desk) for r in orders.of_fitting(cx, fitting_id)]


@router.get("/orders")
def every(desk: Anyone) -> list[OrderOut]:
    """This shop's orders and those asked of it, open ones first."""
    with desk.open() as cx:
        return [order_out(r, desk) for r in orders.listing(cx)]


@router.post("/orders", status_code=201)
def ask(desk: Anyone, given: OrderIn) -> OrderOut:
    """Want a pair: of its supplier, or of a sister shop. The id makes sending it twice harmless."""
    with desk.open() as cx:
        found: dict[str, object] = {}
        if not given.variant_id:
            if not given.fitting_id or given.from_shop:
                raise BadInput("A pair made to measure is made for a fitting, by a last maker.")
            found = _made(cx, given.fitting_id).model_dump(mode="json")
        elif given.fitting_id:
            fittings.get(cx, given.fitting_id)
            try:
                found = _sheet(cx, given.fitting_id, given.variant_id).model_dump(mode="json")
            except BadInput:
                found = {}  # nothing is known of these feet yet
        row = orders.ask(cx, desk.who, given.id, given.variant_id, given.from_shop, given.fitting_id, given.note, found)
        return order_out(row, desk)


@router.post("/orders/{order_id}/steps")
def step(desk: Seller, order_id: UUID, given: StepIn) -> OrderOut:
    """Take an order a step on: ordered, arrived; held, sent, received, refused; let go."""
    with desk.open() as cx:
        return order_out(orders.step(cx, desk.who, order_id, given.change_id, given.to), desk)


@router.post("/orders/{order_id}/deposit")
def deposit(desk: Seller, order_id: UUID, given: DepositIn) -> OrderOut:
    """Money is left for an order; the id makes sending it twice harmless."""
    with desk.open() as cx:
        row = orders.ours(cx, desk.who, order_id)
        journal.deposit(cx, desk.who, row, given.id, given.amount_minor, house.current(cx).currency)
        return order_out(orders.get(cx, order_id), desk)


@router.post("/orders/{order_id}/deposit/back")
def deposit_back(desk: Seller, order_id: UUID, given: DepositBackIn) -> OrderOut:
    """What was left for an order is given back; the id makes sending it twice harmless."""
    with desk.open() as cx:
        journal.deposit_back(cx, desk.who, orders.ours(cx, desk.who, order_id), given.id, given.why)
        return order_out(orders.get(cx, order_id), desk)


@router.put("/orders/{order_id}/arrival")
def arrival(desk: Anyone, order_id: UUID, given: ArrivalIn) -> OrderOut:
    """What was found of a pair when it came: its inside read, how it felt on."""
    found = Arrival(**given.model_dump(exclude={"change_id"}))
    with desk.open() as cx:
        return order_out(orders.found_on_arrival(cx, desk.who, order_id, given.change_id, found), desk)


@router.get("/needs")
def needs(desk: Anyone) -> list[NeedOut]:
    """What was wanted and not here, by month: what to buy next."""
    with desk.open() as cx:
        return [NeedOut(**r) for r in orders.needs(cx)]
