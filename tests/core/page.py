"""The page of all rules, docs/rules.md, made from the rulebook and the law table: `python -m tests.core.page`."""

from __future__ import annotations

from pathlib import Path

from kalon.core.rules.spec import RULES
from kalon.core.rules.words import SPORTS
from tests.core.law import case_of
from tests.core.rulebook import LAW

PAGE = Path(__file__).parents[2] / "docs" / "rules.md"
MARKS = {"CP": "common practice", "PUB": "published", "MEM": "from memory", "HD": "house default"}
HEAD = """# Rules

Made from the rulebook by `python -m tests.core.page`; a test compares. Each line: the rule, its reason as said in the
brief it is tested with, its mark, the school where practitioners differ, and the test: the brief, and what the spec
must say with the rule and not without it.
"""


def _cell(text: str) -> str:
    return text.replace("|", "/").replace("\n", " ")


def page() -> str:
    """The page as Markdown."""
    told: set[str] = set()
    parts = [HEAD]
    for sport, rules in RULES.items():
        own = [r for r in rules if r.id.startswith(f"{sport}.")]
        parts.append(f"## {SPORTS[sport].name}\n\n| Rule | Reason | Mark | Test |\n|---|---|---|---|")
        parts += [_line(r.id, r.reason(case_of(LAW[r.id][0])).text, r.mark, r.school) for r in own]
        parts.append("")
        told |= {r.id for r in own}
    common = {r.id: r for rules in RULES.values() for r in rules if r.id not in told}
    parts.append("## Every sport\n\n| Rule | Reason | Mark | Test |\n|---|---|---|---|")
    parts += [_line(r.id, r.reason(case_of(LAW[r.id][0])).text, r.mark, r.school) for r in common.values()]
    return "\n".join(parts) + "\n"


def _line(id_: str, reason: str, mark: str, school: str | None) -> str:
    brief, said = LAW[id_]
    marked = MARKS[mark] + (f"; school: {school}" if school else "")
    return f"| `{id_}` | {_cell(reason)} | {marked} | {brief}: {', '.join(said)} |"


if __name__ == "__main__":
    PAGE.write_text(page())
