"""What a shoe has and lacks, and what that means, as one says it across the counter: clauses that follow "It …"."""

from __future__ import annotations

from ..rules.engine import Wish
from ..shoes.anatomy import FEATURES

WITHOUT: dict[str, tuple[str, str]] = {
    "toe_guard": ("has no guard at the toe", "the foot's drag wears it through"),
    "toe_patch": ("has no rubber over the toes", "toe hooks slip"),
    "medial_guard": ("has no guard on the inside", "the foot's drag wears the inner side"),
    "rope_guard": ("has no rope guard", "a rope saws at the middle"),
    "lateral_guard": ("has no guard on the outside", "the foot can go over the sole's edge in a cut"),
    "removable_insole": ("keeps its insole in", "no other one goes in"),
    "turning_spot": ("has no spot to turn on", "the foot sticks in a turn"),
    "low_tread": ("has a deeper tread", "it can catch in a sliding step"),
    "non_marking": ("may mark the floor", "a hall may turn it away"),
    "shank": ("has no shank", "the middle sinks under load"),
    "bridged_midsole": ("has no bridged middle", "it wrings more easily"),
    "caged_midsole": ("has no cage round its foam", "the foam spreads under load"),
    "split_outsole": ("has its outsole in one piece", "the middle bends less freely"),
    "gusset_tongue": ("lets the tongue slide", "it wanders, and dirt comes in"),
    "high_eyelet": ("has no eyelet high enough to lock the heel", "the heel may lift"),
    "heel_tab": ("has a low heel tab", "the heel can slip out"),
    "sock_collar": ("has no collar sock", "that is a matter of liking"),
    "central_lacing": ("laces off the middle", "its sides are drawn in unevenly"),
    "lace_cover": ("has no cover over the laces", "they catch and fill with mud"),
    "lace_tuck": ("has no tuck for the laces", "a loose end can reach the chain"),
    "fine_closure": ("doesn't close in fine steps", "it can't be set on the move"),
    "breathable": ("doesn't let heat out", "the foot gets hot and wet"),
    "membrane": ("has no membrane", "the wet comes in"),
    "drain_holes": ("has no drain holes", "water stays in"),
    "quick_entry": ("doesn't open wide", "it goes on slowly"),
    "reflective": ("doesn't reflect", "nobody sees it in the dark"),
    "light_colour": ("isn't light", "it gets warmer in the sun"),
    "dark_colour": ("isn't dark", "mud shows on it"),
    "edgeless_toe": ("has an edge at the toe", "it loses small dimples"),
    "tension_rand": ("has no tension rand", "it goes flat with wear"),
    "token_heel": ("has no thin heel", "it feels less there"),
    "thick_heel": ("has no thick heel", "it slips off heel hooks"),
    "wrap_heel": ("has no heel wrapped round", "sideways hooks slip"),
    "low_volume_version": ("comes in no low-volume version", "a slim foot stays loose in it"),
    "width_choice": ("comes in one width", "no other one is to be had where it presses or slides"),
    "replaceable_studs": ("has studs that stay in", "they aren't changed with the ground or as they wear"),
    "metal_studs": ("has no metal tips", "it bites soft ground less"),
    "spike_sockets": ("has no sockets for spikes", "none go in for mud or another wicket"),
    "tie_down": ("has no strap over the middle", "the foot can slide forward"),
    "heat_mould": ("can't be moulded", "it stays the shape it has"),
    "custom_made": ("isn't made to measure", "it is as its line is"),
}
"""By feature: what a shoe without it does, and what that means."""
HAVING = {
    "removable_insole": "has an insole that comes out", "low_tread": "has a low tread", "non_marking": "doesn't mark",
    "gusset_tongue": "keeps its tongue in place", "central_lacing": "laces over the middle",
    "fine_closure": "closes in fine steps", "breathable": "lets heat out", "reflective": "reflects",
    "light_colour": "is light", "dark_colour": "is dark", "low_volume_version": "comes in a low-volume version",
    "width_choice": "comes in more than one width", "heat_mould": "can be moulded here",
    "custom_made": "is made to measure", "quick_entry": "opens wide",
}  # fmt: skip
"""What a shoe with a feature does, where "has" and its name don't say it."""
OFF: dict[str, tuple[str, str]] = {
    "drop_mm": ("has less heel than wanted", "has more heel than wanted"),
    "heel_stack_mm": ("stands lower at the heel than wanted", "stands higher at the heel than wanted"),
    "bend_n_mm_per_deg": ("bends more easily than wanted", "is stiffer to bend than wanted"),
    "twist_n_mm_per_deg": ("wrings more easily than wanted", "twists less than wanted"),
    "downturn_deg": ("is flatter than wanted", "hooks more than wanted"),
    "asymmetry_deg": ("is straighter than wanted", "leans more to the big toe than wanted"),
    "cushion": ("cushions less than wanted", "is softer underfoot than wanted"),
    "heel_flare": ("has a narrower heel sole than wanted", "has a wider heel sole than wanted"),
    "heel_round_mm": ("has a squarer heel than wanted", "has a rounder heel than wanted"),
    "heel_counter": ("holds the heel less than wanted", "holds the heel harder than wanted"),
    "collar_mm": ("has a lower collar than wanted", "has a higher collar than wanted"),
    "mass_g": ("is lighter than wanted", "is heavier than wanted"),
    "toe_rubber": ("has less rubber over the toes than wanted", "has more rubber over the toes than wanted"),
    "heel_rubber": ("has less rubber at the heel than wanted", "has more rubber at the heel than wanted"),
    "rubber_shore_a": ("has softer rubber than wanted", "has harder rubber than wanted"),
    "sole_mm": ("has thinner rubber than wanted", "has thicker rubber than wanted"),
    "arch_support": ("carries the arch less than wanted", "presses more under the arch than wanted"),
    "toe_box_mm": ("is narrower over the toes than wanted", "is wider over the toes than wanted"),
    "last_curve_deg": ("has a straighter last than wanted", "has a more curved last than wanted"),
    "tread_mm": ("has a shallower tread than wanted", "has a deeper tread than wanted"),
}
"""By property: what a shoe below the wanted band does, and one above it."""


def having(name: str) -> str:
    """What a shoe with a feature does: "has a guard at the toe"."""
    return HAVING.get(name) or f"has {FEATURES[name].said}"


def lacks(name: str, wish: Wish) -> str:
    """What a shoe does without a feature that is wanted, or with one it had better not have."""
    return f"{having(name)}, better left out here" if wish == "avoid" else WITHOUT[name][0]


def means(name: str, wish: Wish) -> str:
    """What that means."""
    return f"it {FEATURES[name].does}" if wish == "avoid" else WITHOUT[name][1]


def off(name: str, value: float, low: float) -> str:
    """What a shoe outside the wanted band of a property does."""
    below, above = OFF[name]
    return below if value < low else above
