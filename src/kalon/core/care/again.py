"""Buying again: whether "the same again" still holds, in the order a fitter would ask."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from ..contract import Contract, Day
from ..fit.foot import FIT_ZONES
from ..fit.size import ZONE_NAMES
from ..sizes import label_words
from ..units import HALF_UK_MM
from .followup import NEXT_TIME

CHANGED = 2.0
"""A foot has changed when it differs by so many spreads of both measurements. House default."""
LEAST_MM = {"length": 1.5, "ball_girth": 4.0, "instep_girth": 4.0, "heel_width": 2.0}
"""Less than this is no change anybody would feel. House default."""
OLD_DAYS, GROWING_DAYS = 365, 90
"""Feet measured longer ago than this, and growing ones, are measured again first. House defaults."""


class FootThen(Contract):
    """A foot's four measures with one standard deviation each, mm, and the day."""

    on: Day
    mm: dict[str, float]
    sigma_mm: dict[str, float]


class AgainIn(Contract):
    """The pair as bought, the feet then and now, what is known of it, and what there is of it today."""

    name: str = Field(max_length=240)
    label: float
    box: str = ""
    """Its size as its box has it; the EU label where that isn't known."""
    bought_feet: FootThen | None = None
    feet_now: FootThen | None = None
    today: Day
    growing: bool = False
    felt: Literal["as_wanted", "slack", "tight", "unknown"] = "unknown"
    """What the follow-up said of it."""
    felt_at: list[Literal["length", "ball_girth", "instep_girth", "heel_width"]] = Field([], max_length=4)
    """In which zones; all of it where none is named."""
    sold: Literal["here", "sister", "ordered", "no"] = "no"
    """Where its size is to be had."""
    last_changed: str = ""
    """What says that its inside isn't what it was: a reading, or another last. Empty where nothing does."""
    recommended: float | None = None
    """The size of this model that fits today's feet, as far as it is known."""
    recommended_box: str = ""
    """The same as its box has it."""


class AgainPoint(Contract):
    """One question a fitter asks, and its answer: fine, or a doubt."""

    about: Literal["feet", "felt", "sold", "last", "size"]
    fine: bool
    text: str


class AgainOut(Contract):
    """The same again, the same in another size, something like it, or feet first; and why."""

    verdict: Literal["same", "other_size", "like_it", "measure_first"]
    text: str
    points: list[AgainPoint]


def _too_old(given: AgainIn, now: FootThen) -> bool:
    """Whether the feet were measured too long ago to sell by."""
    return (given.today - now.on).days > (GROWING_DAYS if given.growing else OLD_DAYS)


def _feet(given: AgainIn) -> tuple[AgainPoint, float]:
    """Whether the feet are what they were; how much longer, mm."""
    then, now = given.bought_feet, given.feet_now
    if not now:
        return AgainPoint(about="feet", fine=False, text="No feet on record: measure them first."), 0.0
    if not then:
        return AgainPoint(
            about="feet", fine=True, text="The feet it was fitted to are not on record; today's count."
        ), 0.0
    told = []
    longer = 0.0
    for zone in FIT_ZONES:
        if zone not in then.mm or zone not in now.mm:
            continue
        change = now.mm[zone] - then.mm[zone]
        spread = (then.sigma_mm.get(zone, 1.0) ** 2 + now.sigma_mm.get(zone, 1.0) ** 2) ** 0.5
        if abs(change) <= max(CHANGED * spread, LEAST_MM[zone]):
            continue
        if zone == "length":
            longer = change
        word = "longer" if zone == "length" else "more"
        less = "shorter" if zone == "length" else "less"
        told.append(f"{abs(change):.0f} mm {word if change > 0 else less} at the {ZONE_NAMES[zone]}")
    age = (given.today - now.on).days
    if _too_old(given, now):
        why = "still growing" if given.growing else "over a year"
        return AgainPoint(
            about="feet", fine=False, text=f"Feet were last measured {age} days ago ({why}): measure first."
        ), longer
    if told:
        cause = "grown" if longer > 0 and given.growing else "changed, or swollen that day"
        return AgainPoint(about="feet", fine=False, text=f"The feet have {cause}: {', '.join(told)}."), longer
    return AgainPoint(about="feet", fine=True, text="The feet are what they were, within what measuring tells."), longer


FELT = {
    "as_wanted": "At the follow-up it was as wanted.",
    "unknown": "Nobody saw it again after the sale: ask how it feels now.",
    "slack": "At the follow-up it had gone slack: half a size less, or another upper.",
    "tight": "At the follow-up it was still tight: half a size more.",
}


def _felt(given: AgainIn) -> str:
    """What the follow-up said, and what follows from it, zone by zone."""
    if given.felt not in ("slack", "tight") or not given.felt_at:
        return FELT[given.felt]
    word = "had gone slack" if given.felt == "slack" else "was still tight"
    told = [f"{word} at the {ZONE_NAMES[z]}: {NEXT_TIME[z][given.felt]}" for z in given.felt_at]
    return f"At the follow-up it {'; '.join(told)}."


SOLD = {
    "here": (True, "Its size is on the shelf."),
    "sister": (True, "Its size is in a sister shop: ask for it."),
    "ordered": (True, "The model is still in the range: order it."),
    "no": (False, "The model is no longer to be had."),
}


def _why_tried(given: AgainIn, longer: float) -> str:
    """Why the same isn't sold unseen, in a few words; each is one of the points beside it."""
    why = []
    if given.felt in ("slack", "tight"):
        where = f" at the {ZONE_NAMES[given.felt_at[0]]}" if len(given.felt_at) == 1 else ""
        why.append(f"it {'went slack' if given.felt == 'slack' else 'stayed tight'}{where}")
    if abs(longer) > HALF_UK_MM:
        why.append("the feet have changed since")
    if given.last_changed:
        why.append("its last may have changed")
    return " and ".join(why)


def again(given: AgainIn) -> AgainOut:
    """Whether to sell the same again, and why or why not."""
    feet, longer = _feet(given)
    points = [feet]
    points.append(AgainPoint(about="felt", fine=given.felt in ("as_wanted", "unknown"), text=_felt(given)))
    fine, text = SOLD[given.sold]
    points.append(AgainPoint(about="sold", fine=fine, text=text))
    changed = given.last_changed
    points.append(AgainPoint(about="last", fine=not changed, text=changed or "Nothing says that its last was changed."))
    other = given.recommended is not None and given.recommended != given.label
    box = given.box or label_words("eu", given.label)
    fits = given.recommended_box or (label_words("eu", given.recommended) if given.recommended is not None else "")
    if given.recommended is not None:
        says = f"For today's feet it is {fits}, not {box}." if other else f"For today's feet it is {box}, as before."
        points.append(AgainPoint(about="size", fine=not other, text=says))
    if not given.feet_now or _too_old(given, given.feet_now):
        verdict: Literal["same", "other_size", "like_it", "measure_first"] = "measure_first"
        words = f"Measure the feet before {given.name} is sold again."
    elif given.sold == "no":
        verdict, words = "like_it", f"{given.name} can't be had again: these are nearest to it."
    elif other:
        verdict, words = "other_size", f"{given.name} again, in {fits} this time."
    elif given.felt in ("slack", "tight") or abs(longer) > HALF_UK_MM or changed:
        verdict, words = "other_size", f"{given.name} again, but try it on: {_why_tried(given, longer)}."
    else:
        verdict, words = "same", f"The same again: {given.name}, {box}."
    return AgainOut(verdict=verdict, text=words, points=points)
