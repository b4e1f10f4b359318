"""A season in the chain's third shop: trials that found what the shoes truly are, follow-ups, and what they teach."""

from __future__ import annotations

import math
from dataclasses import dataclass
from random import Random
from typing import Any
from uuid import UUID

import numpy as np

from ..core.fit.chance import new_gap
from ..core.fit.foot import FIT_ZONES
from ..core.fit.stretch import capacity_mm, give_of
from ..core.fit.trial import TESTS
from ..core.match.rank import rank
from ..core.match.shelf import GIVES_AS
from ..core.rules.spec import fit_target
from ..store import bench, stock
from ..store.bench import Loaded
from ..store.database import Cx, Row

Truth = dict[UUID, tuple[float, float, float, float]]
"""By size: what its inside truly measures, mm; nobody in the demo knows."""
NAMES = (
    "Ash Tolland", "Brae Quillon", "Cress Vanmoor", "Dun Hattersby", "Elm Osterley", "Fen Carraway", "Gorse Milnthorpe",
    "Heath Ravelow", "Iris Stroud-Ley", "Juniper Cole", "Kelp Andersby", "Ling Farrowdale",
)  # fmt: skip
VISITS = 3
BRIEFS: tuple[dict[str, Any], ...] = (
    {"sport": "football", "discipline": "match", "surface": "artificial_grass"},
    {"sport": "climbing", "discipline": "indoor_general"},
    {"sport": "court", "discipline": "badminton", "floor": "sprung_wood"},
    {"sport": "football", "discipline": "match", "surface": "firm_natural"},
    {"sport": "lifting", "discipline": "mixed_training"},
    {"sport": "climbing", "discipline": "technical_edging", "edge_mm": 8, "stance_min": 2, "toe_strength": "average"},
)
TRIED = 3
PINCH_OF = {1: "right:ball", 2: "right:instep", 3: "right:heel"}
SAID_SD_MM = 1.5
SEEN_SD_MM = (1.0, 2.0, 2.0, 1.0)
GIVES_MORE = {"leather": 1.25, "suede": 1.2, "knit": 0.8}
"""How much uppers truly give against the table, by the first part of their name."""


@dataclass(frozen=True)
class Found:
    """A pair tried: its line, what was found of it, and its true new gaps, mm."""

    line: Row
    trial: dict[str, Any]
    gaps: tuple[float, ...]


def brief_of(nth: int) -> dict[str, Any]:
    """The brief of a visit."""
    usual = {"level": "club", "sessions_per_week": 2, "history": [], "body_kg": 62.0 + 5 * (nth % 6)}
    return usual | BRIEFS[nth % len(BRIEFS)]


def _true_gives(row: Row, zone: int, inner: float) -> float:
    upper = row["upper"] or GIVES_AS
    more = GIVES_MORE.get(upper.split("_")[0], 1.0)
    return more * capacity_mm(upper, row["build"], FIT_ZONES[zone], inner, row["reinforced"])  # type: ignore[arg-type]


def try_on(random: Random, on: Loaded, row: Row, truth: Truth, off: list[float]) -> Found:
    """What a pair feels like on these feet, which truly are `off` from what was measured, mm by zone."""
    upper = row["upper"] or GIVES_AS
    band = fit_target(on.spec, upper, row["choices"].get("closure", "")).band()
    inside = truth[row["variant_id"]]
    gaps = tuple(inside[z] - float(on.foot.larger[z]) - off[z] for z in range(4))
    trial: dict[str, Any] = {"toes": "fine"}
    slides = False
    for zone, gap in enumerate(gaps):
        gives = 0.0 if zone == 0 and band.length_when_new else _true_gives(row, zone, inside[zone])
        low, high = new_gap(np.array([band.low[zone], band.high[zone]]), np.full(2, gives))
        felt = gap + random.gauss(0, SAID_SD_MM)
        jams, slack = felt < low - SAID_SD_MM, felt > high + SAID_SD_MM
        if zone == 0:
            trial["toes"] = "jam" if jams else "slack" if slack else "fine"
        elif jams:
            trial.setdefault("pinches", {})[PINCH_OF[zone]] = 2
        elif slack and zone == 3:
            trial["heel_slip"] = 2
        elif slack and zone == 1:
            slides = True
    found = {"toes": trial["toes"] != "fine", "pinches": "pinches" in trial, "slides": slides,
             "slips": "heel_slip" in trial}  # fmt: skip
    trial["slide"] = "always" if slides else "no"
    trial["tests"] = {
        t.slug: "fail" if any(found[what] for what in t.asks) else "pass" for t in TESTS[on.case.brief.sport]
    }
    good = not any(found.values())
    return Found(row, trial | {"verdict": "pass" if good else "fail"}, gaps)


def tried(cx: Cx, random: Random, on: Loaded, truth: Truth) -> list[Found]:
    """The pairs that promise most, one after another, until one passes."""
    shoes, shelf = bench.shelf_for(cx, on, on.case.brief.sport)
    off = [random.gauss(0, float(s)) for s in on.foot.sigma]
    found = []
    for place in rank(shoes, shelf, on.spec, on.foot, most=TRIED).places:
        found.append(try_on(random, on, stock.line(cx, UUID(place.line_id)), truth, off))
        if found[-1].trial["verdict"] == "pass":
            break
    return found


def seen_again(random: Random, found: Found, truth: Truth) -> dict[str, Any]:
    """What is measured in a pair worn for some weeks."""
    hours = float(random.randrange(10, 45))
    row = found.line
    tau = give_of(row["upper"] or GIVES_AS, row["build"]).tau_h
    sets: dict[str, Any] = {"hours": hours}
    for zone, gap in enumerate(found.gaps):
        gives = _true_gives(row, zone, truth[row["variant_id"]][zone])
        settled = gap + gives * -math.expm1(gap / gives) if gap < 0 else gap
        now = gap + (settled - gap) * -math.expm1(-hours / tau)
        sets[f"{FIT_ZONES[zone]}_mm"] = round(now + random.gauss(0, SEEN_SD_MM[zone]), 1)
    return sets
