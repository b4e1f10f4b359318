"""Cautions of every sport: when to refer on, and what a shoe is not."""

from __future__ import annotations

from .engine import Case, Caution, Rule


def _always(_: Case) -> bool:
    return True


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
    Rule("caution.pain", lambda c: c.has("heel_pain", "forefoot", "achilles"), (Caution("history"),),
         "Pain that lasts belongs to a clinician; the shoe only spares it.", "CP"),
    Rule("caution.build_up", _always, (Caution("spec"),),
         "Changes of heel, stiffness or downturn: build up over weeks, the body adapts slowly.", "CP"),
)  # fmt: skip
