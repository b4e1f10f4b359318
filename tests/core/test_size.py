"""Size: bands, words, probabilities, and the half sizes beside."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from kalon.core.fit.foot import foot_to_fit
from kalon.core.fit.size import (
    SHOE_SIGMA_MM,
    TIGHT_SPAN_MM,
    FitTarget,
    RoomBand,
    ShoeSize,
    SizeRecommendIn,
    WantedBand,
    capacities,
    fit_word,
    gaps,
    size_recommend,
)
from kalon.core.fit.stretch import CAPACITY_SPREAD, capacity_mm, give_of, settled_stretch
from tests.made import FEET

TARGET = FitTarget(
    length=RoomBand(low=8, high=14),
    ball_girth=RoomBand(low=-7, high=4),
    instep_girth=RoomBand(low=-9, high=5),
    heel_width=RoomBand(low=-3.5, high=2),
)


def run(labels: list[float], **ratios: float) -> list[ShoeSize]:
    """A run of sizes of one last, EU."""
    found = []
    for label in labels:
        length = label * 20 / 3 - 4
        found.append(
            ShoeSize(
                label=label,
                length_mm=length,
                ball_girth_mm=length * ratios.get("ball", 0.9),
                instep_girth_mm=length * ratios.get("instep", 0.915),
                heel_width_mm=length * ratios.get("heel", 0.2385),
            )
        )
    return found


def recommend(labels: list[float] | None = None, **more: Any) -> Any:
    sizes = run(labels or [n / 2 for n in range(78, 92)], **more.pop("ratios", {}))
    given_ = {"feet": FEET, "target": TARGET, "upper": "synthetic", "build": "plate", "sizes": sizes} | more
    return size_recommend(SizeRecommendIn.model_validate(given_))


def test_the_recommended_size_is_the_likeliest_and_said() -> None:
    found = recommend()
    best = max(found.sizes, key=lambda s: s.quality or 0)
    assert found.recommended == best.label
    assert f"{best.label:g}" in found.reason
    zone = next(z for z in best.zones if z.zone == "length")
    assert 8 <= zone.settled_mm <= 14


def test_none_of_these_when_nothing_is_near() -> None:
    found = recommend([34, 34.5])
    assert found.recommended is None
    assert found.reason.startswith("None of these")
    assert "too tight" in found.reason


def test_half_a_size_up_gives_a_third_of_a_centimetre() -> None:
    found = recommend([42, 42.5])
    rooms = [next(z.new_mm for z in s.zones if z.zone == "length") for s in found.sizes]
    assert rooms[1] - rooms[0] == pytest.approx(10 / 3)


def test_sizes_come_back_in_order_whatever_the_input() -> None:
    labels = [43.0, 41.0, 42.0]
    assert [s.label for s in recommend(labels).sizes] == sorted(labels)


@given(step=st.floats(0.5, 6))
def test_a_larger_shoe_never_has_less_room(step: float) -> None:
    found = recommend([41, 41 + step])
    for small, large in zip(found.sizes[0].zones, found.sizes[1].zones, strict=True):
        assert large.new_mm > small.new_mm
        assert large.settled_mm > small.settled_mm


def test_settled_is_never_tighter_than_new() -> None:
    for upper in ("synthetic", "leather_unlined", "knit"):
        for size in recommend(upper=upper).sizes:
            assert all(z.settled_mm >= z.new_mm for z in size.zones)


def test_leather_ends_with_more_room_than_synthetic() -> None:
    def ball(upper: str) -> list[float]:
        sizes = recommend([40, 41], upper=upper).sizes
        return [next(z.settled_mm for z in s.zones if z.zone == "ball_girth") for s in sizes]

    assert all(a > b for a, b in zip(ball("leather_unlined"), ball("synthetic"), strict=True))


def test_chance_is_joint_and_between_nought_and_one() -> None:
    for size in recommend().sizes:
        assert 0 <= size.chance <= 1
        assert size.chance == pytest.approx(np.prod([z.chance for z in size.zones]))


def test_chance_matches_a_simulation() -> None:
    """Against numpy's own random numbers, a hundred thousand draws."""
    foot = foot_to_fit(FEET)
    wanted = TARGET.band()
    sizes = run([41.5])
    inner = np.array([[s.length_mm, s.ball_girth_mm, s.instep_girth_mm, s.heel_width_mm] for s in sizes])
    give = give_of("leather_lined", "slip")
    cap = capacities(np.array([give.length_mm]), np.array([give.girth_pct]), inner)
    found = gaps(foot.larger, foot.sigma, inner, cap, wanted)
    rng = np.random.default_rng(7)
    n = 100_000
    new = inner - foot.larger + rng.normal(size=(n, 4)) * np.sqrt(foot.sigma**2 + SHOE_SIGMA_MM**2)
    settled = new + settled_stretch(-new, cap * (1 + CAPACITY_SPREAD * rng.normal(size=(n, 4))))
    inside = ((settled >= wanted.low) & (settled <= wanted.high)).all(axis=1).mean()
    assert found.joint[0] == pytest.approx(inside, abs=0.01)
    assert found.sigma[0] == pytest.approx(settled.std(axis=0), rel=0.02)


def test_capacities_agree_with_the_single_zone_formula() -> None:
    inner = np.array([[270.0, 245.0, 250.0, 65.0]])
    give = give_of("suede", "slip")
    row = capacities(np.array([give.length_mm]), np.array([give.girth_pct]), inner)[0]
    zones = ("length", "ball_girth", "instep_girth", "heel_width")
    for value, zone, mm in zip(row, zones, inner[0], strict=True):
        assert value == pytest.approx(capacity_mm("suede", "slip", zone, mm))  # type: ignore[arg-type]


@pytest.mark.parametrize("zone", range(4))
def test_words_follow_the_gap(zone: int) -> None:
    span = float(TIGHT_SPAN_MM[zone])
    assert fit_word(5.01, 0, 5, zone) == "slack"
    assert fit_word(5, 0, 5, zone) == "snug"
    assert fit_word(0, 0, 5, zone) == "snug"
    assert fit_word(-0.01, 0, 5, zone) == "tight"
    assert fit_word(-span, 0, 5, zone) == "tight"
    assert fit_word(-span - 0.01, 0, 5, zone) == "too_tight"


def test_a_band_judged_new_ignores_later_stretch() -> None:
    wanted = TARGET.band()
    snug = WantedBand(np.array([-3, *wanted.low[1:]]), np.array([0, *wanted.high[1:]]))
    new_band = WantedBand(snug.low, snug.high, length_when_new=True)
    foot = np.array([275.0, 249.0, 254.0, 66.0])
    inner = np.array([[270.0, 247.0, 252.0, 65.5]])
    cap = np.array([[8.5, 12.0, 12.0, 1.6]])
    sigma = np.ones(4)
    as_new, as_settled = (gaps(foot, sigma, inner, cap, band).worth[0, 0] for band in (new_band, snug))
    assert as_new < as_settled


def test_the_verdict_tells_what_changes() -> None:
    tight = recommend([41.5], upper="leather_unlined", ratios={"ball": 0.855}).sizes[0]
    assert "new" in tight.verdict
    assert "once settled" in tight.verdict
    calm = recommend([41.5]).sizes[0]
    assert calm.verdict.endswith(".")


def test_both_feet_are_told_apart() -> None:
    body = FEET.model_dump()
    body["left"]["length_mm"] = 269
    found = recommend([42], feet=body)
    zone = next(z for z in found.sizes[0].zones if z.zone == "length")
    assert zone.foot == "left"
    assert zone.right_mm - zone.left_mm == pytest.approx(4, abs=0.1)
