"""Ice: fit, then comfort, then support; a boot as stiff as the body and the hours in it ask."""

from __future__ import annotations

from .engine import Avoid, Band, Case, Caution, Effect, Limit, Move, Rank, Rule, Want, Weigh

LEVEL_SHARE = {"new": 0.92, "club": 1.0, "competitive": 1.18}
SELDOM, OFTEN = 1.0, 4.0
SPAN = 0.14
"""How level and hours change the boot. House defaults."""


def boot(case: Case) -> float:
    """Wanted stiffness, N·mm per degree: body first, level and hours after it."""
    brief = case.brief
    share = LEVEL_SHARE[brief.level]
    hours = 0.94 if brief.sessions_per_week <= SELDOM else 1.08 if brief.sessions_per_week >= OFTEN else 1.0
    return min(max(case.house["ice.boot_per_kg"] * brief.body_kg * share * hours, 150), 780)


def _boot(case: Case) -> tuple[Effect, ...]:
    wanted = boot(case)
    return (Band("bend_n_mm_per_deg", wanted * (1 - SPAN), wanted * (1 + SPAN), 1.4),)


def _boot_text(case: Case) -> str:
    wanted = boot(case)
    word = "soft" if wanted < 320 else "middling" if wanted < 500 else "stiff"
    return (
        f"A {word} boot: body and hours decide, not level alone; a heavy beginner needs a stiff one. "
        f"{case.brief.body_kg:g} kg, {case.brief.sessions_per_week:g} times a week: about {wanted:.0f} N·mm per degree."
    )


RULES: tuple[Rule, ...] = (
    Rule("ice.boot", lambda c: True, _boot, _boot_text, "CP"),
    Rule("ice.creased", lambda c: c.brief.creased, (Move("bend_n_mm_per_deg", 60, 80), Weigh("bend_n_mm_per_deg", 0.4)),
         "Creases at the quarter near the eyelets: too soft for this skater, or worn out.", "CP"),
    Rule("ice.counter", lambda c: True, (Band("heel_counter", 7, 10, 1.0),), "The heel locked.", "CP"),
    Rule("ice.twist", lambda c: True, (Band("twist_n_mm_per_deg", 300, 600, 0.6),),
         "Nothing wrings between foot and steel.", "HD"),
    Rule("ice.collar", lambda c: True, (Band("collar_mm", 110, 150, 0.6),), "Over the ankle, free to bend forward.",
         "HD"),
    Rule("ice.ankle", lambda c: c.has("ankle"), (Limit("heel_counter", least=8), Weigh("bend_n_mm_per_deg", 0.4)),
         "Ankle history: support at the sides.", "CP"),
    Rule("ice.cushion", lambda c: True, (Band("cushion", 1, 4, 0.3),), "Comfort comes second, after fit.", "CP"),
    Rule("ice.heel_pain", lambda c: c.has("heel_pain"), (Move("cushion", 1, 1.5),),
         "Heel pain: more cushion under it.", "CP"),
    Rule("ice.closure", lambda c: True, (Rank("closure", "laces", 1.0), Rank("closure", "dial", 0.4)),
         "Laces, tighter at the ankle than over the toes.", "HD"),
    Rule("ice.uppers", lambda c: True,
         (Rank("upper", "synthetic", 1.0), Rank("upper", "microfibre", 0.7), Rank("upper", "leather_lined", 0.6)),
         "A stiff quarter holds its shape; leather moulds, and softens.", "HD"),
    Rule("ice.upper_comfort", lambda c: c.brief.level == "new" or c.brief.sessions_per_week <= SELDOM,
         (Rank("upper", "leather_lined", 0.3),), "Skated now and then: comfort counts more.", "HD"),
    Rule("ice.mass", lambda c: True, (Band("mass_g", 520, 700, 0.2),), "Weight counts last.", "HD"),
    Rule("ice.light", lambda c: c.brief.level == "competitive", (Move("mass_g", -40, -40), Weigh("mass_g", 0.3)),
         "Competing: lighter tires later.", "HD"),
    Rule("ice.heat_mould", lambda c: not c.unfelt, (Want("heat_mould", 0.5), Caution("spec")),
         "Skates may be heat-moulded here, with the maker's own equipment and procedure; never in a home oven.", "MEM"),
    Rule("ice.not_moulded", lambda c: c.unfelt, (Avoid("heat_mould", 0.5), Caution("spec")),
         "Not moulded on a foot that doesn't feel: it feels neither the heat nor where it presses.", "MEM"),
    Rule("ice.toe_room", lambda c: True, lambda c: (Band("toe_room_mm", *c.house.room("ice")),),
         "Toes just brush the cap standing, and clear it in a knee bend.", "MEM"),
    Rule("ice.room", lambda c: True,
         (Band("ball_room_mm", -6, 3), Band("instep_room_mm", -9, 3), Band("heel_room_mm", -4, 0.5)),
         "Close all round, no heel lift.", "HD"),
    Rule("ice.narrow", lambda c: c.volume("low"), (Move("ball_room_mm", -1, -1), Move("heel_room_mm", -0.5, -0.5)),
         "Of the three families of a line: the narrow one.", "CP"),
    Rule("ice.wide", lambda c: c.volume("high"), (Move("ball_room_mm", 1, 1.5), Move("instep_room_mm", 1, 1)),
         "Of the three families of a line: the wide one.", "CP"),
    Rule("ice.bunion", lambda c: c.bunion, (Move("ball_room_mm", 1, 1.5),),
         "A bump at the big toe: room there, punched out if need be.", "CP"),
    Rule("ice.families", lambda c: c.volume("low") or c.volume("high"), (Want("width_choice", 0.4),),
         "A line that comes in three families of volume.", "CP"),
    Rule("ice.custom", lambda c: c.odd_feet, (Want("custom_made", 0.3), Caution("feet")),
         "Feet further apart than a pair is made: where no family fits, a boot made to measure is the last resort.",
         "CP"),
    Rule("ice.toe_box", lambda c: True, (Band("toe_box_mm", -20, -8, 0.3),), "Toes flat, side by side.", "HD"),
    Rule("ice.rules", lambda c: c.brief.level == "competitive", (Caution("level"),),
         "The league's equipment rules come first.", "CP"),
    Rule("ice.cold_numb", lambda c: c.unfelt, (Limit("instep_room_mm", least=1),),
         "Cold and tight laces numb first: room over the instep.", "HD"),
)  # fmt: skip
