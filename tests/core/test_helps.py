"""What helps a pair that nearly fits; what was learned, in words, laid over a shelf, and how often it came true."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest

from kalon.core.fit.foot import FootToFit
from kalon.core.fit.helps import LACINGS, helps_for, odd_feet
from kalon.core.fit.trial import PairTrial
from kalon.core.learn.answers import Answers, KnownMakers, foot_of, size_said, worn_of
from kalon.core.learn.evidence import ReturnEvidence, of_trial
from kalon.core.learn.given import Learned
from kalon.core.learn.said import SaidSo, SeenSo, calibration, learned_said
from kalon.core.money import Money
from kalon.core.rules.spec import fit_target
from kalon.core.shoes.inner import SPREADS, Offset
from tests.core.test_rank import FOOT, SPEC

WHOLE = tuple(SPREADS.whole(z) for z in range(4))


def patterns(sport: str = "football", laced: bool = True, **trial: Any) -> list[str | None]:
    return [h.pattern for h in helps_for(PairTrial.model_validate(trial), sport, laced, None)]


@pytest.mark.parametrize(
    ("trial", "found"),
    [
        ({"heel_slip": 1}, ["heel_lock"]), ({"pinches": {"left:instep": 1}}, ["skipped"]),
        ({"pinches": {"right:ball": 2}}, ["wide_forefoot"]), ({"pinches": {"right:ball": 3}}, []), ({}, []),
        ({"slide": "always"}, [None]),
    ],
)  # fmt: skip
def test_lacing_follows_what_was_found(trial: dict[str, Any], found: list[str | None]) -> None:
    """Common practice, no source."""
    assert patterns(**trial) == found


def test_a_knot_for_cycling_and_no_lacing_without_laces() -> None:
    assert patterns("cycling") == ["secure_knot"]
    assert patterns("cycling", laced=False) == []
    assert all(way.how.endswith(".") and way.does.endswith(".") for way in LACINGS.values())


def test_an_insole_is_as_thick_as_the_room_it_takes_up() -> None:
    loose = PairTrial(slide="always")
    thin, thick = (helps_for(loose, "football", True, slack)[0].text for slack in (4.0, 11.0))
    assert (thin, thick) == ("An insole 2 mm thick.", "An insole 4 mm thick.")


def feet(apart: float, girth: float = 0.0) -> FootToFit:
    left = np.array([262.0 + apart, 245.0 + girth, 250.0, 64.0])
    right = np.array([262.0, 245.0, 250.0, 64.0])
    return FootToFit({"left": left, "right": right}, np.ones(4), ())


def test_odd_feet_are_told_with_their_cost() -> None:
    assert odd_feet(feet(1.5), Money(9000, "EUR")) is None
    little = odd_feet(feet(-2.8, girth=4), Money(9000, "EUR"))
    assert little is not None
    assert (little.larger, little.split) == ("right", False)
    assert "differ by 4 mm" in little.text
    far = odd_feet(feet(5.2), Money(9000, "EUR"))
    assert far is not None
    assert far.split
    assert "180.00 EUR in all" in far.text
    unpriced = odd_feet(feet(5.2), None)
    assert unpriced is not None
    assert "in all" not in unpriced.text


def test_a_makers_habit_in_words() -> None:
    short = learned_said("Tarnholt", "length", Learned(mean_mm=-1.2, sd_mm=0.6), Learned(mean_mm=0.4, sd_mm=1.6))
    assert short == "Tarnholt shoes now run 1.2 ± 0.6 mm short for you all (before: +0.4 ± 1.6)."
    assert learned_said("Orvane", "ball_girth", Learned(mean_mm=2, sd_mm=1)).startswith("Orvane shoes now run 2.0")
    assert "run true" in learned_said("Orvane", "length", Learned(mean_mm=0.01, sd_mm=1))


def test_what_a_trial_shows_and_how_likely_fine_was() -> None:
    target = fit_target(SPEC, "synthetic").band()
    inside = tuple(float(v) for v in FOOT.larger + (target.low + target.high) / 2)
    trial = PairTrial(verdict="pass", tests={"toe": "pass", "stand": "pass", "cut": "pass"})
    found = of_trial(trial, FOOT, inside, (1, 1, 1, 1), target, "synthetic", "plate", 0.0, "football")  # type: ignore[arg-type]
    assert set(found) == {"length", "ball_girth", "instep_girth", "heel_width"}
    assert found["length"].fine_chance > 0.7
    assert found["instep_girth"].sides == ["jam"]
    assert found["instep_girth"].fine_chance > 0.5
    assert (
        of_trial(PairTrial(verdict="pass"), FOOT, inside, (1, 1, 1, 1), target, "synthetic", "plate", 0.0, "football")
        == {}
    )  # type: ignore[arg-type]
    far = of_trial(trial, FOOT, (300, 300, 300, 90), (1, 1, 1, 1), target, "synthetic", "plate", 0.0, "football")
    assert far["length"].fine_chance < 0.01


def test_a_worn_gap_speaks_for_the_new_one_it_came_from() -> None:
    body = ReturnEvidence(
        foot_mm=265, foot_sigma_mm=1, seen_mm=-1.0, seen_sigma_mm=1.5, predicted_mm=-2, predicted_sigma_mm=2, new_mm=-6,
        new_sigma_mm=3, hours=20, c_mm=8, tau_h=8, sport="climbing", kind="suede/slip",
    )  # fmt: skip
    new = body.as_new()
    assert new.gap_mm == -5.0
    assert (new.sigma_mm or 0) > 1.5


def test_how_often_it_came_true() -> None:
    said = [SaidSo("football", "knit/plate", "Ilse", 0.8, 10, 9), SaidSo("climbing", "suede/slip", "Bram", 0.2, 10, 3)]
    gaps = [1.0 + n for n in range(6)]  # each with a spread of 3: one beyond 4.9 mm
    seen = [SeenSo("football", "knit/plate", "Ilse", 1, g < 4.9, g, g * g) for g in gaps]
    found = calibration(said, seen)
    assert [(s.said, s.came, s.count) for s in found.steps] == [(pytest.approx(0.3), 0.3, 10), (0.9, 0.9, 10)]
    every = found.groups[0]
    assert (every.verdicts, every.came, every.gaps) == (20, 0.6, 6)
    assert every.held == pytest.approx(4 / 6)
    assert every.off is not None
    assert every.off.mean == 3.5
    assert [g.of for g in found.groups if g.group == "fitter"] == ["Bram", "Ilse"]
    assert calibration([], []).steps == []


def test_answers_from_afar() -> None:
    shoes, odd = worn_of(Answers.model_validate({"worn": [
        {"maker": "Orvane", "label": 42, "says": "right"}, {"label": 140, "says": "right"}, {"label": 41}]}), KnownMakers())  # fmt: skip
    assert [s.label for s in shoes] == [42]
    assert odd == ["No shoe is EU 140: is that its size?"]
    assert foot_of(Answers(), KnownMakers()) is None
    one = Answers.model_validate({"worn": [{"maker": "Orvane", "model": "Rut", "label": 42, "says": "right"}]})
    step = KnownMakers(ahead={("orvane", "us_women"): 1.0})
    assert [worn_of(one, step)[0][0].runs_ahead, worn_of(one.model_copy(deep=True, update={"worn": [
        one.worn[0].model_copy(update={"system": "us_women", "label": 8})]}), step)[0][0].runs_ahead] == [None, 1.0]  # fmt: skip
    plain = foot_of(one, KnownMakers())
    known = foot_of(one, KnownMakers({("orvane", "rut"): Offset(mean_mm=-2, sd_mm=0.6)}))
    assert plain is not None
    assert known is not None
    assert known.length.mm < plain.length.mm
    assert known.length.sd_mm < plain.length.sd_mm
    assert size_said(known).startswith("A street size between EU ")
    pictured = foot_of(one, KnownMakers(), (268.0, 0.5))
    assert pictured is not None
    assert size_said(pictured).startswith(("About a street size", "A street size between"))
