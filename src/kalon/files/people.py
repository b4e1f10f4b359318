"""A list of athletes read in a worker: its headings and its lines, as text."""

from __future__ import annotations

from pathlib import Path

from ..core.sheets.people import parted
from .reading import bad
from .sheets import plain_cell, read_rows
from .workbook import Report

MOST_LINES = 2_000
"""More lines than this are no squad."""


def read_people(path: Path, report: Report) -> tuple[list[str], list[tuple[int, list[str]]]]:
    """Headings and lines of the list at `path`. Raises `BadInput` with what is wrong with it."""
    found = read_rows(path.read_bytes(), report)
    rows = [(n, [plain_cell(c) for c in cells]) for n, cells in found.rows]
    headings, lines = parted(rows)
    if not lines:
        raise bad("empty", "There is no name in this list.")
    if len(lines) > MOST_LINES:
        raise bad("large", f"The list has {len(lines):,} lines; {MOST_LINES:,} are read at most.")
    return headings, lines
