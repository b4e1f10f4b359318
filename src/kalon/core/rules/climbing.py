"""Climbing: fit first, then closure, shape and sole. Downturn follows the terrain, never the grade."""

from __future__ import annotations

from dataclasses import dataclass

from ..mechanics.edge import EdgeIn, edge, smear_limit, stiffness_class
from .engine import Band, Case, Caution, Effect, Limit, Move, Rank, Rule


@dataclass(frozen=True)
class Terrain:
    """What a discipline asks of a shoe. Bands and shares are house defaults; the directions are trade practice."""

    downturn: tuple[float, float]
    asymmetry: tuple[float, float]
    toe_room: tuple[float, float]
    edges: float
    """Share of small edges; the rest smears and pulls on steep holds."""
    edge_mm: float
    stance_min: float
    toe_rubber: tuple[float, float]
    text: str


PERFORMANCE = (-8.0, -5.0)
ALL_ROUND = (-6.0, -2.0)
ALL_DAY = (-3.0, 0.0)

TERRAIN: dict[str, Terrain] = {
    "first_shoe": Terrain((0, 3), (0, 6), ALL_DAY, 0.3, 20, 1, (0.1, 0.5),
                          "First pair: flat, toes flat, neither tight nor dear. Footwork beats footwear."),
    "indoor_general": Terrain((0, 8), (3, 10), ALL_ROUND, 0.3, 18, 0.5, (0.2, 0.7),
                              "Indoor, a bit of all: slight downturn at most."),
    "indoor_boulder": Terrain((10, 22), (8, 18), PERFORMANCE, 0.1, 20, 0.2, (0.6, 1.0),
                              "Volumes and hooks: a hooked toe, soft, rubber over the toes."),
    "outdoor_boulder": Terrain((8, 20), (8, 18), PERFORMANCE, 0.4, 10, 0.3, (0.4, 0.9),
                               "Outdoor problems: downturn for steep starts, still able to edge."),
    "steep_sport": Terrain((15, 28), (10, 20), PERFORMANCE, 0.5, 8, 0.5, (0.4, 0.9),
                           "Overhangs want the hooked toe that pulls in."),
    "technical_edging": Terrain((0, 8), (6, 14), PERFORMANCE, 0.9, 8, 2, (0.1, 0.5),
                                "Hard walls are climbed flat: a stiff edge, no hook."),
    "gritstone": Terrain((2, 10), (4, 12), ALL_ROUND, 0.1, 20, 0.5, (0.3, 0.8),
                         "Rounded friction rock: soft smears better; a heel that holds hooks."),
    "sandstone_slab": Terrain((0, 4), (2, 8), ALL_ROUND, 0.1, 15, 0.5, (0.1, 0.4),
                              "Slabs: flat and soft, contact on dimples."),
    "trad": Terrain((0, 6), (2, 8), ALL_DAY, 0.8, 12, 5, (0.1, 0.5),
                    "Standing to place protection: stiffness before nearly everything else."),
    "multi_pitch": Terrain((0, 5), (0, 7), (-2.0, 1.0), 0.7, 14, 4, (0.1, 0.5),
                           "All day on the feet: flat, toes flat, room for swelling."),
    "board": Terrain((15, 28), (10, 20), PERFORMANCE, 0.3, 10, 0.2, (0.5, 1.0),
                     "Board: steep and powerful, the hooked toe again."),
    "mileage": Terrain((0, 5), (0, 7), ALL_DAY, 0.3, 20, 0.5, (0.1, 0.5),
                       "Mileage: comfort, so that technique lasts."),
}  # fmt: skip
STEEP = ("indoor_boulder", "outdoor_boulder", "steep_sport", "board")
BOULDER = ("indoor_boulder", "outdoor_boulder", "board")
LONG = ("trad", "multi_pitch", "mileage")
CALM = ("first_shoe", *LONG)
HOOKS = ("indoor_boulder", "outdoor_boulder", "gritstone", "board")
STIFFNESS_SPAN = 0.2
SOFTEST, STIFFEST = 80.0, 650.0
"""N·mm/deg of the softest and stiffest soles there are. House default."""


def terrain(case: Case) -> Terrain:
    """The terrain of this brief."""
    return TERRAIN[case.brief.discipline]


def stiffness(case: Case) -> float:
    """Wanted bending stiffness, N·mm/deg: what edges ask and what smears allow, blended by the terrain."""
    ground, brief = terrain(case), case.brief
    asked = edge(
        EdgeIn(
            body_kg=brief.body_kg,
            foot_mm=case.foot_mm,
            edge_mm=brief.edge_mm or ground.edge_mm,
            stance_min=ground.stance_min if brief.stance_min is None else brief.stance_min,
            toe_strength=brief.toe_strength or ("weak" if brief.level == "new" else "average"),
        )
    ).sole_n_mm_per_deg
    blend = ground.edges * asked + (1 - ground.edges) * min(asked, smear_limit(brief.body_kg))
    return min(max(blend, SOFTEST), STIFFEST)


def _stiffness_band(case: Case) -> tuple[Effect, ...]:
    wanted = stiffness(case)
    weight = 0.6 + 1.2 * terrain(case).edges
    return (Band("bend_n_mm_per_deg", wanted * (1 - STIFFNESS_SPAN), wanted * (1 + STIFFNESS_SPAN), weight),)


def _stiffness_text(case: Case) -> str:
    wanted = stiffness(case)
    return (
        f"{case.brief.body_kg:g} kg on this terrain: about {wanted:.0f} N·mm per degree, {stiffness_class(wanted)}. "
        "Heavier, smaller edges or longer stands want it stiffer; smears and volumes softer."
    )


def _base(name: str) -> Rule:
    t = TERRAIN[name]
    weight = 1.4 if name in STEEP else 1.0
    return Rule(
        f"climbing.terrain.{name}",
        lambda c: c.brief.discipline == name,
        (
            Band("downturn_deg", *t.downturn, weight),
            Band("asymmetry_deg", *t.asymmetry, 0.6),
            Band("toe_rubber", *t.toe_rubber, 0.9 if name in HOOKS else 0.3),
            Band("toe_room_mm", *t.toe_room),
        ),
        t.text,
        "CP",
    )


RULES: tuple[Rule, ...] = (
    *(_base(name) for name in TERRAIN),
    Rule("climbing.stiffness", lambda c: True, _stiffness_band, _stiffness_text, "HD"),
    Rule("climbing.tight_school",
         lambda c: terrain(c).toe_room == PERFORMANCE and c.brief.school("climbing_fit") == "performance_tight",
         (Move("toe_room_mm", -4, -2),), "The tighter school: toes more bent, and never numb.", "CP", "climbing_fit"),
    Rule("climbing.never_numb", lambda c: c.has("numbness", "diabetes", "surgery"), (Limit("toe_room_mm", least=-3),),
         "Toes that go numb climb worse: no tighter than flat toes.", "CP"),
    Rule("climbing.midsole_full",
         lambda c: c.brief.discipline in CALM or c.brief.toe_strength == "weak" or c.brief.level == "new",
         (Rank("midsole", "full", 1.0), Rank("midsole", "split", 0.4)),
         "Feet not strong yet, or long on them: a full midsole carries.", "CP"),
    Rule("climbing.midsole_split", lambda c: c.brief.discipline in STEEP,
         (Rank("midsole", "split", 0.9), Rank("midsole", "none", 0.5), Rank("midsole", "full", 0.2)),
         "Steep ground: a split midsole lets the toes pull down.", "CP"),
    Rule("climbing.midsole_plain", lambda c: c.brief.discipline not in (*STEEP, *CALM),
         (Rank("midsole", "full", 0.6), Rank("midsole", "split", 0.5), Rank("midsole", "none", 0.2)),
         "Either midsole serves here.", "HD"),
    Rule("climbing.heel_rubber", lambda c: True, (Band("heel_rubber", 0.2, 0.9, 0.2),),
         "Rubber at the heel wears, and holds hooks.", "HD"),
    Rule("climbing.heel_hooks", lambda c: c.brief.discipline in HOOKS,
         (Limit("heel_rubber", least=0.55), Move("heel_rubber", 0.2, 0.1)),
         "Heel hooks: a thicker, stiffer cup; thin token heels slip off.", "CP"),
    Rule("climbing.closure_fast",
         lambda c: c.brief.discipline in BOULDER and c.brief.school("boulder_closure") == "fast",
         (Rank("closure", "strap_1", 1.0), Rank("closure", "slipper", 0.8), Rank("closure", "strap_2", 0.7),
          Rank("closure", "laces", 0.4)),
         "Bouldering takes shoes off between tries: fast on, fast off.", "CP", "boulder_closure"),
    Rule("climbing.closure_heel",
         lambda c: c.brief.discipline in BOULDER and c.brief.school("boulder_closure") == "laces",
         (Rank("closure", "laces", 1.0), Rank("closure", "strap_1", 0.7), Rank("closure", "strap_2", 0.6),
          Rank("closure", "slipper", 0.3)),
         "Laces hold the heel in hooks.", "CP", "boulder_closure"),
    Rule("climbing.closure_long", lambda c: c.brief.discipline in LONG,
         (Rank("closure", "laces", 1.0), Rank("closure", "strap_2", 0.6), Rank("closure", "strap_3", 0.6),
          Rank("closure", "strap_1", 0.3), Rank("closure", "slipper", 0.2)),
         "Long on the feet: laces adjust as the foot swells; a strap can work loose.", "CP"),
    Rule("climbing.closure_plain", lambda c: c.brief.discipline not in (*BOULDER, *LONG),
         (Rank("closure", "strap_2", 0.8), Rank("closure", "laces", 0.8), Rank("closure", "strap_1", 0.7),
          Rank("closure", "strap_3", 0.6), Rank("closure", "slipper", 0.4)),
         "Straps for speed, laces for exactness: either serves.", "CP"),
    Rule("climbing.odd_feet", lambda c: c.odd_feet, (Rank("closure", "laces", 0.5),),
         "The feet differ: laces.", "CP"),
    Rule("climbing.uppers", lambda c: True,
         (Rank("upper", "leather_unlined", 0.7), Rank("upper", "suede", 0.7), Rank("upper", "leather_lined", 0.7),
          Rank("upper", "microfibre", 0.75), Rank("upper", "synthetic", 0.7), Rank("upper", "knit", 0.5)),
         "Synthetic gives half a size at most; leather up to nearly a whole one, and breathes.", "CP"),
    Rule("climbing.upper_all_day", lambda c: c.brief.discipline in CALM,
         (Rank("upper", "leather_unlined", 0.2), Rank("upper", "leather_lined", 0.25), Rank("upper", "suede", 0.15)),
         "Long wear: leather breathes and moulds.", "CP"),
    Rule("climbing.upper_hold", lambda c: c.brief.discipline in STEEP,
         (Rank("upper", "microfibre", 0.3), Rank("upper", "synthetic", 0.25)),
         "A tight shape should stay: synthetic gives least.", "CP"),
    Rule("climbing.bunion", lambda c: c.bunion,
         (Rank("upper", "leather_unlined", 0.4), Rank("upper", "suede", 0.35), Move("asymmetry_deg", -3, -4)),
         "A bump at the big toe: an upper that gives, and less offset.", "HD"),
    Rule("climbing.room", lambda c: True,
         (Band("ball_room_mm", -12, 0), Band("instep_room_mm", -12, 2), Band("heel_room_mm", -5, 0.5)),
         "Snug, no dead space front or heel, no movement.", "HD"),
    Rule("climbing.swell", lambda c: c.brief.discipline == "multi_pitch", (Move("ball_room_mm", 2, 4),),
         "Feet swell on long routes.", "CP"),
    Rule("climbing.not_safety", lambda c: True, (Caution("spec"),),
         "Climbing is dangerous in any shoe; a shoe is not a safety system.", "CP"),
    Rule("climbing.tight_ack", lambda c: c.brief.school("climbing_fit") == "performance_tight"
         and terrain(c).toe_room == PERFORMANCE, (Caution("schools", True),),
         "Fitting tight: off between tries, and stop at the first numb toe.", "CP", "climbing_fit"),
)  # fmt: skip
