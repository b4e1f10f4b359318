"""Field: in cricket wicket and role choose the sole; the other field sports by what is played on, and how."""

from __future__ import annotations

from dataclasses import dataclass

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


OFTEN, ONCE = 3.0, 1.0
"""Days a week from which a better pair repays, and up to which a plain one does. Common practice, no source."""


def _budget_text(c: Case) -> str:
    """What level and days a week say of what to spend."""
    days, level = c.brief.sessions_per_week, c.brief.level
    if days >= OFTEN or level == "competitive":
        why = f"{days:g} days a week" if days >= OFTEN else "at a representative level"
        return f"Worn {why}: a better pair repays itself by the hour."
    if days <= ONCE or level == "new":
        return "Once a week or just begun: a plain pair that fits does; spend on fit, not on the grade."
    return "At a club, twice a week: the middle of the range."


@dataclass(frozen=True)
class Played:
    """What another field sport asks of a shoe. Directions from memory, bands house defaults."""

    under: tuple[str, dict[str, float]]
    """Plate or sole, and what of it."""
    collar: tuple[float, float]
    mass: tuple[float, float]
    bend: tuple[float, float]
    room: str
    """Which of the house's rooms at the toe."""
    text: str
    wants: tuple[tuple[str, float], ...] = ()


PLAYED: dict[str, Played] = {
    "rugby_forwards": Played(("plate", {"soft_ground": 1.0, "firm_ground_round": 0.6}), (75, 125), (280, 430),
                             (200, 400), "football_synthetic",
                             "Rugby in the pack: eight long studs, a stiff plate and a higher collar to push from.",
                             (("replaceable_studs", 0.5), ("toe_guard", 0.3))),
    "rugby_backs": Played(("plate", {"firm_ground_round": 1.0, "soft_ground": 0.7, "firm_ground_blade": 0.6}),
                          (45, 85), (190, 310), (140, 320), "football_synthetic",
                          "Rugby in the backs: as football, light, with studs to cut on."),
    "hockey_water": Played(("sole", {"pimpled": 1.0, "rubber_spikes": 0.5}), (50, 95), (260, 390), (110, 290), "court",
                           "Watered turf: many small rubber nubs, holes that drain, a guard at the toe.",
                           (("drain_holes", 0.7), ("toe_guard", 0.7))),
    "hockey_sand": Played(("sole", {"rubber_spikes": 1.0, "pimpled": 0.7}), (50, 95), (260, 390), (110, 290), "court",
                          "Sanded turf: fewer and longer nubs, a guard at the toe.", (("toe_guard", 0.7),)),
    "lacrosse": Played(("plate", {"firm_ground_round": 1.0, "artificial_grass": 0.8, "soft_ground": 0.5}), (75, 120),
                       (240, 380), (140, 320), "football_synthetic", "Lacrosse: as football, with a higher cut."),
    "bases": Played(("sole", {"spikes_full": 1.0, "rubber_spikes": 0.9}), (50, 110), (280, 420), (120, 300), "court",
                    "Bases: metal for adults or moulded, as the league has it; a pitcher drags the toe.",
                    (("toe_guard", 0.5),)),
    "throws_turning": Played(("sole", {"flat_dense": 1.0, "gum_court": 0.5}), (45, 85), (250, 400), (150, 400),
                             "fencing", "Throws that turn: a smooth rounded sole, no heel.",
                             (("turning_spot", 1.0), ("tie_down", 0.4))),
    "throws_straight": Played(("sole", {"spikes_full": 1.0}), (95, 140), (280, 430), (180, 420), "fencing",
                              "Throws that run up: spikes at the heel too, and a high collar that blocks.",
                              (("tie_down", 0.3),)),
}  # fmt: skip


def _played(name: str) -> Rule:
    p = PLAYED[name]
    kind, values = p.under
    return Rule(
        f"field.played.{name}", lambda c: c.does(name),
        lambda c: (
            *(Rank(kind, value, score) for value, score in values.items()), Band("collar_mm", *p.collar, 0.5),
            Band("mass_g", *p.mass, 0.4), Band("bend_n_mm_per_deg", *p.bend, 0.5),
            Band("toe_room_mm", *c.house.room(p.room)), Band("ball_room_mm", -7, 4), Band("instep_room_mm", -9, 5),
            Band("heel_room_mm", -3.5, 1.5), *(Want(feature, add) for feature, add in p.wants),
        ),
        p.text, "MEM",
    )  # fmt: skip


TURNS = ("rugby_forwards", "rugby_backs", "lacrosse")
"""Where studs hold the foot in a turn."""
METAL = ("rugby_forwards", "rugby_backs", "bases", "throws_straight")


def _cricket(c: Case) -> bool:
    return c.does("cricket")


def _bowls_fast(c: Case) -> bool:
    return c.brief.role == "pace_bowler"


RULES: tuple[Rule, ...] = (
    *(_grass(role) for role in ROLE_SOLES),
    *(_played(name) for name in PLAYED),
    Rule("field.union", lambda c: c.does(*METAL), (Caution("discipline"),),
         "Metal and length by the union's or the league's rule; studs are looked at before the match.", "MEM"),
    Rule("field.moulded_young", lambda c: c.growing and c.does("bases"), (Veto("sole", "spikes_full"),),
         "Juniors play on moulded spikes: most leagues bar metal.", "MEM"),
    Rule("field.turning_sole", lambda c: c.does("throws_turning"),
         (Band("drop_mm", 0, 3, 1.0), Band("heel_round_mm", 8, 16, 0.8), Band("tread_mm", 0, 0.8, 0.6)),
         "Turned on in a circle: level, round at its edges, and nothing in it that catches.", "MEM"),
    Rule("field.knee", lambda c: c.has("knee") and c.does(*TURNS),
         (Veto("plate", "firm_ground_blade"), Rank("plate", "firm_ground_round", 0.2), Caution("history")),
         "Any knee history: round studs; blades bite when the foot should turn.", "CP"),
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
    Rule("field.no_spikes", lambda c: _cricket(c) and c.brief.wicket != "grass", tuple(Veto("sole", s) for s in SPIKES),
         "Spikes are for grass wickets.", "CP"),
    Rule("field.no_rubber_in_hall", lambda c: c.brief.wicket == "sports_hall",
         (Veto("sole", "pimpled"), Veto("sole", "rubber_spikes")),
         "On a polished floor rubber pimples skid.", "CP"),
    Rule("field.spikes_off", lambda c: c.brief.wicket == "grass", (Caution("wicket"),),
         "Spikes off in the pavilion: clubs forbid them indoors.", "CP"),
    Rule("field.collar", lambda c: _cricket(c) and not _bowls_fast(c) and c.school("ankle") == "low",
         (Band("collar_mm", 50, 95, 0.4),),
         "A low or middle collar to run in.", "CP", "ankle"),
    Rule("field.collar_school", lambda c: _cricket(c) and not _bowls_fast(c) and c.school("ankle") == "high",
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
    Rule("field.mass", lambda c: _cricket(c) and c.brief.role != "batter", (Band("mass_g", 300, 430, 0.3),),
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
    Rule("field.toe_room", _cricket, lambda c: (Band("toe_room_mm", *c.house.room("cricket")),),
         "Room in front for a thick sock and hard stops.", "HD"),
    Rule("field.room", _cricket,
         (Band("ball_room_mm", -5, 5), Band("instep_room_mm", -8, 5), Band("heel_room_mm", -3.5, 1.5)),
         "Snug over a thick sock.", "HD"),
    Rule("field.socks", lambda c: _cricket(c) and (c.feet is None or c.feet.sock in ("none", "thin")),
         (Caution("feet"),),
         lambda c: "Thick cricket socks change the fit: measure and try in them." if c.feet is None else
         f"Measured {'without socks' if c.feet.sock == 'none' else 'in thin socks'}; thick cricket socks change the "
         "fit: measure and try in them.", "CP"),
    Rule("field.runs_small", _cricket, (Caution("spec"),),
         "Some makers run half a size small: go by the measured inside.", "CP"),
    Rule("field.often", lambda c: c.brief.sessions_per_week >= OFTEN,
         (Weigh("twist_n_mm_per_deg", 0.2), Rank("upper", "leather_lined", 0.3)),
         "Three to five times a week repays a better pair.", "CP"),
    Rule("field.budget", lambda c: True, (Caution("budget"),), _budget_text, "CP"),
    Rule("field.spikes_out", lambda c: c.brief.wicket == "grass", 
         (Want("spike_sockets", 0.4), Want("replaceable_studs", 0.2)),
         "Spikes that screw out are changed as they wear, and for a harder wicket.", "CP"),
    Rule("field.bend", _cricket, (Band("bend_n_mm_per_deg", 110, 290, 0.4),),
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
