"""What a shop pays and asks for a model, or for one colour of it."""

from __future__ import annotations

from pydantic import Field, model_validator

from ..contract import Contract, Day
from .asked import MOST_MINOR


class PriceRow(Contract):
    """Amounts in minor units of the shop's money; none where nobody said. `colour` is empty for every colour without a
    row of its own. In a sale from its first day to its last, both with it; a side left open has no end."""

    colour: str = Field("", max_length=60)
    price_minor: int | None = Field(None, ge=0, le=MOST_MINOR)
    cost_minor: int | None = Field(None, ge=0, le=MOST_MINOR)
    sale_minor: int | None = Field(None, ge=0, le=MOST_MINOR)
    sale_from: Day | None = None
    sale_until: Day | None = None

    @model_validator(mode="after")
    def _in_order(self) -> PriceRow:
        if self.sale_from and self.sale_until and self.sale_until < self.sale_from:
            raise ValueError("A sale ends after it began")
        if self.sale_minor is not None and self.price_minor is not None and self.sale_minor > self.price_minor:
            raise ValueError("In a sale a pair costs no more than otherwise")
        return self
