"""Numbers that no other test would miss, each by what it means to somebody at the bench. House defaults, unless said."""

from __future__ import annotations

import math
from datetime import date, timedelta

import numpy as np
import pytest

from kalon.core.care.hours import hours_worn
from kalon.core.feet.gauge import Feet
from kalon.core.fit.foot import swelling
from kalon.core.fit.size import WantedBand, gaps, hope_of
from kalon.core.learn.give import StretchLearnIn, Worn, stretch_learn
from kalon.core.learn.worn import FootFromWornIn, Traced, WornShoe, foot_from_worn
from kalon.core.match.after import Tried, after_trial
from kalon.core.match.pairs import Need, Offer, PairsIn, pairs
from kalon.core.match.plan import PlanNeed, PlanOwned, _lasting
from kalon.core.match.rank import rank
from kalon.core.match.score import met_shares
from kalon.core.match.shelf import LineWants, Shelf, Shoe
from kalon.core.shoes.inner import InnerIn, by_label
from kalon.store.lives import _sighting
from kalon.store.pairs import _look_on
from tests.core.test_rank import FOOT, SPEC
from tests.made import FEET

ZONES = 4


@pytest.mark.parametrize(("zone", "under_mm", "worth"), [(3, 1.25, 0.5), (3, 1.8, 0.28), (0, 1.5, 0.5), (1, 4.0, 0.5)])
def test_what_is_a_little_too_tight_is_still_worth_something(zone: int, under_mm: float, worth: float) -> None:
    """A heel 1.25 mm under what is wanted is worth half, one 2.5 mm under nothing; the length's span is 3, the ball's 8."""
    foot = np.array([265.0, 245.0, 250.0, 65.0])
    inner = foot + 3.0
    inner[zone] = foot[zone] - under_mm
    band = WantedBand(np.zeros(ZONES), np.full(ZONES, 6.0), length_when_new=True, spared=False)
    found = gaps(foot, np.full(ZONES, 1e-3), inner[None, :], np.zeros((1, ZONES)), band, np.full((1, ZONES), 1e-3))
    assert found.worth[0, zone] == pytest.approx(worth, abs=0.06)


@pytest.mark.parametrize(
    ("quality", "hope"),
    [(0.49, "will_not_fit"), (0.51, "gamble"), (0.74, "gamble"), (0.76, "worth_trying"), (0.91, "should_fit")],
)
def test_from_an_even_chance_on_it_is_a_gamble(quality: float, hope: str) -> None:
    assert hope_of(quality, 1.0) == hope


def test_a_ball_measured_in_the_morning_swells_a_hundredth_and_a_half() -> None:
    found = swelling(FEET.model_copy(update={"time_of_day": "07:00"}))
    ball = next(s for s in found if s.measure == "ball_girth_mm")
    assert ball.by_evening_mm / ball.now_mm == pytest.approx(0.015)
    length = next(s for s in found if s.measure == "length_mm")
    assert length.by_evening_mm / length.now_mm == pytest.approx(0.004)


def test_three_weeks_after_the_last_entry_somebody_still_logs() -> None:
    day = date(2026, 3, 1)
    logged = [(day, 60.0)]
    assert hours_worn(day, day + timedelta(days=21), 7.0, logged).reckoned_h == 0
    assert hours_worn(day, day + timedelta(days=22), 7.0, logged).reckoned_h == pytest.approx(22.0)


def test_a_wide_heel_is_an_eighth_of_the_wideness_wider() -> None:
    """Nine millimetres more round the ball, about one across the heel."""
    regular, wide = (by_label(InnerIn(sport="court", label=42, width=w)) for w in ("regular", "wide"))
    assert wide[1] - regular[1] == pytest.approx(9)
    assert wide[3] - regular[3] == pytest.approx(1.08)


def test_a_shoe_nothing_is_known_of_stands_half_way() -> None:
    """By fit alone times the root of a half, where fit and the rest count alike."""
    bare = Shoe("x", "football", "synthetic", "plate", 0.0, {}, {}, None)
    inner = FOOT.larger + np.array([6.0, 2.0, 2.0, 0.0])
    shelf = Shelf(np.array([0]), np.array([42.0]), inner[None, :], ["l"], np.full((1, ZONES), 0.5))
    found = rank([bare], shelf, SPEC, FOOT, 0.5)
    (place,) = [*found.places, *found.vetoed]
    assert place.score == pytest.approx((place.fit * 0.5) ** 0.5, abs=2e-3)


def test_a_value_nobody_asked_for_is_worth_a_tenth() -> None:
    """Of two shoes that differ in one choice alone: what the spec ranks first against what it doesn't name."""
    name = next(n for n, ranked in SPEC.choices.items() if ranked and ranked[0].score == 1)
    best = SPEC.choices[name][0].value

    def share(value: str) -> float:
        shoe = Shoe(value, "football", "synthetic", "plate", 0.0, {}, {name: value}, None)
        return float(met_shares([shoe], np.array([42.0]), SPEC).share[0])

    assert share("never heard of") / share(best) == pytest.approx(0.1)


def test_a_pair_that_lasts_six_weeks_more_counts_for_half() -> None:
    need = PlanNeed.model_validate(
        {
            "id": "n",
            "name": "n",
            "sport": "court",
            "discipline": "tennis",
            "use": "court",
            "share": 1.0,
            "hours_per_week": 2.0,
        }
    )
    owned = PlanOwned.model_validate({"id": "p", "name": "p", "scores": {"n": 0.8}, "left_h": 12.0})
    assert _lasting(owned, [need])["n"] == pytest.approx(0.4)


@pytest.mark.parametrize(("both", "bought", "spent"), [(150.0, ["y", "z"], 120.0), (100.0, ["x"], 100.0)])
def test_of_what_is_worth_the_same_the_least_is_spent(both: float, bought: list[str], spent: float) -> None:
    """One pair that serves two uses, or two that serve one each, equally well: whichever costs less."""
    given = PairsIn(
        needs=[Need(id="a", share=0.5), Need(id="b", share=0.5)],
        owned=[],
        offers=[Offer(id="x", price=both, scores={"a": 0.9, "b": 0.9}), Offer(id="y", price=60, scores={"a": 0.9}),
                Offer(id="z", price=60, scores={"b": 0.9})],
        budget=400,
    )  # fmt: skip
    found = pairs(given)
    assert (sorted(found.buy), found.spent) == (bought, spent)


@pytest.mark.parametrize(("chance", "asked"), [(0.04, True), (0.09, False)])
def test_what_one_in_twenty_would_say_is_asked_about_again(chance: float, asked: bool) -> None:
    """A shoe called tight whose room makes that so likely: below six in a hundred it is asked about."""
    spread = math.hypot(math.sqrt(2.5**2 + 1.5**2 + 0.8**2), 1.5)
    room = 10.5 - 1.5 + {0.04: 1.7507, 0.09: 1.3408}[chance] * spread
    foot = 268.0
    shoe = WornShoe(system="eu", label=(foot + room) * 3 / 20, says="tight")
    found = foot_from_worn(FootFromWornIn(worn=[shoe], tracing={"length_mm": Traced(mm=foot, sigma_mm=0.05)}))
    assert bool(found.conflicts) is asked


def test_before_anything_is_seen_a_model_gives_as_its_kind_and_itself_may() -> None:
    """Kinds differ by 0.30 on the logarithm, models within one by 0.25: together 0.39."""
    nothing = Worn(
        kind="k", model="m", c_mm=8, tau_h=8, new_mm=-5, new_sigma_mm=2, hours=20, seen_mm=-3, seen_sigma_mm=60
    )
    found = stretch_learn(StretchLearnIn(evidence=[nothing]))
    assert found.kinds["k"].log_sd == pytest.approx(0.30, abs=0.01)
    assert found.models["m"].log_sd == pytest.approx(math.hypot(0.30, 0.25), abs=0.01)


def test_what_a_trial_taught_of_a_gap_is_not_counted_twice() -> None:
    """After a trial a line's spread is its gap's as a whole: with the foot's own it is less than before, never more."""
    from kalon.core.fit.trial import PairTrial

    inner = np.tile(FOOT.larger + np.array([6.0, 0.0, 0.0, 0.0]), (2, 1))
    spread = np.tile([3.0, 5.7, 6.2, 1.7], (2, 1))
    shelf = Shelf(np.array([0, 1]), np.array([42.0, 42.0]), inner, ["a", "b"], spread)
    wants = LineWants(np.zeros((2, 4)), np.tile([3.0, -6, -6, -3], (2, 1)), np.tile([9.0, 6, 8, 2], (2, 1)),
                      np.ones(2, dtype=bool), spared=False)  # fmt: skip
    of = np.array([0, 1])
    now, foot = after_trial(of, of, shelf, wants, FOOT, [Tried(0, PairTrial(toes="fine"))])
    before = np.hypot(spread[0, 0], FOOT.sigma[0])
    assert np.hypot(now.spread[0, 0], foot.sigma[0]) < 0.85 * before
    assert np.hypot(now.spread[1, 0], foot.sigma[0]) == pytest.approx(before, rel=0.03)
    assert foot.sigma[0] < 0.1  # the foot's share lies in the lines' spread now


def test_a_retired_pairs_hours_are_known_to_an_eighth() -> None:
    row = {"sport": "court", "discipline": "badminton", "surface": None, "upper": None, "price_minor": None,
           "usual_minor": None, "ended_why": "worn_out", "worn_h": 100.0}  # fmt: skip
    found = _sighting(row, [])
    assert found is not None
    assert (found.life_h, found.log_sd, found.lasts_beyond_h) == (100.0, 0.12, None)
    worn = _sighting(row | {"ended_why": None}, [])
    assert worn is not None
    assert (worn.life_h, worn.lasts_beyond_h) == (None, 100.0)
    assert _sighting(row | {"ended_why": None, "worn_h": 0.0}, []) is None


def test_a_pair_is_looked_at_again_when_somewhat_over_half_is_worn() -> None:
    from kalon.core.care.wear import Life, WearIn, wear

    today = date(2026, 3, 2)
    found = wear(WearIn(life=Life(median_h=100, log_sd=0.1), hours_now=0, hours_per_week=5, today=today))
    assert _look_on({"hours_per_week": 5.0}, found, 0.0, today) == today + timedelta(weeks=11)


def test_feet_without_numbers_have_no_swelling() -> None:
    assert swelling(Feet()) == []
