"""Cost, wear and the plan of pairs: the checks agreed on, intervals, and brute force."""

from __future__ import annotations

import itertools
import math
from datetime import date

import numpy as np
import pytest

from kalon.core.care.cost import BreakEvenIn, CostIn, break_even, cost, life_of
from kalon.core.care.wear import Inspection, Life, WearIn, wear
from kalon.core.errors import BadInput, read
from kalon.core.match.pairs import Need, Offer, Owned, PairsIn, pairs
from tests.much import much


def test_a_pair_costs_by_the_hour_as_sure_as_its_life() -> None:
    found = cost(CostIn(sport="football", ground="natural", price=110, reference=110, tax_pct=20, hours_per_week=4))
    assert found.total == pytest.approx(132)
    assert found.lasts_h.mid == pytest.approx(120)
    assert found.per_hour.mid == pytest.approx(1.1)
    assert found.per_hour.low < found.per_hour.mid < found.per_hour.high
    assert found.lasts_weeks.mid == pytest.approx(30)
    assert found.per_season == pytest.approx(1.1 * 160)
    draws = 120 * np.exp(0.35 * np.random.default_rng(1).normal(size=100_000))
    assert np.mean((draws >= found.lasts_h.low) & (draws <= found.lasts_h.high)) == pytest.approx(0.9, abs=0.01)
    assert life_of("football", "artificial") == pytest.approx(90)
    assert life_of("climbing", None, 2.0) == pytest.approx(150 * 2**0.7)


@pytest.mark.parametrize("rate", [1.0, 7.46, 390.0, 25_000.0])
def test_a_pair_lasts_as_long_in_every_currency(rate: float) -> None:
    """A boot of the same worth, against the same shop's usual price: the same hours, and so many times the money."""
    here = cost(CostIn(sport="lifting", price=180, reference=140, hours_per_week=3))
    there = cost(CostIn(sport="lifting", price=180 * rate, reference=140 * rate, hours_per_week=3))
    assert there.lasts_h.mid == pytest.approx(here.lasts_h.mid)
    assert there.per_hour.mid == pytest.approx(rate * here.per_hour.mid)
    unknown = cost(CostIn(sport="lifting", price=180 * rate, hours_per_week=3))
    assert unknown.lasts_h.mid == pytest.approx(800)  # a price nothing is known against says nothing


def test_three_cheap_pairs_against_one_dear() -> None:
    """Common practice: three at 40 against one at 120 breaks even when life goes with price."""
    even = break_even(BreakEvenIn(cheap=40, count=3, dear=120, with_price=1))
    assert even.same_hours == pytest.approx(120)
    assert even.cheaper == "same"
    usual = break_even(BreakEvenIn(cheap=40, count=3, dear=120))
    assert usual.cheaper == "cheap"
    assert usual.same_hours == pytest.approx(40 * 3 ** (1 / 0.7))
    assert break_even(BreakEvenIn(cheap=40, count=3, dear=120, with_price=1.4)).cheaper == "dear"


def test_half_worn_after_forty_hours() -> None:
    """The agreed check: 120 h, 0.35; at 40 h half worn ± 0.1: median 88.4 h, log-sd 0.174."""
    seen = [Inspection(hours=40, worn_share=0.5, sigma=0.1)]
    found = wear(WearIn(life=Life(median_h=120, log_sd=0.35), inspections=seen, hours_now=40, hours_per_week=4,
                        today=date(2026, 3, 2)))  # fmt: skip
    assert found.median_h == pytest.approx(88.4, abs=0.05)
    assert found.log_sd == pytest.approx(0.174, abs=5e-4)
    assert found.word == "good"
    assert found.retire_on is not None
    assert date(2026, 5, 18) < found.retire_on < date(2026, 6, 1)
    assert found.left_h.low < found.left_h.mid < found.left_h.high


def test_what_is_left_is_as_likely_as_said() -> None:
    """Pairs with lives from the usual spread, still worn at 60 h and looked at once: the interval holds nine in ten."""
    rng = np.random.default_rng(4)
    held, count = 0, 0
    while count < 3000:
        life = 120 * math.exp(0.35 * rng.normal())
        if life <= 60:
            continue
        share = 60 / (life * math.exp(rng.normal() * 0.2))
        seen = Inspection(hours=60, worn_share=min(share, 1.5), sigma=0.2 * min(share, 1.5))
        found = wear(WearIn(life=Life(median_h=120, log_sd=0.35), inspections=[seen], hours_now=60))
        held += found.left_h.low <= life - 60 <= found.left_h.high
        count += 1
    assert 0.87 <= held / count <= 0.93


@pytest.mark.parametrize(
    ("hours", "word"), [(0, "fresh"), (50, "good"), (80, "look_again"), (110, "near_its_end"), (200, "retire")]
)
def test_a_word_for_how_worn(hours: float, word: str) -> None:
    found = wear(WearIn(life=Life(median_h=120, log_sd=0.35), hours_now=hours))
    assert found.word == word
    assert found.left_h.low >= 0
    assert found.retire_on is None


def by_hand(given: PairsIn) -> tuple[float, float]:
    """The best value and least spent, by trying every set of offers."""
    best = (-1.0, math.inf)
    for size in range(len(given.offers) + 1):
        if given.most_pairs is not None and size > given.most_pairs:
            break
        for some in itertools.combinations(given.offers, size):
            spent = sum(o.price for o in some)
            if spent > given.budget + 1e-9:
                continue
            value = 0.0
            for need in given.needs:
                scores = [p.scores.get(need.id, 0.0) for p in (*given.owned, *some)]
                value += need.share * max([s for s in scores if s >= given.least_score], default=0.0)
            if value > best[0] + 1e-7 or (value > best[0] - 1e-7 and spent < best[1] - 1e-7):
                best = (max(value, best[0]), spent)
    return best


def random_case(rng: np.random.Generator, needs: int, owned: int, offers: int) -> PairsIn:
    names = [f"n{i}" for i in range(needs)]
    shares = rng.dirichlet(np.ones(needs))

    def scores() -> dict[str, float]:
        return {n: round(float(s), 2) for n, s in zip(names, rng.beta(1.2, 1.2, needs), strict=True)}

    return PairsIn(
        needs=[Need(id=n, share=float(s)) for n, s in zip(names, shares, strict=True)],
        owned=[Owned(id=f"own{i}", scores=scores()) for i in range(owned)],
        offers=[Offer(id=f"o{i}", price=float(rng.integers(20, 200)), scores=scores()) for i in range(offers)],
        budget=float(rng.integers(0, 500)),
        most_pairs=None if rng.random() < 0.5 else int(rng.integers(0, 4)),
    )


def test_the_plan_of_pairs_is_the_best_there_is() -> None:
    """Small cases against every set of offers tried."""
    rng = np.random.default_rng(9)
    for _ in range(much(100, 500)):
        given = random_case(rng, int(rng.integers(1, 6)), int(rng.integers(0, 3)), int(rng.integers(0, 7)))
        found = pairs(given)
        value, spent = by_hand(given)
        assert found.value == pytest.approx(value, abs=1e-6)
        assert found.spent == pytest.approx(spent, abs=1e-6)
        assert found.value == pytest.approx(found.value_now + sum(b.gain for b in found.order), abs=1e-6)
        gains = [b.gain for b in found.order]
        assert gains == sorted(gains, reverse=True)
        assert found.buy == [b.id for b in found.order]


def test_a_large_plan_is_made() -> None:
    given = random_case(np.random.default_rng(3), 40, 4, 400).model_copy(update={"most_pairs": None, "budget": 600.0})
    found = pairs(given)
    assert found.value > found.value_now
    assert found.spent <= 600
    assert set(found.covers) <= {n.id for n in given.needs}


@pytest.mark.parametrize(
    "wrong",
    [
        {"needs": [], "budget": 1}, {"needs": [{"id": "a", "share": 2}], "budget": 1},
        {"needs": [{"id": "a", "share": 0.5}] * 2, "budget": 1},
        {"needs": [{"id": "a", "share": 1}], "owned": [{"id": "x"}], "offers": [{"id": "x", "price": 3}], "budget": 1},
    ],
)  # fmt: skip
def test_a_plan_that_cannot_be_is_refused(wrong: dict[str, object]) -> None:
    with pytest.raises(BadInput):
        read(PairsIn, wrong)
