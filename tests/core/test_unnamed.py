"""How somebody without a name is known, and when they are forgotten."""

from __future__ import annotations

from datetime import date, datetime

import pytest

from kalon.core.care.unnamed import forgotten_on, known_by


def test_they_are_known_by_how_they_look_and_when_they_came() -> None:
    came = datetime(2026, 3, 4, 9, 5)
    assert known_by(" blue jacket ", came) == "blue jacket, 09:05"
    assert known_by("", came) == "Walk-in, 09:05"


@pytest.mark.parametrize(
    ("due", "days", "on"),
    [(None, 30, date(2026, 4, 4)), (date(2026, 3, 1), 30, date(2026, 4, 4)), (date(2026, 6, 1), 30, date(2026, 7, 2)),
     (None, 1, date(2026, 3, 6))],
)  # fmt: skip
def test_the_days_are_whole(due: date | None, days: float, on: date) -> None:
    """Thirty days after 4 March is 3 April: all of that day they are still kept."""
    assert forgotten_on(date(2026, 3, 4), due, days) == on
