"""What a card of sizes says: the size worn of each maker, the feet, what to ask for elsewhere."""

from __future__ import annotations

from typing import Any

from kalon.core.care.size_card import Fits, ask_for, by_maker, feet_lines
from kalon.core.feet.combine import FeetFound, combine
from kalon.core.feet.gauge import Feet


def found(**feet: Any) -> FeetFound:
    return combine(Feet.model_validate(feet), [])


def test_of_each_maker_the_size_most_of_its_shoes_fit_in() -> None:
    """One surer shoe in 42 doesn't outweigh two in 43; what hardly fits says nothing; the surest maker first."""
    shelf = [
        Fits("Velmire", "EU 42", 0.8), Fits("Velmire", "EU 43", 0.6), Fits("Velmire", "EU 43", 0.5),
        Fits("Orvane", "UK 8", 0.9), Fits("Skerrowe", "EU 41", 0.2),
    ]  # fmt: skip
    assert by_maker(shelf) == [("Orvane", "UK 8"), ("Velmire", "EU 43")]
    many = [Fits(f"Maker {n}", "EU 40", 0.5 + n / 100) for n in range(9)]
    assert [m for m, _ in by_maker(many)] == [f"Maker {n}" for n in (8, 7, 6, 5, 4, 3)]
    assert by_maker([]) == []


def test_the_feet_as_sure_as_they_are() -> None:
    feet = found(left={"length_mm": 262, "ball_girth_mm": 251}, right={"length_mm": 264, "ball_width_mm": 101})
    assert feet_lines(feet) == [
        "Left 262 ± 2 mm long, 251 round the ball", "Right 264 ± 2 mm long, 101 wide at the ball",
    ]  # fmt: skip
    assert feet_lines(found(left={"ball_girth_mm": 251})) == []


def test_what_to_ask_for_elsewhere() -> None:
    """The room is counted from the longer foot; feet of one length, usual toes and volume say nothing of themselves."""
    unlike = found(left={"length_mm": 262, "toe_shape": "second_longest", "bunion": True}, right={"length_mm": 264.5})
    assert ask_for(unlike, (8, 12), "high", "Football") == [
        "Football: 272 to 276 mm long inside", "Fit the right foot: it is 2 mm longer",
        "High in volume: a high instep", "The second toe is the longest: length by it", "Width over the big toe's joint",
    ]  # fmt: skip
    alike = found(left={"length_mm": 262, "toe_shape": "first_longest"}, right={"length_mm": 262.5})
    assert ask_for(alike, (-4, 0), "medium", "Climbing") == ["Climbing: 258 to 262 mm long inside"]
    assert ask_for(found(), (8, 12), None, "Court") == []
    assert ask_for(alike, None, None, "") == []
