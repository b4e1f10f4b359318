"""Several sources, one foot: the surest number, a fitter's choice, conflicts, standing; growth, swelling, cautions."""

from __future__ import annotations

from datetime import date, timedelta

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from kalon.core.feet.combine import Captured, FootMeasureIn, combine, foot_measure, resolved
from kalon.core.feet.gauge import SIGMA_MM, Feet, read_feet, recentred, volume_class
from kalon.core.feet.growth import GrowthIn, Visit, aged, grown_since, growth, usual_growth
from kalon.core.feet.measures import Number, Reading, arch_class, toe_shape_of
from kalon.core.fit.foot import foot_to_fit, swelling
from kalon.core.rules.engine import Case
from kalon.core.rules.spec import spec_for
from tests.made import FEET, foot, football, spec


def scanned(length: float, sigma: float = 0.4, side: str = "left", **more: float) -> Captured:
    numbers = {"length_mm": Number(value=length, sigma=sigma)}
    numbers |= {n: Number(value=v, sigma=0.5) for n, v in more.items()}
    reading = Reading.model_validate({"source": "scan", "side": side, "numbers": numbers})
    return Captured(id="scan-1", reading=reading)


@given(gauge=st.floats(250, 280), scan=st.floats(250, 280), sigma=st.floats(0.1, 3))
def test_the_surest_source_counts_and_all_stay_visible(gauge: float, scan: float, sigma: float) -> None:
    feet = FEET.model_copy(update={"left": foot(length_mm=gauge)})
    found = combine(feet, [scanned(scan, sigma)]).left.numbers["length_mm"]
    assert found.value == (scan if sigma < 1.0 else gauge)
    assert {s.source for s in found.sources} == {"gauge", "scan"}
    apart = abs(gauge - scan) > 1.959964 * (1 + sigma**2) ** 0.5
    assert (found.conflict is not None) == apart


def test_a_fitters_choice_stands_over_the_surest() -> None:
    feet = FEET.model_copy(update={"prefer": {"left": {"length_mm": "gauge"}}})
    found = combine(feet, [scanned(259)]).left.numbers["length_mm"]
    assert (found.value, found.chosen, found.source) == (265, True, "gauge")
    assert "scan 259.0" in (found.conflict or "")
    assert "gauge 265.0" in (found.conflict or "")


def test_what_counts_goes_into_the_fit_with_its_own_uncertainty() -> None:
    sure = resolved(FEET, combine(FEET, [scanned(266), scanned(266, side="right")]))
    assert sure.left.length_mm == 266
    assert foot_to_fit(sure).sigma[0] < foot_to_fit(FEET).sigma[0]
    assert foot_to_fit(sure).sigma[1] == pytest.approx(foot_to_fit(FEET).sigma[1])


def test_no_capture_changes_nothing_for_the_fit() -> None:
    plain = resolved(FEET, combine(FEET, []))
    assert (foot_to_fit(plain).larger == foot_to_fit(FEET).larger).all()
    assert (foot_to_fit(plain).sigma == foot_to_fit(FEET).sigma).all()


def test_sitting_is_brought_to_standing_once_and_is_less_sure() -> None:
    sitting = FEET.model_copy(update={"stance": "sitting"})
    found = combine(sitting, [])
    one = found.left.numbers["length_mm"]
    assert one.value == pytest.approx(265 * 1.012)
    assert one.uncertainty > combine(FEET, []).left.numbers["length_mm"].uncertainty
    assert one.sources[0].corrected
    both = resolved(sitting, found)
    assert both.stance == "standing"
    assert foot_to_fit(both).larger == pytest.approx(foot_to_fit(sitting).larger, rel=1e-6)


def test_the_arch_by_print_before_height_before_eye() -> None:
    numbers = {
        "arch_index": Number(value=0.28, sigma=0.003),
        "arch_height_index": Number(value=0.38, sigma=0.003),
    }
    assert (arch_class(numbers, "medium").value, arch_class(numbers).mark) == ("low", "PUB")
    del numbers["arch_index"]
    assert (arch_class(numbers, "medium").value, arch_class(numbers).mark) == ("high", "MEM")
    assert (arch_class({}, "medium").value, arch_class({}, "medium").mark) == ("medium", "CP")
    assert arch_class({}).value is None


def test_the_height_index_is_worked_out_from_the_gauge() -> None:
    found = foot_measure(FootMeasureIn(side="left", foot=foot(instep_height_mm=66, heel_to_ball_mm=190)))
    assert found.arch_height_index == pytest.approx(66 / 190)
    spread = ((1.5 / 66) ** 2 + (2 / 190) ** 2) ** 0.5
    assert found.uncertainty["arch_height_index"] == pytest.approx(1.959964 * 66 / 190 * spread)
    assert found.arch_class == "medium"


@pytest.mark.parametrize(
    ("first", "second", "shape"),
    [(265, 258, "first_longest"), (258, 265, "second_longest"), (265, 264, "square"), (261.9, 265, "second_longest")],
)
def test_toe_shapes(first: float, second: float, shape: str) -> None:
    assert toe_shape_of(first, second) == shape


def test_the_volume_norm_moves_to_the_shops_own_feet() -> None:
    slim = recentred({"ball_girth_mm": [0.88] * 600, "instep_girth_mm": [0.90] * 600})
    assert slim["ball_girth_mm"][0] == pytest.approx((60 * 0.94 + 600 * 0.88) / 660)
    assert volume_class(foot(), slim)[0] == "high"
    assert volume_class(foot())[0] == "medium"
    assert recentred({})["ball_girth_mm"][0] == 0.94


BORN = date(2014, 5, 1)


def grown(rate: float, start: float = 220.0, months: tuple[int, ...] = (0, 4, 8, 12)) -> GrowthIn:
    visits = [
        Visit(on=date(2025, 1, 1) + timedelta(days=30 * m), length_mm=start + rate * 30 * m / 365.25) for m in months
    ]
    return GrowthIn(born_on=BORN, visits=visits)


@given(rate=st.floats(0, 16), more=st.floats(0.5, 5))
def test_faster_growth_is_seen_and_measured_again_sooner(rate: float, more: float) -> None:
    slow, fast = growth(grown(rate)), growth(grown(rate + more))
    assert fast.mm_per_year > slow.mm_per_year
    assert (fast.remeasure_on or date.max) <= (slow.remeasure_on or date.max)
    assert all(p.low_mm <= p.length_mm <= p.high_mm for p in fast.curve)


def test_growth_against_the_normal_posterior_by_hand() -> None:
    """Closed form: one visit leaves the usual growth, many visits overrule it."""
    once = growth(grown(12, months=(0,)))
    assert once.mm_per_year == pytest.approx(usual_growth(10.7)[0])
    often = growth(grown(14, months=tuple(range(0, 25))))
    assert often.mm_per_year == pytest.approx(14, abs=0.6)
    at = np.array([0, 4, 8, 12]) * 30 / 365.25
    at = at - at[-1]
    mean, spread = usual_growth((date(2025, 12, 27) - BORN).days / 365.25)
    x = np.column_stack([np.ones(4), at])
    y = 220 + 12 * (at - at[0])
    prior = np.diag([0, 1 / spread**2])
    expected = np.linalg.solve(x.T @ x + prior, x.T @ y + np.array([0, mean / spread**2]))[1]
    assert growth(grown(12)).mm_per_year == pytest.approx(expected, rel=1e-6)


@given(years=st.floats(0, 3), age=st.floats(5, 17))
def test_earlier_readings_are_less_sure_the_more_so_while_growing(years: float, age: float) -> None:
    seen = scanned(220, 0.4, ball_girth_mm=210).reading
    grown, young = aged(seen, years, 30), aged(seen, years, age)
    for name, number in seen.numbers.items():
        assert number.sigma < grown.numbers[name].sigma <= young.numbers[name].sigma
        assert young.numbers[name].value >= number.value == grown.numbers[name].value
    assert aged(seen, years, None).numbers == aged(seen, years, 90).numbers
    today = scanned(226, 0.45)
    before = Captured(id="before", reading=aged(seen, 0.4, 10).model_copy(update={"source": "record"}))
    assert combine(Feet(), [before, today]).left.numbers["length_mm"].source == "scan"


def test_a_childs_carried_foot_has_grown() -> None:
    """By the usual growth between the ages, from memory: 8.5 mm a year from six to ten, 8 to twelve, 5 to fourteen. The
    girth grows in the length's proportion; the spread between children adds up over the years."""
    assert grown_since(1, 9) == (pytest.approx(8.5), pytest.approx(2.5))
    assert grown_since(2, 13) == (pytest.approx(8 + 5), pytest.approx(3.0 + 3.5))
    assert grown_since(3, 30) == (0, 0)
    assert grown_since(1.0, 18.5) == (pytest.approx(0.3), pytest.approx(0.5))
    seen = scanned(200, 0.4, ball_girth_mm=190).reading
    now = aged(seen, 1, 9)
    assert now.numbers["length_mm"].value == pytest.approx(208.5)
    assert now.numbers["ball_girth_mm"].value == pytest.approx(190 * 1.0425)
    assert now.numbers["length_mm"].sigma == pytest.approx((0.4**2 + 0.5**2 + 2.5**2) ** 0.5)
    assert any("reckoned 8 mm longer" in n for n in now.notes)
    assert aged(seen, 1, 40).notes == []


def test_the_grown_don_t_grow() -> None:
    old = growth(GrowthIn(born_on=date(1990, 1, 1), visits=[Visit(on=date(2026, 1, 1), length_mm=260)]))
    assert not old.still_growing
    assert old.remeasure_on is None


def test_swelling_is_less_to_come_later_and_none_after_effort() -> None:
    morning = swelling(FEET.model_copy(update={"time_of_day": "07:00"}))
    evening = swelling(FEET.model_copy(update={"time_of_day": "19:00"}))
    assert all(m.by_evening_mm > e.by_evening_mm == 0 for m, e in zip(morning, evening, strict=True))
    trained = swelling(FEET.model_copy(update={"effort": "after_effort"}))
    assert all(s.after_effort_mm == 0 for s in trained)
    assert (
        foot_to_fit(FEET, long_effort=True).larger[1]
        > foot_to_fit(FEET.model_copy(update={"effort": "after_effort"}), long_effort=True).larger[1]
    )


@pytest.mark.parametrize(
    ("note", "rule"),
    [
        ("sharp pain at the heel", "caution.pain"),
        ("Numb 3rd toe", "caution.numbness"),
        ("type 2 diabetic", "caution.diabetes"),
        ("fractured metatarsal in May", "caution.surgery"),
        ("likes red laces", None),
    ],
)
def test_a_note_raises_the_caution_it_calls_for_here_and_in_the_spec(note: str, rule: str | None) -> None:
    noted = FEET.model_copy(update={"note": note})
    asked = {c.rule for c in spec(football(), noted).cautions if c.must_acknowledge}
    asked -= {c.rule for c in spec(football(), FEET).cautions}
    assert len(asked) == (rule is not None)
    found = read_feet(noted).cautions
    assert [c.rule for c in found] == ([rule] if rule else [])
    assert all("physician" in c.text for c in found)


@pytest.mark.parametrize(
    ("concern", "called"),
    [("pain", "pain"), ("circulation", "diabetes"), ("surgery", "surgery"), ("growing_pains", "growing_pains")],
)
def test_every_ticked_concern_cautions_here_and_must_be_acknowledged_later(concern: str, called: str) -> None:
    feet = Feet.model_validate(FEET.model_dump() | {"concerns": [concern]})
    assert [c.rule for c in read_feet(feet).cautions] == [f"caution.{called}"]
    asked = {c.rule for c in spec(football(), feet).cautions if c.must_acknowledge}
    plain = {c.rule for c in spec(football(), FEET).cautions if c.must_acknowledge}
    assert len(asked - plain) == 1
    assert called in (asked - plain).pop()


def test_a_far_turned_toe_is_mentioned() -> None:
    feet = FEET.model_copy(update={"right": foot(first_toe_angle_deg=24)})
    assert any(c.rule == "caution.turned_toe" and "right" in c.text for c in read_feet(feet).cautions)


def test_honest_sources_are_seldom_said_to_conflict() -> None:
    """Gauge and scan of the same feet, each off by chance alone, on eight numbers a foot: told in 5 of 100 at most."""
    random = np.random.default_rng(8)
    names = list(SIGMA_MM)[:8]
    truth = foot(instep_height_mm=65, toe_height_mm=24, heel_to_ball_mm=190).model_dump()
    told = 0
    for _ in range(400):
        feet, captures = {}, []
        for side in ("left", "right"):
            feet[side] = {n: truth[n] + random.normal(0, SIGMA_MM[n]) for n in names}
            numbers = {n: Number(value=truth[n] + random.normal(0, 0.4), sigma=0.4) for n in names}
            reading = Reading.model_validate({"source": "scan", "side": side, "numbers": numbers})
            captures.append(Captured(id=f"scan-{side}", reading=reading))
        found = combine(Feet.model_validate(feet), captures)
        told += any(n.conflict for s in (found.left, found.right) for n in s.numbers.values())
    assert told <= 400 * 0.08


def test_a_bunion_found_by_a_capture_can_be_taken_off() -> None:
    capture = scanned(265)
    with_bunion = Captured(id="scan", reading=capture.reading.model_copy(update={"bunion": True}))
    assert combine(FEET, [with_bunion]).left.bunion
    taken_off = FEET.model_copy(update={"left": foot(bunion=False)})
    assert not combine(taken_off, [with_bunion]).left.bunion
    assert combine(FEET.model_copy(update={"left": foot(bunion=True)}), [scanned(265)]).left.bunion


def test_the_norm_that_is_shown_is_the_one_the_rules_go_by() -> None:
    """A foot that is usual in the house's norm and full among slim feet: every place calls it the same."""
    slim = {"ball_girth_mm": (0.86, 0.04), "instep_girth_mm": (0.88, 0.045)}
    assert not Case(football(), FEET).volume("high")
    assert Case(football(), FEET, norms=slim).volume("high")
    assert read_feet(FEET, slim).volume["left"] == "high"
    cautions = [c.rule for c in spec_for(football(), FEET, norms=slim).cautions]
    assert "feet.high_volume" in cautions
    assert "feet.high_volume" not in [c.rule for c in spec_for(football(), FEET).cautions]
