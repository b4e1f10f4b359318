"""What a note says about the feet and the body: concerns by the words it uses, less what it denies.

Notes are written in a hurry. In doubt a word raises its concern; only what is plainly denied doesn't.
"""

from __future__ import annotations

import re
from functools import lru_cache
from typing import Literal

Slug = Literal[
    "knee", "ankle", "heel_pain", "back", "hip", "achilles", "forefoot", "numbness", "diabetes", "surgery",
    "orthosis", "older", "wounds", "pain", "growing_pains", "swelling", "gout", "ingrown_nail", "cruciate",
    "growing", "pregnancy", "prosthesis", "stiff_toe", "leg_length", "bunion", "low_arch", "high_arch", "running_shoe",
    "creased",
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

_BAD = r"(?:bad|sore|dodgy|weak|twisted|injured|operated|swollen|unstable|stiff|painful|wobbly|aching|hurting)"
_AILS = (
    r"(?:pain|troubl|problem|injur|hurt|surger|operat|sprain|strain|twinge|ligament|g[ai]v(?:e|es|ing)\s+way|histor|roll|"
    r"ach|sore|brace|tap(?:e|ing))"
)
_OF_SHOES = r"(?!\s+(?:boots?|high|socks?|collars?|straps?|length|pads?|shoes?))"


def _joint(name: str) -> str:
    """A joint that is called bad, or of which something ails."""
    return rf"\b{_BAD}\s+(?:\w+\s+)?{name}\b{_OF_SHOES}|\b{name}\s+(?:\w+\s+)?{_AILS}\w*"


_YOUNG, _OLD = r"(?:[2-9]|1[0-5])", r"(?:[6-9]\d)"
BODY: dict[Slug, str] = {
    "knee": rf"{_joint('knees?')}|\bmenisc\w+|\bpatell\w+|\b(?:jumper|runner)'?s\s+knees?|\bmcl\b|{_OF_CRUCIATE}",
    "ankle": rf"{_joint('ankles?')}|\b(?:sprain|roll|twist|turn)\w*\s+(?:\w+\s+){{0,2}}?ankles?\b{_OF_SHOES}|"
    r"\bgo(?:es|ing)?\s+over\s+on\s+(?:\w+\s+)?ankles?",
    "heel_pain": r"\bheel\s+(?:pain|spur|hurt|ach)\w*|\b(?:sore|painful)\s+heels?\b|\bplantar\s+fasci\w+|\bsever'?s\b",
    "back": rf"\b{_BAD}\s+(?:lower\s+)?back\b|\bback\s+(?:pain|ach|troubl|problem|injur|surger)\w*|\bbackache|"
    r"\bslipped\s+dis[ck]|\bsciatica",
    "hip": _joint("hips?"),
    "achilles": r"\bachilles\b",
    "forefoot": r"\bmetatarsalgia|\bmorton\w*|\bneuromas?\b|"
    r"\b(?:sore|painful)\s+balls?\s+of\s+(?:the\s+)?(?:foot|feet)",
    "stiff_toe": r"\bhallux\s+(?:rigidus|limitus)|\b(?:stiff|fused)\s+(?:big|great)\s+toes?|"
    r"\bbig\s+toe\s+(?:joint\s+)?(?:is\s+)?(?:stiff|fused|won'?t\s+bend)",
    "leg_length": r"\bleg[- ]length\b|\b(?:one|left|right)\s+leg\s+(?:is\s+)?(?:shorter|longer)|"
    r"\bshort(?:er)?\s+leg\b",
    "orthosis": r"\borthos[ei]s\b|\borthotics?\b|\bprescribed\s+(?:insole|insert)s?|\bcustom[- ]made\s+insoles?",
    "prosthesis": r"\bprosthe\w+|\bartificial\s+(?:leg|foot|feet|limb)s?|\bamput\w+",
    "pregnancy": r"\bpregnan\w+|\bexpecting\s+(?:a\s+)?(?:baby|child)|\bpost-?\s?partum|"
    r"\b(?:just|recently)\s+gave\s+birth",
    "bunion": r"\bbunions?\b|\bhallux\s+valgus",
    "low_arch": r"\bflat[- ]?foot(?:ed)?\b|\bflat\s+feet\b|\b(?:fallen|dropped|low|collapsed)\s+arch\w*"
    r"(?!\s+(?:support|insole))",
    "high_arch": r"\bhigh\s+arch\w*(?!\s+(?:support|insole))|\bcavus\b",
    "running_shoe": r"\brunning\s+(?:shoe|trainer|pair)s?\b|\brunners\b",
    "creased": r"\bcreas(?:e|es|ed|ing)\b",
    "older": rf"\baged?\s+{_OLD}\b|\b{_OLD}[- ]?(?:year|yr)s?[- ]?old\b|\bin\s+(?:his|her|their)\s+"
    r"(?:sixties|seventies|eighties)\b|\bpensioners?\b|\bfeels\s+it\s+the\s+(?:day\s+after|next\s+day)",
    "growing": r"\bstill\s+growing|\bgrowth\s+spurt|"
    rf"\b{_YOUNG}[- ]?(?:year|yr)[- ]?old\b(?!\s+(?:shoe|boot|pair|skate))|"
    rf"\b(?:he|she|son|daughter|boy|girl|kid|child)(?:'s|\s+is)?\s+(?:(?:only|just)\s+)?{_YOUNG}\s+years?\s+old\b|"
    rf"\baged?\s+{_YOUNG}\b|\bu-?{_YOUNG}s?\b(?!\s*(?:%|mm|kg|km))|\bunder[- ]{_YOUNG}s\b",
}
"""What a note says of the body and its years beside what hurts: knees and ankles, what is worn in a shoe, who grows. A
knee that hurts is a pain as well: what raises these raises the others too."""
IMPLIES: dict[Slug, tuple[Slug, ...]] = {"cruciate": ("knee",)}
"""What a concern is as well."""

_ANY = "|".join(f"(?:{words})" for words in (*BODY.values(), *WORDS.values()))
_NO = rf"\b(?:no|not|never|without|free of|denies)\b(?:\s+(?:any|much|real|more|longer|at all|had|has|a))*\s+(?:{_ANY})"
NEGATED = re.compile(_NO, re.IGNORECASE)
"""What a note says there isn't; an ankle that healed was sprained all the same."""
DENIED = re.compile(
    rf"{_NO}|"
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
    return dict(_noted(text))


@lru_cache(maxsize=2000)
def _noted(text: str) -> dict[Slug, str]:
    rest, found = _left(text), {}
    standing = NEGATED.sub(" ", text)
    for slug, words in BODY.items():
        if match := re.search(words, standing, re.IGNORECASE):
            found[slug] = " ".join(match.group(0).split())
    for slug, words in WORDS.items():
        if match := re.search(words, rest, re.IGNORECASE):
            found[slug] = " ".join(match.group(0).split())
            rest = re.sub(words, " ", rest, flags=re.IGNORECASE)
    return found


@lru_cache(maxsize=2000)
def denied(text: str) -> frozenset[Slug]:
    """The concerns a note says there are not."""
    gone = " ".join(match.group(0) for match in DENIED.finditer(text))
    there = noted(text)
    return frozenset(
        s for s, words in (BODY | WORDS).items() if s not in there and re.search(words, gone, re.IGNORECASE)
    )
