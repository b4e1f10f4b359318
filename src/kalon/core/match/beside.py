"""Pairs beside each other: where each presses, gives and slips, and what was felt in it, in words for anybody."""

from __future__ import annotations

from typing import Literal

from ..contract import Contract
from ..fit.size import SizeFit, ZoneFit
from ..fit.trial import PINCH_NAMES, TESTS, PairTrial, pinches_of

Does = Literal["presses", "gives", "slips", "right"]
AT = {
    "length": "at the toes",
    "ball_girth": "at the ball",
    "instep_girth": "over the instep",
    "heel_width": "at the heel",
}
SLACK = {
    "length": "has room to spare at the toes",
    "ball_girth": "lets the foot slide at the ball",
    "instep_girth": "is loose over the instep",
    "heel_width": "lets the heel slip",
}
FELT = {1: "felt", 2: "hurts", 3: "hurts so that it can't be worn"}
SLIPS = {1: "The heel slips a little", 2: "The heel slips", 3: "The heel slips out"}
SLIDES = {"in_cuts": "The foot slides in turns", "always": "The foot slides"}
TOES = {"jam": "The toes touch", "slack": "Room to spare at the toes"}


class ZoneDoes(Contract):
    """What a pair does in one zone."""

    zone: str
    does: Does
    text: str


def _in_zone(zone: ZoneFit) -> ZoneDoes:
    at = AT[zone.zone]
    tight_new = zone.new in ("tight", "too_tight")

    def say(does: Does, text: str) -> ZoneDoes:
        return ZoneDoes(zone=zone.zone, does=does, text=text)

    if zone.settled == "slack":
        first = f"presses {at} when new; worn in it " if tight_new else "is right new; worn in it "
        first = "" if zone.new == "slack" else first
        return say("slips", f"{first}{SLACK[zone.zone]}")
    if zone.settled in ("tight", "too_tight"):
        hard = " hard" if zone.settled == "too_tight" else ""
        return say("presses", f"presses{hard} {at}, and goes on pressing")
    if tight_new:
        hard = " hard" if zone.new == "too_tight" else ""
        return say("gives", f"presses{hard} {at} when new, and gives until it is right")
    if zone.new == "slack":
        return say("slips", SLACK[zone.zone])
    return say("right", f"is right {at}")


def zones_do(size: SizeFit) -> list[ZoneDoes]:
    """What a pair does in each zone, in the order of the zones."""
    return [_in_zone(z) for z in size.zones]


def in_short(found: list[ZoneDoes]) -> list[str]:
    """Where a pair presses, gives and slips, as sentences; one alone where it is right all round."""
    lines = [f"It {z.text}." for z in found if z.does != "right"]
    return lines or ["It is right all round, new and worn in."]


def felt_in(trial: PairTrial | None, sport: str) -> list[str]:
    """What was felt in a pair when it was tried, worst first; nothing of a pair nobody tried."""
    if trial is None:
        return []
    lines = [
        f"{FELT[p.severity].capitalize()} at the {PINCH_NAMES[p.zone]}, {p.side}"
        for p in sorted(pinches_of(trial), key=lambda p: (-p.severity, p.zone, p.side))
    ]
    loose = (TOES.get(trial.toes), SLIDES.get(trial.slide), SLIPS.get(trial.heel_slip or 0))
    lines += [text for text in loose if text]
    names = {t.slug: t.name for t in TESTS.get(sport, ())}
    failed = [names[slug] for slug, came in trial.tests.items() if came == "fail" and slug in names]
    passed = [names[slug] for slug, came in trial.tests.items() if came == "pass" and slug in names]
    if failed:
        lines.append(f"Didn't pass {', '.join(n[:1].lower() + n[1:] for n in failed)}")
    # What nobody asked about isn't said to be right.
    if passed and not lines:
        lines.append(f"Passed {', '.join(n[:1].lower() + n[1:] for n in passed)}")
    return lines
