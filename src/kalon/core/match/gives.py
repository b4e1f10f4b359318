"""What a pair gives up, in one sentence for whoever will wear it."""

from __future__ import annotations

import re

from ..contract import Contract
from .judged import Met
from .nearest import alike
from .shelf import Shoe

TELLING = 0.12
"""A cost of less than this share of the spec is nothing to tell an athlete. House default."""
CHEAPER = 0.7
"""An older model is named when it costs at most this of the newer one. House default."""


LACKS = {
    "Breathes": "doesn't let heat out", "Reflects": "doesn't reflect", "Can be moulded": "can't be moulded",
    "Sole that doesn't mark": "may mark the floor", "Tongue that stays put": "lets the tongue slide",
    "Insole that comes out": "keeps its insole in", "Studs that screw out": "has studs that stay in",
    "Choice of widths": "comes in one width",
}  # fmt: skip
"""What a shoe without a feature does, where "it has none" doesn't say it."""
WITHOUT, BETTER_WITHOUT = ": it has none;", ": better without;"


def _thing(text: str) -> str:
    """The thing a point is about, in a sentence's middle: "Downturn: flat; best …" → "downturn"."""
    name = re.split(r":| \d| not ", text)[0].strip()
    return name if name[:2].isupper() else name[:1].lower() + name[1:]


def _and(words: list[str]) -> str:
    return words[0] if len(words) == 1 else f"{', '.join(words[:-1])} and {words[-1]}"


def _lack(text: str) -> str | None:
    """What a shoe does without a feature, or with one it had better not have; none for what is no feature."""
    name = text.split(":")[0]
    if WITHOUT in text:
        return LACKS.get(name, f"has no {_thing(text)}")
    return f"has {_thing(text)}" if BETTER_WITHOUT in text else None


def in_a_word(met: Met) -> str:
    """What a pair costs of what was wanted, in one sentence; every choice trades."""
    costs = [p.text for p in met.costs if p.share >= TELLING][:3]
    helps = [_thing(p.text) for p in met.helps if WITHOUT not in p.text][:2]
    got = f", for the sake of {_and(helps)}" if helps else ""
    if not costs:
        small = [_lack(p.text) or f"gives up a little in {_thing(p.text)}" for p in met.costs[:1]]
        return f"It gives up next to nothing of what was wanted{f'; it {small[0]}' if small else ''}."
    lacks = [t for c in costs if (t := _lack(c))]
    things = [_thing(c) for c in costs if not _lack(c)]
    parts = [f"gives up something in {_and(things)}"] if things else []
    return f"It {_and([*parts, *lacks])}{got}."


class OlderModel(Contract):
    """A cheaper model on the same last, and what it gives up against this one in one sentence."""

    line_id: str
    name: str
    price_minor: int
    currency: str
    text: str


def older(shoe: Shoe, name: str, line_id: str, new: Shoe) -> OlderModel | None:
    """The older model, when it costs so much less that it is worth a word."""
    if shoe.price is None or new.price is None or not shoe.price.minor > 0 or not new.price.minor > 0:
        return None
    part = shoe.price.per(new.price)
    if part > CHEAPER:
        return None
    differs = alike(shoe, new).differs[:2]
    what = " ".join(d.text for d in differs) if differs else "Nothing that is known of it."
    text = f"Same last, so it fits the same, at {part:.0%} of the price. What differs: {what}"
    return OlderModel(line_id=line_id, name=name, price_minor=shoe.price.minor, currency=shoe.price.currency, text=text)
