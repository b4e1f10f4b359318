"""What is written in one cell of a supplier's list: bar codes, money, numbers, widths, yes and no.

Every reader takes text and raises `ValueError` with a sentence where it can make nothing of it.
"""

from __future__ import annotations

import math
import re
from functools import lru_cache

from ..money import MINOR_DIGITS, Money, minor_digits
from ..shoes.inner import width_step_mm
from ..systems import System
from .plain import plain, short

CURRENCY_SIGNS = {"€": "EUR", "£": "GBP", "$": "USD", "¥": "JPY", "zł": "PLN", "fr.": "CHF"}
"""From memory."""
CURRENCIES = {*MINOR_DIGITS, *CURRENCY_SIGNS.values(), "SEK", "NOK", "DKK", "CZK", "HUF", "CAD", "AUD", "NZD", "RON"}

SET_OFF = re.compile(r"[\s'’\u00a0\u202f]")
POINTS = re.compile(r"[-+−]?\d{1,3}(?:(?:\.\d{3})+,\d+|(?:\.\d{3}){2,})")
COMMAS = re.compile(r"[-+−]?\d{1,3}(,\d{3})+(\.\d+)?")
"""Thousands set off."""
APART = re.compile(r"[\s-]")
SHORTENED = re.compile(r"\d+(?:[.,]\d+)?[eE]\+?\d+")
BAR_CODE = re.compile(r"\d{8}|\d{12,14}")


def number(text: str) -> float:
    """A number with a point or a comma; thousands set off by the other one, a space or an apostrophe."""
    bare = SET_OFF.sub("", text)
    if POINTS.fullmatch(bare):
        bare = bare.replace(".", "").replace(",", ".")
    elif COMMAS.fullmatch(bare) and (bare.count(",") > 1 or "." in bare):
        bare = bare.replace(",", "")
    else:
        bare = bare.replace(",", ".")
    try:
        found = float(bare.replace("−", "-"))
    except ValueError:
        raise ValueError(f"“{short(text)}” is no number") from None
    if not math.isfinite(found) or "_" in bare:
        raise ValueError(f"“{short(text)}” is no number")
    return found


def pairs(text: str) -> int:
    """How many pairs: a whole number from 0 to 9999."""
    found = number(text)
    if found != int(found) or not 0 <= found <= 9999:
        raise ValueError(f"“{short(text)}” isn't a number of pairs (0 to 9999)")
    return int(found)


def gtin(text: str) -> str:
    """A bar code of 8, 12, 13 or 14 digits as fourteen, its check digit right (GS1, weights 3 and 1). `ValueError`."""
    bare = APART.sub("", text).removesuffix(".0")
    if SHORTENED.fullmatch(bare):
        raise ValueError(f"the spreadsheet shortened the bar code to “{short(text)}”: write it as text")
    if not BAR_CODE.fullmatch(bare):
        raise ValueError(f"“{short(text)}” isn't a bar code of 8, 12, 13 or 14 digits")
    whole = bare.zfill(14)
    if check_digit(whole[:-1]) != int(whole[-1]):
        raise ValueError(f"the bar code {bare} is mistyped: its check digit should be {check_digit(whole[:-1])}")
    return whole


def check_digit(digits: str) -> int:
    """The last digit of a bar code whose other digits are these (GS1 General Specifications, from memory)."""
    return -(3 * sum(map(int, digits[-1::-2])) + sum(map(int, digits[-2::-2]))) % 10


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
        raise ValueError(f"“{short(text)}” isn't a price") from None
    digits = minor_digits(told or currency)
    minor = round(amount * 10**digits)
    if abs(amount * 10**digits - minor) > 0.01:
        raise ValueError(f"“{short(text)}” has more decimals than {told or currency} has")
    if not 0 <= minor <= 100_000_000:
        raise ValueError(f"“{short(text)}” isn't a price")
    return Money(minor, told or currency)


@lru_cache(maxsize=10_000)
def width(text: str, system: System) -> str:
    """A width as it is kept: a family's word, or a letter. Raises `ValueError`."""
    word = plain(text).lower() or "regular"
    try:
        width_step_mm(word, system)
    except ValueError:
        raise ValueError(f"“{short(text)}” isn't a width (narrow, regular, wide, or a letter 4A to 6E)") from None
    is_word = word.replace(" ", "").isalpha() and len(word) > 1 and not set(word) <= set("abcdef")
    return word if is_word else _letter(word)


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
    raise ValueError(f"“{short(text)}” is neither yes nor no")


def one_of(text: str, words: tuple[str, ...], what: str) -> str:
    """A word of a kind, however it is spaced. Raises `ValueError`."""
    bare = re.sub(r"[\s-]+", "_", plain(text).lower())
    if bare in words:
        return bare
    raise ValueError(f"“{short(text)}” isn't {what}")
