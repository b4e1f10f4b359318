"""The invented makers and models of the scenario. Measures are made up, by sport and construction."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from random import Random
from typing import Any

from ..core.fit.foot import FIT_ZONES
from ..core.rules.words import Sport
from ..core.shoes.inner import READ_SIGMA_MM, SHARES, ShoeReading, Source
from .anatomy import anatomy_of

MAKERS = {
    "Orvane": -2.0, "Pellandine": 0.0, "Harrowick": 1.5, "Quenby Last": -1.0,
    "Velmire": 2.0, "Tarnholt": 0.5, "Sundrey": -3.0, "Skerrowe": 0.0,
}  # fmt: skip
"""Each runs long or short by so many mm."""

KNOWN: dict[str, Source] = {"Tarnholt": "measured", "Quenby Last": "measured", "Velmire": "sheet"}
"""Whose shoes were read inside, and how; of the others there is only the box."""

WIDTH_MM = {"narrow": -9.0, "regular": 0.0, "wide": 9.0}


@dataclass(frozen=True)
class Kind:
    """A family of models: names, and the ranges its members are drawn from."""

    sport: Sport
    names: tuple[str, ...]
    build: str
    uppers: tuple[str, ...]
    choices: dict[str, tuple[str, ...]]
    properties: dict[str, tuple[float, float]]
    price: tuple[int, int]
    full_run: bool = True
    meant: str = ""
    """What every maker says of it."""


KINDS = (
    Kind("football", ("Skiff", "Tern", "Tern Wide", "Gannet"), "plate", ("synthetic", "leather_thin", "knit"),
         {"plate": ("firm_ground_round", "firm_ground_blade"), "closure": ("laces", "laces", "laceless")},
         {"mass_g": (165, 245), "bend_n_mm_per_deg": (150, 330), "heel_counter": (4, 9), "cushion": (1, 3),
          "twist_n_mm_per_deg": (140, 380),
          "collar_mm": (45, 85)},
         (70, 190)),
    Kind("football", ("Marl", "Clay", "Peat"), "plate", ("leather_unlined", "synthetic"),
         {"plate": ("soft_ground",), "closure": ("laces",)},
         {"mass_g": (210, 300), "bend_n_mm_per_deg": (180, 360), "heel_counter": (5, 9), "cushion": (1, 3),
          "twist_n_mm_per_deg": (140, 380),
          "collar_mm": (45, 85)},
         (90, 200)),
    Kind("football", ("Fibre", "Fibre Low", "Pitchside", "Granule"), "plate",
         ("synthetic", "knit", "leather_lined", "microfibre"),
         {"plate": ("artificial_grass",), "closure": ("laces", "laces", "laceless")},
         {"mass_g": (170, 260), "bend_n_mm_per_deg": (140, 300), "heel_counter": (4, 9), "cushion": (1.5, 4),
          "twist_n_mm_per_deg": (140, 380),
          "collar_mm": (45, 85)},
         (60, 170)),
    Kind("football", ("Nubbin", "Cage", "Hardpan", "Dustbowl"), "plate", ("synthetic", "leather_lined", "microfibre"),
         {"plate": ("turf", "turf", "hard_ground"), "closure": ("laces",)},
         {"mass_g": (220, 320), "bend_n_mm_per_deg": (110, 260), "heel_counter": (4, 8), "cushion": (3, 6),
          "twist_n_mm_per_deg": (140, 380),
          "collar_mm": (45, 85)},
         (45, 110)),
    Kind("football", ("Parquet", "Gymnas"), "plate", ("leather_lined", "synthetic"),
         {"plate": ("indoor",), "closure": ("laces",)},
         {"mass_g": (230, 320), "bend_n_mm_per_deg": (90, 220), "heel_counter": (4, 8), "cushion": (3, 6),
          "twist_n_mm_per_deg": (140, 380),
          "collar_mm": (45, 85)},
         (45, 100)),
    Kind("climbing", ("Plain", "Ledge", "Belay", "Pavement"), "slip", ("leather_lined", "leather_unlined", "suede"),
         {"midsole": ("full",), "closure": ("laces", "strap_2", "laces")},
         {"downturn_deg": (0, 5), "asymmetry_deg": (1, 7), "bend_n_mm_per_deg": (200, 420),
          "toe_rubber": (0.1, 0.4), "heel_rubber": (0.3, 0.6), "heel_counter": (3, 9)}, (60, 130)),
    Kind("climbing", ("Crimp", "Sill", "Matchbox"), "slip", ("microfibre", "leather_lined", "suede"),
         {"midsole": ("full", "split"), "closure": ("laces", "strap_2")},
         {"downturn_deg": (2, 9), "asymmetry_deg": (6, 14), "bend_n_mm_per_deg": (260, 460),
          "toe_rubber": (0.2, 0.5), "heel_rubber": (0.4, 0.7), "heel_counter": (3, 9)}, (100, 170)),
    Kind("climbing", ("Roof", "Hook", "Swell", "Bulge", "Cellar"), "slip", ("microfibre", "synthetic", "knit"),
         {"midsole": ("split", "none"), "closure": ("strap_1", "slipper", "strap_1", "laces")},
         {"downturn_deg": (12, 26), "asymmetry_deg": (10, 19), "bend_n_mm_per_deg": (80, 220),
          "toe_rubber": (0.55, 1.0), "heel_rubber": (0.55, 0.95), "heel_counter": (3, 9)}, (110, 180)),
    Kind("climbing", ("Dimple", "Slabstone"), "slip", ("leather_unlined", "suede"),
         {"midsole": ("none", "split"), "closure": ("slipper", "laces")},
         {"downturn_deg": (0, 4), "asymmetry_deg": (2, 8), "bend_n_mm_per_deg": (60, 140),
          "toe_rubber": (0.2, 0.5), "heel_rubber": (0.4, 0.8), "heel_counter": (3, 9)}, (80, 140)),
    Kind("lifting", ("Plinth", "Plinth High", "Anvil", "Stack"), "board", ("leather_lined", "synthetic"),
         {"sole": ("flat_dense",), "closure": ("laces_strap", "strap_2", "dial")},
         {"drop_mm": (14, 23), "heel_stack_mm": (24, 36), "bend_n_mm_per_deg": (430, 780), "cushion": (0, 1.5),
          "heel_counter": (6, 10), "mass_g": (380, 520),
          "twist_n_mm_per_deg": (170, 500), "collar_mm": (55, 95)}, (90, 200)),
    Kind("lifting", ("Slate", "Floorboard", "Still"), "board", ("synthetic", "leather_lined", "knit"),
         {"sole": ("flat_dense",), "closure": ("laces", "strap_1", "slipper")},
         {"drop_mm": (0, 3), "heel_stack_mm": (4, 14), "bend_n_mm_per_deg": (110, 430), "cushion": (0, 2),
          "heel_counter": (3, 8), "mass_g": (180, 330),
          "twist_n_mm_per_deg": (170, 500), "collar_mm": (55, 95)}, (50, 110)),
    Kind("lifting", ("Mixer", "Rope", "Bench End"), "board", ("mesh", "knit", "synthetic"),
         {"sole": ("grip_flat", "flat_dense"), "closure": ("laces",)},
         {"drop_mm": (3, 8), "heel_stack_mm": (16, 26), "bend_n_mm_per_deg": (90, 240), "cushion": (2, 6.5),
          "heel_counter": (4, 8), "mass_g": (250, 360),
          "twist_n_mm_per_deg": (170, 500), "collar_mm": (55, 95)}, (70, 140)),
    Kind("cycling", ("Cadence", "Cadence Two", "Long Tempo", "Breakaway"), "board", ("microfibre", "synthetic", "knit"),
         {"cleat": ("three_bolt",), "closure": ("dial", "strap_2", "laces", "dial"), "sole": ("flat_dense",)},
         {"bend_n_mm_per_deg": (1400, 5600), "mass_g": (210, 310), "collar_mm": (45, 70), "heel_counter": (6, 9)},
         (80, 240)),
    Kind("cycling", ("Ridgeline", "Towpath", "Gritter", "Rut"), "board", ("microfibre", "synthetic", "mesh"),
         {"cleat": ("two_bolt", "two_bolt", "both"), "closure": ("dial", "laces", "strap_3"), "sole": ("lug",)},
         {"bend_n_mm_per_deg": (600, 3600), "mass_g": (280, 400), "collar_mm": (50, 80), "heel_counter": (5, 9)},
         (60, 200)),
    Kind("cycling", ("Market Street", "Deck", "Sleet Boot"), "board", ("synthetic", "leather_lined", "microfibre"),
         {"cleat": ("none", "none", "two_bolt"), "closure": ("laces", "laces", "dial"),
          "sole": ("grip_flat", "grip_flat", "lug")},
         {"bend_n_mm_per_deg": (150, 900), "mass_g": (300, 480), "collar_mm": (55, 130), "heel_counter": (4, 7)},
         (45, 160), False),
    Kind("court", ("Shuttle", "Shuttle Wide", "Rally", "Quarter Turn", "Tempo"), "board",
         ("synthetic", "microfibre", "mesh", "leather_lined"),
         {"sole": ("gum_court",), "closure": ("laces",)},
         {"heel_flare": (1.0, 1.14), "heel_round_mm": (4, 12), "cushion": (2, 5), "heel_counter": (5, 9),
          "twist_n_mm_per_deg": (200, 420), "mass_g": (230, 330), "heel_stack_mm": (13, 24), "drop_mm": (3, 9),
          "bend_n_mm_per_deg": (100, 270), "collar_mm": (55, 80)}, (55, 150)),
    Kind("court", ("Spike Jump", "Low Post", "High Post"), "board", ("synthetic", "mesh", "microfibre"),
         {"sole": ("gum_court",), "closure": ("laces", "laces", "laces_strap")},
         {"heel_flare": (1.0, 1.16), "heel_round_mm": (2, 7), "cushion": (4, 7.5), "heel_counter": (5, 9),
          "twist_n_mm_per_deg": (180, 420), "mass_g": (270, 410), "heel_stack_mm": (18, 30), "drop_mm": (4, 9),
          "bend_n_mm_per_deg": (110, 280), "collar_mm": (60, 120)}, (60, 150)),
    Kind("court", ("Piste", "Piste Round", "Barre"), "board", ("microfibre", "leather_lined", "synthetic"),
         {"sole": ("gum_court", "gum_court", "grip_flat"), "closure": ("laces",)},
         {"heel_flare": (1.0, 1.1), "heel_round_mm": (8, 16), "cushion": (1, 4), "heel_counter": (7, 10),
          "twist_n_mm_per_deg": (180, 380), "mass_g": (220, 300), "heel_stack_mm": (7, 18), "drop_mm": (0, 6),
          "bend_n_mm_per_deg": (90, 250), "collar_mm": (45, 75), "toe_rubber": (0.2, 0.6)}, (60, 160), False),
    Kind("field", ("Crease", "Long Run", "Boundary", "Slip Cordon"), "plate", ("synthetic", "leather_lined"),
         {"sole": ("spikes_full", "spikes_half", "spikes_half", "spikes_full"),
          "closure": ("laces", "laces", "laces", "laces_strap")},
         {"collar_mm": (60, 135), "cushion": (2, 7), "heel_counter": (5, 10), "mass_g": (290, 420),
          "twist_n_mm_per_deg": (180, 420), "toe_rubber": (0.2, 0.8)}, (50, 150)),
    Kind("field", ("Matting", "Nets"), "plate", ("synthetic", "mesh"),
         {"sole": ("rubber_spikes", "pimpled"), "closure": ("laces",)},
         {"collar_mm": (55, 95), "cushion": (2, 6), "heel_counter": (5, 8), "mass_g": (280, 390),
          "twist_n_mm_per_deg": (170, 380), "toe_rubber": (0.1, 0.5)}, (40, 100), False),
    Kind("ice", ("Floe", "Floe Wide", "Hummock", "Pack"), "board", ("synthetic", "leather_lined", "microfibre"),
         {"closure": ("laces",)},
         {"bend_n_mm_per_deg": (350, 790), "heel_counter": (7, 10), "mass_g": (540, 700), "cushion": (1, 4),
          "twist_n_mm_per_deg": (320, 590), "collar_mm": (110, 145)}, (120, 420)),
    Kind("court", ("Goal Circle", "Centre Pass"), "board", ("synthetic", "microfibre"),
         {"sole": ("gum_court",), "closure": ("laces",)},
         {"heel_flare": (1.0, 1.12), "heel_round_mm": (1, 8), "cushion": (4.2, 7), "heel_counter": (6, 9),
          "twist_n_mm_per_deg": (210, 420), "mass_g": (270, 370), "heel_stack_mm": (17, 27), "drop_mm": (3, 7),
          "bend_n_mm_per_deg": (100, 270), "collar_mm": (55, 85)}, (70, 140), meant="netball"),
    Kind("court", ("Feint", "Jump Throw"), "board", ("mesh", "synthetic"),
         {"sole": ("gum_court",), "closure": ("laces",)},
         {"heel_flare": (1.0, 1.12), "heel_round_mm": (1, 8), "cushion": (4.2, 7), "heel_counter": (6, 9),
          "twist_n_mm_per_deg": (200, 410), "mass_g": (270, 360), "heel_stack_mm": (15, 25), "drop_mm": (3, 7),
          "bend_n_mm_per_deg": (100, 270), "collar_mm": (55, 85)}, (60, 130), meant="handball"),
    Kind("court", ("Back Glass", "Wire Mesh"), "board", ("synthetic", "microfibre"),
         {"sole": ("grip_flat",), "closure": ("laces",)},
         {"heel_flare": (1.0, 1.12), "heel_round_mm": (5, 11), "cushion": (3.8, 6.2), "heel_counter": (6, 9),
          "twist_n_mm_per_deg": (220, 430), "mass_g": (300, 380), "heel_stack_mm": (17, 27), "drop_mm": (3, 7),
          "bend_n_mm_per_deg": (100, 270), "collar_mm": (55, 85)}, (70, 150), meant="padel"),
    Kind("field", ("Scrum", "Ruck"), "plate", ("leather_lined", "synthetic"),
         {"plate": ("soft_ground",), "closure": ("laces",)},
         {"collar_mm": (75, 120), "cushion": (2, 5), "heel_counter": (6, 9), "mass_g": (290, 420),
          "twist_n_mm_per_deg": (200, 400), "toe_rubber": (0.2, 0.6)}, (60, 150), meant="rugby"),
    Kind("field", ("Touchline", "Wide Out"), "plate", ("synthetic", "leather_lined"),
         {"plate": ("firm_ground_round",), "closure": ("laces",)},
         {"collar_mm": (48, 80), "cushion": (2, 5), "heel_counter": (5, 9), "mass_g": (200, 300),
          "twist_n_mm_per_deg": (180, 380), "toe_rubber": (0.1, 0.5)}, (60, 150), meant="rugby"),
    Kind("field", ("Long Corner", "Dribble"), "plate", ("synthetic", "mesh"),
         {"sole": ("pimpled", "rubber_spikes"), "closure": ("laces",)},
         {"collar_mm": (52, 92), "cushion": (2.5, 5.5), "heel_counter": (5, 9), "mass_g": (265, 380),
          "twist_n_mm_per_deg": (180, 390), "toe_rubber": (0.2, 0.6)}, (55, 130), meant="field_hockey"),
    Kind("field", ("Dugout", "Third Bag"), "plate", ("synthetic", "leather_lined"),
         {"sole": ("spikes_full", "rubber_spikes"), "closure": ("laces",)},
         {"collar_mm": (55, 105), "cushion": (2, 5), "heel_counter": (5, 9), "mass_g": (285, 410),
          "twist_n_mm_per_deg": (180, 390), "toe_rubber": (0.1, 0.6)}, (55, 130), False, "bases"),
    Kind("field", ("Ring", "Runway"), "plate", ("synthetic", "leather_lined"),
         {"sole": ("flat_dense", "spikes_full"), "closure": ("laces_strap", "laces")},
         {"drop_mm": (0, 3), "collar_mm": (50, 130), "cushion": (2, 4), "heel_counter": (5, 9), "mass_g": (260, 400),
          "heel_round_mm": (8, 15), "twist_n_mm_per_deg": (180, 390), "toe_rubber": (0.1, 0.6)}, (70, 140), False,
         "throws"),
    Kind("lifting", ("Milepost", "Kerb", "Long Mile"), "board", ("mesh", "knit", "synthetic"),
         {"sole": ("grip_flat",), "closure": ("laces",)},
         {"drop_mm": (6, 11), "heel_stack_mm": (22, 37), "bend_n_mm_per_deg": (90, 230), "cushion": (5, 8.3),
          "heel_counter": (4, 8), "mass_g": (190, 310), "twist_n_mm_per_deg": (120, 290), "collar_mm": (55, 88)},
         (70, 150), meant="running"),
    Kind("ice", ("Waltz", "Figure Eight"), "board", ("leather_lined", "synthetic"),
         {"closure": ("laces",)},
         {"drop_mm": (14, 22), "bend_n_mm_per_deg": (410, 720), "heel_counter": (7, 10), "mass_g": (530, 690),
          "cushion": (1, 4), "twist_n_mm_per_deg": (320, 580), "collar_mm": (112, 145)}, (120, 380),
         meant="figure_skating"),
)  # fmt: skip


LASTS = {
    "climbing": "hook", "football": "swift", "lifting": "block", "cycling": "crank", "court": "pivot",
    "field": "crease", "ice": "edge",
}  # fmt: skip
"""What makers call their lasts, by sport: one under several plates."""


def models(random: Random) -> Iterator[dict[str, Any]]:
    """Every model with its stock lines, drawn from the seed."""
    makers = list(MAKERS)
    turn = 0
    for kind in KINDS:
        for index, name in enumerate(kind.names):
            maker = makers[turn % len(makers)]
            turn += 1
            upper = kind.uppers[index % len(kind.uppers)]
            choices = {k: v[index % len(v)] for k, v in kind.choices.items()}
            hooked = kind.properties.get("downturn_deg", (0, 0))[0] >= 10
            features, further = anatomy_of(name, kind.names[0], kind.sport, [*choices.values(), upper], hooked)
            widths = ["wide"] if "Wide" in name else ["regular"]
            if turn % 4 == 0:
                widths.append(random.choice(["narrow", "wide"]) if widths == ["regular"] else "regular")
            yield {
                "maker": maker,
                "name": name,
                "sport": kind.sport,
                "upper": upper,
                "build": kind.build,
                "reinforced": random.choice([0.0, 0.0, 0.2, 0.4]),
                "choices": choices,
                "features": features,
                "properties": {k: round(random.uniform(*v), 2 if v[1] <= 1.3 else 0) for k, v in
                               kind.properties.items()} | further,
                "price_minor": random.randrange(*kind.price) * 100,
                "meant_for": [kind.meant] if kind.meant else _said(maker, kind.sport, choices),
                "last": f"{maker.split()[0]} {LASTS[kind.sport]}",
                "lines": [line for w in widths for line in _lines(random, kind, maker, w)],
            }  # fmt: skip


SAID_OF_PLATE = {
    "firm_ground_round": "firm_ground", "firm_ground_blade": "firm_ground", "soft_ground": "soft_ground",
    "artificial_grass": "artificial_ground", "turf": "carpet_turf", "indoor": "hall_football",
}  # fmt: skip
SAID_OF_SPORT = {"field": "cricket", "ice": "ice_hockey"}


def _said(maker: str, sport: str, choices: dict[str, str]) -> list[str]:
    """What a maker's sheet says a model is meant for; of makers without a sheet nobody says it."""
    said = SAID_OF_PLATE.get(choices.get("plate", "")) or SAID_OF_SPORT.get(sport)
    return [said] if said and KNOWN.get(maker) == "sheet" else []


def _lines(random: Random, kind: Kind, maker: str, width: str) -> Iterator[dict[str, Any]]:
    ball, instep, heel = SHARES[kind.sport]
    character = random.gauss(0, 2.0)
    for half in range(2 * 34, 2 * 47 + 1):
        label = half / 2
        if random.random() < (0.22 if kind.full_run else 0.6):
            continue
        length = label * 20 / 3 + MAKERS[maker] + random.gauss(0, 0.5)
        yield {
            "width": width,
            "eu_label": label,
            "length_mm": round(length, 1),
            "ball_girth_mm": round(length * ball + character + WIDTH_MM[width], 1),
            "instep_girth_mm": round(length * instep + character + WIDTH_MM[width], 1),
            "heel_width_mm": round(length * heel + WIDTH_MM[width] * 0.12 + random.gauss(0, 0.6), 1),
            "on_hand": random.choice([0, 1, 1, 2, 2, 3]),
        }


def readings_of(random: Random, maker: str, line: dict[str, Any]) -> list[ShoeReading]:
    """What somebody read of the inside of a size: as it truly is, give or take the way of reading."""
    source = KNOWN.get(maker)
    if not source:
        return []
    return [
        ShoeReading(zone=zone, mm=round(line[f"{zone}_mm"] + random.gauss(0, sigma), 1), source=source)
        for zone, sigma in zip(FIT_ZONES, READ_SIGMA_MM[source], strict=True)
        if sigma
    ]
