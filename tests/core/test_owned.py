"""Pairs owned: what was seen of them, hours worn, lives learned, buying again."""

from __future__ import annotations

import itertools
import math
from datetime import date, timedelta
from random import Random

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.special import ndtr

from kalon.core.care.again import AgainIn, FootThen, again
from kalon.core.care.cost import LOG_SD, life_of
from kalon.core.care.hours import hours_worn
from kalon.core.care.lives import NOTHING, Kind, LifeSeen, LivesIn, life, lives, said
from kalon.core.care.seen import GONE, LOOKED, WearSeenIn, looked_at, wear_seen
from kalon.core.care.wear import (
    Inspection,
    Life,
    Stretch,
    WearIn,
    at_odds,
    known_life,
    share_of,
    sighting,
    wear,
)  # fmt: skip
from kalon.core.errors import BadInput, read
from kalon.core.rules.words import SPORTS
from kalon.demo.after import found_of
from tests.much import much

TODAY = date(2026, 11, 27)


# --- what is seen


def test_every_part_is_looked_at_in_some_sport_and_its_findings_cover_a_life() -> None:
    for sport in SPORTS:
        assert len(looked_at(sport)) >= 4  # type: ignore[arg-type]
    for looked in LOOKED.values():
        if looked.told:
            continue
        ends = sorted((f.low, f.high) for f in looked.findings)
        assert ends[0][0] == 0
        assert all(b[0] <= a[1] + 0.15 for a, b in itertools.pairwise(ends)), looked.name


def test_as_new_says_little_and_worn_says_much() -> None:
    new = wear_seen(WearSeenIn(sport="football", seen={"sole": "grips", "midsole": "springs"}))
    worn = wear_seen(WearSeenIn(sport="football", seen={"sole": "patches", "midsole": "creased"}))
    assert new.worn_share is not None
    assert worn.worn_share is not None
    assert new.worn_share < 0.3 < 0.5 < worn.worn_share < 0.75
    assert sighting(Life(median_h=120, log_sd=0.35), [Inspection(hours=6, parts=new.parts)]) is None


def test_a_part_that_is_gone_ends_the_pair_whatever_the_others_look_like() -> None:
    found = wear_seen(WearSeenIn(sport="climbing", seen={"toe_rubber": "hole", "sole": "grips", "downturn": "holds"}))
    assert found.gone == ["toe_rubber"]
    assert found.worn_share is not None
    assert found.worn_share >= 0.95
    assert found.advice[0] == "Rubber at the toe is gone: retire it, whatever else holds."


def test_studs_and_cleats_are_replaced_and_dont_wear_out_a_pair() -> None:
    studs = wear_seen(WearSeenIn(sport="football", seen={"studs": "nubs"}))
    assert studs.worn_share is None
    assert "Replace the studs" in studs.advice[0]
    cleats = wear_seen(WearSeenIn(sport="cycling", seen={"cleat": "slips", "sole": "grips"}))
    assert "Replace the cleats now" in cleats.advice[0]
    assert cleats.worn_share is not None
    assert cleats.worn_share < 0.35


def test_an_edge_that_is_felt_and_damp_are_said() -> None:
    found = wear_seen(WearSeenIn(sport="lifting", seen={"overhang": "felt", "damp": "damp"}))
    assert any("no longer stands on its sole" in a for a in found.advice)
    assert any("away from heat" in a for a in found.advice)


@pytest.mark.parametrize(("seen", "what"), [
    ({"downturn": "flat"}, "isn't looked at"), ({"sole": "shiny"}, "grips, patches, bald"),
])  # fmt: skip
def test_what_a_sport_doesnt_know_is_refused(seen: dict[str, str], what: str) -> None:
    with pytest.raises(BadInput, match=r"Sole|Downturn") as refused:
        read(WearSeenIn, {"sport": "football", "seen": seen})
    assert what in str(refused.value.fields)


@pytest.mark.parametrize("parts", [[(0.0, 0.4)], [(0.4, 0.85), (0.4, 0.8)], [(0.0, 0.45), (0.4, 0.8), (0.35, 0.8)]])
def test_stretches_agree_with_drawn_pairs(parts: list[tuple[float, float]]) -> None:
    """Against weighted draws: lives from the prior, weighed by how often such parts would be seen."""
    rng = np.random.default_rng(7)
    logs = math.log(120) + 0.35 * rng.normal(size=400_000)
    share = 50 / np.exp(logs)
    weight = np.ones_like(share)
    for low, high in parts:
        at = share[:, None] * np.exp(0.14 * rng.normal(size=(len(share), 8)))
        weight *= 0.98 * ((at >= low) & (at < high)).mean(axis=1) + 0.02
    mean = float(np.average(logs, weights=weight))
    sd = float(np.average((logs - mean) ** 2, weights=weight) ** 0.5)
    seen = Inspection(hours=50, parts=[Stretch(low=a, high=b) for a, b in parts])
    found = known_life(Life(median_h=120, log_sd=0.35), [seen])
    assert found[0] == pytest.approx(mean, abs=0.01)
    assert found[1] == pytest.approx(sd, rel=0.05)


def test_worse_findings_never_lengthen_a_life() -> None:
    at = [wear_seen(WearSeenIn(sport="court", seen={"sole": f.value})) for f in LOOKED["sole"].findings]
    usual = Life(median_h=130, log_sd=0.35)
    lives_ = [
        wear(WearIn(life=usual, inspections=[Inspection(hours=60, parts=a.parts)], hours_now=60)).median_h for a in at
    ]
    assert lives_ == sorted(lives_, reverse=True)
    shares = [share_of(a.parts)[0] for a in at]
    assert shares == sorted(shares)


def test_an_inspection_is_one_thing_or_the_other() -> None:
    for bad in ({"hours": 3}, {"hours": 3, "worn_share": 0.3}, {"hours": 3, "worn_share": 0.3, "sigma": 0.1,
                "parts": [{"low": 0, "high": 0.4}]}, {"hours": 3, "parts": [{"low": 0.4, "high": 0.4}]}):  # fmt: skip
        with pytest.raises(BadInput):
            read(Inspection, bad)


def test_what_is_left_of_simulated_pairs_is_as_likely_as_said() -> None:
    """Made-up pairs looked at part by part: the interval holds what truly was left between 85 and 97 in 100."""
    random = Random(11)
    held = count = 0
    for sport, median in (("football", 120.0), ("climbing", 150.0), ("court", 130.0)):
        for _ in range(150):
            true = median * math.exp(random.gauss(0, LOG_SD))
            hours = random.uniform(0.1, 0.9) * true
            seen = found_of(random, sport, hours / true)
            parts = wear_seen(WearSeenIn(sport=sport, seen=seen)).parts  # type: ignore[arg-type]
            inspections = [Inspection(hours=hours, parts=parts)] if parts else []
            out = wear(WearIn(life=Life(median_h=median, log_sd=LOG_SD), inspections=inspections, hours_now=hours))
            held += out.left_h.low <= true - hours <= out.left_h.high
            count += 1
    assert 0.85 <= held / count <= 0.97


def test_hours_that_cant_be_are_asked_about() -> None:
    usual = Life(median_h=120, log_sd=0.35)
    assert at_odds(0.7, 0.12, 10, usual).startswith("It looks more worn than 10 h")
    assert at_odds(0.1, 0.05, 110, usual).startswith("It looks less worn")
    assert at_odds(0.45, 0.12, 50, usual) == ""


# --- hours


def test_hours_are_reckoned_where_nobody_logs() -> None:
    begun = date(2026, 1, 1)
    none = hours_worn(begun, date(2026, 1, 29), 6, [])
    assert (none.logged_h, none.reckoned_h) == (0, pytest.approx(24))


def test_who_logs_is_believed_and_a_long_silence_is_not() -> None:
    begun = date(2026, 1, 1)
    logs = [(begun + timedelta(days=d), 60.0) for d in (0, 3, 9)]
    logging = hours_worn(begun, date(2026, 1, 20), 6, logs)
    assert (logging.logged_h, logging.reckoned_h) == (3, 0)
    silent = hours_worn(begun, date(2026, 3, 1), 7, logs)
    assert silent.logged_h == 3
    assert silent.reckoned_h == pytest.approx((date(2026, 3, 1) - date(2026, 1, 10)).days)
    late = hours_worn(begun, date(2026, 1, 20), 7, [(date(2026, 1, 15), 90.0)])
    assert (late.logged_h, late.reckoned_h) == (1.5, pytest.approx(14))


@given(st.lists(st.tuples(st.integers(0, 200), st.integers(1, 300)), max_size=12), st.integers(0, 220))
def test_hours_never_shrink_as_days_pass(logged: list[tuple[int, int]], until: int) -> None:
    begun = date(2026, 1, 1)
    logs = [(begun + timedelta(days=d), float(m)) for d, m in logged if d <= until]
    now, later = (hours_worn(begun, begun + timedelta(days=d), 5, logs).total_h for d in (until, until + 1))
    assert 0 <= now <= later + 1e-9


def test_hours_told_at_a_follow_up_stand_for_all_before_it() -> None:
    """Nine hours told on the tenth: the page said none. What was logged before is in them, what comes after is added."""
    day = date(2026, 3, 1)
    told = (day + timedelta(days=10), 9.0)
    logged = [(day + timedelta(days=2), 120.0), (day + timedelta(days=12), 60.0)]
    assert hours_worn(day, day + timedelta(days=10), 0, [], told).total_h == 9
    assert hours_worn(day, day + timedelta(days=13), 3.0, logged, told).logged_h == 10
    weekly = hours_worn(day, day + timedelta(days=24), 3.5, [], told)
    assert (weekly.logged_h, weekly.reckoned_h) == (9, pytest.approx(7.0))
    before = hours_worn(day, day + timedelta(days=9), 0, logged, told)
    assert before.total_h == 2  # not told yet by then


# --- lives


def test_before_anything_is_learned_lives_are_the_tables() -> None:
    found = life(Kind(use="football", ground="turf", price_ratio=1))
    assert found.median_h == pytest.approx(150)
    assert found.log_sd == pytest.approx(LOG_SD)
    assert life(Kind(use="climbing", price_ratio=0.5)).median_h == pytest.approx(life_of("climbing", None, 0.5))
    assert life(Kind(use="court")).median_h == pytest.approx(130)


def test_lives_learn_what_truly_holds() -> None:
    """Made-up pairs whose leather lasts a quarter longer and whose turf wears faster: the posterior finds both."""
    random = Random(5)
    true = {"leather": math.log(1.25), "synthetic": 0.0, "turf": math.log(0.8)}
    seen = []
    for _ in range(600):
        upper = random.choice(["leather", "synthetic"])
        ground = random.choice(["turf", "natural"])
        kind = Kind(use="football", ground=ground, upper=upper, price_ratio=1)  # type: ignore[arg-type]
        log = math.log(life(kind).median_h) + true[upper] + true.get(ground, 0.0) + random.gauss(0, 0.28)
        sd = random.choice([0.15, 0.3])
        seen.append(LifeSeen(kind=kind, life_h=math.exp(log + random.gauss(0, sd)), log_sd=sd))
    found = lives(LivesIn(seen=seen))
    leather = life(Kind(use="football", ground="natural", upper="leather", price_ratio=1), found)
    turf = life(Kind(use="football", ground="turf", upper="synthetic", price_ratio=1), found)
    assert leather.median_h == pytest.approx(120 * 1.25, rel=0.06)
    assert turf.median_h == pytest.approx(150 * 0.8, rel=0.06)
    assert leather.log_sd < LOG_SD
    assert any("leather" in s and "longer" in s for s in said(found))


def test_learning_is_the_closed_form_and_takes_any_order() -> None:
    seen = [LifeSeen(kind=Kind(use="court", price_ratio=1), life_h=100 + 10 * i, log_sd=0.2) for i in range(5)]
    one, other = lives(LivesIn(seen=seen)), lives(LivesIn(seen=seen[::-1]))
    assert one.learned["use:court"].mean == pytest.approx(other.learned["use:court"].mean, abs=1e-12)
    from kalon.core.care.lives import OWN_SD, USE_SD

    weight = 1 / (OWN_SD**2 + 0.2**2)
    off = [math.log((s.life_h or 0) / 130) for s in seen]
    assert one.learned["use:court"].mean == pytest.approx(weight * sum(off) / (USE_SD**-2 + 5 * weight))
    assert lives(LivesIn(seen=[])) == NOTHING


def trade(rng: np.random.Generator, weeks: int) -> tuple[list[LifeSeen], dict[str, float]]:
    """A shop's trade as a shop has it: three kinds whose lives differ from the table's, pairs bought every week, worn at
    a pace of their own, retired when they are through; the others are worn still. Numbers are the trade's own."""
    usual = {("football", "natural"): 120.0, ("football", "artificial"): 90.0, ("court", None): 130.0}
    football, grounds = rng.normal(0, 0.17), {"natural": rng.normal(0, 0.08), "artificial": rng.normal(0, 0.08)}
    court, uppers = rng.normal(0, 0.17), {"leather": rng.normal(0, 0.08), "synthetic": rng.normal(0, 0.08)}
    alone = math.sqrt(0.35**2 - 0.17**2 - 2 * 0.08**2)
    seen, truth = [], {}
    for (use, ground), table in usual.items():
        moved = football + grounds[ground] if ground else court
        for upper, more in uppers.items():
            truth[f"{use}/{ground}/{upper}"] = table * math.exp(moved + more)
            own = alone if ground else math.sqrt(alone**2 + 0.08**2)
            for week in rng.integers(0, weeks, 3 * weeks):
                life_h = truth[f"{use}/{ground}/{upper}"] * math.exp(rng.normal(0, own))
                worn_h = (weeks - week) * rng.uniform(1.5, 6.0)
                kind = {"use": use, "ground": ground, "upper": upper}
                if worn_h >= life_h:
                    seen.append(LifeSeen.model_validate({"kind": kind, "life_h": life_h, "log_sd": 0.05}))
                else:
                    seen.append(LifeSeen.model_validate({"kind": kind, "lasts_beyond_h": worn_h}))
    return seen, truth


@pytest.mark.parametrize("weeks", [26, 52, 104, 208])
def test_lives_come_out_true_after_any_time_of_trade(weeks: int) -> None:
    """Retirements only, and pairs in use: the median within 5 %, 90 % intervals of it hold 85 to 97 in 100. Hearing only
    those that ended, a shop of half a year would think that everything dies young."""
    ratio, held = [], []
    for seed in range(much(16, 60)):
        seen, truth = trade(np.random.default_rng(1000 * weeks + seed), weeks)
        known = lives(LivesIn(seen=seen))
        for name, true in truth.items():
            use, ground, upper = name.split("/")
            kind = Kind.model_validate({"use": use, "ground": None if ground == "None" else ground, "upper": upper})
            found = life(kind, known)
            terms = [f"use:{use}", f"upper:{upper}", *([f"ground:{ground}"] if kind.ground else [])]
            at = [list(known.learned).index(t) for t in terms]
            sd = float(np.array(known.cover)[np.ix_(at, at)].sum()) ** 0.5
            ratio.append(math.log(found.median_h / true))
            held.append(abs(ratio[-1]) < 1.645 * sd)
    assert abs(np.mean(ratio)) < 0.05
    assert 0.84 <= np.mean(held) <= 0.97


def test_a_pair_worn_still_says_it_lasts_longer_than_it_has() -> None:
    """Brute force: offsets drawn from the prior, weighed by how likely each lets the pair last so long (importance
    sampling, common practice)."""
    from kalon.core.care.lives import OWN_SD, USE_SD

    seen = [LifeSeen(kind=Kind(use="court"), lasts_beyond_h=h) for h in (90.0, 140.0, 200.0, 260.0)]
    found = lives(LivesIn(seen=seen)).learned["use:court"]
    draws = np.random.default_rng(2).normal(0, USE_SD, 400_000)
    weight = np.ones_like(draws)
    for s in seen:
        weight *= ndtr((math.log(130) + draws - math.log(s.lasts_beyond_h or 1)) / OWN_SD)
    weight /= weight.sum()
    mean = float(weight @ draws)
    assert found.mean == pytest.approx(mean, abs=0.01)
    assert found.sd == pytest.approx(float(weight @ (draws - mean) ** 2) ** 0.5, rel=0.05)
    looked = LifeSeen(kind=Kind(use="court"), life_h=120, log_sd=0.3)
    alone = lives(LivesIn(seen=[looked])).learned["use:court"].mean
    both = lives(LivesIn(seen=[looked.model_copy(update={"lasts_beyond_h": 150.0})])).learned["use:court"].mean
    assert both > alone  # it looked half-way through, and has outlasted that
    with pytest.raises(BadInput):
        read(LifeSeen, {"kind": {"use": "court"}})


# --- again


def foot(on: date, length: float, **more: float) -> FootThen:
    mm = {"length": length, "ball_girth": 245.0, "instep_girth": 250.0, "heel_width": 66.0} | more
    return FootThen(on=on, mm=mm, sigma_mm=dict.fromkeys(mm, 1.0))


def asked(**more: object) -> AgainIn:
    usual = {
        "name": "Orvane Tern", "label": 42, "bought_feet": foot(date(2026, 3, 1), 262), "today": TODAY,
        "feet_now": foot(date(2026, 11, 1), 262.5), "felt": "as_wanted", "sold": "here", "recommended": 42,
    }  # fmt: skip
    return read(AgainIn, usual | more)


def test_the_same_again_when_nothing_changed() -> None:
    found = again(asked())
    assert (found.verdict, found.text) == ("same", "The same again: Orvane Tern, EU 42.")
    assert all(p.fine for p in found.points)


@pytest.mark.parametrize(("more", "verdict", "says"), [
    ({"feet_now": foot(date(2026, 11, 1), 268), "growing": True, "recommended": 43}, "other_size", "grown: 6 mm longer"),
    ({"feet_now": foot(date(2026, 11, 1), 262, ball_girth=252)}, "same", "7 mm more at the ball"),
    ({"feet_now": None}, "measure_first", "No feet on record"),
    ({"feet_now": foot(date(2025, 2, 1), 262)}, "measure_first", "over a year"),
    ({"feet_now": foot(date(2026, 8, 1), 262), "growing": True}, "measure_first", "still growing"),
    ({"felt": "slack"}, "other_size", "gone slack"),
    ({"sold": "no"}, "like_it", "no longer to be had"),
    ({"last_changed": "Another last."}, "other_size", "Another last."),
    ({"recommended": 42.5}, "other_size", "EU 42.5, not EU 42"),
    ({"recommended": 42.5, "box": "UK 8", "recommended_box": "UK 8.5"}, "other_size", "it is UK 8.5, not UK 8."),
    ({"box": "EU 41⅔"}, "same", "it is EU 41⅔, as before"),
])  # fmt: skip
def test_what_a_fitter_would_ask_first(more: dict[str, object], verdict: str, says: str) -> None:
    found = again(asked(**more))
    assert found.verdict == verdict
    assert says in " ".join(p.text for p in found.points)


def test_gone_is_where_the_scale_says() -> None:
    assert GONE == 1.0
    assert {f.value for looked in LOOKED.values() for f in looked.findings if f.low >= GONE} == {"hole", "broken"}
