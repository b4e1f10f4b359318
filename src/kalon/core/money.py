"""Money: whole minor units of one currency. Amounts of different currencies are never set against each other."""

from __future__ import annotations

import math
from dataclasses import dataclass
from fractions import Fraction
from functools import total_ordering

MINOR_DIGITS = {
    "BIF": 0, "CLP": 0, "DJF": 0, "GNF": 0, "ISK": 0, "JPY": 0, "KMF": 0, "KRW": 0, "PYG": 0, "RWF": 0, "UGX": 0,
    "UYI": 0, "VND": 0, "VUV": 0, "XAF": 0, "XOF": 0, "XPF": 0,
    "BHD": 3, "IQD": 3, "JOD": 3, "KWD": 3, "LYD": 3, "OMR": 3, "TND": 3,
}  # fmt: skip
"""Digits after the point where they aren't two (ISO 4217, from memory)."""


def minor_digits(currency: str) -> int:
    """Digits after the point in this currency."""
    return MINOR_DIGITS.get(currency, 2)


def half_up(amount: float) -> int:
    """To the nearest minor unit, halves up, as tills do. Common practice, no source."""
    return math.floor(amount + 0.5 + 1e-9)


def nearest(amount: Fraction) -> int:
    """To the nearest minor unit, exactly; halves away from nothing, so that what is paid back is what was paid."""
    size = math.floor(abs(amount) + Fraction(1, 2))
    return size if amount >= 0 else -size


@total_ordering
@dataclass(frozen=True, slots=True)
class Money:
    """An amount of a currency (ISO 4217) in its minor units. Raises `ValueError` where two currencies meet."""

    minor: int
    currency: str

    @classmethod
    def of(cls, amount: float, currency: str) -> Money:
        """So many whole units, to the nearest minor one."""
        return cls(half_up(amount * 10 ** minor_digits(currency)), currency)

    @property
    def whole(self) -> float:
        """In whole units."""
        return float(self.minor / 10 ** minor_digits(self.currency))

    def per(self, other: Money) -> float:
        """How many times the other it is. Raises `ZeroDivisionError` against nothing."""
        return self.minor / self._alike(other).minor

    def __add__(self, other: Money) -> Money:
        return Money(self.minor + self._alike(other).minor, self.currency)

    def __sub__(self, other: Money) -> Money:
        return Money(self.minor - self._alike(other).minor, self.currency)

    def __mul__(self, times: int) -> Money:
        return Money(self.minor * times, self.currency)

    def __lt__(self, other: Money) -> bool:
        return self.minor < self._alike(other).minor

    def _alike(self, other: Money) -> Money:
        if other.currency != self.currency:
            raise ValueError(f"{self.currency} and {other.currency} can't be set against each other")
        return other

    @property
    def amount(self) -> str:
        """To the last unit, without its currency: `129.50`."""
        digits = minor_digits(self.currency)
        sign, whole = "-" * (self.minor < 0), abs(self.minor)
        return f"{sign}{whole // 10**digits}.{whole % 10**digits:0{digits}d}" if digits else f"{sign}{whole}"

    def __str__(self) -> str:
        """As a sheet shows it: `129.50 EUR`."""
        return f"{self.amount} {self.currency}"
