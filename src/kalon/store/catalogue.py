"""The chain's catalogue: models, their sizes, and what was read of the inside of each."""

from __future__ import annotations

from typing import Any, cast
from uuid import UUID

from psycopg.types.json import Jsonb

from ..core.errors import Conflict, NotFound
from ..core.fit.foot import FIT_ZONES
from ..core.match.shelf import GIVES_AS, Shoe
from ..core.money import Money
from ..core.sheets.labels import Size
from ..core.shoes.inner import InnerIn, ShoeReading, facts, surest
from ..core.shoes.made import Made
from .audit import once, record_shop, shop_done, used_elsewhere
from .database import Cx, Row, Who
from .ids import new_id

SIGMAS = tuple(f"{zone}_sigma_mm" for zone in FIT_ZONES)
"""How sure each measure is, in the order of `FIT_ZONES`."""
LABELS = tuple(f"{zone}_label_mm" for zone in FIT_ZONES)
READ = tuple(f"{zone}_read_mm" for zone in FIT_ZONES)
READ_SIGMAS = tuple(f"{zone}_read_sigma_mm" for zone in FIT_ZONES)
FACTS = (*LABELS, *READ, *READ_SIGMAS)
"""Columns of what is kept of a size's inside: what its box says, and its readings as one. Measures are worked out from
them and what was learned (`learned.on_rows`)."""
OF_SIZE = ", ".join(f"v.{name}" for name in FACTS)
PRICE_HERE = (
    "coalesce(c.now_minor, m.now_minor) AS price_minor, coalesce(c.price_minor, m.price_minor) AS full_minor, "
    "coalesce(c.cost_minor, m.cost_minor) AS cost_minor, coalesce(c.currency, m.currency) AS currency"
)
"""What a size costs today, outside of sales, and the shop, of `model_here m` and `OF_COLOUR`."""
OF_COLOUR = (
    "LEFT JOIN LATERAL (SELECT * FROM price_now WHERE v.colour <> '' AND model_id = v.model_id AND colour = v.colour "
    "OFFSET 0) c ON true"
)
"""The price of a size's own colour, where it has one; nothing is read where it has no colour."""


def price_of(row: Row) -> Money | None:
    """What a model costs in the shop, in the shop's money; none where nobody has said."""
    minor, currency = row.get("price_minor"), row.get("currency")
    return None if minor is None or currency is None else Money(minor, currency)


def shoe_of(row: Row, key: str = "model_id") -> Shoe:
    """A model's row as the core ranks it. An upper nobody knows gives as the least would, and isn't known."""
    upper = row["upper"]
    return Shoe(
        id=str(row[key]),
        sport=row["sport"],
        upper=upper or GIVES_AS,
        build=row["build"],
        reinforced=row["reinforced"],
        properties=row["properties"],
        choices=row["choices"] | {"upper": upper} if upper else row["choices"],
        price=price_of(row),
        features=row["features"],
        maker=row["maker"],
        meant_for=tuple(row["meant_for"]),
    )


def model(cx: Cx, model_id: UUID) -> Shoe:
    """One model as the core ranks it. Raises `NotFound`."""
    row = cx.execute("SELECT * FROM model_here WHERE id = %s", [model_id]).fetchone()
    if not row:
        raise NotFound("There is no such model here.")
    return shoe_of(row | {"price_minor": row["now_minor"]}, "id")


def names(cx: Cx, ids: list[str]) -> dict[str, tuple[str, str]]:
    """Maker and name of some models, by id."""
    rows = cx.execute("SELECT id, maker, name FROM shoe_model WHERE id = ANY(%s)", [ids]).fetchall()
    return {str(r["id"]): (r["maker"], r["name"]) for r in rows}


def models_of(cx: Cx, sport: str) -> list[Row]:
    """The chain's models of a sport, whether or not any is on the shelf."""
    return cx.execute(
        "SELECT id, maker, name, properties, features FROM shoe_model WHERE sport = %s AND retired_at IS NULL "
        "ORDER BY maker, name LIMIT 2000",
        [sport],
    ).fetchall()


def add_model(cx: Cx, chain_id: UUID, model_id: UUID, values: dict[str, Any]) -> None:
    """A new model."""
    cx.execute(
        "INSERT INTO shoe_model (id, chain_id, maker, name, sport, upper, build, reinforced, properties, choices, "
        "features, last, meant_for) VALUES (%s, %s, %s, %s, %s, %s, %s, %s, %s, %s, %s, %s, %s)",
        [model_id, chain_id, values["maker"], values["name"], values["sport"], values["upper"], values["build"],
         values["reinforced"], Jsonb(values["properties"]), Jsonb(values["choices"]),
         Jsonb(values.get("features", {})), values.get("last", ""), Jsonb(values.get("meant_for", []))],
    )  # fmt: skip


IN_THAT_SALE, IN_THAT_MONEY = (
    ", ".join(
        f"{name} = CASE WHEN model_price.currency = excluded.currency THEN model_price.{name} END" for name in names
    )
    for names in (("sale_minor", "sale_from", "sale_until"), ("cost_minor", "sale_minor", "sale_from", "sale_until"))
)
"""What else is known of a price stays where the money stays."""
PRICED = f"""
    INSERT INTO model_price (shop_id, chain_id, model_id, price_minor, currency, cost_minor)
    VALUES (%s, %s, %s, %s, %s, %s)
    ON CONFLICT (shop_id, model_id, colour) DO UPDATE SET price_minor = excluded.price_minor,
        currency = excluded.currency, {IN_THAT_MONEY}
"""


def set_price(
    cx: Cx, shop_id: UUID, model_id: UUID, minor: int | None, currency: str, cost_minor: int | None = None
) -> None:
    """What a shop asks for a model from now on, in its currency; none where it no longer knows. What it pays is taken
    where it knew no price before."""
    cx.execute(PRICED, [shop_id, chain_of(cx, shop_id), model_id, minor, currency, cost_minor])


def add_variant(
    cx: Cx,
    chain_id: UUID,
    variant_id: UUID,
    model_id: UUID,
    width: str,
    eu_label: float,
    given: InnerIn,
    colour: str = "",
) -> None:
    """A new size of a model, its inside as far as `given` tells."""
    cx.execute(
        f"INSERT INTO variant (id, chain_id, model_id, width, system, label, eu_label, colour, known_from, "
        f"runs_ahead, {', '.join(FACTS)}) VALUES ({', '.join(['%s'] * (10 + len(FACTS)))})",
        [variant_id, chain_id, model_id, width, given.system, given.label, eu_label, colour, surest(given),
         given.runs_ahead, *facts(given)],
    )  # fmt: skip


def variant(cx: Cx, variant_id: UUID, *, lock: bool = False) -> Row:
    """One size with its model's sport and build. Raises `NotFound`."""
    row = cx.execute(
        "SELECT v.*, m.sport, m.build, m.maker, m.name FROM variant v JOIN shoe_model m ON m.id = v.model_id "
        "WHERE v.id = %s" + (" FOR NO KEY UPDATE OF v" if lock else ""),
        [variant_id],
    ).fetchone()
    if not row:
        raise NotFound("There is no such size here.")
    return row


SIZE = f"""
    SELECT v.id, v.id AS variant_id, v.model_id, v.width, v.system, v.label, v.runs_ahead, v.eu_label, v.colour,
           v.known_from, {OF_SIZE}, m.maker, m.name, m.sport, m.upper, m.build, m.reinforced,
           m.properties, m.choices, m.features, m.last, m.meant_for, {PRICE_HERE}
    FROM variant v JOIN model_here m ON m.id = v.model_id {OF_COLOUR}
"""


def variants(cx: Cx, ids: list[UUID]) -> dict[UUID, Row]:
    """Some sizes with their models, by id, whether or not this shop keeps them."""
    return {r["id"]: r for r in cx.execute(SIZE + " WHERE v.id = ANY(%s)", [ids]).fetchall()}


def run_of(cx: Cx, model_id: UUID, width: str) -> list[Row]:
    """Every size of a model in one width, of several colours one."""
    return cx.execute(
        f"SELECT DISTINCT ON (eu_label) * FROM ({SIZE} WHERE v.model_id = %s AND v.width = %s "
        "AND v.retired_at IS NULL) e ORDER BY eu_label, colour",
        [model_id, width],
    ).fetchall()


def readings(cx: Cx, variant_id: UUID) -> list[Row]:
    """What was read of a size, newest last, without what was set aside."""
    return cx.execute(
        "SELECT r.id, r.zone, r.mm, r.sigma_mm, r.source, r.at, p.name AS by FROM shoe_reading r "
        "LEFT JOIN staff p ON p.id = r.staff_id WHERE r.variant_id = %s AND r.set_aside_at IS NULL ORDER BY r.at, r.id",
        [variant_id],
    ).fetchall()


def counted(cx: Cx, variant_id: UUID) -> list[Row]:
    """Readings that say of a size as it is made now, oldest first."""
    return cx.execute(COUNTED, [[variant_id]]).fetchall()


def inside_of(row: Row, read: list[Row]) -> InnerIn:
    """What is known of the inside of a size."""
    return InnerIn(
        sport=row["sport"],
        build=row["build"],
        system=row["system"],
        label=row["label"],
        runs_ahead=row["runs_ahead"],
        width=row["width"],
        readings=[ShoeReading(**{n: r[n] for n in ("zone", "mm", "sigma_mm", "source")}) for r in read],
    )


def add_reading(cx: Cx, who: Who, variant_id: UUID, reading_id: UUID, reading: ShoeReading) -> None:
    """One measure read inside a shoe. The same id again changes nothing."""
    once(cx, reading_id)
    row = variant(cx, variant_id, lock=True)
    known = cx.execute("SELECT variant_id FROM shoe_reading WHERE id = %s", [reading_id]).fetchone()
    if known:
        if known["variant_id"] != variant_id:
            raise used_elsewhere()
        return
    cx.execute(
        "INSERT INTO shoe_reading (id, chain_id, variant_id, zone, mm, sigma_mm, source, shop_id, staff_id) "
        "VALUES (%s, %s, %s, %s, %s, %s, %s, %s, %s)",
        [reading_id, row["chain_id"], variant_id, reading.zone, reading.mm, reading.sigma_mm, reading.source,
         who.shop_id, who.staff_id],
    )  # fmt: skip
    know(cx, {variant_id})


def set_aside(cx: Cx, variant_id: UUID, reading_id: UUID) -> None:
    """A reading no longer counts; it is kept. Again is no change. Raises `NotFound`."""
    variant(cx, variant_id, lock=True)
    found = cx.execute(
        "UPDATE shoe_reading SET set_aside_at = coalesce(set_aside_at, now()) WHERE id = %s AND variant_id = %s",
        [reading_id, variant_id],
    ).rowcount
    if not found:
        raise NotFound("There is no such reading of this size.")
    know(cx, {variant_id})


AT_ONCE = 2_000
COUNTED = """
    SELECT r.variant_id, r.zone, r.mm, r.sigma_mm, r.source FROM shoe_reading r JOIN variant v ON v.id = r.variant_id
    JOIN shoe_model m ON m.id = v.model_id
    WHERE r.variant_id = ANY(%s) AND r.set_aside_at IS NULL AND (r.last = '' OR m.last = '' OR r.last = m.last)
    ORDER BY r.at, r.id
"""
"""Readings that say of a size as it is made now; what was read on another last doesn't."""


def know(cx: Cx, variants: set[UUID]) -> None:
    """Keep anew what was read of some sizes, from every reading that counts."""
    every = sorted(variants)
    names = (*FACTS, "known_from")
    for start in range(0, len(every), AT_ONCE):
        ids = every[start : start + AT_ONCE]
        rows = cx.execute(
            "SELECT v.id, v.system, v.label, v.runs_ahead, v.width, m.sport, m.build FROM variant v "
            "JOIN shoe_model m ON m.id = v.model_id WHERE v.id = ANY(%s)", [ids]
        ).fetchall()  # fmt: skip
        read: dict[UUID, list[Row]] = {}
        for r in cx.execute(COUNTED, [ids]).fetchall():
            read.setdefault(r["variant_id"], []).append(r)
        found = [(row["id"], inside_of(row, read.get(row["id"], []))) for row in rows]
        columns = list(zip(*([*facts(given), surest(given)] for _, given in found), strict=True))
        cx.execute(
            f"UPDATE variant v SET {', '.join(f'{n} = t.{n}' for n in names)} "
            f"FROM unnest(%s::uuid[], {', '.join(['%s::float[]'] * len(FACTS))}, %s::text[]) AS t "
            f"(id, {', '.join(names)}) WHERE v.id = t.id",
            [[i for i, _ in found], *map(list, columns)],
        )


def made(cx: Cx, model_id: UUID, *, lock: bool = False) -> Row:
    """Everything of a model. Raises `NotFound`."""
    if lock:
        cx.execute("SELECT 1 FROM shoe_model WHERE id = %s FOR NO KEY UPDATE", [model_id])
    row = cx.execute(
        "SELECT id, chain_id, maker, name, sport, upper, build, price_minor, code, last, meant_for, choices, "
        "properties, features, retired_at FROM model_here WHERE id = %s",
        [model_id],
    ).fetchone()
    if not row:
        raise NotFound("There is no such model here.")
    return row


def save_model(
    cx: Cx, who: Who, model_id: UUID, change_id: UUID, model: Made, was: Made | None, currency: str, *, retired: bool
) -> None:
    """A model as it is to be kept from now on, its price in this shop's currency and for this shop alone; one that
    isn't there yet begins. The same change again is no change.

    Raises `Conflict` where the chain has another of that name, or where it is no longer as it `was` read."""
    once(cx, change_id)
    if shop_done(cx, change_id, model_id):
        return
    taken = cx.execute(
        "SELECT 1 FROM shoe_model WHERE lower(maker) = lower(%s) AND lower(name) = lower(%s) AND id <> %s",
        [model.maker, model.name, model_id],
    ).fetchone()
    if taken:
        raise Conflict(f"There is a {model.maker} {model.name} already.", code="name-taken")
    values = model.model_dump(mode="json")
    row = cx.execute("SELECT 1 FROM shoe_model WHERE id = %s FOR NO KEY UPDATE", [model_id]).fetchone()
    before: dict[str, Any] = {}
    if row:
        old = made(cx, model_id)
        if was is not None and Made(**{n: old[n] for n in values}) != was:
            raise Conflict(
                "Somebody changed this model meanwhile. Nothing was changed: open it again and look.", code="changed"
            )
        before = {n: old[n] for n in values} | {"retired": old["retired_at"] is not None}
    else:
        cx.execute(
            "INSERT INTO shoe_model (id, chain_id, maker, name, sport, build, properties, choices) "
            "VALUES (%s, %s, %s, %s, %s, %s, '{}', '{}')",
            [model_id, chain_of(cx, who.shop_id), model.maker, model.name, model.sport, model.build],
        )
    kept = {n: v for n, v in values.items() if n != "price_minor"}
    sets = ", ".join(f"{column} = %s" for column in kept)
    given = [Jsonb(v) if isinstance(v, dict | list) else v for v in kept.values()]
    cx.execute(
        f"UPDATE shoe_model SET {sets}, retired_at = CASE WHEN %s THEN coalesce(retired_at, now()) END WHERE id = %s",
        [*given, retired, model_id],
    )
    if values["price_minor"] != before.get("price_minor"):
        set_price(cx, who.shop_id, model_id, values["price_minor"], currency)
    if before and before["last"] != values["last"]:
        know(cx, sizes_of(cx, model_id))
    record_shop(cx, who, "stock", model_id, change_id, before, values | {"retired": retired})


def sizes_of(cx: Cx, model_id: UUID) -> set[UUID]:
    """Every size of a model."""
    return {r["id"] for r in cx.execute("SELECT id FROM variant WHERE model_id = %s", [model_id]).fetchall()}


def add_sizes(
    cx: Cx, who: Who, model_id: UUID, change_id: UUID, width: str, colour: str, sizes: list[Size], gtin: str | None
) -> None:
    """Sizes of a model this shop keeps from now on, new in the catalogue or not. Again is no change.

    Raises `Conflict` where a bar code is another's."""
    once(cx, change_id)
    if shop_done(cx, change_id, model_id):
        return
    model = made(cx, model_id, lock=True)
    for size in sizes:
        known = cx.execute(
            "SELECT id FROM variant WHERE model_id = %s AND width = %s AND eu_label = %s AND colour = %s",
            [model_id, width, size.eu_label, colour],
        ).fetchone()
        variant_id = known["id"] if known else new_id()
        if not known:
            given = InnerIn(
                sport=model["sport"], build=model["build"], system=size.system, label=size.label, width=width,
                runs_ahead=size.runs_ahead,
            )  # fmt: skip
            add_variant(cx, model["chain_id"], variant_id, model_id, width, size.eu_label, given, colour)
        cx.execute("UPDATE variant SET retired_at = NULL WHERE id = %s AND retired_at IS NOT NULL", [variant_id])
        if gtin:
            held = cx.execute(
                "SELECT m.maker, m.name FROM variant v JOIN shoe_model m ON m.id = v.model_id WHERE v.gtin = %s "
                "AND v.id <> %s",
                [gtin, variant_id],
            ).fetchone()
            if held:
                raise Conflict(f"That bar code is the {held['maker']} {held['name']}'s already.", code="gtin-taken")
            cx.execute("UPDATE variant SET gtin = %s WHERE id = %s", [gtin, variant_id])
        cx.execute(
            "INSERT INTO stock_line (id, shop_id, chain_id, variant_id) VALUES (%s, %s, %s, %s) "
            "ON CONFLICT (shop_id, variant_id) DO NOTHING",
            [new_id(), who.shop_id, model["chain_id"], variant_id],
        )
    record_shop(cx, who, "stock", model_id, change_id, {},
                {"width": width, "colour": colour, "sizes": [s.label for s in sizes], "gtin": gtin})  # fmt: skip


def chain_of(cx: Cx, shop_id: UUID) -> UUID:
    """The chain a shop belongs to."""
    row = cx.execute("SELECT chain_id FROM shop WHERE id = %s", [shop_id]).fetchone()
    if not row:
        raise NotFound("There is no such shop.")
    return cast(UUID, row["chain_id"])


SAME_LAST = """
    SELECT m.id, m.maker, m.name, m.sport, m.upper, m.build, m.reinforced, m.properties, m.choices, m.features,
           m.meant_for, m.now_minor AS price_minor, m.currency, m.last, m.retired_at, l.id AS line_id, l.on_hand,
           v.eu_label, v.width
    FROM model_here m JOIN variant v ON v.model_id = m.id JOIN stock_line l ON l.variant_id = v.id AND l.on_hand > 0
    WHERE m.maker = %(maker)s AND m.last = %(last)s AND m.last <> '' AND m.id <> %(model)s
      AND v.eu_label = %(label)s AND v.width = %(width)s ORDER BY m.now_minor, m.name LIMIT 6
"""


def same_last(cx: Cx, row: Row) -> list[Row]:
    """Other models on the last of a pair that are on hand in its size and width, the cheapest first."""
    return cx.execute(
        SAME_LAST,
        {"maker": row["maker"], "last": row["last"], "model": row["model_id"], "label": row["eu_label"],
         "width": row["width"]},
    ).fetchall()  # fmt: skip
