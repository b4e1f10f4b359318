"""A supplier's list read whole, in a worker: its columns recognised, every row judged, the lines left in a file."""

from __future__ import annotations

import gc
from collections import Counter
from collections.abc import Iterator, Mapping, Sequence
from contextlib import contextmanager
from dataclasses import dataclass
from dataclasses import field as dataclass_field
from pathlib import Path
from typing import Any

from pydantic_core import to_json

from ..core.errors import read as checked
from ..core.sheets.columns import FIELDS, Column, by_heading, guess
from ..core.sheets.lines import Settings, read_lines
from ..core.sheets.place import Part, Places
from .sheets import plain_cell, read_table
from .workbook import Report

MOST_ASKS = 60
"""Words asked about at a time, those on most lines first."""
Judged = tuple[int, str, str, str]
"""A row judged: its number, its verdict, what is said of it, and its body as JSON."""


@dataclass(frozen=True)
class Listed:
    """What a list is: its columns as taken, samples of each, the settings, notes, and how many rows were judged how.

    The judged rows are at `path` + ".lines": row, verdict, what is said, and the body as JSON, parted by tabs."""

    kind: str
    columns: list[Column]
    samples: list[list[str]]
    rows: int
    verdicts: dict[str, int]
    notes: list[str]
    supplier: str = ""
    """The maker of most of its lines."""
    grid: str = ""
    sheets: list[str] = dataclass_field(default_factory=list)
    places: Places = dataclass_field(default_factory=Places)
    """Where a line stands, by its number."""
    asks: list[dict[str, object]] = dataclass_field(default_factory=list)
    """What has to be asked about: field, word, guess, and on how many lines it stands."""

    def as_columns(self) -> dict[str, object]:
        """As a sheet keeps it."""
        columns = [
            {"heading": c.heading, "field": c.field, "system": c.system, "samples": s}
            for c, s in zip(self.columns, self.samples, strict=True)
        ]
        return {
            "list": columns,
            **{n: getattr(self, n) for n in ("notes", "rows", "supplier", "grid", "sheets", "asks")},
            "parts": [[p.name, p.after] for p in self.places.parts],
        }


def places_of(columns: Mapping[str, Any]) -> Places:
    """Where the lines of a sheet stand, by what was kept of it (`Listed.as_columns`)."""
    return Places(bool(columns.get("grid")), [Part(name, after) for name, after in columns.get("parts", [])])


def lines_at(path: Path) -> Iterator[Judged]:
    """The judged rows that `read_list` left beside the file."""
    with Path(f"{path}.lines").open(encoding="utf-8") as lines:
        for line in lines:
            row, verdict, said, body = line.rstrip("\n").split("\t", 3)
            yield int(row), verdict, said, body


@contextmanager
def _uncollected() -> Iterator[None]:
    """A list is a hundred thousand rows of text, none of which refers to itself: looking through them for cycles
    again and again takes a quarter of the time."""
    collects = gc.isenabled()
    gc.disable()
    try:
        yield
    finally:
        if collects:
            gc.enable()


def read_list(path: Path, report: Report, settings: Mapping[str, object], colours: Sequence[str] = ()) -> Listed:
    """Read the list at `path` with these settings (as of `Settings`), beside the colours known here, the most used
    first. Raises `BadInput`."""
    with _uncollected():
        return _read(path, report, settings, colours)


def _read(path: Path, report: Report, settings: Mapping[str, object], colours: Sequence[str]) -> Listed:
    said = checked(Settings, dict(settings))
    table = read_table(path.read_bytes(), report, sheet=said.sheet, grids=said.grids)
    rows = [(n, [plain_cell(c) if c[:1] == "'" else c for c in cells]) for n, cells in table.rows]
    columns = guess(table.headings, [cells for _, cells in rows[:300]])
    for i, name in enumerate(said.columns[: len(columns)]):
        if name in (*FIELDS, "keep", "ignore") and name != columns[i].field:
            named = by_heading(columns[i].heading) if name == "size" else None
            columns[i] = Column(columns[i].heading, name, named[1] if named else None)
    found: Counter[str] = Counter()
    asked: Counter[tuple[str, str]] = Counter()
    guesses: dict[tuple[str, str], tuple[str, str]] = {}
    with Path(f"{path}.lines").open("w", encoding="utf-8") as out:
        for number, line in enumerate(read_lines(rows, columns, said, table.places, colours), 1):
            found[line.verdict] += 1
            for ask in line.asks:
                asked[ask.field, ask.word] += 1
                guesses.setdefault((ask.field, ask.word), (ask.guess, str(ask)))
            out.write(f"{line.row}\t{line.verdict}\t{line.said}\t{to_json(line.body).decode()}\n")
            if number % 5_000 == 0:
                report(0.5 + 0.4 * number / len(rows), f"row {number:,} of {len(rows):,}")
    samples = [list(dict.fromkeys(c[i] for _, c in rows[:40] if i < len(c) and c[i].strip()))[:3]
               for i in range(len(columns))]  # fmt: skip
    asks: list[dict[str, object]] = [
        {"field": f, "word": w, "lines": n, "guess": guesses[f, w][0], "said": guesses[f, w][1]}
        for (f, w), n in asked.most_common(MOST_ASKS)
    ]
    at = next((i for i, c in enumerate(columns) if c.field == "maker"), None)
    makers = Counter(c[at].strip() for _, c in rows if at is not None and at < len(c) and c[at].strip())
    supplier = makers.most_common(1)[0][0] if makers else said.maker
    return Listed(
        table.kind,
        columns,
        samples,
        len(rows),
        dict(found),
        table.notes,
        supplier[:80],
        table.grid,
        table.sheets,
        table.places,
        asks,
    )
