"""Lists of shoes as bytes: CSV, XLSX and JSON in, the same out. What is wrong with a file is said in a sentence.

Nothing in a file is run: formulas are read as the values last saved with them, macros are not looked at.
"""

from __future__ import annotations

import csv
import io
import json
import re
from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass, field, replace
from datetime import date, datetime
from decimal import Decimal
from functools import lru_cache
from itertools import chain
from typing import Any, Literal

from ftfy import fix_encoding

from ..core.sheets import grid
from ..core.sheets.columns import heading_row
from ..core.sheets.place import COLUMNS, Part, Places
from ..core.sheets.plain import plain
from ..core.sheets.together import Sheet, together
from .reading import bad
from .workbook import MOST_COLUMNS, MOST_ROWS, Page, Report, Row, read_workbook, written

SHEET_BYTES = 64_000_000
"""Largest file read."""
LONGEST_CELL = 5_000
Kind = Literal["csv", "xlsx", "json"]
OLD_EXCEL, ZIP = b"\xd0\xcf\x11\xe0", b"PK\x03\x04"
SEPARATORS = {",": "commas", ";": "semicolons", "\t": "tabs", "|": "bars"}


@dataclass(frozen=True)
class Table:
    """A sheet as text: its headings, its rows numbered as in the file, and what was noticed while reading it."""

    kind: Kind
    headings: list[str]
    rows: list[Row]
    notes: list[str] = field(default_factory=list)
    grid: str = ""
    """What was across, where there is a grid in it: "size" or "colour"."""
    sheets: list[str] = field(default_factory=list)
    """The names of a workbook's sheets."""
    places: Places = field(default_factory=Places)
    """How its rows are numbered."""
    bare: bool = False
    """No row of headings was found."""


@dataclass(frozen=True)
class Rows:
    """A file's rows as text, numbered as in it; of JSON the names of its values stand first, as row 0."""

    kind: Kind
    pages: list[Page]
    """One, or every sheet of a workbook that may hold a list."""
    notes: list[str] = field(default_factory=list)
    sheets: list[str] = field(default_factory=list)

    @property
    def rows(self) -> list[Row]:
        """The rows of the first of them."""
        return self.pages[0].rows


def read_table(
    data: bytes, report: Report = lambda _share, _step: None, *, sheet: str = "", grids: bool = True
) -> Table:
    """The list of shoes in a file: of a workbook the sheet of that name, all of them for `EVERY_SHEET`, else the
    first that holds a list; a grid as a line for each of its cells. Raises `BadInput` with what is wrong with it."""
    found = read_rows(data, report, sheet=sheet)
    if found.kind == "json":
        return _checked(Table("json", found.rows[0][1], found.rows[1:], found.notes))
    if found.kind == "csv" and found.rows and max(len(r) for _, r in found.rows[:50]) < 2:
        raise bad("columns", f"Only one column was found: are its cells parted by {_listed(SEPARATORS.values())}?")
    table = _every(found, grids=grids) if len(found.pages) > 1 else None
    table = table or _table(found.kind, found.rows, found.notes, grids=grids)
    return replace(_checked(table), sheets=found.sheets)


def _every(found: Rows, *, grids: bool) -> Table | None:
    """Every sheet that holds a list, as one list; none where no sheet does."""
    read = [(page, _table(found.kind, page.rows, [], grids=grids)) for page in found.pages]
    lists = [(page, table) for page, table in read if len(table.headings) > 1 and table.rows and not table.bare]
    left = [name for name in found.sheets if name not in {page.name for page, _ in lists}]
    if not lists:
        return None
    across = any(table.grid for _, table in lists)
    parts: list[Part] = []
    pages: list[Sheet] = []
    after = 0
    for page, table in lists:
        parts.append(Part(page.name[:60], after))
        by = 1 if table.grid or not across else COLUMNS
        shift = after * (COLUMNS if across else 1)
        pages.append(Sheet(page.name[:60], table.headings, [(n * by + shift, cells) for n, cells in table.rows]))
        after += page.rows[-1][0]
    if sum(len(page.rows) for page in pages) > MOST_ROWS:
        raise bad("large", f"Its sheets have more than {MOST_ROWS:,} lines, which is more than is read at once.")
    headings, rows = together(pages)
    said = f"{len(lists)} sheets are read as one list: {', '.join(p.name[:40] for p, _ in lists)}."
    notes = [*found.notes, said, *([f"No list was found on {', '.join(n[:40] for n in left)}."] if left else [])]
    notes += [f"{page.name[:40]}: {note}" for page, table in lists for note in table.notes]
    what = next((table.grid for _, table in lists if table.grid), "")
    return Table(found.kind, headings, rows, notes, what, places=Places(across, parts))


def read_rows(data: bytes, report: Report = lambda _share, _step: None, *, sheet: str = "") -> Rows:
    """The rows of any list in a file, of a workbook's sheet of that name. Raises `BadInput`."""
    if not data.strip():
        raise bad("empty", "The file is empty.")
    if len(data) > SHEET_BYTES:
        raise bad("large", f"The file has more than {SHEET_BYTES / 1e6:.0f} MB, which is more than is read.")
    report(0.02, "reading")
    if data.startswith(OLD_EXCEL):
        raise bad("old-excel", "This is an old Excel file (.xls) or a locked one: save it as .xlsx without a password.")
    if data.startswith(ZIP):
        book = read_workbook(data, report, sheet)
        return _mended(Rows("xlsx", book.pages, book.notes, book.names))
    text, notes = _decoded(data)
    if text.lstrip()[:1] in ("[", "{"):
        return _mended(_from_json(text, notes))
    return _mended(_from_csv(text, notes, report))


def _decoded(data: bytes) -> tuple[str, list[str]]:
    for mark, encoding in ((b"\xef\xbb\xbf", "utf-8-sig"), (b"\xff\xfe", "utf-16"), (b"\xfe\xff", "utf-16")):
        if data.startswith(mark):
            try:
                return data.decode(encoding), []
            except UnicodeDecodeError:
                raise bad("encoding", "The file says it is Unicode and isn't: save it again as CSV UTF-8.") from None
    if b"\x00" in data:
        raise bad("damaged", "This is no list: it has bytes in it that no text has. CSV, XLSX and JSON are read.")
    try:
        return data.decode("utf-8"), []
    except UnicodeDecodeError:
        text = data.decode("cp1252", errors="replace")
        if sum(ord(c) < 32 and c not in "\t\r\n" for c in text[:10_000]) > len(text[:10_000]) / 50:
            raise bad("damaged", "This is no list: it is no text. CSV, XLSX and JSON are read.") from None
        lines = [_line(raw) for raw in data.splitlines(keepends=True)]
        if all(western for _, western, plain in lines if not plain):
            return text, ["The file isn't UTF-8; its letters were read as Western European (Latin-1)."]
        return "".join(line for line, *_ in lines), [
            "Lines of two files stand in one: some are UTF-8, some Western European (Latin-1); each was read as it is."
        ]


def _line(raw: bytes) -> tuple[str, bool, bool]:
    """A line, whether it was read as Western European, and whether it has none but plain letters."""
    try:
        return raw.decode("utf-8"), False, raw.isascii()
    except UnicodeDecodeError:
        return raw.decode("cp1252", errors="replace"), True, False


def _mended(found: Rows) -> Rows:
    """Letters written as UTF-8 and read as something else on their way here ("MÃ¼ller"), as they were meant."""
    fix = lru_cache(maxsize=50_000)(fix_encoding)
    mended: set[tuple[str, str]] = set()

    def one(row: Row) -> Row:
        number, cells = row
        if "".join(cells).isascii():
            return row
        now = [c if c.isascii() else fix(c) for c in cells]
        mended.update((old, new) for old, new in zip(cells, now, strict=True) if old != new)
        return number, now

    pages = [Page(page.name, [one(row) for row in page.rows]) for page in found.pages]
    if not mended:
        return found
    old, new = min(mended, key=lambda m: (len(m[0]), m))
    note = f"Letters spoilt on their way here were mended, as “{old[:40]}”, read as “{new[:40]}”."
    return replace(found, pages=pages, notes=[*found.notes, note])


def _from_csv(text: str, notes: list[str], report: Report) -> Rows:
    told = re.match(r"sep=(.)\r?\n", text)
    skipped = 1 if told else 0
    body = text[told.end() :] if told else text
    separator = told[1] if told else _separator(body)
    rows: list[tuple[int, list[str]]] = []
    reader = csv.reader(io.StringIO(body, newline=""), delimiter=separator, strict=True)
    try:
        for cells in reader:
            if len(rows) > MOST_ROWS:
                raise bad("large", f"The list has more than {MOST_ROWS:,} rows, which is more than is read at once.")
            if any(c.strip() for c in cells):
                rows.append((reader.line_num + skipped, cells))
            if reader.line_num % 20_000 == 0:
                report(0.1, f"row {reader.line_num:,}")
    except csv.Error as error:
        where = reader.line_num + skipped
        why = (
            "a quote is opened and never closed, or stands inside a cell"
            if "limit" not in str(error)
            else "a cell is longer than any"
        )
        raise bad("quotes", f"Line {where}: {why}. Mend that line, or save the sheet as XLSX.") from None
    return Rows("csv", [Page("", rows)], notes)


def _separator(text: str) -> str:
    """The sign that parts the cells: the one by which most of the first lines have the same number of them."""
    sample = "\n".join(text.splitlines()[:60])
    best, found = (0.0, 0), ","
    for sign in SEPARATORS:
        try:
            counts = [len(r) for r in csv.reader(io.StringIO(sample), delimiter=sign) if r]
        except csv.Error:
            continue
        usual = max(set(counts), key=counts.count, default=1)
        if usual > 1:
            best, found = max((best, found), ((counts.count(usual) / len(counts), usual), sign))
    return found


def _from_json(text: str, notes: list[str]) -> Rows:
    try:
        given = json.loads(text)
    except ValueError as error:
        raise bad("json", f"The JSON can't be read: {str(error)[:120]}.") from None
    except RecursionError:
        raise bad("json", "The JSON has brackets within brackets without end.") from None
    if isinstance(given, dict):
        lists = [v for v in given.values() if isinstance(v, list)]
        given = lists[0] if len(lists) == 1 else None
    if not isinstance(given, list) or not given or not all(isinstance(g, dict) for g in given):
        raise bad("json", "The JSON must be a list of objects, one a line, each a name and a value.")
    if len(given) > MOST_ROWS:
        raise bad("large", f"The list has more than {MOST_ROWS:,} rows, which is more than is read at once.")
    headings = list(dict.fromkeys(k for g in given for k in g))
    names = [plain(h) for h in headings]
    rows = []
    for number, one in enumerate(given, 1):
        if nested := next((k for k, v in one.items() if isinstance(v, dict | list)), None):
            raise bad(
                "json", f"Object {number}: “{nested[:40]}” holds more than one value; each must be text or a number."
            )
        rows.append((number, [written(one.get(h)) for h in headings]))
    return Rows("json", [Page("", [(0, names), *rows])], notes)


def _table(kind: Kind, rows: list[Row], notes: list[str], *, grids: bool) -> Table:
    """Headings and rows parted, a grid laid out line by line; a list without headings is told to be one."""
    if grids and (found := grid.seen(rows)):
        headings, lines = grid.unpivoted(rows, found, MOST_ROWS)
        if len(lines) > MOST_ROWS:
            raise bad("large", f"The grid has more than {MOST_ROWS:,} cells with pairs, which is more than is read.")
        across = list(found.across.values())
        said = f"{len(across)} {'sizes' if found.what == 'size' else 'colours'} across, {across[0]} to {across[-1]}"
        notes.append(f"It is a grid ({said}): every cell with pairs in it is read as a line of its own.")
        return Table(kind, headings, lines, notes, found.what, places=Places(columns=True))
    place = heading_row([cells for _, cells in rows])
    if place is None:
        width = max((len(c) for _, c in rows), default=0)
        notes.append("No row of headings was found: say what each column is.")
        return Table(kind, [f"Column {i + 1}" for i in range(width)], rows, notes, bare=True)
    headings = [c.strip()[:60] for c in rows[place][1]]
    while headings and not headings[-1]:
        headings.pop()
    return Table(kind, headings, rows[place + 1 :], notes)


def _checked(table: Table) -> Table:
    if not table.rows:
        raise bad("empty", "The list has headings and no rows.")
    if len(table.headings) > MOST_COLUMNS:
        raise bad("columns", f"The list has {len(table.headings)} columns; {MOST_COLUMNS} are read at most.")
    if len(table.headings) < 2:
        raise bad("columns", "The list has only one column: model and size are needed at least.")
    for number, cells in table.rows:
        if any(len(c) > LONGEST_CELL for c in cells):
            raise bad(
                "cell", f"Row {number} has a cell of more than {LONGEST_CELL:,} letters: this is no list of shoes."
            )
    return table


def _listed(words: Iterable[str]) -> str:
    every = list(words)
    return ", ".join(every[:-1]) + " or " + every[-1]


UNWRITTEN = re.compile(r"[\x00-\x08\x0b\x0c\x0e-\x1f]")
"""Characters no workbook may hold."""
RISKY = ("=", "+", "-", "@", "\t", "\r")


def safe_cell(text: str) -> str:
    """A cell that no spreadsheet takes for a formula: an apostrophe goes before one that looks like it.

    Numbers stay numbers. `plain_cell` takes it off again."""
    if text.startswith(RISKY) and not re.fullmatch(r"-?\d+(\.\d+)?", text):
        return "'" + text
    return text


def plain_cell(text: str) -> str:
    """What was written by `safe_cell`."""
    return text[1:] if text[:1] == "'" and text[1:].startswith(RISKY) else text


def write(kind: Kind, headings: Sequence[str], rows: Iterable[Sequence[Any]]) -> Iterator[bytes]:
    """A table as a file, piece by piece. Nothing in CSV or XLSX is taken for a formula."""
    if kind == "csv":
        return _as_csv(headings, rows)
    return _as_json(headings, rows) if kind == "json" else _as_xlsx(headings, rows)


def _as_csv(headings: Sequence[str], rows: Iterable[Sequence[Any]]) -> Iterator[bytes]:
    out = io.StringIO()
    pen = csv.writer(out, lineterminator="\r\n")
    pen.writerow([safe_cell(h) for h in headings])
    yield b"\xef\xbb\xbf"
    for row in rows:
        pen.writerow([safe_cell(written(c)) for c in row])
        if out.tell() > PIECE:
            yield out.getvalue().encode()
            out.seek(0)
            out.truncate()
    yield out.getvalue().encode()


PIECE = 60_000
"""Bytes handed on at a time, about."""


def _as_json(headings: Sequence[str], rows: Iterable[Sequence[Any]]) -> Iterator[bytes]:
    held = bytearray(b"[")
    for number, row in enumerate(rows):
        one = {
            h: c.isoformat() if isinstance(c, datetime | date) else c
            for h, c in zip(headings, row, strict=True)
            if c not in (None, "")
        }
        held += (b",\n" if number else b"\n") + json.dumps(one, ensure_ascii=False, default=float).encode()
        if len(held) > PIECE:
            yield bytes(held)
            held.clear()
    yield bytes(held) + b"\n]\n"


WORKBOOK_ROWS = 1_048_576
"""What a sheet of a workbook can hold (ECMA-376); the library leaves out what is beyond it without a word."""


def _as_xlsx(headings: Sequence[str], rows: Iterable[Sequence[Any]]) -> Iterator[bytes]:
    """Row by row into the library's own file beside the memory: numbers as numbers, all else as text and never as a
    formula; nothing for what is empty."""
    from xlsxwriter import Workbook

    out = io.BytesIO()
    book = Workbook(out, {"constant_memory": True})
    sheet = book.add_worksheet("Kalon")
    text, number = sheet.write_string, sheet.write_number
    for at, row in enumerate(chain((headings,), rows)):
        if at >= WORKBOOK_ROWS:
            raise bad(
                "large", f"A workbook holds {WORKBOOK_ROWS:,} rows, and here are more: take it out as CSV or JSON."
            )
        for place, value in enumerate(row):
            if value is None or value == "":
                continue
            if isinstance(value, int | float | Decimal) and not isinstance(value, bool):
                number(at, place, float(value))
            elif said := UNWRITTEN.sub("", written(value)):
                text(at, place, said)
    book.close()
    yield out.getvalue()
