"""After the sale: what was logged and seen of the pairs sold, and pairs bought elsewhere."""

from __future__ import annotations

import math
from datetime import date, timedelta
from random import Random

from ..core.care.cost import LOG_SD
from ..core.care.lives import life
from ..core.care.seen import GONE, LOOKED, SeenPart, looked_at
from ..store import pairs, plans
from ..store.database import Cx, Row, Who
from ..store.ids import new_id
from ..store.plans import PlanBody

LASTS_LONGER = {"leather": 1.15, "knit": 0.85}
"""How much longer pairs truly last than the table says, by the first word of their upper; nobody in the demo knows."""
ELSEWHERE = (
    ("Anneke Dovrel", "An old firm-ground boot", "EU 39", "football", "match", "firm_natural", 300, 4.5),
    ("Halden Roe", "A soft all-day slipper", "EU 41.5", "climbing", "multi_pitch", None, 420, 3.0),
    ("Dagny Pell", "A flat gym shoe", "EU 38.5", "lifting", "general_strength", None, 200, 2.0),
    ("Juno Hask", "Last season's skate", "EU 42", "ice", "hockey", None, 500, 6.0),
)
"""Pairs bought elsewhere: whose, what, size, for what, how many days ago, hours a week."""


def found_of(random: Random, sport: str, worn_share: float) -> dict[SeenPart, str]:
    """What somebody who looks finds of a pair worn so far: part by part, each a little ahead or behind."""
    out: dict[SeenPart, str] = {}
    for part in looked_at(sport):  # type: ignore[arg-type]
        looked = LOOKED[part]
        if looked.told:
            continue
        share = worn_share * math.exp(random.gauss(0, 0.12))
        fits = [f for f in looked.findings if f.low <= share < f.high and (f.low < GONE or share >= GONE)]
        out[part] = (fits or [looked.findings[-1 if share > 1 else 0]])[0].value
    return out


def after_the_sale(cx: Cx, who: Who, random: Random, today: date) -> None:
    """Wear and inspections of every pair of a shop that has been out long enough."""
    for row in cx.execute(pairs.PAIR + "WHERE p.gone_at IS NULL ORDER BY p.bought_on, p.id").fetchall():
        out_for = (today - row["bought_on"]).days
        if out_for < 14:
            continue
        _logged(cx, who, random, row, out_for)
        _looked(cx, who, random, row, today)


def _logged(cx: Cx, who: Who, random: Random, row: Row, out_for: int) -> None:
    """Every third athlete logs what they wear for a while."""
    if random.random() > 0.35:
        return
    day = row["begun_on"] + timedelta(days=1)
    while day < row["bought_on"] + timedelta(days=min(out_for, 60)):
        pairs.log(cx, who, row["id"], new_id(), day, random.choice([40, 60, 75, 90]), row["surface"])
        day += timedelta(days=random.choice([2, 3, 4]))


def _looked(cx: Cx, who: Who, random: Random, row: Row, today: date) -> None:
    kind = pairs.kind_of(row)
    usual = life(kind).median_h * LASTS_LONGER.get((row["upper"] or "").split("_")[0], 1.0)
    true_h = usual * math.exp(random.gauss(0, LOG_SD * 0.8))
    logged = pairs.worn(cx, [row["id"]])[row["id"]]
    for back in (60, 5):
        day = today - timedelta(days=back)
        if day <= row["begun_on"] + timedelta(days=10):
            continue
        hours = pairs.hours_of(row, logged, day).total_h
        if hours > 2:
            pairs.look(cx, who, row["id"], new_id(), day, found_of(random, row["sport"], min(hours / true_h, 1.1)))


def elsewhere(cx: Cx, who: Who, today: date) -> None:
    """Pairs that athletes bought elsewhere, and plans for one athlete and one squad."""
    for name, what, size, sport, discipline, surface, ago, hours in ELSEWHERE:
        row = cx.execute("SELECT id FROM athlete WHERE name = %s", [name]).fetchone()
        if not row:
            continue
        bought = today - timedelta(days=ago)
        values = {
            "maker": "", "name": what, "size": size, "sport": sport, "discipline": discipline, "surface": surface,
            "upper": None, "bought_on": bought, "begun_on": bought, "price_minor": None, "hours_per_week": hours,
            "role": "main", "event_on": None, "note": "",
        }  # fmt: skip
        pairs.keep(cx, who, row["id"], new_id(), new_id(), 0, values)
    planned = cx.execute("SELECT id FROM athlete WHERE name = 'Halden Roe'").fetchone()
    if planned:
        plans.save(cx, who, planned["id"], "", 0, PlanBody(budget=280))
