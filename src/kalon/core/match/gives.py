"""What a pair gives up, in one sentence for whoever will wear it."""

from __future__ import annotations

from ..contract import Contract
from .judged import Met
from .nearest import alike
from .shelf import Shoe

TELLING = 0.12
"""A cost of less than this share of the spec is nothing to tell an athlete. House default."""
CHEAPER = 0.7
"""An older model is named when it costs at most this of the newer one. House default."""


def _and(words: list[str]) -> str:
    return words[0] if len(words) == 1 else f"{', '.join(words[:-1])} and {words[-1]}"


TELLS, FOR_THE_SAKE_OF = 3, 2
"""How many costs are told an athlete, and how many things they are borne for. House defaults."""


def in_a_word(met: Met) -> str:
    """What a pair costs of what was wanted, in one plain sentence; every choice trades."""
    costs = [p.plain for p in met.costs if p.share >= TELLING and p.plain][:TELLS]
    if not costs:
        small = next((p.plain for p in met.costs if p.plain), "")
        return f"It gives up next to nothing of what was wanted{f'; it {small}' if small else ''}."
    wanted = [p.about for p in met.helps if p.about][:FOR_THE_SAKE_OF]
    got = f"; as wanted in {_and(wanted)}" if wanted else ""
    return f"It {_and(costs)}{got}."


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
