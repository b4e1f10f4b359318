"""What holds in every sport: when to refer on, what a shoe is not, and what the feet themselves ask for."""

from __future__ import annotations

from ..feet.cautions import CONCERNS, REFER, cautions_of
from .engine import Case, Caution, Effect, Move, Rank, Rule, Weigh

NARROW_HEEL, LONG_THIN, WIDE_FORE = 0.235, 0.375, 0.405
"""Heel width, and ball width below and above which a foot counts so, shares of length. House defaults."""
SLACK_HARMS = ("climbing", "ice")
"""Where room to grow does harm."""
CUTS = ("football", "court", "field")
"""Where slack does harm in cutting: a little room to grow, no more."""
NEW_HEIGHTS = {
    "climbing": "Another downturn or stiffness", "lifting": "Another heel", "cycling": "Another sole and stack",
    "football": "Another plate or stiffness", "court": "Another heel or stiffness", "field": "Another sole",
    "ice": "Another boot",
}  # fmt: skip
"""What the body has to get used to, by sport."""


def _always(_: Case) -> bool:
    return True


def _room_to_grow(c: Case) -> tuple[Effect, ...]:
    most = 2.0 if c.brief.sport in CUTS else 4.0
    return (Move("toe_room_mm", 0, most), Move("toe_room_leather_mm", 0, most))


def _called_for(c: Case, slug: str) -> bool:
    """Whether the feet call for it, by a tick or by a word in the note."""
    return c.feet is not None and f"caution.{slug}" in {found.rule for found in cautions_of(c.feet)}


def _share_below(c: Case, name: str, limit: float) -> bool:
    share = c.share_of_length(name)
    return share is not None and share < limit


def _share_above(c: Case, name: str, limit: float) -> bool:
    share = c.share_of_length(name)
    return share is not None and share > limit


RULES: tuple[Rule, ...] = (
    Rule("caution.numbness", lambda c: c.has("numbness"), (Caution("history", True),),
         f"Numb or tingling toes: {REFER}", "CP"),
    Rule("caution.diabetes", lambda c: c.has("diabetes"), (Caution("history", True),),
         f"Diabetes or poor circulation: {REFER}", "CP"),
    Rule("caution.surgery", lambda c: c.has("surgery"), (Caution("history", True),),
         f"A recent operation: {REFER}", "CP"),
    Rule("caution.wounds", lambda c: _called_for(c, "wounds"), (Caution("feet", True),), CONCERNS["wounds"], "CP"),
    Rule("caution.feet_pain", lambda c: _called_for(c, "pain"), (Caution("feet", True),), CONCERNS["pain"], "CP"),
    Rule("caution.feet_circulation", lambda c: _called_for(c, "circulation"), (Caution("feet", True),),
         CONCERNS["circulation"], "CP"),
    Rule("caution.feet_surgery", lambda c: _called_for(c, "surgery"), (Caution("feet", True),),
         CONCERNS["surgery"], "CP"),
    Rule("caution.growing_pains", lambda c: _called_for(c, "growing_pains"), (Caution("feet", True),),
         CONCERNS["growing_pains"], "CP"),
    Rule("caution.pain", lambda c: c.has("heel_pain", "forefoot", "achilles", "knee", "ankle", "back", "hip"),
         (Caution("history"),), "Pain that lasts: see a clinician; a shoe can only ease it.", "CP"),
    Rule("caution.child_heel", lambda c: c.brief.growing and c.has("heel_pain"), (Caution("history", True),),
         f"Heel pain while still growing: {REFER}", "CP"),
    Rule("caution.build_up", _always, (Caution("spec"),),
         lambda c: f"{NEW_HEIGHTS[c.brief.sport]}: build up over weeks, the body adapts slowly.", "CP"),
    Rule("caution.no_oven", lambda c: c.brief.level == "new" or c.does("badminton"), (Caution("spec"),),
         "Never soften a shoe in an oven or with close heat: burns, fire, and the glue lets go.", "CP"),
    Rule("feet.narrow_heel", lambda c: _share_below(c, "heel_width_mm", NARROW_HEEL),
         (Rank("closure", "laces", 0.2), Rank("closure", "laces_strap", 0.2)),
         "A narrow heel: laces or a strap put the tension where it is wanted.", "CP"),
    Rule("feet.wide_fore_narrow_heel",
         lambda c: _share_below(c, "heel_width_mm", NARROW_HEEL + 0.01)
         and _share_above(c, "ball_width_mm", WIDE_FORE),
         (Caution("feet"),), "Wide in front, narrow at the heel: look for that shape, a wide size only adds slack.",
         "CP"),
    Rule("feet.long_thin", lambda c: _share_below(c, "ball_width_mm", LONG_THIN), (Caution("feet"),),
         "Long thin feet: in a wide last an insole takes up the volume.", "CP"),
    Rule("feet.low_volume", lambda c: c.volume("low"), (Caution("feet"),),
         "Low volume: the lower-volume version of a line, whatever the label on the box says.", "CP"),
    Rule("feet.high_volume", lambda c: c.volume("high"), (Caution("feet"),),
         "High volume: the fuller version of a line, whatever the label on the box says.", "CP"),
    Rule("feet.flat_structure", lambda c: c.arch("low"),
         (Move("twist_n_mm_per_deg", 50, 50), Move("heel_counter", 0.5, 0.5), Weigh("twist_n_mm_per_deg", 0.2)),
         "A low arch wants more structure: less wringing, a firmer heel.", "CP"),
    Rule("feet.high_arch", lambda c: c.arch("high") and c.brief.sport not in ("court", "cycling"),
         (Move("cushion", 0.5, 0.5),),
         "A high, stiff arch wants more cushion; and never a flat-arched shoe under it.", "CP"),
    Rule("growing.room", lambda c: c.brief.growing and c.brief.sport not in SLACK_HARMS
         and not (c.brief.sport == "court" and c.school("court_size") == "half_up"), _room_to_grow,
         lambda c: "Still growing: 2 mm at most, for slack does harm in cutting." if c.brief.sport in CUTS
         else "Still growing: a little more room in front does no harm here.", "HD"),
    Rule("growing.no_room", lambda c: c.brief.growing and c.brief.sport in SLACK_HARMS, (Caution("growing"),),
         "Still growing, but slack does harm here: fit it now, and measure again in three months.", "HD"),
    Rule("growing.measure", lambda c: c.brief.growing and c.brief.sport not in SLACK_HARMS, (Caution("growing"),),
         "Still growing: measure again in three months.", "HD"),
)  # fmt: skip
