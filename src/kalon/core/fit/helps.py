"""What helps a pair that nearly fits, short of another pair: lacing, an insole, split sizes for odd feet."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from ..contract import Contract, Mark
from ..money import Money
from ..sports.every import facts_of
from .foot import FIT_ZONES, FootToFit
from .size import ZONE_NAMES
from .trial import PairTrial, pinches_of, verdicts_of

Pattern = Literal["heel_lock", "skipped", "wide_forefoot", "secure_knot", "plain"]


@dataclass(frozen=True)
class Lacing:
    """A way of lacing: its name, how it is done, what it does."""

    name: str
    how: str
    does: str
    mark: Mark = "CP"


LACINGS: dict[Pattern, Lacing] = {
    "plain": Lacing("Criss-cross", "Under and across, hole by hole.", "Spreads the pull evenly."),
    "heel_lock": Lacing(
        "Heel lock", "A loop at the last two eyelets of each side; each end through the other side's loop, then tied.",
        "Draws the collar in behind the ankle bones: holds the heel without tightening the forefoot.",
    ),
    "skipped": Lacing(
        "Skipped crossing", "Where the instep presses, up its own side past one eyelet, then cross again.",
        "Takes the pull off the spot that presses.",
    ),
    "wide_forefoot": Lacing(
        "Wide forefoot", "The first crossings straight up each side, crossing only from the middle on.",
        "Lets the ball spread: a few millimetres of room round it.",
    ),
    "secure_knot": Lacing(
        "Secure knot", "A double bow, its ends tucked under the crossings on the side away from the chain.",
        "Nothing comes loose or into the chain.",
    ),
}  # fmt: skip
"""Ways of lacing, by what they are for. Common practice."""

INSOLE_BALL, INSOLE_INSTEP = 2.0, 2.5
"""Girth a full insole takes up at ball and instep, mm for each mm of its thickness. House defaults."""
INSOLES_MM = (2.0, 3.0, 4.0)
"""Thicknesses there are. House default."""
HALF_SIZE_MM = 10 / 3
ODD_MM = 2.5
"""Feet this far apart in length are told of; by half a size or more, sizes are split. House default."""


class Help(Contract):
    """One thing that may help, what it does, and the pattern drawn of it, if it is a lacing."""

    text: str
    why: str
    mark: Mark
    pattern: Pattern | None = None


def helps_for(trial: PairTrial, sport: str, laced: bool, slack_mm: float | None) -> list[Help]:
    """What may help a pair after its trial. `slack_mm` is room round the instep beyond the wanted, where known."""
    found: list[Help] = []
    worst: dict[str, int] = {}
    for pinch in pinches_of(trial):
        worst[pinch.zone] = max(worst.get(pinch.zone, 0), pinch.severity)
    said = verdicts_of(trial)

    def lace(pattern: Pattern, why: str) -> None:
        if laced:
            way = LACINGS[pattern]
            found.append(Help(text=f"{way.name}: {way.how}", why=f"{why} {way.does}", mark=way.mark, pattern=pattern))

    if trial.heel_slip:
        lace("heel_lock", "The heel slips.")
    if worst.get("instep"):
        lace("skipped", "The instep presses.")
    if max(worst.get(z, 0) for z in ("ball", "outer_ball", "big_toe_joint")) in (1, 2):
        lace("wide_forefoot", "It presses at the ball.")
    if sport == "cycling":
        lace("secure_knot", "On a bicycle a lace must not come loose.")
    loose = said.get(1) == "slack" or said.get(3) == "slack" or trial.slide == "always"
    if loose and not worst.get("instep") and facts_of(sport).insole:
        over = slack_mm if slack_mm is not None and slack_mm > 0 else INSOLE_INSTEP * INSOLES_MM[1]
        thick = min(INSOLES_MM, key=lambda t: abs(INSOLE_INSTEP * t - over))
        found.append(
            Help(
                text=f"An insole {thick:g} mm thick.",
                why=f"It takes up about {INSOLE_BALL * thick:.0f} mm round the ball and {INSOLE_INSTEP * thick:.0f} mm "
                "round the instep, and no length; the heel sits that much higher in its cup.",
                mark="HD",
            )
        )
    return found


class OddFeet(Contract):
    """Feet that differ: which is the larger, by how much in which zone, and what may be done."""

    larger: Literal["left", "right"]
    length_mm: float
    text: str
    split: bool


def _apart(halves: int) -> str:
    return {1: "half a size", 2: "a size"}.get(halves, f"{halves / 2:g} sizes")


def odd_feet(foot: FootToFit, price: Money | None, sport: str = "") -> OddFeet | None:
    """What odd feet ask for; none where they are as like as most. Two pairs are the cost of split sizes."""
    insole = not sport or facts_of(sport).insole
    left, right = foot.sides["left"], foot.sides["right"]
    apart = float(left[0] - right[0])
    girth = max(range(1, 4), key=lambda z: abs(float(left[z] - right[z])))
    if abs(apart) < ODD_MM:
        return None
    larger: Literal["left", "right"] = "left" if apart > 0 else "right"
    smaller = "right" if larger == "left" else "left"
    halves = round(abs(apart) / HALF_SIZE_MM)
    told = f"The {larger} foot is {abs(apart):.1f} mm longer; the pair is fitted to it."
    across = float(left[girth] - right[girth])
    if abs(across) >= ODD_MM:
        told += f" At the {ZONE_NAMES[FIT_ZONES[girth]]} they differ by {abs(across):.0f} mm."
    if halves >= 1 and abs(apart) >= HALF_SIZE_MM:
        cost = "" if price is None else f" ({price * 2} in all)"
        or_else = (
            f"or an insole in the {smaller} shoe alone, which takes up girth and no length."
            if insole
            else f"or laces, drawn closer on the {smaller}."
        )
        told += f" Split sizes, {_apart(halves)} apart, mean two pairs{cost}; {or_else}"
        return OddFeet(larger=larger, length_mm=abs(apart), text=told, split=True)
    told += (
        f" An insole in the {smaller} shoe alone takes up what is left of girth."
        if insole
        else f" Laces or straps are drawn closer on the {smaller}."
    )
    return OddFeet(larger=larger, length_mm=abs(apart), text=told, split=False)
