"""Their feet in sentences: how long, how sure that is, and in what the two are unlike."""

from __future__ import annotations

from ..contract import SIDES
from ..feet.combine import FeetFound, FootFound
from ..feet.gauge import Arch, Feet, Norms, ToeShape, VolumeClass, volume_class
from ..units import HALF_UK_MM

ALIKE_MM = 1.0
"""Feet nearer in length than this are of one length. House default."""
UNLIKE_MM = {"ball_girth_mm": 4.0, "instep_girth_mm": 5.0, "heel_width_mm": 2.5}
"""From here on a difference is told. House defaults: about what a tape or a gauge is out by."""
WHERE = {"ball_girth_mm": "round the ball", "instep_girth_mm": "round the instep", "heel_width_mm": "at the heel"}
SEEN_TOES: dict[ToeShape, str] = {
    "first_longest": "The big toe is the longest",
    "second_longest": "The second toe is the longest: the length goes by it",
    "square": "The toes are of one length: the front has to be broad",
}
SEEN_ARCH: dict[Arch, str] = {"low": "The arch is low", "high": "The arch is high"}
SEEN_VOLUME: dict[VolumeClass, str] = {
    "low": "For its length it is a slim foot, all round",
    "high": "For its length it is a full foot, all round",
}

BUMP = "There is a bump at the big toe: nothing may rub there"


def _apart(mm: float) -> str:
    halves = round(mm / HALF_UK_MM)
    named = {0: "less than half a size", 1: "about half a size", 2: "about a size"}
    return named.get(halves, f"about {halves / 2:g} sizes")


def length_said(found: FeetFound) -> list[str]:
    """How long they are, as sure as that is, and which is the longer."""
    numbers = {side: n for side in SIDES if (n := getattr(found, side).numbers.get("length_mm"))}
    if len(numbers) < len(SIDES):
        return [
            f"Your {side} foot is {n.value:.0f} mm long, give or take {max(n.uncertainty, 1):.0f}."
            for side, n in numbers.items()
        ]
    left, right = numbers["left"], numbers["right"]
    sure = f"give or take {max(left.uncertainty, right.uncertainty, 1):.0f}"
    apart = right.value - left.value
    if abs(apart) < ALIKE_MM:
        return [f"Your feet are of one length: {(left.value + right.value) / 2:.0f} mm, {sure}."]
    longer, shorter = ("right", "left") if apart > 0 else ("left", "right")
    return [
        f"Your left foot is {left.value:.0f} mm long, your right {right.value:.0f}, {sure}.",
        # To a tenth, as the drawing has it: rounded lengths may lie a millimetre nearer or further.
        f"The {longer} is {round(abs(apart), 1):g} mm longer than the {shorter}, {_apart(abs(apart))}: "
        f"the shoe goes by the {longer}.",
    ]


def unlike_said(found: FeetFound) -> list[str]:
    """In what else the two feet are unlike, where that is more than a measurement is out by."""
    lines = []
    for name, least in UNLIKE_MM.items():
        left, right = (getattr(found, side).numbers.get(name) for side in SIDES)
        if not left or not right or abs(apart := right.value - left.value) < least:
            continue
        more = "right" if apart > 0 else "left"
        lines.append(f"The {more} is {abs(apart):.0f} mm more {WHERE[name]}.")
    return lines


def _of_each(words: dict[str, str]) -> list[str]:
    """What is seen of both feet once, of one with its side."""
    if len(words) == len(SIDES) and len(set(words.values())) == 1:
        return [f"{words['left']}, on both feet."]
    return [f"{text}, on the {side}." for side, text in words.items()]


def seen_said(found: FeetFound, feet: Feet, norms: Norms | None = None) -> list[str]:
    """What was seen of their shape: toes, arch, fullness (by the shop's own `norms`, where it has them), a bump.

    Usual arches and fullness aren't told."""
    toes: dict[str, str] = {}
    arch: dict[str, str] = {}
    full: dict[str, str] = {}
    bump: dict[str, str] = {}
    for side in SIDES:
        foot: FootFound = getattr(found, side)
        volume = volume_class(getattr(feet, side), norms)[0]
        if foot.toe_shape:
            toes[side] = SEEN_TOES[foot.toe_shape]
        if foot.arch.value in SEEN_ARCH:
            arch[side] = SEEN_ARCH[foot.arch.value]
        if volume in SEEN_VOLUME:
            full[side] = SEEN_VOLUME[volume]
        if foot.bunion:
            bump[side] = BUMP
    return [line for words in (toes, arch, full, bump) for line in _of_each(words)]
