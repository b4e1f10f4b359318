"""Trying on: the tests a sport asks for, and what to try next when a pair pinches or slips."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from pydantic import Field

from ..contract import Contract, Mark, Side
from ..sports.every import EVERY
from ..sports.trying import Asked, TrialTest
from .stretch import Upper

Pinch = Literal["toe_tips", "big_toe_joint", "ball", "outer_ball", "instep", "heel", "heel_back", "ankle"]
PINCH_NAMES: dict[Pinch, str] = {
    "toe_tips": "toe tips",
    "big_toe_joint": "big-toe joint",
    "ball": "ball",
    "outer_ball": "outer ball",
    "instep": "instep",
    "ankle": "ankle",
    "heel": "heel",
    "heel_back": "back of the heel",
}
Severity = Literal[1, 2, 3]
TESTS: dict[str, tuple[TrialTest, ...]] = {sport: facts.trial for sport, facts in EVERY.items()}
"""The tests of each sport, in the order they are done."""
ASKS: dict[str, tuple[Asked, ...]] = {t.slug: t.asks for tests in TESTS.values() for t in tests}
"""What a test asks, by its slug: the same in every sport."""


class PinchMark(Contract):
    """A pinch by side, zone and severity (1 noticed, 2 hurts, 3 can't be worn)."""

    side: Side
    zone: Pinch
    severity: Severity


class PairTrial(Contract):
    """What was found of one pair."""

    tests: dict[str, Literal["pass", "fail"]] = {}
    seconds: dict[str, int] = {}
    pinches: dict[str, Severity] = Field({}, description="'side:zone' to severity")
    heel_slip: Literal[0, 1, 2, 3] | None = Field(None, description="0: asked, and it doesn't; nothing: not asked")
    slide: Literal["no", "always", "in_cuts"] = "no"
    toes: Literal["fine", "jam", "slack"] = "fine"
    note: str = Field("", max_length=500)
    verdict: Literal["pass", "fail"] | None = None


class Advice(Contract):
    """What to try next, and why."""

    text: str
    step: Literal["half_up", "half_down", "wider", "other_shape", "lacing", "lower_volume", "smaller", "out", "wait"]
    mark: Mark


def pinches_of(trial: PairTrial) -> list[PinchMark]:
    """The pinches from their `side:zone` keys."""
    found = []
    for key, severity in sorted(trial.pinches.items()):
        side, _, zone = key.partition(":")
        found.append(PinchMark.model_validate({"side": side, "zone": zone, "severity": severity}))
    return found


SURE: Severity = 2
"""From this severity on a pinch is said to be one: it hurts."""
UNWEARABLE: Severity = 3
"""At this severity a pinch and an answer that says otherwise contradict each other."""
_TIGHT: dict[int, tuple[Pinch, ...]] = {
    0: ("toe_tips",), 1: ("ball", "outer_ball", "big_toe_joint"), 2: ("instep",), 3: ("heel",),
}  # fmt: skip
"""Where a zone pinches, by its place among the four of a fit."""
Verdict = Literal["jam", "fine", "slack"]
Tight = Literal["jam", "slack"]


@dataclass(frozen=True)
class Heard:
    """What a trial says of one zone, and what could have been said of it by what was asked."""

    verdict: Verdict
    sides: tuple[Tight, ...]


def _worst(trial: PairTrial) -> dict[int, int]:
    """The worst pinch of each zone."""
    worst: dict[str, int] = {}
    for pinch in pinches_of(trial):
        worst[pinch.zone] = max(worst.get(pinch.zone, 0), pinch.severity)
    return {zone: max(worst.get(p, 0) for p in places) for zone, places in _TIGHT.items()}


def _asked(trial: PairTrial) -> set[Asked]:
    """What was asked of a pair: by the tests it passed, and by what was answered."""
    asked = {what for slug, came in trial.tests.items() if came == "pass" for what in ASKS.get(slug, ())}
    if "toes" in trial.model_fields_set:
        asked.add("toes")
    if "slide" in trial.model_fields_set:
        asked.add("slides")
    if trial.heel_slip is not None:
        asked.add("slips")
    return asked


def contradictions(trial: PairTrial) -> dict[int, str]:
    """Where a pair was said to be unwearably tight and the opposite too, by zone, as a question."""
    worst, found = _worst(trial), {}
    if worst[0] >= UNWEARABLE and "toes" in trial.model_fields_set and trial.toes != "jam":
        found[0] = f"The toe tips pinch so that it can't be worn, and the toes are {trial.toes}: which is it?"
    if worst[1] >= UNWEARABLE and trial.slide == "always":
        found[1] = "It pinches at the ball so that it can't be worn, and the foot slides all the time: which is it?"
    if worst[3] >= UNWEARABLE and (trial.heel_slip or 0) >= SURE:
        found[3] = "The heel pinches so that it can't be worn, and it slips: which is it?"
    return found


def heard_of(trial: PairTrial) -> dict[int, Heard]:
    """What a trial says of each zone's gap, by its place among the four of a fit; nothing where it says nothing.

    Only what was asked is heard: a test nobody did says nothing, and a pair called passed says nothing by that. *Fine*
    means that none of what could have been said was. What contradicts itself says nothing until it is cleared up."""
    asked, worst, unclear = _asked(trial), _worst(trial), contradictions(trial)
    pinches: tuple[Tight, ...] = ("jam",) if "pinches" in asked else ()
    sides: dict[int, tuple[Tight, ...]] = {
        0: ("jam", "slack") if "toes" in asked else (),
        1: (*pinches, *(("slack",) if "slides" in asked else ())),
        2: pinches,
        3: (*pinches, *(("slack",) if "slips" in asked else ())),
    }
    loose: dict[int, int] = {
        1: {"always": SURE, "in_cuts": 1, "no": 0}[trial.slide],
        3: trial.heel_slip or 0,
    }
    found: dict[int, Heard] = {}
    for zone in _TIGHT.keys() - unclear.keys():
        jammed, slid = worst[zone], loose.get(zone, 0)
        if zone == 0 and "toes" in trial.model_fields_set:
            found[zone] = Heard(trial.toes, sides[zone])
        elif jammed >= SURE:
            found[zone] = Heard("jam", sides[zone] or ("jam",))
        elif slid >= SURE:
            found[zone] = Heard("slack", sides[zone])
        elif not jammed and not slid and sides[zone]:
            found[zone] = Heard("fine", sides[zone])
    return dict(sorted(found.items()))


def verdicts_of(trial: PairTrial) -> dict[int, Verdict]:
    """The verdicts alone of what a trial says, by zone."""
    return {zone: heard.verdict for zone, heard in heard_of(trial).items()}


def advise(trial: PairTrial, upper: Upper, *, unfelt: bool = False) -> list[Advice]:
    """What the trade does about what this trial found, worst first.

    On feet that don't feel nothing is waited for to give and nothing is taken closer: the closure holds a slide."""
    worst: dict[str, int] = {}
    for pinch in pinches_of(trial):
        worst[pinch.zone] = max(worst.get(pinch.zone, 0), pinch.severity)
    leather = upper.startswith("leather") or upper == "suede"
    found: list[Advice] = []

    def say(step: str, text: str) -> None:
        found.append(Advice.model_validate({"step": step, "text": text, "mark": "CP"}))

    if worst.get("heel_back", 0) == 3:
        say("out", "Hard pinch at the back of the heel: this one isn't for this foot.")
    jams = trial.toes == "jam" or worst.get("toe_tips", 0) >= 2
    both = jams and trial.slide != "no" and not unfelt
    if both:
        say("half_up", "Toes jam and it slides: a longer last that is closer at the instep and heel, not a size alone.")
    elif jams:
        say("half_up", "Toes jam: up half a size, or a longer last.")
    if trial.toes == "slack" and not jams:
        say("half_down", "Slack in length: down half a size.")
    side_pinch = max(worst.get("ball", 0), worst.get("outer_ball", 0), worst.get("big_toe_joint", 0))
    if side_pinch and leather and side_pinch < 3 and not unfelt:
        say("wait", "Pinch at the ball: leather forgives it in width. Watch it in the break-in.")
    elif side_pinch:
        say("wider", "Pinch at the ball or outside: a wider last or softer upper, not a longer shoe.")
    if worst.get("heel", 0) == 3:
        say("out", "The heel cup can't be worn: this one isn't for this foot; another heel, not another size.")
    elif worst.get("heel", 0):
        say("other_shape", "Pinch at the sides of the heel: a wider heel or a softer cup, not a longer shoe.")
    if worst.get("instep", 0):
        say("lacing", "Pressure on the instep: skip a crossing of the laces, or a higher-volume version.")
    if trial.heel_slip:
        say("lower_volume", "The heel slips: lock the lacing; then another heel or a lower-volume version.")
    if trial.slide != "no" and unfelt:
        say(
            "lacing",
            "It slides: hold it with the closure, or an insole where one goes in; on feet that don't feel nothing is "
            "taken closer.",
        )
    elif both:
        say("lower_volume", "The slide: lock the lacing; a lower volume, no shorter shoe.")
    elif trial.slide == "in_cuts":
        say("smaller", "Slides only in cuts: a smaller or closer last.")
    elif trial.slide == "always":
        say("smaller", "Slides all the time: half a size down or a lower volume.")
    if worst.get("ankle", 0) >= 2:
        say("other_shape", "The collar presses the ankle: a lower or softer collar.")
    return found
