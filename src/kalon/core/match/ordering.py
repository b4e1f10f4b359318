"""A pair that can't be tried here: the half size to add, what to check on arrival and what follows; a last made."""

from __future__ import annotations

from typing import Any, Literal

from pydantic import Field

from ..contract import Contract
from ..fit.foot import FIT_ZONES, FootToFit
from ..fit.size import HOPES, ZONE_NAMES, FitTarget, Hope, SizeFit
from ..fit.trial import PINCH_NAMES, TESTS, Pinch
from ..rules.words import Sport

HALF = 0.5


class OrderSheet(Contract):
    """What goes with an order: the size and how sure it is, the half size to add, and what to check on arrival."""

    label: float
    hope: Hope
    doubt: str
    also: float | None
    """Another size to have sent along; none where one is sure enough."""
    why: str
    check: list[str]
    inside_low_mm: float | None = None
    inside_high_mm: float | None = None
    """The inside length that is wanted; none on the sheets of old."""


def order_sheet(sport: Sport, sizes: list[SizeFit], label: float, inner_mm: float, sigma_mm: float) -> OrderSheet:
    """The sheet for one size of a run judged on these feet (EU labels). Raises `KeyError` for a label not in it."""
    by_label = {s.label: s for s in sizes}
    size = by_label[label]
    hope = size.hope or "gamble"
    toe = size.zones[0]
    tight = (toe.new_mm if toe.judged_new else toe.settled_mm) < (toe.low_mm + toe.high_mm) / 2
    beside = [s for s in sizes if (s.label > label) == tight and s.label != label]
    also = min(beside, key=lambda s: abs(s.label - label)) if beside and hope != "should_fit" else None
    low, high = inner_mm + toe.low_mm - toe.new_mm, inner_mm + toe.high_mm - toe.new_mm
    why = f"{size.called}: {HOPES[hope]}{f', {size.doubt}' if size.doubt else ''}."
    if also:
        step = "half size" if abs(also.label - label) == HALF and not also.box else "next size it is made in"
        why += f" Have {also.called} sent along: the {step}, {'up' if also.label > label else 'down'}."
    check = [
        f"Inside length {low:.0f} to {high:.0f} mm is wanted; expected {inner_mm:.0f} ± {2 * sigma_mm:.0f} mm. "
        "Read it with the inside gauge before anybody puts it on.",
    ]
    worst = min(size.zones, key=lambda z: z.worth or 0.0)
    if size.doubt and worst.zone != "length":
        check.append(f"Look first at the {ZONE_NAMES[worst.zone]}: it {size.doubt}.")
    check += [f"{t.name}: {t.how}" for t in TESTS[sport][:3]]
    check.append("Indoors and clean until it is sure: a worn pair goes back to nobody.")
    return OrderSheet(
        label=label, hope=hope, doubt=size.doubt, also=also.label if also else None, why=why, check=check,
        inside_low_mm=low, inside_high_mm=high,
    )  # fmt: skip


class MadeSheet(Contract):
    """What a last maker is told: why, the feet and the room wanted in them, the shoe in a hand's words, and what to
    check on arrival."""

    why: str
    feet: list[str]
    shoe: list[str]
    check: list[str]


def made_sheet(sport: Sport, foot: FootToFit, target: FitTarget, shoe: list[str]) -> MadeSheet:
    """The sheet for a pair made to measure: inside wanted by foot and zone, mm, with what isn't sure of it."""
    feet = []
    bands = [getattr(target, z) for z in FIT_ZONES]
    for side, mm in foot.sides.items():
        zones = [
            f"{ZONE_NAMES[z]} {m + b.low:.0f} to {m + b.high:.0f} mm inside (foot {m:.0f} ± {2 * s:.0f})"
            for z, m, b, s in zip(FIT_ZONES, mm, bands, foot.sigma, strict=True)
        ]
        feet.append(f"{side.capitalize()}: {'; '.join(zones)}.")
    return MadeSheet(
        why="A last made for these feet: the last resort, where no size of any range will do, with a fitting of the "
        "unfinished shoe before it is closed.",
        feet=feet,
        shoe=shoe,
        check=[f"{t.name}: {t.how}" for t in TESTS[sport][:3]],
    )


class Arrival(Contract):
    """What was found of an ordered pair when it came: the inside read by gauge, mm, and how it felt on."""

    inner_mm: float | None = Field(None, ge=100, le=400)
    toes: Literal["jam", "fine", "slack"] | None = None
    pinches: list[Pinch] = Field([], max_length=8)
    heel_slip: bool = False
    note: str = Field("", max_length=300)


class ArrivalSays(Contract):
    """What follows: keep it, send it back, or nothing yet."""

    word: Literal["keep", "send_back", "open"]
    text: str


def arrival_says(found: Arrival, sheet: dict[str, Any]) -> ArrivalSays:
    """What an arrival's findings mean against the sheet it was ordered by."""
    low, high = sheet.get("inside_low_mm"), sheet.get("inside_high_mm")

    def other(*, longer: bool) -> str:
        also, label = sheet.get("also"), sheet.get("label")
        helps = also is not None and label is not None and (also > label) == longer
        return f" Try the {also:g} that was sent along." if helps else ""

    if found.toes in ("jam", "slack"):
        feels = "The toes jam" if found.toes == "jam" else "It is slack in length"
        return ArrivalSays(word="send_back", text=f"{feels}: send it back.{other(longer=found.toes == 'jam')}")
    if found.pinches:
        names = ", ".join(PINCH_NAMES[p] for p in found.pinches)
        return ArrivalSays(
            word="send_back", text=f"It pinches at the {names}: another width or last, not a longer shoe."
        )
    if found.heel_slip:
        return ArrivalSays(word="open", text="The heel slips: lock the lacing and try again before it goes back.")
    off = None
    if found.inner_mm is not None and low is not None and high is not None:
        off = found.inner_mm - high if found.inner_mm > high else min(found.inner_mm - low, 0.0)
    if off:
        told = f"The inside is {abs(off):.0f} mm {'longer' if off > 0 else 'shorter'} than is wanted"
        if found.toes == "fine":
            return ArrivalSays(word="keep", text=f"{told}, yet the toes are fine: the foot decides.")
        return ArrivalSays(word="send_back", text=f"{told}: send it back unworn.{other(longer=off < 0)}")
    if found.toes == "fine":
        return ArrivalSays(word="keep", text="As wanted: keep it, and settle on it here.")
    if found.inner_mm is not None:
        return ArrivalSays(word="open", text="The inside is as wanted. Now try it, indoors and clean.")
    return ArrivalSays(word="open", text="Read the inside, then try it, indoors and clean.")
