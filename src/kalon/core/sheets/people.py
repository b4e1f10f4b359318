"""A list of athletes: whose names, when they were born, their squad; every line judged before anything is written."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from typing import Literal

from ..contract import Contract
from ..house import DateOrder
from .columns import bare

HEADINGS: dict[str, tuple[str, ...]] = {
    "name": ("name", "full name", "athlete", "player", "vorname nachname", "nom complet"),
    "first": ("first name", "first", "given name", "forename", "vorname", "prenom"),
    "last": ("last name", "last", "surname", "family name", "nachname", "nom"),
    "born_on": ("born", "born on", "birth date", "date of birth", "dob", "birthday", "geburtsdatum", "naissance"),
    "squad": ("squad", "team", "group", "club", "mannschaft", "equipe"),
    "note": ("note", "notes", "remark", "bemerkung"),
}
"""Headings by field; common practice, from memory."""
PersonVerdict = Literal["new", "here", "refused"]
OLDEST = date(1900, 1, 1)
MONTHS = 12
DAYS = (
    (re.compile(r"^(\d{4})-(\d{1,2})-(\d{1,2})(?:[T ].*)?$"), (0, 1, 2)),
    (re.compile(r"^(\d{1,2})\.(\d{1,2})\.(\d{4})$"), (2, 1, 0)),
)
"""How a birth date is written: year first, or day first with dots; with the places of year, month, day."""
SLASHED = re.compile(r"^(\d{1,2})/(\d{1,2})/(\d{4})$")
"""The one that is written both ways in the world."""


class PersonLine(Contract):
    """One line of a list, and what becomes of it."""

    row: int
    verdict: PersonVerdict
    said: str
    name: str = ""
    born_on: date | None = None
    squad: str = ""
    note: str = ""


@dataclass(frozen=True)
class Fields:
    """Which column holds what, by the field's name."""

    of: dict[str, int]

    @property
    def names(self) -> bool:
        """Whether anybody's name can be read from it."""
        return "name" in self.of or "last" in self.of


def parted(rows: Sequence[tuple[int, list[str]]]) -> tuple[list[str], list[tuple[int, list[str]]]]:
    """Headings and lines apart: the first of the first rows that names a field is one of headings; a bare list of names
    has none."""
    known = {w for words in HEADINGS.values() for w in words}
    for place, (_, cells) in enumerate(rows[:10]):
        if any(bare(c) in known for c in cells):
            return cells, list(rows[place + 1 :])
    return ["name"], list(rows)


def fields(headings: Sequence[str]) -> Fields:
    """The columns by their headings; without any known heading the first column holds names."""
    found: dict[str, int] = {}
    for place, heading in enumerate(headings):
        said = bare(heading)
        name = next((f for f, words in HEADINGS.items() if said in words), None)
        if name and name not in found:
            found[name] = place
    return Fields(found or {"name": 0})


def shown_order(texts: Sequence[str]) -> DateOrder | None:
    """What the dates of a list show themselves: a first number that is no month, a second one that is none. Nothing
    where they show neither, or both."""
    pairs = [(int(m[1]), int(m[2])) for text in texts if (m := SLASHED.match(text.strip()))]
    days_first, months_first = any(a > MONTHS for a, _ in pairs), any(b > MONTHS for _, b in pairs)
    if days_first == months_first:
        return None
    return "dmy" if days_first else "mdy"


def two_ways(texts: Sequence[str]) -> str | None:
    """The first date that can be read two ways; none where none can."""
    for text in texts:
        if match := SLASHED.match(text.strip()):
            first, second = int(match[1]), int(match[2])
            if first != second and max(first, second) <= MONTHS:
                return text.strip()
    return None


def day(text: str, today: date, order: DateOrder = "dmy") -> date:
    """A birth date as people write it; with slashes by the order given. Raises ValueError with a sentence."""
    for pattern, (y, m, d) in (*DAYS, (SLASHED, (2, 1, 0) if order == "dmy" else (2, 0, 1))):
        if match := pattern.match(text.strip()):
            parts = [int(g) for g in match.groups()]
            try:
                found = date(parts[y], parts[m], parts[d])
            except ValueError:
                break
            if OLDEST <= found <= today:
                return found
            raise ValueError(f"{text} is no birth date of anybody living")
    raise ValueError(f"{text} is no day: write it as 2011-05-30 or 30.5.2011")


def birth_dates(headings: Sequence[str], rows: Sequence[tuple[int, Sequence[str]]]) -> list[str]:
    """What stands where the birth dates are, line by line."""
    at = fields(headings).of.get("born_on")
    return [] if at is None else [cells[at] for _, cells in rows if at < len(cells)]


def people(
    headings: Sequence[str],
    rows: Sequence[tuple[int, Sequence[str]]],
    squad: str,
    today: date,
    order: DateOrder = "dmy",
) -> list[PersonLine]:
    """Every line of a list judged: new, or refused with the reason. Who is here already, the records know."""
    columns = fields(headings)
    lines: list[PersonLine] = []
    seen: dict[str, int] = {}
    for number, cells in rows:
        value = {f: cells[i].strip() if i < len(cells) else "" for f, i in columns.of.items()}
        name = value.get("name") or " ".join(p for p in (value.get("first", ""), value.get("last", "")) if p)
        name = " ".join(name.split())
        if not name:
            if any(c.strip() for c in cells):
                lines.append(PersonLine(row=number, verdict="refused", said="There is no name in this line."))
            continue
        if len(name) > 100:
            lines.append(PersonLine(row=number, verdict="refused", said="The name is longer than 100 signs."))
            continue
        if name in seen:
            said = f"{name} stands in line {seen[name]} already."
            lines.append(PersonLine(row=number, verdict="refused", said=said, name=name))
            continue
        try:
            born = day(value["born_on"], today, order) if value.get("born_on") else None
        except ValueError as error:
            lines.append(PersonLine(row=number, verdict="refused", said=f"{error}.", name=name))
            continue
        seen[name] = number
        lines.append(
            PersonLine(
                row=number, verdict="new", said="", name=name, born_on=born,
                squad=(value.get("squad") or squad)[:100], note=value.get("note", "")[:500],
            )
        )  # fmt: skip
    return lines
