"""What a model costs the shop and whoever buys it: by colour where they differ, and for some days in a sale."""

from __future__ import annotations

from uuid import UUID

from fastapi import APIRouter

from ...store import catalogue, house, prices
from ...store.database import Cx
from ..desk import Manager
from ..schemas_takings import PricesIn, PricesOut

router = APIRouter(prefix="/api/models/{model_id}/prices", tags=["takings"])


def prices_out(cx: Cx, model_id: UUID) -> PricesOut:
    """A model's prices for the interface."""
    catalogue.made(cx, model_id)
    return PricesOut(
        currency=house.current(cx).currency,
        colours=prices.colours_of(cx, model_id),
        prices=prices.of_model(cx, model_id),
    )


@router.get("")
def prices_now(desk: Manager, model_id: UUID) -> PricesOut:
    """What a model costs the shop and whoever buys it, by colour, with its sale."""
    with desk.open() as cx:
        return prices_out(cx, model_id)


@router.put("")
def set_prices(desk: Manager, model_id: UUID, given: PricesIn) -> PricesOut:
    """A model's prices from now on."""
    with desk.open() as cx:
        currency = house.current(cx).currency
        prices.save(cx, desk.who, model_id, given.change_id, given.prices, given.was, currency)
        return prices_out(cx, model_id)
