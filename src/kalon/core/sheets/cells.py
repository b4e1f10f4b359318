"""What is written in one cell of a supplier's list: sizes, bar codes, money, numbers, yes and no.

Every reader takes text and raises `ValueError` with a sentence where it can make nothing of it.
"""

from __future__ import annotations

import math
import re
from dataclasses import dataclass
from functools import lru_cache

from ..money import MINOR_DIGITS, Money, minor_digits
from ..shoes.inner import width_step_mm
from ..sizes import SOLD, System, label_of, last_of

FRACTIONS = {"½": 0.5, "⅓": 1 / 3, "⅔": 2 / 3, "¼": 0.25, "¾": 0.75}
SYSTEM_WORDS: dict[str, System] = {
    "eu": "eu", "eur": "eu", "euro": "eu", "fr": "eu", "paris": "eu",
    "uk": "uk", "gb": "uk", "english": "uk",
    "us": "us_men", "usa": "us_men", "us m": "us_men", "us men": "us_men", "us mens": "us_men", "usm": "us_men",
    "us_men": "us_men", "m": "us_men", "men": "us_men",
    "us w": "us_women", "us women": "us_women", "us womens": "us_women", "usw": "us_women", "us_women": "us_women",
    "w": "us_women", "women": "us_women",
    "uk c": "uk_child", "uk child": "uk_child", "uk kids": "uk_child", "uk junior": "uk_child", "uk_child": "uk_child",
    "jp": "jp_cm", "cm": "jp_cm", "jp_cm": "jp_cm", "japan": "jp_cm",
    "mondo": "mondopoint_mm", "mondopoint": "mondopoint_mm", "mp": "mondopoint_mm", "mm": "mondopoint_mm",
    "mondopoint_mm": "mondopoint_mm",
}  # fmt: skip
"""What lists call the size systems; common practice, from memory."""
SYSTEM_NAMES: dict[System, str] = {
    "eu": "EU", "uk": "UK", "us_men": "US men", "us_women": "US women", "uk_child": "UK child", "jp_cm": "JP",
    "mondopoint_mm": "Mondopoint",
}  # fmt: skip
NUMBER = re.compile(r"(\d+(?:[.,]\d+)?)?\s*(?:(\d)\s*/\s*(\d)|([½⅓⅔¼¾]))?")
CURRENCY_SIGNS = {"€": "EUR", "£": "GBP", "$": "USD", "¥": "JPY", "zł": "PLN", "fr.": "CHF"}
"""From memory."""
CURRENCIES = {*MINOR_DIGITS, *CURRENCY_SIGNS.values(), "SEK", "NOK", "DKK", "CZK", "HUF", "CAD", "AUD", "NZD", "RON"}
CHILD_MARK = re.compile(r"(?<=\d)\s*(?:c|k|j|jr|child|kids)\.?$", re.IGNORECASE)


@dataclass(frozen=True)
class Size:
    """A size as printed: its system, its label there, and the EU label nearest to it."""

    system: System
    label: float
    eu_label: float


def plain(text: str) -> str:
    """Text with its spaces put right, and without signs nobody can see or write."""
    if text.isprintable() and text.isascii() and "  " not in text and text == text.strip():
        return text
    seen = re.sub(r"[\x00-\x1f\x7f\u00a0\ufeff]", " ", text).encode("utf-8", "replace").decode()
    return " ".join(seen.split())


def number(text: str) -> float:
    """A number with a point or a comma; thousands set off by the other one, a space or an apostrophe."""
    bare = re.sub(r"[\s'’\u00a0\u202f]", "", text)
    if re.fullmatch(r"[-+−]?\d{1,3}(\.\d{3})+,\d+", bare) or re.fullmatch(r"[-+−]?\d{1,3}(\.\d{3}){2,}", bare):
        bare = bare.replace(".", "").replace(",", ".")
    elif re.fullmatch(r"[-+−]?\d{1,3}(,\d{3})+(\.\d+)?", bare) and (bare.count(",") > 1 or "." in bare):
        bare = bare.replace(",", "")
    else:
        bare = bare.replace(",", ".")
    try:
        found = float(bare.replace("−", "-"))
    except ValueError:
        raise ValueError(f"“{_short(text)}” is no number") from None
    if not math.isfinite(found) or "_" in bare:
        raise ValueError(f"“{_short(text)}” is no number")
    return found


def pairs(text: str) -> int:
    """How many pairs: a whole number from 0 to 9999."""
    found = number(text)
    if found != int(found) or not 0 <= found <= 9999:
        raise ValueError(f"“{_short(text)}” isn't a number of pairs (0 to 9999)")
    return int(found)


@lru_cache(maxsize=10_000)
def size(text: str, system: System | None) -> Size:
    """A size label: "42", "42,5", "42 2/3", "8½", "UK 8.5", "US W 9", "13C". Raises `ValueError`."""
    bare = plain(text).lower().strip("'\"")
    told, rest = _system_in(bare)
    told = told or system
    if CHILD_MARK.search(rest):
        rest = CHILD_MARK.sub("", rest)
        if told not in (None, "uk", "uk_child"):
            raise ValueError(f"“{_short(text)}” is a child's size that isn't UK; give its EU or UK size")
        told = "uk_child"
    match = NUMBER.fullmatch(rest)
    if not match or not rest:
        raise ValueError(f"“{_short(text)}” isn't a size")
    whole, top, bottom, sign = match.groups()
    label = float((whole or "0").replace(",", "."))
    if top:
        if bottom == "0":
            raise ValueError(f"“{_short(text)}” isn't a size")
        label += int(top) / int(bottom)
    label += FRACTIONS.get(sign or "", 0.0)
    told = told or by_value(label)
    if told is None:
        raise ValueError(f"“{_short(text)}” may be a UK or a US size: say which system the sheet uses")
    low, high = SOLD[told]
    if not low <= label <= high:
        raise ValueError(f"“{_short(text)}” isn't a size in {SYSTEM_NAMES[told]} ({low:g} to {high:g})")
    eu = round(label_of("eu", last_of(told, label)) * 2) / 2
    return Size(told, round(label, 3), label if told == "eu" and label * 2 == int(label * 2) else eu)


def _system_in(text: str) -> tuple[System | None, str]:
    """The system named before or after a label, and the label without it."""
    before = re.match(
        r"([a-z_]+(?: (?:m|w|c|men|mens|women|womens|child|kids|junior)(?![a-z]))?)\.?[\s:]*(?=[\d½])", text
    )
    if before and before[1] in SYSTEM_WORDS:
        return SYSTEM_WORDS[before[1]], text[before.end() :]
    after = re.search(r"(?<=[\d½⅓⅔¼¾])\s*\(?([a-z_]+(?: [a-z]+)?)\)?$", text)
    if after and after[1] in SYSTEM_WORDS:
        return SYSTEM_WORDS[after[1]], text[: after.start()]
    return None, text


def by_value(label: float) -> System | None:
    """The system a bare label must be of; none where it may be several."""
    if 15 < label < 20 or 33 < label <= 52:
        return "eu"
    return "mondopoint_mm" if 100 <= label <= 340 else None


def gtin(text: str) -> str:
    """A bar code of 8, 12, 13 or 14 digits as fourteen, its check digit right (GS1, weights 3 and 1). `ValueError`."""
    bare = re.sub(r"[\s-]", "", text).removesuffix(".0")
    if re.fullmatch(r"\d+(?:[.,]\d+)?[eE]\+?\d+", bare):
        raise ValueError(f"the spreadsheet shortened the bar code to “{_short(text)}”: write it as text")
    if not re.fullmatch(r"\d{8}|\d{12,14}", bare):
        raise ValueError(f"“{_short(text)}” isn't a bar code of 8, 12, 13 or 14 digits")
    whole = bare.zfill(14)
    if check_digit(whole[:-1]) != int(whole[-1]):
        raise ValueError(f"the bar code {bare} is mistyped: its check digit should be {check_digit(whole[:-1])}")
    return whole


def check_digit(digits: str) -> int:
    """The last digit of a bar code whose other digits are these (GS1 General Specifications, from memory)."""
    total = sum(int(d) * (3 if i % 2 == 0 else 1) for i, d in enumerate(reversed(digits)))
    return -total % 10


@lru_cache(maxsize=10_000)
def money(text: str, currency: str) -> Money:
    """A price: "129,50", "€ 1.299,00", "129.50 EUR"; in `currency` where it names none. Raises `ValueError`."""
    bare, told = plain(text), None
    for sign, name in CURRENCY_SIGNS.items():
        if sign in bare.lower():
            bare, told = re.sub(re.escape(sign), "", bare, flags=re.IGNORECASE), name
    if code := re.search(r"\b([A-Z]{3})\b", bare):
        if code[1] not in CURRENCIES:
            raise ValueError(f"“{code[1]}” isn't a currency that is known here")
        bare, told = bare.replace(code[1], ""), code[1]
    try:
        amount = number(bare.strip())
    except ValueError:
        raise ValueError(f"“{_short(text)}” isn't a price") from None
    digits = minor_digits(told or currency)
    minor = round(amount * 10**digits)
    if abs(amount * 10**digits - minor) > 0.01:
        raise ValueError(f"“{_short(text)}” has more decimals than {told or currency} has")
    if not 0 <= minor <= 100_000_000:
        raise ValueError(f"“{_short(text)}” isn't a price")
    return Money(minor, told or currency)


WIDTH_WORDS = {
    "": "regular", "n": "narrow", "slim": "narrow", "std": "regular", "standard": "regular", "medium": "regular",
    "normal": "regular", "r": "regular", "m": "regular", "w": "wide", "xw": "wide", "broad": "wide", "x-wide": "wide",
}  # fmt: skip
"""Words for widths that mean another; common practice, from memory."""


@lru_cache(maxsize=10_000)
def width(text: str, system: System) -> str:
    """A width as it is kept: a family's word, or a letter. Raises `ValueError`."""
    bare = plain(text).lower()
    word = WIDTH_WORDS.get(bare, bare)
    try:
        width_step_mm(word, system)
    except ValueError:
        raise ValueError(f"“{_short(text)}” isn't a width (narrow, regular, wide, or a letter 4A to 6E)") from None
    return word if word.isalpha() and len(word) > 1 and not set(word) <= set("abcdef") else _letter(word)


def _letter(word: str) -> str:
    """A width letter written one way: EE and 2E are one."""
    letter = word.upper()
    run = re.fullmatch(r"(A{2,4}|E{2,4})", letter)
    return f"{len(letter)}{letter[0]}" if run else letter


YES, NO = {"yes", "y", "true", "1", "x", "ja", "oui", "si"}, {"no", "n", "false", "0", "nein", "non", "none"}


def yes_no(text: str) -> bool:
    """Whether a shoe has something. Raises `ValueError`."""
    bare = plain(text).lower()
    if bare in YES:
        return True
    if bare in NO:
        return False
    raise ValueError(f"“{_short(text)}” is neither yes nor no")


def one_of(text: str, words: tuple[str, ...], what: str) -> str:
    """A word of a kind, however it is spaced. Raises `ValueError`."""
    bare = re.sub(r"[\s-]+", "_", plain(text).lower())
    if bare in words:
        return bare
    raise ValueError(f"“{_short(text)}” isn't {what}: {', '.join(w.replace('_', ' ') for w in words)}")


def _short(text: str) -> str:
    return text if len(text) <= 40 else text[:39] + "…"


def system_of(system: str) -> System | None:
    """A system by what a list calls it; none where nobody does."""
    return SYSTEM_WORDS.get(plain(system).lower())
