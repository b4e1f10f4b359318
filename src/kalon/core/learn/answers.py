"""What an athlete who isn't here answers through their link, and the foot that follows from it."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Literal

from pydantic import Field

from ..contract import Contract
from ..errors import AtField, BadInput
from ..shoes.inner import Offset
from ..sizes import STREET_ROOM_MM
from ..sports.words import Sport
from ..systems import System
from .worn import FootFromWornIn, FootFromWornOut, Traced, WornShoe, foot_from_worn


class AnsweredShoe(Contract):
    """A shoe they have, as they say it; what isn't a size is told back, not refused."""

    maker: str = Field("", max_length=80)
    model: str = Field("", max_length=80)
    system: System = "eu"
    label: float | None = Field(None, ge=0, le=400)
    says: Literal["tight", "right", "loose"] | None = None
    sport: Sport | Literal["street"] = "street"


class Answers(Contract):
    """Everything answered so far, the newest whole."""

    words: str = Field("", max_length=2000)
    """What they need shoes for, in their own words."""
    stature_cm: float | None = Field(None, ge=80, le=230)
    worn: list[AnsweredShoe] = Field([], max_length=8)


@dataclass(frozen=True)
class KnownMakers:
    """What a chain knows of makers, by their names in small letters."""

    lengths: dict[tuple[str, str], Offset] = field(default_factory=dict)
    """Of a maker and a model, or of a maker alone with no model: how their lengths depart from their labels."""
    ahead: dict[tuple[str, System], float] = field(default_factory=dict)
    """Of a maker and a system: how far its sizes run ahead there, where that isn't what most have."""


def worn_of(answers: Answers, known: KnownMakers) -> tuple[list[WornShoe], list[str]]:
    """The shoes that can be reckoned with, and what is odd about the others."""
    shoes, odd = [], []
    for given in answers.worn:
        if given.label is None or given.says is None:
            continue
        maker, model = given.maker.strip(), given.model.strip()
        named = maker.casefold()
        offset = known.lengths.get((named, model.casefold())) or known.lengths.get((named, ""))
        try:
            shoes.append(
                WornShoe(
                    maker=maker, model=model, system=given.system, label=given.label, says=given.says,
                    sport=given.sport, learned=offset, runs_ahead=known.ahead.get((named, given.system)),
                )
            )  # fmt: skip
        except (AtField, BadInput, ValueError):
            odd.append(f"No shoe is {given.system.split('_')[0].upper()} {given.label:g}: is that its size?")
    return shoes, odd


def foot_of(
    answers: Answers, known: KnownMakers, traced_mm: tuple[float, float] | None = None
) -> FootFromWornOut | None:
    """The foot from all that was answered and pictured; none while nothing was."""
    shoes, odd = worn_of(answers, known)
    if not shoes and answers.stature_cm is None and traced_mm is None:
        return None
    tracing = {"length_mm": Traced(mm=traced_mm[0], sigma_mm=traced_mm[1])} if traced_mm else {}
    stature = None if answers.stature_cm is None else answers.stature_cm * 10
    found = foot_from_worn(FootFromWornIn.model_validate({"stature_mm": stature, "worn": shoes, "tracing": tracing}))
    return found.model_copy(update={"conflicts": [*odd, *found.conflicts]})


def size_said(found: FootFromWornOut) -> str:
    """How sure a size is, in street sizes: nine times in ten between two."""
    reach = 1.645 * found.length.sd_mm
    low, high = ((found.length.mm + off + STREET_ROOM_MM) * 3 / 20 for off in (-reach, reach))
    low, high = round(low * 2) / 2, round(high * 2) / 2
    if low == high:
        return f"About a street size EU {low:g}, nine times in ten."
    return f"A street size between EU {low:g} and {high:g}, nine times in ten."
