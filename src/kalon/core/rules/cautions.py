"""Cautions of every sport: when to refer on, and what a shoe is not."""

from __future__ import annotations

from .engine import Case, Caution, Rule


def _always(_: Case) -> bool:
    return True


def _concern(c: Case, slug: str) -> bool:
    return bool(c.feet and slug in c.feet.concerns)


REFER = "before fitting tight or changing the heel, have a physician, physiotherapist or podiatrist look."

RULES: tuple[Rule, ...] = (
    Rule("caution.numbness", lambda c: c.has("numbness"), (Caution("history", True),),
         f"Numb or tingling toes: {REFER}", "CP"),
    Rule("caution.diabetes", lambda c: c.has("diabetes"), (Caution("history", True),),
         f"Diabetes or poor circulation: {REFER}", "CP"),
    Rule("caution.surgery", lambda c: c.has("surgery"), (Caution("history", True),),
         f"A recent operation: {REFER}", "CP"),
    Rule("caution.wounds", lambda c: bool(c.feet and c.feet.wounds_or_numbness), (Caution("feet", True),),
         f"Wounds or numb spots on the feet: {REFER}", "CP"),
    Rule("caution.feet_pain", lambda c: _concern(c, "pain"), (Caution("feet", True),),
         f"Pain that lasts: {REFER}", "CP"),
    Rule("caution.feet_circulation", lambda c: _concern(c, "circulation"), (Caution("feet", True),),
         f"Diabetes or poor circulation: {REFER}", "CP"),
    Rule("caution.feet_surgery", lambda c: _concern(c, "surgery"), (Caution("feet", True),),
         f"A recent operation or acute injury: {REFER}", "CP"),
    Rule("caution.growing_pains", lambda c: _concern(c, "growing_pains"), (Caution("feet", True),),
         f"A child's growing pains: {REFER}", "CP"),
    Rule("caution.pain", lambda c: c.has("heel_pain", "forefoot", "achilles"), (Caution("history"),),
         "Pain that lasts belongs to a clinician; the shoe only spares it.", "CP"),
    Rule("caution.build_up", _always, (Caution("spec"),),
         "Changes of heel, stiffness or downturn: build up over weeks, the body adapts slowly.", "CP"),
)  # fmt: skip
