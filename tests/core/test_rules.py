"""The rulebook: order never matters, nothing contradicts itself, every rule does something, and the trade's law."""

from __future__ import annotations

import itertools
import random
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from kalon.core.errors import BadInput
from kalon.core.rules.brief import (
    Brief,
    BriefDraft,
    asked_only,
    check_answers,
    complete,
    still_to_ask,
)
from kalon.core.rules.engine import (
    Band,
    Case,
    Contradiction,
    Limit,
    Move,
    Rank,
    Rule,
    Veto,
    Weigh,
    compute,
)
from kalon.core.rules.football import STUDDED
from kalon.core.rules.scales import CHOICES, PROPERTIES, ROOMS
from kalon.core.rules.spec import RULES, VERSION, SpecIn, check_rulebook, every_plain_brief, fit_target
from kalon.core.rules.spec import spec as spec_call
from kalon.core.rules.words import SPORTS
from tests.core.law import FEET_OF, case_of, holds
from tests.core.page import PAGE, page
from tests.core.rulebook import LAW
from tests.made import FEET, climbing, football, lifting, scores, spec, vetoed

CASE = Case(football())


def rule(id_: str, *effects: Any) -> Rule:
    return Rule(id_, lambda _: True, effects, "Because.", "HD")


def computed(*rules: Rule) -> Any:
    return compute(rules, CASE, "test")


# The engine


def test_bands_move_and_are_limited() -> None:
    found = computed(
        rule("a", Band("drop_mm", 4, 8, 1)),
        rule("b", Move("drop_mm", 2, 2), Weigh("drop_mm", 0.5)),
        rule("c", Limit("drop_mm", most=9)),
    ).properties["drop_mm"]
    assert (found.low, found.high, found.weight) == (5, 9, 1.5)
    assert [r.rule for r in found.reasons] == ["a", "b", "c"]


def test_a_limit_beyond_the_band_pushes_it_and_never_empties_it() -> None:
    up = computed(rule("a", Band("toe_room_mm", -8, -5)), rule("b", Limit("toe_room_mm", least=-3))).fit["toe_room_mm"]
    assert (up.low, up.high) == (-3, 0)
    down = computed(rule("a", Band("drop_mm", 15, 20)), rule("b", Limit("drop_mm", most=4))).properties["drop_mm"]
    assert (down.low, down.high) == (0, 4)


def test_bands_stay_on_their_scale() -> None:
    found = computed(rule("a", Band("drop_mm", -9, 99))).properties["drop_mm"]
    assert (found.low, found.high) == (PROPERTIES["drop_mm"].low, PROPERTIES["drop_mm"].high)


@pytest.mark.parametrize(("low", "high", "inside"), [(900, 1100, 800), (-90, -20, 0)])
def test_a_band_wholly_off_its_scale_lies_at_that_end(low: float, high: float, inside: float) -> None:
    found = computed(rule("a", Band("bend_n_mm_per_deg", low, high))).properties["bend_n_mm_per_deg"]
    assert found.low < found.high
    assert inside in (found.low, found.high)


def test_two_bases_are_a_contradiction() -> None:
    with pytest.raises(Contradiction, match="drop_mm"):
        computed(rule("a", Band("drop_mm", 0, 1)), rule("b", Band("drop_mm", 2, 3)))


def test_scores_add_and_vetoes_take_out() -> None:
    found = computed(
        rule("a", Rank("plate", "turf", 1), Rank("plate", "indoor", 0.5)),
        rule("b", Rank("plate", "indoor", 0.2), Rank("plate", "hard_ground", 2)),
        rule("c", Veto("plate", "hard_ground")),
    )
    assert scores(found, "plate") == {"turf": 1, "indoor": 0.7}
    assert vetoed(found, "plate") == {"hard_ground"}


def test_when_everything_is_ruled_out_it_says_what_to_do() -> None:
    found = computed(rule("a", Rank("plate", "turf", 1)), rule("b", Veto("plate", "turf")))
    assert "plate" not in found.choices
    caution = found.cautions[0]
    assert caution.must_acknowledge
    assert "ruled out" in caution.text


def test_a_move_without_a_base_says_nothing() -> None:
    assert computed(rule("a", Move("drop_mm", 1, 1))).properties == {}


@pytest.mark.parametrize("sport", list(RULES))
def test_order_of_rules_does_not_matter(sport: Any) -> None:
    rules = list(RULES[sport])
    shuffled = random.Random(3)
    for brief in itertools.islice(every_plain_brief(sport), 40):
        case = Case(brief.model_copy(update={"history": ["knee", "heel_pain"]}), FEET)
        first = compute(rules, case, VERSION)
        shuffled.shuffle(rules)
        assert compute(rules, case, VERSION) == first


# The rulebook


def test_the_rulebook_is_sound() -> None:
    assert check_rulebook() > 200


def test_ids_marks_texts_and_names() -> None:
    for sport, rules in RULES.items():
        for found in rules:
            assert found.id.split(".")[0] in (sport, "caution", "feet", "growing")
            assert found.mark in ("CP", "PUB", "MEM", "HD")
        for brief in every_plain_brief(sport):
            for found in rules:
                case = Case(brief)
                if not found.when(case):
                    continue
                assert found.reason(case).text.endswith("."), found.id
                for effect in found.effects(case):
                    if isinstance(effect, Band | Move | Limit | Weigh):
                        counts = CHOICES if isinstance(effect, Weigh) else ()
                        assert effect.name in (*PROPERTIES, *ROOMS, *counts)
                    if isinstance(effect, Rank | Veto):
                        assert effect.value in CHOICES[effect.choice]


def test_a_school_on_a_rule_is_one_the_sport_knows() -> None:
    for sport, rules in RULES.items():
        known = {s.slug for s in SPORTS[sport].schools}
        assert {r.school for r in rules if r.school} <= known


ODD_FEET = FEET_OF["odd"]


@pytest.mark.parametrize("id_", list(LAW))
def test_the_law(id_: str) -> None:
    """With the rule, the spec says what the table says; without it, it says none of that."""
    line, said = LAW[id_]
    case = case_of(line)
    rules = RULES[case.brief.sport]
    found = compute(rules, case, VERSION)
    bare = compute([r for r in rules if r.id != id_], case, VERSION)
    for what in said:
        assert holds(what, found, id_), f"{id_}: {what}"
        assert not holds(what, bare, id_), f"{id_} changes nothing: {what}"


def test_every_rule_stands_in_the_law_table() -> None:
    ids = {r.id for rules in RULES.values() for r in rules}
    assert ids == set(LAW)
    assert len(ids) >= 160


def test_the_page_of_rules_is_current() -> None:
    """`python -m tests.core.page` writes it."""
    assert PAGE.read_text() == page(), "docs/rules.md is out of date"


# Football


@pytest.mark.parametrize(
    ("surface", "best"),
    [
        ("soft_natural", "soft_ground"),
        ("firm_natural", "firm_ground_round"),
        ("hard_natural", "hard_ground"),
        ("artificial_grass", "artificial_grass"),
        ("carpet_turf", "turf"),
        ("indoor_hall", "indoor"),
    ],
)
def test_the_ground_chooses_the_plate(surface: str, best: str) -> None:
    found = spec(football(surface=surface))
    assert found.choices["plate"][0].value == best
    assert found.choices["plate"][0].score == 1


@pytest.mark.parametrize("surface", ["artificial_grass", "carpet_turf", "indoor_hall", "hard_natural"])
def test_long_studs_stay_on_soft_natural_ground(surface: str) -> None:
    assert "soft_ground" in vetoed(spec(football(surface=surface)), "plate")


def test_no_studs_in_a_hall() -> None:
    assert vetoed(spec(football(surface="indoor_hall")), "plate") == set(STUDDED)


@pytest.mark.parametrize("surface", ["soft_natural", "firm_natural", "hard_natural", "artificial_grass"])
@pytest.mark.parametrize("discipline", ["match", "training", "casual"])
def test_any_knee_history_means_no_blades(surface: str, discipline: str) -> None:
    found = spec(football(surface=surface, discipline=discipline, history=["knee"]))
    assert "firm_ground_blade" in vetoed(found, "plate")
    assert any("knee" in v.text.lower() for v in found.vetoes)


@pytest.mark.parametrize(
    ("school", "discipline", "wet", "out"),
    [
        (None, "match", False, True),
        (None, "casual", False, False),
        ("never", "casual", False, True),
        ("fine_when_dry", "match", False, False),
        ("fine_when_dry", "match", True, True),
    ],
)
def test_schools_differ_about_turf_on_artificial_grass(
    school: str | None, discipline: str, wet: bool, out: bool
) -> None:
    schools = {"turf_on_artificial": school} if school else {}
    brief = football(surface="artificial_grass", discipline=discipline, wet=wet, schools=schools)
    assert ("turf" in vetoed(spec(brief), "plate")) == out


def test_sore_backs_get_nubs_on_hard_ground() -> None:
    plain = scores(spec(football(surface="hard_natural")), "plate")
    sore = scores(spec(football(surface="hard_natural", history=["back"])), "plate")
    assert sore["turf"] > plain["turf"]


def test_wetter_firm_grass_brings_longer_studs() -> None:
    dry = scores(spec(football()), "plate")
    wet = scores(spec(football(wet=True)), "plate")
    assert wet["soft_ground"] > dry.get("soft_ground", 0)


def test_leather_is_sized_closer_than_synthetic_and_judged_new() -> None:
    found = spec(football())
    leather, synthetic = fit_target(found, "leather_unlined"), fit_target(found, "synthetic")
    assert leather.length.high <= synthetic.length.low
    assert leather.length_when_new
    assert not synthetic.length_when_new


def test_the_size_schools_differ() -> None:
    half = spec(football()).fit["toe_room_mm"]
    street = spec(football(schools={"football_size": "street_with_room"})).fit["toe_room_mm"]
    assert street.low > half.low


def test_bunions_want_leather_and_odd_feet_laces() -> None:
    plain, odd = spec(football(), FEET), spec(football(), ODD_FEET)
    assert scores(odd, "upper")["leather_unlined"] > scores(plain, "upper")["leather_unlined"]
    assert "laceless" in vetoed(odd, "closure")


def test_heel_pain_wants_cushion() -> None:
    band = "cushion"
    assert spec(football(history=["heel_pain"])).properties[band].high > spec(football()).properties[band].high


# Climbing

STEEPER = [("sandstone_slab", "technical_edging"), ("technical_edging", "outdoor_boulder"), ("trad", "steep_sport")]


@pytest.mark.parametrize(("flatter", "steeper"), STEEPER)
def test_downturn_follows_the_terrain(flatter: str, steeper: str) -> None:
    low, high = (spec(climbing(d)).properties["downturn_deg"] for d in (flatter, steeper))
    assert high.high > low.high


@pytest.mark.parametrize("level", ["new", "club", "competitive"])
def test_downturn_never_follows_the_grade(level: str) -> None:
    for d in ("steep_sport", "trad"):
        found = spec(climbing(d, level=level)).properties["downturn_deg"]
        assert found == spec(climbing(d)).properties["downturn_deg"]


@pytest.mark.parametrize("discipline", ["first_shoe", "trad", "multi_pitch", "mileage"])
def test_first_and_all_day_shoes_are_flat_and_not_tight(discipline: str) -> None:
    found = spec(climbing(discipline))
    assert found.properties["downturn_deg"].high <= 6
    assert found.fit["toe_room_mm"].low >= -3


@pytest.mark.parametrize("discipline", [d.value for d in SPORTS["climbing"].disciplines])
@given(kg=st.floats(35, 110), more=st.floats(1, 40))
@settings(max_examples=15)
def test_heavier_is_never_softer(discipline: str, kg: float, more: float) -> None:
    light = spec(climbing(discipline, body_kg=kg)).properties["bend_n_mm_per_deg"]
    heavy = spec(climbing(discipline, body_kg=kg + more)).properties["bend_n_mm_per_deg"]
    assert heavy.low >= light.low
    assert heavy.high >= light.high


def test_longer_stands_on_trad_want_it_stiffer() -> None:
    short, long = (spec(climbing("trad", stance_min=m)).properties["bend_n_mm_per_deg"].low for m in (0.5, 10))
    assert long > short


def test_small_edges_are_stiffer_than_smears() -> None:
    edges, smears = (spec(climbing(d)).properties["bend_n_mm_per_deg"] for d in ("technical_edging", "sandstone_slab"))
    assert edges.low > smears.high


@pytest.mark.parametrize("complaint", ["numbness", "diabetes", "surgery"])
@pytest.mark.parametrize("school", ["wearable_snug", "performance_tight"])
def test_never_numb(complaint: str, school: str) -> None:
    found = spec(climbing("steep_sport", history=[complaint], schools={"climbing_fit": school}))
    assert found.fit["toe_room_mm"].low >= -3
    assert any(c.must_acknowledge and c.about == "history" for c in found.cautions)


def test_the_tight_school_is_tighter_and_must_be_acknowledged() -> None:
    snug = spec(climbing("steep_sport"))
    tight = spec(climbing("steep_sport", schools={"climbing_fit": "performance_tight"}))
    assert tight.fit["toe_room_mm"].low < snug.fit["toe_room_mm"].low
    assert tight.fit["toe_room_mm"].low >= -12
    assert any(c.must_acknowledge for c in tight.cautions)
    assert not any(c.must_acknowledge for c in snug.cautions)


def test_boulderers_choose_between_speed_and_heel() -> None:
    fast = spec(climbing("indoor_boulder")).choices["closure"][0].value
    laced = spec(climbing("indoor_boulder", schools={"boulder_closure": "laces"})).choices["closure"][0].value
    assert (fast, laced) == ("strap_1", "laces")


def test_weak_feet_want_a_full_midsole() -> None:
    weak, strong = (scores(spec(climbing("gritstone", toe_strength=t)), "midsole") for t in ("weak", "strong"))
    assert weak["full"] == 1
    assert weak["split"] < strong["split"]


# Lifting


@given(ankle=st.floats(12, 40), more=st.floats(0.5, 10))
@settings(max_examples=40)
def test_a_stiffer_ankle_never_wants_less_heel(ankle: float, more: float) -> None:
    """As long as any heel sold reaches the wanted lean; beyond that it is 18 to 22 mm, and work on the ankle."""
    stiff, free = (spec(lifting(dorsiflexion_deg=a)) for a in (ankle, min(ankle + more, 60)))
    beyond = any(c.rule == "lifting.ankle_work" for c in stiff.cautions)
    if beyond:
        assert (stiff.properties["drop_mm"].low, stiff.properties["drop_mm"].high) == (18, 22)
    else:
        assert stiff.properties["drop_mm"].low >= free.properties["drop_mm"].low


def test_deadlifts_are_flat_whatever_the_ankle() -> None:
    for ankle in (10, 40):
        assert spec(lifting("deadlift", dorsiflexion_deg=ankle)).properties["drop_mm"].high <= 2


def test_weightlifting_shoes_are_raised_and_rigid() -> None:
    found = spec(lifting("olympic"))
    assert found.properties["drop_mm"].low >= 13
    assert (
        found.properties["bend_n_mm_per_deg"].low > spec(lifting("mixed_training")).properties["bend_n_mm_per_deg"].high
    )


def test_mixed_training_is_about_four() -> None:
    band = spec(lifting("mixed_training")).properties["drop_mm"]
    assert band.low <= 4 <= band.high


@pytest.mark.parametrize("discipline", ["olympic", "powerlifting_squat", "deadlift", "general_strength", "machines"])
def test_nothing_soft_under_load(discipline: str) -> None:
    assert spec(lifting(discipline)).properties["cushion"].high <= 2


@pytest.mark.parametrize(("side", "low", "high"), [("flat", 0, 3), ("raised", 15, 22)])
def test_heel_schools_override_the_computation_and_say_so(side: str, low: float, high: float) -> None:
    band = spec(lifting(schools={"squat_heel": side})).properties["drop_mm"]
    assert (band.low, band.high) == (low, high)
    assert any(side in r.text for r in band.reasons)


def test_guessed_limbs_are_said() -> None:
    brief = Brief(sport="lifting", discipline="powerlifting_squat", body_kg=80)
    text = spec(brief).properties["drop_mm"].reasons[0].text
    assert "height and ankle not measured" in text
    assert "not measured" not in spec(lifting()).properties["drop_mm"].reasons[0].text


def test_running_often_is_told_to_run_in_running_shoes() -> None:
    often = spec(lifting("gym_running", sessions_per_week=4)).cautions
    seldom = spec(lifting("gym_running", sessions_per_week=2)).cautions
    assert any("running shoe" in c.text for c in often)
    assert not any("running shoe" in c.text for c in seldom)


# The brief


def test_knee_to_wall_gives_the_ankle() -> None:
    by_wall = Brief(sport="lifting", discipline="machines", body_kg=80, knee_to_wall_cm=10)
    assert by_wall.ankle_deg == pytest.approx(36)
    both = by_wall.model_copy(update={"dorsiflexion_deg": 20.0})
    assert both.ankle_deg == 20


def test_what_is_still_to_ask() -> None:
    assert still_to_ask(BriefDraft()) == ["sport"]
    assert still_to_ask(BriefDraft(sport="football")) == ["discipline", "body_kg", "surface"]
    assert still_to_ask(BriefDraft(sport="climbing", discipline="trad", body_kg=60)) == []
    with pytest.raises(BadInput, match="still needs: ground\\."):
        complete(BriefDraft(sport="football", discipline="match", body_kg=70))


def test_a_discipline_of_another_sport_is_asked_again_not_a_dead_end() -> None:
    left = BriefDraft(
        sport="climbing", discipline="match", body_kg=60, also=[{"discipline": "casual", "share_pct": 20}]
    )
    assert still_to_ask(left) == ["discipline"]
    check_answers(left, {"sport"})
    with pytest.raises(BadInput, match="No climbing discipline is called match") as refused:
        check_answers(left, {"discipline"})
    assert refused.value.fields[0].field == "discipline"
    with pytest.raises(BadInput, match="casual"):
        check_answers(left, {"also"})


def test_a_school_is_checked_when_it_is_taken_and_let_be_when_it_was_left_behind() -> None:
    schools = {"football_size": "half_under", "climbing_fit": "wearable_snug"}
    draft = BriefDraft(sport="climbing", schools=schools)
    check_answers(draft, {"schools/climbing_fit"})
    with pytest.raises(BadInput, match="No climbing school is called football_size"):
        check_answers(draft, {"schools/football_size"})
    with pytest.raises(BadInput, match="football_size"):
        check_answers(draft, {"schools"})


def test_schools_of_another_sport_are_left_behind() -> None:
    draft = BriefDraft(
        sport="climbing",
        discipline="trad",
        body_kg=60,
        schools={"football_size": "half_under", "climbing_fit": "wearable_snug"},
    )
    assert asked_only(draft).schools == {"climbing_fit": "wearable_snug"}
    assert complete(draft).schools == {"climbing_fit": "wearable_snug"}


@pytest.mark.parametrize(
    ("values", "field", "said"),
    [
        ({"discipline": "ballet"}, "discipline", "match, training, casual"),
        ({"surface": None}, "surface", "soft_natural, firm_natural"),
        ({"surface": "moon"}, "surface", "'carpet_turf'"),
        ({"also": [{"discipline": "chess", "share_pct": 20}]}, "also.0.discipline", "casual"),
        ({"also": [{"discipline": "casual", "share_pct": 2}]}, "also.0.share_pct", "at least 5"),
        ({"schools": {"squat_heel": "flat"}}, "schools.squat_heel", "football_size"),
        ({"schools": {"football_size": "huge"}}, "schools.football_size", "half_under"),
        ({"history": ["elbow"]}, "history.0", "knee"),
        ({"body_kg": 4}, "body_kg", "at least 15 kg"),
        ({"level": "pro"}, "level", "competitive"),
        ({"sport": "field", "discipline": "cricket", "wicket": "grass"}, "role", "pace_bowler"),
        ({"house": {"numbers": {"studs.torque_low": 55}}}, "house", "must be below"),
    ],
)
def test_a_wrong_answer_names_the_field_and_what_is_allowed(values: dict[str, Any], field: str, said: str) -> None:
    body = {"sport": "football", "discipline": "match", "surface": "firm_natural", "body_kg": 75} | values
    with pytest.raises(BadInput) as caught:
        read_spec(body)
    told = {f.field: f.text for f in caught.value.fields}
    assert said in told[field]


def read_spec(body: dict[str, Any]) -> Any:
    from kalon.core.errors import read

    return spec_call(read(SpecIn, body))


def test_every_question_is_a_field_of_the_brief() -> None:
    for words in SPORTS.values():
        known = {d.value for d in words.disciplines}
        for ask in words.asks:
            assert ask.field in BriefDraft.model_fields
            assert set(ask.disciplines) <= known
            for option in ask.options:
                BriefDraft.model_validate({ask.field: [option.value] if ask.kind == "many" else option.value})


def test_every_question_has_a_short_name_of_its_own_in_its_sport() -> None:
    for words in SPORTS.values():
        short = [a.short for a in words.asks]
        assert all(0 < len(s) <= 14 for s in short)
        assert len(set(short)) == len(short)
