"""Shoes of another sport that may serve: where no need is hurt, enough is known, and the size promises something.

A hall's sole is called a plate in football and a sole elsewhere; the words are taken over. What such a shoe gives up
stands with it, weightiest first.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from typing import cast, get_args

from ..fit.foot import FootToFit
from ..mechanics.studs import Surface
from ..rules.engine import Spec
from ..rules.words import SPORTS, Sport
from ..shoes.meant import PURPOSES, never
from ..sports.every import facts_of
from .rank import Ranked, rank
from .shelf import Shelf, Shoe

SAME_SOLE: dict[str, str] = {"indoor": "gum_court", "turf": "pimpled"}
"""Football's word for a plate, and what other sports call the same sole. House default."""
ENOUGH_KNOWN = 0.6
"""How much of the spec has to be known of a shoe of another sport. House default."""
LEAST_MET = 0.7
"""How well what is known of it has to meet the spec. House default."""
LEAST_SOLE = 0.5
"""How good its sole has to be for the ground, of 1: a shoe with another ground's sole serves nobody. House default."""
SERVES = ("should_fit", "worth_trying")


def as_for(shoe: Shoe, sport: str) -> Shoe:
    """The shoe with its sole called as this sport calls it; what it is meant for is said of its own sport alone, but
    for what it is never for."""
    choices = dict(shoe.choices)
    if sport == "football" and "plate" not in choices:
        plate = next((p for p, sole in SAME_SOLE.items() if sole == choices.get("sole")), None)
        if plate:
            choices["plate"] = plate
    if sport != "football" and "sole" not in choices and choices.get("plate") in SAME_SOLE:
        choices["sole"] = SAME_SOLE[choices["plate"]]
    return replace(shoe, choices=choices, meant_for=shoe.meant_for if sport == shoe.sport else never_in(shoe, sport))


def never_in(shoe: Shoe, sport: str) -> tuple[str, ...]:
    """Of what a shoe is meant for, what rules it out somewhere in another sport: a running shoe is never a hall one."""
    asked = {d.value for d in SPORTS[cast(Sport, sport)].disciplines}
    asked |= set(get_args(Surface)) if sport == "football" else set()
    return tuple(m for m in shoe.meant_for if m in PURPOSES and any(never(PURPOSES[m], a) for a in asked))


def substitutes(
    shoes: Sequence[Shoe], shelf: Shelf, spec: Spec, foot: FootToFit, power: float, most: int = 6
) -> list[Ranked]:
    """Of shoes of other sports, those that may serve this spec and these feet, best first; none that is ruled out,
    that would have to be looked at before it is known not to be, or of which too little is known."""
    kind = facts_of(spec.sport).sole_kind
    good = {c.value for c in spec.choices.get(kind, []) if c.score >= LEAST_SOLE}
    given = [as_for(s, spec.sport) for s in shoes]
    serves = {s.id for s in given if s.choices.get(kind) in good}
    found = rank(given, shelf, spec, foot, power)
    return [
        p
        for p in found.places
        if p.shoe_id in serves
        and not p.asks
        and p.known >= ENOUGH_KNOWN
        and (p.spec or 0.0) >= LEAST_MET
        and p.hope in SERVES
    ][:most]
