"""The fit sheet: what was measured, wanted, chosen and given up, with the break-in plan, as data."""

from __future__ import annotations

from datetime import date
from typing import Any
from uuid import UUID

from ..core.care.breakin import BreakInOut
from ..core.errors import Conflict, NotFound
from ..core.fit.size import SizeFit
from ..core.house import House
from ..core.rules.aloud import sentence
from ..core.rules.engine import Spec
from ..core.sizes import SizeConvertIn, on_the_box, size_convert
from ..core.takings.journal import number_text
from ..store import fittings, house, journal, sales
from ..store.athletes import get as get_athlete
from ..store.database import ERASED, Cx, Row
from ..store.shop import day_of, zone_of
from .view import zones_ready


def fit_sheet(cx: Cx, shop_name: str, fitting_id: UUID) -> dict[str, Any]:
    """The sheet's data, from what was kept at the sale. Raises `NotFound`, or `Conflict` before a sale."""
    fitting = fittings.get(cx, fitting_id)
    sale = sales.standing(cx, fitting_id)
    if not sale:
        raise Conflict("The fit sheet is written once a pair is settled on.", code="not-settled")
    if sale["snapshot"].get("erased"):
        raise NotFound(ERASED, code="erased")
    athlete = get_athlete(cx, fitting["athlete_id"])
    booked = sales.follow_up(cx, fitting_id)
    line = next(iter(journal.of_sale(cx, sale["id"])), None)
    return sheet_of(shop_name, athlete["name"], sale, booked["due_on"] if booked else None, house.current(cx), line)


def sheet_of(
    shop_name: str, athlete: str, sale: Row, due_on: date | None, keeps: House, line: Row | None = None
) -> dict[str, Any]:
    """The sheet's data of one sale, with its line in the journal where that may be read; its day is the shop's."""
    kept = sale["snapshot"]
    settled = kept["settled"]
    off = settled.get("discount_minor", 0)
    return {
        "sheet": "kalon-fit-sheet/2",
        "shop": shop_name,
        "athlete": athlete,
        "fitted_by": sale["sold_by"],
        "settled_at": sale["sold_at"].isoformat(),
        "settled_on": day_of(sale["sold_at"], zone_of(keeps)).isoformat(),
        "pair": f"{sale['maker']} {sale['name']}",
        "size": {
            "eu": sale["eu_label"],
            "box": on_the_box(sale["pair"]),
            "width": sale["width"],
            "nearest": size_convert(SizeConvertIn(system="eu", label=sale["eu_label"])).nearest,
        },
        "price_minor": sale["price_minor"],
        "discount_minor": off,
        "total_minor": sales.paid(sale).minor,
        "number": number_text(line["year"], line["number"]) if line else None,
        "till_number": line["till_number"] if line else None,
        "currency": sale["currency"],
        "tax": settled.get("tax"),
        "house_version": kept.get("house", {}).get("version", 0),
        "feet": kept["feet"],
        "foot_notes": kept["foot_notes"],
        "brief": kept["brief"],
        "spec": kept["spec"],
        "wanted": sentence(Spec.model_validate(kept["spec"])),
        "fit": settled["size"],
        "gives_up": [p["text"] for p in settled["gives_up"]],
        "in_a_word": settled.get("in_a_word", ""),
        "note": kept["note"],
        "break_in": settled["plan"],
        "by_zone": [
            z.text
            for z in zones_ready(
                SizeFit.model_validate(settled["size"]), settled["tau_h"], BreakInOut.model_validate(settled["plan"])
            )
        ],
        "follow_up_on": due_on.isoformat() if due_on else None,
        "rules_version": sale["rules_version"],
    }
