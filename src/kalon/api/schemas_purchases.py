"""Orders to suppliers over the wire."""

from __future__ import annotations

from datetime import date, datetime
from typing import Annotated, Literal
from uuid import UUID

from pydantic import Field

from ..core.contract import Day
from ..core.systems import System
from ..store.purchases import MOST_LINES
from .schemas import Wire, Written

Pairs = Annotated[int, Field(ge=1, le=10_000)]


class SizeOf(Wire):
    """A size of a model, as its box has it."""

    variant_id: UUID
    model_id: UUID
    maker: str
    name: str
    width: str
    colour: str
    system: System
    label: float
    eu_label: float


class AdvisedSize(SizeOf):
    """A size to buy again: how many, and why."""

    pairs: int
    why: str
    cost_minor: int | None


class PurchaseLine(SizeOf):
    """A line of an order: ordered, received, missing still."""

    pairs: int
    received: int
    given_up: bool
    missing: int
    cost_minor: int | None


class PurchaseOut(Wire):
    """An order to a supplier."""

    id: UUID
    number: int
    supplier: str
    note: str
    expected_on: date | None
    state: Literal["draft", "sent", "done", "cancelled"]
    version: int
    by: str
    made_at: datetime
    sent_at: datetime | None
    chased_at: datetime | None
    lines: list[PurchaseLine]
    missing: int
    late: bool
    """Its day has gone, and something is missing."""


class PurchasesOut(Wire):
    """What to buy again, and the orders there are."""

    currency: str
    advised: list[AdvisedSize]
    orders: list[PurchaseOut]


class PurchaseLineIn(Wire):
    """So many pairs of a size."""

    variant_id: UUID
    pairs: Pairs


class PurchaseIn(Wire):
    """An order as it is to be, upon the version that was read (0 for a new one)."""

    change_id: UUID
    version: int = Field(0, ge=0, le=1_000_000)
    supplier: Written = Field(max_length=80)
    expected_on: Day | None = None
    note: str = Field("", max_length=300)
    lines: list[PurchaseLineIn] = Field(min_length=1, max_length=MOST_LINES)


class PurchaseStep(Wire):
    """Send it, let it go, or call it done."""

    change_id: UUID
    to: Literal["sent", "cancelled", "done"]


class ReceiveIn(Wire):
    """Pairs that came, by size."""

    change_id: UUID
    pairs: dict[UUID, Pairs] = Field(min_length=1, max_length=MOST_LINES)


class ChasedIn(Wire):
    """What is missing was asked after."""

    change_id: UUID
    expected_on: Day | None = None


class GiveUpIn(Wire):
    """What is missing of a size comes no more, or after all."""

    change_id: UUID
    variant_id: UUID
    yes: bool = True
