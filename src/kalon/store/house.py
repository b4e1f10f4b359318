"""The house of a shop: every version stays, the newest holds for new fittings."""

from __future__ import annotations

from typing import Any
from uuid import UUID

from psycopg.types.json import Jsonb

from ..core.errors import BadInput, Conflict, NotFound, bad_field, read
from ..core.formats import brought_up, newest
from ..core.house import HOUSE, House
from ..core.rules.spec import check_house
from . import fittings
from .audit import record
from .database import Cx, Row, Who
from .ids import new_id
from .shop import known_zones


def _house(row: Row | None) -> House:
    return house_from(row["version"], row["body"], row["format"]) if row else HOUSE


def house_from(version: int, body: dict[str, Any], format_: int) -> House:
    """A version from how it is stored."""
    return read(House, {**brought_up("house", body, format_), "version": version})


def current(cx: Cx) -> House:
    """The newest version, or the house as it comes."""
    return _house(
        cx.execute("SELECT version, body, format FROM house_version ORDER BY version DESC LIMIT 1").fetchone()
    )


def newest_of(cx: Cx, shop_id: UUID) -> House:
    """The newest version of a shop's, for whoever sees every shop."""
    return _house(
        cx.execute(
            "SELECT version, body, format FROM house_version WHERE shop_id = %s ORDER BY version DESC LIMIT 1",
            [shop_id],
        ).fetchone()
    )


def at_version(cx: Cx, version: int) -> House:
    """A version. Raises `NotFound`."""
    if version == 0:
        return HOUSE
    row = cx.execute("SELECT version, body, format FROM house_version WHERE version = %s", [version]).fetchone()
    if not row:
        raise NotFound("The house has no such version.")
    return _house(row)


def of_fitting(cx: Cx, fitting_id: UUID) -> House:
    """The house a fitting is computed under."""
    row = cx.execute("SELECT house_version FROM fitting WHERE id = %s", [fitting_id]).fetchone()
    if not row:
        raise NotFound("There is no such fitting here.")
    return at_version(cx, row["house_version"])


def history(cx: Cx) -> list[Row]:
    """Every version, newest first: when it was set and by whom."""
    return cx.execute(
        "SELECT h.version, h.set_at, s.name AS set_by FROM house_version h JOIN staff s ON s.id = h.set_by "
        "ORDER BY h.version DESC LIMIT 200"
    ).fetchall()


def save(cx: Cx, who: Who, base_version: int, body: dict[str, Any]) -> House:
    """Set the next version, as read at `base_version`. Raises `Conflict` when somebody set one meanwhile."""
    wanted = read(House, {**body, "version": base_version + 1})
    if wanted.time_zone not in known_zones():
        raise bad_field("time_zone", "unknown", f"There is no time zone called {wanted.time_zone}.")
    try:
        check_house(wanted)
    except ValueError as error:
        raise BadInput(f"{error}.") from None
    added = cx.execute(
        "INSERT INTO house_version (shop_id, version, body, set_by, format) "
        "SELECT %s, %s, %s, %s, %s WHERE %s = coalesce((SELECT max(version) FROM house_version), 0) "
        "ON CONFLICT DO NOTHING RETURNING version",
        [who.shop_id, wanted.version, Jsonb(wanted.model_dump(mode="json", exclude={"version"})), who.staff_id,
         newest("house"), base_version],
    ).fetchone()  # fmt: skip
    if not added:
        raise Conflict("Somebody else changed the house meanwhile. Look at it again first.", code="changed-elsewhere")
    return wanted


def take_newest(cx: Cx, who: Who, fitting_id: UUID) -> House:
    """Compute an open fitting under the newest version from now on. Raises `Conflict` when it is settled."""
    fitting = fittings.get(cx, fitting_id, lock=True)
    if fitting["state"] != "open":
        raise Conflict("A settled fitting keeps the house it was settled under.", code="settled")
    latest = current(cx)
    before = of_fitting(cx, fitting_id).version
    if before != latest.version:
        cx.execute("UPDATE fitting SET house_version = %s WHERE id = %s", [latest.version, fitting_id])
        record(cx, who, fitting["athlete_id"], fitting_id, "house", latest.version, new_id(),
               {"version": before}, {"version": latest.version})  # fmt: skip
    return latest
