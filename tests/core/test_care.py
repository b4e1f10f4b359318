"""Trial advice, break-in plans and follow-ups."""

from __future__ import annotations

from datetime import date, timedelta
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from kalon.core.care.breakin import LEAST_SESSIONS, LONGEST_MIN, BreakInIn, breakin
from kalon.core.care.followup import FollowUpIn, ZonePrediction, follow_up
from kalon.core.errors import BadInput, read
from kalon.core.fit.size import SizeFit, ZoneFit, gives_most
from kalon.core.fit.stretch import UPPERS, StretchIn, stretch
from kalon.core.fit.trial import TESTS, PairTrial, advise, pinches_of
from kalon.core.rules.brief import SPORTS

MONDAY = date(2026, 3, 2)


@pytest.mark.parametrize(
    ("found", "upper", "step"),
    [
        ({"toes": "jam"}, "synthetic", "half_up"),
        ({"pinches": {"left:toe_tips": 2}}, "synthetic", "half_up"),
        ({"toes": "slack"}, "synthetic", "half_down"),
        ({"pinches": {"right:ball": 2}}, "synthetic", "wider"),
        ({"pinches": {"right:outer_ball": 1}}, "leather_lined", "wait"),
        ({"pinches": {"right:outer_ball": 3}}, "leather_lined", "wider"),
        ({"pinches": {"left:instep": 1}}, "knit", "lacing"),
        ({"heel_slip": 1}, "knit", "lower_volume"),
        ({"slide": "in_cuts"}, "knit", "smaller"),
        ({"slide": "always"}, "knit", "smaller"),
        ({"pinches": {"left:heel_back": 3}}, "leather_unlined", "out"),
        ({"pinches": {"left:ankle": 2}}, "knit", "other_shape"),
    ],
)
def test_what_the_trade_does_about_it(found: dict[str, Any], upper: Any, step: str) -> None:
    """Common practice, no source."""
    assert step in [a.step for a in advise(PairTrial.model_validate(found), upper)]


def test_a_pair_without_findings_gets_no_advice() -> None:
    assert advise(PairTrial(), "synthetic") == []


@pytest.mark.parametrize("slide", ["in_cuts", "always"])
@pytest.mark.parametrize("jams", [{"toes": "jam"}, {"pinches": {"left:toe_tips": 2}}])
def test_longer_and_shorter_are_never_said_in_one_breath(slide: str, jams: dict[str, Any]) -> None:
    found = advise(PairTrial.model_validate({"slide": slide, **jams}), "synthetic")
    assert [a.step for a in found] == ["half_up", "lower_volume"]
    assert not any("half a size" in a.text or "smaller" in a.text for a in found)
    spared = " ".join(
        a.text for a in advise(PairTrial.model_validate({"slide": slide, **jams}), "synthetic", unfelt=True)
    )
    assert "is closer" not in spared  # on feet that don't feel nothing is taken closer
    assert "It slides: hold it with the closure" in spared
    both = advise(PairTrial.model_validate({"toes": "slack", "pinches": {"left:toe_tips": 3}}), "synthetic")
    assert "half_down" not in [a.step for a in both]


def test_a_width_pinch_never_means_longer() -> None:
    for zone in ("ball", "outer_ball", "big_toe_joint"):
        steps = [a.step for a in advise(PairTrial(pinches={f"left:{zone}": 2}), "synthetic")]
        assert "half_up" not in steps


def test_the_worse_side_counts() -> None:
    trial = PairTrial(pinches={"left:ball": 1, "right:ball": 3})
    assert [p.severity for p in pinches_of(trial)] == [1, 3]
    assert "wider" in [a.step for a in advise(trial, "leather_lined")]


def test_every_sport_stands_first() -> None:
    assert set(TESTS) == set(SPORTS)
    for tests in TESTS.values():
        assert tests[0].slug == "stand"
        assert len({t.slug for t in tests}) == len(tests)
        assert all(t.how and t.passes for t in tests)


def plan(**values: Any) -> Any:
    usual = {"upper": "leather_unlined", "build": "plate", "interference_mm": 6, "start_on": MONDAY}
    return breakin(BreakInIn.model_validate(usual | values))


def test_a_pair_that_is_ready_on_the_day_of_the_event_is_not_ready_for_it() -> None:
    ready = plan(weekdays=[0, 3]).ready_on
    assert not plan(weekdays=[0, 3], event_on=ready).in_time
    assert plan(weekdays=[0, 3], event_on=ready + timedelta(days=1)).in_time


def test_wears_rise_and_fall_on_free_days() -> None:
    found = plan(weekdays=[0, 3])
    minutes = [w.minutes for w in found.wears]
    assert minutes == sorted(minutes)
    assert minutes[0] <= 30
    assert minutes[-1] <= LONGEST_MIN
    assert {w.on.weekday() for w in found.wears} <= {0, 3}
    assert found.wears[-1].hours_so_far >= found.needed_h
    assert found.ready_on == found.wears[-1].on


@pytest.mark.parametrize("upper", UPPERS)
@given(
    interference=st.floats(-30, 30),
    days=st.sets(st.integers(0, 6), min_size=1),
    event=st.none() | st.integers(-5, 60),
)
def test_any_plan_is_whole(upper: Any, interference: float, days: set[int], event: int | None) -> None:
    event_on = None if event is None else MONDAY + timedelta(days=event)
    found = plan(upper=upper, interference_mm=interference, weekdays=sorted(days), event_on=event_on)
    assert len(found.wears) >= LEAST_SESSIONS
    assert found.in_time == (event_on is None or found.ready_on < event_on)
    assert ("play the old pair" in found.verdict) != found.in_time
    assert any("oven" in r for r in found.rules)


def test_more_to_give_takes_longer_wear() -> None:
    assert plan(interference_mm=0).needed_h < plan(interference_mm=8).needed_h


def test_steam_only_for_leather_and_only_when_asked() -> None:
    def steams(**values: Any) -> bool:
        return any("steamy" in r for r in plan(**values).rules)

    assert steams(steam=True)
    assert not steams()
    assert not steams(upper="synthetic", steam=True)


@pytest.mark.parametrize("days", [[], [7], [-1]])
def test_a_week_has_seven_days(days: list[int]) -> None:
    with pytest.raises(BadInput):
        read(
            BreakInIn,
            {"upper": "knit", "build": "slip", "interference_mm": 1, "start_on": "2026-03-02", "weekdays": days},
        )


PREDICTED = ZonePrediction(zone="ball_girth", new_mm=-8, settled_mm=-3, sigma_mm=2, low_mm=-6, high_mm=4)


def seen(mm: float, hours: float = 200) -> Any:
    return follow_up(FollowUpIn(predicted=[PREDICTED], tau_h=6, hours=hours, seen_mm={"ball_girth": mm}))


def test_prediction_goes_from_new_to_settled_with_hours() -> None:
    assert seen(0, hours=0).zones[0].predicted_mm == pytest.approx(-8)
    assert seen(0, hours=500).zones[0].predicted_mm == pytest.approx(-3)
    assert -8 < seen(0, hours=5).zones[0].predicted_mm < -3


def test_only_more_than_chance_is_surprising() -> None:
    assert not seen(-1).zones[0].surprising
    assert seen(9).zones[0].surprising
    assert "more than measuring explains" in seen(9).zones[0].text


@pytest.mark.parametrize(
    ("mm", "word", "advice"), [(6, "slack", "sock"), (-7, "tight", "wearing in"), (0, "snug", "same size")]
)
def test_what_to_do_next(mm: float, word: str, advice: str) -> None:
    found = seen(mm)
    assert found.zones[0].word == word
    assert advice in " ".join(found.advice)


@pytest.mark.parametrize(
    ("mm", "hours", "waits"), [(-10, 2, True), (-10, 60, False), (-19, 60, False), (-19, 1, False), (-7, 400, True)]
)
def test_nobody_wears_in_what_will_never_come(mm: float, hours: float, waits: bool) -> None:
    """13 mm too small at the ball after sixty hours was "go on wearing in"; what may come is told."""
    said = seen(mm, hours).advice[0]
    assert ("go on wearing in" in said) is waits
    if not waits:
        assert f"{-6 - mm:.0f} mm short" in said
        assert "wider pair" in said


def test_zones_not_seen_are_left_out() -> None:
    found = follow_up(FollowUpIn(predicted=[PREDICTED], tau_h=6, hours=3, seen_mm={"length": 9}))
    assert found.zones == []
    assert found.advice == []


def test_settled_leather_that_came_out_as_predicted_is_not_slack() -> None:
    """A band for the new shoe moves with what the shoe gives: nought millimetres off is as wanted."""
    toe = ZonePrediction(zone="length", new_mm=3, settled_mm=8.5, sigma_mm=1.5, low_mm=2, high_mm=7, judged_new=True)
    for hours in (0.0, 6.0, 300.0):
        given_ = FollowUpIn(predicted=[toe], tau_h=6, hours=hours, seen_mm={"length": 0})
        expected = follow_up(given_).zones[0].predicted_mm
        exact = follow_up(given_.model_copy(update={"seen_mm": {"length": expected}}))
        assert exact.zones[0].off_mm == pytest.approx(0)
        assert exact.zones[0].word == "snug"
        assert "same size" in exact.advice[0]
    slack = FollowUpIn(predicted=[toe], tau_h=6, hours=300, seen_mm={"length": 13})
    assert follow_up(slack).zones[0].word == "slack"


def test_break_in_goes_by_the_zone_that_gives_most() -> None:
    tight_heel = plan(zone="heel_width", interference_mm=4, inner_mm=62)
    tight_toe = plan(zone="length", interference_mm=4, inner_mm=62, build="slip")
    assert tight_toe.needed_h > 2
    assert tight_heel.needed_h > 2
    assert plan(interference_mm=0).needed_h == 2.0


@given(interference=st.floats(1, 12), reinforced=st.floats(0, 1))
def test_reinforcement_never_asks_for_longer_wear(interference: float, reinforced: float) -> None:
    plain, held = plan(interference_mm=interference), plan(interference_mm=interference, reinforced=reinforced)
    assert held.needed_h <= plain.needed_h
    assert plan(interference_mm=interference, reinforced=1.0).needed_h == 2.0


@pytest.mark.parametrize(
    ("zone", "gives"), [("ball_girth", {"ball_girth": 5}), ("length", {"length": 2, "ball_girth": 1})]
)
def test_which_zone_gives_most(zone: str, gives: dict[str, float]) -> None:
    zones = [
        ZoneFit(
            zone=z, foot="left", new_mm=-6, settled_mm=-6 + gives.get(z, 0), sigma_mm=1, low_mm=-9, high_mm=4,
            new="snug", settled="snug", chance=1, left_mm=0, right_mm=0,
        )
        for z in ("length", "ball_girth", "instep_girth", "heel_width")
    ]  # fmt: skip
    assert gives_most(SizeFit(label=42, chance=1, zones=zones, verdict="")).zone == zone


def test_ready_when_four_fifths_of_the_give_is_done() -> None:
    """House default."""
    given = StretchIn(upper="leather_unlined", build="slip", zone="ball_girth", interference_mm=8, inner_mm=240)
    found = plan(upper="leather_unlined", build="slip", zone="ball_girth", interference_mm=8, inner_mm=240)
    assert found.needed_h == pytest.approx(stretch(given).t80_h, abs=0.1)


def test_however_little_is_to_give_four_wears_come_first() -> None:
    """House default. Long first wears would have done the hours in two."""
    assert len(plan(interference_mm=0, unfelt=True).wears) == 4
