"""Buying again: what to order for the shelf, orders to suppliers, what came of them; labels and cards of sizes."""

from __future__ import annotations

from collections.abc import Iterator
from datetime import date
from typing import Annotated, Literal, cast
from uuid import UUID

from fastapi import APIRouter, Query, Response
from starlette.responses import StreamingResponse

from ...core.errors import BadInput
from ...core.money import Money
from ...core.sizes import label_words
from ...core.systems import SIZE_SYSTEMS
from ...files import sheets as files
from ...store import house, purchases, shop, stock, takings
from ...store.database import Cx, Row
from ..desk import Anyone, Desk, Seller
from ..schemas_purchases import (
    AdvisedSize,
    ChasedIn,
    GiveUpIn,
    PurchaseIn,
    PurchaseLine,
    PurchaseOut,
    PurchasesOut,
    PurchaseStep,
    ReceiveIn,
)
from ..view import labels_of
from .sheets import MEDIA

router = APIRouter(prefix="/api", tags=["purchases"])
COLUMNS = (
    "order",
    "maker",
    "model",
    "width",
    "colour",
    "size",
    "gtin",
    "code",
    "pairs",
    "received",
    "cost",
    "currency",
)
"""Columns of an order as a file."""
MOST_LABELS = 240


def _size(row: Row) -> dict[str, object]:
    names = ("variant_id", "model_id", "maker", "name", "width", "colour", "system", "label", "eu_label")
    return {n: row[n] for n in names}


def _line(row: Row) -> PurchaseLine:
    return PurchaseLine(
        **_size(row), pairs=row["pairs"], received=row["received"], given_up=row["given_up"],
        missing=0 if row["given_up"] else max(row["pairs"] - row["received"], 0), cost_minor=row["cost_minor"],
    )  # fmt: skip


def _cost(desk: Desk, row: Row) -> int | None:
    """What a pair costs the shop: a manager's to know."""
    return cast(int | None, row["cost_minor"]) if desk.who.role == "manager" else None


def purchase_out(desk: Desk, row: Row, lines: list[Row], today: date) -> PurchaseOut:
    """An order to a supplier for the interface; it is late when its day has gone and something is missing."""
    found = [_line(r | {"cost_minor": _cost(desk, r)}) for r in lines]
    missing = sum(x.missing for x in found)
    late = row["state"] == "sent" and row["expected_on"] is not None and row["expected_on"] < today and missing > 0
    names = ("id", "number", "supplier", "note", "expected_on", "state", "version", "by", "made_at", "sent_at",
             "chased_at")  # fmt: skip
    return PurchaseOut(**{n: row[n] for n in names}, lines=found, missing=missing, late=late)


def _one(cx: Cx, desk: Desk, purchase_id: UUID) -> PurchaseOut:
    today = shop.today(shop.zone_of(house.current(cx)))
    return purchase_out(desk, purchases.get(cx, purchase_id), purchases.lines(cx, [purchase_id])[purchase_id], today)


@router.get("/purchases")
def every(desk: Anyone) -> PurchasesOut:
    """What to buy again, with how many and why, and the orders to suppliers, open ones first."""
    with desk.open() as cx:
        keeps = house.current(cx)
        today = shop.today(shop.zone_of(keeps))
        rows = purchases.listing(cx)
        lines = purchases.lines(cx, [r["id"] for r in rows])
        advised = purchases.advised(cx, keeps["takings.cover_days"])
        return PurchasesOut(
            currency=keeps.currency,
            advised=[AdvisedSize(**_size(r), pairs=a.pairs, why=a.why, cost_minor=_cost(desk, r)) for r, a in advised],
            orders=[purchase_out(desk, r, lines[r["id"]], today) for r in rows],
        )


@router.put("/purchases/{purchase_id}")
def save(desk: Seller, purchase_id: UUID, given: PurchaseIn) -> PurchaseOut:
    """An order as it is to be until it is sent; the change id makes sending it twice harmless."""
    pairs = {x.variant_id: x.pairs for x in given.lines}
    if len(pairs) < len(given.lines):
        raise BadInput("Each size stands in an order once.")
    with desk.open() as cx:
        purchases.save(
            cx, desk.who, purchase_id, given.change_id, given.version, given.supplier, given.expected_on, given.note,
            pairs,
        )  # fmt: skip
        return _one(cx, desk, purchase_id)


@router.post("/purchases/{purchase_id}/steps")
def step(desk: Seller, purchase_id: UUID, given: PurchaseStep) -> PurchaseOut:
    """An order is sent, let go, or called done with what came."""
    with desk.open() as cx:
        purchases.step(cx, desk.who, purchase_id, given.change_id, given.to)
        return _one(cx, desk, purchase_id)


@router.post("/purchases/{purchase_id}/received")
def receive(desk: Seller, purchase_id: UUID, given: ReceiveIn) -> PurchaseOut:
    """Pairs that came of an order: they are on hand from now on."""
    with desk.open() as cx:
        purchases.receive(cx, desk.who, purchase_id, given.change_id, given.pairs)
        return _one(cx, desk, purchase_id)


@router.post("/purchases/{purchase_id}/chased")
def chased(desk: Seller, purchase_id: UUID, given: ChasedIn) -> PurchaseOut:
    """What is missing was asked after, and is expected on another day."""
    with desk.open() as cx:
        purchases.chased(cx, desk.who, purchase_id, given.change_id, given.expected_on)
        return _one(cx, desk, purchase_id)


@router.post("/purchases/{purchase_id}/given-up")
def given_up(desk: Seller, purchase_id: UUID, given: GiveUpIn) -> PurchaseOut:
    """What is missing of a size comes no more, or is awaited after all."""
    with desk.open() as cx:
        purchases.give_up(cx, desk.who, purchase_id, given.change_id, given.variant_id, yes=given.yes)
        return _one(cx, desk, purchase_id)


@router.get(
    "/purchases/{purchase_id}/order.pdf",
    response_class=Response,
    responses={200: {"content": {"application/pdf": {}}}},
)
def order_printed(desk: Anyone, purchase_id: UUID, paper: Literal["a4", "letter"] = "a4") -> Response:
    """An order to send to its supplier, printed."""
    from ..printed_purchase import purchase_pdf

    with desk.open() as cx:
        found = _one(cx, desk, purchase_id)
    return Response(purchase_pdf(found, desk.who.shop_name, paper), media_type="application/pdf",
                    headers={"content-disposition": f'inline; filename="order-{found.number}.pdf"'})  # fmt: skip


@router.get("/purchases/{purchase_id}/order.{form}", response_class=StreamingResponse)
def order_file(desk: Anyone, purchase_id: UUID, form: Literal["csv", "xlsx"]) -> StreamingResponse:
    """An order to send to its supplier as a file."""
    with desk.open() as cx:
        row = purchases.get(cx, purchase_id)
        lines = purchases.lines(cx, [purchase_id])[purchase_id]

    def rows() -> Iterator[list[object]]:
        for r in lines:
            cost = takings.whole(_cost(desk, r), r["currency"] or "EUR")
            size = label_words(r["system"], r["label"])
            yield [row["number"], r["maker"], r["name"], r["width"], r["colour"], size, takings.gtin(r),
                   r["code"] or "", r["pairs"], r["received"], cost, r["currency"] or ""]  # fmt: skip

    kept = {"content-disposition": f'attachment; filename="order-{row["number"]}.{form}"'}
    return StreamingResponse(files.write(form, COLUMNS, rows()), media_type=MEDIA[form], headers=kept)


@router.get("/labels.pdf", response_class=Response, responses={200: {"content": {"application/pdf": {}}}})
def labels(
    desk: Anyone,
    line: Annotated[list[str], Query(max_length=MOST_LABELS)],
    paper: Literal["a4", "letter", "roll"] = "a4",
    skip: Annotated[int, Query(ge=0, le=29)] = 0,
) -> Response:
    """Box labels of stock lines, `id` or `id*pairs` each; `skip` labels of the first sheet are used already."""
    from ..printed_labels import box_label, label_code, pages

    wanted: list[UUID] = []
    for text in line:
        name, _, times = text.partition("*")
        try:
            wanted += [UUID(name)] * (int(times) if times else 1)
        except ValueError:
            raise BadInput("Labels are of stock lines: their ids, each with * and how many.") from None
    if not 0 < len(wanted) <= MOST_LABELS:
        raise BadInput(f"1 to {MOST_LABELS} labels at a time.")
    with desk.open() as cx:
        rows = {i: stock.line(cx, i) for i in dict.fromkeys(wanted)}
    pairs = {
        i: box_label(
            {
                "maker": r["maker"], "name": r["name"], "width": "" if r["width"] == "regular" else r["width"],
                "colour": r["colour"], "size": label_words(r["system"], r["label"]), "also": _also(r),
                "price": "" if r["price_minor"] is None else str(Money(r["price_minor"], r["currency"])),
                "code": label_code(r),
            }
        )
        for i, r in rows.items()
    }  # fmt: skip
    return Response(pages([pairs[i] for i in wanted], paper, skip), media_type="application/pdf",
                    headers={"content-disposition": 'inline; filename="labels.pdf"'})  # fmt: skip


def _also(row: Row) -> str:
    found = labels_of(row["eu_label"])
    return " · ".join(
        f"{of.card} {found[s]:g}" for s, of in SIZE_SYSTEMS.items() if of.card and s in found and s != row["system"]
    )
