"""What holds in every sport: when to refer on, what a shoe is not, and what the feet themselves ask for."""

from __future__ import annotations

from ..contract import Mark
from ..feet.cautions import CONCERNS, REFER
from ..feet.growth import months_to_half_size
from ..feet.noted import Slug
from ..sports.every import facts_of
from ..sports.facts import Slack
from .engine import Avoid, Band, Case, Caution, Effect, Limit, Move, Need, Rank, Rule, Want, Weigh
from .lifting import RUNS, UNDER_LOAD
from .scales import ROOMS

NARROW_HEEL, LONG_THIN, WIDE_FORE = 0.235, 0.375, 0.405
"""Heel width, and ball width below and above which a foot counts so, shares of length. House defaults."""
LITTLE_TO_GROW_MM, ROOM_TO_GROW_MM = 2.0, 4.0
"""Room to grow where slack does harm, and where it does none. House defaults."""


def _always(_: Case) -> bool:
    return True


VERY_HEAVY_KG = 100.0
"""From here a shoe is worn out sooner and stood on harder. From memory."""
HEEL_SETTING_MM = 3.0
"""How far a heel may lie from the one a prosthesis is set to. From memory."""


def _set_heel(c: Case) -> tuple[Effect, ...]:
    """The drop of the shoe they walk in now, give or take what a prosthesis bears."""
    drop = c.present_drop_mm
    told = (Caution("present", True),)
    if drop is None:
        return told
    return (Limit("drop_mm", least=max(drop - HEEL_SETTING_MM, 0), most=max(drop + HEEL_SETTING_MM, 1)), *told)


def _older(c: Case) -> str:
    """Older, and how that is known: what was ticked says more than a date of birth."""
    said = c.concerns["older"].said
    return f"Older{said}" if said else "Older, and feels it the day after"


def _lifts(c: Case) -> str:
    """What eases a tendon: where a high heel tips nobody over, a higher drop too."""
    return "a drop of 8–10 mm or lifts" if c.does(*RUNS) else "thin lifts"


def _slack(c: Case) -> Slack:
    return facts_of(c.brief.sport).slack


def _foam(c: Case) -> bool:
    return facts_of(c.brief.sport).foam


def _own(c: Case, care: str) -> bool:
    """Whether the sport's own rules answer this."""
    return care in facts_of(c.brief.sport).own_cares


def _sized_up(c: Case) -> bool:
    """Whether the side taken of a school gives room by itself."""
    found = facts_of(c.brief.sport).sized_up
    return found is not None and c.school(found[0]) == found[1]


def _held(c: Case) -> bool:
    """Whether a foot that slides does harm here: in cuts, and under a bar."""
    return _slack(c) == "little" or c.does(*UNDER_LOAD)


UNTIL_THEN = "three months"
"""When feet that grow are measured again where nobody knows how old they are. House default."""


def again_words(c: Case) -> str:
    """When to measure growing feet again: by how fast feet of that age grow."""
    if c.age_years is None:
        return f"measure again in {UNTIL_THEN}; the date of birth would say when"
    months = months_to_half_size(c.age_years)
    after = f"{months} months" if months > 1 else "a month"
    return f"measure again in {after}, when half a size is used up as feet usually grow at {c.age_years:.0f}"


def _room_to_grow(c: Case) -> tuple[Effect, ...]:
    most = LITTLE_TO_GROW_MM if _held(c) else ROOM_TO_GROW_MM
    return (Move("toe_room_mm", 0, most), Move("toe_room_leather_mm", 0, most))


def _referred(slug: Slug, id_: str = "", then: str = REFER, mark: Mark = "CP") -> Rule:
    """A clinician first, whichever door the concern came in by: its own words are said back."""
    return Rule(
        id_ or f"caution.{slug}", lambda c: c.has(slug), lambda c: (Caution(c.concerns[slug].about, True),),
        lambda c: f"{CONCERNS[slug]}{c.concerns[slug].said}: {then}", mark,
    )  # fmt: skip


MOST_SPARED_MM = {"ball_room_mm": 9.0, "instep_room_mm": 8.0, "heel_room_mm": 2.5}
"""Room up to which a foot that doesn't feel is still held: slack rubs, and isn't felt either. House default."""
WIDE_TOES_MM = -16.0
"""The narrowest toe box over such toes, width at the toes less ball width. House default."""
UNFELT_CARE = (
    "“Feels fine” proves nothing on a foot that doesn't feel: nothing presses in any zone, a deep toe, smooth inside, "
    "no moulding on the foot. First wear one to two hours, then look at the skin; red for longer than 20–30 minutes: "
    "stop, and have a podiatrist look."
)


def _nothing_presses(_: Case) -> tuple[Effect, ...]:
    """No zone below nought, new or settled: a gap that settles at nought or more has never pressed."""
    return (
        *(Limit(name, least=0.0, most=MOST_SPARED_MM.get(name)) for name in ROOMS),
        Limit("toe_box_mm", least=WIDE_TOES_MM), Weigh("toe_box_mm", 0.3),
    )  # fmt: skip


def _share_below(c: Case, name: str, limit: float) -> bool:
    share = c.share_of_length(name)
    return share is not None and share < limit


def _share_above(c: Case, name: str, limit: float) -> bool:
    share = c.share_of_length(name)
    return share is not None and share > limit


ARCH_BANDS = {"low": (0.5, 4.0), "medium": (2.5, 6.5), "high": (5.0, 9.0)}
"""Support under each arch, of 10. House defaults."""
REFERENCE_FOOT_MM = 265.0
"""The foot whose shoe the masses of the rulebook are of. House default."""


def _one_arch(c: Case) -> str | None:
    """The arch of both feet, or of the one that was looked at; none where they are unlike or the shoe has none."""
    found = c.arches
    return next(iter(found)) if len(found) == 1 and _has_insole(c) else None


def _arch_band(c: Case) -> tuple[Effect, ...]:
    weight = 1.2 if c.does(*RUNS) else 0.6
    return (Band("arch_support", *ARCH_BANDS[_one_arch(c) or "medium"], weight),)


ARCH_TEXTS = {
    "low": "A low arch: hardly a bridge under it; a high one presses and leads to injury.",
    "medium": "A usual arch: a usual bridge under it.",
    "high": "A high arch: a bridge that reaches it; a flat shoe under it leads to injury.",
}


def _has_insole(c: Case) -> bool:
    return facts_of(c.brief.sport).insole


def _toes(c: Case) -> set[str]:
    return {t for t in (c.feet.left.toe_shape, c.feet.right.toe_shape) if t} if c.feet else set()


def heavier_g(c: Case) -> float:
    """How much more the shoe of this foot weighs than that of the reference foot, g; as its length squared."""
    if c.feet is None or not (c.feet.left.length_mm or c.feet.right.length_mm):
        return 0.0
    return float(facts_of(c.brief.sport).usual_g * ((c.foot_mm / REFERENCE_FOOT_MM) ** 2 - 1))


RULES: tuple[Rule, ...] = (
    _referred("numbness"), _referred("diabetes"), _referred("surgery"), _referred("wounds"),
    _referred("pain", "caution.feet_pain"), _referred("growing_pains"), _referred("swelling"), _referred("gout"),
    _referred("ingrown_nail"),
    _referred("cruciate", then="cleared by its clinician first, commonly nine months at least; then the sole that "
              "turns easiest.", mark="MEM"),
    Rule("feet.unfelt", lambda c: c.unfelt, _nothing_presses,
         "A foot that doesn't feel: nothing presses, new or settled, in any zone; wide and deep over the toes.", "MEM"),
    Rule("feet.unfelt_care", lambda c: c.unfelt, (Caution("spec"),), UNFELT_CARE, "MEM"),
    Rule("caution.pain", lambda c: c.has("heel_pain", "forefoot", "achilles", "knee", "ankle", "back", "hip"),
         (Caution("history"),), "Pain that lasts: see a clinician; a shoe can only ease it.", "CP"),
    Rule("caution.pregnancy", lambda c: c.has("pregnancy"), (Caution("note"),),
         lambda c: f"Pregnant{c.concerns['pregnancy'].said}: feet often end 2–10 mm longer and fuller, for good. Fit "
         "for now, late in the day, with a closure that lets out; measure again after it.", "MEM"),
    Rule("caution.prosthesis", lambda c: c.has("prosthesis"), _set_heel,
         lambda c: f"A prosthesis{c.concerns['prosthesis'].said}: it is set to one heel height, and more than "
         f"{HEEL_SETTING_MM:g} mm off it tips the leg. " + ("Kept to the present shoe's drop; its" if
         c.present_drop_mm is not None else "Measure the present shoe's drop; the") + " prosthetist decides.",
         "MEM"),
    Rule("caution.child_heel", lambda c: c.growing and c.has("heel_pain"), (Caution("history", True),),
         f"Heel pain while still growing: {REFER}", "CP"),
    Rule("caution.build_up", _always, (Caution("spec"),),
         lambda c: f"{facts_of(c.brief.sport).new_height}: build up over weeks, the body adapts slowly.", "CP"),
    Rule("caution.no_oven", lambda c: c.brief.level == "new" or c.does("badminton"), (Caution("spec"),),
         "Never soften a shoe in an oven or with close heat: burns, fire, and the glue lets go.", "CP"),
    Rule("feet.narrow_heel", lambda c: _share_below(c, "heel_width_mm", NARROW_HEEL),
         lambda c: (*(Rank("closure", way, 0.2) for way in ("laces", "laces_strap", "strap_1", "strap_2", "strap_3")),
                    *((Want("high_eyelet", 0.4), Want("heel_tab", 0.3)) if _has_insole(c) else ())),
         "A narrow heel: laces or a strap put the tension where it is wanted.", "CP"),
    Rule("feet.wide_fore_narrow_heel",
         lambda c: _share_below(c, "heel_width_mm", NARROW_HEEL + 0.01)
         and _share_above(c, "ball_width_mm", WIDE_FORE),
         (Want("width_choice", 0.3), Caution("feet")),
         "Wide in front, narrow at the heel: look for that shape, a wide size only adds slack.", "CP"),
    Rule("feet.long_thin", lambda c: _share_below(c, "ball_width_mm", LONG_THIN),
         lambda c: (Caution("feet"), *((Want("removable_insole", 0.3),) if _has_insole(c) else ())),
         lambda c: "Long thin feet: in a wide last an insole takes up the volume." if _has_insole(c)
         else "Long thin feet: a narrow last; no insole goes in to take up a wide one.", "CP"),
    Rule("feet.low_volume", lambda c: c.volume("low"),
         (Want("low_volume_version", 0.6), Caution("feet")),
         "Low volume: the lower-volume version of a line, whatever the label on the box says.", "CP"),
    Rule("feet.high_volume", lambda c: c.volume("high"),
         (Want("width_choice", 0.4), Avoid("low_volume_version", 0.5), Caution("feet")),
         "High volume: the fuller version of a line, whatever the label on the box says.", "CP"),
    Rule("feet.flat_structure", lambda c: c.arch("low"),
         lambda c: (Move("twist_n_mm_per_deg", 50, 50), Move("heel_counter", 0.5, 0.5),
                    Weigh("twist_n_mm_per_deg", 0.2), Move("last_curve_deg", -2, -2),
                    *((Want("shank", 0.3),) if _has_insole(c) else (Rank("midsole", "full", 0.3),)),
                    *((Want("bridged_midsole", 0.3),) if c.does(*RUNS) else ())),
         "A low arch wants more structure: less wringing, a firmer heel.", "CP"),
    Rule("feet.high_arch", lambda c: c.arch("high") and not _own(c, "high_arch")
         and not c.does(*UNDER_LOAD), (Move("cushion", 0.5, 0.5),),
         "A high, stiff arch wants more cushion; and never a flat-arched shoe under it.", "CP"),
    Rule("feet.high_arch_loaded", lambda c: c.arch("high") and c.does(*UNDER_LOAD),
         (Want("removable_insole", 0.4), Caution("feet")),
         "A high arch under load: an insole that carries it, firm; no foam, which sways under a bar.", "CP"),
    Rule("feet.older", lambda c: c.has("older") and _foam(c),
         (Move("cushion", 0.4, 0.6),), lambda c: f"{_older(c)}: a little more cushion.", "HD"),
    Rule("caution.older", lambda c: c.has("older") and not _foam(c) and not _own(c, "older"),
         (Caution("history"),), lambda c: f"{_older(c)}: comfort before performance, and build up slowly.", "HD"),
    Rule("feet.arch", lambda c: _one_arch(c) is not None, _arch_band, lambda c: ARCH_TEXTS[_one_arch(c) or "medium"],
         "CP"),
    Rule("feet.arches_unlike", lambda c: len(c.arches) > 1 and _has_insole(c),
         (Want("removable_insole", 0.4), Caution("feet")),
         "The arches are unlike: an insole that comes out, and one of its own for each foot.", "HD"),
    Rule("feet.orthosis", lambda c: c.has("orthosis") and _has_insole(c),
         (Need("removable_insole"), Caution("history")),
         "A prescribed insole: the shoe's own must come out, and it is tried with the prescribed one in.", "CP"),
    Rule("feet.orthosis_deep", lambda c: c.has("orthosis") and _has_insole(c),
         (Move("collar_mm", 2, 4), Move("heel_counter", 0.3, 0.3)),
         "A prescribed insole lifts the heel by 3–6 mm: a deep heel, or it slips.", "MEM"),
    Rule("feet.ankle_brace", lambda c: c.has("ankle") and facts_of(c.brief.sport).turns_ankles,
         (Caution("history"),),
         "A sprained ankle: a brace or tape for a year about halves its return; if one is worn, fit with it in.",
         "MEM"),
    Rule("feet.forefoot_box", lambda c: c.has("forefoot") and facts_of(c.brief.sport).toes_spread,
         (Move("toe_box_mm", 2, 3), Caution("history")),
         "A sore ball or a neuroma: wide over the toes, and a pad behind the heads of the toes, not under them.",
         "MEM"),
    Rule("feet.stiff_toe", lambda c: c.has("stiff_toe"),
         lambda c: (Caution("note"),) if facts_of(c.brief.sport).by_body
         else (Caution("note"), Move("bend_n_mm_per_deg", 40, 60)),
         lambda c: f"A stiff big toe{c.concerns['stiff_toe'].said}: a forefoot that bends little, or rolls.",
         "MEM"),
    Rule("feet.leg_length", lambda c: c.has("leg_length"), (Caution("note"),),
         lambda c: f"Legs of unlike length{c.concerns['leg_length'].said}: from about 6 mm a shim; a clinician says "
         "how much.", "MEM"),
    Rule("feet.very_heavy",
         lambda c: c.brief.body_kg >= VERY_HEAVY_KG and (_foam(c) or c.does(*RUNS, "mixed_training")),
         (Move("heel_flare", 0.02, 0.02), Weigh("twist_n_mm_per_deg", 0.2), Caution("body_kg")),
         f"From {VERY_HEAVY_KG:g} kg: firm foam rather than soft, a wide base, and another pair sooner.", "MEM"),
    Rule("feet.achilles_drop", lambda c: c.has("achilles") and (_foam(c) or c.does(*RUNS)), (Caution("history"),),
         lambda c: f"Achilles trouble: {_lifts(c)} in both shoes ease it, weaned over weeks; a clinician first.",
         "MEM"),
    Rule("growing.heel_lift", lambda c: c.growing and c.has("heel_pain") and _has_insole(c), (Caution("history"),),
         "Heel pain at 8 to 14: until a clinician has looked, cushion and a lift of 6–10 mm in both shoes.", "MEM"),
    Rule("feet.heel_pain", lambda c: c.has("heel_pain") and _has_insole(c), (Want("removable_insole", 0.8),),
         "Heel pain: an insole that comes out.", "CP"),
    Rule("feet.toes", lambda c: bool(_toes(c) & {"square", "second_longest"}),
         (Move("toe_box_mm", 3, 3), Weigh("toe_box_mm", 0.2)),
         lambda c: "Square toes: a toe box wide to the end." if "square" in _toes(c)
         else "The second toe is the longest: room at the middle of the toe box, not at its inner side.", "CP"),
    Rule("feet.bunion_box", lambda c: c.bunion, (Move("toe_box_mm", 2, 3), Weigh("toe_box_mm", 0.3)),
         "A bump at the big toe: a wider toe box.", "CP"),
    Rule("feet.mass", lambda c: abs(heavier_g(c)) >= 5, lambda c: (Move("mass_g", heavier_g(c), heavier_g(c)),),
         lambda c: "A longer shoe weighs more: weight goes with size." if heavier_g(c) > 0
         else "A shorter shoe weighs less: weight goes with size.", "HD"),
    Rule("growing.room", lambda c: c.growing and _slack(c) != "harms"
         and not _sized_up(c), _room_to_grow,
         lambda c: f"Still growing: {LITTLE_TO_GROW_MM:g} mm at most, for slack does harm "
         f"{'in cutting' if _slack(c) == 'little' else 'under load'}." if _held(c)
         else "Still growing: a little more room in front does no harm here.", "HD"),
    Rule("growing.no_room", lambda c: c.growing and _slack(c) == "harms", (Caution("growing"),),
         lambda c: f"Still growing, but slack does harm here: fit it now, and {again_words(c)}.", "HD"),
    Rule("growing.measure", lambda c: c.growing and _slack(c) != "harms", (Caution("growing"),),
         lambda c: f"Still growing: {again_words(c)}.", "HD"),
)  # fmt: skip
