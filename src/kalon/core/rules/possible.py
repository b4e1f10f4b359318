"""What a shoe can have at all: a feature goes with a closure, a sole or a plate, and not with its own opposite."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from .engine import SpecChoice, SpecFeature

LACED = frozenset({"laces", "laces_strap"})
STRAPPED = frozenset({"strap_1", "strap_2", "strap_3", "laces_strap"})
SPIKED = frozenset({"spikes_full", "spikes_half"})
CARRIED: dict[str, tuple[tuple[str, frozenset[str]], ...]] = {
    "high_eyelet": (("closure", LACED),),
    "central_lacing": (("closure", LACED),),
    "lace_cover": (("closure", LACED),),
    "lace_tuck": (("closure", LACED),),
    "gusset_tongue": (("closure", LACED | STRAPPED | {"dial", "ratchet"}),),
    "fine_closure": (("closure", frozenset({"dial", "ratchet"})),),
    "tie_down": (("closure", STRAPPED),),
    "quick_entry": (("closure", STRAPPED),),
    "replaceable_studs": (("plate", frozenset({"soft_ground", "firm_ground_round"})), ("sole", SPIKED)),
    "metal_studs": (("plate", frozenset({"soft_ground", "firm_ground_round", "firm_ground_blade"})), ("sole", SPIKED)),
    "spike_sockets": (("sole", SPIKED | {"rubber_spikes", "lug"}),),
}
"""By feature: the values of a choice it is found with; any shoe may have what isn't here. Common practice, no
source."""
OPPOSITES = (("light_colour", "dark_colour"), ("token_heel", "thick_heel"))
"""What no shoe has both of."""


def carried(feature: str, choices: Mapping[str, Sequence[SpecChoice]]) -> bool:
    """Whether what leads these choices can have a feature."""
    carriers = CARRIED.get(feature, ())
    known = [(ranked, values) for name, values in carriers if (ranked := choices.get(name))]
    leading = [any(c.value in values for c in ranked if c.score == ranked[0].score) for ranked, values in known]
    return not carriers or (bool(leading) and all(leading))


def possible(
    features: Mapping[str, SpecFeature], choices: Mapping[str, Sequence[SpecChoice]]
) -> dict[str, SpecFeature]:
    """What is wanted of a shoe, without what its leading closure, sole or plate can't have, and of opposites the one
    that counts for more. What no shoe may lack stays, and so does what is better done without."""
    found = {n: f for n, f in features.items() if f.wish != "want" or carried(n, choices)}
    for one, other in OPPOSITES:
        if one in found and other in found and found[one].wish == found[other].wish == "want":
            less = min((one, other), key=lambda n: found[n].weight)
            if found[one].weight == found[other].weight:
                del found[one if less == other else other]
            del found[less]
    return found
