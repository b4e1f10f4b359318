"""Lines of the journal: what each kind is, and what a line that takes back another comes to."""

from __future__ import annotations

from typing import Literal

from ..errors import Conflict
from ..house import tax_within
from ..money import Money

Kind = Literal["sale", "undone", "refund", "correction", "deposit", "deposit_used", "deposit_back"]
"""A sale; one taken back at once; money given back; a sum put right; money left for an order, used, given back."""
DEPOSITS: tuple[Kind, ...] = ("deposit", "deposit_used", "deposit_back")
"""Money left for what isn't sold yet. Its tax falls due with the sale (house default: ask whoever keeps the books)."""
KIND_WORDS: dict[Kind, str] = {
    "sale": "Sale", "undone": "Sale undone", "refund": "Refund", "correction": "Correction", "deposit": "Deposit",
    "deposit_used": "Deposit used", "deposit_back": "Deposit given back",
}  # fmt: skip
Became = Literal["shelf", "worn", "supplier"]
"""What became of a pair brought back: on the shelf again, worn and written off, sent to its supplier."""
BECAME_WORDS: dict[Became, str] = {
    "shelf": "back on the shelf", "worn": "worn, written off", "supplier": "sent to its supplier",
}  # fmt: skip


def number_text(year: int, number: int) -> str:
    """A line's number as it is said and printed: `2026-0042`."""
    return f"{year}-{number:04d}"


def moved(now_minor: int, by_minor: int, rate_pct: float | None) -> tuple[int, int]:
    """What a line upon an earlier one comes to: total and tax, minor units.

    `now_minor` is what stands of the earlier one with everything already taken back. The tax is what the tax in what
    stands changes by, so that lines upon a sale that give all of it back take all of its tax back too, to the unit."""
    return by_minor, tax_within(now_minor + by_minor, rate_pct) - tax_within(now_minor, rate_pct)


def check_back(standing: Money, amount: Money) -> None:
    """Raise `Conflict` where more is to be given back than stands of a sale."""
    if amount > standing:
        raise Conflict(f"{amount} can't be given back: {standing} of this sale stands.", code="refund-too-much")
