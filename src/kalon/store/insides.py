"""The inside of one size as everything says it, with what it rests on; and what was read of it."""

from __future__ import annotations

from dataclasses import dataclass
from uuid import UUID

from ..core.fit.foot import FIT_ZONES
from ..core.learn.said import rests_on
from ..core.shoes.inner import InnerOut, InnerZone, conflicts, inner, read_of
from . import catalogue, learned
from .database import Cx, Row


@dataclass(frozen=True)
class Inside:
    """Zones as Pull and orders know them, each with what it rests on in words; and the readings."""

    zones: InnerOut
    rests_on: dict[str, str]
    readings: list[Row]


def of_size(cx: Cx, variant_id: UUID) -> Inside:
    """The inside of a size by the newest of what was learned. Raises `NotFound`."""
    row = learned.on_row(cx, None, catalogue.variant(cx, variant_id))
    counted = catalogue.counted(cx, variant_id)
    given = catalogue.inside_of(row, counted)
    alone = inner(given)
    seen = learned.heard(cx, row)
    zones: dict[str, InnerZone] = {}
    words = {}
    for place, zone in enumerate(FIT_ZONES):
        sources = [source for _, _, source in read_of(given.readings, place)]
        heard = seen.get(zone)
        known = getattr(alone, zone).known_from
        zones[zone] = InnerZone(
            mm=row[f"{zone}_mm"],
            sigma_mm=row[f"{zone}_sigma_mm"],
            known_from=["learned", *known] if heard else known,
        )
        words[zone] = rests_on(row["maker"], row["name"], heard, sources)
    out = InnerOut(**zones, conflicts=conflicts(given.readings))
    return Inside(out, words, catalogue.readings(cx, variant_id))
