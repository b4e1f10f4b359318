"""Quantities: millimetres inside, inches and labels only at the edges."""

from __future__ import annotations

INCH_MM = 25.4
"""Exact by definition (international inch, 1959)."""

HALF_UK_MM = INCH_MM / 6
"""Half a UK size: half a barleycorn of a third of an inch, 4.233 mm."""


def signed(value: float, decimals: int = 1) -> str:
    """A number with its sign, a minus as one writes it, and none before what comes out as nothing."""
    near = round(value, decimals)
    return f"{near:+.{decimals}f}".replace("-", "−") if near else f"{0:.{decimals}f}"


def inch_to_mm(inches: float) -> float:
    """Inches as millimetres."""
    return inches * INCH_MM


def mm_to_inch(mm: float) -> float:
    """Millimetres as inches."""
    return mm / INCH_MM
