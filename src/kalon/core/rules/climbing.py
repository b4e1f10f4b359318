"""Climbing: fit first, then closure, shape and sole. Downturn follows the terrain, never the grade."""

from __future__ import annotations

from dataclasses import dataclass

from ..mechanics.edge import EdgeIn, smear_limit, sole_wanted, stiffness_class
from .engine import Avoid, Band, Case, Caution, Effect, Limit, Move, Rank, Rule, Want, Weigh
from .scales import LEATHERS


@dataclass(frozen=True)
class Terrain:
    """What a discipline asks of a shoe. Bands and shares are house defaults; the directions are trade practice."""

    downturn: tuple[float, float]
    asymmetry: tuple[float, float]
    toe_room: str
    """Which of the house's rooms."""
    edges: float
    """Share of small edges; the rest smears and pulls on steep holds."""
    edge_mm: float
    stance_min: float
    toe_rubber: tuple[float, float]
    text: str


def _toes(low: float, high: float) -> tuple[Move, ...]:
    """Every room at the toe moved alike."""
    return (Move("toe_room_mm", low, high), Move("toe_room_slipper_mm", low, high))


PERFORMANCE = "climbing_performance"
ALL_ROUND = "climbing_all_round"
ALL_DAY = "climbing_first_and_all_day"

TERRAIN: dict[str, Terrain] = {
    "first_shoe": Terrain((0, 3), (0, 6), ALL_DAY, 0.3, 20, 1, (0.1, 0.5),
                          "First pair: flat, toes flat, neither tight nor dear. Footwork beats footwear."),
    "indoor_general": Terrain((0, 8), (3, 10), ALL_ROUND, 0.3, 18, 0.5, (0.2, 0.7),
                              "Indoor, a bit of all: slight downturn at most."),
    "indoor_boulder": Terrain((6, 15), (8, 18), PERFORMANCE, 0.1, 20, 0.2, (0.6, 1.0),
                              "Volumes and hooks: a moderate downturn that still smears, soft, rubber over the toes."),
    "outdoor_boulder": Terrain((8, 20), (8, 18), PERFORMANCE, 0.4, 10, 0.3, (0.4, 0.9),
                               "Outdoor problems: downturn for steep starts, still able to edge."),
    "steep_sport": Terrain((15, 28), (10, 20), PERFORMANCE, 0.5, 8, 0.5, (0.4, 0.9),
                           "Overhangs want the hooked toe that pulls in."),
    "technical_edging": Terrain((0, 8), (6, 14), PERFORMANCE, 0.9, 8, 2, (0.1, 0.5),
                                "Hard walls are climbed flat: a stiff edge, no hook."),
    "gritstone": Terrain((2, 10), (4, 12), ALL_ROUND, 0.1, 20, 0.5, (0.1, 0.5),
                         "Rounded friction rock: soft smears better; a heel that holds hooks."),
    "sandstone_slab": Terrain((0, 4), (2, 8), ALL_ROUND, 0.1, 15, 0.5, (0.1, 0.4),
                              "Slabs: flat and soft, contact on dimples."),
    "trad": Terrain((0, 6), (2, 8), ALL_DAY, 0.8, 12, 5, (0.1, 0.5),
                    "Standing to place protection: stiffness before nearly everything else."),
    "multi_pitch": Terrain((0, 5), (0, 7), "climbing_long_routes", 0.7, 14, 4, (0.1, 0.5),
                           "All day on the feet: flat, toes flat, room for swelling."),
    "board": Terrain((15, 28), (10, 20), PERFORMANCE, 0.3, 10, 0.2, (0.5, 1.0),
                     "Board: steep and powerful, the hooked toe again."),
    "crack": Terrain((0, 3), (0, 5), ALL_DAY, 0.5, 12, 3, (0.3, 0.8),
                     "Cracks: flat, toes uncurled to go in and turn; a rand that protects the top of them."),
    "speed": Terrain((0, 8), (4, 12), ALL_ROUND, 0.1, 20, 0.1, (0.2, 0.6),
                     "Speed: light, soft and quick; big holds, a few seconds."),
    "mileage": Terrain((0, 5), (0, 7), ALL_DAY, 0.3, 20, 0.5, (0.1, 0.5),
                       "Mileage: comfort, so that technique lasts."),
}  # fmt: skip
STEEP = ("indoor_boulder", "outdoor_boulder", "steep_sport", "board")
BOULDER = ("indoor_boulder", "outdoor_boulder", "board")
LONG = ("trad", "multi_pitch", "mileage")
CALM = ("first_shoe", *LONG)
LONG_EFFORT = ("multi_pitch", "mileage")
"""Where feet swell for hours. House default."""
HOOKS = ("indoor_boulder", "outdoor_boulder", "gritstone", "board")
TOE_HOOKS = BOULDER
"""Where toes hook as well as heels."""
ALL_DAY_CLOSED = ("trad", "multi_pitch")
"""Where a shoe stays on for hours."""
SMEARED = ("indoor_boulder", "gritstone", "sandstone_slab")
"""Where one smears on volumes, rounded rock and slabs."""
HARDLY_EDGED = 0.2
"""Share of small edges up to which a smeared ground is hardly edged. House default."""
TINY_EDGE_MM, SOME_EDGES, STEEP_STIFFER = 8.0, 0.3, 1.4
"""Edges up to this are tiny; from this share on they count on steep ground, and there the sole carries so much more
than standing asks, for bent toes pull and press little. House defaults."""
STIFFER = {"crack": 1.3}
"""Where a shoe is twisted as well as stood on. House default; the direction from memory."""
HEAVY_KG = 85.0
"""From here a climber counts as heavy. House default."""
SOFTEST, STIFFEST = 80.0, 650.0
"""N·mm/deg of the softest and stiffest soles there are. House default."""


def terrain(case: Case) -> Terrain:
    """The terrain of this brief."""
    return TERRAIN[case.brief.discipline]


def edge_share(case: Case) -> float:
    """How much of it stands on small edges, 0…1: as said, else as usual there."""
    said = case.brief.small_edges_pct
    return terrain(case).edges if said is None else said / 100


def stance(case: Case) -> EdgeIn:
    """This climber on the smallest edge for the longest stand; what isn't said is as usual on this terrain."""
    ground, brief, house = terrain(case), case.brief, case.house
    strength = brief.toe_strength or ("weak" if brief.level == "new" else "average")
    return EdgeIn(
        body_kg=brief.body_kg,
        foot_mm=case.foot_mm,
        edge_mm=brief.edge_mm or ground.edge_mm,
        stance_min=ground.stance_min if brief.stance_min is None else brief.stance_min,
        toe_strength=strength,
        one_foot_share=house["climbing.one_foot_share"],
        sag_deg=house["climbing.sag_deg"],
        toe_n_m_per_kg=house[f"toes.{strength}"],
    )


def smears(case: Case) -> bool:
    """Whether this ground is smeared on, and hardly edged."""
    return case.does(*SMEARED) and edge_share(case) <= HARDLY_EDGED


def tiny_edges(case: Case) -> bool:
    """Whether steep ground is climbed on edges this small, and often enough to count."""
    on = stance(case)
    return case.does("steep_sport") and on.edge_mm <= TINY_EDGE_MM and edge_share(case) >= SOME_EDGES


def stiffness(case: Case) -> float:
    """Wanted bending stiffness, N·mm/deg: what edges ask and what smears allow, blended by share of small edges.

    Steep ground on tiny edges isn't smeared on: what edges ask counts alone. Where one smears and hardly edges, no
    part of the band is stiffer than still smears."""
    asked, share = sole_wanted(stance(case)), edge_share(case)
    limit = smear_limit(case.brief.body_kg, case.house["climbing.smear_limit"])
    blend = share * asked + (1 - share) * min(asked, limit)
    if tiny_edges(case):
        blend = max(asked * STEEP_STIFFER, blend)
    blend *= STIFFER.get(case.brief.discipline, 1.0)
    softest = min(max(SOFTEST * case.brief.body_kg / 70, 55.0), 125.0)
    wanted = min(max(blend, softest), STIFFEST)
    return min(wanted, limit / (1 + case.house["climbing.stiffness_span"])) if smears(case) else wanted


def toes_spared(case: Case) -> bool:
    """Whether toes don't feel, are hurt or still grow: not bent, whatever the terrain and the school."""
    return case.tender or case.growing


def room_wanted(case: Case) -> str:
    """Which of the house's rooms: that of the terrain; tender toes have the flat one of all day."""
    own = terrain(case).toe_room
    return ALL_DAY if case.tender and own in (PERFORMANCE, ALL_ROUND) else own


def _tight(case: Case) -> bool:
    return terrain(case).toe_room == PERFORMANCE and case.school("climbing_fit") == "performance_tight"


def _stiffness_band(case: Case) -> tuple[Effect, ...]:
    wanted, span = stiffness(case), case.house["climbing.stiffness_span"]
    weight = 0.5 + 0.6 * edge_share(case)
    return (Band("bend_n_mm_per_deg", wanted * (1 - span), wanted * (1 + span), weight),)


def _stiffness_text(case: Case) -> str:
    wanted, on = stiffness(case), stance(case)
    word = stiffness_class(wanted)
    return (
        f"{word[0].upper()}{word[1:]}: {100 * edge_share(case):.0f} % small edges, the rest smears and steep holds. "
        f"{case.brief.body_kg:g} kg on a {on.edge_mm:g} mm edge for {on.stance_min:g} min alone asks for "
        f"{sole_wanted(on):.0f} N·mm per degree; all together about {wanted:.0f}."
    )


def _leather_room(case: Case) -> tuple[Effect, ...]:
    """Leather sized closer when new by what the school lets it give."""
    low, high = case.house.room(room_wanted(case))
    closer = 6.0 if case.school("leather_give") == "full_size" else 2.0
    return (Band("toe_room_leather_mm", low - closer, high - closer),)


SLIPPER_CLOSER_MM = 1.5
"""How much closer a slip-on is taken. House default."""


def _slipper_room(case: Case) -> tuple[Effect, ...]:
    low, high = case.house.room(room_wanted(case))
    return (Band("toe_room_slipper_mm", low - SLIPPER_CLOSER_MM, high - SLIPPER_CLOSER_MM),)


def _base(name: str) -> Rule:
    t = TERRAIN[name]
    weight = 1.4 if name in STEEP else 1.2
    return Rule(
        f"climbing.terrain.{name}",
        lambda c: c.brief.discipline == name,
        (
            Band("downturn_deg", *t.downturn, weight),
            Band("asymmetry_deg", *t.asymmetry, 0.6),
            Band("toe_rubber", *t.toe_rubber, 0.9 if name in TOE_HOOKS else 0.3),
        ),
        t.text,
        "CP",
    )


TOE_TEXTS = {
    ALL_DAY: "Toes flat, neither tight nor loose: one keeps it on.",
    ALL_ROUND: "Snug, toes slightly bent; never down from the tightest pair that goes on.",
    PERFORMANCE: "Close, toes bent: bearable for ten to fifteen minutes, and never numb.",
    "climbing_long_routes": "Toes flat, with a little to spare for swelling.",
}


SOFT_RUBBER = ("indoor_boulder", "board", "gritstone", "sandstone_slab")
EDGE_RUBBER = ("steep_sport", "technical_edging", "trad", "multi_pitch", "crack")
LASTING_RUBBER = ("first_shoe", "mileage")
RUBBER: dict[str, tuple[tuple[float, float], tuple[float, float], str]] = {
    "soft": ((60, 73), (3.0, 4.2), "Volumes, slopes and rounded rock: soft thin rubber sticks and feels; it wears."),
    "edges": ((72, 84), (3.8, 5.0), "Small edges: harder rubber doesn't roll off them."),
    "lasting": ((76, 90), (4.2, 5.6), "Many hours: hard thick rubber lasts and slips a little."),
    "between": ((66, 78), (3.4, 4.6), "A bit of all: middling rubber."),
}
"""Hardness and thickness of the rubber, house defaults; the directions are trade practice."""
LIGHT_KG = 55.0
"""Up to here a climber counts as light. House default."""


def rubber_kind(case: Case) -> str:
    """Which rubber the terrain wants."""
    kinds = {"soft": SOFT_RUBBER, "edges": EDGE_RUBBER, "lasting": LASTING_RUBBER}
    return next((kind for kind, where in kinds.items() if case.does(*where)), "between")


def _rubber(case: Case) -> tuple[Effect, ...]:
    hardness, thickness, _ = RUBBER[rubber_kind(case)]
    return (Band("rubber_shore_a", *hardness, 0.5), Band("sole_mm", *thickness, 0.3))


def _toe_box(case: Case) -> tuple[Effect, ...]:
    boxes = {PERFORMANCE: (-36.0, -20.0), ALL_ROUND: (-30.0, -14.0)}
    return (Band("toe_box_mm", *boxes.get(terrain(case).toe_room, (-24.0, -8.0)), 0.3),)


RULES: tuple[Rule, ...] = (
    *(_base(name) for name in TERRAIN),
    Rule("climbing.toe_room", lambda c: True, lambda c: (Band("toe_room_mm", *c.house.room(room_wanted(c))),),
         lambda c: TOE_TEXTS[room_wanted(c)], "HD"),
    Rule("climbing.leather_room", lambda c: c.school("leather_give") != "by_construction" and not c.tender,
         _leather_room,
         lambda c: "This shop lets leather give a full size: sized closer when new."
         if c.school("leather_give") == "full_size" else "This shop lets leather give a quarter size.",
         "CP", "leather_give"),
    Rule("climbing.stiffness", lambda c: True, _stiffness_band, _stiffness_text, "HD"),
    Rule("climbing.tight_school", lambda c: _tight(c) and not toes_spared(c), _toes(-4, -2),
         "This shop prefers it tighter: toes more bent, and never numb.", "CP",
         "climbing_fit"),
    Rule("climbing.tight_refused", lambda c: _tight(c) and toes_spared(c), (Caution("schools", True),),
         "Not fitted tight, though this shop prefers it: these toes don't feel, are hurt or still grow.", "CP",
         "climbing_fit"),
    Rule("climbing.unfelt", lambda c: c.unfelt,
         (Limit("toe_room_mm", most=3), Limit("toe_room_leather_mm", most=3), Limit("downturn_deg", most=4),
          Limit("asymmetry_deg", most=8)),
         "Toes that don't feel lie flat and straight, with nothing in front of them: hardly any hook.", "MEM"),
    Rule("climbing.never_numb", lambda c: c.tender and not c.unfelt,
         (Limit("toe_room_mm", least=-3, most=1), Limit("toe_room_leather_mm", least=-3, most=1),
          Limit("downturn_deg", most=8), Limit("asymmetry_deg", most=10)),
         "Toes that are hurt or go numb climb worse: flat toes, no slack, little hook and little offset.", "CP"),
    Rule("climbing.midsole_full",
         lambda c: c.brief.discipline in CALM or c.brief.toe_strength == "weak" or c.brief.level == "new"
         or c.brief.body_kg >= HEAVY_KG,
         (Rank("midsole", "full", 1.4), Rank("midsole", "split", 0.2)),
         "Feet not strong yet, a heavy body, or long on them: a full midsole carries.", "CP"),
    Rule("climbing.midsole_split", lambda c: c.brief.discipline in STEEP,
         (Rank("midsole", "split", 0.9), Rank("midsole", "none", 0.5), Rank("midsole", "full", 0.2)),
         "Steep ground: a split midsole lets the toes pull down.", "CP"),
    Rule("climbing.midsole_plain", lambda c: c.brief.discipline not in (*STEEP, *CALM),
         (Rank("midsole", "full", 0.6), Rank("midsole", "split", 0.5), Rank("midsole", "none", 0.2)),
         "Either midsole serves here.", "HD"),
    Rule("climbing.heel_rubber", lambda c: True, (Band("heel_rubber", 0.2, 0.9, 0.2),),
         "Rubber at the heel wears, and holds hooks.", "HD"),
    Rule("climbing.heel_hooks", lambda c: c.brief.discipline in HOOKS,
         (Limit("heel_rubber", least=0.55), Move("heel_rubber", 0.2, 0.1), Want("thick_heel", 0.5),
          Avoid("token_heel", 0.8)),
         "Heel hooks: a thicker, stiffer cup; thin token heels slip off.", "CP"),
    Rule("climbing.closure_fast",
         lambda c: c.brief.discipline in BOULDER and c.school("boulder_closure") == "fast",
         (Rank("closure", "strap_1", 1.0), Rank("closure", "slipper", 0.8), Rank("closure", "strap_2", 0.7),
          Rank("closure", "laces", 0.4)),
         "Bouldering takes shoes off between tries: fast on, fast off.", "CP", "boulder_closure"),
    Rule("climbing.closure_heel",
         lambda c: c.does(*BOULDER, "gritstone") and c.school("boulder_closure") == "laces",
         (Rank("closure", "laces", 1.0), Rank("closure", "strap_1", 0.7), Rank("closure", "strap_2", 0.6),
          Rank("closure", "slipper", 0.3)),
         "Laces hold the heel in hooks.", "CP", "boulder_closure"),
    Rule("climbing.slipper_hooks", lambda c: c.does(*HOOKS), (Rank("closure", "slipper", -0.35),),
         "A slip-on may pop off in a heel hook.", "CP"),
    Rule("climbing.slipper_closer", lambda c: not toes_spared(c), _slipper_room,
         f"A slip-on loosens most with wear: it is taken {SLIPPER_CLOSER_MM:g} mm closer than the same shoe with a "
         "strap or laces.", "CP"),
    Rule("climbing.closure_counts", lambda c: True, (Weigh("closure", 0.8),),
         "What decides, in this order: fit, closure, shape, sole.", "CP"),
    Rule("climbing.closure_mileage", lambda c: c.does("mileage"),
         (Rank("closure", "slipper", 0.9), Rank("closure", "strap_1", 0.9), Rank("closure", "strap_2", 0.75),
          Rank("closure", "laces", 0.7), Rank("closure", "strap_3", 0.5)),
         "Mileage: quick on, quick off, comfortable; a slip-on or one strap.", "CP"),
    Rule("climbing.closure_long", lambda c: c.does(*ALL_DAY_CLOSED),
         (Rank("closure", "laces", 1.0), Rank("closure", "strap_2", 0.6), Rank("closure", "strap_3", 0.6),
          Rank("closure", "strap_1", 0.3), Rank("closure", "slipper", 0.2)),
         "Long on the feet: laces adjust as the foot swells; a strap can work loose.", "CP"),
    Rule("climbing.closure_plain", lambda c: not c.does(*BOULDER, *LONG)
         and not (c.does("gritstone") and c.school("boulder_closure") == "laces"),
         (Rank("closure", "strap_2", 0.8), Rank("closure", "laces", 0.8), Rank("closure", "strap_1", 0.7),
          Rank("closure", "strap_3", 0.6), Rank("closure", "slipper", 0.4)),
         "Straps for speed, laces for exactness: either serves.", "CP"),
    Rule("climbing.odd_feet", lambda c: c.odd_feet, (Rank("closure", "laces", 0.9),),
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
         (Rank("upper", "leather_unlined", 0.6), Rank("upper", "suede", 0.55), Rank("upper", "leather_lined", 0.5),
          Move("asymmetry_deg", -3, -4)),
         "A bump at the big toe: an upper that gives, and less offset.", "HD"),
    Rule("climbing.room", lambda c: True,
         (Band("ball_room_mm", -12, 0), Band("instep_room_mm", -12, 2), Band("heel_room_mm", -5, 0.5)),
         "Snug, no dead space front or heel, no movement.", "HD"),
    Rule("climbing.swell", lambda c: c.brief.discipline == "multi_pitch", (Move("ball_room_mm", 2, 4),),
         "Feet swell on long routes.", "CP"),
    Rule("climbing.not_safety", lambda c: True, (Caution("spec"),),
         "Climbing is dangerous in any shoe; a shoe is not a safety system.", "CP"),
    Rule("climbing.tight_ack", lambda c: _tight(c) and not toes_spared(c), (Caution("schools", True),),
         "Fitting tight: off between tries, and stop at the first numb toe.", "CP", "climbing_fit"),
    Rule("climbing.tiny_edges_steep", tiny_edges, (Weigh("bend_n_mm_per_deg", 0.2),),
         "Steep ground with tiny edges wants it stiff: they are stood on, not smeared.", "CP"),
    Rule("climbing.stance_first", lambda c: c.does("trad", "multi_pitch", "technical_edging")
         and stance(c).stance_min >= 5, (Weigh("bend_n_mm_per_deg", 1.1),),
         "Five minutes and more on one edge placing protection: stiffness before nearly everything else.", "CP"),
    Rule("climbing.grit_heel", lambda c: c.does("gritstone"), (Weigh("heel_rubber", 1.6), Weigh("toe_rubber", -0.1)),
         "Rounded edges and many heel hooks: the rubber at the heel counts most.", "CP"),
    Rule("climbing.counter", lambda c: True, (Band("heel_counter", 3, 9, 0.3),),
         "No dead space at the heel.", "CP"),
    Rule("climbing.counter_hooks", lambda c: c.does(*HOOKS), (Limit("heel_counter", least=5),
                                                               Weigh("heel_counter", 0.5)),
         "A soft token heel slips off hooks.", "CP"),
    Rule("climbing.split_strong", lambda c: c.brief.toe_strength == "strong" and not c.does(*CALM),
         (Rank("midsole", "split", 0.3), Rank("midsole", "none", 0.2)),
         "Strong feet: freer, toes down harder.", "CP"),
    Rule("climbing.toe_hooks", lambda c: c.does("indoor_boulder", "board"),
         (Limit("toe_rubber", least=0.6), Rank("closure", "slipper", 0.15), Rank("closure", "strap_1", 0.1),
          Want("toe_patch", 0.7)),
         "Toe hooks want rubber over the toes; slip-ons and single straps carry most of it.", "CP"),
    Rule("climbing.smears_not_hooked", lambda c: c.does("sandstone_slab", "gritstone"),
         (Limit("downturn_deg", most=10), Weigh("downturn_deg", 0.3)),
         "Hooked and stiff shoes are poor at smearing.", "CP"),
    Rule("climbing.soft_rounds", lambda c: c.does("gritstone", "sandstone_slab", "indoor_boulder", "speed"),
         (Rank("midsole", "split", 0.2), Rank("midsole", "none", 0.15)),
         "Rounded holds and volumes: a soft sole moulds to them.", "CP"),
    Rule("climbing.forefoot", lambda c: c.has("forefoot"), (Limit("downturn_deg", most=12),),
         "A sore ball of the foot: less hook on it.", "HD"),
    Rule("climbing.achilles", lambda c: c.has("achilles"), (Caution("history"),),
         "A tight heel rand presses the Achilles tendon: try it walking, and stop at pain.", "HD"),
    Rule("climbing.growing", lambda c: c.growing,
         (Limit("toe_room_mm", least=-2, most=1), Limit("toe_room_leather_mm", least=-2, most=1),
          Limit("downturn_deg", most=6), Limit("asymmetry_deg", most=8), Caution("growing", True)),
         "Growing toes are not bent: flat toes, no slack, hardly any hook, whatever the terrain.", "HD"),
    Rule("climbing.slippers_loosen", lambda c: c.does(*ALL_DAY_CLOSED), (Rank("closure", "slipper", -0.1),),
         "Slip-ons loosen most with wear and may come off in a hook.", "CP"),
    Rule("climbing.full_foot", lambda c: c.volume("high"),
         (Rank("closure", "laces", 0.15), Rank("closure", "strap_3", 0.15), Rank("closure", "strap_2", 0.1)),
         "A full foot goes in more easily where the opening is wide.", "CP"),
    Rule("climbing.train_old", lambda c: c.does("mileage", "board") and c.school("training_pair")
         == "old_performance_pair", (Caution("schools"),),
         "To train in: the worn-in old performance pair, while there is rubber left. Ask what became of it.", "CP",
         "training_pair"),
    Rule("climbing.train_same", lambda c: c.does("mileage") and c.school("training_pair") == "same_shoe"
         and not toes_spared(c), (Move("downturn_deg", 4, 8), *_toes(-2, -2)),
         "Practise in what you perform in: nearer the performance pair.", "CP", "training_pair"),
    Rule("climbing.train_comfort", lambda c: c.does("mileage") and c.school("training_pair") == "separate_comfort",
         (Weigh("downturn_deg", 0.3), *_toes(0.5, 1)), "A comfort pair of its own to train in.", "CP",
         "training_pair"),
    Rule("climbing.inspect_hook", lambda c: c.does(*STEEP), (Want("tension_rand", 0.5), Caution("spec")),
         "A tension rand keeps the hook for life, others go flat with wear: look for it at the follow-up.", "CP"),
    Rule("climbing.first_pair", lambda c: c.does("first_shoe") and c.brief.budget is not None
         and c.brief.budget > 130, (Caution("budget"),),
         "A first pair needs to be neither tight nor dear.", "CP"),
    Rule("climbing.crack", lambda c: c.does("crack"),
         (Band("collar_mm", 85, 130, 0.5), Rank("closure", "laces", 0.3),
          Want("toe_patch", 0.5)),
         "Jammed and turned in a crack: over the ankle, stiff, laced, rubber over the toes.", "MEM"),
    Rule("climbing.speed", lambda c: c.does("speed"),
         (Band("mass_g", 130, 240, 0.8), Rank("closure", "slipper", 0.3), Weigh("rubber_shore_a", 0.3)),
         "Every gram is lifted fifteen metres.", "MEM"),
    Rule("climbing.rubber", lambda c: True, _rubber, lambda c: RUBBER[rubber_kind(c)][2], "CP"),
    Rule("climbing.rubber_heavy", lambda c: c.brief.body_kg >= HEAVY_KG, (Move("rubber_shore_a", 3, 3),),
         "A heavier climber rolls soft rubber off an edge: a harder compound.", "CP"),
    Rule("climbing.rubber_light", lambda c: c.brief.body_kg <= LIGHT_KG, (Move("rubber_shore_a", -2, -2),),
         "A lighter climber feels as much only through softer rubber.", "CP"),
    Rule("climbing.rubber_worn", lambda c: c.brief.sessions_per_week >= 4,
         (Move("rubber_shore_a", 2, 2), Move("sole_mm", 0.3, 0.4)), "Worn most days: rubber that lasts.", "CP"),
    Rule("climbing.toe_patch", lambda c: c.does("outdoor_boulder", "steep_sport"), (Want("toe_patch", 0.35),),
         "Steep rock hooks with the toes now and then: some rubber on top.", "CP"),
    Rule("climbing.wrap_heel", lambda c: c.does("indoor_boulder", "gritstone"), (Want("wrap_heel", 0.4),),
         "Volumes and rounded edges are hooked sideways too: a heel wrapped round.", "CP"),
    Rule("climbing.edgeless", lambda c: c.does("sandstone_slab", "gritstone"), (Want("edgeless_toe", 0.6),),
         "Dimples and soft rock: a rounded, edgeless toe keeps contact.", "CP"),
    Rule("climbing.edge_kept", lambda c: c.does("technical_edging", "trad"), (Avoid("edgeless_toe", 0.3),),
         "Small edges are stood on with an edge.", "HD"),
    Rule("climbing.softer_version", lambda c: c.volume("low"), (Caution("feet"),),
         "Low-volume versions are often built softer: fold it before you pull it.", "CP"),
    Rule("climbing.toe_box", lambda c: True, _toe_box, "As pointed as the toes are bent.", "HD"),
    Rule("climbing.second_toe", lambda c: bool(c.feet and "second_longest" in
         (c.feet.left.toe_shape, c.feet.right.toe_shape)), (Move("asymmetry_deg", -2, -3),),
         "The second toe is the longest: less offset towards the big toe.", "CP"),
    Rule("climbing.orthosis", lambda c: c.has("orthosis"), (Caution("history"),),
         "No climbing shoe takes a prescribed insole: ask who prescribed it whether short climbs without it are fine.",
         "HD"),
    Rule("climbing.breathes", lambda c: c.does(*CALM), (Want("breathable", 0.2),),
         "Hours in them: an upper that breathes.", "CP"),
    Rule("climbing.leather_lasts", lambda c: c.brief.sessions_per_week >= 4,
         tuple(Rank("upper", u, 0.15) for u in sorted(LEATHERS - {"leather_thin"})),
         "Worn most days: leather breathes and lasts.", "CP"),
)  # fmt: skip
