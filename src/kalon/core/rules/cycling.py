"""Cycling: the pedals decide the sole, the ride how stiff it is, the road how one walks in it."""

from __future__ import annotations

from dataclasses import dataclass

from ..mechanics.pedal import loss_w, peak_force_n, sole_for_loss
from .engine import Avoid, Band, Case, Caution, Effect, Limit, Move, Rank, Rule, Veto, Want, Weigh

CRANK_MM = 172.5
USUAL_POWER_W = {"new": 250.0, "club": 400.0, "competitive": 700.0}
USUAL_CADENCE = 95.0
"""A minute's hardest effort when it isn't said, by level. House defaults."""
MUDDY = ("gravel", "cyclocross", "mtb_xc", "mtb_trail", "mtb_downhill")
WALKS = ("commute", "town", *MUDDY)
RACES = ("road_race", "mtb_xc", "cyclocross", "triathlon", "track")
BRISK_KM = 16.0
"""About 10 miles: from here a stiff sole. Common practice, no source."""
STIFFEST_ASKED = 4500.0


@dataclass(frozen=True)
class Ride:
    """What a kind of riding asks. Bands are house defaults; the directions are trade practice."""

    bend: tuple[float, float]
    mass: tuple[float, float]
    soles: dict[str, float]
    text: str


RIDES: dict[str, Ride] = {
    "road_race": Ride((2800, 6000), (200, 300), {"flat_dense": 1.0},
                      "Road racing: the stiffest soles, and light."),
    "road_fast": Ride((1500, 4500), (220, 320), {"flat_dense": 1.0, "lug": 0.4},
                      "Brisk rides: a stiff sole, snug all round."),
    "town": Ride((100, 900), (260, 420), {"grip_flat": 1.0, "flat_dense": 0.6, "lug": 0.5},
                 "Town and short easy rides: a soft sole is fine."),
    "commute": Ride((300, 1500), (260, 420), {"lug": 1.0, "grip_flat": 0.8, "flat_dense": 0.4},
                    "Commuting: stiff enough to push, soft enough to walk."),
    "gravel": Ride((1000, 3500), (260, 380), {"lug": 1.0, "grip_flat": 0.4},
                   "Gravel: stiff, with lugs to walk on."),
    "cyclocross": Ride((1500, 4500), (260, 380), {"lug": 1.0},
                       "Cyclo-cross: rigid but runnable, lugs that shed mud."),
    "mtb_xc": Ride((1800, 5000), (260, 380), {"lug": 1.0},
                   "Cross-country race: rigid but runnable."),
    "mtb_trail": Ride((400, 1800), (300, 460), {"lug": 1.0, "grip_flat": 0.9},
                      "Trail: usable clipped or unclipped."),
    "mtb_downhill": Ride((200, 1000), (320, 500), {"grip_flat": 1.0, "lug": 0.5},
                         "Downhill: grip and flex on the pedal."),
    "triathlon": Ride((2000, 5500), (200, 310), {"flat_dense": 1.0},
                      "Triathlon: stiff, and quick on and off while rolling."),
    "track": Ride((3500, 6500), (200, 300), {"flat_dense": 1.0},
                  "Track: the stiffest of all, and light; a strap over it where clips are used."),
    "indoor_ride": Ride((800, 3000), (220, 340), {"grip_flat": 1.0, "flat_dense": 0.7, "lug": 0.4},
                        "Indoors: two bolts, an upper that breathes; lugs do nothing, and one walks off over a floor."),
    "winter": Ride((700, 3000), (380, 560), {"lug": 1.0, "flat_dense": 0.5},
                   "Deep winter: a boot that keeps the wet out."),
}  # fmt: skip
PEDAL_TEXT = {
    "flat": "Flat pedals take no cleat: a sole that grips the pins.",
    "two_bolt": "These pedals take two bolts: the cleat is sunk between lugs, one can walk, and mud falls off.",
    "three_bolt": "These pedals take three bolts: a large light contact for the road; it walks badly.",
}


def effort(case: Case) -> tuple[float, float]:
    """Power, W, and cadence of the hardest minute: as said, else usual for the level."""
    brief = case.brief
    return brief.power_w or USUAL_POWER_W[brief.level], brief.cadence_rpm or USUAL_CADENCE


def force_n(case: Case) -> float:
    """Peak force on one pedal then, N."""
    return peak_force_n(*effort(case), CRANK_MM)


def sole_asked(case: Case) -> float:
    """The softest sole, N·mm per degree, that keeps the loss below what is worth avoiding."""
    house = case.house
    asked = sole_for_loss(force_n(case), house["pedal.offset_mm"], house["pedal.loss_most_w"], effort(case)[1])
    return min(asked, STIFFEST_ASKED)


def _power_text(case: Case) -> str:
    power, cadence = effort(case)
    low, high = RIDES[case.brief.discipline].bend
    offset = case.house["pedal.offset_mm"]
    lost = [loss_w(force_n(case), offset, k, cadence) for k in (low, high)]
    guessed = "" if case.brief.power_w else " (usual for the level)"
    return (
        f"A stiff sole loses less, and whether that matters is disputed: of {power:g} W for a minute{guessed} "
        f"{lost[0]:.1f} W go in the softest sole of this kind and {lost[1]:.1f} W in the stiffest."
    )


def _ride(name: str) -> Rule:
    ride = RIDES[name]
    return Rule(
        f"cycling.ride.{name}", lambda c: c.does(name),
        (
            Band("bend_n_mm_per_deg", *ride.bend, 0.5), Band("mass_g", *ride.mass, 0.4),
            *(Rank("sole", sole, score) for sole, score in ride.soles.items()),
        ),
        ride.text, "CP",
    )  # fmt: skip


def _stiffness_pays(case: Case) -> bool:
    """Whether anything may stiffen this sole: flat pedals, town and downhill want it to give."""
    return case.brief.pedal != "flat" and not case.does("town", "mtb_downhill")


FULL_CARBON, COMPOSITE = 150.0, 90.0
"""Price from which soles are full carbon, and carbon composite. Common practice, no source."""
SOFT_ON_PINS = 1000.0
"""The stiffest sole that still gives on the pins of a flat pedal, N·mm per degree. House default."""
CARRIES_THREE_BOLTS = 900.0
"""The softest sole three bolts can be carried by, N·mm per degree. House default."""


def _stiffest(case: Case) -> tuple[Effect, ...]:
    """As stiff as the budget pays: carbon, or its composite."""
    whole = case.brief.budget is None or case.brief.budget >= FULL_CARBON
    move = Move("bend_n_mm_per_deg", 800, 1200) if whole else Move("bend_n_mm_per_deg", 300, 500)
    return (move, Weigh("bend_n_mm_per_deg", 1.0))


def _tier_text(case: Case) -> str:
    """What a sole costs at this budget."""
    budget = case.brief.budget or 0.0
    if budget >= FULL_CARBON:
        got = f"from about {FULL_CARBON:g} full carbon is to be had"
    elif budget >= COMPOSITE:
        got = f"from about {COMPOSITE:g} carbon composite, full carbon from about {FULL_CARBON:g}"
    else:
        got = f"plastic or fibreglass; carbon composite begins about {COMPOSITE:g}"
    enough = "" if _stiffness_pays(case) else " Here a soft sole is wanted, so none of it need be paid for."
    return f"For {budget:g}: {got}. Stiffer and lighter upward.{enough}"


LACED = ("town", "mtb_downhill", "mtb_trail")
"""Where laces lead."""


def _laced(case: Case) -> bool:
    """Whether laces lead, or are what the budget pays."""
    return case.does(*LACED) or (case.brief.budget is not None and case.brief.budget < COMPOSITE)


def _cleated(case: Case) -> bool:
    """Whether there is a cleat to place."""
    return case.brief.pedal != "flat" and not (case.brief.pedal == "undecided" and case.does("town"))


RULES: tuple[Rule, ...] = (
    *(_ride(name) for name in RIDES),
    Rule("cycling.power", lambda c: (c.brief.power_w is not None or c.does(*RACES)) and _stiffness_pays(c),
         lambda c: (Limit("bend_n_mm_per_deg", least=sole_asked(c)),), _power_text, "HD"),
    Rule("cycling.stiffest", lambda c: c.school("cycling_stiffness") == "stiffest" and _stiffness_pays(c)
         and (c.brief.budget is None or c.brief.budget >= COMPOSITE), _stiffest,
         "The stiffest that can be paid, as this shop prefers.", "CP", "cycling_stiffness"),
    Rule("cycling.brisk_far", lambda c: c.does("town", "commute") and c.brief.pedal != "flat"
         and (c.brief.ride_km or 0) >= BRISK_KM,
         (Move("bend_n_mm_per_deg", 500, 900), Weigh("bend_n_mm_per_deg", 0.3)),
         "From some 16 km (10 miles) of brisk riding a stiff sole pays.", "CP"),
    Rule("cycling.heavy", lambda c: c.brief.body_kg >= 90, (Move("bend_n_mm_per_deg", 150, 250),),
         "A heavier rider bends the sole further.", "HD"),
    Rule("cycling.pedal.flat", lambda c: c.brief.pedal == "flat",
         (Rank("cleat", "none", 1.0), Rank("cleat", "two_bolt", 0.3), Veto("cleat", "three_bolt"),
          Rank("sole", "grip_flat", 1.2), Limit("bend_n_mm_per_deg", most=SOFT_ON_PINS)), PEDAL_TEXT["flat"], "CP"),
    Rule("cycling.pedal.two_bolt", lambda c: c.brief.pedal == "two_bolt",
         (Rank("cleat", "two_bolt", 1.0), Rank("cleat", "both", 0.8), Veto("cleat", "three_bolt"),
          Veto("cleat", "none")), PEDAL_TEXT["two_bolt"], "CP"),
    Rule("cycling.pedal.three_bolt", lambda c: c.brief.pedal == "three_bolt",
         (Rank("cleat", "three_bolt", 1.0), Rank("cleat", "both", 0.8), Veto("cleat", "two_bolt"),
          Veto("cleat", "none")), PEDAL_TEXT["three_bolt"], "CP"),
    Rule("cycling.three_carried", lambda c: c.brief.pedal == "three_bolt",
         (Veto("sole", "grip_flat"), Limit("bend_n_mm_per_deg", least=CARRIES_THREE_BOLTS)),
         "Three bolts only on soles that can carry them: a soft grippy one bends round the cleat.", "HD"),
    Rule("cycling.pedal.undecided_road", lambda c: c.brief.pedal == "undecided"
         and c.does("road_race", "road_fast", "triathlon", "track"),
         (Rank("cleat", "three_bolt", 1.0), Rank("cleat", "both", 0.9), Rank("cleat", "two_bolt", 0.6)),
         "Not decided, on the road: three bolts, or a sole that takes both.", "CP"),
    Rule("cycling.pedal.undecided_off", lambda c: c.brief.pedal == "undecided"
         and c.does(*MUDDY, "commute", "winter", "indoor_ride"),
         (Rank("cleat", "two_bolt", 1.0), Rank("cleat", "both", 0.7), Rank("cleat", "none", 0.4)),
         "Not decided, with walking or mud: two bolts.", "CP"),
    Rule("cycling.pedal.undecided_town", lambda c: c.brief.pedal == "undecided" and c.does("town"),
         (Rank("cleat", "none", 1.0), Rank("cleat", "two_bolt", 0.6), Rank("cleat", "both", 0.4)),
         "Not decided, in town: no cleat is needed.", "CP"),
    Rule("cycling.three_in_mud", lambda c: c.brief.pedal == "three_bolt" and c.does(*MUDDY), (Caution("pedal", True),),
         "Three bolts clog with mud and can't be walked on: other pedals first, then shoes.", "CP"),
    Rule("cycling.three_walked", lambda c: c.brief.pedal == "three_bolt" and c.does("commute", "town"),
         (Caution("pedal"),), "Three-bolt cleats wear when walked on: carry covers, or take two bolts.", "CP"),
    Rule("cycling.walk_lugs", lambda c: c.does(*WALKS) and c.brief.wet, (Rank("sole", "lug", 0.4),),
         "Wet or muddy, with walking: lugs.", "CP"),
    Rule("cycling.closure", lambda c: True,
         (Rank("closure", "dial", 1.0), Rank("closure", "ratchet", 0.8), Rank("closure", "strap_3", 0.7),
          Rank("closure", "strap_2", 0.7), Rank("closure", "laces", 0.6)),
         "A dial takes up about 1 mm of cable a click, on the move; straps are robust and light; laces light but "
         "fixed while riding.", "CP"),
    Rule("cycling.closure_tri", lambda c: c.does("triathlon"),
         (Rank("closure", "strap_1", 1.8), Rank("closure", "strap_2", 0.6), Want("quick_entry", 0.9)),
         "One strap that opens wide goes on while rolling.", "CP"),
    Rule("cycling.closure_easy", lambda c: c.does(*LACED),
         (Rank("closure", "laces", 0.6), Rank("closure", "laces_strap", 0.9)),
         "Off the race course laces do well.", "CP"),
    Rule("cycling.closure_budget", lambda c: c.brief.budget is not None and c.brief.budget < COMPOSITE,
         (Rank("closure", "strap_2", 0.5), Rank("closure", "strap_3", 0.5), Rank("closure", "laces", 0.4)),
         "Straps and laces cost least, and last.", "CP"),
    Rule("cycling.laces_tuck", _laced, (Want("lace_tuck", 0.3), Caution("spec")),
         "With laces: tuck the ends away and tie them so that a loose end fails slowly.", "CP"),
    Rule("cycling.uppers", lambda c: True,
         (Rank("upper", "microfibre", 0.9), Rank("upper", "synthetic", 0.8), Rank("upper", "knit", 0.5),
          Rank("upper", "mesh", 0.5), Rank("upper", "leather_lined", 0.4)),
         "Snug all round and easy to wipe: white for the road, black for mud.", "CP"),
    Rule("cycling.upper_tri", lambda c: c.does("triathlon"), (Rank("upper", "mesh", 0.6), Want("drain_holes", 0.8)),
         "Triathlon: it must drain and dry.", "CP"),
    Rule("cycling.indoors", lambda c: c.does("indoor_ride"),
         (Want("breathable", 0.9), Rank("upper", "mesh", 0.5), Rank("upper", "knit", 0.3), 
          Avoid("membrane", 0.6)), "No wind indoors: it has to breathe; nothing has to keep out the wet.", "MEM"),
    Rule("cycling.track", lambda c: c.does("track"), (Rank("closure", "strap_3", 0.4), Weigh("bend_n_mm_per_deg", 0.4)),
         "Standing starts pull the foot out: a strap that can't let go, and the stiffest sole.", "MEM"),
    Rule("cycling.upper_winter", lambda c: c.does("winter"), (Veto("upper", "mesh"), Veto("upper", "knit"),
                                                          Want("membrane", 1.2)),
         "Winter: a closed upper with a membrane.", "CP"),
    Rule("cycling.collar_winter", lambda c: c.does("winter"), (Band("collar_mm", 95, 150, 0.8),),
         "A boot that closes over the ankle keeps the wet out.", "CP"),
    Rule("cycling.collar", lambda c: not c.does("winter"), (Band("collar_mm", 40, 80, 0.2),),
         "Free at the ankle.", "HD"),
    Rule("cycling.counter", lambda c: True, (Band("heel_counter", 5, 9, 0.6),),
         "No heel lift on the upstroke.", "CP"),
    Rule("cycling.twist", lambda c: not c.does("town", "mtb_downhill"), (Band("twist_n_mm_per_deg", 250, 600, 0.3),),
         "The middle doesn't wring between heel and pedal.", "HD"),
    Rule("cycling.sprint_heel", lambda c: c.does(*RACES), (Move("heel_counter", 1, 0.5), Weigh("heel_counter", 0.3)),
         "Sprints pull up hardest: a firmer heel.", "HD"),
    Rule("cycling.toe_room", lambda c: True, lambda c: (Band("toe_room_mm", *c.house.room("cycling")),),
         "Toes free; nothing pushes off with them.", "HD"),
    Rule("cycling.room", lambda c: True,
         (Band("ball_room_mm", -5, 4), Band("instep_room_mm", -8, 4), Band("heel_room_mm", -3.5, 1.5)),
         "Snug all round, no pressure on top.", "HD"),
    Rule("cycling.long_rides", lambda c: (c.brief.ride_km or 0) >= 60,
         (Move("ball_room_mm", 2, 3), Move("instep_room_mm", 1, 2), Caution("ride_km")),
         "The foot swells on long rides: there is room for it, and a closure that is let out on the way.", "CP"),
    Rule("cycling.high_arch", lambda c: c.arch("high"), (Move("instep_room_mm", 1, 1.5), Caution("feet")),
         "A high arch: room over the instep, and an insole that carries it.", "CP"),
    Rule("cycling.bunion", lambda c: c.bunion, (Move("ball_room_mm", 1, 2),),
         "A bump at the big toe: room there.", "CP"),
    Rule("cycling.numb", lambda c: c.unfelt or c.has("forefoot"), (Move("ball_room_mm", 2, 3),),
         lambda c: "Numb or sore at the ball: room there" + (", and the cleat further back." if _cleated(c) else "."),
         "HD"),
    Rule("cycling.cleat_place", _cleated, (Caution("pedal"),),
         "The pedal axle belongs under the line between the heads of the 1st and 5th toes.", "CP"),
    Rule("cycling.cleat_back", lambda c: _cleated(c) and ((c.brief.ride_km or 0) >= 60 or c.has("forefoot")),
         (Caution("pedal"),),
         lambda c: "Hot or sore at the ball: the cleat 3–5 mm further back, a wider front, the closure looser."
         if c.has("forefoot") else "Long rides: the axle 5–10 mm behind the head of the first toe.", "MEM"),
    Rule("cycling.float", lambda c: _cleated(c) and c.has("knee"), (Caution("pedal"),),
         "A knee: a cleat with 4–9° of float, so that the foot finds its own line.", "MEM"),
    Rule("cycling.saddle", lambda c: c.brief.wears_now != "" or c.brief.present.kind is not None,
         (Caution("present"),), "Another sole is another stack: move the saddle by as much.", "CP"),
    Rule("cycling.tiers", lambda c: c.brief.budget is not None, (Caution("budget"),), _tier_text, "CP"),
    Rule("cycling.fine_closure", lambda c: c.does("road_race", "road_fast") or (c.brief.ride_km or 0) >= 60,
         (Want("fine_closure", 0.4),), "Set in small steps and on the move, as the foot swells.", "CP"),
    Rule("cycling.seen", lambda c: c.does("commute", "town", "winter"), (Want("reflective", 0.5),),
         "Ridden in traffic and at dusk: something that reflects.", "CP"),
    Rule("cycling.dark", lambda c: c.does(*MUDDY), (Want("dark_colour", 0.2),), "Mud shows least on black.", "CP"),
    Rule("cycling.light", lambda c: c.does("road_race", "road_fast", "triathlon") and not c.brief.wet,
         (Want("light_colour", 0.2),), "On the road white wipes clean.", "CP"),
    Rule("cycling.wet_feet", lambda c: c.brief.wet and c.does("commute", "town", "mtb_trail"),
         (Want("membrane", 0.4),), "Often wet: a membrane keeps the feet dry.", "HD"),
    Rule("cycling.toe_rocks", lambda c: c.does("mtb_xc", "mtb_trail", "mtb_downhill"),
         (Want("toe_guard", 0.5), Want("lace_cover", 0.2)),
         "Rocks and roots: a guard at the toe, laces out of the way.", "HD"),
    Rule("cycling.run_ups", lambda c: c.does("cyclocross", "mtb_xc"), (Want("spike_sockets", 0.4),),
         "Run in mud: sockets for spikes at the toe.", "CP"),
    Rule("cycling.sheds", lambda c: c.does(*MUDDY), (Band("tread_mm", 3, 7, 0.3),),
         "Lugs deep enough to walk on and to shed mud.", "CP"),
    Rule("cycling.toe_box", lambda c: True, (Band("toe_box_mm", -20, -8, 0.3),), "Toes free, nothing bunched.", "HD"),
    Rule("cycling.race_rules", lambda c: c.brief.level == "competitive" and c.does(*RACES), (Caution("level"),),
         "The governing body's rules come first.", "CP"),
)  # fmt: skip
