"""The shoe they wear now, read by hand: fold it, wring it, press the heel, look where the collar ends.

What each finding stands for on the scales is the one table of hand tests (`shoes/hands.py`).
"""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from ..contract import Contract, Mark
from ..shoes.hands import HANDS, feels_of


class PresentShoe(Contract):
    """What was found of the present shoe; anything may be unknown."""

    kind: Literal["this_sport", "other_sport", "running", "street", "none"] | None = None
    fold: Literal["in_half", "at_ball", "hardly"] | None = None
    wring: Literal["easily", "resists", "stiff"] | None = None
    heel_foam: Literal["soft", "middle", "hard"] | None = None
    heel_cup: Literal["gives", "firm", "rigid"] | None = None
    collar: Literal["flops", "stands", "high"] | None = None
    drop_mm: float | None = Field(None, ge=-5, le=40)
    mass_g: float | None = Field(None, ge=50, le=1500)
    model: dict[str, float] = {}
    """Properties known of it when it is a pair the shop sells."""
    features: dict[str, bool] = {}
    """Features known of it, likewise."""


class Lies(Contract):
    """Where the present shoe lies on a scale."""

    value: float
    give_or_take: float
    mark: Mark


def lies(shoe: PresentShoe, sport: str) -> dict[str, Lies]:
    """By property: what is known of the shop's own pair, else what hand tests and scales say.

    Hand tests go with the sport, unless the shoe worn is of another kind."""
    of_sport = sport if shoe.kind in (None, "this_sport") else None
    found: dict[str, Lies] = {}
    for hand in HANDS:
        if hand.brief and (result := getattr(shoe, hand.brief)) is not None:
            feel = next(f for f in feels_of(hand, of_sport) if f.slug == result)
            found[hand.tells] = Lies(value=feel.value, give_or_take=feel.give_or_take, mark="HD")
    if shoe.drop_mm is not None:
        found["drop_mm"] = Lies(value=shoe.drop_mm, give_or_take=1, mark="HD")
    if shoe.mass_g is not None:
        found["mass_g"] = Lies(value=shoe.mass_g, give_or_take=5, mark="HD")
    for name, value in shoe.model.items():
        found[name] = Lies(value=value, give_or_take=0, mark="HD")
    return found
