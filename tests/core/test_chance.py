"""Where a gap settles: its chance, its worth and its spread against plain simulation; and that chances come true."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from kalon.core.fit.chance import (
    SLACK_SPAN_MM,
    TIGHT_SPAN_MM,
    new_gap,
    rough_worth,
    settled_chance,
    settled_quality,
    settled_spread,
)
from kalon.core.fit.size import LEAST_QUALITY, WantedBand, gaps, hope_of
from kalon.core.fit.stretch import CAPACITY_SPREAD, TABLE, Build, Upper, settled_stretch
from tests.calibration import came_true, judged

DRAWS = 400_000
CASES = [(-9, 2.9, -7, 4, 12, 0.977), (-6, 2.9, -7, 4, 4.8, 0.960), (-9, 1.4, -8, -5, 8.5, 0.112),
         (-9, 1.4, -8, -5, 4.2, 0.550), (10, 1.4, 8, 14, 1.0, 0.922)]  # fmt: skip
"""Mean and spread of the new gap, band, capacity, and the chance of the band by 400,000 draws."""


def settled_draws(
    mean: float, sigma: float, gives: float, seed: int = 3
) -> np.ndarray[tuple[int], np.dtype[np.float64]]:
    rng = np.random.default_rng(seed)
    new = mean + sigma * rng.normal(size=DRAWS)
    return new + settled_stretch(-new, gives * (1 + CAPACITY_SPREAD * rng.normal(size=DRAWS)))


@pytest.mark.parametrize(("mean", "sigma", "low", "high", "gives", "came"), CASES)
def test_the_chance_of_a_band_as_simulated(
    mean: float, sigma: float, low: float, high: float, gives: float, came: float
) -> None:
    said = settled_chance(*(np.array(v, dtype=float) for v in (mean, sigma, gives, low, high)))
    assert said == pytest.approx(came, abs=0.002)
    ended = settled_draws(mean, sigma, gives)
    assert said == pytest.approx(((ended >= low) & (ended <= high)).mean(), abs=0.003)


@pytest.mark.parametrize(("mean", "sigma", "low", "high", "gives", "came"), CASES)
@pytest.mark.parametrize("zone", range(4))
def test_worth_and_spread_as_simulated(
    mean: float, sigma: float, low: float, high: float, gives: float, came: float, zone: int
) -> None:
    del came
    below, above = TIGHT_SPAN_MM[zone], SLACK_SPAN_MM[zone]
    args = [np.array(v, dtype=float) for v in (mean, sigma, gives, low, high)]
    ended = settled_draws(mean, sigma, gives)
    worth = np.clip(np.minimum(1 - (low - ended) / below, 1 - (ended - high) / above), 0, 1)
    assert settled_quality(*args, below, above) == pytest.approx(worth.mean(), abs=0.004)
    assert settled_spread(*args[:3]) == pytest.approx(ended.std(), rel=0.02)


@given(new=st.floats(-40, -0.01), gives=st.floats(0.05, 20))
def test_a_settled_gap_leads_back_to_its_new_one(new: float, gives: float) -> None:
    settled = np.array(new) + settled_stretch(np.array(-new), np.array(gives))
    back = float(new_gap(settled, np.array(gives)))
    again = back + float(settled_stretch(np.array(-back), np.array(gives)))
    assert again == pytest.approx(float(settled), abs=1e-5)


@given(mean=st.floats(-30, 30), sigma=st.floats(0.3, 6), low=st.floats(-15, 15), width=st.floats(0.5, 12),
       gives=st.floats(0, 15), wider=st.floats(0, 5))  # fmt: skip
def test_chances_are_chances_and_a_wider_band_is_likelier(
    mean: float, sigma: float, low: float, width: float, gives: float, wider: float
) -> None:
    args = (np.array(mean), np.array(sigma), np.array(gives))
    narrow = float(settled_chance(*args, np.array(low), np.array(low + width)))
    wide = float(settled_chance(*args, np.array(low - wider), np.array(low + width + wider)))
    worth = float(settled_quality(*args, np.array(low), np.array(low + width), np.array(3.0), np.array(5.0)))
    assert -1e-9 <= narrow <= wide + 1e-9 <= 1 + 2e-9
    assert narrow - 1e-9 <= worth <= 1 + 1e-9


def test_what_gives_nothing_settles_as_it_is() -> None:
    gap = np.array([-9.0, -0.5, 0.0, 4.0])
    assert new_gap(gap, np.zeros(4)) == pytest.approx(gap)
    assert settled_spread(gap, np.full(4, 1.7), np.zeros(4)) == pytest.approx(1.7)


BANDS = {
    "cutting": WantedBand(np.array([-8.0, -9.0, -9.0, -3.5]), np.array([-5.0, 0.0, 2.0, 2.0])),
    "boot": WantedBand(np.array([8.0, -7.0, -9.0, -3.5]), np.array([14.0, 4.0, 5.0, 2.0])),
    "leather boot, judged new": WantedBand(
        np.array([2.0, -7.0, -9.0, -3.5]), np.array([7.0, 4.0, 5.0, 2.0]), length_when_new=True
    ),
}


@pytest.mark.parametrize("band", list(BANDS))
@pytest.mark.parametrize(("upper", "build"), list(TABLE))
def test_a_stated_chance_comes_true_that_often(upper: Upper, build: Build, band: str) -> None:
    """Said 30, 50, 70 and 90 in 100 come true within four points, for every upper; four spreads of the count more."""
    found = judged(upper, build, BANDS[band], 2_500, seed=11)
    for said, true in ((found.zones.ravel(), found.zone_true.ravel()), (found.joint, found.joint_true)):
        for many, mean, came in came_true(said, true).values():
            assert came == pytest.approx(mean, abs=0.04 + 4 * np.sqrt(mean * (1 - mean) / many))


@pytest.mark.parametrize("shared", [0.25, 0.5])
def test_zones_that_share_their_errors_fit_no_less_often_than_said(shared: float) -> None:
    """Counted as independent, which errs to the careful side: what it costs stands in the benchmark."""
    said, true = [], []
    for i, (upper, build) in enumerate(TABLE):
        found = judged(upper, build, BANDS["boot"], 2_000, seed=100 + i, shared=shared)
        said.append(found.joint)
        true.append(found.joint_true)
    for _, mean, came in came_true(np.concatenate(said), np.concatenate(true)).values():
        assert -0.02 < came - mean < 0.06


def test_hopes_fall_with_the_quality() -> None:
    said = [hope_of(q, 1.0) for q in (1.0, *LEAST_QUALITY.values(), 0.0)]
    assert said == ["should_fit", "should_fit", "worth_trying", "gamble", "will_not_fit"]


def test_four_zones_that_are_each_nearly_right_are_no_pair_that_should_fit() -> None:
    """House defaults: an even chance of all zones at once to be called *should fit*, a seventh to be worth trying."""
    assert [hope_of(0.93, chance) for chance in (0.6, 0.45, 0.21, 0.1)] == [
        "should_fit", "worth_trying", "worth_trying", "gamble",
    ]  # fmt: skip
    foot = np.array([265.0, 245.0, 250.0, 65.0])
    band = WantedBand(np.array([8.0, -7, -9, -3.5]), np.array([14.0, 4, 5, 2]))
    near = foot + band.high - np.array([0.8, 1.6, 1.6, 0.65])  # every zone just inside its loose end
    found = gaps(foot, np.array([1.0, 3.0, 3.0, 1.0]), near[None, :], np.full((1, 4), 2.0), band)
    assert found.quality[0] >= 0.9
    assert found.joint[0] == pytest.approx(0.21, abs=0.02)
    assert hope_of(float(found.quality[0]), float(found.joint[0])) == "worth_trying"


def test_half_the_slack_a_zone_bears_is_worth_half() -> None:
    """House defaults: nothing is left of a gap that is 5 mm too long, 10 mm too wide at ball or instep, 3 mm at the heel."""
    high = np.array([12.0, 4.0, 4.0, 2.0])
    over = high + np.array([2.5, 5.0, 5.0, 1.5])
    worth = rough_worth(over, np.full(4, 1e-6), np.zeros(4), high - 6, high)
    assert worth == pytest.approx(np.full(4, 0.5), abs=0.01)
