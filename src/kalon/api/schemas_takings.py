"""What the takings say over the wire."""

from __future__ import annotations

from datetime import date, datetime
from uuid import UUID

from pydantic import Field, model_validator

from ..core.house import Rounding
from ..core.takings.asked import MOST_MINOR
from ..core.takings.journal import Became
from ..core.takings.price import PriceRow
from ..core.takings.sums import Bar, Sums
from .schemas import JournalLine, Wire, Written


class OpenDay(Wire):
    """A day with lines that nobody has closed yet."""

    day: date
    lines: int


class TakingsOut(Wire):
    """A day, a month or a year of takings: what it came to, and its newest lines."""

    period: str
    first: date
    last: date
    today: date
    sums: list[Sums]
    bars: list[Bar]
    """By day, or by month where a year is looked at, in the shop's own money."""
    lines: list[JournalLine]
    more: str | None
    """Where to read on; none at the end."""
    closed_at: datetime | None
    closed_by: str | None
    open_days: list[OpenDay]
    """Days before this one that are open still, and this one where it is."""
    rounding: Rounding


class BackIn(Wire):
    """Money given back upon a sale; the id makes sending it twice harmless. Without an amount, all that stands of it.
    Without what became of the pair, it stays with them, and how much is given back has to be said."""

    id: UUID
    amount_minor: int | None = Field(None, ge=0, le=MOST_MINOR)
    why: Written = Field(max_length=200)
    became: Became | None = None
    exchange: bool = False

    @model_validator(mode="after")
    def _something(self) -> BackIn:
        if self.became is None and not self.amount_minor:
            raise ValueError("Say how much is given back, or what became of the pair")
        if self.exchange and self.became is None:
            raise ValueError("In exchange for another, the pair has to come back")
        return self


class CorrectIn(Wire):
    """The sum of a sale put right by so much, more or less; the id makes sending it twice harmless."""

    id: UUID
    by_minor: int = Field(ge=-MOST_MINOR, le=MOST_MINOR)
    why: Written = Field(max_length=200)

    @model_validator(mode="after")
    def _something(self) -> CorrectIn:
        if not self.by_minor:
            raise ValueError("Say by how much the sum was wrong")
        return self


class TillIn(Wire):
    """The till's own number of a line; none takes it away again."""

    number: Written | None = Field(None, max_length=40)


class CloseIn(Wire):
    """Close a day; the id makes sending it twice harmless."""

    id: UUID
    day: date = Field(ge=date(1900, 1, 1), le=date(2200, 12, 31))


class PricesOut(Wire):
    """What a model costs the shop and whoever buys it, and the colours it is kept in."""

    currency: str
    colours: list[str]
    prices: list[PriceRow]


class PricesIn(Wire):
    """A model's prices from now on, all of them, and as they were read; the id makes sending it twice harmless."""

    change_id: UUID
    prices: list[PriceRow] = Field(max_length=60)
    was: list[PriceRow] = Field(max_length=60)


class DepositIn(Wire):
    """Money left for an order; the id makes sending it twice harmless."""

    id: UUID
    amount_minor: int = Field(gt=0, le=MOST_MINOR)


class DepositBackIn(Wire):
    """What was left for an order is given back; the id makes sending it twice harmless."""

    id: UUID
    why: Written = Field(max_length=200)
