"""What the feet, a fitter's ticks and a note call for: when to have a clinician look first."""

from __future__ import annotations

from typing import TYPE_CHECKING, Literal

from ..contract import SIDES, Contract, Mark
from .noted import Slug, noted

if TYPE_CHECKING:
    from .gauge import Feet

FeetConcern = Literal["pain", "circulation", "surgery", "growing_pains"]
"""What a fitter ticks about the feet beside wounds and numb spots, as it is stored."""
Tick = Literal["wounds_or_numbness", "pain", "circulation", "surgery", "growing_pains"]
TICKS: dict[Tick, tuple[Slug, ...]] = {
    "wounds_or_numbness": ("wounds",),
    "pain": ("pain",),
    "circulation": ("diabetes",),
    "surgery": ("surgery",),
    "growing_pains": ("growing_pains",),
}
"""What each tick stands for. A wound and a spot that doesn't feel are one tick, and are spared alike."""


class FootCaution(Contract):
    """A caution with its rule, what raised it, and its mark."""

    rule: str
    field: str
    text: str
    mark: Mark


REFER = "before fitting tight or changing the heel, have a physician, physiotherapist or podiatrist look."
CONCERNS: dict[Slug, str] = {
    "wounds": "Wounds or numb spots on the feet",
    "numbness": "Numb or tingling toes, feet that don't feel everything",
    "pain": "Pain that lasts",
    "diabetes": "Diabetes or poor circulation",
    "surgery": "A recent operation or acute injury",
    "growing_pains": "A child's growing pains, often at the heel",
    "swelling": "Feet that swell",
    "gout": "Gout",
    "ingrown_nail": "An ingrown nail",
    "cruciate": "A torn cruciate ligament",
}
"""What a clinician should see first, as it is called."""
FAR_TURNED_DEG = 20.0
"""Big toe angle from which a podiatrist may help. House default."""


def about_feet(feet: Feet) -> list[Slug]:
    """The concerns ticked at Feet."""
    ticked: list[Tick] = ["wounds_or_numbness"] if feet.wounds_or_numbness else []
    ticked += feet.concerns
    return list(dict.fromkeys(slug for tick in ticked for slug in TICKS[tick]))


def cautions_of(feet: Feet) -> list[FootCaution]:
    """What the feet, the ticks and the note call for, each once; the note's in its own whole words."""
    found: dict[str, FootCaution] = {}

    def add(rule: str, field: str, text: str, mark: Mark = "CP") -> None:
        found.setdefault(rule, FootCaution(rule=f"caution.{rule}", field=field, text=text, mark=mark))

    for slug in about_feet(feet):
        field = "wounds_or_numbness" if slug == "wounds" else "concerns"
        add(slug, field, f"{CONCERNS[slug]}: {REFER}")
    for slug, words in noted(feet.note).items():
        if slug not in CONCERNS:
            continue
        add(slug, "note", f"You noted “{words}”: {REFER}")
    for side in SIDES:
        angle = getattr(feet, side).first_toe_angle_deg
        if angle is not None and angle >= FAR_TURNED_DEG:
            add("turned_toe", f"{side}.first_toe_angle_deg",
                f"The {side} big toe turns in by {angle:.0f}°: leather and width over the joint, and if it hurts, "
                "a podiatrist.", "HD")  # fmt: skip
    return list(found.values())
