"""People to reach: how an athlete is reached, and whom to tell that their pair is here. Nothing is sent by itself."""

from __future__ import annotations

from uuid import UUID

from fastapi import APIRouter

from ...core.care.reach import Reach, arrival_text, whom
from ...core.errors import Conflict
from ...core.house import House
from ...core.money import Money
from ...core.sizes import label_words
from ...store import athletes, house, orders, reach, shop
from ...store.database import Cx, Row
from ..desk import Anyone, Desk, Seller
from ..schemas_reach import ReachIn, ReachOut, TellOut

router = APIRouter(prefix="/api", tags=["reach"])


def reach_out(row: Row | None, keeps: House) -> ReachOut:
    """How somebody is reached, for the interface, with the words they would agree to now."""
    return ReachOut(
        reach=reach.reach_of(row) if row else Reach(),
        said=row["said"] if row else "",
        agreed_at=row["agreed_at"] if row else None,
        version=row["version"] if row else 0,
        would_say=keeps.reach_words,
    )


@router.get("/athletes/{athlete_id}/reach")
def how(desk: Anyone, athlete_id: UUID) -> ReachOut:
    """How an athlete is reached."""
    with desk.open() as cx:
        athletes.get(cx, athlete_id)
        return reach_out(reach.of(cx, athlete_id), house.current(cx))


@router.put("/athletes/{athlete_id}/reach")
def save(desk: Seller, athlete_id: UUID, given: ReachIn) -> ReachOut:
    """How an athlete is reached from now on, and whether they agree to it, in the words the house has now."""
    with desk.open() as cx:
        keeps = house.current(cx)
        words = keeps.reach_words if given.agrees else None
        reach.save(cx, desk.who, athlete_id, given.change_id, given.version, given.reach, words)
        return reach_out(reach.of(cx, athlete_id), keeps)


def _tell(cx: Cx, desk: Desk, order_id: UUID) -> TellOut:
    order = orders.get(cx, order_id)
    if order["shop_id"] != desk.who.shop_id or not order["athlete_id"]:
        raise Conflict("This order is for nobody of ours.", code="nobody")
    athlete = athletes.get(cx, order["athlete_id"])
    known = reach.of(cx, athlete["id"])
    today = shop.today(shop.zone_of(house.current(cx)))
    found = whom(reach.reach_of(known) if known else None, athlete["name"], athlete["born_on"], today,
                 agreed=bool(known and known["said"]))  # fmt: skip
    size = label_words(order["system"], order["label"]) if order["label"] is not None else "made to measure"
    left = str(Money(order["left_minor"], order["left_currency"])) if order["left_minor"] else ""
    pair = f"{order['maker']} {order['name']}, {size}"
    return TellOut(
        whom=found,
        text=arrival_text(found, athlete["name"], pair, desk.who.shop_name, left) if found.name else "",
        reached_at=order["reached_at"],
        reached_by=order["reached_by"],
        athlete_id=athlete["id"],
    )


@router.get("/orders/{order_id}/tell")
def tell(desk: Anyone, order_id: UUID) -> TellOut:
    """Whom to tell that an order is here, how, and a text ready to send."""
    with desk.open() as cx:
        return _tell(cx, desk, order_id)


@router.put("/orders/{order_id}/told")
def told(desk: Seller, order_id: UUID) -> TellOut:
    """They were told. Again is no change."""
    with desk.open() as cx:
        reach.told(cx, desk.who, order_id)
        return _tell(cx, desk, order_id)


@router.delete("/orders/{order_id}/told")
def untold(desk: Seller, order_id: UUID) -> TellOut:
    """They weren't told after all."""
    with desk.open() as cx:
        reach.untold(cx, desk.who, order_id)
        return _tell(cx, desk, order_id)
