"""Court: steady sideways, a sole that grips and turns, low enough to feel and cushioned for the floor."""

from __future__ import annotations

from dataclasses import dataclass

from ..feet.gauge import Arch
from ..mechanics.sideways import Floor, cushion_wanted, floor_word, heel_round_wanted
from .engine import Avoid, Band, Case, Caution, Effect, Limit, Move, Need, Rank, Rule, Veto, Want, Weigh

USUAL_FLOOR: dict[str, Floor] = {
    "badminton": "sprung_wood", "squash": "hard_wood", "volleyball": "sprung_wood", "basketball": "hard_wood",
    "indoor_football": "hard_wood", "fencing": "hard_wood", "dance_fitness": "sprung_wood", "tennis": "concrete",
    "netball": "hard_wood", "handball": "hard_wood", "padel": "clay",
}  # fmt: skip
USUAL_LUNGING = {"fencing": "most", "badminton": "often", "squash": "often", "tennis": "seldom", "padel": "often"}
SLID_ON = ("tennis", "padel")
"""Played on clay or sanded turf too."""
HALLS = ("squash", "volleyball", "badminton", "basketball", "indoor_football", "handball", "netball")
LUNGES = tuple(USUAL_LUNGING)
ARCHES: tuple[Arch, ...] = ("high", "low", "medium")
JUMPS = ("volleyball", "basketball", "netball", "handball")
"""What is taken when it isn't said. House defaults."""


@dataclass(frozen=True)
class Game:
    """What a game asks of a shoe. Bands are house defaults; the directions are trade practice."""

    twist: tuple[float, float]
    counter: tuple[float, float]
    mass: tuple[float, float]
    stack: tuple[float, float]
    support: float
    """How much support counts."""
    text: str


GAMES: dict[str, Game] = {
    "badminton": Game((210, 420), (6, 9), (230, 310), (12, 22), 1.6,
                      "Badminton: support first, then fit, wear, grip; lightness, price and looks after them."),
    "tennis": Game((220, 460), (6, 9), (300, 400), (16, 28), 1.4,
                   "Tennis: long sideways slides, so a steady middle and a sole that lasts."),
    "squash": Game((200, 420), (6, 9), (250, 340), (12, 22), 1.4,
                   "Squash: low and steady in lunges, gum that doesn't mark."),
    "volleyball": Game((170, 380), (5, 9), (260, 350), (18, 30), 1.1,
                       "Volleyball: jumps and landings, cushion that comes back."),
    "basketball": Game((200, 440), (6, 9), (300, 410), (18, 30), 1.3,
                       "Basketball: jumps and cuts, a guard at the outer side."),
    "indoor_football": Game((150, 340), (5, 8), (220, 310), (8, 18), 1.0,
                            "Indoor football: a flat gum sole close to the floor, touch on the ball."),
    "fencing": Game((180, 400), (7, 10), (220, 300), (6, 14), 1.3,
                    "Fencing: flat and thin, a hard heel cup that spreads the lunge's strike."),
    "netball": Game((200, 430), (6, 9), (270, 380), (16, 28), 1.4,
                    "Netball: sudden stops and landings: cushion, hold at the sides, nothing that drags."),
    "handball": Game((190, 420), (6, 9), (270, 370), (14, 26), 1.3,
                     "Handball: grip on a hall floor, a guard at the toe, a middle that doesn't wring."),
    "padel": Game((210, 440), (6, 9), (300, 390), (16, 28), 1.4,
                  "Padel and paddle: short turns off the walls: hold at the sides, a pattern for sand."),
    "dance_fitness": Game((120, 300), (4, 8), (200, 290), (14, 26), 0.9,
                          "Dance fitness: low tread, a spot to turn on under the ball, steady sideways."),
}  # fmt: skip


def floor_of(case: Case) -> Floor:
    """The floor as said, else the game's usual one; clay only where it is played on."""
    usual = USUAL_FLOOR[case.brief.discipline]
    said = case.brief.floor or usual
    return usual if said == "clay" and not case.does(*SLID_ON) else said


def lunging_of(case: Case) -> str:
    """How much is lunged, as said, else as usual in the game."""
    if case.brief.lunging and case.does(*LUNGES):
        return case.brief.lunging
    return USUAL_LUNGING.get(case.brief.discipline, "seldom")


def cushion_of(case: Case) -> float:
    """Cushion wanted by floor, body and arch, of 10."""
    arch = next((a for a in ARCHES if a in case.arches), None)
    thin = {"fencing": -2.0, "indoor_football": -1.5, "squash": -0.5, "dance_fitness": 1.0}.get(
        case.brief.discipline, 0.0
    )
    return min(max(cushion_wanted(case.brief.body_kg, floor_of(case), arch) + thin, 0.5), 9.0)


CUSHIONED = 2.4
"""The least of a band whose middle is cushioned in the hand, of 10. House default."""
MOST_CUSHION = 7.5
"""More cushion than this loses the floor, of 10. House default."""


def _cushion(case: Case) -> tuple[Effect, ...]:
    wanted = cushion_of(case)
    return (Band("cushion", wanted - 1.2, wanted + 1.2, 1.0), Limit("cushion", most=MOST_CUSHION))


def _cushion_text(case: Case) -> str:
    guessed = "" if case.brief.floor else ", the usual floor for it"
    on = f"{case.brief.body_kg:g} kg on a {floor_word(floor_of(case))}{guessed}: "
    if case.does(*JUMPS, "dance_fitness") and cushion_of(case) - 1.2 < CUSHIONED:
        return f"{on}little is asked for by body and floor, more by the game."
    if cushion_of(case) + 1.2 > MOST_CUSHION:
        return f"{on}as much as doesn't lose the feel of it, {MOST_CUSHION:g} of 10 at most."
    return f"{on}by body and floor alone about {cushion_of(case):.1f} of 10; far more would lose the feel of it."


def _game(name: str) -> Rule:
    g = GAMES[name]
    return Rule(
        f"court.game.{name}", lambda c: c.does(name),
        (
            Band("twist_n_mm_per_deg", *g.twist, g.support), Band("heel_counter", *g.counter, 0.8 * g.support),
            Band("mass_g", *g.mass, 0.4), Band("heel_stack_mm", *g.stack, 0.7),
        ),
        g.text, "CP",
    )  # fmt: skip


def _toe_room(case: Case) -> tuple[Effect, ...]:
    name = {"fencing": "fencing", "dance_fitness": "dance"}.get(case.brief.discipline, "court")
    return (Band("toe_room_mm", *case.house.room(name)),)


def _round(case: Case) -> tuple[Effect, ...]:
    wanted = heel_round_wanted(lunging_of(case))
    return (Band("heel_round_mm", wanted - 3, wanted + 3, 1.2 if case.does("fencing") else 0.7),)


def _half_up(case: Case) -> bool:
    return case.school("court_size") == "half_up" and not case.does("fencing")


RULES: tuple[Rule, ...] = (
    *(_game(name) for name in GAMES),
    Rule("court.flare", lambda c: True,
         lambda c: (Band("heel_flare", c.house["court.flare_low"], c.house["court.flare_high"], 1.2),),
         "A heel sole slightly wider than the upper: too narrow rolls, far too wide catches.", "CP"),
    Rule("court.heel_round", lambda c: c.does(*LUNGES), _round,
         lambda c: f"Lunging {lunging_of(c).replace('most', 'all the time')}: the more lunging, the rounder the heel; "
         "a squared one slaps down.", "CP"),
    Rule("court.heel_plain", lambda c: not c.does(*LUNGES), (Band("heel_round_mm", 1, 8, 0.3),),
         "Few lunges: an ordinary heel edge.", "HD"),
    Rule("court.cushion", lambda c: True, _cushion, _cushion_text, "HD"),
    Rule("court.jumping", lambda c: c.does(*JUMPS),
         (Move("cushion", 0.8, 1.2), Limit("cushion", least=CUSHIONED), Weigh("cushion", 0.4)),
         "Jumping: cushion with rebound, however light the body.", "CP"),
    Rule("court.dance_cushion", lambda c: c.does("dance_fitness"), (Limit("cushion", least=CUSHIONED),),
         "Danced for an hour: a moderate cushion; too thin aggravates the heel.", "CP"),
    Rule("court.drop", lambda c: True, (Band("drop_mm", 2, 7.5, 0.7),),
         "Low and level: a high heel tips over in sideways steps.", "CP"),
    Rule("court.drop_flat", lambda c: c.does("fencing", "indoor_football"), (Move("drop_mm", -2, -4),),
         "Flat: heel and ball at one height.", "CP"),
    Rule("court.drop_dance", lambda c: c.does("dance_fitness"), (Limit("drop_mm", most=6), Weigh("drop_mm", 0.3)),
         "No high heel and no rocker to dance in.", "CP"),
    Rule("court.bend", lambda c: True, (Band("bend_n_mm_per_deg", 90, 280, 0.5),),
         "It bends at the ball, and nowhere else; one that folds in half gives no support.", "CP"),
    Rule("court.sole", lambda c: True,
         lambda c: (Rank("sole", "gum_court", 1.0 if floor_of(c) != "clay" else 0.5), Rank("sole", "grip_flat", 0.5),
                    Rank("sole", "flat_dense", 0.3)),
         lambda c: "A flat sole that grips." if floor_of(c) == "clay" else "A flat gum sole that grips.", "CP"),
    Rule("court.no_spikes", lambda c: True,
         (Veto("sole", "spikes_full"), Veto("sole", "spikes_half"), Veto("sole", "rubber_spikes")),
         "Spikes have no place on a court.", "CP"),
    Rule("court.no_lugs", lambda c: not c.does(*SLID_ON) or floor_of(c) != "clay", (Veto("sole", "lug"),),
         "A running or trail tread is for straight lines: its edges catch sideways.", "CP"),
    Rule("court.clay", lambda c: floor_of(c) == "clay", (Rank("sole", "grip_flat", 0.6),),
         "Clay and sand: one slides on it; a pattern that lets go of it comes before plain gum.", "HD"),
    Rule("court.dust", lambda c: c.brief.wet, (Rank("sole", "gum_court", 0.3), Caution("wet")),
         "Dust kills grip: a wet towel at the court side.", "CP"),
    Rule("court.closure", lambda c: True,
         (Rank("closure", "laces", 1.0), Rank("closure", "laces_strap", 0.7), Rank("closure", "dial", 0.6),
          Rank("closure", "strap_2", 0.4), Rank("closure", "laceless", 0.2)),
         "Laces pull the middle tight.", "CP"),
    Rule("court.closure_arch", lambda c: c.does("dance_fitness", "fencing"),
         (Rank("closure", "laces", 0.3), Rank("closure", "laceless", -0.2)),
         "Laced tight round the arch.", "CP"),
    Rule("court.uppers", lambda c: True,
         (Rank("upper", "synthetic", 0.9), Rank("upper", "microfibre", 0.9), Rank("upper", "leather_lined", 0.7),
          Rank("upper", "mesh", 0.5), Rank("upper", "knit", 0.2), Rank("upper", "leather_thin", 0.4)),
         "An upper that holds the foot over the sole: stretch knit can't.", "CP"),
    Rule("court.upper_dance", lambda c: c.does("dance_fitness"),
         (Rank("upper", "leather_lined", 0.4), Rank("upper", "mesh", -0.2)),
         "Leather supports and gives; no stretchy mesh.", "CP"),
    Rule("court.upper_blade", lambda c: c.does("fencing"), (Veto("upper", "knit"), Veto("upper", "mesh")),
         "Open knits and meshes let a blade tip through.", "CP"),
    Rule("court.upper_sturdy", lambda c: c.does("tennis", "fencing"),
         (Rank("upper", "leather_lined", 0.2), Rank("upper", "microfibre", 0.2)),
         "Dragged on its side: a sturdy upper with a guard.", "CP"),
    Rule("court.guard_inside", lambda c: c.does("fencing"), (Want("medial_guard", 0.9),),
         "The back foot drags on its inner side: a guard there.", "CP"),
    Rule("court.guard_toe", lambda c: c.does("dance_fitness", "tennis", "handball", "padel"),
         (Want("toe_guard", 0.6),),
         "The toe drags: a reinforced one.", "CP"),
    Rule("court.guard_outside", lambda c: c.does("basketball", "netball", "padel"), (Want("lateral_guard", 0.8),),
         "Cuts press the foot over the outer side: a guard there.", "CP"),
    Rule("court.turning_spot", lambda c: c.does("dance_fitness"), (Want("turning_spot", 1.0), Want("low_tread", 0.8)),
         "Turns on the ball: a spot to turn on, and a low tread.", "CP"),
    Rule("court.bridge", lambda c: True, (Want("bridged_midsole", 0.5), Avoid("split_outsole", 0.3)),
         "A hollowed, bridged middle resists wringing.", "CP"),
    Rule("court.tread", lambda c: True, (Band("tread_mm", 0.4, 2.2, 0.3),), "A flat pattern grips a floor.", "CP"),
    Rule("court.tread_clay", lambda c: floor_of(c) == "clay", (Move("tread_mm", 0.8, 1.2),),
         "Clay and sand: a pattern deep enough to hold and shed it.", "HD"),
    Rule("court.lasts", lambda c: c.does("badminton", "tennis", "padel"),
         (Band("sole_mm", 3.4, 6.0, 1.0), Rank("upper", "mesh", -0.1), Weigh("mass_g", -0.1), Weigh("sole", -0.7)),
         "Wear counts before grip, and grip before weight: a sole thick enough, an upper that isn't mesh alone.",
         "CP"),
    Rule("court.toe_box", lambda c: True, (Band("toe_box_mm", -18, -6, 0.3),), "Toes that are not jammed in a stop.",
         "CP"),
    Rule("court.last", lambda c: True, (Band("last_curve_deg", 2, 10, 0.2),),
         "Straight enough to stand, curved enough to be quick.", "HD"),
    Rule("court.collar_low", lambda c: c.school("ankle") == "low" and not c.does("fencing"),
         (Band("collar_mm", 50, 85, 0.4),), "A firm collar that doesn't flop, below the ankle.", "CP", "ankle"),
    Rule("court.collar_high", lambda c: c.school("ankle") == "high" and not c.does("fencing"),
         (Band("collar_mm", 90, 135, 0.6),), "A high collar, as this shop prefers.", "CP", "ankle"),
    Rule("court.collar_fencing", lambda c: c.does("fencing"), (Band("collar_mm", 45, 75, 0.8),),
         "Never mid or high tops for fencing: they weigh.", "CP"),
    Rule("court.ankle", lambda c: c.has("ankle"),
         (Weigh("heel_flare", 0.5), Limit("heel_counter", least=7), Weigh("twist_n_mm_per_deg", 0.4)),
         "Ankle history: the heel's width, its cup and a middle that won't wring count most.", "CP"),
    Rule("court.knee", lambda c: c.has("knee"), (Rank("sole", "gum_court", -0.2), Want("turning_spot", 0.4),
                                                  Caution("history")),
         "Knee history: of two soles that hold, the one that lets go sooner in a turn.", "CP"),
    Rule("court.dance_ankle", lambda c: c.does("dance_fitness") and c.has("ankle"), (Caution("history"),),
         "An ankle that twists: high-tops are an option; low ones move more freely.", "CP"),
    Rule("court.dance_heel", lambda c: c.does("dance_fitness") and c.has("heel_pain"),
         (Limit("cushion", least=3),), "Too thin underfoot aggravates heel pain.", "CP"),
    Rule("court.dance_leather", lambda c: c.does("dance_fitness"),
         lambda c: (Band("toe_room_leather_mm", *(end - 1.5 for end in c.house.room("dance"))),),
         "Leather supports and gives: bought slightly snug.", "CP"),
    Rule("court.heel_pain", lambda c: c.has("heel_pain"), (Move("cushion", 0.8, 1.2), Caution("history")),
         "Heel pain: more cushion under it.", "CP"),
    Rule("court.forefoot", lambda c: c.has("forefoot"), (Move("cushion", 0.5, 0.8),),
         "A sore ball of the foot: a little more under it.", "HD"),
    Rule("court.sore_joints", lambda c: c.has("back", "hip") and floor_of(c) == "concrete",
         (Move("cushion", 0.5, 0.8),), "Back or hip on a hard floor: more cushion.", "CP"),
    Rule("court.durable", lambda c: c.brief.sessions_per_week >= 4, (Move("mass_g", 10, 40),),
         "Played most days: wear counts before lightness.", "CP"),
    Rule("court.toe_room", lambda c: True, _toe_room, "Snug, toes not jammed.", "HD"),
    Rule("court.half_up", _half_up, (Move("toe_room_mm", 4, 4),),
         "Half a size up, as many in badminton have it.", "CP", "court_size"),
    Rule("court.not_half_up", lambda c: c.school("court_size") == "half_up" and c.does("fencing"),
         (Caution("schools"),), "Fencing shoes never half a size up.", "CP", "court_size"),
    Rule("court.room", lambda c: True,
         (Band("ball_room_mm", -6, 3), Band("instep_room_mm", -9, 4), Band("heel_room_mm", -3.5, 1)),
         "No sliding in a stop; the heel held.", "HD"),
    Rule("court.bunion", lambda c: c.bunion, (Move("ball_room_mm", 1, 2), Rank("upper", "leather_lined", 0.4)),
         "A bump at the big toe: an upper that gives there.", "CP"),
    Rule("court.running_shoes", lambda c: c.has("running_shoe"), (Caution("present"),),
         "A running shoe is wrong here: high heel, rocker, and a flared forefoot that catches and rolls the ankle.",
         "CP"),
    Rule("court.wear_in", lambda c: c.does("badminton", "squash", "tennis"), (Caution("spec"),),
         "Wear them about the house for a few hours before the court.", "CP"),
    Rule("court.fencing_rules", lambda c: c.does("fencing"), (Caution("spec"),),
         "The governing body and the armourer come first.", "CP"),
    Rule("court.fencing_others", lambda c: c.does("fencing"), (Caution("also"),),
         "Where fencing shoes are dear or don't fit, low light badminton, volleyball or squash shoes serve.", "CP"),
    Rule("court.marks", lambda c: c.does("squash", "volleyball", "badminton") and c.brief.level == "competitive",
         (Need("non_marking"), Caution("level")), "The hall's rules come first: soles that don't mark.", "CP"),
    Rule("court.no_marks", lambda c: c.does(*HALLS), (Want("non_marking", 0.4),),
         "A hall floor: a sole that doesn't mark.", "CP"),
)  # fmt: skip
