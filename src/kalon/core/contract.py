"""What every contract shares: strict field names, finite numbers, and the marks facts carry."""

from __future__ import annotations

from datetime import date
from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field

Mark = Literal["CP", "PUB", "MEM", "HD"]
"""CP common practice, no source · PUB published · MEM from memory · HD house default."""

Side = Literal["left", "right"]
SIDES: tuple[Side, Side] = ("left", "right")


class Contract(BaseModel):
    """An input or output by its exact field names; unknown fields and non-finite numbers are refused."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False, frozen=True)


Day = Annotated[date, Field(ge=date(1900, 1, 1), le=date(2200, 12, 31))]
"""A day somebody could mean; sums of days from it stay days."""
Positive = Annotated[float, Field(gt=0)]
NonNegative = Annotated[float, Field(ge=0)]
