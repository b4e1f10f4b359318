"""Feet from the gauge: refused, questioned, classed, compared; and the foot a shoe has to hold."""

from __future__ import annotations

from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from kalon.core.errors import BadInput, read, unit_of
from kalon.core.feet.gauge import NAMES, POSSIBLE_MM, Feet, GaugeFoot, is_complete, missing, read_feet, volume_class
from kalon.core.feet.measures import Number, arch_class
from kalon.core.fit.foot import FIT_ZONES, day_share, foot_to_fit
from tests.made import FEET, foot


def with_foot(side: str, **values: Any) -> Feet:
    body = FEET.model_dump()
    body[side] |= values
    return Feet.model_validate(body)


def test_a_usual_pair_raises_no_question() -> None:
    reading = read_feet(FEET)
    assert reading.questions == []
    assert reading.complete
    assert reading.volume == {"left": "medium", "right": "medium"}


@pytest.mark.parametrize("field", list(POSSIBLE_MM))
@pytest.mark.parametrize("end", [0, 1])
def test_impossible_numbers_are_refused_beside_their_field(field: str, end: int) -> None:
    value = POSSIBLE_MM[field][end] + (1 if end else -1)
    with pytest.raises(BadInput) as caught:
        read(Feet, {"left": {field: value}})
    assert caught.value.fields[0].field == f"left.{field}"
    assert unit_of(field) in caught.value.fields[0].text


@pytest.mark.parametrize(
    ("field", "value", "word"),
    [
        ("ball_width_mm", 130, "large"),
        ("ball_width_mm", 80, "small"),
        ("ball_girth_mm", 320, "large"),
        ("instep_girth_mm", 190, "small"),
        ("heel_width_mm", 95, "large"),
        ("heel_width_mm", 45, "small"),
    ],
)
def test_implausible_numbers_are_questioned_not_refused(field: str, value: float, word: str) -> None:
    questions = read_feet(with_foot("right", **{field: value})).questions
    asked = [q for q in questions if q.field == f"right.{field}"]
    assert asked
    assert any(word in q.text for q in asked)
    assert all(q.text.endswith("?") for q in asked)


def test_a_tape_shorter_than_twice_the_width_is_questioned() -> None:
    feet = with_foot("left", ball_width_mm=118, ball_girth_mm=230)
    assert any("twice the width" in q.text for q in read_feet(feet).questions)


def test_feet_far_apart_are_questioned() -> None:
    feet = with_foot("left", length_mm=285)
    assert any("both" in q.text for q in read_feet(feet).questions)


@given(apart=st.floats(-11, 11))
def test_a_difference_over_half_a_size_gets_a_remedy(apart: float) -> None:
    feet = with_foot("left", length_mm=265 + apart)
    reading = read_feet(feet)
    has_remedy = any("longer" in r for r in reading.remedies)
    assert has_remedy == (abs(apart) > 25.4 / 6)
    if has_remedy:
        assert ("left" if apart > 0 else "right") in reading.remedies[0]


@given(girth=st.floats(200, 300), more=st.floats(0, 60))
def test_volume_grows_with_girth(girth: float, more: float) -> None:
    order = ["low", "medium", "high"]
    small, _ = volume_class(foot(ball_girth_mm=girth))
    large, _ = volume_class(foot(ball_girth_mm=girth + more))
    assert order.index(small or "") <= order.index(large or "")


def test_volume_needs_a_girth() -> None:
    assert volume_class(GaugeFoot(length_mm=260))[0] is None


def test_missing_names_every_gap() -> None:
    body = FEET.model_dump()
    body["left"]["length_mm"] = None
    body["right"]["heel_width_mm"] = None
    body["right"]["ball_width_mm"] = body["right"]["ball_girth_mm"] = None
    feet = Feet.model_validate(body)
    assert missing(feet) == ["left.length_mm", "right.ball_width_mm", "right.ball_girth_mm", "right.heel_width_mm"]
    assert not is_complete(feet)
    with pytest.raises(BadInput) as caught:
        foot_to_fit(feet)
    assert caught.value.code == "feet-incomplete"
    assert {f.field for f in caught.value.fields} == {"feet.left.length_mm", "feet.right.ball_width_mm"}


def test_every_measure_has_a_name() -> None:
    assert set(NAMES) == set(POSSIBLE_MM)


@pytest.mark.parametrize("time", ["25:00", "9:00", "noon", "12:60"])
def test_a_time_is_a_time(time: str) -> None:
    with pytest.raises(BadInput):
        read(Feet, {"time_of_day": time})


@pytest.mark.parametrize(("time", "share"), [("07:00", 0), ("05:00", 0), ("13:00", 0.5), ("19:00", 1), ("23:00", 1)])
def test_share_of_the_days_swelling(time: str, share: float) -> None:
    assert day_share(time) == pytest.approx(share)


def test_morning_feet_are_given_room_to_swell() -> None:
    morning = foot_to_fit(FEET.model_copy(update={"time_of_day": "08:00"}))
    evening = foot_to_fit(FEET.model_copy(update={"time_of_day": "19:00"}))
    assert (morning.larger > evening.larger).all()


@pytest.mark.parametrize(("thinner", "thicker"), [("none", "thin"), ("thin", "medium"), ("medium", "thick")])
def test_a_thicker_sock_makes_a_larger_foot(thinner: str, thicker: str) -> None:
    thin = foot_to_fit(FEET, sock=thinner)  # type: ignore[arg-type]
    thick = foot_to_fit(FEET, sock=thicker)  # type: ignore[arg-type]
    assert (thick.larger > thin.larger).all()
    assert (thick.sigma >= thin.sigma).all()


def test_long_efforts_and_sitting_are_allowed_for_and_said() -> None:
    plain = foot_to_fit(FEET)
    long = foot_to_fit(FEET, long_effort=True)
    sitting = foot_to_fit(FEET.model_copy(update={"stance": "sitting"}))
    assert (long.larger > plain.larger).all()
    assert sitting.larger[0] > plain.larger[0]
    assert any("Long efforts" in n for n in long.notes)
    assert any("sitting" in n for n in sitting.notes)


def test_the_larger_foot_governs_zone_by_zone() -> None:
    feet = with_foot("left", length_mm=268, ball_girth_mm=240)
    found = foot_to_fit(feet)
    sides = dict(zip(FIT_ZONES, found.larger_side, strict=True))
    assert sides["length"] == "left"
    assert sides["ball_girth"] == "right"


@pytest.mark.parametrize(("index", "word"), [(0.20, "high"), (0.22, "medium"), (0.25, "medium"), (0.27, "low")])
def test_an_arch_by_its_print(index: float, word: str) -> None:
    """Cavanagh & Rodgers 1987 (J Biomech): high up to 0.21, low from 0.26."""
    assert arch_class({"arch_index": Number(value=index, sigma=0.01)}).value == word
