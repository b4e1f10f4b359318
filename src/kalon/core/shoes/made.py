"""How a model is made, as far as somebody said: kinds, numbers and features, each known or left out."""

from __future__ import annotations

from pydantic import Field, model_validator

from ..contract import Contract
from ..errors import AtField
from ..fit.stretch import Build, Upper
from ..rules.scales import CHOICES, PROPERTIES, scale
from ..rules.words import Sport
from .anatomy import FEATURES
from .meant import of_sport


class Made(Contract):
    """A model as the catalogue keeps it. What isn't in it nobody knows."""

    maker: str = Field(min_length=1, max_length=80)
    name: str = Field(min_length=1, max_length=120)
    sport: Sport
    upper: Upper | None = None
    build: Build
    price_minor: int | None = Field(None, ge=0, le=100_000_000)
    code: str = Field("", max_length=60)
    last: str = Field("", max_length=60)
    """What its maker calls the last it is built on: models on one last fit alike."""
    meant_for: list[str] = Field([], max_length=8)
    """What it is said to be meant for; empty where nobody said."""
    choices: dict[str, str] = {}
    properties: dict[str, float] = {}
    features: dict[str, bool] = {}

    @model_validator(mode="after")
    def _possible(self) -> Made:
        for name, value in self.choices.items():
            if name == "upper" or value not in CHOICES.get(name, ()):
                raise AtField(f"choices.{name}", f"There is no {name.replace('_', ' ')} called {value}")
        for name, number in self.properties.items():
            if name not in PROPERTIES:
                raise AtField(f"properties.{name}", "There is no such property")
            drawn = scale(name, self.sport)
            room = (drawn.high - drawn.low) / 2
            if not drawn.low - room <= number <= drawn.high + room:
                raise AtField(
                    f"properties.{name}",
                    f"{drawn.name} {number:g} {drawn.unit} can't be ({drawn.low:g} to {drawn.high:g})",
                )
        for name in self.meant_for:
            if name not in of_sport(self.sport):
                raise AtField("meant_for", f"No shoe of this sport is meant for {name.replace('_', ' ')}")
        for name in self.features:
            if name not in FEATURES:
                raise AtField(f"features.{name}", "There is no such feature")
        return self
