"""What the pairs of a tray cost by the hour and the season, side by side."""

from __future__ import annotations

from ..core.care.cost import HOURS_A_SESSION, BreakEvenIn, CostIn, break_even, cost, use_of
from ..core.money import Money
from ..store import stock
from ..store.bench import Loaded, asked_for
from ..store.database import Cx
from ..store.pairs import usual_price
from .schemas import CostsOut, PairCost

NEAR = 1.5
"""Prices nearer than this, as a share, aren't held against each other in a row."""


def costs_of(cx: Cx, on: Loaded) -> CostsOut:
    """What the pairs of the tray cost, as sure as their lives are; of those whose price nobody knows nothing."""
    rows = [(r, a) for r in stock.tray(cx, on.id) if (a := asked_for(on, r)) and a.total.minor]
    usual = usual_price(cx, on.case.brief.sport, on.now.currency)
    brief, currency = on.case.brief, on.now.currency
    use, ground = use_of(brief.sport, brief.discipline, brief.surface)
    hours = max(brief.sessions_per_week, 0.5) * HOURS_A_SESSION
    pairs = []
    for row, price in rows:
        total = price.total
        # What it lasts goes by the shelf's price; what it costs by what is paid.
        reference = total.whole / price.price.per(usual) if usual else None
        given = CostIn(sport=use, ground=ground, price=total.whole, reference=reference, hours_per_week=hours)
        of = {"line_id": row["id"], "name": row["name"], "eu_label": row["eu_label"]}
        pairs.append(PairCost(**of, total_minor=total.minor, cost=cost(given)))
    against = ""
    if len(pairs) > 1:
        dear, cheap = (f(pairs, key=lambda p: p.total_minor) for f in (max, min))
        if dear.total_minor > NEAR * cheap.total_minor:
            even = BreakEvenIn(
                cheap=Money(cheap.total_minor, currency).whole, dear=Money(dear.total_minor, currency).whole,
                count=max(round(dear.total_minor / cheap.total_minor), 2),
            )  # fmt: skip
            against = f"{dear.name} against {cheap.name} again and again: {break_even(even).text}"
    return CostsOut(hours_per_week=hours, currency=currency, pairs=pairs, against=against)
