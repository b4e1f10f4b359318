"""Anatomy: what a shoe has, hasn't, and what nobody knows; wants that rank, needs that rule out or ask; likeness."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from kalon.core.fit.foot import foot_to_fit
from kalon.core.match.judged import judge, to_ask, veto_of
from kalon.core.match.nearest import alike, nearness
from kalon.core.match.rank import rank
from kalon.core.match.shelf import Shelf, Shoe, in_size
from kalon.core.rules.blend import blend
from kalon.core.rules.brief import Brief
from kalon.core.rules.changes import changes
from kalon.core.rules.engine import Avoid, Case, Need, Rule, Spec, Want, compute
from kalon.core.rules.hand import HandWeight, with_weights
from kalon.core.rules.scales import PROPERTIES
from kalon.core.rules.spec import RULES, spec_for
from kalon.core.shoes.anatomy import FEATURES, READ
from kalon.demo.shoes import models
from tests.core.law import case_of
from tests.core.rulebook import LAW
from tests.made import FEET, football

DANCE = Brief.model_validate({"sport": "court", "discipline": "dance_fitness", "body_kg": 62, "history": ["orthosis"]})
WANTED = spec_for(DANCE)
TURNS = Shoe("turns", "court", "synthetic", "board", 0.0, {"cushion": 4.0, "mass_g": 250},
             {"sole": "gum_court", "closure": "laces", "upper": "synthetic"},
             features={"turning_spot": True, "low_tread": True, "removable_insole": True})  # fmt: skip
GLUED = replace(TURNS, id="glued", features={"turning_spot": True, "removable_insole": False})
UNSEEN = replace(TURNS, id="unseen", features={})


def test_every_property_says_how_it_is_read_at_the_bench() -> None:
    assert set(READ) == set(PROPERTIES)


def test_every_feature_is_used_by_a_rule() -> None:
    used = {
        effect.feature
        for rules in RULES.values()
        for rule in rules
        for effect in rule.effects(case_of(LAW[rule.id][0]))
        if isinstance(effect, Want | Avoid | Need)
    }
    assert used == set(FEATURES)


def test_every_new_property_is_used_by_a_rule_of_some_sport() -> None:
    said = {name for sport in RULES for name in spec_for(_plain(sport)).properties}
    assert set(PROPERTIES) - said <= {"arch_support"}  # only once an arch was seen


def _plain(sport: str) -> Brief:
    first = {"football": "match", "climbing": "indoor_general", "lifting": "mixed_training", "cycling": "gravel",
             "court": "badminton", "field": "cricket", "ice": "hockey"}[sport]  # fmt: skip
    more = {"surface": "firm_natural", "pedal": "two_bolt", "wicket": "grass", "role": "batter"}
    return Brief.model_validate({"sport": sport, "discipline": first, "body_kg": 70, **more})


def test_a_need_rules_out_what_lacks_it_and_asks_where_nobody_knows() -> None:
    assert WANTED.features["removable_insole"].wish == "need"
    out = veto_of(GLUED, WANTED)
    assert out is not None
    assert out.rule == "feet.orthosis"
    assert veto_of(UNSEEN, WANTED) is None
    assert any("insole" in ask.lower() and "lift it" in ask for ask in to_ask(UNSEEN, WANTED))
    assert not any("insole" in ask.lower() for ask in to_ask(TURNS, WANTED))


def test_a_wanted_feature_ranks_and_says_why() -> None:
    plain = spec_for(DANCE.model_copy(update={"history": []}))
    without = replace(TURNS, id="without", features=TURNS.features | {"turning_spot": False})
    has, lacks = judge(TURNS, plain), judge(without, plain)
    assert has.share is not None
    assert lacks.share is not None
    assert has.share > lacks.share
    assert any("Turning spot" in p.text for p in has.helps)
    assert any(p.text == "It has no spot to turn on: the foot sticks in a turn." for p in lacks.costs)


def test_an_avoided_feature_costs_where_it_is_there() -> None:
    hooks = spec_for(Brief.model_validate({"sport": "climbing", "discipline": "gritstone", "body_kg": 70}))
    token = Shoe("t", "climbing", "suede", "slip", 0.0, {}, {"upper": "suede"}, features={"token_heel": True})
    cup = replace(token, features={"token_heel": False})
    assert any("has a thin token heel, better left out here" in p.text for p in judge(token, hooks).costs)
    assert (judge(cup, hooks).share or 0) > (judge(token, hooks).share or 0)


@given(st.dictionaries(st.sampled_from(sorted(FEATURES)), st.booleans()))
def test_what_is_not_known_neither_helps_nor_costs(features: dict[str, bool]) -> None:
    """Looking at one feature moves the share towards right or wrong and never lowers how much is known."""
    shoe = replace(TURNS, features=features)
    met = judge(shoe, WANTED)
    for name in WANTED.features:
        rest = {n: v for n, v in features.items() if n != name}
        blind = judge(replace(shoe, features=rest), WANTED)
        assert met.known >= blind.known
        if name in features and blind.share is not None and met.share is not None:
            right = features[name] != (WANTED.features[name].wish == "avoid")
            assert met.share >= blind.share - 1e-9 if right else met.share <= blind.share + 1e-9


def _said(*rules: Rule) -> Spec:
    return compute(rules, Case(football()), "test")


def test_wants_and_avoids_weigh_against_each_other_in_any_order() -> None:
    always = lambda _: True  # noqa: E731
    rules = [
        Rule("a", always, (Want("toe_guard", 0.6),), "", "HD"),
        Rule("b", always, (Avoid("toe_guard", 0.2),), "", "HD"),
        Rule("c", always, (Avoid("shank", 0.3), Want("heel_tab", 0.2)), "", "HD"),
        Rule("d", always, (Avoid("heel_tab", 0.2), Need("non_marking")), "", "HD"),
    ]
    found = _said(*rules).features
    assert {n: (f.wish, f.weight) for n, f in found.items()} == {
        "non_marking": ("need", 1.5), "toe_guard": ("want", 0.4), "shank": ("avoid", 0.3),
    }  # fmt: skip
    assert found == _said(*reversed(rules)).features


def test_two_disciplines_lay_their_wishes_together() -> None:
    tennis, dance = (spec_for(DANCE.model_copy(update={"discipline": d, "history": []})) for d in ("tennis",
                                                                                                  "dance_fitness"))  # fmt: skip
    both = blend([(0.5, tennis), (0.5, dance)])
    assert both.features["turning_spot"].weight == pytest.approx(dance.features["turning_spot"].weight / 2)
    needed = blend([(0.9, dance), (0.1, WANTED)])
    assert needed.features["removable_insole"].wish == "need"


def test_a_feature_counts_by_hand_and_a_need_never_less() -> None:
    found = with_weights(
        WANTED,
        {"turning_spot": HandWeight(to=0.2, why="hardly turns"), "removable_insole": HandWeight(to=0.1, why="no wish")},
    )
    assert found.features["turning_spot"].weight == 0.2
    assert found.features["removable_insole"].weight == WANTED.features["removable_insole"].weight
    assert found.features["removable_insole"].by_hand is not None


def test_what_moves_is_said_of_features_too() -> None:
    plain = spec_for(DANCE.model_copy(update={"history": []}))
    assert "Insole that comes out: needed" in changes(plain, WANTED)
    assert "Insole that comes out no longer counts" in changes(WANTED, plain)


def test_a_shoe_weighs_what_its_size_weighs() -> None:
    assert in_size(TURNS, 42).properties["mass_g"] == 250
    assert in_size(TURNS, 36).properties["mass_g"] == pytest.approx(250 * (36 / 42) ** 2, abs=0.5)
    assert in_size(replace(TURNS, properties={}), 36).properties == {}


def test_the_ranking_leaves_out_what_lacks_a_need() -> None:
    shoes = [TURNS, GLUED, UNSEEN]
    inner = np.array([[277.0, 249.0, 253.0, 66.0]] * 3)
    shelf = Shelf(np.arange(3), np.array([42.0] * 3), inner, ["a", "b", "c"])
    found = rank(shoes, shelf, WANTED, foot_to_fit(FEET))
    assert next(p.shoe_id for p in found.places) == "turns"
    assert [v.shoe_id for v in found.vetoed] == ["glued"]
    assert next(p for p in found.places if p.shoe_id == "unseen").asks


def test_the_nearest_to_a_shoe_is_its_twin_and_what_differs_is_said() -> None:
    twin = replace(TURNS, id="twin")
    soft = replace(TURNS, id="soft", properties={"cushion": 8.0, "mass_g": 250})
    straps = replace(TURNS, id="straps", choices=TURNS.choices | {"closure": "strap_2"})
    found = sorted((alike(s, TURNS) for s in (soft, straps, twin)), key=lambda f: -nearness(f))
    assert next(f.shoe_id for f in found) == "twin"
    assert found[0].like == 1.0
    assert not found[0].differs
    by_id = {f.shoe_id: f for f in found}
    assert by_id["soft"].differs[0].text.startswith("Cushion: soft, deep foam instead of")
    assert "two straps instead of laces" in by_id["straps"].differs[0].text


def test_a_shoe_hardly_known_stands_between_the_alike_and_the_unlike() -> None:
    """What isn't known counts half: a blank is nearer than what is known to be unlike, and further than a twin."""
    blank = replace(TURNS, id="blank", properties={}, choices={}, features={})
    unlike = replace(
        TURNS, id="unlike", properties={"cushion": 9.5, "mass_g": 600},
        choices={"sole": "lug", "closure": "dial", "upper": "knit"}, features=dict.fromkeys(TURNS.features, False),
    )  # fmt: skip
    near = {s.id: nearness(alike(s, TURNS)) for s in (replace(TURNS, id="twin"), blank, unlike)}
    assert near["twin"] > near["blank"] == 0.5 > near["unlike"]


def test_likeness_is_the_same_from_both_sides_and_unknown_is_not_unlike() -> None:
    assert alike(TURNS, GLUED).like == alike(GLUED, TURNS).like
    blank = replace(TURNS, id="blank", properties={}, choices={}, features={})
    assert alike(blank, TURNS).known == 0
    half = replace(TURNS, id="half", properties={})
    assert alike(half, TURNS).like == 1.0
    assert alike(half, TURNS).known < 1


def test_the_demo_knows_some_and_not_all_of_its_shoes() -> None:
    from random import Random

    shelf = list(models(Random(7)))
    assert {f for m in shelf for f in m["features"]} <= set(FEATURES)
    said = [v for m in shelf for v in m["features"].values()]
    assert 0.2 < sum(said) / len(said) < 0.8
    assert all({"toe_box_mm"} <= set(m["properties"]) for m in shelf)
    assert {n for m in shelf for n in m["properties"]} <= set(PROPERTIES)
