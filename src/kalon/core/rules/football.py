"""Football: the ground chooses the plate; fit, comfort and touch choose the boot."""

from __future__ import annotations

from dataclasses import replace

from ..mechanics.plates import LAYOUTS, plate_grip
from ..mechanics.studs import Grip
from .engine import Avoid, Band, Case, Caution, Effect, Limit, Move, Rank, Rule, Veto, Want, Weigh
from .scales import LEATHERS

ROUND, BLADES = "firm_ground_round", "firm_ground_blade"
STUDDED = ("soft_ground", "firm_ground_round", "firm_ground_blade", "hard_ground", "artificial_grass")
HARD_UNDERFOOT = ("hard_natural", "carpet_turf", "indoor_hall")

PLATES: dict[str, tuple[dict[str, float], str]] = {
    "soft_natural": (
        {"soft_ground": 1.0, "firm_ground_round": 0.4, "firm_ground_blade": 0.4},
        "Soft wet grass: few long studs that sink fully.",
    ),
    "firm_natural": (
        {"firm_ground_round": 0.9, "firm_ground_blade": 0.85, "hard_ground": 0.5, "artificial_grass": 0.4,
         "turf": 0.2},
        "Firm grass: moulded studs, round or bladed.",
    ),
    "hard_natural": (
        {"hard_ground": 1.0, "turf": 0.7, "artificial_grass": 0.7, "firm_ground_round": 0.35},
        "Hard dry grass: many short studs or nubs, so no single one presses.",
    ),
    "artificial_grass": (
        {"artificial_grass": 1.0, "firm_ground_round": 0.6, "hard_ground": 0.5, "turf": 0.4,
         "firm_ground_blade": 0.2},
        "Artificial grass: many short round studs let the foot turn free.",
    ),
    "carpet_turf": (
        {"turf": 1.0, "artificial_grass": 0.35, "indoor": 0.35},
        "Carpet turf: dozens of rubber nubs on a flat sole.",
    ),
    "indoor_hall": ({"indoor": 1.0, "turf": 0.2}, "Hall floor: a flat gum sole."),
}  # fmt: skip


def _plates(surface: str) -> Rule:
    scores, text = PLATES[surface]
    return Rule(
        f"football.plate.{surface}",
        lambda c: c.brief.surface == surface,
        tuple(Rank("plate", value, score) for value, score in scores.items()),
        text,
        "CP",
    )


RUNNING_LOAD = 2.0
"""A player on one foot, in body weights. House default."""
TEST_LOAD_N = 451.0
"""Load of the turf test whose turning window the house keeps to. From memory."""
HOLDS_WELL, HOLDS = 0.6, 0.4
"""Grip from which a plate holds well, and holds, of the load. House defaults."""
FELT = 0.7
"""Share of the pressure that hurts from which a stud is felt. House default."""
PLATE_WORDS = {
    "soft_ground": "Long studs", "firm_ground_round": "Round studs", "firm_ground_blade": "Blades",
    "hard_ground": "Many short studs", "artificial_grass": "Short round studs", "turf": "Nubs",
    "indoor": "Flat gum soles",
}  # fmt: skip


def running_load(case: Case) -> float:
    """Load on one foot running, N, to the next 20."""
    return 20 * round(9.81 * RUNNING_LOAD * case.brief.body_kg / 20)


def plate_on_ground(case: Case, name: str) -> Grip:
    """A plate under this player on this ground: grip and pressure running, turning at the turf test's load."""
    brief = case.brief
    assert brief.surface is not None
    foot = round(case.foot_mm)
    running = plate_grip(name, foot, brief.surface, brief.wet, running_load(case))
    turning = plate_grip(name, foot, brief.surface, brief.wet, TEST_LOAD_N)
    return replace(running, torque_n_m=turning.torque_n_m)


def _grip(name: str) -> Rule:
    def effects(case: Case) -> tuple[Effect, ...]:
        found, house = plate_on_ground(case, name), case.house
        hurts = min(max(found.worst_kpa / house["studs.pressure_most"] - 1, 0), 1)
        catches = min(max(found.torque_n_m / house["studs.torque_high"] - 1, 0), 1)
        holds = min(found.forward, 1.0)
        turn = 0.15 * found.torque_n_m / house["studs.torque_high"] if case.has("knee") else 0.0
        return (Rank("plate", name, 0.15 * holds - 0.2 * hurts - 0.3 * catches - turn),)

    def text(case: Case) -> str:
        found, house = plate_on_ground(case, name), case.house
        own = name == next(iter(PLATES[case.brief.surface or ""][0]))
        holds = "hold well" if found.forward >= HOLDS_WELL else "hold" if found.forward >= HOLDS else "slip"
        if own and holds == "slip":
            holds = "hold best of all, though little"
        turns = "catch in a turn" if found.torque_n_m > house["studs.torque_high"] else "let the foot turn"
        if (
            turns == "let the foot turn"
            and name == BLADES
            and found.torque_n_m > plate_on_ground(case, ROUND).torque_n_m
        ):
            turns = "turn less freely than round ones"
        felt = found.worst_kpa / house["studs.pressure_most"]
        press = "press through the sole" if felt > 1 else "are felt underfoot" if felt > FELT else "are not felt"
        if own and felt > 1:
            press = "are felt at this weight, which an insole spreads"
        return (
            f"{PLATE_WORDS[name]} here {holds}, {turns} and {press} (grip {found.forward:.2f} of the load, turning "
            f"{found.torque_n_m:.0f} N·m, {found.worst_kpa:.0f} kPa under the worst)."
        )

    def when(case: Case) -> bool:
        return case.brief.surface is not None and name in PLATES[case.brief.surface][0]

    return Rule(f"football.grip.{name}", when, effects, text, "HD")


def _turf_barred(case: Case) -> bool:
    if case.brief.surface != "artificial_grass":
        return False
    match case.school("turf_on_artificial"):
        case "never":
            return True
        case "fine_when_dry":
            return case.brief.wet
        case _:
            return case.does("match", "goalkeeping")


def _round_studs(case: Case) -> tuple[Effect, ...]:
    """Round studs first, where the ground takes studs at all."""
    studs = case.brief.surface is None or "firm_ground_round" in PLATES[case.brief.surface][0]
    return (*((Rank("plate", "firm_ground_round", 0.1),) if studs else ()), Caution("history"))


def _toe_room(case: Case) -> tuple[Band, ...]:
    roomy = case.school("football_size") == "street_with_room"
    return (Band("toe_room_mm", *case.house.room("football_street_size" if roomy else "football_synthetic")),)


def _toe_room_leather(case: Case) -> tuple[Band, ...]:
    low, high = case.house.room("football_leather_new")
    closer = 0.0 if case.tender else {"full_size": 3.0, "quarter_size": 0.5}.get(case.school("leather_give"), 0.0)
    return (Band("toe_room_leather_mm", low - closer, high - closer),)


UNLINED_GIVES_MM = 2.1
"""How much more of its length a classic unlined leather may be sized down: its give on a plate."""


def _toe_room_unlined(case: Case) -> tuple[Band, ...]:
    (usual,) = _toe_room_leather(case)
    closer = 0.0 if case.tender else UNLINED_GIVES_MM
    return (Band("toe_room_unlined_mm", usual.low - closer, usual.high - closer),)


def _older(case: Case) -> tuple[Effect, ...]:
    """Nubs where they hold and no match is played; more cushion everywhere."""
    nubs = case.brief.surface in ("hard_natural", "artificial_grass", "carpet_turf") and not case.does("match")
    return (Move("cushion", 0.5, 0.8), *((Rank("plate", "turf", 0.3),) if nubs else ()))


LEATHER_TEXTS = {
    "by_construction": "Leather: toes nearly touching when new; lined or unlined, it gives about a quarter size on a "
    "plate, mostly in width.",
    "quarter_size": "This shop lets leather give a quarter size, always: toes nearly touching when new.",
    "full_size": "This shop lets leather give a full size: toes touching when new. On a plate it gives 1–2 mm.",
}

SPARED_TEXT = "Leather gives by wear that presses: on these feet no zone is counted on to give, so none is sized down."


TOUCH: tuple[Rule, ...] = (
    Rule("football.feel_leather", lambda c: c.brief.feel == "leather",
         tuple(Rank("upper", u, 0.4) for u in sorted(LEATHERS)), "Asked for leather.", "CP"),
    Rule("football.feel_synthetic", lambda c: c.brief.feel == "synthetic",
         tuple(Rank("upper", u, 0.4) for u in ("synthetic", "microfibre", "knit", "mesh")),
         "Asked for synthetic.", "CP"),
)  # fmt: skip
"""What the player asked of the touch: it holds in the hall too, where the court's rules are."""


RULES: tuple[Rule, ...] = (
    *(_plates(s) for s in PLATES),
    *(_grip(p) for p in LAYOUTS),
    Rule("football.no_soft_ground_off_grass",
         lambda c: c.brief.surface in ("artificial_grass", "carpet_turf", "indoor_hall"),
         (Veto("plate", "soft_ground"),), "Long studs are for natural ground only.", "CP"),
    Rule("football.no_soft_ground_on_hard", lambda c: c.brief.surface == "hard_natural",
         (Veto("plate", "soft_ground"),), "Long studs on hard ground don't go in, and hurt.", "CP"),
    Rule("football.no_studs_in_hall", lambda c: c.brief.surface == "indoor_hall",
         tuple(Veto("plate", p) for p in STUDDED if p != "soft_ground"),
         "Studs have nothing to go into on a hall floor.", "CP"),
    Rule("football.no_flat_on_grass",
         lambda c: c.brief.surface in ("soft_natural", "firm_natural", "artificial_grass"), (Veto("plate", "indoor"),),
         "A flat gum sole finds nothing to hold in grass.", "HD"),
    Rule("football.knee_no_blades", lambda c: c.has("knee"), (Veto("plate", "firm_ground_blade"),),
         "Round studs: you noted a knee. Blades bite when the foot should turn.", "CP"),
    Rule("football.knee_round", lambda c: c.has("knee"), _round_studs,
         "Any knee history: round studs, and nothing that grips in a turn.", "CP"),
    Rule("football.turf_on_artificial", _turf_barred, (Veto("plate", "turf"),),
         "Turf shoes lose grip in fast turns on artificial grass: not here.", "CP", "turf_on_artificial"),
    Rule("football.turf_wet", lambda c: c.brief.wet and c.brief.surface != "carpet_turf",
         (Rank("plate", "turf", -0.3),), "Nubs grip worse in the wet.", "CP"),
    Rule("football.wet_firm", lambda c: c.brief.wet and c.brief.surface == "firm_natural",
         (Rank("plate", "soft_ground", 0.5),), "Firm grass that is often wet: longer studs come into play.", "CP"),
    Rule("football.spare_joints", lambda c: c.has("back", "hip", "knee") and c.brief.surface == "hard_natural",
         (Rank("plate", "turf", 0.4),), "Back, hip or knee on hard ground: nubs spread the pressure evenly.", "CP"),
    Rule("football.venue_rules", lambda c: c.brief.surface in ("soft_natural", "firm_natural"),
         (Caution("surface"),), "Long metal studs may be barred by the venue or the referee: check first.", "CP"),
    Rule("football.mass.match", lambda c: c.brief.discipline == "match", (Band("mass_g", 160, 250, 0.5),),
         "Matches: light and quick counts a little; fit counts more.", "HD"),
    Rule("football.mass.other", lambda c: c.brief.discipline != "match", (Band("mass_g", 200, 330, 0.4),),
         "Training and casual games: sturdier lasts longer.", "HD"),
    Rule("football.keeper", lambda c: c.does("goalkeeping"),
         (Weigh("mass_g", -0.2), Weigh("heel_counter", 0.3), Weigh("twist_n_mm_per_deg", 0.2), Want("toe_guard", 0.3)),
         "Goalkeeping: short steps, dives and long kicks: hold and a sturdy toe before lightness.", "HD"),
    Rule("football.bend", lambda c: True, (Band("bend_n_mm_per_deg", 140, 320, 0.6),),
         "A plate that bends at the ball and nowhere else.", "HD"),
    Rule("football.bend_heavy", lambda c: c.brief.body_kg >= c.house["football.heavy_kg"],
         (Move("bend_n_mm_per_deg", 40, 60),),
         "A heavier player needs a stiffer plate for the same support.", "HD"),
    Rule("football.counter", lambda c: True, (Band("heel_counter", 5, 9, 0.6),),
         "A firm heel cup keeps the heel in cuts.", "HD"),
    Rule("football.cushion", lambda c: True, (Band("cushion", 1, 4, 0.4),),
         "Low and thin keeps the feel of the ground.", "HD"),
    Rule("football.cushion_hard", lambda c: c.brief.surface in HARD_UNDERFOOT, (Move("cushion", 1.5, 2),),
         "Hard underfoot: more cushion.", "CP"),
    Rule("football.heel_pain", lambda c: c.has("heel_pain"), (Move("cushion", 1, 2),),
         "Heel pain: more cushion under it.", "CP"),
    Rule("football.ankle", lambda c: c.has("ankle"), (Move("heel_counter", 1.5, 1),),
         "Ankle history: a firmer heel and steadier sides.", "CP"),
    Rule("football.closure", lambda c: True,
         (Rank("closure", "laces", 1.0), Rank("closure", "laceless", 0.55), Rank("closure", "strap_1", 0.3)),
         "Laces can be tightened as the upper gives; laceless must fit exactly when new.", "CP"),
    Rule("football.odd_feet", lambda c: c.odd_feet, (Veto("closure", "laceless"),),
         "The feet differ: laces even it out, laceless cannot.", "CP"),
    Rule("football.uppers", lambda c: True,
         (Rank("upper", "synthetic", 0.7), Rank("upper", "microfibre", 0.7), Rank("upper", "knit", 0.6),
          Rank("upper", "leather_thin", 0.7), Rank("upper", "leather_unlined", 0.65),
          Rank("upper", "leather_lined", 0.65)),
         "Leather lasts and moulds; synthetic is light and holds its width. Touch is the player's.", "CP"),
    *TOUCH,
    Rule("football.bunion", lambda c: c.bunion,
         (Rank("upper", "leather_unlined", 0.5), Rank("upper", "leather_thin", 0.5),
          Rank("upper", "leather_lined", 0.3)),
         "A bunion: leather gives where it presses.", "CP"),
    Rule("football.toe_room", lambda c: True, _toe_room,
         "Synthetic will not lengthen: about a little finger's width in front.", "HD", "football_size"),
    Rule("football.toe_room_leather", lambda c: True, _toe_room_leather,
         lambda c: SPARED_TEXT if c.tender else LEATHER_TEXTS[c.school("leather_give")], "CP", "leather_give"),
    Rule("football.room", lambda c: True,
         (Band("ball_room_mm", -7, 4), Band("instep_room_mm", -9, 5), Band("heel_room_mm", -3.5, 2)),
         "Tight to snug, never loose: a foot that slides in a cut blisters.", "HD"),
    Rule("football.blades_catch", lambda c: c.brief.surface == "artificial_grass",
         (Rank("plate", "firm_ground_blade", -0.1),), "Blades are likelier to catch in the fibres.", "CP"),
    Rule("football.nubs_for_some",
         lambda c: c.brief.surface in ("artificial_grass", "hard_natural")
         and (c.does("casual") or c.brief.level == "new"),
         (Rank("plate", "turf", 0.25),),
         "Casual games and beginners: nubs spread the pressure and are easier on the back, hips and knees.", "CP"),
    Rule("football.forefoot", lambda c: c.has("forefoot") and c.brief.surface in ("firm_natural", "hard_natural"),
         (Rank("plate", "hard_ground", 0.3), Rank("plate", "artificial_grass", 0.3), Rank("plate", "turf", 0.2),
          Rank("plate", "firm_ground_round", -0.2), Rank("plate", "firm_ground_blade", -0.2)),
         "Stud pressure is felt under the ball of the foot: more and shorter studs.", "CP"),
    Rule("football.forefoot_base", lambda c: c.has("forefoot") and c.brief.surface in ("carpet_turf", "indoor_hall"),
         lambda c: (Move("cushion", 0.5, 1), *((Rank("plate", "indoor", 0.25), Rank("plate", "artificial_grass", -0.2))
                                             if c.brief.surface == "carpet_turf" else ())),
         "A sore ball over a hard base: more under it, and nothing that presses singly.", "CP"),
    Rule("football.same_last", lambda c: len({c.brief.surface, *c.on_surfaces}) > 1, (Caution("also"),),
         "More than one ground: once a last suits, the same one often comes on other plates.", "CP"),
    Rule("football.twist", lambda c: True, (Band("twist_n_mm_per_deg", 130, 330, 0.4),),
         "The middle of the plate resists wringing.", "HD"),
    Rule("football.ankle_sides", lambda c: c.has("ankle"),
         (Limit("twist_n_mm_per_deg", least=170), Weigh("twist_n_mm_per_deg", 0.4)),
         "Ankle history: a middle that doesn't wring holds the foot level.", "CP"),
    Rule("football.collar_low", lambda c: c.school("ankle") == "low", (Band("collar_mm", 45, 80, 0.2),),
         "A low collar; a sock collar is a matter of liking, the evidence is thin.", "CP", "ankle"),
    Rule("football.collar_high", lambda c: c.school("ankle") == "high", (Band("collar_mm", 80, 130, 0.5),
         Want("sock_collar", 0.2)),
         "A high collar, as this shop prefers; the evidence is thin.", "CP", "ankle"),
    Rule("football.full_foot", lambda c: c.volume("high"),
         (Rank("upper", "leather_unlined", 0.25), Rank("upper", "leather_thin", 0.25), Rank("upper", "knit", 0.15)),
         "A full foot: soft uppers end wide, stiff synthetics stay narrow all season.", "CP"),
    Rule("football.slim_foot", lambda c: c.volume("low"),
         (Rank("closure", "laces", 0.2), Rank("upper", "synthetic", 0.15), Rank("upper", "microfibre", 0.15),
          Want("central_lacing", 0.5)),
         "A slim foot: central lacing pulls both sides in, and synthetic stays narrow.", "CP"),
    Rule("football.often", lambda c: c.brief.sessions_per_week >= 4,
         (Rank("upper", "leather_lined", 0.2), Rank("upper", "leather_unlined", 0.2), Weigh("mass_g", -0.2)),
         "Played most days: classic leather lasts longest, and lightness counts less.", "CP"),
    Rule("football.studs_out", lambda c: c.brief.surface == "soft_natural", (Want("replaceable_studs", 0.4),),
         "Soft ground: studs that screw out are changed with the ground and as they wear.", "CP"),
    Rule("football.metal", lambda c: c.brief.surface not in (None, "soft_natural"), (Avoid("metal_studs", 0.8),),
         "Metal tips are for soft grass, and some venues bar them.", "CP"),
    Rule("football.older", lambda c: c.has("older"), _older,
         "An older player: nubs spread the pressure and are easier on back, hips and knees, and a little more cushion.",
         "CP"),
    Rule("football.toe_room_unlined", lambda c: True, _toe_room_unlined,
         lambda c: SPARED_TEXT if c.tender
         else "Classic unlined leather runs large and gives most: half a size below the usual, toes touching when new. "
         "Half of that it gives; half it runs large, which a measured inside counts already.", "CP"),
    Rule("football.inner_sock", lambda c: c.volume("high") or c.bunion, (Avoid("sock_collar", 0.3),),
         "A compressive inner sock feels narrow under a wide shell: judge by zone.", "CP"),
    Rule("football.toe_box", lambda c: True, (Band("toe_box_mm", -22, -10, 0.3),), "Rounded in front, close to touch.",
         "HD"),
    Rule("football.last", lambda c: True, (Band("last_curve_deg", 3, 11, 0.2),), "A last that follows the foot in.",
         "HD"),
    Rule("football.first_wear", lambda c: c.does("match") and c.brief.event_on is not None, (Caution("event_on"),),
         "Never a full match first: the plan says when this pair is ready, and when the old one still plays.", "CP"),
)  # fmt: skip
