"""What the feet, a fitter's ticks and a note call for: when to have a clinician look first."""

from __future__ import annotations

import re
from typing import TYPE_CHECKING, Literal

from ..contract import SIDES, Contract, Mark

if TYPE_CHECKING:
    from .gauge import Feet

Concern = Literal["pain", "circulation", "surgery", "growing_pains"]


class FootCaution(Contract):
    """A caution with its rule, what raised it, and its mark."""

    rule: str
    field: str
    text: str
    mark: Mark


REFER = "before fitting tight or changing the heel, have a physician, physiotherapist or podiatrist look."
CONCERNS: dict[str, str] = {
    "wounds": f"Wounds or numb spots on the feet: {REFER}",
    "pain": f"Pain that lasts: {REFER}",
    "circulation": f"Diabetes or poor circulation: {REFER}",
    "surgery": f"A recent operation or acute injury: {REFER}",
    "growing_pains": f"A child's growing pains, often at the heel: {REFER}",
}
"""What a fitter ticks about the feet, and what follows from it."""
NOTED: dict[str, str] = {
    r"\bpain|\bhurt|\bsore\b|\bache": "pain",
    r"numb|tingl|wound|blister|ulcer|bleed": "wounds",
    r"diabet|circulation": "circulation",
    r"surger|operat|fractur|sprain": "surgery",
}
"""Words in a note that call for a caution."""
DENIED = re.compile(
    r"\b(?:no|not|never|without|free of|denies)\b(?:\s+(?:any|much|real|more|longer|at all))*\s+"
    r"(?:pain|hurt|sore|ache|numb|tingl|wound|blister|ulcer|bleed|diabet|surger|operat|fractur|sprain)\w*|"
    r"(?<!not )(?<!badly )\b(?:old healed|well healed|healed|former)\s+(?:\w+\s+)?(?:sprain|fractur)\w*"
    r"|\b(?:pain|symptom)[- ]?free\b",
    re.IGNORECASE,
)
"""What a note says there isn't, or was and is healed; in doubt it is left standing and raises its caution."""
FAR_TURNED_DEG = 20.0
"""Big toe angle from which a podiatrist may help. House default."""


def cautions_of(feet: Feet) -> list[FootCaution]:
    """What the feet, the ticks and the note call for, each once."""
    found: dict[str, FootCaution] = {}

    def add(rule: str, field: str, text: str, mark: Mark = "CP") -> None:
        found.setdefault(rule, FootCaution(rule=f"caution.{rule}", field=field, text=text, mark=mark))

    if feet.wounds_or_numbness:
        add("wounds", "wounds_or_numbness", CONCERNS["wounds"])
    for concern in feet.concerns:
        add(concern, "concerns", CONCERNS[concern])
    for words, concern_named in NOTED.items():
        if match := re.search(words, DENIED.sub("", feet.note), re.IGNORECASE):
            text = f"You noted “{match.group(0)}…”: {REFER}"
            add(concern_named, "note", text)
    for side in SIDES:
        angle = getattr(feet, side).first_toe_angle_deg
        if angle is not None and angle >= FAR_TURNED_DEG:
            add("turned_toe", f"{side}.first_toe_angle_deg",
                f"The {side} big toe turns in by {angle:.0f}°: leather and width over the joint, and if it hurts, "
                "a podiatrist.", "HD")  # fmt: skip
    return list(found.values())
