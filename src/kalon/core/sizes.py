"""Size systems. Labels of a last convert exactly; makers' departures from them live in the stock."""

from __future__ import annotations

import math
from collections.abc import Mapping
from typing import Any

from pydantic import Field, model_validator

from .contract import Contract, Positive
from .systems import SIZE_SYSTEMS, SYSTEMS, US_WOMEN_AHEAD_OF_MEN, System

DEFAULT_ALLOWANCE_MM = 15.0
"""House default: how much longer a last is than the foot that ISO 9407 and JP labels state."""

STREET_ROOM_MM = 13.5
"""Room at the toe of a street shoe that fits, in length: what a size is said against. House default."""

SHORTEST_LAST_MM, LONGEST_LAST_MM = 80.0, 400.0


class SizeConvertIn(Contract):
    """Either a label in a system or a last's length."""

    system: System | None = None
    label: float | None = None
    last_mm: float | None = Field(None, ge=SHORTEST_LAST_MM, le=LONGEST_LAST_MM)
    allowance_mm: float = Field(DEFAULT_ALLOWANCE_MM, ge=0, le=40)
    women_ahead: float = Field(US_WOMEN_AHEAD_OF_MEN, ge=0, le=3)
    """How far this maker's US women's sizes run ahead of its men's: one, one and a half or two."""

    @model_validator(mode="after")
    def _one_way_in(self) -> SizeConvertIn:
        if (self.last_mm is None) == (self.system is None or self.label is None):
            raise ValueError("Give either a system with its label, or last_mm, not both")
        if self.last_mm is None and self.system is not None and self.label is not None:
            last = last_of(self.system, self.label, self.allowance_mm, self.women_ahead)
            if not SHORTEST_LAST_MM <= last <= LONGEST_LAST_MM:
                raise ValueError(f"No shoe is {self.system} {self.label:g}: its last would be {last:.0f} mm")
        return self


class SizeConvertOut(Contract):
    """A last's length, its exact label in every system, and the nearest label where one is sold."""

    last_mm: Positive
    labels: dict[System, float]
    nearest: dict[System, float]


def last_of(
    system: System,
    label: float,
    allowance_mm: float = DEFAULT_ALLOWANCE_MM,
    runs_ahead: float | None = None,
) -> float:
    """Length in mm of the last a label stands for; `runs_ahead` is the maker's own step of the systems that have one
    (`SizeSystem.own_step`), as most have it where none is said."""
    of = SIZE_SYSTEMS[system]
    ahead = runs_ahead - of.own_step if of.own_step and runs_ahead is not None else 0.0
    return (label - ahead + of.zero) * of.mm + (allowance_mm if of.of_foot else 0.0)


def foot_by_label(system: System, allowance_mm: float = DEFAULT_ALLOWANCE_MM) -> tuple[float, float]:
    """How a foot's length follows from the label typed for it: millimetres a whole size, millimetres at size 0.
    The systems are straight lines, so two of their lasts say all."""
    at_zero, at_one = (last_of(system, label, allowance_mm) for label in (0.0, 1.0))
    return at_one - at_zero, at_zero - allowance_mm


def label_of(
    system: System,
    last_mm: float,
    allowance_mm: float = DEFAULT_ALLOWANCE_MM,
    runs_ahead: float | None = None,
) -> float:
    """Exact label of a last of `last_mm`; every system is linear, so two points give the line."""
    zero = last_of(system, 0, allowance_mm, runs_ahead)
    return (last_mm - zero) / (last_of(system, 1, allowance_mm, runs_ahead) - zero)


def printed(system: System, label: float) -> float:
    """The label that would be printed for an exact one, however small or large; of two that are as near the larger."""
    step = SIZE_SYSTEMS[system].step
    return math.floor(label / step + 0.5 + TIE) * step


TIE = 1e-9
"""So near the middle two labels are as near."""
THIRDS = ((1 / 3, "⅓"), (2 / 3, "⅔"))


def label_text(label: float) -> str:
    """A label as boxes have it: thirds with their signs."""
    third = next((sign for near, sign in THIRDS if abs(label % 1 - near) < 0.01), None)
    return f"{int(label)}{third}" if third else f"{round(label, 2):g}"


def label_words(system: System, label: float) -> str:
    """A size as its box has it, with its system: `EU 45⅓`."""
    of = SIZE_SYSTEMS[system]
    return " ".join(part for part in (of.name, of.unit, label_text(label)) if part)


def on_the_box(of: Mapping[str, Any]) -> str:
    """A size as its box has it, of what has `system` and `label`; by its `eu_label` where those were never kept."""
    system, label = of.get("system"), of.get("label")
    return label_words("eu", of["eu_label"]) if system is None or label is None else label_words(system, label)


def nearest_sold(system: System, label: float) -> float | None:
    """The label sold that is nearest to an exact one; none where the system doesn't go so far."""
    near = printed(system, label)
    of = SIZE_SYSTEMS[system]
    return near if of.low <= near <= of.high else None


def size_convert(given: SizeConvertIn) -> SizeConvertOut:
    """Convert a label, or a last's length, into every system."""
    if given.last_mm is not None:
        last = given.last_mm
    else:
        assert given.system is not None and given.label is not None  # _one_way_in
        last = last_of(given.system, given.label, given.allowance_mm, given.women_ahead)
    exact = {s: label_of(s, last, given.allowance_mm, given.women_ahead) for s in SYSTEMS}
    sold = {s: nearest_sold(s, exact[s]) for s in SYSTEMS}
    return SizeConvertOut(last_mm=last, labels=exact, nearest={s: n for s, n in sold.items() if n is not None})
