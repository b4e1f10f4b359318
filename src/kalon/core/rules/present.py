"""The shoe they wear now, read by hand: fold it, wring it, press the heel, flop the collar.

What each finding stands for on the scales is a house default, with how far off it may be.
"""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from ..contract import Contract, Mark

HAND_TESTS: dict[str, dict[str, tuple[str, float, float]]] = {
    "fold": {
        "in_half": ("bend_n_mm_per_deg", 70, 40), "at_ball": ("bend_n_mm_per_deg", 200, 90),
        "hardly": ("bend_n_mm_per_deg", 500, 200),
    },
    "wring": {
        "easily": ("twist_n_mm_per_deg", 90, 50), "resists": ("twist_n_mm_per_deg", 240, 80),
        "stiff": ("twist_n_mm_per_deg", 420, 120),
    },
    "heel_foam": {"soft": ("cushion", 7.5, 1.5), "middle": ("cushion", 4.5, 1.5), "hard": ("cushion", 1.0, 1.0)},
    "heel_cup": {
        "gives": ("heel_counter", 2.5, 1.5), "firm": ("heel_counter", 6, 1.5), "rigid": ("heel_counter", 9, 1),
    },
    "collar": {"flops": ("collar_mm", 55, 15), "stands": ("collar_mm", 70, 20), "high": ("collar_mm", 115, 25)},
}  # fmt: skip
"""By test and finding: property, value and how far off it may be."""
OF_SPORT: dict[tuple[str, str], dict[str, tuple[str, float, float]]] = {
    ("cycling", "fold"): {
        "in_half": ("bend_n_mm_per_deg", 150, 100), "at_ball": ("bend_n_mm_per_deg", 700, 400),
        "hardly": ("bend_n_mm_per_deg", 3500, 1500),
    },
    ("ice", "fold"): {
        "in_half": ("bend_n_mm_per_deg", 180, 60), "at_ball": ("bend_n_mm_per_deg", 320, 90),
        "hardly": ("bend_n_mm_per_deg", 560, 150),
    },
    ("ice", "collar"): {
        "flops": ("collar_mm", 110, 15), "stands": ("collar_mm", 125, 15), "high": ("collar_mm", 140, 15),
    },
}  # fmt: skip
"""Where a shoe of the sport is another thing under the same hand: a race cycling shoe hardly folds, and is several
times as stiff as a boot that hardly folds."""


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
    of_sport = shoe.kind in (None, "this_sport")
    found: dict[str, Lies] = {}
    for test, findings in HAND_TESTS.items():
        if (result := getattr(shoe, test)) is not None:
            own = OF_SPORT.get((sport, test)) if of_sport else None
            name, value, off = (own or findings)[result]
            found[name] = Lies(value=value, give_or_take=off, mark="HD")
    if shoe.drop_mm is not None:
        found["drop_mm"] = Lies(value=shoe.drop_mm, give_or_take=1, mark="HD")
    if shoe.mass_g is not None:
        found["mass_g"] = Lies(value=shoe.mass_g, give_or_take=5, mark="HD")
    for name, value in shoe.model.items():
        found[name] = Lies(value=value, give_or_take=0, mark="HD")
    return found
