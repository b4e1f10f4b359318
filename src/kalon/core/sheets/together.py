"""Several sheets as one list: what each column holds is found sheet by sheet, and what is the same goes together."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from ..systems import SIZE_SYSTEMS
from . import words
from .asked import Asked, LeftOut
from .columns import Column, bare, by_heading, guess

Row = tuple[int, list[str]]


@dataclass(frozen=True)
class Sheet:
    """A sheet's name, headings and rows."""

    name: str
    headings: list[str]
    rows: list[Row]


def together(sheets: Sequence[Sheet]) -> tuple[list[str], list[Row]]:
    """The headings of all, and the rows one sheet after the other; a column of the sheets' names goes first.

    Sizes of sheets that count in different systems say which they are in. Where no sheet says a sport and every
    name is one ("Football", "Klettern"), the names are the sports."""
    taken = [guess(s.headings, [cells for _, cells in s.rows[:300]]) for s in sheets]
    systems = {c.system for columns in taken for c in columns if c.field == "size"}
    keys: dict[str, str] = {}
    for columns in taken:
        for column in columns:
            known = keys.get(_key(column))
            keys[_key(column)] = known if known and by_heading(known) else column.heading
    if len(systems) > 1 and "size" in keys:
        keys["size"] = "Size"
    named = all(c.field != "sport" for columns in taken for c in columns) and all(_is_sport(s.name) for s in sheets)
    places = {key: i for i, key in enumerate(keys, 1)}
    rows: list[Row] = []
    for sheet, columns in zip(sheets, taken, strict=True):
        to = [places[_key(c)] for c in columns]
        prefix = [
            f"{SIZE_SYSTEMS[c.system].name} " if c.field == "size" and c.system and len(systems) > 1 else ""
            for c in columns
        ]
        for number, cells in sheet.rows:
            line = [sheet.name, *[""] * len(keys)]
            for at, before, text in zip(to, prefix, cells, strict=False):
                if text.strip():
                    line[at] = f"{before}{text}"
            # More cells than headings are looked at line by line: they stay more than there are headings.
            rows.append((number, line + [c for c in cells[len(columns) :] if c.strip()]))
    return ["Sport" if named else "Sheet", *keys.values()], rows


def _key(column: Column) -> str:
    """What columns of several sheets are the same by: what they hold, else their heading."""
    return column.field if column.field != "keep" else f"keep {bare(column.heading) or column.heading}"


def _is_sport(name: str) -> bool:
    try:
        words.sport(name, {})
    except (Asked, LeftOut):
        return False
    return True
