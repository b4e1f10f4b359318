"""How long fittings take here, and how long who waits still waits: held against days played by other rules."""

from __future__ import annotations

import heapq
import random
import statistics

import pytest

from kalon.core.care.queue import Done, Takes, Wait, Waiting, takes, wait_text, waits


def test_the_usual_until_something_was_seen_and_then_the_shops_own() -> None:
    """House defaults first; forty of half an hour leave little of them. One sport's own count for it most."""
    assert takes("fitting", None, []).median_min == pytest.approx(45)
    assert takes("growth", None, []).median_min == pytest.approx(10)
    seen = [Done("fitting", "football", 30.0)] * 40
    assert takes("fitting", "football", seen).median_min == pytest.approx(30, abs=1)
    assert takes("growth", None, seen).median_min == pytest.approx(10), "a growth check is no fitting"
    both = seen + [Done("fitting", "climbing", 70.0)] * 20
    assert takes("fitting", "climbing", both).median_min > 55
    assert takes("fitting", "football", both).median_min < 35
    between = takes("fitting", "cycling", both).median_min
    assert 35 < between < 50, "of a sport nobody saw here the shop's own is known"


def test_what_was_pressed_by_mistake_or_left_open_teaches_nothing() -> None:
    odd = [Done("fitting", None, 0.2), Done("fitting", None, 900.0)]
    assert takes("fitting", None, odd) == takes("fitting", None, [])


def test_who_has_been_at_it_for_long_is_not_done_the_sooner_for_it() -> None:
    """One that takes long has already shown that it does: after an hour of 45 usual ones there is still some to go."""
    length = takes("fitting", None, [Done("fitting", None, m) for m in (20.0, 30.0, 40.0, 50.0, 65.0, 90.0) * 5])
    fresh, late = (waits([(length, t)], 1, [Waiting(length)])[0] for t in (1.0, 60.0))
    assert fresh.mid_min == pytest.approx(44, abs=6)
    assert 8 < late.mid_min < 35
    assert late.low_min < late.mid_min < late.high_min


def test_nobody_busy_is_now_and_two_serve_two() -> None:
    length = Takes(40, 0.3, 10)
    first, second, third = waits([], 2, [Waiting(length)] * 3)
    assert (first.high_min, second.high_min) == (0, 0)
    assert third.mid_min == pytest.approx(34, abs=5), "the sooner of two"
    assert wait_text(first) == "now"
    assert waits([], 2, [Waiting(length, comes_in_min=90)])[0] == Wait(90, 90, 90)


def test_more_busy_than_the_house_says_are_all_at_work() -> None:
    length = Takes(40, 0.3, 10)
    three = waits([(length, 5.0)] * 3, 1, [Waiting(length)])[0]
    one = waits([(length, 5.0)], 1, [Waiting(length)])[0]
    assert three.mid_min < one.mid_min


@pytest.mark.parametrize(("mid", "low", "high", "said"), [
    (0, 0, 1, "now"), (17, 4, 43, "about 15 min (4 to 45)"), (90, 90, 90, "about 90 min"), (0.2, 0, 12, "any moment (0 to 10)"),
])  # fmt: skip
def test_a_wait_is_said_as_across_a_counter(mid: float, low: float, high: float, said: str) -> None:
    assert wait_text(Wait(low, mid, high)) == said


def _day(rng: random.Random, fitters: int) -> tuple[list[float], list[float], list[float], list[float]]:
    """A moment of somebody's day, told without the product: how long earlier ones took (gamma, with a share of quick
    ones), how long those at it have been, when they end, and how long four who wait truly waited. Who looks in at any
    moment meets a long one the likelier the longer it is."""

    def length() -> float:
        return rng.uniform(4, 12) if rng.random() < 0.15 else rng.gammavariate(9, 40 / 9)

    done = [length() for _ in range(80)]
    so_far, ends = [], []
    for _ in range(fitters):
        whole = next(w for w in iter(length, None) if rng.uniform(0, 150) < w)
        at = rng.uniform(0, whole)
        so_far.append(at)
        ends.append(whole - at)
    heapq.heapify(ends)
    waited = []
    for _ in range(4):
        start = heapq.heappop(ends)
        waited.append(start)
        heapq.heappush(ends, start + length())
    return done, so_far, ends, waited


def test_eight_in_ten_wait_as_long_as_they_were_told() -> None:
    """600 moments of days whose fittings last by another law than the one that is inferred."""
    rng = random.Random(20261201)
    inside, over = [], []
    for turn in range(300):
        fitters = 1 + turn % 3
        done, so_far, _, waited = _day(rng, fitters)
        length = takes("fitting", None, [Done("fitting", None, m) for m in done])
        told = waits([(length, t) for t in so_far], fitters, [Waiting(length)] * len(waited))
        inside += [w.low_min <= true <= w.high_min for w, true in zip(told, waited, strict=True)]
        over += [true > w.mid_min for w, true in zip(told, waited, strict=True)]
    assert 0.74 < statistics.fmean(inside) < 0.9, f"{statistics.fmean(inside):.3f} of eight in ten"
    assert 0.35 < statistics.fmean(over) < 0.6, f"{statistics.fmean(over):.3f} waited longer than the middle"
