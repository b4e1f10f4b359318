"""What a pair gives up, in one sentence for whoever will wear it."""

from __future__ import annotations

import re

from ..contract import Contract
from .nearest import alike
from .rank import Met, Shoe

TELLING = 0.12
"""A cost of less than this share of the spec is nothing to tell an athlete. House default."""
CHEAPER = 0.7
"""An older model is named when it costs at most this of the newer one. House default."""


AS_NOUN = {"Breathes": "breathing", "Reflects": "reflecting", "Can be moulded": "moulding"}
"""Features whose names are no nouns."""


def _thing(text: str) -> str:
    """The thing a point is about, in a sentence's middle: "Downturn: flat; best …" → "downturn"."""
    name = re.split(r":| \d| not ", text)[0].strip()
    name = AS_NOUN.get(name, name)
    return name if name[:2].isupper() else name[:1].lower() + name[1:]


def _and(words: list[str]) -> str:
    return words[0] if len(words) == 1 else f"{', '.join(words[:-1])} and {words[-1]}"


def in_a_word(met: Met) -> str:
    """What a pair costs of what was wanted, in one sentence; every choice trades."""
    costs = [_thing(p.text) for p in met.costs if p.share >= TELLING][:3]
    helps = [_thing(p.text) for p in met.helps][:2]
    if not costs:
        small = [_thing(p.text) for p in met.costs][:2]
        return f"It gives up next to nothing of what was wanted{f': a little in {_and(small)}' if small else ''}."
    got = f", for the sake of {_and(helps)}" if helps else ""
    return f"It gives up something in {_and(costs)}{got}."


class OlderModel(Contract):
    """A cheaper model on the same last, and what it gives up against this one in one sentence."""

    line_id: str
    name: str
    price_minor: int
    text: str


def older(shoe: Shoe, name: str, line_id: str, new: Shoe) -> OlderModel | None:
    """The older model, when it costs so much less that it is worth a word."""
    if not shoe.price_minor or not new.price_minor or shoe.price_minor > CHEAPER * new.price_minor:
        return None
    differs = alike(shoe, new).differs[:2]
    what = " ".join(d.text for d in differs) if differs else "Nothing that is known of it."
    part = f"{shoe.price_minor / new.price_minor:.0%} of the price"
    text = f"Same last, so it fits the same, at {part}. What differs: {what}"
    return OlderModel(line_id=line_id, name=name, price_minor=shoe.price_minor, text=text)
