"""What a pair is asked for in this sale: the shelf's price or one said for it, lowered with a reason."""

from __future__ import annotations

from dataclasses import dataclass

from pydantic import Field, model_validator

from ..contract import Contract
from ..errors import Conflict
from ..house import Tax, TaxOn, share_of, tax_on
from ..money import Money, nearest
from ..systems import System

MOST_MINOR = 100_000_000
"""No pair costs more, in minor units of any currency."""


class SaidPrice(Contract):
    """A price somebody said for one sale, of a pair whose price nobody knew; in minor units of its currency."""

    minor: int = Field(ge=0, le=MOST_MINOR)
    currency: str = Field(pattern=r"^[A-Z]{3}$")


class Lowered(Contract):
    """By how much a price is lowered: a share of it, or an amount; and why."""

    pct: float | None = Field(None, gt=0, le=100)
    minor: int | None = Field(None, gt=0, le=MOST_MINOR)
    why: str = Field("", max_length=200)

    @model_validator(mode="after")
    def _one_way(self) -> Lowered:
        if self.pct is not None and self.minor is not None:
            raise ValueError("A price is lowered by a share or by an amount, not by both")
        return self


@dataclass(frozen=True)
class Asked:
    """What a pair is asked for: before anything is taken off, what is, and with tax. `said` is whose price it is: said
    for this sale, or the shelf's."""

    price: Money
    discount: Money
    said: bool
    why: str
    tax: TaxOn | None

    @property
    def total(self) -> Money:
        """What is paid."""
        return self.tax.total if self.tax else self.price - self.discount


def asked(
    shelf: Money | None,
    said: SaidPrice | None,
    lowered: Lowered,
    policy: Tax,
    system: System,
    label: float,
    runs_ahead: float | None = None,
) -> Asked | None:
    """What a pair is asked for, in the shop's money; none where nobody has said a price.

    A price said for the sale counts only where the shelf has none. Raises `Conflict` where more is taken off than it
    costs."""
    price = shelf or (Money(said.minor, said.currency) if said else None)
    if price is None:
        return None
    off = 0
    if lowered.pct is not None:
        off = nearest(price.minor * share_of(lowered.pct))
    elif lowered.minor is not None:
        off = lowered.minor
    if off > price.minor:
        raise Conflict(
            f"{Money(off, price.currency)} is more than the pair costs ({price}): take less off.",
            code="discount-too-much",
        )
    discount = Money(off, price.currency)
    tax = tax_on(policy, price - discount, system, label, runs_ahead)
    return Asked(price, discount, shelf is None, lowered.why, tax)
