"""What the person on the chair is told: their feet, why this shoe, where a pair presses and slips, what they said."""

from __future__ import annotations

import re
from datetime import date
from typing import Any

import pytest

from kalon.core.feet.combine import combine
from kalon.core.feet.gauge import Feet
from kalon.core.fit.size import SizeFit, ZoneFit
from kalon.core.fit.trial import PairTrial
from kalon.core.match.beside import felt_in, in_short, zones_do
from kalon.core.rules.brief import Brief, BriefDraft
from kalon.core.rules.spec import every_plain_brief, spec_for
from kalon.core.rules.words import SPORTS, Sport
from kalon.core.turned.feet import length_said, seen_said, unlike_said
from kalon.core.turned.need import because, to_them
from kalon.core.turned.told import they_said, told


def lengths(left: float | None, right: float | None) -> list[str]:
    sides = {"left": {"length_mm": left}, "right": {"length_mm": right}}
    return length_said(combine(Feet.model_validate(sides), []))


def test_the_longer_foot_and_by_how_many_sizes() -> None:
    """Half a UK size is a sixth of an inch, 4.23 mm (common practice, no source)."""
    assert lengths(262, 266.3) == [
        "Your left foot is 262 mm long, your right 266, give or take 2.",
        "The right is 4.3 mm longer than the left, about half a size: the shoe goes by the right.",
    ]
    assert "right 270, " in lengths(275.4, 269.9)[0]
    assert "5.5 mm longer" in lengths(275.4, 269.9)[1]  # not 6: 275 less 270 would be read as wrong
    assert "about 1 sizes" not in " ".join(lengths(270, 261.5))
    assert "about a size" in lengths(270, 261.5)[1]
    assert "about 1.5 sizes" in lengths(275, 262.3)[1]
    assert "less than half a size" in lengths(262, 263.6)[1]
    assert lengths(262, 262.6) == ["Your feet are of one length: 262 mm, give or take 2."]
    assert lengths(None, 255) == ["Your right foot is 255 mm long, give or take 2."]
    assert lengths(None, None) == []


def test_in_what_they_are_unlike_and_what_was_seen_of_them() -> None:
    feet = Feet.model_validate(
        {
            "left": {"length_mm": 262, "ball_girth_mm": 250, "heel_width_mm": 64, "toe_shape": "square", "arch": "low"},
            "right": {
                "length_mm": 262,
                "ball_girth_mm": 256,
                "heel_width_mm": 66,
                "toe_shape": "square",
                "bunion": True,
            },
        }
    )
    found = combine(feet, [])
    assert unlike_said(found) == ["The right is 6 mm more round the ball."]
    said = seen_said(found, feet)
    assert said[0] == "The toes are of one length: the front has to be broad, on both feet."
    assert "The arch is low, on the left." in said
    assert "There is a bump at the big toe: nothing may rub there, on the right." in said
    assert seen_said(combine(Feet(), []), Feet()) == []


@pytest.mark.parametrize("sport", list(SPORTS))
def test_every_plain_shoe_has_reasons_anybody_understands(sport: Sport) -> None:
    """At most three, none twice, each a sentence, and no figure of the bench in it."""
    for brief in every_plain_brief(sport):
        found = because(spec_for(brief))
        assert 2 <= len(found) <= 3, brief
        assert len({b.why for b in found}) == len(found)
        for b in found:
            assert b.what[0].isupper()
            assert b.why.endswith(".")
            assert not re.search(r"kPa|N·|\d ?%|_|this lifter|you noted", f"{b.what} {b.why}"), b


def test_what_is_wanted_for_their_own_foot_comes_first() -> None:
    """Whoever told of a knee, or of a heel that hurts, hears of it first; and as what they told."""
    plain = {"sport": "football", "discipline": "match", "surface": "firm_natural", "body_kg": 74}
    knee = because(spec_for(Brief.model_validate(plain | {"history": ["knee"]})))
    assert "knee" in knee[0].why
    assert to_them("Round studs: you noted a knee.") == "Round studs: you told us of a knee."
    assert to_them("Short studs hold well (grip 0.71 of the load).") == "Short studs hold well."
    assert to_them("Either midsole serves here.") == to_them("Under 860 kPa it hurts.") == ""
    heel = {"sport": "court", "discipline": "badminton", "body_kg": 60, "history": ["heel_pain"]}
    assert [b.what for b in because(spec_for(Brief.model_validate(heel))) if "Heel pain" in b.why] == [
        "Cushioned", "An insole that comes out",
    ]  # fmt: skip
    assert not any("knee" in b.why for b in because(spec_for(Brief.model_validate(plain))))


def zone(name: str, new: str, settled: str) -> ZoneFit:
    return ZoneFit.model_validate(
        {"zone": name, "foot": "left", "new": new, "settled": settled, "chance": 0.5, "left_mm": 0, "right_mm": 0}
        | dict.fromkeys(("new_mm", "settled_mm", "sigma_mm", "low_mm", "high_mm"), 0.0)
    )


def fit(**zones: tuple[str, str]) -> SizeFit:
    return SizeFit(label=42, chance=0.5, verdict="", zones=[zone(n, *words) for n, words in zones.items()])


@pytest.mark.parametrize(
    ("name", "new", "settled", "does", "text"),
    [
        ("length", "tight", "tight", "presses", "It presses at the toes, and goes on pressing."),
        ("length", "slack", "slack", "slips", "It has room to spare at the toes."),
        ("ball_girth", "too_tight", "too_tight", "presses", "It presses hard at the ball, and goes on pressing."),
        ("ball_girth", "tight", "snug", "gives", "It presses at the ball when new, and gives until it is right."),
        ("instep_girth", "too_tight", "snug", "gives",
         "It presses hard over the instep when new, and gives until it is right."),
        ("instep_girth", "snug", "slack", "slips", "It is right new; worn in it is loose over the instep."),
        ("heel_width", "slack", "slack", "slips", "It lets the heel slip."),
        ("heel_width", "tight", "slack", "slips", "It presses at the heel when new; worn in it lets the heel slip."),
        ("heel_width", "snug", "snug", "right", "It is right all round, new and worn in."),
    ],
)  # fmt: skip
def test_where_a_pair_presses_gives_and_slips(name: str, new: str, settled: str, does: str, text: str) -> None:
    found = zones_do(fit(**{name: (new, settled)}))
    assert found[0].does == does
    assert in_short(found) == [text]


def test_only_what_is_off_is_told_of_a_pair() -> None:
    found = zones_do(fit(length=("snug", "snug"), ball_girth=("tight", "snug"), heel_width=("slack", "slack")))
    assert [z.does for z in found] == ["right", "gives", "slips"]
    assert len(in_short(found)) == 2


@pytest.mark.parametrize(
    ("trial", "lines"),
    [
        ({}, []),
        ({"pinches": {"left:ball": 1, "right:heel": 3}},
         ["Hurts so that it can't be worn at the heel, right", "Felt at the ball, left"]),
        ({"toes": "jam", "slide": "in_cuts", "heel_slip": 2},
         ["The toes touch", "The foot slides in turns", "The heel slips"]),
        ({"tests": {"stand": "pass"}, "heel_slip": 0}, ["Passed stand"]),
        ({"tests": {"no_such_test": "fail"}}, []),
    ],
)  # fmt: skip
def test_what_was_felt_worst_first(trial: dict[str, Any], lines: list[str]) -> None:
    assert felt_in(PairTrial.model_validate(trial), "football") == lines
    assert felt_in(None, "football") == []


def test_a_failed_test_is_named() -> None:
    assert felt_in(PairTrial(tests={"stand": "fail"}), "football") == ["Didn't pass stand"]


def test_what_they_said_in_the_words_they_were_asked_in_and_nothing_nobody_asked() -> None:
    brief = BriefDraft.model_validate(
        {
            "sport": "lifting", "discipline": "olympic", "body_kg": 64, "history": ["knee", "hip"], "growing": False,
            "event_on": "2027-01-01", "level": "competitive", "wears_now": "an old flat pair",
        }
    )  # fmt: skip
    said = {s.what: s.text for s in they_said(brief)}
    assert said == {
        "Sport": "Lifting and gym", "Mostly": "Snatch, clean and jerk", "Body mass": "64 kg", "Level": "Competes",
        "Hurts": "Knee, Hip", "First event": f"{date(2027, 1, 1):%-d %B %Y}", "Wear now": "an old flat pair",
        **({"Growing": "no"} if "Growing" in said else {}),
    }  # fmt: skip
    assert they_said(BriefDraft()) == []


def test_a_caution_is_told_without_how_the_fitter_knows() -> None:
    assert told("Pain that lasts (noted on the athlete's page: “pain”): see a physician.") == (
        "Pain that lasts: see a physician."
    )
    assert told("A knee (either side): round studs.") == "A knee (either side): round studs."
