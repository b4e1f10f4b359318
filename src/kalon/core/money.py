"""Money: whole minor units of a currency, and how they are written."""

from __future__ import annotations

MINOR_DIGITS = {
    "BIF": 0, "CLP": 0, "DJF": 0, "GNF": 0, "ISK": 0, "JPY": 0, "KMF": 0, "KRW": 0, "PYG": 0, "RWF": 0, "UGX": 0,
    "UYI": 0, "VND": 0, "VUV": 0, "XAF": 0, "XOF": 0, "XPF": 0,
    "BHD": 3, "IQD": 3, "JOD": 3, "KWD": 3, "LYD": 3, "OMR": 3, "TND": 3,
}  # fmt: skip
"""Digits after the point where they aren't two (ISO 4217, from memory)."""


def minor_digits(currency: str) -> int:
    """Digits after the point in this currency."""
    return MINOR_DIGITS.get(currency, 2)


def in_minor(amount: float, currency: str) -> int:
    """An amount in minor units."""
    return round(amount * float(10 ** minor_digits(currency)))


def written(minor: int, currency: str) -> str:
    """As a sheet shows it, to the last unit: `129.50 EUR`."""
    digits = minor_digits(currency)
    sign, whole = "-" * (minor < 0), abs(minor)
    if not digits:
        return f"{sign}{whole} {currency}"
    return f"{sign}{whole // 10**digits}.{whole % 10**digits:0{digits}d} {currency}"
