"""Ice: fit, then comfort, then support; a boot as stiff as the body and the hours in it ask."""

from __future__ import annotations

from .engine import Avoid, Band, Case, Caution, Effect, Limit, Move, Rank, Rule, Want, Weigh

JUMPS: dict[str, float] = {
    "figure": 0.95,
    "figure_single": 1.1,
    "figure_double": 1.25,
    "figure_triple": 1.4,
    "rink": 0.9,
}
"""How jumps, or a round now and then, change the boot. House defaults; the direction from memory."""
FIGURE = ("figure", "figure_single", "figure_double", "figure_triple")
LEVEL_SHARE = {"new": 0.92, "club": 1.0, "competitive": 1.18}
SELDOM, OFTEN = 1.0, 4.0
SPAN = 0.14
CREASED_STIFFER = 70.0
"""How level, hours and a boot that creased change the boot. House defaults."""
IN_HAND = ((240.0, "soft"), (420.0, "firm"))
"""What a boot is called up to a stiffness, as a hand finds it. House default."""


def boot(case: Case) -> float:
    """Wanted stiffness, N·mm per degree: body first, level and hours after it; more where the present one creases."""
    brief = case.brief
    share = LEVEL_SHARE[brief.level] * JUMPS.get(brief.discipline, 1.0)
    hours = 0.94 if brief.sessions_per_week <= SELDOM else 1.08 if brief.sessions_per_week >= OFTEN else 1.0
    wanted = case.house["ice.boot_per_kg"] * brief.body_kg * share * hours
    return min(max(wanted + (CREASED_STIFFER if case.has("creased") else 0.0), 150), 780)


def _boot(case: Case) -> tuple[Effect, ...]:
    wanted = boot(case)
    return (Band("bend_n_mm_per_deg", wanted * (1 - SPAN), wanted * (1 + SPAN), 1.4),)


def _boot_text(case: Case) -> str:
    wanted = boot(case)
    word = next((w for upto, w in IN_HAND if wanted < upto), "stiff")
    return (
        f"A {word} boot: body and hours decide, not level alone; a heavy beginner needs a stiff one. "
        f"{case.brief.body_kg:g} kg, {case.brief.sessions_per_week:g} times a week: about {wanted:.0f} N·mm per degree."
    )


LIGHT_KG, HEAVY_KG = 65.0, 90.0
"""Up to which a skater is light on the blade, and from which heavy. House defaults."""


def _grind_text(case: Case) -> str:
    """How a blade is ground for a body, and the commonest fault."""
    kg = case.brief.body_kg
    hollow = "3/8 to 1/2 inch" if kg <= LIGHT_KG else "5/8 to 3/4 inch" if kg >= HEAVY_KG else "1/2 to 5/8 inch"
    return f"Blades: a hollow of {hollow} at {kg:g} kg, a rocker of 9 to 11 ft. Blunt blades are the commonest fault."


RULES: tuple[Rule, ...] = (
    Rule("ice.boot", lambda c: True, _boot, _boot_text, "CP"),
    Rule("ice.creased", lambda c: c.has("creased"),
         (Weigh("bend_n_mm_per_deg", 0.4),),
         "The present boot creases at the quarter near the eyelets: it is too soft for this skater, or worn out; the "
         "next one is stiffer.", "CP"),
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
    Rule("ice.mould_rest", lambda c: not c.unfelt, (Caution("spec"),),
         "A moulded boot rests for a day before it is skated in.", "MEM"),
    Rule("ice.grind", lambda c: True, (Caution("body_kg"),), _grind_text, "MEM"),
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
    Rule("ice.figure", lambda c: c.does(*FIGURE),
         (Band("drop_mm", 14, 22, 0.6), Rank("upper", "leather_lined", 0.6), Weigh("heel_counter", 0.3)),
         lambda c: "Figure: a heel of its own height, and a boot stiffer with every turn in the air; "
         f"{'no jumps yet' if c.does('figure') else 'by the jumps that are landed'}.", "MEM"),
    Rule("ice.rink", lambda c: c.does("rink"),
         (Weigh("cushion", 0.4), Move("cushion", 0.5, 1), Want("heat_mould", 0.1), Caution("spec")),
         "A public rink: a stiff ankle, a finger behind the heel in the knee bend, no lift. Hired blades are mostly "
         "blunt: look at them first.", "MEM"),
    Rule("ice.rules", lambda c: c.brief.level == "competitive", (Caution("level"),),
         "The league's equipment rules come first.", "CP"),
    Rule("ice.cold_numb", lambda c: c.unfelt, (Limit("instep_room_mm", least=1),),
         "Cold and tight laces numb first: room over the instep.", "HD"),
)  # fmt: skip
