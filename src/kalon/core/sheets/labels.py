"""A size as somebody wrote it: thirds, twins in brackets, sizes side by side, children's letters, sizes that a
spreadsheet took for days. Raises `ValueError` with a sentence where nothing can be made of it."""

from __future__ import annotations

import re
from dataclasses import dataclass, replace
from functools import lru_cache

from ..sizes import label_of, last_of
from ..systems import SIZE_SYSTEMS, SYSTEMS, System
from .asked import Asked
from .plain import plain, short

FRACTIONS = {"½": 0.5, "⅓": 1 / 3, "⅔": 2 / 3, "¼": 0.25, "¾": 0.75}
SYSTEM_WORDS: dict[str, System] = {word: system for system, of in SIZE_SYSTEMS.items() for word in (*of.words, system)}
"""What lists call the size systems."""
CHILDREN_OF: dict[str, System] = {of.land[0]: s for s, of in SIZE_SYSTEMS.items() if of.people == "children"}
"""The children's sizes of a land."""
YOUTHS: System = next(system for system, of in SIZE_SYSTEMS.items() if of.youth)
NUMBER = re.compile(r"(\d+(?:[.,]\d+)?)?\s*(?:(\d)\s*/\s*(\d)|([½⅓⅔¼¾]))?")
CHILD_MARK = re.compile(r"(?<=[\d½⅓⅔])\s*(?:c|k|j|jr|child|kids)\.?$", re.IGNORECASE)
"""Children's letters, which a UK and a US box mean differently."""
YOUTH_MARK = re.compile(r"(?<=[\d½])\s*(?:y|youth)\.?$", re.IGNORECASE)
"""Youth sizes are US, and go on in the men's scale; from memory."""
LAST_OF_JUNIORS = 6.5
JUNIOR_MARK = re.compile(r"\bjunior\b|[\d½]\s*(?:j|jr)\.?$", re.IGNORECASE)
"""A British junior run of 10 … 13, 1 … 6 goes on in the adults' scale from where it begins anew. Common practice, no
source."""
TWINS_APART_MM = 14.0
"""Two sizes of one box may lie so far apart: makers' tables differ by a good size; more is no twin. House default."""
DOUBLE = re.compile(r"(\d{2}(?:[.,]5)?)\s*[-\u2013]\s*(\d{2}(?:[.,]5)?)")
"""Two sizes in one: "39-40"."""
MOST_IN_ONE = 1.5
THIRDS = ((0.33, 1 / 3), (0.34, 1 / 3), (0.66, 2 / 3), (0.67, 2 / 3))
MAY = (5, "mai", "may", "mag", "maggio", "mayo", "mei")
"""A half size that a spreadsheet took for a day is the fifth month's: 10.5 became the tenth of May."""
DATED = re.compile(r"(\d{4})-(\d{2})-(\d{2})(?:[t ].*)?")
DAY_AND_MONTH = re.compile(r"(\d{1,2})[.\s-]{1,2}([a-z\u00e4\u00e9\u00fb]{3,9})\.?(?:[\s-]\d{2,4})?")
MONTHS = ("jan", "feb", "feb", "fev", "fév", "mar", "mär", "mrt", "apr", "avr", "abr", *MAY[1:], "jun", "jui", "giu",
          "jul", "lug", "aug", "aoû", "ago", "sep", "set", "oct", "okt", "ott", "out", "nov", "dec", "dez", "déc",
          "dic", "gen", "ene")  # fmt: skip


@dataclass(frozen=True)
class Size:
    """A size as printed: its system, its label there, the EU label nearest to it; and what is to be looked at."""

    system: System
    label: float
    eu_label: float
    odd: str = ""
    runs_ahead: float | None = None
    """How far its maker's sizes run ahead in its system, where that isn't what most have."""


@lru_cache(maxsize=10_000)
def size(text: str, system: System | None, runs_ahead: float | None = None) -> Size:
    """A size: "42", "42,5", "42 2/3", "42.66", "8½", "UK 8.5", "US W 9", "UK 8 (US 9)", "8 / 42 / 26.5", "13C".

    `system` is what the list is said to be in; a system named in the cell goes before it. Raises `ValueError`, `Asked`
    for a child's letter that may be a UK or a US one. `runs_ahead` is the maker's own step of the systems that have
    one (`SizeSystem.own_step`)."""
    found = _read(text, system)
    usual = SIZE_SYSTEMS[found.system].own_step
    if runs_ahead is None or not usual or runs_ahead == usual:
        return found
    last = last_of(found.system, found.label, runs_ahead=runs_ahead)
    return replace(found, eu_label=_eu_of(last), runs_ahead=runs_ahead)


def _eu_of(last_mm: float) -> float:
    """The EU label nearest to a last."""
    return round(label_of("eu", last_mm) * 2) / 2


def _read(text: str, system: System | None) -> Size:
    bare = plain(text).lower().strip("'\"")
    if day := _of_a_day(bare, text):
        found = _one(day, system, text)
        return Size(found.system, found.label, found.eu_label, f"“{short(text)}” was a day: read as size {day}.")
    if double := DOUBLE.fullmatch(bare):
        low, high = (_one(part, system, text) for part in double.groups())
        if not 0 < high.label - low.label <= MOST_IN_ONE:
            raise ValueError(f"“{short(text)}” isn't a size")
        middle = _one(f"{(low.label + high.label) / 2:g}", low.system, text)
        said = f"“{short(text)}” is two sizes in one: kept as {middle.label:g}."
        return Size(middle.system, middle.label, middle.eu_label, said)
    parts = _side_by_side(bare)
    return _one(parts[0], system, text) if len(parts) == 1 else _of_several(parts, system, text)


def _of_a_day(bare: str, text: str) -> str | None:
    """The half size that a spreadsheet took for a day, as "10.5"; none where it is no day."""
    if match := DATED.fullmatch(bare):
        month: int | str = int(match[2])
        number = int(match[3])
    elif (match := DAY_AND_MONTH.fullmatch(bare)) and match[2].startswith(MONTHS):
        number, month = int(match[1]), match[2]
    else:
        return None
    if month not in MAY:
        raise ValueError(f"a spreadsheet made a day of this size (“{short(text)}”): write the column as text")
    return f"{number}.5"


BESIDE = re.compile(r"[\d½⅓⅔]\s*[a-z]{0,9}\s*[/|=]\s*[a-z]{0,9}\s*\d")
OWN_STROKE = "\u2044"
"""A fraction's own stroke, which parts no sizes."""


def _side_by_side(bare: str) -> list[str]:
    """The sizes of a cell that holds several: "uk 8 (us 9)", "8 / 42 / 26.5"."""
    whole = re.sub(r"(\d)\s+([1-3])\s*/\s*([2-4])(?!\d)", rf"\1 \2{OWN_STROKE}\3", bare)
    if bracket := re.fullmatch(r"(.*?\d.*?)\s*[(\[](.*\d.*)[)\]]", whole):
        whole = f"{bracket[1]}/{bracket[2]}"
    if not BESIDE.search(whole):
        return [bare]
    return [p.replace(OWN_STROKE, "/") for p in re.split(r"\s*[/|=]\s*", whole)]


def _of_several(parts: list[str], system: System | None, text: str) -> Size:
    """The one of several that counts: the list's own system, else the first that says which it is, else the one that
    can be no other. All have to be sizes of one shoe."""
    named = [(part, _system_in(part)[0]) for part in parts]
    plain_ones = [p for p, told in named if told is None]
    ways: list[tuple[str, System | None]] = [
        *((p, told) for p, told in named if told is not None and told == system),
        *((p, system) for p in plain_ones if system is not None),
        *((p, told) for p, told in named if told is not None and told != system),
        *((p, None) for p in plain_ones),
    ]
    for part, told in ways:
        try:
            found = _one(part, told, text)
        except ValueError:
            continue
        last = last_of(found.system, found.label)
        if all(_may_be(other, last) for other in parts):
            return found
    raise ValueError(f"“{short(text)}” names no sizes that can be of one shoe: which size is it?")


def _may_be(part: str, last_mm: float) -> bool:
    """Whether a size beside another can be of the same shoe, in the system it names or in any."""
    told = _system_in(part)[0]
    for system in (told,) if told else SYSTEMS:
        try:
            found = _one(part, system, part)
        except ValueError:
            continue
        if abs(last_of(found.system, found.label) - last_mm) <= TWINS_APART_MM:
            return True
    return False


def _one(bare: str, system: System | None, text: str) -> Size:
    named, rest = _system_in(bare)
    told = named or system
    if YOUTH_MARK.search(rest):
        if named and SIZE_SYSTEMS[named].land != SIZE_SYSTEMS[YOUTHS].land:
            raise ValueError(f"“{short(text)}” is a youth's size, which is US")
        told, rest = YOUTHS, YOUTH_MARK.sub("", rest)
    elif mark := CHILD_MARK.search(rest):
        rest = CHILD_MARK.sub("", rest)
        if told is None:
            letter = mark[0].strip().upper().rstrip(".")
            raise Asked("child", letter, f"“{short(text)}” is a child's size, UK or US: say which")
        told = SIZE_SYSTEMS[told].children or told
    match = NUMBER.fullmatch(rest)
    if not match or not rest:
        raise ValueError(f"“{short(text)}” isn't a size")
    label = _label(match, text)
    told = told or by_value(label)
    if told and label <= LAST_OF_JUNIORS and JUNIOR_MARK.search(bare):
        told = SIZE_SYSTEMS[told].junior or told
    if told is None:
        raise ValueError(f"“{short(text)}” may be a UK or a US size: say which system the sheet uses")
    of = SIZE_SYSTEMS[told]
    if not of.low <= label <= of.high:
        raise ValueError(f"“{short(text)}” isn't a size in {of.name} ({of.low:g} to {of.high:g})")
    eu = _eu_of(last_of(told, label))
    return Size(told, round(label, 3), label if told == "eu" and label * 2 == int(label * 2) else eu)


def _label(match: re.Match[str], text: str) -> float:
    whole, top, bottom, sign = match.groups()
    label = float((whole or "0").replace(",", "."))
    if top:
        if bottom == "0":
            raise ValueError(f"“{short(text)}” isn't a size")
        label += int(top) / int(bottom)
    label += FRACTIONS.get(sign or "", 0.0)
    third = next((t for near, t in THIRDS if abs(label % 1 - near) < 0.0051), None)
    return label if third is None else int(label) + third


def _system_in(text: str) -> tuple[System | None, str]:
    """The system named before or after a label, and the label without it."""
    before = re.match(
        r"([a-z_]+(?: (?:m|w|c|k|y|men|mens|women|womens|child|kids|junior|youth)(?![a-z]))?)\.?[\s:]*(?=[\d½])", text
    )
    if before and before[1] in SYSTEM_WORDS:
        return SYSTEM_WORDS[before[1]], text[before.end() :]
    after = re.search(r"(?<=[\d½⅓⅔¼¾])\s*\(?([a-z_]+(?: [a-z]+)?)\)?$", text)
    if after and after[1] in SYSTEM_WORDS:
        return SYSTEM_WORDS[after[1]], text[: after.start()]
    return None, text


def by_value(label: float) -> System | None:
    """The system a bare label must be of; none where it may be several."""
    return next((s for s, of in SIZE_SYSTEMS.items() if any(low < label < high for low, high in of.bare)), None)


def system_of(system: str) -> System | None:
    """A system by what a list calls it; none where nobody does."""
    return SYSTEM_WORDS.get(plain(system).lower())
