"""What was said of an athlete's feet at one fitting, and where: pinches, pains, what was ticked or noted."""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from typing import Literal, TypeVar

from ..contract import SIDES, Contract, Side
from ..errors import BadInput
from ..feet.cautions import CONCERNS
from ..feet.gauge import Feet
from ..feet.noted import Slug
from ..fit.trial import PINCH_NAMES, Pinch, Severity, pinches_of
from ..parts import ReturnPart, TrialPart
from ..rules.brief import BriefDraft
from ..rules.concerns import BRIEF_WORDS, Concern, concerns_of
from ..sports.asks import HISTORY

Told = Literal["feet", "brief", "trial", "return"]
P = TypeVar("P", bound=Contract)

PLACES: dict[Slug, Pinch] = {
    "heel_pain": "heel",
    "forefoot": "ball",
    "achilles": "heel_back",
    "ankle": "ankle",
    "numbness": "toe_tips",
    "bunion": "big_toe_joint",
    "gout": "big_toe_joint",
    "stiff_toe": "big_toe_joint",
    "ingrown_nail": "toe_tips",
    "growing_pains": "heel",
}
"""Where on the foot a complaint sits that names its place itself; what names none has none. House default."""
HURTS: tuple[Slug, ...] = (
    "wounds", "pain", "diabetes", "surgery", "swelling", "knee", "back", "hip", "cruciate", *PLACES,
)  # fmt: skip
"""What counts as a complaint of all that is minded: not how somebody is built, nor how old they are."""
_CALLED: dict[str, str] = {o.value: o.text for o in HISTORY.options} | {
    str(slug): text for slug, text in CONCERNS.items()
}
_SEVERITY = {1: "noticed", 2: "hurts", 3: "can't be worn"}


class Complaint(Contract):
    """One thing said of a foot. No side: of both, or nobody said which; no zone: the words name no place."""

    station: Told
    side: Side | None = None
    zone: Pinch | None = None
    severity: Severity | None = None
    line_id: str | None = None
    """The pair it was felt in, by its stock line."""
    text: str


SORE_AT: dict[str, Pinch] = {
    "big toe": "big_toe_joint", "bunion": "big_toe_joint", "little toe": "outer_ball", "small toe": "outer_ball",
    "outer ball": "outer_ball", "toe": "toe_tips", "nail": "toe_tips", "back of the heel": "heel_back",
    "achilles": "heel_back", "heel": "heel", "ball": "ball", "forefoot": "ball", "instep": "instep", "ankle": "ankle",
    "top": "instep",
}  # fmt: skip
"""Where a sore spot told in words is, by the first of these they hold."""


def _clause(texts: Sequence[str], words: str) -> str:
    """The part of a sentence in which some words were said."""
    clauses = [c.strip() for text in texts for c in re.split(r"[.,;:!?\n]|\b(?:and|but)\b", text)]
    return next((c for c in clauses if words.lower() in c.lower()), words)


def _side_in(words: str) -> Side | None:
    low = words.lower()
    sides: list[Side] = [side for side in SIDES if re.search(rf"\b{side}\b", low)]
    return sides[0] if len(sides) == 1 else None


def _zone_in(words: str) -> Pinch | None:
    low = words.lower()
    return next((zone for word, zone in SORE_AT.items() if re.search(rf"\b{word}", low)), None)


def _of_concern(concern: Concern, texts: Sequence[str]) -> Complaint:
    said = _clause(texts, concern.words) if concern.words else ""
    called = _CALLED.get(concern.slug, concern.slug.replace("_", " ").capitalize())
    return Complaint(
        station="feet" if concern.door == "feet" else "brief",
        side=_side_in(said),
        zone=PLACES.get(concern.slug) or _zone_in(said),
        text=f"{called}: “{said}”" if said else called,
    )


def _of_concerns(feet: Feet, brief: BriefDraft) -> list[Complaint]:
    texts = [feet.note, *(getattr(brief, name) for name in BRIEF_WORDS)]
    return [_of_concern(c, texts) for slug, c in concerns_of(brief, feet).items() if slug in HURTS]


def _of_trial(trial: TrialPart) -> list[Complaint]:
    found: list[Complaint] = []
    for line, pair in trial.pairs.items():
        for p in pinches_of(pair):
            text = f"{PINCH_NAMES[p.zone].capitalize()}: {_SEVERITY[p.severity]}"
            found.append(Complaint(station="trial", side=p.side, zone=p.zone, severity=p.severity, line_id=line,
                                   text=text))  # fmt: skip
    return found


def _of_return(back: ReturnPart) -> list[Complaint]:
    words = back.sore.strip()
    if not words:
        return []
    text = f"Sore after wearing it: “{words}”"
    return [Complaint(station="return", side=_side_in(words), zone=_zone_in(words), text=text)]


def _part(bodies: Mapping[str, Mapping[str, object]], name: str, kind: type[P]) -> P:
    try:
        return kind.model_validate(bodies.get(name) or {})
    except (ValueError, BadInput):
        return kind()


def complaints_of(bodies: Mapping[str, Mapping[str, object]]) -> list[Complaint]:
    """What a fitting's parts (bodies by name, those begun) say of the feet, in the order of working. A part that no
    longer reads says nothing."""

    return [
        *_of_concerns(_part(bodies, "feet", Feet), _part(bodies, "brief", BriefDraft)),
        *_of_trial(_part(bodies, "trial", TrialPart)),
        *_of_return(_part(bodies, "return", ReturnPart)),
    ]
