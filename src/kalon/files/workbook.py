"""A workbook's sheets as rows of text: the one that is named, the first that holds a list, or all of them."""

from __future__ import annotations

import io
import re
import zipfile
import zlib
from collections.abc import Callable
from dataclasses import dataclass
from datetime import date, datetime, time
from typing import Any

from ..core.sheets.place import EVERY_SHEET
from .reading import bad

MOST_ROWS, MOST_COLUMNS, MOST_SHEETS = 300_000, 200, 40
UNPACKED_BYTES, MOST_PACKED = 400_000_000, 120
"""Most that a workbook may unpack to, bytes, and how many times its packed size one of its parts may be."""
Row = tuple[int, list[str]]
Report = Callable[[float, str], None]


@dataclass(frozen=True)
class Page:
    """A sheet of a workbook: its name, and its rows as text, numbered as in the file."""

    name: str
    rows: list[Row]


@dataclass(frozen=True)
class Workbook:
    """The sheets that are read of a workbook, the names of all, and what was noticed."""

    pages: list[Page]
    names: list[str]
    notes: list[str]


def read_workbook(data: bytes, report: Report, sheet: str) -> Workbook:
    """The sheet of that name, all for `EVERY_SHEET`, else the first that holds a list. Raises `BadInput`."""
    notes: list[str] = []
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as packed:
            parts = packed.infolist()
            if sum(p.file_size for p in parts) > UNPACKED_BYTES or any(
                p.file_size > 1_000_000 and p.file_size > MOST_PACKED * max(p.compress_size, 1) for p in parts
            ):
                raise bad("bomb", "This file unpacks to far more than a list of shoes: it isn't opened.")
            names = {p.filename for p in parts}
            if "xl/workbook.xml" not in names:
                raise bad("xlsx", "This is a packed file, but no XLSX workbook. CSV, XLSX and JSON are read.")
            if any(n.endswith("vbaProject.bin") for n in names):
                notes.append("The workbook has macros; they are not looked at.")
            sheets = sorted(
                (n for n in names if re.fullmatch(r"xl/worksheets/sheet\d+\.xml", n)),
                key=lambda n: int(re.sub(r"\D", "", n)),
            )
            parts_of = [packed.read(n) for n in sheets[:MOST_SHEETS]]
    except (zipfile.BadZipFile, zlib.error, ValueError, OSError, EOFError, NotImplementedError, RuntimeError):
        raise bad("damaged", "The workbook is damaged, or isn't whole: save it again.") from None
    called, taken = _pages(data, sheet, report)
    own = [parts_of[place] if place < len(parts_of) else b"" for place, _ in taken]
    if any(re.search(rb"<f[ >]", part) for part in own):
        notes.append("Some cells are formulas: the values last saved with them are read.")
    if len(called) > 1 and sheet != EVERY_SHEET:
        notes.append(f"The workbook has {len(called)} sheets; “{called[taken[0][0]][:40]}” is read.")
    if len(called) > MOST_SHEETS:
        notes.append(f"Of its {len(called)} sheets the first {MOST_SHEETS} are looked at.")
    pages = [Page(called[place], _filled(rows, _merged(part))) for (place, rows), part in zip(taken, own, strict=True)]
    return Workbook(pages, called[:MOST_SHEETS], notes)


def _pages(data: bytes, sheet: str, report: Report) -> tuple[list[str], list[tuple[int, list[Row]]]]:
    """The names of all sheets, and of those that are read their places and rows."""
    from python_calamine import CalamineError, CalamineWorkbook

    try:
        book = CalamineWorkbook.from_filelike(io.BytesIO(data))
        names = book.sheet_names
        if sheet and sheet != EVERY_SHEET and sheet not in names:
            raise bad("sheet", f"The workbook has no sheet called “{sheet[:40]}”.")
        pages = [book.get_sheet_by_index(i) for i in range(min(len(names), MOST_SHEETS))]
        # A page's total height and width are the places of its last row and column, from 0.
        listlike = [i for i, s in enumerate(pages) if s.total_height >= 1 and s.total_width >= 1]
        places = [names.index(sheet)] if sheet in names else (listlike if sheet == EVERY_SHEET else listlike[:1]) or [0]
        if sum(pages[i].total_height for i in places) > MOST_ROWS:
            raise bad("large", f"The list has more than {MOST_ROWS:,} rows, which is more than is read at once.")
        if (width := max(pages[i].total_width + 1 for i in places)) > MOST_COLUMNS:
            raise bad("columns", f"The list has {width:,} columns; {MOST_COLUMNS} are read at most.")
        every = [(i, pages[i].to_python(skip_empty_area=False)) for i in places]
    except (CalamineError, IndexError, ValueError, OSError) as error:
        raise bad("damaged", f"The workbook can't be read ({type(error).__name__}): save it again as XLSX.") from None
    report(0.2, f"{sum(len(values) for _, values in every):,} rows")
    return names, [(i, _as_text(values)) for i, values in every]


def _as_text(every: list[list[Any]]) -> list[Row]:
    """Rows that hold something, as text."""
    rows = []
    for number, values in enumerate(every, 1):
        cells = [v if type(v) is str else written(v) for v in values]
        while cells and not cells[-1].strip():
            cells.pop()
        if cells:
            rows.append((number, cells))
    return rows


Span = tuple[int, int, int, int]


def _merged(sheet: bytes) -> list[Span]:
    """Ranges of merged cells: first and last row, first and last column, from 1 and from 0."""
    spans = []
    for match in re.finditer(rb'<mergeCell ref="([A-Z]{1,3})(\d{1,7}):([A-Z]{1,3})(\d{1,7})"', sheet):
        left, top, right, bottom = match.groups()
        spans.append((int(top), int(bottom), _column(left), _column(right)))
    return spans[:20_000]


def _column(letters: bytes) -> int:
    found = 0
    for letter in letters.decode():
        found = found * 26 + ord(letter) - 64
    return found - 1


def _filled(rows: list[Row], merged: list[Span]) -> list[Row]:
    """What stands once in merged cells stands in each of their rows."""
    by_row = dict(rows)
    for top, bottom, left, right in merged:
        value = by_row.get(top, [])[left : left + 1]
        if bottom == top or not value or right - left > 3 or bottom - top > MOST_ROWS:
            continue
        for row in range(top + 1, bottom + 1):
            cells = by_row.get(row)
            if cells is not None:
                cells.extend([""] * (left + 1 - len(cells)))
                cells[left] = cells[left] or value[0]
    return rows


def written(value: Any) -> str:
    """A cell's value as it would be typed."""
    if isinstance(value, str):
        return value
    if value is None:
        return ""
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, float):
        return str(int(value)) if value.is_integer() and abs(value) < 1e15 else repr(round(value, 10))
    if isinstance(value, datetime | date | time):
        return value.isoformat()
    return str(value)
