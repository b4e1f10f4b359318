"""What a shoe has or hasn't: features, each yes, no or unknown, and how properties are read at the bench.

What a feature does is common practice, no source, unless a line says otherwise.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

Part = Literal["toe", "medial", "lateral", "sole", "shank", "heel", "collar", "tongue", "lacing", "upper", "inside",
               "last"]  # fmt: skip
"""Where a feature sits, and where a drawing shows it."""
Features = dict[str, bool]
"""What is known of a shoe's features; what isn't in it is unknown."""


@dataclass(frozen=True)
class Feature:
    """One feature: its name, how it is said of a whole shoe, what it does, how one sees it, where it sits."""

    name: str
    said: str
    does: str
    seen: str
    part: Part


FEATURES: dict[str, Feature] = {
    "toe_guard": Feature("Toe guard", "a guard at the toe", "takes the drag of the foot",
                         "a cap of rubber or layers over the toe, hard under the thumb", "toe"),
    "toe_patch": Feature("Patch over the toes", "rubber over the toes", "holds in toe hooks",
                         "rubber on top of the toes, back to the knuckles", "toe"),
    "medial_guard": Feature("Guard inside", "a guard on the inside", "takes the drag of the inner side",
                            "a tougher panel from the big toe back along the inner side", "medial"),
    "rope_guard": Feature("Rope guard", "a rope guard inside", "keeps a rope from sawing the middle",
                          "rubber that climbs up the inner side of the middle", "medial"),
    "lateral_guard": Feature("Guard outside", "a guard on the outside", "keeps the foot over the sole in a cut",
                             "the sole wraps up the outer side at the little toe", "lateral"),
    "removable_insole": Feature("Insole that comes out", "an insole that comes out",
                                "lets an orthosis or another insole in", "lift it at the heel: not glued", "inside"),
    "turning_spot": Feature("Turning spot", "a spot to turn on", "lets the foot turn under the ball",
                            "a smooth round under the ball of the foot", "sole"),
    "low_tread": Feature("Low tread", "a low tread", "slides into a step and doesn't catch",
                         "the pattern is no deeper than a coin", "sole"),
    "non_marking": Feature("Sole that doesn't mark", "a sole that doesn't mark", "keeps to the hall's rules",
                           "rub it on white paper", "sole"),
    "shank": Feature("Shank", "a shank under the middle", "keeps the middle from sinking under load",
                     "bend it: the middle stays, the ball folds", "shank"),
    "bridged_midsole": Feature("Bridged middle", "a bridged middle", "resists wringing",
                               "the middle is hollowed, with a bar across", "shank"),
    "caged_midsole": Feature("Caged midsole", "a caged midsole", "keeps foam from spreading under load",
                             "a firm frame round the foam at the sides", "sole"),
    "split_outsole": Feature("Split outsole", "a split outsole", "bends free at the middle",
                             "heel and ball have soles of their own", "sole"),
    "gusset_tongue": Feature("Tongue that stays put", "a tongue that stays put", "keeps the tongue and dirt in place",
                             "the tongue is sewn to both sides", "tongue"),
    "high_eyelet": Feature("High eyelet", "eyelets high enough to lock the heel", "locks the heel",
                           "one eyelet more, close to the collar", "lacing"),
    "heel_tab": Feature("High heel tab", "a high heel tab", "keeps the heel from slipping out",
                        "the back stands above the ankle's dip", "heel"),
    "sock_collar": Feature("Collar sock", "a collar sock", "is a feeling of hold; the evidence is thin",
                           "a knit round the ankle", "collar"),
    "central_lacing": Feature("Central lacing", "central lacing", "pulls both sides in alike",
                              "the laces run over the middle of the foot", "lacing"),
    "lace_cover": Feature("Lace cover", "a cover over the laces", "keeps laces from catching and from mud",
                          "a flap over the laces", "lacing"),
    "lace_tuck": Feature("Tuck for the laces", "a tuck for the laces", "keeps ends out of the chain",
                         "a loop or pocket for the lace ends", "lacing"),
    "fine_closure": Feature("Fine closure", "a closure in fine steps", "is set by a millimetre, and on the move",
                            "it clicks; about 1 mm of cable a click", "lacing"),
    "breathable": Feature("Breathes", "an upper that breathes", "lets heat and sweat out",
                          "hold it to the light, or blow through it", "upper"),
    "membrane": Feature("Membrane", "a membrane", "keeps the wet out, and the sweat in a little",
                        "a label, or drops of water that stay outside", "upper"),
    "drain_holes": Feature("Drain holes", "drain holes", "lets water run out",
                           "small holes in sole or insole, seen from below", "sole"),
    "quick_entry": Feature("Quick entry", "a wide quick opening", "goes on while rolling",
                           "one pull opens it wide; a loop at the heel", "collar"),
    "reflective": Feature("Reflects", "something that reflects", "is seen in a lamp's light",
                          "a light beside the eye makes it shine", "heel"),
    "light_colour": Feature("Light upper", "a light upper", "stays cooler and wipes clean", "white or pale", "upper"),
    "dark_colour": Feature("Dark upper", "a dark upper", "doesn't show mud", "black or dark", "upper"),
    "edgeless_toe": Feature("Edgeless toe", "an edgeless toe", "keeps contact on small dimples",
                            "the rubber rounds under the toe without an edge", "toe"),
    "tension_rand": Feature("Tension rand", "a rand that keeps the hook", "draws the ball in and keeps the hook",
                            "press the toe flat: it springs back", "last"),
    "token_heel": Feature("Token heel", "a thin token heel", "is light and feels much, and slips off hooks",
                          "thin soft rubber, the cup folds under the thumb", "heel"),
    "thick_heel": Feature("Thick heel", "a thick heel", "holds hooks", "thick rubber, a cup that stands", "heel"),
    "wrap_heel": Feature("Wrap-round heel", "a heel wrapped round", "takes sideways hooks",
                         "the rubber runs round both sides of the heel", "heel"),
    "low_volume_version": Feature("Low-volume version", "the low-volume version", "fits a slim foot and a low instep",
                                  "the line has a slimmer one; often softer too", "last"),
    "width_choice": Feature("Choice of widths", "a choice of widths", "is sold in more than one width",
                            "a letter or a word for width on the box", "last"),
    "replaceable_studs": Feature("Studs that screw out", "studs that screw out", "are changed with ground and wear",
                                 "a flat on each stud for the key", "sole"),
    "metal_studs": Feature("Metal studs", "metal studs", "bite soft ground; some venues bar them",
                           "tips of metal", "sole"),
    "spike_sockets": Feature("Sockets for spikes", "sockets for spikes", "take spikes for mud or wickets",
                             "threaded holes at the toe", "sole"),
    "tie_down": Feature("Strap over the middle", "a strap over the middle", "stops the foot sliding forward",
                        "a strap across the instep, beside the laces", "lacing"),
    "heat_mould": Feature("Can be moulded", "one that can be moulded here",
                          "is moulded to the foot with the maker's own equipment, never in a home oven",
                          "the maker's sheet says so", "upper"),
    "custom_made": Feature("Made to measure", "one made to measure", "is the last resort when no family fits",
                           "made from casts or a scan", "last"),
}  # fmt: skip

READ: dict[str, str] = {
    "drop_mm": "heel stack less forefoot stack, with a ruler, insole in",
    "heel_stack_mm": "a ruler from the floor to where the heel sits",
    "bend_n_mm_per_deg": "fold it at the ball with both hands",
    "twist_n_mm_per_deg": "wring heel against ball",
    "downturn_deg": "lay it on its sole: how far the toe points down",
    "asymmetry_deg": "look at the sole: how far the point lies towards the big toe",
    "cushion": "press the heel foam with a thumb",
    "heel_flare": "width of the heel sole over that of the upper, with a calliper",
    "heel_round_mm": "look from the side: how far back the heel's edge starts to round",
    "heel_counter": "press the heel cup together with finger and thumb",
    "collar_mm": "a ruler from the insole to the top of the collar",
    "mass_g": "scales, one shoe",
    "toe_rubber": "how much of the toe's top is rubber",
    "heel_rubber": "how much of the heel is rubber, and whether the cup stands",
    "rubber_shore_a": "a hardness gauge, or a thumbnail: does it leave a mark",
    "sole_mm": "a ruler at the edge of the rubber",
    "arch_support": "press the insole under the arch; look from inside how high it rises",
    "toe_box_mm": "width inside at the toes less width at the ball",
    "last_curve_deg": "look at the sole: how far the forefoot turns in from the heel's line",
    "tread_mm": "a coin's edge in the pattern",
}
"""How each property is read at the bench; common practice."""
