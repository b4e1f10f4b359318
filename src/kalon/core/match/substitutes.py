"""Shoes of another sport that may serve: where no need is hurt, enough is known, and the size promises something.

A hall's sole is called a plate in football and a sole elsewhere; the words are taken over. What such a shoe gives up
stands with it, weightiest first.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from ..fit.foot import FootToFit
from ..rules.engine import Spec
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
    """The shoe with its sole called as this sport calls it; what it is meant for is said of its own sport alone."""
    choices = dict(shoe.choices)
    if sport == "football" and "plate" not in choices:
        plate = next((p for p, sole in SAME_SOLE.items() if sole == choices.get("sole")), None)
        if plate:
            choices["plate"] = plate
    if sport != "football" and "sole" not in choices and choices.get("plate") in SAME_SOLE:
        choices["sole"] = SAME_SOLE[choices["plate"]]
    return replace(shoe, choices=choices, meant_for=() if sport != shoe.sport else shoe.meant_for)


def substitutes(
    shoes: Sequence[Shoe], shelf: Shelf, spec: Spec, foot: FootToFit, power: float, most: int = 6
) -> list[Ranked]:
    """Of shoes of other sports, those that may serve this spec and these feet, best first; none that is ruled out,
    that would have to be looked at before it is known not to be, or of which too little is known."""
    kind = "plate" if spec.sport == "football" else "sole"
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
