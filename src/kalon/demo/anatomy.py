"""What the invented models have and haven't: features and the newer properties, some of them known to nobody."""

from __future__ import annotations

from random import Random

UNKNOWN = 0.1
"""Share of features nobody in the shop has looked at."""

Odds = dict[str, float]

OF_SPORT: dict[str, Odds] = {
    "football": {"removable_insole": 0.6, "central_lacing": 0.4, "gusset_tongue": 0.4, "breathable": 0.4,
                 "light_colour": 0.4, "dark_colour": 0.3, "heel_tab": 0.4, "width_choice": 0.25},
    "climbing": {"breathable": 0.4, "low_volume_version": 0.35, "edgeless_toe": 0.1},
    "lifting": {"removable_insole": 0.7, "high_eyelet": 0.6, "heel_tab": 0.5, "gusset_tongue": 0.5, "shank": 0.6,
                "breathable": 0.4, "width_choice": 0.2},
    "cycling": {"removable_insole": 0.9, "breathable": 0.5, "reflective": 0.4, "light_colour": 0.4,
                "dark_colour": 0.5, "heel_tab": 0.4, "lace_tuck": 0.3, "width_choice": 0.3, "shank": 0.7},
    "court": {"removable_insole": 0.8, "non_marking": 0.85, "high_eyelet": 0.5, "heel_tab": 0.5, "breathable": 0.5,
              "bridged_midsole": 0.6, "gusset_tongue": 0.4, "split_outsole": 0.2, "turning_spot": 0.2,
              "lateral_guard": 0.3, "toe_guard": 0.4, "width_choice": 0.25},
    "field": {"removable_insole": 0.8, "toe_guard": 0.5, "breathable": 0.4, "high_eyelet": 0.5, "shank": 0.4},
    "ice": {"removable_insole": 0.8, "heat_mould": 0.8, "width_choice": 0.6, "low_volume_version": 0.4,
            "custom_made": 0.05},
}  # fmt: skip
OF_CHOICE: dict[str, Odds] = {
    "soft_ground": {"replaceable_studs": 0.9, "metal_studs": 0.8}, "firm_ground_round": {"metal_studs": 0.0},
    "firm_ground_blade": {"metal_studs": 0.0}, "artificial_grass": {"metal_studs": 0.0}, "turf": {"metal_studs": 0.0},
    "hard_ground": {"metal_studs": 0.0}, "indoor": {"metal_studs": 0.0, "non_marking": 0.9},
    "laceless": {"sock_collar": 0.9, "central_lacing": 0.0}, "laces_strap": {"tie_down": 1.0},
    "strap_2": {"tie_down": 0.6}, "dial": {"fine_closure": 1.0}, "laces": {"fine_closure": 0.0},
    "strap_1": {"quick_entry": 0.7, "fine_closure": 0.0}, "spikes_full": {"spike_sockets": 0.8,
                                                                         "replaceable_studs": 0.8},
    "spikes_half": {"spike_sockets": 0.7, "replaceable_studs": 0.7}, "rubber_spikes": {"spike_sockets": 0.0},
    "lug": {"spike_sockets": 0.3, "toe_guard": 0.6, "drain_holes": 0.2}, "mesh": {"breathable": 0.95},
    "knit": {"breathable": 0.9, "sock_collar": 0.5}, "leather_lined": {"breathable": 0.3},
}  # fmt: skip
OF_FAMILY: dict[str, Odds] = {
    "Roof": {"toe_patch": 0.85, "tension_rand": 0.8, "thick_heel": 0.7, "wrap_heel": 0.5, "token_heel": 0.15},
    "Plain": {"toe_patch": 0.05, "tension_rand": 0.1, "thick_heel": 0.2, "token_heel": 0.5},
    "Crimp": {"toe_patch": 0.2, "tension_rand": 0.4, "thick_heel": 0.4, "token_heel": 0.3, "edgeless_toe": 0.0},
    "Dimple": {"toe_patch": 0.3, "tension_rand": 0.2, "thick_heel": 0.5, "wrap_heel": 0.6, "edgeless_toe": 0.7,
               "token_heel": 0.3},
    "Mixer": {"toe_guard": 0.7, "rope_guard": 0.75, "caged_midsole": 0.6, "shank": 0.7, "split_outsole": 0.3},
    "Plinth": {"shank": 0.95, "split_outsole": 0.0}, "Slate": {"split_outsole": 0.3, "shank": 0.4},
    "Piste": {"medial_guard": 0.7, "toe_guard": 0.5, "low_tread": 0.7, "turning_spot": 0.5},
    "Shuttle": {"medial_guard": 0.2, "low_tread": 0.5}, "Spike Jump": {"lateral_guard": 0.7, "low_tread": 0.3},
    "Cadence": {"quick_entry": 0.3, "drain_holes": 0.3, "membrane": 0.1}, "Ridgeline": {"membrane": 0.3,
                                                                                       "lace_cover": 0.4},
    "Market Street": {"membrane": 0.5, "reflective": 0.7, "lace_cover": 0.3},
}  # fmt: skip
"""By the first name of a family of models."""

PROPERTIES: dict[str, dict[str, tuple[float, float]]] = {
    "football": {"toe_box_mm": (-24, -8), "last_curve_deg": (3, 13), "arch_support": (2, 6)},
    "climbing": {"rubber_shore_a": (62, 86), "sole_mm": (3.0, 5.4), "toe_box_mm": (-36, -10)},
    "lifting": {"toe_box_mm": (-15, 2), "last_curve_deg": (0, 9), "tread_mm": (0.2, 3.0), "arch_support": (1, 7)},
    "cycling": {"toe_box_mm": (-22, -6), "tread_mm": (0.5, 6.5), "arch_support": (2, 7.5)},
    "court": {
        "toe_box_mm": (-20, -5),
        "last_curve_deg": (2, 12),
        "tread_mm": (0.5, 2.8),
        "arch_support": (2, 7.5),
        "sole_mm": (2.6, 6.2),
    },
    "field": {"toe_box_mm": (-20, -6), "bend_n_mm_per_deg": (110, 330), "arch_support": (2, 7)},
    "ice": {"toe_box_mm": (-22, -8), "arch_support": (2, 7)},
}


def anatomy_of(
    name: str, family: str, sport: str, choices: list[str], hooked: bool
) -> tuple[dict[str, bool], dict[str, float]]:
    """Features and further properties of a model, the same for the same name. A hooked shoe's rubber is softer."""
    own = Random(f"{sport} {name}")  # noqa: S311
    odds: Odds = dict(OF_SPORT[sport])
    for choice in choices:
        odds |= OF_CHOICE.get(choice, {})
    odds |= OF_FAMILY.get(family, {})
    features = {slug: own.random() < odd for slug, odd in sorted(odds.items()) if own.random() >= UNKNOWN}
    properties = {}
    for slug, (low, high) in PROPERTIES[sport].items():
        end = low + (high - low) * 0.6 if slug == "rubber_shore_a" and hooked else high
        properties[slug] = round(own.uniform(low, end), 1)
    return features, properties
