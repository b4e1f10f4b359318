"""Somebody fitted without a name: how they are known meanwhile, and when they are forgotten."""

from __future__ import annotations

from datetime import date, datetime, timedelta

NOBODY = "Walk-in"


def known_by(called: str, came: datetime) -> str:
    """How somebody without a name is known here: "blue jacket, 14:05"."""
    return f"{called.strip() or NOBODY}, {came:%H:%M}"


def forgotten_on(last_seen: date, due_on: date | None, days: float) -> date:
    """The first day on which nothing more is kept of somebody who never said a name: so many days after they were last
    worked with, or after the last day something of theirs is due."""
    return max(last_seen, due_on or last_seen) + timedelta(days=int(days) + 1)
