"""The scenario's invented shoes and people fit the vocabulary the core knows."""

from __future__ import annotations

from random import Random
from typing import Any

import pytest

from kalon.core.fit.stretch import BUILDS, UPPERS
from kalon.core.rules.brief import BriefDraft, complete
from kalon.core.rules.scales import CHOICES, scale
from kalon.demo.people import ATHLETES, SIGN_INS
from kalon.demo.shoes import KINDS, MAKERS, models

MODELS: list[dict[str, Any]] = list(models(Random(20)))


@pytest.mark.parametrize("model", MODELS, ids=lambda m: f"{m['maker']} {m['name']}")
def test_every_model_is_one_the_core_can_judge(model: dict[str, Any]) -> None:
    assert model["upper"] in UPPERS
    assert model["build"] in BUILDS
    for name, value in model["properties"].items():
        drawn = scale(name, model["sport"])
        assert drawn.low <= value <= drawn.high
    for name, value in model["choices"].items():
        assert value in CHOICES[name]
    labels = [(line["width"], line["eu_label"]) for line in model["lines"]]
    assert len(labels) == len(set(labels))
    for line in model["lines"]:
        assert line["heel_width_mm"] < line["ball_girth_mm"] < line["length_mm"]
        assert 0 <= line["on_hand"] <= 3


def test_runs_have_half_sizes_and_gaps() -> None:
    labels = {line["eu_label"] for m in MODELS for line in m["lines"]}
    assert any(label % 1 == 0.5 for label in labels)
    full = 2 * (47 - 34) + 1
    assert all(len({line["eu_label"] for line in m["lines"]}) <= full for m in MODELS)
    assert any(len(m["lines"]) < full for m in MODELS)


def test_every_maker_makes_something_and_runs_its_own_way() -> None:
    assert {m["maker"] for m in MODELS} == set(MAKERS)
    assert len(set(MAKERS.values())) > 4
    assert sum(len(k.names) for k in KINDS) == len(MODELS)


@pytest.mark.parametrize("person", [p for p in ATHLETES if p.brief], ids=lambda p: p.name)
def test_every_brief_of_the_scenario_is_complete(person: Any) -> None:
    values = {k: v for k, v in person.brief.items() if k != "event_in"} | {"body_kg": person.body_kg}
    assert complete(BriefDraft.model_validate(values)).sport == person.sport


def test_names_and_sign_ins_are_told_apart() -> None:
    assert len({p.name for p in ATHLETES}) == len(ATHLETES)
    assert len({p.login for p in SIGN_INS}) == len(SIGN_INS)
    assert {p.role for p in SIGN_INS} == {"manager", "fitter", "trainee"}
