"""Size grids: a row a model and colour, sizes as columns and pairs in the cells; or sizes down and colours across.

A grid becomes a plain list: a line for every cell that says something, with the size (or the colour) of its column. The
number of such a line is its row in the file and its column: `place` tells both.
"""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise

from ..systems import SIZE_SYSTEMS, People, System
from . import labels, words
from .colours import ONE
from .columns import SIZE_HEADINGS, bare, by_heading
from .place import COLUMNS
from .plain import plain

LEAST_SIZES = 4
"""So many sizes side by side make a grid. House default."""
LOOKED_AT = 30
MOST_WORDS = 0.2
"""So many of the cells below a size may be words for pairs, or one; the others are pairs or nothing. House default."""
SUMS = {"total", "totals", "sum", "summe", "gesamt", "somme", "totaal", "totale", "suma", "subtotal", "zwischensumme",
        "grand total", "gesamtsumme", "sous total", "subtotale"}  # fmt: skip
"""Columns and rows of sums, which are left out; common practice, from memory."""
GROUPS: dict[People, tuple[str, ...]] = {
    "women": ("women", "womens", "ladies", "damen", "femme", "femmes", "mujer", "donna", "dames"),
    "men": ("men", "mens", "herren", "homme", "hommes", "hombre", "uomo", "heren"),
    "children": ("kids", "children", "junior", "kinder", "enfant", "enfants", "bambino", "nino", "kinderen"),
}
"""Whom a block of sizes is for, by the words above it; from memory."""

Row = tuple[int, list[str]]


@dataclass(frozen=True)
class Grid:
    """Where a grid's cells are: the row of its sizes, the plain columns beside them, and by column its size."""

    row: int
    """Place of the row of sizes among the rows."""
    headings: dict[int, str]
    """The plain columns by place."""
    across: dict[int, str]
    """What stands over each column of pairs: a size with its system where one is told, or a colour."""
    what: str
    """"size" or "colour"."""


def seen(rows: Sequence[Row]) -> Grid | None:
    """The grid among the first rows; none where the list has a line for every size."""
    for place, (_, cells) in enumerate(rows[:LOOKED_AT]):
        sizes = {i: c for i, c in enumerate(cells) if _is_size(c, rows, place, i)}
        runs = [run for run in _runs(sorted(sizes)) if len(run) >= LEAST_SIZES and _rises([sizes[i] for i in run])]
        if runs:
            return _of_sizes(rows, place, {i: sizes[i] for run in runs for i in run})
    return _of_colours(rows)


def _runs(places: Sequence[int]) -> list[list[int]]:
    """Places that follow one another; a blank column parts no block of sizes from the next."""
    found: list[list[int]] = []
    for place in places:
        if found and place - found[-1][-1] <= 1:
            found[-1].append(place)
        else:
            found.append([place])
    return found


SIZE = re.compile(
    r"(?:(?:eu|eur|uk|us|it|fr)\.?\s*)?\d{1,3}(?:[.,]\d{1,2})?(?:\s*[½⅓⅔]|\s+[123]/[234])?\s*(?:[ckjy]|eu|uk|us)?",
    re.IGNORECASE,
)
"""A size as a heading."""


def _is_size(text: str, rows: Sequence[Row], place: int, column: int) -> bool:
    """Whether a heading is a size: it reads as one, and what is below are numbers of pairs or nothing."""
    bare_text = plain(text).strip("'")
    if not SIZE.fullmatch(bare_text):
        return False
    below = [plain(c[column]) for _, c in rows[place + 1 : place + 1 + LOOKED_AT] if column < len(c)]
    return sum(not _is_pairs(b) for b in below) <= max(1, MOST_WORDS * len(below))


PAIRS = re.compile(r"|[>≥]?=?\s*\d{1,4}(?:[.,]0+)?\s*\+?|[-–—x✓]|n/?a", re.IGNORECASE)


def _is_pairs(text: str) -> bool:
    return bool(PAIRS.fullmatch(text)) or text.lower() in words.NONE_THERE


def _value(text: str) -> float:
    """Where a size lies among others of its block; children's letters go before the sizes that begin anew."""
    match = re.search(r"(\d{1,3})(?:[.,](\d{1,2}))?\s*(?:([½⅓⅔])|([123])/([234]))?", text)
    if not match:
        return -1.0
    value = float(f"{match[1]}.{match[2] or 0}") + labels.FRACTIONS.get(match[3] or "", 0.0)
    return value + (int(match[4]) / int(match[5]) if match[4] else 0.0)


FURTHEST = (1.5, 10.5)
"""Between one size and the next: of the smaller scales, and of foot lengths in millimetres."""
BEGINS_ANEW = (9, 7)
"""Where children's sizes end, at least, and where they begin anew, at most."""


def _rises(sizes: Sequence[str]) -> bool:
    """Whether these are the sizes of a run: each a step above the one before, but where a scale begins anew."""
    values = [_value(s) for s in sizes]
    furthest = FURTHEST[min(values) >= 100]
    return all(
        0 < b - a <= furthest or (a >= BEGINS_ANEW[0] and b <= BEGINS_ANEW[1]) or (a > 30 and 15 < b < a)
        for a, b in pairwise(values)
    )


def _above(rows: Sequence[Row], place: int, column: int, first: int) -> str:
    """What stands over a column in the rows above the sizes: of merged cells the first, to the left, but nothing from
    before the sizes, where titles stand."""
    told = []
    for _, cells in rows[max(place - 2, 0) : place]:
        over = range(min(column, len(cells) - 1), first - 1, -1)
        left = next((plain(cells[i]) for i in over if cells[i].strip()), "")
        told.append(left)
    return " ".join(t for t in told if t)


def _of_sizes(rows: Sequence[Row], place: int, sizes: dict[int, str]) -> Grid:
    first = min(sizes)
    width = max(len(c) for _, c in rows[place : place + LOOKED_AT])
    headings: dict[int, str] = {}
    for column in range(width):
        if column in sizes:
            continue
        own = [plain(c[column]) for _, c in rows[max(place - 2, 0) : place + 1] if column < len(c)]
        known = next((t for t in reversed(own) if t and by_heading(t)), None)
        text = known or next((t for t in reversed(own[-2:]) if t), "")
        if bare(text) not in SUMS and (text or column < first):
            headings[column] = text
    system = _told_system(rows, place, first)
    across = {i: _with_system(s, _above(rows, place, i, first), system) for i, s in sizes.items()}
    return Grid(place, headings, across, "size")


def _told_system(rows: Sequence[Row], place: int, first: int) -> str:
    """The system told to the left of the sizes or over them, where the blocks don't tell their own."""
    row = rows[place][1]
    beside = plain(row[first - 1]) if first and first - 1 < len(row) else ""
    return beside if _system(beside) else ""


def _system(text: str) -> System | None:
    """The size system words over a block name: "Size EU", "Men US", "UK"."""
    said = bare(text)
    if not said:
        return None
    if said in SIZE_HEADINGS:
        return SIZE_HEADINGS[said]
    tokens = said.split()
    land = next((t for t in tokens if any(t in of.land for of in SIZE_SYSTEMS.values())), None)
    group = next((people for t in tokens for people, names in GROUPS.items() if t in names), "")
    of_land = [(system, of.people) for system, of in SIZE_SYSTEMS.items() if land in of.land]
    return next((s for s, people in of_land if people == group), of_land[0][0] if of_land else None)


def _with_system(size: str, above: str, beside: str) -> str:
    """A size with the system of its block; children's letters keep their own."""
    text = plain(size).strip("'")
    system = _system(above) or _system(beside)
    if system is None or re.match(r"[a-z]", text, re.IGNORECASE):
        return text
    name = SIZE_SYSTEMS[system].name
    if SIZE_SYSTEMS[system].junior and "junior" in bare(above).split():
        name = name.replace("child", "junior")
    return f"{name} {text}"


LEAST_COLOURS = 2


def _names_a_colour(text: str) -> bool:
    return not ONE.keys().isdisjoint(bare(text).split())


def _of_colours(rows: Sequence[Row]) -> Grid | None:
    """Sizes down and colours across: a column of sizes, and beside it pairs under headings that are nothing else."""
    for place, (_, cells) in enumerate(rows[:LOOKED_AT]):
        named = {i: by_heading(c) for i, c in enumerate(cells) if c.strip()}
        size = [i for i, n in named.items() if n and n[0] == "size"]
        if len(size) != 1 or not any(n and n[0] == "model" for n in named.values()):
            continue
        if any(n and n[0] in ("pairs", "colour") for n in named.values()):
            return None
        below = [c for _, c in rows[place + 1 : place + 1 + LOOKED_AT]]
        across = {
            i: plain(cells[i])
            for i, n in named.items()
            if n is None and bare(cells[i]) not in SUMS
            and all(_is_pairs(plain(c[i])) for c in below if i < len(c))
            and any(re.search(r"\d", c[i]) for c in below if i < len(c))
        }  # fmt: skip
        if len(across) < LEAST_COLOURS or sum(map(_names_a_colour, across.values())) * 2 < len(across):
            return None
        return Grid(place, {i: plain(cells[i]) for i in named if i not in across and bare(cells[i]) not in SUMS},
                    across, "colour")  # fmt: skip
    return None


OF_A_MODEL = ("sport", "price", "cost", "upper", "last", "meant_for")
"""What is written once over several rows of one model, and begins anew with the next."""
OF_ALL = ("maker", "sport")
"""What is written once over several models."""


def unpivoted(rows: Sequence[Row], grid: Grid, most: int) -> tuple[list[str], list[Row]]:
    """The grid as a plain list: its headings, and a line for every cell with pairs in it, up to one more than `most`.
    Rows of sums are left out."""
    places = sorted(grid.headings)
    headings = [grid.headings[i] for i in places] + ["Size" if grid.what == "size" else "Colour", "Pairs"]
    fields = {i: named[0] for i in places if (named := by_heading(grid.headings[i]))}
    before: dict[int, str] = {}
    found: list[Row] = []
    for number, cells in rows[grid.row + 1 :]:
        own = {i: plain(cells[i]) if i < len(cells) else "" for i in places}
        if _is_sum(list(own.values())):
            continue
        before = _carried(before, own, fields)
        if len(found) > most:
            break
        line = [own[i] or before.get(i, "") for i in places]
        for column, over in grid.across.items():
            pairs = plain(cells[column]) if column < len(cells) else ""
            if pairs and pairs not in ("-", "–", "—"):
                found.append((number * COLUMNS + column + 1, [*line, over, pairs]))
    return headings, found


def _is_sum(texts: Sequence[str]) -> bool:
    """Whether a row is of sums: it says so, in a word of its own or as all it says ("Total pairs"). A model may be
    called Total, too."""
    said = [word for text in texts if (word := bare(text))]
    return bool(said) and (said == [w for w in said if w in SUMS] or (len(said) == 1 and said[0].split()[0] in SUMS))


def _carried(before: dict[int, str], own: dict[int, str], fields: dict[int, str]) -> dict[int, str]:
    """What the rows below a row have from it, where they don't say it themselves."""
    begins = any(own[i] for i, f in fields.items() if f == "model")
    kept = {i: t for i, t in before.items() if not begins or fields[i] in OF_ALL}
    told = {i: own[i] for i, f in fields.items() if own[i] and f in ("model", *OF_ALL, *OF_A_MODEL)}
    return kept | told
