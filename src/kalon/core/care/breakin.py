"""Breaking in: dated wears that rise from short to long, and an honest word on when the pair is ready."""

from __future__ import annotations

import math
from collections.abc import Sequence
from datetime import date, timedelta
from typing import Annotated, Literal

from pydantic import Field

from ..contract import Contract, Day, Mark, NonNegative
from ..fit.size import ZONE_NAMES
from ..fit.stretch import Build, StretchIn, Upper, stretch
from ..sports.every import facts_of
from ..sports.words import Sport

FIRST_MIN, LONGEST_MIN, RISE = 20, 90, 1.4
"""Minutes of the first and the longest wear, and how they rise. House default."""
READY_SHARE = 0.8
"""Ready when this share of the settled stretch is done. House default."""
LEAST_SESSIONS = 4
HOME_FIRST_MIN = 60
"""The first wear of a pair that is worn about the house for hours first, minutes. House default."""
UNFELT_FIRST_MIN, UNFELT_LONGEST_MIN = 60, 120
"""The first wear of feet that don't feel, one to two hours, each looked at afterwards. From memory."""
HARD_GIVE_MM = 0.5
"""Less predicted stretch than this needs no hours for stretching, only a few careful wears. House default."""


class ZonePress(Contract):
    """A zone's room new and settled, and the least that is wanted, mm."""

    zone: Literal["length", "ball_girth", "instep_girth", "heel_width"]
    new_mm: float
    settled_mm: float
    low_mm: float


class BreakInIn(Contract):
    """A construction, how far it must give, and the dates."""

    upper: Upper
    build: Build
    zone: Literal["length", "ball_girth", "instep_girth", "heel_width"] = "ball_girth"
    """Where it gives most."""
    interference_mm: float = Field(ge=-60, le=60)
    inner_mm: float = Field(240, gt=0, le=450)
    reinforced: float = Field(0.0, ge=0, le=1)
    start_on: Day
    event_on: Day | None = None
    weekdays: list[Annotated[int, Field(ge=0, le=6)]] = Field([0, 2, 4, 5], min_length=1, max_length=7)
    steam: bool = False
    sport: Sport = "football"
    ready_share: float = Field(READY_SHARE, ge=0.5, le=0.98)
    unfelt: bool = False
    """Feet that don't feel or aren't well supplied: the eye decides after each wear, not the feeling."""


class Wear(Contract):
    """One dated wear."""

    on: date
    minutes: int
    how: str
    hours_so_far: NonNegative


class BreakInOut(Contract):
    """The wears, the day it is ready, whether that is in time, and the rules of care."""

    wears: list[Wear]
    ready_on: date
    in_time: bool
    verdict: str
    rules: list[str]
    needed_h: float
    mark: Mark
    old_pair: str = ""
    """What playing the old pair means: how far this one would be by the event. Empty where it is ready in time."""


LOOK = "one to two hours, seated and walking at home; then shoes and socks off, and look at the skin all round"
LOOK_AGAIN = "then look at the skin: red for longer than 20–30 minutes, stop"
UNFELT_RULES = (
    "“Feels fine” proves nothing on feet that don't feel: after every wear look at the skin, soles and between the "
    "toes, or have somebody look.",
    "Red for longer than 20–30 minutes, a blister or a sore: stop, leave the pair off, and see a podiatrist or "
    "physician. From memory.",
    "Nothing is softened or stretched by wear that presses, and nothing is moulded on the foot.",
)


def _how(index: int, minutes: int, sport: Sport, worn_h: float) -> str:
    worn_in = facts_of(sport).worn_in
    if index < 2 or worn_h < worn_in.at_home_h:
        return worn_in.first
    return worn_in.later if minutes < 60 else "half a session, old pair in the bag"


def _by_the_event(wears: list[Wear], event_on: date, needed: float, given: BreakInIn) -> str:
    """How far the break-in would be on the day of the event, and what that asks of the athlete."""
    before = [w for w in wears if w.on < event_on]
    worn = before[-1].hours_so_far if before else 0.0
    far = f"{worn:.1f} of {needed:.0f} h" if worn else "not worn once"
    warm = "Warm up in this pair if you like" if before else "Leave this pair at home"
    pressed = (
        f", and would still press by up to {given.interference_mm:.0f} mm"
        if given.interference_mm >= HARD_GIVE_MM
        else ""
    )
    return (
        f"By the event it would be {far}{pressed}. {warm}; play the event in the old one, and go on wearing this in "
        "afterwards. If the old one is worn out, a short break-in and tape is a risk you choose, not a plan."
    )


def breakin(given: BreakInIn) -> BreakInOut:
    """Plan the break-in. Minutes rise until the ready share of the stretch is done, at least four wears."""
    predicted = stretch(
        StretchIn(
            upper=given.upper, build=given.build, zone=given.zone, interference_mm=given.interference_mm,
            inner_mm=given.inner_mm, reinforced=given.reinforced,
        )
    )  # fmt: skip
    tau_h = predicted.t80_h / math.log(5)
    needed = tau_h * math.log(1 / (1 - given.ready_share)) if predicted.settled_mm >= HARD_GIVE_MM else 2.0
    wears: list[Wear] = []
    at_home_h = facts_of(given.sport).worn_in.at_home_h
    first = HOME_FIRST_MIN if at_home_h else FIRST_MIN
    first, longest = (UNFELT_FIRST_MIN, UNFELT_LONGEST_MIN) if given.unfelt else (first, LONGEST_MIN)
    day, minutes, so_far = given.start_on, float(first), 0.0
    needed = max(needed, at_home_h)
    while so_far < needed or len(wears) < LEAST_SESSIONS:
        if day.weekday() in given.weekdays and day != given.event_on:
            rounded = int(5 * round(min(minutes, longest) / 5))
            how = _how(len(wears), rounded, given.sport, so_far)
            if given.unfelt:
                how = f"{how}; {LOOK_AGAIN}" if wears else LOOK
            so_far += rounded / 60
            wears.append(
                Wear(
                    on=day,
                    minutes=rounded,
                    how=how,
                    hours_so_far=round(so_far, 2),
                )
            )
            minutes *= RISE
        day += timedelta(days=1)
    ready = wears[-1].on
    in_time = given.event_on is None or ready < given.event_on
    if predicted.settled_mm >= HARD_GIVE_MM:
        settle = f"{given.ready_share:.0%} of the give is done after {needed:.0f} h of wear"
    else:
        settle = "It has little to give; a few careful wears are enough"
    if in_time:
        verdict = f"{settle}: ready on {ready:%-d %B %Y}."
    else:
        verdict = f"Not ready by {given.event_on:%-d %B %Y}: play the old pair. {settle}: ready on {ready:%-d %B %Y}."
    rules = [
        "Never a full match or session first.",
        *(UNFELT_RULES if given.unfelt else ("A hot spot: stop, tape, and wear it shorter next time.",)),
        "No oven, no hair-dryer close by, no boiling water, no heater.",
    ]
    if given.steam and not given.unfelt and given.upper.startswith(("leather", "suede")):
        rules.append("Leather may have ten minutes in a steamy bathroom, laced, and be worn while warm.")
    return BreakInOut(
        wears=wears, ready_on=ready, in_time=in_time, verdict=verdict, rules=rules, needed_h=needed, mark="HD",
        old_pair="" if in_time or not given.event_on else _by_the_event(wears, given.event_on, needed, given),
    )  # fmt: skip


class ZoneReady(Contract):
    """A zone that presses when new: when its room comes into the wanted band, if it does."""

    zone: Literal["length", "ball_girth", "instep_girth", "heel_width"]
    presses_mm: NonNegative
    hours: float | None
    on: date | None
    text: str


def by_zone(zones: Sequence[ZonePress], tau_h: float, wears: Sequence[Wear]) -> list[ZoneReady]:
    """When each zone that is too tight when new comes into its band, on the days of a plan. Giving runs to its end
    with the construction's time constant."""
    found = []
    for z in zones:
        if z.new_mm >= z.low_mm:
            continue
        gives = z.settled_mm - z.new_mm
        short = z.low_mm - z.new_mm
        name = ZONE_NAMES[z.zone]
        if gives <= short:
            text = f"{name.capitalize()}: stays {z.low_mm - z.settled_mm:.0f} mm tighter than wanted, worn in or not."
            found.append(ZoneReady(zone=z.zone, presses_mm=short, hours=None, on=None, text=text))
            continue
        hours = -tau_h * math.log(1 - short / gives)
        day = next((w.on for w in wears if w.hours_so_far >= hours), None)
        when = f"by {day:%-d %B}" if day else "after the plan"
        text = f"{name.capitalize()}: {short:.0f} mm tighter than wanted, right after {hours:.0f} h, {when}."
        found.append(ZoneReady(zone=z.zone, presses_mm=short, hours=hours, on=day, text=text))
    return found
