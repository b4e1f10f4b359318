"""The page of schools by disciplines, docs/schools.md: what each side moves, or why not: `python -m tests.core.schools`."""

from __future__ import annotations

from pathlib import Path

from kalon.core.feet.gauge import Feet
from kalon.core.rules.brief import Brief
from kalon.core.rules.changes import CHOICE_NAMES, changes, value_word
from kalon.core.rules.engine import Spec
from kalon.core.rules.spec import plain_answers, spec_for
from kalon.core.rules.words import SPORTS, School, Sport
from tests.made import FEET

PAGE = Path(__file__).parents[2] / "docs" / "schools.md"
HEAD = """# Schools by disciplines

Made from the rulebook by `python -m tests.core.schools`; a test compares. For each school and each side that isn't the
house's: what it moves first in a plain brief of the discipline, or why it moves nothing there.
"""
OTHERWISE = {
    "price": "It orders the shelves and moves no band.",
    "softening": "It changes the break-in plan and moves no band.",
}
"""Schools whose sides differ elsewhere than in the spec."""
WHY_NOT: dict[tuple[str, str], str] = {
    ("football", "turf_on_artificial"): "Nubs there are left as they are.",
    ("climbing", "climbing_fit"): "Not fitted tight: this terrain is climbed in a shoe one keeps on.",
    ("climbing", "boulder_closure"): "Shoes stay on between tries: closure is chosen for the day.",
    ("climbing", "training_pair"): "It is about what one trains in: mileage and board.",
    ("lifting", "squat_heel"): "The school is about squats; here the heel goes with the work.",
    ("cycling", "cycling_stiffness"): "Town and downhill want a sole that gives, whatever the budget.",
    ("court", "court_size"): "Fencing is never sized up.",
    ("court", "ankle"): "Never mid or high tops for fencing: weight.",
    ("field", "batter_spikes"): "Only a batter on grass has the choice.",
    ("field", "ankle"): "A fast bowler's ankle is held high either way.",
}
"""Why a side may move nothing in a discipline."""


def moves(sport: Sport, discipline: str, school: School, side: str, feet: Feet | None = FEET) -> list[str]:
    """What a side moves against the house's, on the first plain brief of the discipline where it moves anything."""
    for answers in [*plain_answers(sport), *(a | {"wet": True} for a in plain_answers(sport))]:
        usual = {"sport": sport, "discipline": discipline, "body_kg": 70, **answers}
        was = spec_for(Brief.model_validate(usual), feet)
        now = spec_for(Brief.model_validate(usual | {"schools": {school.slug: side}}), feet)
        said = changes(was, now)
        told = {c.text for c in now.cautions} ^ {c.text for c in was.cautions}
        where = ", when wet" if "wet" in answers else ""
        if found := said or _scores(was, now) or [f"says: {t}" for t in sorted(told)[:1]]:
            return [f"{found[0]}{where}", *found[1:]]
    return []


def _scores(was: Spec, now: Spec) -> list[str]:
    """The choice whose score moves furthest, where its first stays first."""
    apart = []
    for name, ranked in now.choices.items():
        before = {c.value: c.score for c in was.choices.get(name, [])}
        apart += [(abs(c.score - before.get(c.value, 0)), name, c, before.get(c.value, 0)) for c in ranked]
    far, name, choice, old = max(apart, key=lambda a: (a[0], a[1], a[2].value))
    if far < 0.05:
        return []
    return [f"{CHOICE_NAMES[name]}: {value_word(choice.value)} counts {choice.score:g} instead of {old:g}"]


def _cell(sport: Sport, discipline: str, school: School, side: str) -> str:
    found = moves(sport, discipline, school, side)
    if found:
        return "; ".join(found[:2]).replace("|", "/")
    return OTHERWISE.get(school.slug) or WHY_NOT[sport, school.slug]


def page() -> str:
    """The page as Markdown."""
    parts = [HEAD]
    for sport, words in SPORTS.items():
        parts.append(f"## {words.name}\n")
        for school in words.schools:
            sides = school.options[1:]
            parts.append(f"### {school.text}\n")
            parts.append(f"House: {school.options[0].text}.\n")
            if school.slug in OTHERWISE:
                parts.append(f"{OTHERWISE[school.slug]}\n")
                continue
            parts.append("| Discipline | " + " | ".join(s.text for s in sides) + " |")
            parts.append("|---" * (len(sides) + 1) + "|")
            for d in words.disciplines:
                cells = " | ".join(_cell(sport, d.value, school, s.value) for s in sides)
                parts.append(f"| {d.text} | {cells} |")
            parts.append("")
    return "\n".join(parts)


if __name__ == "__main__":
    PAGE.write_text(page())
