"""Lifting and gym: flat and dense under load, or a raised rigid heel where the squat asks for it."""

from __future__ import annotations

from ..mechanics.squat import Bar, SquatIn, smallest_heel
from .engine import Avoid, Band, Case, Caution, Effect, Limit, Move, Rank, Rule, Veto, Want, Weigh

RUNS = ("gym_running", "road_running")
SQUATS = ("powerlifting_squat", "machines")
STIFF_ANKLE_DEG = 30.0
"""Below this the ankle counts as stiff. House default."""
HIGHEST_WORN = (18.0, 22.0)
"""Heel taken when none that is worn reaches the wanted lean, mm; nobody is sent higher. House default."""
UNDER_LOAD = ("olympic", "powerlifting_squat", "deadlift", "general_strength", "machines")
DEFAULT_STATURE_MM = 1720.0
DEFAULT_ANKLE_DEG = 33.0


def lifter(case: Case) -> SquatIn:
    """This lifter at the bottom of the lift; unmeasured height and ankle take usual values (house default)."""
    brief = case.brief
    ankle = brief.ankle_deg
    bar: Bar = brief.bar or ("front" if brief.discipline == "olympic" else "high")
    return SquatIn(
        stature_mm=brief.stature_mm or DEFAULT_STATURE_MM,
        body_kg=brief.body_kg,
        bar_kg=brief.body_kg if brief.bar_kg is None else brief.bar_kg,
        dorsiflexion_deg=DEFAULT_ANKLE_DEG if ankle is None else ankle,
        thigh_mm=brief.thigh_mm,
        bar=bar,
    )


def _guessed(case: Case) -> str:
    brief = case.brief
    guessed = [w for w, v in (("height", brief.stature_mm), ("ankle", brief.ankle_deg)) if v is None]
    return f" ({' and '.join(guessed)} not measured: usual values taken)" if guessed else ""


def computed_heel(case: Case) -> float:
    """Heel the squat computation asks for, mm."""
    man = lifter(case)
    return smallest_heel(man, wanted_lean_deg(case, man.bar))[0]


def wanted_lean_deg(case: Case, bar: Bar) -> float:
    """The most trunk lean the house wants with the bar there."""
    return case.house[f"squat.lean_{bar}"]


def out_of_reach(case: Case) -> bool:
    """Whether no heel that is worn brings this lifter's trunk to the wanted lean."""
    man = lifter(case)
    heel, _ = smallest_heel(man, wanted_lean_deg(case, man.bar))  # the highest sold where none does
    return heel > HIGHEST_WORN[1]


def _round(heel: float, above: float, weight: float) -> Band:
    """About a heel, and no higher than is worn: a stiffer ankle never gets a lower one."""
    return Band("drop_mm", max(heel - 2, 0), min(heel + above, max(HIGHEST_WORN[1], heel)), weight)


def _heel_band(case: Case) -> tuple[Effect, ...]:
    side = case.school("squat_heel")
    if side == "flat":
        return (Band("drop_mm", 0, 3, 1.8),)
    if side == "raised":
        return (Band("drop_mm", 15, 22, 1.8),)
    if case.does("machines"):
        return (Band("drop_mm", 8, 18, 1.0),)
    if out_of_reach(case):
        return (Band("drop_mm", *HIGHEST_WORN, 1.8),)
    return (_round(computed_heel(case), 3, 1.8),)


def _heel_text(case: Case) -> str:
    side = case.school("squat_heel")
    if side != "computed":
        said = "" if case.does("machines") else f", whatever the computation says ({computed_heel(case):g} mm)"
        return f"This shop prefers the heel {side}{said}. A heel moves the ankle's range, it adds none."
    if case.does("machines"):
        return (
            "Hack squat and leg press: the machine carries the balance; a raised heel gives depth where it doesn't "
            "line up with the ankle."
        )
    man = lifter(case)
    wanted = wanted_lean_deg(case, man.bar)
    heel, lean = smallest_heel(man, wanted)
    if out_of_reach(case):
        low, high = HIGHEST_WORN
        best = f"{lean:.0f}° with {heel:g} mm" if lean is not None else "no balance with any"
        return (
            f"No heel that is worn brings the trunk to {wanted:g}° or less ({best}{_guessed(case)}): {low:g} to "
            f"{high:g} mm, and work on the ankle. It moves the ankle's range, it adds none."
        )
    got = f"{lean:.0f}° of trunk lean" if lean is not None else "no balance even so"
    if not heel:
        return (
            f"Flat is enough: {got}{_guessed(case)}, {wanted:g}° or less is wanted. A heel moves the ankle's range, it "
            "adds none."
        )
    return (
        f"{heel:g} mm is the least heel that brings the trunk to {wanted:g}° or less: {got}"
        f"{_guessed(case)}. It moves the ankle's range, it adds none."
    )


def _highest(case: Case) -> tuple[float, float]:
    """The highest heels worn for the Olympic lifts; a house that wants more there has them."""
    least = case.house["squat.olympic_least"]
    return max(HIGHEST_WORN[0], least - 2), max(HIGHEST_WORN[1], least)


def _olympic(case: Case) -> tuple[Effect, ...]:
    if out_of_reach(case):
        return (Band("drop_mm", *_highest(case), 2.0),)
    return (_round(max(computed_heel(case), case.house["squat.olympic_least"]), 4, 2.0),)


def _olympic_text(case: Case) -> str:
    if out_of_reach(case):
        low, high = _highest(case)
        return (
            f"Snatch, clean and jerk: a raised rigid heel of {low:g} to {high:g} mm; none that is worn brings this "
            f"trunk as upright as wanted{_guessed(case)}. It moves the ankle's range, it adds none."
        )
    heel = computed_heel(case)
    return (
        f"Snatch, clean and jerk: a raised rigid heel of {case.house['squat.olympic_least']:g} mm or more; "
        f"for the squat alone this lifter needs {f'{heel:g} mm' if heel else 'none'}{_guessed(case)}. It moves the "
        "ankle's range, it adds none."
    )


DROP_KEPT_MM = 2.0
"""How near a runner's next drop stays to the last one. From memory."""


def _as_last(case: Case) -> tuple[Effect, ...]:
    """The drop they run in now, give or take a little, where it is known."""
    drop = case.present_drop_mm
    told = (Caution("present"),)
    if drop is None or not 0 <= drop <= HIGHEST_WORN[0]:
        return told
    return (Limit("drop_mm", least=max(drop - DROP_KEPT_MM, 0), most=drop + DROP_KEPT_MM), *told)


RULES: tuple[Rule, ...] = (
    Rule("lifting.heel.olympic", lambda c: c.brief.discipline == "olympic", _olympic, _olympic_text, "CP"),
    Rule("lifting.heel.squat", lambda c: c.brief.discipline in SQUATS, _heel_band, _heel_text, "HD", "squat_heel"),
    Rule("lifting.ankle_work", lambda c: c.does("olympic", "powerlifting_squat") and out_of_reach(c),
         (Caution("knee_to_wall_cm"),),
         "No heel alone brings this squat upright: work on the ankle, with a coach or physiotherapist.", "CP"),
    Rule("lifting.stiff_ankle", lambda c: c.does("general_strength", "mixed_training")
         and c.brief.ankle_deg is not None and c.brief.ankle_deg < STIFF_ANKLE_DEG, (Caution("knee_to_wall_cm"),),
         "A stiff ankle: flat shoes for this work; for deep squats a wedge, or lifting shoes as a second pair.", "CP"),
    Rule("lifting.deadlift_flat", lambda c: c.does("deadlift") and c.school("squat_heel") == "raised",
         (Caution("schools"),), "The heel this shop prefers is for squats: a deadlift stays flat, every millimetre "
         "lengthens the pull.", "CP", "squat_heel"),
    Rule("lifting.heel.deadlift", lambda c: c.brief.discipline == "deadlift", (Band("drop_mm", 0, 2, 2.0),),
         "Deadlifts: flat, so the pull is short and the force goes into the floor.", "CP"),
    Rule("lifting.heel.general", lambda c: c.brief.discipline == "general_strength", (Band("drop_mm", 0, 4, 1.2),),
         "General strength: flat and dense.", "CP"),
    Rule("lifting.heel.mixed", lambda c: c.brief.discipline == "mixed_training", (Band("drop_mm", 3, 5, 1.2),),
         "Mixed training: about 4 mm serves lifts, jumps and short runs.", "CP"),
    Rule("lifting.heel.running", lambda c: c.does(*RUNS), (Band("drop_mm", 6, 11, 1.0),),
         "Mostly running: 8 mm and more suits a heel strike.", "CP"),
    Rule("lifting.cushion.load", lambda c: c.brief.discipline in UNDER_LOAD, (Band("cushion", 0, 2, 1.6),),
         "Nothing soft under load: foam eats the push and wobbles.", "CP"),
    Rule("lifting.cushion.mixed", lambda c: c.brief.discipline == "mixed_training", (Band("cushion", 2, 4.5, 0.8),
                                                                                 Want("caged_midsole", 0.4)),
         "A thin or caged midsole: enough for jumps, firm enough to lift.", "CP"),
    Rule("lifting.cushion.running", lambda c: c.does(*RUNS), (Band("cushion", 5, 8.5, 1.4),),
         "Running lands at about two and a half times body weight: cushion.", "CP"),
    Rule("lifting.bend.load", lambda c: c.brief.discipline in ("olympic", *SQUATS),
         (Band("bend_n_mm_per_deg", 420, 800, 1.0),), "A very firm sole: the toe barely bends.", "CP"),
    Rule("lifting.bend.flat", lambda c: c.brief.discipline in ("deadlift", "general_strength"),
         (Band("bend_n_mm_per_deg", 120, 450, 0.4),), "Dense rather than stiff.", "HD"),
    Rule("lifting.bend.free_toe", lambda c: c.does("mixed_training", *RUNS),
         (Band("bend_n_mm_per_deg", 80, 240, 0.8),), "A shank under the middle, the toe free.", "CP"),
    Rule("lifting.stack.deadlift", lambda c: c.brief.discipline == "deadlift", (Band("heel_stack_mm", 2, 14, 1.0),),
         "Close to the floor: every millimetre of sole lengthens the pull.", "CP"),
    Rule("lifting.counter", lambda c: not c.does(*RUNS), (Band("heel_counter", 5, 10, 0.4),),
         "A firm heel holds still in the catch.", "HD"),
    Rule("lifting.ankle", lambda c: c.has("ankle"), (Limit("heel_counter", least=7),),
         "Ankle history: steadier sides.", "CP"),
    Rule("lifting.sole.load", lambda c: c.brief.discipline in UNDER_LOAD,
         (Rank("sole", "flat_dense", 1.0), Rank("sole", "gum_court", 0.3), Avoid("split_outsole", 0.3)),
         "A flat, dense outsole.", "CP"),
    Rule("lifting.sole.mixed", lambda c: c.does("mixed_training"),
         (Rank("sole", "grip_flat", 1.0), Rank("sole", "flat_dense", 0.7), Rank("sole", "gum_court", 0.5),
          Avoid("split_outsole", 0.4)),
         "A flat outsole that still grips on a run or a rope.", "CP"),
    Rule("lifting.sole.running", lambda c: c.does(*RUNS),
         (Rank("sole", "grip_flat", 1.0), Rank("sole", "lug", 0.3)),
         "A running sole: it rolls forward and grips the belt or the road. Never a court or hall sole.", "MEM"),
    Rule("lifting.no_court_sole", lambda c: c.does(*RUNS), (Veto("sole", "gum_court"),),
         "A court or hall shoe is no running shoe: flat, hard at the heel, made for sideways.", "MEM"),
    Rule("lifting.closure.strap", lambda c: c.brief.discipline in ("olympic", *SQUATS),
         (Rank("closure", "laces_strap", 1.0), Rank("closure", "strap_2", 0.8), Rank("closure", "strap_1", 0.7),
          Rank("closure", "dial", 0.6), Rank("closure", "laces", 0.4), Want("tie_down", 0.9)),
         "A strap over the middle stops the foot sliding forward.", "CP"),
    Rule("lifting.closure.flat", lambda c: c.brief.discipline not in ("olympic", *SQUATS),
         (Rank("closure", "laces", 1.0), Rank("closure", "strap_1", 0.6), Rank("closure", "strap_2", 0.5),
          Rank("closure", "slipper", 0.4), Rank("closure", "dial", 0.5), Want("high_eyelet", 0.4)),
         "Laces with eyelets high enough to lock the heel.", "CP"),
    Rule("lifting.uppers", lambda c: True,
         (Rank("upper", "synthetic", 0.8), Rank("upper", "leather_lined", 0.7), Rank("upper", "mesh", 0.5),
          Rank("upper", "microfibre", 0.7), Rank("upper", "knit", 0.35)),
         "Layers last, mesh breathes.", "CP"),
    Rule("lifting.upper_light", lambda c: c.does("mixed_training", *RUNS),
         (Rank("upper", "mesh", 0.5), Rank("upper", "knit", 0.3), Want("breathable", 0.3)),
         "Long sessions: an upper that breathes.", "CP"),
    Rule("lifting.toe_room.mixed", lambda c: c.brief.discipline == "mixed_training",
         lambda c: (Band("toe_room_mm", *c.house.room("mixed_training")),),
         "Room for the toes to splay.", "HD"),
    Rule("lifting.toe_room.running", lambda c: c.does(*RUNS),
         lambda c: (Band("toe_room_mm", *c.house.room("gym_running")),),
         "Running: a thumb's width in front.", "MEM"),
    Rule("lifting.toe_room.load", lambda c: c.brief.discipline in UNDER_LOAD,
         lambda c: (Band("toe_room_mm", *c.house.room("lifting_under_load")),),
         "Snug to tight, with about half an inch at the toe for splay.", "CP"),
    Rule("lifting.room.load", lambda c: c.brief.discipline in UNDER_LOAD,
         (Band("ball_room_mm", -6, 5), Band("instep_room_mm", -9, 4), Band("heel_room_mm", -3.5, 1.5)),
         "No sliding under load.", "HD"),
    Rule("lifting.room.free", lambda c: c.brief.discipline not in UNDER_LOAD,
         (Band("ball_room_mm", -3, 9), Band("instep_room_mm", -7, 7), Band("heel_room_mm", -3, 2)),
         "Room to splay, the heel held.", "HD"),
    Rule("lifting.achilles", lambda c: c.has("achilles") and c.brief.discipline == "deadlift",
         (Caution("history"),), "Achilles trouble and a flat shoe: go down in heel over weeks, not at once.", "CP"),
    Rule("lifting.runs_often", lambda c: c.does(*RUNS) and c.brief.sessions_per_week >= 3,
         (Caution("sessions_per_week"),), "Running three or more times a week: a real running shoe.", "CP"),
    Rule("lifting.road", lambda c: c.does("road_running"), _as_last,
         "Roads: drop and cushion as the last pair, unless there is a reason; a thumb in front. Mid-soles last 500 to "
         "800 km.", "MEM"),
    Rule("lifting.bunion", lambda c: c.bunion, (Move("ball_room_mm", 1, 2),),
         "A bump at the big toe: room there.", "CP"),
    Rule("lifting.not_safety", lambda c: not c.does(*RUNS), (Caution("spec"),),
         "Lifting is dangerous in any shoe: training and spotting belong to a coach.", "CP"),
    Rule("lifting.equipment_rules", lambda c: c.brief.level == "competitive", (Caution("level"),),
         "Competing: the federation's equipment rules come first.", "CP"),
    Rule("lifting.wedge_first", lambda c: c.does(*SQUATS) and c.brief.level == "new", (Caution("level"),),
         "A beginner who squats on a wedge gains the same thing: try that before buying a heel.", "CP"),
    Rule("lifting.not_to_run_in", lambda c: c.does("olympic"), (Caution("spec"),),
         "Weightlifting shoes are not for running or rope climbs.", "CP"),
    Rule("lifting.max_loads", lambda c: c.does("olympic", "powerlifting_squat", "deadlift")
         and c.brief.level == "competitive" and not c.tender,
         (Move("ball_room_mm", -2, -3), Move("instep_room_mm", -2, -2)),
         "Maximal loads: compression, extremely snug.", "CP"),
    Rule("lifting.twist.load", lambda c: c.brief.discipline in UNDER_LOAD, (Band("twist_n_mm_per_deg", 220, 520, 0.6),
                                                                                Want("shank", 0.6)),
         "Without a shank the middle of the foot sinks under load.", "CP"),
    Rule("lifting.twist.mixed", lambda c: c.does("mixed_training"), (Band("twist_n_mm_per_deg", 150, 360, 0.5),
                                                                             Want("shank", 0.5)),
         "A shank under the middle, and side stability.", "CP"),
    Rule("lifting.twist.running", lambda c: c.does(*RUNS), (Band("twist_n_mm_per_deg", 110, 300, 0.4),),
         "Running: the middle turns a little with each step, and doesn't wring.", "HD"),
    Rule("lifting.counter.running", lambda c: c.does(*RUNS), (Band("heel_counter", 4, 8, 0.4),),
         "Running: a heel that holds at the strike.", "HD"),
    Rule("lifting.toe_guard", lambda c: c.does("mixed_training"), (Want("toe_guard", 0.7), Want("rope_guard", 0.7)),
         "A guard at the toe for drags, and inside for ropes.", "CP"),
    Rule("lifting.heel_tab", lambda c: not c.does("olympic"), (Band("collar_mm", 55, 90, 0.3), Want("heel_tab", 0.4)),
         "Low heel tabs slip.", "CP"),
    Rule("lifting.knee_forward", lambda c: c.has("knee") and c.does("olympic", *SQUATS), (Caution("history", True),),
         "A raised heel sends the knees further forward: with a knee history, a clinician first.", "CP"),
    Rule("lifting.achilles_range", lambda c: c.has("achilles") and c.does("olympic", *SQUATS), (Caution("history"),),
         "A heel spares the Achilles tendon and adds no range: keep working on the ankle.", "CP"),
    Rule("lifting.present_running", lambda c: c.has("running_shoe") and not c.does(*RUNS),
         (Caution("present"),), "A running shoe's raised soft heel tips the lifter forward and wobbles in the catch.",
         "CP"),
    Rule("lifting.ankle_flare", lambda c: c.has("ankle"), (Band("heel_flare", 1.0, 1.15, 0.6),),
         "Ankle history: a heel at least as wide as the foot.", "CP"),
    Rule("lifting.run_stack", lambda c: c.does(*RUNS), (Band("heel_stack_mm", 20, 38, 0.6),),
         "Running: cushion at heel and forefoot.", "CP"),
    Rule("lifting.run_mass", lambda c: c.does(*RUNS), (Band("mass_g", 180, 320, 0.5),),
         "Running: every step lifts it.", "HD"),
    Rule("lifting.run_heavy", lambda c: c.does(*RUNS, "mixed_training") and c.brief.body_kg >= 90,
         (Move("cushion", 0.5, 1.0), Weigh("cushion", 0.3)), "A heavier runner lands harder.", "CP"),
    Rule("lifting.heel_pain", lambda c: c.has("heel_pain") and c.brief.discipline not in UNDER_LOAD,
         (Move("cushion", 0.5, 1.0),), "Heel pain: more cushion under it.", "CP"),
    Rule("lifting.tongue", lambda c: c.does("mixed_training"), (Want("gusset_tongue", 0.3),),
         "Ropes and jumps: a tongue that stays put.", "CP"),
    Rule("lifting.reflective", lambda c: c.does(*RUNS), (Want("reflective", 0.3),),
         "Running at dusk: something that reflects.", "CP"),
    Rule("lifting.toe_box.load", lambda c: c.brief.discipline in UNDER_LOAD, (Band("toe_box_mm", -14, -3, 0.5),),
         "Toes that can splay press better.", "CP"),
    Rule("lifting.toe_box.mixed", lambda c: c.does("mixed_training"), (Band("toe_box_mm", -10, 2, 0.8),),
         "A wide toe box to splay in.", "CP"),
    Rule("lifting.toe_box.running", lambda c: c.does(*RUNS), (Band("toe_box_mm", -16, -4, 0.4),),
         "Room for the toes to spread at push-off.", "CP"),
    Rule("lifting.last.straight", lambda c: not c.does(*RUNS), (Band("last_curve_deg", 0, 7, 0.3),),
         "A straight last is wide and stable.", "CP"),
    Rule("lifting.last.curved", lambda c: c.does(*RUNS), (Band("last_curve_deg", 5, 12, 0.3),),
         "Semi-curved: quick, and still steady.", "CP"),
    Rule("lifting.tread.flat", lambda c: not c.does(*RUNS), (Band("tread_mm", 0, 2, 0.4),),
         "Flat on the floor: nothing to tip on.", "CP"),
    Rule("lifting.tread.running", lambda c: c.does(*RUNS), (Band("tread_mm", 2, 4.5, 0.4),),
         "Traction for the road.", "CP"),
    Rule("lifting.splay", lambda c: c.does("mixed_training", "general_strength") and c.volume("high"),
         (Move("ball_room_mm", 0, 3),), "A full forefoot: room to splay.", "CP"),
)  # fmt: skip
