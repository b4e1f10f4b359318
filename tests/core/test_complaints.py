"""What was said of feet, and where on them, read out of a fitting as ordinary people fill it in."""

from __future__ import annotations

from typing import Any

import pytest

from kalon.core.care.complaints import complaints_of

WHERE = [
    ("left heel sore", "left", "heel"),
    ("pain under the ball of the right foot", "right", "ball"),
    ("sore little toe, both sides", None, "outer_ball"),
    ("hurts at the back of the heel on the left", "left", "heel_back"),
    ("it hurts somewhere", None, None),
    ("heel hurts left more than right", None, "heel"),
    ("big toe joint aches on the right, the left is fine", "right", "big_toe_joint"),
]


@pytest.mark.parametrize(("words", "side", "zone"), WHERE)
def test_words_are_put_where_they_say(words: str, side: str | None, zone: str | None) -> None:
    """In a note at Feet, and as what was sore when they came back."""
    (noted,) = [c for c in complaints_of({"feet": {"note": words}}) if c.text.startswith("Pain")]
    assert (noted.station, noted.side, noted.zone) == ("feet", side, zone)
    (back,) = complaints_of({"return": {"sore": words.split(",")[0]}})
    assert (back.station, back.side, back.zone) == ("return", side, zone)


def test_a_pinch_is_where_it_was_pressed() -> None:
    pairs = {"a": {"pinches": {"left:ball": 2, "right:heel_back": 3}}, "b": {"pinches": {"left:ball": 1}}}
    told = complaints_of({"trial": {"pairs": pairs}})
    assert [(c.line_id, c.side, c.zone, c.severity) for c in told] == [
        ("a", "left", "ball", 2), ("a", "right", "heel_back", 3), ("b", "left", "ball", 1),
    ]  # fmt: skip
    assert told[1].text == "Back of the heel: can't be worn"


def test_what_is_ticked_is_told_in_its_words() -> None:
    said = complaints_of({"brief": {"history": ["forefoot", "knee", "older"]}, "feet": {"concerns": ["circulation"]}})
    assert {(c.station, c.zone, c.text) for c in said} == {
        ("brief", "ball", "Ball of the foot"), ("brief", None, "Knee"),
        ("feet", None, "Diabetes or poor circulation"),
    }  # fmt: skip


@pytest.mark.parametrize(
    "bodies",
    [{}, {"feet": {}, "trial": {}}, {"feet": {"note": "no pain, not diabetic"}}, {"brief": {"history": []}},
     {"return": {"sore": "  "}}, {"trial": {"pairs": {"a": {"verdict": "pass"}}}}],
)  # fmt: skip
def test_nothing_said_is_nothing(bodies: dict[str, Any]) -> None:
    assert complaints_of(bodies) == []


def test_a_part_that_no_longer_reads_silences_no_other() -> None:
    (one,) = complaints_of({"feet": {"left": {"length_mm": "long"}}, "return": {"sore": "left instep"}})
    assert (one.side, one.zone) == ("left", "instep")
