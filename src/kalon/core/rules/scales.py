"""The scales properties are drawn on, the values choices have, and how much each counts. All house defaults."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Any, Literal, cast

from ..shoes.anatomy import Part
from ..sports.every import EVERY

ShoePart = Literal["sole", "heel", "middle", "toe", "last", "upper", "closure", "collar", "inside"]
PARTS: dict[ShoePart, tuple[str, tuple[Part, ...]]] = {
    "sole": ("Sole", ("sole",)), "heel": ("Heel", ("heel",)), "middle": ("Middle", ("shank",)),
    "toe": ("Toe", ("toe",)), "last": ("Shape", ("last",)), "upper": ("Upper", ("upper", "medial", "lateral")),
    "closure": ("Closure", ("lacing", "tongue")), "collar": ("Collar", ("collar",)), "inside": ("Inside", ("inside",)),
}  # fmt: skip
"""The parts a wanted shoe is drawn with, in the order they are said: their names, and where features of them sit."""


@dataclass(frozen=True)
class Scale:
    """A property's drawn scale: name, unit, ends, how far outside a band the match falls to nothing, the grain bands
    are rounded to, and the part of the shoe it is said of."""

    name: str
    unit: str
    low: float
    high: float
    falloff: float
    grain: float
    part: ShoePart


PROPERTIES: dict[str, Scale] = {
    "drop_mm": Scale("Drop, heel over toe", "mm", 0, 25, 6, 0.5, "heel"),
    "heel_stack_mm": Scale("Heel stack", "mm", 0, 45, 12, 0.5, "heel"),
    "bend_n_mm_per_deg": Scale("Stiffness in bending", "N·mm/°", 0, 800, 200, 5, "sole"),
    "twist_n_mm_per_deg": Scale("Stiffness in twist", "N·mm/°", 0, 600, 200, 5, "middle"),
    "downturn_deg": Scale("Downturn", "°", 0, 32, 10, 0.5, "last"),
    "asymmetry_deg": Scale("Asymmetry", "°", 0, 24, 10, 0.5, "last"),
    "cushion": Scale("Cushion", "of 10", 0, 10, 4, 0.1, "heel"),
    "heel_flare": Scale("Heel flare", "×", 0.95, 1.3, 0.08, 0.01, "heel"),
    "heel_round_mm": Scale("Heel rounding", "mm", 0, 20, 8, 0.5, "heel"),
    "heel_counter": Scale("Heel cup firmness", "of 10", 0, 10, 5, 0.1, "heel"),
    "collar_mm": Scale("Collar height", "mm", 30, 160, 40, 1, "collar"),
    "mass_g": Scale("Mass of one shoe", "g", 120, 700, 150, 5, "upper"),
    "toe_rubber": Scale("Rubber over the toe", "share", 0, 1, 0.5, 0.05, "toe"),
    "heel_rubber": Scale("Rubber at the heel", "share", 0, 1, 0.5, 0.05, "heel"),
    "rubber_shore_a": Scale("Hardness of the rubber", "Shore A", 50, 95, 12, 1, "sole"),
    "sole_mm": Scale("Thickness of the rubber", "mm", 1, 8, 2, 0.1, "sole"),
    "arch_support": Scale("Support under the arch", "of 10", 0, 10, 5, 0.1, "inside"),
    "toe_box_mm": Scale("Toe box, wider than the ball", "mm", -40, 10, 14, 0.5, "toe"),
    "last_curve_deg": Scale("Curve of the last", "°", 0, 22, 8, 0.5, "last"),
    "tread_mm": Scale("Depth of the tread", "mm", 0, 8, 3, 0.1, "sole"),
}
"""Ends, falloffs and grains are house defaults."""

CHOICES: dict[str, tuple[str, ...]] = {
    "plate": ("soft_ground", "firm_ground_round", "firm_ground_blade", "hard_ground", "artificial_grass", "turf",
              "indoor"),
    "sole": ("gum_court", "flat_dense", "lug", "grip_flat", "spikes_full", "spikes_half", "rubber_spikes",
             "pimpled"),
    "cleat": ("none", "two_bolt", "three_bolt", "both"),
    "midsole": ("none", "split", "full"),
    "closure": ("slipper", "strap_1", "strap_2", "strap_3", "laces", "laces_strap", "dial", "ratchet", "laceless"),
    "upper": ("leather_unlined", "leather_lined", "leather_thin", "suede", "microfibre", "synthetic", "knit",
              "mesh"),
}  # fmt: skip
CHOICE_PART: dict[str, ShoePart] = {
    "plate": "sole",
    "sole": "sole",
    "cleat": "sole",
    "midsole": "middle",
    "closure": "closure",
    "upper": "upper",
}
"""The part of the shoe each choice is said of."""
SLIPPER = "slipper"
"""The closure of a slip-on."""
LEATHERS = frozenset({"leather_unlined", "leather_lined", "leather_thin", "suede"})
ROOMS = ("toe_room_mm", "toe_room_leather_mm", "toe_room_unlined_mm", "toe_room_slipper_mm", "ball_room_mm",
         "instep_room_mm", "heel_room_mm")  # fmt: skip
ROOM_SCALE_MM = (-16.0, 18.0)
"""The scale rooms are drawn on. House default."""
CHOICE_WEIGHT = {"plate": 2.0, "sole": 1.5, "closure": 0.9, "midsole": 0.7, "upper": 0.6, "cleat": 2.0}
"""How much each choice counts among the bands. House default."""

_OF_SPORT: dict[tuple[str, str], Scale] = {
    (sport, name): replace(PROPERTIES[name], **cast(dict[str, Any], differs))
    for sport, facts in EVERY.items()
    for name, differs in facts.scales.items()
}
"""Where a sport's shoes go beyond what is usual."""


def scale(name: str, sport: str) -> Scale:
    """A property's scale in a sport. Raises `KeyError` for a property nobody knows."""
    return _OF_SPORT.get((sport, name)) or PROPERTIES[name]
