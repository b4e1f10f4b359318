"""The stockroom: the rack page by page, one size with its movements and its inside, and counting."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta
from typing import Annotated
from uuid import UUID

from fastapi import APIRouter, Depends, Query

from ...core.errors import BadInput
from ...core.match.held import Holder, holder_words
from ...core.sheets import cells, labels, words
from ...core.sheets.plain import plain
from ...core.shoes.inner import ShoeReading
from ...core.shoes.made import Made
from ...store import athletes, catalogue, house, insides, moves, orders, rack, reserved, stock
from ...store.database import Cx
from ...store.rack import Asked
from ...store.shop import zone_of
from ..desk import Anyone, Manager, Seller
from ..schemas import (
    Elsewhere,
    HeldOut,
    InsideOut,
    KeepIn,
    ModelIn,
    ModelMade,
    ModelOut,
    MoveIn,
    MovementOut,
    PairOut,
    RackModel,
    RackOut,
    RackSize,
    RackTotals,
    ReadingIn,
    ReadingOut,
    SizesIn,
)
from ..view import pair_out

router = APIRouter(prefix="/api", tags=["stockroom"])
Text = Annotated[str, Query(max_length=100)]
Word = Annotated[str | None, Query(max_length=40)]


def asked(
    text: Text = "",
    sport: Word = None,
    plate: Word = None,
    width: Word = None,
    feature: Word = None,
    most_minor: Annotated[int | None, Query(ge=0, le=100_000_000)] = None,
    here: bool = False,
) -> Asked:
    """What the rack is narrowed by."""
    return Asked(text, sport, plate, width, feature, most_minor, here)


Narrowed = Annotated[Asked, Depends(asked)]


@router.get("/rack")
def shelves(
    desk: Anyone,
    narrowed: Narrowed,
    after_maker: Text = "",
    after_name: Annotated[str, Query(max_length=200)] = "",
    limit: Annotated[int, Query(ge=1, le=100)] = 40,
) -> RackOut:
    """Models in order of maker and name, from the one after a pair of them, each with the sizes this shop keeps."""
    with desk.open() as cx:
        after = (after_maker, after_name) if after_maker or after_name else None
        models = rack.models(cx, narrowed, after, limit)
        kept = rack.sizes(cx, [m["id"] for m in models])
        currency = house.current(cx).currency
    of: dict[UUID, list[RackSize]] = {}
    for row in kept:
        of.setdefault(row["model_id"], []).append(RackSize(**{n: row[n] for n in RackSize.model_fields}))
    return RackOut(
        models=[RackModel(**m, currency=currency, sizes=of.get(m["id"], [])) for m in models],
        more=len(models) == limit,
    )


@router.get("/rack/totals")
def how_many(desk: Anyone, narrowed: Narrowed) -> RackTotals:
    """How many models, sizes and pairs there are, narrowed alike."""
    with desk.open() as cx:
        return RackTotals(**rack.totals(cx, narrowed))


@router.get("/models/{model_id}")
def one_model(desk: Anyone, model_id: UUID) -> ModelMade:
    """A model as the catalogue keeps it."""
    with desk.open() as cx:
        return _made(cx, model_id)


def _made(cx: Cx, model_id: UUID) -> ModelMade:
    row = catalogue.made(cx, model_id)
    return ModelMade(
        id=row["id"], model=Made(**{n: row[n] for n in Made.model_fields}), retired=row["retired_at"] is not None
    )


@router.put("/models/{model_id}")
def keep_model(desk: Manager, model_id: UUID, given: ModelIn) -> ModelMade:
    """Keep a model as it is given; one that isn't there yet begins."""
    with desk.open() as cx:
        catalogue.save_model(cx, desk.who, model_id, given.change_id, given.model, given.was,
                             house.current(cx).currency, retired=given.retired)  # fmt: skip
        return _made(cx, model_id)


@router.post("/models/{model_id}/sizes", status_code=201)
def keep_sizes(desk: Manager, model_id: UUID, given: SizesIn) -> list[RackSize]:
    """Sizes of a model this shop keeps from now on; all it keeps of it."""
    try:
        sizes = [labels.size(text, given.system, given.runs_ahead) for text in given.sizes]
        width = words.width(given.width, given.system, {})
        gtin = cells.gtin(given.gtin) if given.gtin else None
    except ValueError as error:
        text = str(error)
        raise BadInput(f"{text[0].upper()}{text[1:]}.", code="bad-size") from None
    if gtin and len(sizes) > 1:
        raise BadInput("A bar code is of one size: add the others apart.", code="bad-size")
    with desk.open() as cx:
        catalogue.add_sizes(cx, desk.who, model_id, given.change_id, width, plain(given.colour), sizes, gtin)
        return [RackSize(**{n: r[n] for n in RackSize.model_fields}) for r in rack.sizes(cx, [model_id])]


@router.get("/stock/models")
def models(desk: Anyone, sport: Annotated[str, Query(max_length=20)]) -> list[ModelOut]:
    """The shop's models of a sport, with what is known of each."""
    with desk.open() as cx:
        return [ModelOut(**r) for r in catalogue.models_of(cx, sport)]


@router.get("/stock")
def lines(desk: Anyone, text: Text = "", limit: Annotated[int, Query(ge=1, le=5000)] = 500) -> list[PairOut]:
    """Stock lines by maker, name, sport, size or width; so many at most."""
    with desk.open() as cx:
        currency = house.current(cx).currency
        return [pair_out(r, currency) for r in stock.listing(cx, text, limit)]


@router.get("/stock/{line_id}")
def one_line(desk: Anyone, line_id: UUID) -> PairOut:
    """One stock line."""
    with desk.open() as cx:
        return pair_out(stock.line(cx, line_id), house.current(cx).currency)


@router.post("/stock/{line_id}/moves")
def move(desk: Manager, line_id: UUID, given: MoveIn) -> PairOut:
    """So many pairs more or fewer: counted, come in, gone back, lent, written off."""
    with desk.open() as cx:
        row = moves.move(cx, desk.who, line_id, given.id, given.by, given.kind, given.why)
        return pair_out(row, house.current(cx).currency)


@router.get("/stock/{line_id}/moves")
def movements(desk: Anyone, line_id: UUID) -> list[MovementOut]:
    """What came and went of a size, newest first."""
    with desk.open() as cx:
        stock.line(cx, line_id)
        return [MovementOut(**r) for r in moves.history(cx, line_id)]


@router.get("/stock/{line_id}/elsewhere")
def elsewhere(desk: Anyone, line_id: UUID) -> list[Elsewhere]:
    """Which sister shops have this size, and how many."""
    with desk.open() as cx:
        variant_id = stock.size_of(cx, line_id)
        found = orders.elsewhere(cx, [variant_id]).get(variant_id, [])
    return [Elsewhere(**{n: r[n] for n in Elsewhere.model_fields}) for r in found]


def _held(cx: Cx, line_id: UUID) -> list[HeldOut]:
    zone = zone_of(house.current(cx))
    now = datetime.now(zone)
    return [
        HeldOut(
            id=r["id"], kind=r["kind"], fitting_id=r["fitting_id"], until=r["until"], by=r["by"],
            says=holder_words(Holder(r["kind"], reserved.named(r), r["until"].astimezone(zone)), now),
        )
        for r in reserved.of_line(cx, line_id)
    ]  # fmt: skip


@router.get("/stock/{line_id}/held")
def held(desk: Anyone, line_id: UUID) -> list[HeldOut]:
    """Who holds pairs of a size now: trays, sister shops, customers."""
    with desk.open() as cx:
        stock.size_of(cx, line_id)
        return _held(cx, line_id)


@router.post("/stock/{line_id}/held", status_code=201)
def keep(desk: Seller, line_id: UUID, given: KeepIn) -> list[HeldOut]:
    """Keep a pair back for a customer; the id makes sending it twice harmless."""
    with desk.open() as cx:
        stock.size_of(cx, line_id)
        if given.athlete_id:
            athletes.get(cx, given.athlete_id)
        until = datetime.now(UTC) + timedelta(days=given.days)
        reserved.keep(cx, desk.who, line_id, given.id, given.name, given.athlete_id, until)
        return _held(cx, line_id)


@router.delete("/stock/{line_id}/held/{held_id}")
def give_up(desk: Seller, line_id: UUID, held_id: UUID) -> list[HeldOut]:
    """A pair is no longer kept for a customer."""
    with desk.open() as cx:
        stock.size_of(cx, line_id)
        reserved.give_up(cx, desk.who, line_id, held_id)
        return _held(cx, line_id)


@router.get("/stock/{line_id}/inside")
def inside(desk: Anyone, line_id: UUID) -> InsideOut:
    """The inside of a size: zone by zone, how sure, and what it rests on; and what was read of it."""
    with desk.open() as cx:
        return _inside(cx, stock.size_of(cx, line_id))


def _inside(cx: Cx, variant_id: UUID) -> InsideOut:
    found = insides.of_size(cx, variant_id)
    return InsideOut(zones=found.zones, rests_on=found.rests_on, readings=[ReadingOut(**r) for r in found.readings])


@router.post("/stock/{line_id}/readings", status_code=201)
def read_inside(desk: Anyone, line_id: UUID, given: ReadingIn) -> InsideOut:
    """One measure read inside a shoe; the id makes sending it twice harmless."""
    with desk.open() as cx:
        variant_id = stock.size_of(cx, line_id)
        reading = ShoeReading(zone=given.zone, mm=given.mm, sigma_mm=given.sigma_mm, source=given.source)
        catalogue.add_reading(cx, desk.who, variant_id, given.id, reading)
        return _inside(cx, variant_id)


@router.delete("/stock/{line_id}/readings/{reading_id}")
def set_aside(desk: Anyone, line_id: UUID, reading_id: UUID) -> InsideOut:
    """A reading no longer counts; it is kept."""
    with desk.open() as cx:
        variant_id = stock.size_of(cx, line_id)
        catalogue.set_aside(cx, variant_id, reading_id)
        return _inside(cx, variant_id)
