"""Cautions of every sport: when to refer on, and what a shoe is not."""

from __future__ import annotations

from ..feet.cautions import CONCERNS, REFER, cautions_of
from .engine import Case, Caution, Rule


def _always(_: Case) -> bool:
    return True


def _called_for(c: Case, slug: str) -> bool:
    """Whether the feet call for it, by a tick or by a word in the note."""
    return c.feet is not None and f"caution.{slug}" in {found.rule for found in cautions_of(c.feet)}


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
    Rule("caution.pain", lambda c: c.has("heel_pain", "forefoot", "achilles"), (Caution("history"),),
         "Pain that lasts belongs to a clinician; the shoe only spares it.", "CP"),
    Rule("caution.build_up", _always, (Caution("spec"),),
         "Changes of heel, stiffness or downturn: build up over weeks, the body adapts slowly.", "CP"),
)  # fmt: skip
