"""What a note says about the feet and the body: concerns by the words it uses, less what it denies.

Notes are written in a hurry. In doubt a word raises its concern; only what is plainly denied doesn't.
"""

from __future__ import annotations

import re
from typing import Literal

Slug = Literal[
    "knee", "ankle", "heel_pain", "back", "hip", "achilles", "forefoot", "numbness", "diabetes", "surgery",
    "orthosis", "older", "wounds", "pain", "growing_pains", "swelling", "gout", "ingrown_nail", "cruciate",
]  # fmt: skip
"""Everything that may be a concern, whichever door it comes in by."""

_WHOSE = r"(?:his|her|their|the|my|any|all|some|much)\s+"
_INJURED = r"(?:sprain|fractur)\w*|(?:broke|broken)\s+(?:\w+\s+){0,2}?(?:toe|foot|ankle|metatarsal|bone)s?"
_OF_CRUCIATE = r"(?:torn\s+|ruptured\s+)?(?:\w+\s+)?cruciates?|\bacl\b|\bpcl\b"
WORDS: dict[Slug, str] = {
    "wounds": r"wound\w*|blister\w*|\w*ulcer\w*|bleed\w*|\bbled\b|\b(?:open|weeping)\s+sores?\b",
    "ingrown_nail": r"\bin-?\s?gr(?:own|owing)\s+(?:toe\s?)?nails?|\bingrown\b",
    "numbness": r"\bnumb(?!er)\w*|tingl\w*|neuropath\w*|\bpins\s*(?:and|&|n)\s*needles|\binsensate\b|"
    rf"\b(?:los(?:t|ing)|loss\s+of)\s+(?:{_WHOSE})?(?:feeling|sensation)|"
    r"\b(?:little|reduced|less|poor)\s+(?:feeling|sensation)|\bno\s+(?:feeling|sensation)|"
    rf"\b(?:can'?t|cannot|can\s+not|doesn'?t|does\s+not|don'?t|do\s+not)\s+feel\s+(?:{_WHOSE})?"
    r"(?:\w+\s+)?(?:toe|feet|foot|sole|heel|floor|ground)s?",
    "diabetes": r"\w*diabet\w*|circulat\w*|\b(?:badly|poorly)\s+supplied|claudicat\w*",
    "swelling": r"swell\w*|swollen|\bo?edema\w*",
    "gout": r"\bgout\w*",
    "cruciate": _OF_CRUCIATE,
    "surgery": rf"surger\w*|surgical\w*|operat\w*|{_INJURED}",
    "pain": r"\bpain\w*|\bhurt\w*|\bsore\b|\bach(?:e|es|ing|y)\b",
}
"""By concern: the words of a note that raise it. An open sore is a wound before it is sore."""
IMPLIES: dict[Slug, tuple[Slug, ...]] = {"cruciate": ("knee",)}
"""What a concern is as well."""

_ANY = "|".join(f"(?:{words})" for words in WORDS.values())
DENIED = re.compile(
    rf"\b(?:no|not|never|without|free of|denies)\b(?:\s+(?:any|much|real|more|longer|at all|had|has))*\s+(?:{_ANY})|"
    rf"(?<!not )(?<!badly )\b(?:old healed|well healed|healed|former)\s+(?:\w+\s+)?(?:{_INJURED})"
    r"|\b(?:pain|symptom)[- ]?free\b",
    re.IGNORECASE,
)
"""What a note says there isn't, or was and is healed; in doubt it is left standing and raises its concern."""


def _left(text: str) -> str:
    """The note without what it denies."""
    return DENIED.sub(" ", text)


def noted(text: str) -> dict[Slug, str]:
    """The concerns a note raises, each with the whole words that raise it, as they were written.

    What raised one concern doesn't raise another: "open sore" is a wound and no pain beside it."""
    rest, found = _left(text), {}
    for slug, words in WORDS.items():
        if match := re.search(words, rest, re.IGNORECASE):
            found[slug] = " ".join(match.group(0).split())
            rest = re.sub(words, " ", rest, flags=re.IGNORECASE)
    return found


def denied(text: str) -> set[Slug]:
    """The concerns a note says there are not."""
    gone = " ".join(match.group(0) for match in DENIED.finditer(text))
    return {slug for slug, words in WORDS.items() if re.search(words, gone, re.IGNORECASE)} - set(noted(text))
