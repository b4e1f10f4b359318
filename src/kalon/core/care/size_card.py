"""What somebody carries who was measured here: their feet, the sizes they wear by maker, what to ask for elsewhere."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass

from ..contract import SIDES, Side
from ..feet.combine import FeetFound
from ..feet.gauge import ToeShape, VolumeClass

MAKERS = 6
LIKELY = 0.35
"""A size that fits with less of a chance is told to nobody as theirs. House default."""
APART_MM = 1.0
"""Feet nearer in length than this are of one length. House default."""
TOES: dict[ToeShape, str] = {
    "second_longest": "the second toe is the longest: length by it",
    "square": "toes of one length: a broad front",
}
VOLUME: dict[VolumeClass, str] = {"low": "low in volume: a low instep", "high": "high in volume: a high instep"}


@dataclass(frozen=True)
class Fits:
    """A pair on the shelf: its maker, its size as the box has it, and the chance that it fits."""

    maker: str
    box: str
    chance: float


def by_maker(found: Sequence[Fits]) -> list[tuple[str, str]]:
    """The size somebody wears of each maker, the surest makers first: the one most of the maker's shoes fit in, each
    counted by its chance."""
    chances: dict[str, dict[str, float]] = defaultdict(lambda: defaultdict(float))
    best: dict[str, float] = defaultdict(float)
    for one in found:
        if one.chance >= LIKELY:
            chances[one.maker][one.box] += one.chance
            best[one.maker] = max(best[one.maker], one.chance)
    makers = sorted(chances, key=lambda m: (-best[m], m))[:MAKERS]
    return [(m, max(chances[m], key=lambda box: (chances[m][box], box))) for m in makers]


def feet_lines(found: FeetFound) -> list[str]:
    """Each foot's length and ball, as sure as they are, in millimetres."""
    lines = []
    for side in SIDES:
        numbers = getattr(found, side).numbers
        if "length_mm" not in numbers:
            continue
        length = numbers["length_mm"]
        line = f"{side.capitalize()} {length.value:.0f} ± {length.uncertainty:.0f} mm long"
        if ball := numbers.get("ball_girth_mm"):
            line += f", {ball.value:.0f} round the ball"
        elif wide := numbers.get("ball_width_mm"):
            line += f", {wide.value:.0f} wide at the ball"
        lines.append(line)
    return lines


def _longer(found: FeetFound) -> tuple[Side | None, float, float]:
    """The longer foot where they are unlike, by how much, and the longer one's length; 0 where none was measured."""
    lengths = {s: n.value for s in SIDES if (n := getattr(found, s).numbers.get("length_mm"))}
    if not lengths:
        return None, 0.0, 0.0
    most = max(lengths.values())
    apart = most - min(lengths.values())
    side = max(lengths, key=lambda s: lengths[s])
    return (side if len(lengths) == 2 and apart >= APART_MM else None), apart, most


def ask_for(found: FeetFound, room_mm: tuple[float, float] | None, volume: VolumeClass | None, sport: str) -> list[str]:
    """What to ask for where nobody has measured them: the foot to fit, how long it is inside, what is unusual."""
    side, apart, length = _longer(found)
    lines = []
    if length and room_mm:
        low, high = (length + room for room in room_mm)
        lines.append(f"{sport}: {low:.0f} to {high:.0f} mm long inside")
    if side:
        lines.append(f"Fit the {side} foot: it is {apart:.0f} mm longer")
    if volume in VOLUME:
        lines.append(VOLUME[volume].capitalize())
    shape = found.left.toe_shape or found.right.toe_shape
    if shape in TOES:
        lines.append(TOES[shape].capitalize())
    if found.left.bunion or found.right.bunion:
        lines.append("Width over the big toe's joint")
    return lines
