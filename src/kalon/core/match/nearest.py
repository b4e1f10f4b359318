"""Like the pair they like: the models nearest to one by anatomy, with what differs, in words."""

from __future__ import annotations

from dataclasses import dataclass

from ..contract import Contract
from ..rules.aloud import said_word, short_word
from ..rules.changes import CHOICE_NAMES
from ..rules.scales import CHOICE_WEIGHT, PROPERTIES, scale
from ..shoes.anatomy import FEATURES
from .plain import having, lacks, means
from .shelf import Shoe

FEATURE_WEIGHT = 0.4
"""What one feature counts for beside a property. House default."""
SAME = 0.15
"""Share of a scale's falloff within which two shoes count as alike in it. House default."""
TOLD = 5


class Difference(Contract):
    """One thing in which a shoe differs, in words, and how much it counts of the whole."""

    text: str
    share: float


class Like(Contract):
    """How like a shoe is, 0…1, how much of both is known, 0…1, and what differs, most first."""

    shoe_id: str
    like: float
    known: float
    differs: list[Difference]


@dataclass
class _Sum:
    apart: float = 0.0
    known: float = 0.0
    whole: float = 0.0

    def add(self, weight: float, apart: float | None) -> None:
        self.whole += weight
        if apart is not None:
            self.known += weight
            self.apart += weight * apart


def _property(name: str, has: float, liked: float, sport: str) -> str:
    drawn = scale(name, sport)
    word, was = (short_word(name, v, v, sport) for v in (has, liked))
    amount = f"{has:g} instead of {liked:g} {drawn.unit}".replace(" °", "°").replace("-", "−")
    said = f"{word} instead of {was}" if word != was else f"{'more' if has > liked else 'less'}, {word}" if word else ""
    return f"{drawn.name}: {said} ({amount})." if said else f"{drawn.name}: {amount}."


def alike(shoe: Shoe, liked: Shoe) -> Like:
    """Hold one shoe beside another: what both are known in counts, what only one is known in leaves the total."""
    total, differs = _Sum(), []
    for name in PROPERTIES:
        mine, theirs = shoe.properties.get(name), liked.properties.get(name)
        if mine is None and theirs is None:
            continue
        if mine is None or theirs is None:
            total.add(1.0, None)
            continue
        apart = min(abs(mine - theirs) / (2 * scale(name, liked.sport).falloff), 1.0)
        total.add(1.0, apart)
        if apart > SAME / 2:
            differs.append(Difference(text=_property(name, mine, theirs, liked.sport), share=apart))
    for name, weight in CHOICE_WEIGHT.items():
        has, had = shoe.choices.get(name), liked.choices.get(name)
        if has is None or had is None:
            if has or had:
                total.add(weight, None)
            continue
        total.add(weight, float(has != had))
        if has != had:
            text = f"{CHOICE_NAMES[name]}: {said_word(name, has)} instead of {said_word(name, had)}."
            differs.append(Difference(text=text, share=weight))
    for name, feature in FEATURES.items():
        it, other = shoe.features.get(name), liked.features.get(name)
        if it is None or other is None:
            if it is not None or other is not None:
                total.add(FEATURE_WEIGHT, None)
            continue
        if it or other:
            total.add(FEATURE_WEIGHT, float(it != other))
        if it != other:
            what, then = (having(name), f"it {feature.does}") if it else (lacks(name, "want"), means(name, "want"))
            text = f"It {what}: {then}."
            differs.append(Difference(text=text, share=FEATURE_WEIGHT))
    differs.sort(key=lambda d: -d.share)
    return Like(
        shoe_id=shoe.id,
        like=round(1 - total.apart / total.known, 4) if total.known else 0.0,
        known=round(total.known / total.whole, 4) if total.whole else 0.0,
        differs=differs[:TOLD],
    )


def nearness(found: Like) -> float:
    """How near a shoe counts, 0…1: what isn't known of it counts half."""
    return found.like * found.known + 0.5 * (1 - found.known)
