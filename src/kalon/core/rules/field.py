"""Field (cricket): wicket and role choose the sole; a fast bowler asks most of a shoe."""

from __future__ import annotations

from .engine import Band, Case, Caution, Limit, Move, Rank, Rule, Veto, Want, Weigh

SPIKES = ("spikes_full", "spikes_half")
HEAVY_KG = 90.0
"""From here a player counts as heavy. House default."""
ROLE_SOLES: dict[str, tuple[dict[str, float], str]] = {
    "pace_bowler": ({"spikes_full": 1.0, "spikes_half": 0.2}, "Bowling fast: full spikes."),
    "spin_bowler": ({"spikes_full": 0.8, "spikes_half": 0.9}, "Bowling spin: spikes to turn on, full or half."),
    "batter": ({"spikes_half": 1.0, "spikes_full": 0.5}, "Batting: spikes in front, rubber at the back."),
    "keeper": ({"spikes_half": 1.0, "spikes_full": 0.4}, "Keeping: the weight is on the balls, half and half."),
    "fielder": ({"spikes_half": 1.0, "spikes_full": 0.2, "rubber_spikes": 0.4},
                "Fielding: not all spikes, to set off fast."),
    "all_rounder": ({"spikes_half": 0.9, "spikes_full": 0.8}, "A bit of all: any good shoe that fits."),
}  # fmt: skip


def _grass(role: str) -> Rule:
    scores, text = ROLE_SOLES[role]
    return Rule(
        f"field.grass.{role}", lambda c: c.brief.wicket == "grass" and c.brief.role == role,
        tuple(Rank("sole", sole, score) for sole, score in scores.items()), text, "CP",
    )  # fmt: skip


def _bowls_fast(c: Case) -> bool:
    return c.brief.role == "pace_bowler"


RULES: tuple[Rule, ...] = (
    *(_grass(role) for role in ROLE_SOLES),
    Rule("field.batter_full", lambda c: c.brief.wicket == "grass" and c.brief.role == "batter"
         and c.school("batter_spikes") == "full", (Rank("sole", "spikes_full", 0.8),),
         "Full spikes for batters, as this shop prefers; it is personal.", "CP", "batter_spikes"),
    Rule("field.artificial", lambda c: c.brief.wicket == "artificial_outdoor",
         (Rank("sole", "rubber_spikes", 1.0), Rank("sole", "pimpled", 0.8), Rank("sole", "gum_court", 0.4)),
         "An artificial wicket outdoors: rubber spikes or a rubber sole.", "CP"),
    Rule("field.indoor", lambda c: c.brief.wicket == "artificial_indoor",
         (Rank("sole", "pimpled", 1.0), Rank("sole", "gum_court", 0.7), Rank("sole", "rubber_spikes", 0.2)),
         "An artificial wicket indoors: a rubber sole.", "CP"),
    Rule("field.hall", lambda c: c.brief.wicket == "sports_hall",
         (Rank("sole", "gum_court", 1.0), Rank("sole", "grip_flat", 0.5)),
         "A polished hall: an indoor court shoe.", "CP"),
    Rule("field.no_spikes", lambda c: c.brief.wicket != "grass", tuple(Veto("sole", s) for s in SPIKES),
         "Spikes are for grass wickets.", "CP"),
    Rule("field.no_rubber_in_hall", lambda c: c.brief.wicket == "sports_hall",
         (Veto("sole", "pimpled"), Veto("sole", "rubber_spikes")),
         "On a polished floor rubber pimples skid.", "CP"),
    Rule("field.spikes_off", lambda c: c.brief.wicket == "grass", (Caution("wicket"),),
         "Spikes off in the pavilion: clubs forbid them indoors.", "CP"),
    Rule("field.collar", lambda c: not _bowls_fast(c) and c.school("ankle") == "low", (Band("collar_mm", 50, 95, 0.4),),
         "A low or middle collar to run in.", "CP", "ankle"),
    Rule("field.collar_school", lambda c: not _bowls_fast(c) and c.school("ankle") == "high",
         (Band("collar_mm", 95, 135, 0.6),), "A high collar, as this shop prefers.", "CP", "ankle"),
    Rule("field.collar_pace", _bowls_fast, (Band("collar_mm", 100, 140, 1.5),),
         "Bowling fast: high support at the ankle.", "CP"),
    Rule("field.ankle", lambda c: c.has("ankle"), (Limit("collar_mm", least=90), Weigh("collar_mm", 0.5)),
         "Ankle history: a collar that holds.", "CP"),
    Rule("field.closure", lambda c: True,
         (Rank("closure", "laces", 0.9), Rank("closure", "laces_strap", 0.7), Rank("closure", "dial", 0.6),
          Rank("closure", "strap_2", 0.4)), "Laces, tied to stay.", "HD"),
    Rule("field.closure_pace", _bowls_fast, (Rank("closure", "laces_strap", 0.7), Rank("closure", "dial", 0.5)),
         "A strap or dial locks the ankle at the crease.", "CP"),
    Rule("field.toe", lambda c: True, (Band("toe_rubber", 0.1, 0.6, 0.3), Want("toe_guard", 0.2)),
         "A reinforced toe; steel caps are gone.", "CP"),
    Rule("field.toe_pace", _bowls_fast, 
         (Limit("toe_rubber", least=0.4), Weigh("toe_rubber", 0.4), Want("toe_guard", 0.8)),
         "The back foot drags at every ball: a reinforced toe.", "CP"),
    Rule("field.counter", lambda c: True, (Band("heel_counter", 5, 9, 0.6),), "A firm heel.", "HD"),
    Rule("field.counter_pace", _bowls_fast, (Limit("heel_counter", least=7), Weigh("heel_counter", 0.6)),
         "The front foot lands at several times body weight: a hard heel cup.", "CP"),
    Rule("field.cushion", lambda c: True, (Band("cushion", 2, 5.5, 0.6),), "Hours on the feet: some cushion.", "HD"),
    Rule("field.cushion_pace", _bowls_fast, (Move("cushion", 1.5, 2), Weigh("cushion", 0.6)),
         "The greatest demand of all: cushion under the landing.", "CP"),
    Rule("field.sore", lambda c: c.has("back", "knee", "heel_pain"), (Move("cushion", 0.5, 1),),
         "Back, knee or heel: more under it.", "CP"),
    Rule("field.sore_pace", lambda c: _bowls_fast(c) and c.has("back", "knee"), (Caution("history", True),),
         "Bowling fast with a back or knee history: a clinician before the shoe.", "CP"),
    Rule("field.mass", lambda c: c.brief.role != "batter", (Band("mass_g", 300, 430, 0.3),),
         "Sturdy enough for a season.", "HD"),
    Rule("field.mass_batter", lambda c: c.brief.role == "batter", (Band("mass_g", 270, 370, 0.6),),
         "Batting: light, to run between the wickets.", "CP"),
    Rule("field.twist", lambda c: True, (Band("twist_n_mm_per_deg", 170, 400, 0.6),),
         "A middle that doesn't wring.", "HD"),
    Rule("field.twist_bowlers", lambda c: c.brief.role in ("pace_bowler", "spin_bowler"),
         (Move("twist_n_mm_per_deg", 40, 40), Weigh("twist_n_mm_per_deg", 0.4)),
         "The front foot turns under load at the crease.", "HD"),
    Rule("field.uppers", lambda c: True,
         (Rank("upper", "synthetic", 0.8), Rank("upper", "leather_lined", 0.8), Rank("upper", "microfibre", 0.7),
          Rank("upper", "mesh", 0.4), Rank("upper", "knit", 0.1)), "Leather lasts, synthetic is light.", "HD"),
    Rule("field.upper_pace", _bowls_fast, (Rank("upper", "leather_lined", 0.3), Rank("upper", "mesh", -0.2)),
         "Bowling fast tears light uppers.", "CP"),
    Rule("field.toe_room", lambda c: True, lambda c: (Band("toe_room_mm", *c.house.room("cricket")),),
         "Room in front for a thick sock and hard stops.", "HD"),
    Rule("field.room", lambda c: True,
         (Band("ball_room_mm", -5, 5), Band("instep_room_mm", -8, 5), Band("heel_room_mm", -3.5, 1.5)),
         "Snug over a thick sock.", "HD"),
    Rule("field.socks", lambda c: c.feet is not None and c.feet.sock in ("none", "thin"), (Caution("feet"),),
         "Thick cricket socks change the fit: measure and try in them.", "CP"),
    Rule("field.runs_small", lambda c: True, (Caution("spec"),),
         "Some makers run half a size small: go by the measured inside.", "CP"),
    Rule("field.often", lambda c: c.brief.sessions_per_week >= 3,
         (Weigh("twist_n_mm_per_deg", 0.2), Rank("upper", "leather_lined", 0.3)),
         "Three to five times a week repays a better pair.", "CP"),
    Rule("field.spikes_out", lambda c: c.brief.wicket == "grass", 
         (Want("spike_sockets", 0.4), Want("replaceable_studs", 0.2)),
         "Spikes that screw out are changed as they wear, and for a harder wicket.", "CP"),
    Rule("field.bend", lambda c: True, (Band("bend_n_mm_per_deg", 110, 290, 0.4),),
         "It bends at the ball to run in, and nowhere else.", "HD"),
    Rule("field.heavy", lambda c: c.brief.body_kg >= HEAVY_KG,
         (Move("cushion", 0.4, 0.7), Move("bend_n_mm_per_deg", 40, 60)),
         "A heavier player lands harder and bends it more.", "HD"),
    Rule("field.bunion", lambda c: c.bunion, (Move("ball_room_mm", 1, 2), Rank("upper", "leather_lined", 0.3)),
         "A bump at the big toe: room there, and leather that gives.", "CP"),
    Rule("field.toe_box", lambda c: True, (Band("toe_box_mm", -18, -6, 0.3),),
         "Toes that are not jammed at the crease.", "HD"),
    Rule("field.breathes", lambda c: c.brief.role in ("batter", "keeper", "fielder"), (Want("breathable", 0.2),),
         "Hours in the sun: an upper that breathes.", "HD"),
    Rule("field.rules", lambda c: c.brief.level == "competitive", (Caution("level"),),
         "The league's and the ground's rules on spikes come first.", "CP"),
)  # fmt: skip
