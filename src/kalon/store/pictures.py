"""Pictures of shoes: measured, corrected, kept for the catalogue; and what became of a pair since its first day."""

from __future__ import annotations

from typing import Any, cast
from uuid import UUID, uuid5

from psycopg.types.json import Jsonb

from ..core.errors import BadInput, Conflict, NotFound
from ..core.formats import brought_up, newest
from ..core.shoes.inner import ShoeReading, Zone
from ..core.shoes.made import Made
from ..core.shoes.pictured import AS_PROPERTY, AS_ZONE, Pictured, Way
from ..files.shoes import ShoePicture
from . import catalogue, learned, pairs
from .audit import once, record_shop, used_elsewhere
from .database import Cx, Row, Who

COLUMNS = (
    "c.id, c.variant_id, c.pair_id, c.way, c.name, c.said, c.reading, c.format, c.shape, c.version, c.practice, "
    "c.taken_at, c.kept_at, s.name AS taken_by"
)
MOST = 40


def reading_of(row: Row) -> Pictured:
    """What was read of a picture."""
    return Pictured.model_validate(brought_up("pictured", row["reading"], row["format"]))


def get(cx: Cx, picture_id: UUID, *, lock: bool = False) -> Row:
    """One picture. Raises `NotFound`."""
    row = cx.execute(
        f"SELECT {COLUMNS} FROM shoe_picture c JOIN staff s ON s.id = c.taken_by WHERE c.id = %s "
        "AND c.removed_at IS NULL" + (" FOR NO KEY UPDATE OF c" if lock else ""),
        [picture_id],
    ).fetchone()
    if not row:
        raise NotFound("There is no such picture here.")
    return row


def of_variant(cx: Cx, variant_id: UUID) -> list[Row]:
    """This shop's pictures of one size, the newest first."""
    return cx.execute(
        f"SELECT {COLUMNS} FROM shoe_picture c JOIN staff s ON s.id = c.taken_by WHERE c.variant_id = %s "
        "AND c.removed_at IS NULL ORDER BY c.taken_at DESC, c.id LIMIT %s",
        [variant_id, MOST],
    ).fetchall()


def of_model(cx: Cx, model_id: UUID) -> list[Row]:
    """This shop's pictures of any size of a model, the newest first, without practice shoes."""
    return cx.execute(
        f"SELECT {COLUMNS} FROM shoe_picture c JOIN staff s ON s.id = c.taken_by JOIN variant v ON v.id = c.variant_id "
        "WHERE v.model_id = %s AND c.removed_at IS NULL ORDER BY c.taken_at DESC, c.id LIMIT %s",
        [model_id, MOST],
    ).fetchall()


def of_pair(cx: Cx, pair_id: UUID) -> list[Row]:
    """Pictures of a pair somebody owns, the first day's first."""
    return cx.execute(
        f"SELECT {COLUMNS} FROM shoe_picture c JOIN staff s ON s.id = c.taken_by WHERE c.pair_id = %s "
        "AND c.removed_at IS NULL ORDER BY c.taken_at, c.id LIMIT %s",
        [pair_id, MOST],
    ).fetchall()


def bytes_of(cx: Cx, picture_id: UUID, what: str) -> bytes:
    """The photograph (`copy`) or what is seen squarely (`view`). Raises `NotFound`."""
    column = {"copy": "copy", "view": "view"}[what]
    row = cx.execute(
        f"SELECT {column} AS data FROM shoe_picture WHERE id = %s AND removed_at IS NULL", [picture_id]
    ).fetchone()
    if not row:
        raise NotFound("There is no such picture here.")
    return bytes(row["data"])


def sent_before(cx: Cx, picture_id: UUID, variant_id: UUID | None, pair_id: UUID | None) -> Row | None:
    """What this id made before; none if it is new. Raises `Conflict` if it was of another shoe."""
    once(cx, picture_id)
    row = cx.execute("SELECT variant_id, pair_id FROM shoe_picture WHERE id = %s", [picture_id]).fetchone()
    if not row:
        return None
    if (row["variant_id"], row["pair_id"]) != (variant_id, pair_id):
        raise used_elsewhere()
    return get(cx, picture_id)


def add(
    cx: Cx,
    who: Who,
    picture_id: UUID,
    found: ShoePicture,
    name: str,
    *,
    variant_id: UUID | None = None,
    pair_id: UUID | None = None,
    practice: bool = False,
) -> Row:
    """Keep a measured picture. The same id again changes nothing."""
    if before := sent_before(cx, picture_id, variant_id, pair_id):
        return before
    cx.execute(
        "INSERT INTO shoe_picture (id, shop_id, variant_id, pair_id, way, name, said, reading, format, shape, copy, "
        "view, practice, taken_by) VALUES (%s, %s, %s, %s, %s, %s, %s, %s, %s, %s, %s, %s, %s, %s)",
        [picture_id, who.shop_id, variant_id, pair_id, found.reading.way, name[:200], Jsonb(found.said),
         Jsonb(found.reading.model_dump(mode="json")), newest("pictured"), Jsonb(found.shape), found.copy, found.view,
         practice, who.staff_id],
    )  # fmt: skip
    return get(cx, picture_id)


def correct(cx: Cx, picture_id: UUID, version: int, found: ShoePicture) -> Row:
    """Put a picture measured again in place of the one read at `version`. Raises `Conflict` when it changed since."""
    done = cx.execute(
        "UPDATE shoe_picture SET said = %s, reading = %s, format = %s, shape = %s, view = %s, version = version + 1, "
        "kept_at = NULL WHERE id = %s AND version = %s AND removed_at IS NULL RETURNING id",
        [Jsonb(found.said), Jsonb(found.reading.model_dump(mode="json")), newest("pictured"), Jsonb(found.shape),
         found.view, picture_id, version],
    ).fetchone()  # fmt: skip
    if not done:
        raise Conflict(
            "Somebody else corrected this picture meanwhile. Look again before changing it.", code="changed-elsewhere"
        )
    return get(cx, picture_id)


def remove(cx: Cx, picture_id: UUID) -> None:
    """Take a picture out; it is only marked. What was kept of it stays."""
    get(cx, picture_id, lock=True)
    cx.execute("UPDATE shoe_picture SET removed_at = coalesce(removed_at, now()) WHERE id = %s", [picture_id])


def keep(cx: Cx, who: Who, picture_id: UUID, version: int) -> Row:
    """Keep for the catalogue what a picture of a size tells: readings of the size; numbers and the plate of the model.

    Once a version; again is no change. Raises `BadInput` for a practice shoe, `Conflict` when it changed since."""
    row = get(cx, picture_id, lock=True)
    if row["variant_id"] is None:
        raise BadInput("A picture of somebody's own pair isn't the catalogue's.", code="not-stock")
    if row["practice"]:
        raise BadInput("A practice shoe's numbers stay out of the catalogue.", code="practice")
    if row["version"] != version:
        raise Conflict("Somebody else corrected this picture meanwhile. Look again.", code="changed-elsewhere")
    if row["kept_at"]:
        return row
    reading = reading_of(row)
    variant = catalogue.variant(cx, row["variant_id"], lock=True)
    # What was kept of it before it was corrected no longer counts: one picture is one reading of a zone.
    before = [uuid5(picture_id, f"{zone}/{v}") for zone in AS_ZONE.values() for v in range(1, version)]
    cx.execute(
        "UPDATE shoe_reading SET set_aside_at = coalesce(set_aside_at, now()) WHERE id = ANY(%s) AND variant_id = %s",
        [before, variant["id"]],
    )
    for name, zone in AS_ZONE.items():
        if number := reading.numbers.get(name):
            inside = ShoeReading(
                zone=cast(Zone, zone), mm=round(number.value, 1), sigma_mm=round(number.sigma, 2), source="insole"
            )
            catalogue.add_reading(cx, who, variant["id"], uuid5(picture_id, f"{zone}/{version}"), inside)
    _to_model(cx, who, variant, row, reading)
    cx.execute("UPDATE shoe_picture SET kept_at = now() WHERE id = %s", [picture_id])
    return get(cx, picture_id)


def _to_model(cx: Cx, who: Who, variant: Row, row: Row, reading: Pictured) -> None:
    """A model's numbers and plate from a picture; what a picture can't be true of its sport is left out."""
    told = {
        p: round(n.value, 2 if name == "heel_flare" else 1)
        for name, p in AS_PROPERTY.items()
        if (n := reading.numbers.get(name))
    }
    if reading.way == "side" and "drop_mm" in told:
        told.pop("downturn_deg", None)
    model = catalogue.made(cx, variant["model_id"], lock=True)
    before = Made(**{n: model[n] for n in Made.model_fields})
    kept = before
    for name, value in told.items():
        try:
            kept = Made.model_validate(kept.model_dump() | {"properties": kept.properties | {name: value}})
        except ValueError:
            continue
    plate = None
    if reading.studs:
        length_mm = learned.on_row(cx, None, variant)["length_mm"]
        plate = {"studs": [s.model_dump() for s in reading.studs], "for_mm": length_mm,
                 "picture": str(row["id"])}  # fmt: skip
    cx.execute(
        "UPDATE shoe_model SET properties = %s, plate = coalesce(%s, plate) WHERE id = %s",
        [Jsonb(kept.properties), Jsonb(plate) if plate else None, variant["model_id"]],
    )
    if kept != before or plate:
        after = {"properties": kept.properties, "plate": bool(plate)}
        change = uuid5(row["id"], f"model/{row['version']}")
        record_shop(cx, who, "stock", variant["model_id"], change, {"properties": before.properties}, after)


def plate_of(cx: Cx, model_id: UUID) -> dict[str, Any] | None:
    """The studs of a model as they were found, and the inner length of the size they are of; none unknown."""
    row = cx.execute("SELECT plate FROM shoe_model WHERE id = %s", [model_id]).fetchone()
    return row["plate"] if row else None


def first_and_now(cx: Cx, pair_id: UUID, way: Way) -> tuple[Row | None, Row | None]:
    """Of a pair: the picture of its first day and the newest. Where it has one only, the first is the newest of the
    same
    model in the shop, practice left out."""
    seen = [r for r in of_pair(cx, pair_id) if r["way"] == way]
    if not seen:
        return None, None
    if len(seen) > 1:
        return seen[0], seen[-1]
    model = pairs.get(cx, pair_id)["model_id"]
    new = [r for r in of_model(cx, model) if r["way"] == way and not r["practice"]] if model else []
    return (new[0] if new else None), seen[-1]
