"""Where a line stands in its file: its row, of a grid its column, of a workbook its sheet."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

EVERY_SHEET = "*"
"""Stands for all sheets of a workbook; none can be called so."""
COLUMNS = 1000
"""Columns a row's number leaves room for; more than are read."""


@dataclass(frozen=True)
class Part:
    """A sheet of several that are read as one list: its rows are numbered on from `after`."""

    name: str
    after: int


@dataclass(frozen=True)
class Places:
    """How the lines of a list are numbered: by row, or where there is a grid in it (`columns`) by row and column."""

    columns: bool = False
    parts: Sequence[Part] = ()
    """Sheets in their order; none where only one is read."""

    def told(self, number: int) -> str:
        """Where a line stands: "row 7", of a grid "row 7, AB", of several sheets "row 7 of “Boots”"."""
        row, column = divmod(number, COLUMNS) if self.columns else (number, 0)
        part = next((p for p in reversed(self.parts) if p.after < row), None)
        at = f"row {row - (part.after if part else 0)}" + (f", {_letters(column)}" if column else "")
        return f"{at} of “{part.name}”" if part else at


def _letters(column: int) -> str:
    return (_letters((column - 1) // 26) if column > 26 else "") + chr(65 + (column - 1) % 26)
