"""The shelf judged again after a trial: towards what was felt, in every zone, for every other pair."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from kalon.core.errors import BadInput, read
from kalon.core.fit.foot import foot_to_fit
from kalon.core.fit.size import FitTarget, RoomBand
from kalon.core.fit.trial import ASKS, TESTS, PairTrial, contradictions, heard_of, verdicts_of
from kalon.core.match.after import TrialNextIn, TrialNextOut, judged_again, next_said, together, trial_next
from kalon.core.match.rank import rank
from kalon.core.match.shelf import Shelf
from kalon.core.shoes.inner import SPREADS
from tests.core.test_rank import FOOT, GOOD, HEAVY, SPEC
from tests.made import FEET

SIGMA = tuple(SPREADS.whole(z) for z in range(4))
TARGET = FitTarget(
    length=RoomBand(low=6, high=10), ball_girth=RoomBand(low=-6, high=6), instep_girth=RoomBand(low=-6, high=8),
    heel_width=RoomBand(low=-3, high=2),
)  # fmt: skip


def line(name: str, label: float, length: float, maker: str = "M", model: str = "K") -> dict[str, Any]:
    inner = (length, length * 0.905, length * 0.92, length * 0.24)
    return {"id": name, "maker": maker, "model": model, "label": label, "inner_mm": inner, "sigma_mm": SIGMA}


LINES = [line("41", 41, 270), line("41.5", 41.5, 273.3), line("42", 42, 276.7), line("42.5", 42.5, 280),
         line("42 of another", 42, 276.7, "N", "L"), line("41.5 of another", 41.5, 273.3, "N", "L")]  # fmt: skip


def judged(**tried: PairTrial) -> TrialNextOut:
    return judged_again(read(TrialNextIn, {"feet": FEET.model_dump(mode="json"), "target": TARGET.model_dump(),
                                          "lines": LINES,
                                          "tried": {k: v.model_dump(exclude_unset=True) for k, v in tried.items()}}))  # fmt: skip


def worth(found: TrialNextOut) -> dict[str, float]:
    return {row.line: row.quality for row in found.lines}


def test_without_a_trial_nothing_changes() -> None:
    found = judged()
    assert all(row.quality == row.before for row in found.lines)
    assert found.foot == []
    assert found.next == found.lines[0].line


def test_what_jams_makes_the_longer_sizes_better_and_others_a_little_too() -> None:
    before, found = worth(judged()), judged(**{"42": PairTrial(toes="jam")})
    after = worth(found)
    assert found.next == "42.5"
    assert after["42.5"] > before["42.5"]
    assert after["41.5"] < before["41.5"]
    assert after["41.5"] < after["41.5 of another"] < before["41.5 of another"]
    slack = worth(judged(**{"42": PairTrial(toes="slack")}))
    assert slack["41.5"] > before["41.5"]
    assert slack["42.5"] < before["42.5"]


def test_everything_slack_speaks_for_a_smaller_foot() -> None:
    """Six makers' shoes can't all run long."""
    lines = [line(f"{m} 42", 42, 275, m, m) for m in "ABCDEF"] + LINES
    tried = {f"{m} 42": {"toes": "slack"} for m in "ABCDEF"}
    given = {"feet": FEET.model_dump(mode="json"), "target": TARGET.model_dump(), "lines": lines, "tried": tried}
    found = judged_again(read(TrialNextIn, given))
    assert "speaks for a foot" in found.foot[0]
    assert "shorter there than measured" in found.foot[0]
    before, after = worth(judged()), worth(found)
    assert after["42.5"] < before["42.5"]


def test_a_pair_whose_toes_are_fine_is_surer_and_called_passed_alone_says_nothing() -> None:
    before, after = worth(judged()), worth(judged(**{"42": PairTrial(toes="fine", verdict="pass")}))
    assert after["42"] > before["42"]
    assert worth(judged(**{"42": PairTrial(verdict="pass")})) == before


ANSWERS: list[dict[str, Any]] = [
    {}, {"verdict": "pass"}, {"verdict": "fail"}, {"toes": "jam"}, {"toes": "slack"}, {"toes": "fine"},
    {"tests": {"toe": "pass", "stand": "pass", "cut": "pass", "jump": "pass"}, "verdict": "pass"},
    {"tests": {"stand": "fail"}, "pinches": {"left:ball": 3, "right:instep": 2}}, {"heel_slip": 3}, {"slide": "always"},
    {"pinches": {"left:toe_tips": 3}, "toes": "slack"}, {"heel_slip": 0}, {"pinches": {"right:heel": 2}},
]  # fmt: skip


@given(picked=st.lists(st.sampled_from(ANSWERS), min_size=1, max_size=len(LINES)))
@settings(deadline=None, max_examples=60, derandomize=True)
def test_every_mixture_of_pairs_and_zones_answers(picked: list[dict[str, Any]]) -> None:
    """One failed at the toes, another passed, a third wasn't tested: each zone is judged by those that said something of
    it, and every line of the shelf keeps a worth."""
    tried = {line["id"]: trial for line, trial in zip(LINES, picked, strict=False)}
    found = judged_again(read(TrialNextIn, {"feet": FEET.model_dump(mode="json"), "target": TARGET.model_dump(),
                                           "lines": LINES, "tried": tried}))  # fmt: skip
    assert {row.line for row in found.lines} == {line["id"] for line in LINES}
    assert all(0 <= row.quality <= 1 for row in found.lines)
    assert found.next not in tried or len(tried) == len(LINES)


def test_failed_at_the_toes_beside_one_that_passed() -> None:
    """The commonest trial there is: a zone only one of two pairs was asked about."""
    passed = {"tests": {"stand": "pass"}, "verdict": "pass"}
    found = judged(**{"42": PairTrial(toes="jam", verdict="fail"), "42 of another": PairTrial.model_validate(passed)})
    assert worth(found)["42.5"] > worth(judged())["42.5"]


def test_a_line_that_is_not_there_is_refused() -> None:
    with pytest.raises(BadInput):
        read(TrialNextIn, {"feet": FEET.model_dump(mode="json"), "target": TARGET.model_dump(), "lines": LINES,
                           "tried": {"zzz": {}}})  # fmt: skip


JAM, SLACK, BOTH = ("jam",), ("slack",), ("jam", "slack")
DONE = {"stand": "pass", "toe": "pass", "cut": "pass", "jump": "pass"}


@pytest.mark.parametrize(
    ("trial", "said"),
    [
        ({}, {}), ({"verdict": "fail"}, {}), ({"verdict": "pass"}, {}), ({"tests": {"stand": "fail"}}, {}),
        ({"tests": DONE}, {0: ("fine", BOTH), 1: ("fine", BOTH), 2: ("fine", JAM), 3: ("fine", BOTH)}),
        ({"tests": {"stand": "pass"}}, {1: ("fine", JAM), 2: ("fine", JAM), 3: ("fine", JAM)}),
        ({"tests": {"cut": "pass"}}, {1: ("fine", SLACK)}), ({"heel_slip": 0}, {3: ("fine", SLACK)}),
        ({"toes": "jam"}, {0: ("jam", BOTH)}), ({"toes": "fine"}, {0: ("fine", BOTH)}),
        ({"tests": {"toe": "pass"}}, {0: ("fine", BOTH)}), ({"tests": {"toe": "fail"}}, {}),
        ({"pinches": {"left:ball": 2}}, {1: ("jam", JAM)}), ({"pinches": {"left:ball": 1}}, {}),
        ({"pinches": {"left:toe_tips": 3}}, {0: ("jam", JAM)}),
        ({"pinches": {"right:instep": 2, "left:heel": 2}}, {2: ("jam", JAM), 3: ("jam", JAM)}),
        ({"heel_slip": 2}, {3: ("slack", SLACK)}), ({"heel_slip": 1}, {}), ({"slide": "in_cuts"}, {}),
        ({"slide": "always"}, {1: ("slack", SLACK)}), ({"slide": "no"}, {1: ("fine", SLACK)}),
        ({"pinches": {"left:ball": 1}, "tests": {"stand": "pass"}}, {2: ("fine", JAM), 3: ("fine", JAM)}),
        ({"heel_slip": 1, "tests": {"stand": "pass"}}, {1: ("fine", JAM), 2: ("fine", JAM)}),
        ({"pinches": {"left:toe_tips": 3}, "toes": "slack"}, {}), ({"pinches": {"left:toe_tips": 3}, "toes": "fine"}, {}),
        ({"pinches": {"left:toe_tips": 2}, "toes": "fine"}, {0: ("fine", BOTH)}),
        ({"pinches": {"left:toe_tips": 3}, "toes": "jam"}, {0: ("jam", BOTH)}),
        ({"pinches": {"left:ball": 3}, "slide": "always"}, {}), ({"pinches": {"left:heel": 3}, "heel_slip": 2}, {}),
    ],
)  # fmt: skip
def test_what_a_trial_says_of_each_zone_and_what_it_could_have_said(
    trial: dict[str, Any], said: dict[int, tuple[str, tuple[str, ...]]]
) -> None:
    """Only what was asked is heard; a failed pair tells only what was found of it; what contradicts itself is asked
    about. House default: a pinch counts from what hurts on."""
    given_trial = PairTrial.model_validate(trial)
    assert {z: (h.verdict, h.sides) for z, h in heard_of(given_trial).items()} == said
    assert verdicts_of(given_trial) == {z: v for z, (v, _) in said.items()}


def test_what_contradicts_itself_is_asked_about() -> None:
    found = contradictions(PairTrial.model_validate({"pinches": {"left:toe_tips": 3, "left:heel": 3}, "toes": "slack"}))
    assert list(found) == [0]
    assert found[0].endswith("which is it?")
    assert contradictions(PairTrial.model_validate({"pinches": {"left:toe_tips": 3}})) == {}


def test_a_test_asks_the_same_in_every_sport() -> None:
    for sport, tests in TESTS.items():
        assert all(t.asks == ASKS[t.slug] for t in tests), sport
    assert {a for t in TESTS.values() for test in t for a in test.asks} == {"toes", "pinches", "slides", "slips"}


def shelf() -> Shelf:
    rows = [[length, length * 0.9, length * 0.915, length * 0.2385] for length in (269, 273, 277, 281)]
    return Shelf(
        shoe=np.repeat(np.arange(2), 4),
        label=np.tile([41.0, 41.5, 42.0, 42.5], 2),
        inner=np.array(rows * 2, dtype=float),
        line_ids=[f"{s}-{n}" for s in "ab" for n in range(4)],
        sigma=np.tile(SIGMA, (8, 1)),
    )


def test_the_next_pair_of_a_whole_shelf() -> None:
    """The tried line is in no place and stands once among its model's sizes; where none is tried, as in Pull."""
    shoes = [GOOD, HEAVY]
    whole = shelf()
    best = rank(shoes, whole, SPEC, FOOT).places[0]
    row = list(whole.line_ids).index(best.line_id)
    tried = whole.part(np.array([row]))
    found = trial_next(shoes, whole, SPEC, FOOT, tried, [PairTrial(toes="jam", verdict="fail")], 0.5)
    assert best.line_id not in {p.line_id for p in found.places}
    same = [r for r in found.runs if r.tried]
    assert [r.line_id for r in same] == [best.line_id]
    assert len(found.runs) == 4
    assert found.places[0].label > best.label
    assert found.best_tried is None
    happy = trial_next(shoes, whole, SPEC, FOOT, tried, [PairTrial(verdict="pass", toes="fine")], 0.5)
    assert happy.best_tried == best.line_id


def test_a_line_tried_is_not_on_the_shelf_twice() -> None:
    whole = shelf()
    both = together(whole, whole.part(np.array([2])))
    assert len(both.shoe) == len(whole.shoe)
    assert {both.line_ids[i] for i in range(len(both.shoe))} == set(whole.line_ids)


def test_the_next_pair_in_words() -> None:
    found = trial_next([GOOD, HEAVY], shelf(), SPEC, FOOT, shelf().part(np.array([1])), [PairTrial(toes="jam")], 0.5)
    place = found.places[0]
    trial = PairTrial(toes="jam")
    assert next_said(place, "Tern", "42.5", "regular", None).startswith("Try Tern 42.5: ")
    last = ("Tern", "42", "regular", trial)
    assert next_said(place, "Tern", "42.5", "regular", last).startswith("Jams at the toe in 42: try 42.5 of this; ")
    assert "the wide 42 of this" in next_said(place, "Tern", "42", "wide", last)
    assert "try Gull 42.5;" in next_said(place, "Gull", "42.5", "regular", last)


def test_the_foot_itself_is_left_as_it_was_measured() -> None:
    kept = {side: mm.copy() for side, mm in FOOT.sides.items()}
    trial_next([GOOD, HEAVY], shelf(), SPEC, FOOT, shelf().part(np.array([1])), [PairTrial(toes="jam")], 0.5)
    assert all((FOOT.sides[side] == mm).all() for side, mm in kept.items())
    assert (foot_to_fit(FEET).larger == FOOT.larger).all()
