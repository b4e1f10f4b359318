"""Football: the ground chooses the plate; fit, comfort and touch choose the boot."""

from __future__ import annotations

from .engine import LEATHERS, Band, Case, Caution, Move, Rank, Rule, Veto

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


def _turf_barred(case: Case) -> bool:
    if case.brief.surface != "artificial_grass":
        return False
    match case.brief.school("turf_on_artificial"):
        case "never":
            return True
        case "fine_when_dry":
            return case.brief.wet
        case _:
            return case.brief.discipline != "casual"


def _toe_room(case: Case) -> tuple[Band, ...]:
    roomy = case.brief.school("football_size") == "street_with_room"
    return (Band("toe_room_mm", 11, 16) if roomy else Band("toe_room_mm", 8, 14),)


RULES: tuple[Rule, ...] = (
    *(_plates(s) for s in PLATES),
    Rule("football.no_soft_ground_off_grass",
         lambda c: c.brief.surface in ("artificial_grass", "carpet_turf", "indoor_hall"),
         (Veto("plate", "soft_ground"),), "Long studs are for natural ground only.", "CP"),
    Rule("football.no_soft_ground_on_hard", lambda c: c.brief.surface == "hard_natural",
         (Veto("plate", "soft_ground"),), "Long studs on hard ground don't go in and hurt.", "CP"),
    Rule("football.no_studs_in_hall", lambda c: c.brief.surface == "indoor_hall",
         tuple(Veto("plate", p) for p in STUDDED if p != "soft_ground"),
         "Studs have nothing to go into on a hall floor.", "CP"),
    Rule("football.knee_no_blades", lambda c: c.has("knee"), (Veto("plate", "firm_ground_blade"),),
         "Round studs: you noted a knee. Blades bite when the foot should turn.", "CP"),
    Rule("football.knee_round", lambda c: c.has("knee"),
         (Rank("plate", "firm_ground_round", 0.1), Caution("history")),
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
    Rule("football.bend", lambda c: True, (Band("bend_n_mm_per_deg", 140, 320, 0.6),),
         "A plate that bends at the ball and nowhere else.", "HD"),
    Rule("football.bend_heavy", lambda c: c.brief.body_kg > 85, (Move("bend_n_mm_per_deg", 40, 60),),
         "A heavier player needs a stiffer plate for the same support.", "HD"),
    Rule("football.counter", lambda c: True, (Band("heel_counter", 5, 9, 0.6),),
         "A firm heel cup keeps the heel in cuts.", "HD"),
    Rule("football.cushion", lambda c: True, (Band("cushion", 1, 4, 0.4),),
         "Low and thin keeps the feel of the ground.", "HD"),
    Rule("football.cushion_hard", lambda c: c.brief.surface in HARD_UNDERFOOT, (Move("cushion", 1.5, 2),),
         "Hard underfoot: more cushion.", "CP"),
    Rule("football.heel_pain", lambda c: c.has("heel_pain"), (Move("cushion", 1, 2),),
         "Heel pain: cushion, and an insole that comes out.", "CP"),
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
    Rule("football.feel_leather", lambda c: c.brief.feel == "leather",
         tuple(Rank("upper", u, 0.4) for u in sorted(LEATHERS)), "Asked for leather.", "CP"),
    Rule("football.feel_synthetic", lambda c: c.brief.feel == "synthetic",
         tuple(Rank("upper", u, 0.4) for u in ("synthetic", "microfibre", "knit", "mesh")),
         "Asked for synthetic.", "CP"),
    Rule("football.bunion", lambda c: c.bunion,
         tuple(Rank("upper", u, 0.5) for u in ("leather_unlined", "leather_thin")),
         "A bunion: leather gives where it presses.", "CP"),
    Rule("football.toe_room", lambda c: True, _toe_room,
         "Synthetic will not lengthen: about a little finger's width in front.", "HD", "football_size"),
    Rule("football.toe_room_leather", lambda c: True, (Band("toe_room_leather_mm", 2, 7),),
         "Leather: toes nearly touching when new; it gives about a quarter size.", "CP"),
    Rule("football.room", lambda c: True,
         (Band("ball_room_mm", -7, 4), Band("instep_room_mm", -9, 5), Band("heel_room_mm", -3.5, 2)),
         "Tight to snug, never loose: a foot that slides in a cut blisters.", "HD"),
)  # fmt: skip
