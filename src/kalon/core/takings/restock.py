"""What to buy again of a size: by what was sold of it, what is wanted, what is there and what is on its way."""

from __future__ import annotations

import math

from ..contract import Contract

LOOKED_AT_DAYS = 60
"""So far back sales are looked at. House default."""


class SizeSold(Contract):
    """Of one size: pairs sold in `LOOKED_AT_DAYS` (those back on the shelf taken off), wanted of its supplier by
    customers and not ordered yet, on hand and free, on their way here."""

    sold: int
    wanted: int
    free: int
    on_the_way: int


class Advice(Contract):
    """So many pairs to buy, and why."""

    pairs: int
    why: str


def to_buy(of: SizeSold, cover_days: float) -> Advice:
    """Enough for so many days at the pace it sold, and for who waits for one. Nothing for what didn't sell."""
    pace = math.ceil(max(of.sold, 0) * cover_days / LOOKED_AT_DAYS - 1e-9)
    pairs = max(pace + of.wanted - of.free - of.on_the_way, 0)
    parts = []
    if of.sold > 0:
        parts.append(f"{of.sold} sold in {LOOKED_AT_DAYS} days")
    if of.wanted:
        parts.append(f"{of.wanted} wanted")
    parts.append(f"{of.free} left" if of.free else "none left")
    if of.on_the_way:
        parts.append(f"{of.on_the_way} on the way")
    return Advice(pairs=pairs, why=", ".join(parts))
