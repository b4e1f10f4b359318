"""A day, a month or a year, as it is written: `2026-11-30`, `2026-11`, `2026`."""

from __future__ import annotations

import re
from calendar import monthrange
from dataclasses import dataclass
from datetime import date

from ..errors import BadInput


@dataclass(frozen=True)
class Period:
    """Days from the first to the last, both with it, and how it is written."""

    first: date
    last: date
    text: str


def period(text: str) -> Period:
    """Raises `BadInput` for what is no day, month or year."""
    found = re.fullmatch(r"(\d{4})(?:-(\d{2})(?:-(\d{2}))?)?", text)
    try:
        if not found:
            raise ValueError(text)
        year, month, day = (int(g) if g else None for g in found.groups())
        assert year is not None
        if month is None:
            return Period(date(year, 1, 1), date(year, 12, 31), text)
        if day is None:
            return Period(date(year, month, 1), date(year, month, monthrange(year, month)[1]), text)
        return Period(date(year, month, day), date(year, month, day), text)
    except ValueError:
        raise BadInput(f"{text[:20]} is no day, month or year: write 2026-11-30, 2026-11 or 2026.") from None
