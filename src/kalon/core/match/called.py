"""`rank` and `substitutes` by name: shoes as somebody writes them down, a brief and the feet; the places in order."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from pydantic import Field, model_validator

from ..contract import Contract
from ..errors import AtField
from ..fit.foot import foot_to_fit
from ..fit.size import SHOE_SIGMA_MM, ShoeSize
from ..fit.stretch import Build, Upper
from ..money import Money
from ..rules.brief import Brief
from ..rules.climbing import LONG_EFFORT
from ..rules.engine import Case
from ..rules.scales import CHOICES, PROPERTIES
from ..rules.spec import SpecIn, spec_of
from ..rules.words import Sport
from ..shoes.anatomy import FEATURES
from ..shoes.meant import PURPOSES
from .rank import Ranked, Ranking, rank
from .shelf import Shelf, Shoe
from .substitutes import substitutes


class ShoeOffered(Contract):
    """A model with its sizes: what is known of it; what isn't named is unknown."""

    id: str = Field(min_length=1, max_length=120)
    sport: Sport
    maker: str = Field("", max_length=120)
    upper: Upper = "synthetic"
    build: Build = "plate"
    reinforced: float = Field(0.0, ge=0, le=1)
    gives: float = Field(1.0, gt=0, le=20)
    properties: dict[str, float] = {}
    choices: dict[str, str] = {}
    features: dict[str, bool] = {}
    meant_for: list[str] = Field([], max_length=10)
    price_minor: int | None = Field(None, ge=0, le=100_000_000)
    currency: str = Field("EUR", pattern=r"^[A-Z]{3}$")
    sizes: list[ShoeSize] = Field(min_length=1, max_length=200)

    @model_validator(mode="after")
    def _known(self) -> ShoeOffered:
        for field, given, known in (
            ("properties", self.properties, PROPERTIES), ("features", self.features, FEATURES),
            ("choices", self.choices, CHOICES), ("meant_for", self.meant_for, PURPOSES),
        ):  # fmt: skip
            if unknown := sorted(set(given) - set(known)):
                raise AtField(field, f"Nobody knows {unknown[0]}; one of: {', '.join(known)}")
        for name, value in self.choices.items():
            if value not in CHOICES[name]:
                raise AtField(f"choices.{name}", f"No {name} is called {value}; one of: {', '.join(CHOICES[name])}")
        return self

    def shoe(self) -> Shoe:
        """As ranking has it."""
        price = None if self.price_minor is None else Money(self.price_minor, self.currency)
        choices = {"upper": self.upper} | self.choices if "upper" in self.model_fields_set else self.choices
        return Shoe(
            self.id, self.sport, self.upper, self.build, self.reinforced, self.properties, choices, price,
            self.features, self.maker, tuple(self.meant_for), self.gives,
        )  # fmt: skip


class RankIn(Contract):
    """A brief with the feet, as `spec` takes them, and the shoes there are; labels are EU ones."""

    brief: SpecIn
    shoes: list[ShoeOffered] = Field(min_length=1, max_length=5000)
    fit_power: float | None = Field(None, ge=0.1, le=1)
    """How much fit counts against the spec; the house's where it isn't said."""
    cheapest: bool = False
    most: int = Field(20, ge=1, le=500)

    @model_validator(mode="after")
    def _measured(self) -> RankIn:
        if self.brief.feet is None:
            raise AtField("brief.feet", "Shoes are ranked on feet: measure them first")
        ids = [s.id for s in self.shoes]
        if twice := next((i for i in ids if ids.count(i) > 1), None):
            raise AtField("shoes", f"{twice} is named twice")
        return self


class SubstitutesOut(Contract):
    """Shoes of other sports that may serve, best first."""

    places: list[Ranked]


def _case(given: RankIn) -> Case:
    asked = given.brief
    brief = Brief.model_validate(asked.model_dump(include=set(Brief.model_fields)))
    return Case(brief, asked.feet, asked.house, heard=tuple(asked.heard), age_years=asked.age_years)


def _shelf(offered: Sequence[ShoeOffered]) -> Shelf:
    lines = [(i, size) for i, shoe in enumerate(offered) for size in shoe.sizes]
    inner = [[s.length_mm, s.ball_girth_mm, s.instep_girth_mm, s.heel_width_mm] for _, s in lines]
    return Shelf(
        shoe=np.array([i for i, _ in lines], dtype=np.intp),
        label=np.array([s.label for _, s in lines], dtype=float),
        inner=np.array(inner, dtype=float),
        line_ids=[f"{offered[i].id}:{s.label:g}" for i, s in lines],
        sigma=np.array([SHOE_SIGMA_MM if s.sigma_mm is None else s.sigma_mm for _, s in lines], dtype=float),
    )


def rank_called(given: RankIn) -> Ranking:
    """Rank shoes of one sport against a brief and a pair of feet, fit first, every place explained."""
    case = _case(given)
    assert case.feet is not None
    own = [s for s in given.shoes if s.sport == case.brief.sport]
    if not own:
        return Ranking(places=[], vetoed=[])
    foot = foot_to_fit(case.feet, long_effort=case.brief.discipline in LONG_EFFORT)
    power = given.fit_power or case.house["rank.fit_power"]
    shoes = [s.shoe() for s in own]
    return rank(shoes, _shelf(own), spec_of(case), foot, power, given.cheapest, given.most)


def substitutes_called(given: RankIn) -> SubstitutesOut:
    """Of shoes of other sports, those that may serve a brief on these feet."""
    case = _case(given)
    assert case.feet is not None
    others = [s for s in given.shoes if s.sport != case.brief.sport]
    if not others:
        return SubstitutesOut(places=[])
    foot = foot_to_fit(case.feet, long_effort=case.brief.discipline in LONG_EFFORT)
    power = given.fit_power or case.house["rank.fit_power"]
    found = substitutes([s.shoe() for s in others], _shelf(others), spec_of(case), foot, power, given.most)
    return SubstitutesOut(places=found)
