"""What a shop pays and asks for a model: by colour where they differ, and for some days in a sale."""

from __future__ import annotations

from collections.abc import Sequence
from uuid import UUID

from ..core.errors import BadInput, Conflict
from ..core.takings.price import PriceRow
from .audit import once, record_shop, shop_done
from .catalogue import chain_of, made
from .database import Cx, Who

COLUMNS = ", ".join(PriceRow.model_fields)


def of_model(cx: Cx, model_id: UUID) -> list[PriceRow]:
    """What is known of a model's prices in the shop's money, the one for every other colour first."""
    rows = cx.execute(f"SELECT {COLUMNS} FROM price_now WHERE model_id = %s ORDER BY colour", [model_id]).fetchall()
    return [PriceRow(**r) for r in rows]


def colours_of(cx: Cx, model_id: UUID) -> list[str]:
    """The colours a model is kept in here, those with a price of their own with them."""
    rows = cx.execute(
        "SELECT DISTINCT v.colour FROM variant v JOIN stock_line l ON l.variant_id = v.id WHERE v.model_id = %(id)s "
        "UNION SELECT colour FROM price_now WHERE model_id = %(id)s ORDER BY 1",
        {"id": model_id},
    ).fetchall()
    return [r["colour"] for r in rows if r["colour"]]


def save(
    cx: Cx,
    who: Who,
    model_id: UUID,
    change_id: UUID,
    prices: Sequence[PriceRow],
    was: Sequence[PriceRow],
    currency: str,
) -> None:
    """Prices of a model from now on, all of them, in this shop's money. The same change again is no change.

    Raises `BadInput` for a colour twice or one it isn't kept in, `Conflict` where they are no longer as they were."""
    once(cx, change_id)
    if shop_done(cx, change_id, model_id):
        return
    made(cx, model_id, lock=True)
    before = of_model(cx, model_id)
    if before != list(was):
        raise Conflict(
            "Somebody changed these prices meanwhile. Nothing was changed: open them again and look.", code="changed"
        )
    colours = [p.colour for p in prices]
    unknown = set(colours) - {"", *colours_of(cx, model_id)}
    if unknown or len(set(colours)) < len(colours):
        raise BadInput("Each price is of one colour the shop keeps it in, once.")
    cx.execute("DELETE FROM model_price WHERE model_id = %s AND currency = %s", [model_id, currency])
    chain = chain_of(cx, who.shop_id)
    for price in prices:
        given = price.model_dump()
        names = ["shop_id", "chain_id", "model_id", "currency", *given]
        changed = ", ".join(f"{n} = excluded.{n}" for n in names[3:] if n != "colour")
        cx.execute(
            f"INSERT INTO model_price ({', '.join(names)}) VALUES ({', '.join(['%s'] * len(names))}) "
            f"ON CONFLICT (shop_id, model_id, colour) DO UPDATE SET {changed}",
            [who.shop_id, chain, model_id, currency, *given.values()],
        )
    told = [{"prices": [p.model_dump(mode="json") for p in rows]} for rows in (before, prices)]
    record_shop(cx, who, "stock", model_id, change_id, *told)
