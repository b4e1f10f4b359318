"""One pair for several disciplines, weights by hand, the house's numbers, schools, and the present shoe."""

from __future__ import annotations

from decimal import Decimal

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from pydantic import ValidationError

from kalon.core.errors import BadInput, read
from kalon.core.house import DEFAULTS, GROUPS, House, Tax, TaxBand, group, tax_on
from kalon.core.learn.worn import RIGHT_MM
from kalon.core.money import Money
from kalon.core.rules.aloud import hand_word
from kalon.core.rules.bench import mechanics
from kalon.core.rules.changes import changes
from kalon.core.rules.engine import Case
from kalon.core.rules.hand import HandWeight
from kalon.core.rules.present import PresentShoe, lies
from kalon.core.rules.scales import PROPERTIES, scale
from kalon.core.rules.spec import SpecIn, check_house, schools_say, spec_for
from kalon.core.rules.spec import spec as spec_call
from kalon.core.rules.words import SPORTS, Sport
from kalon.core.shoes.hand_tests import tests_for as by_hand
from kalon.core.shoes.hands import HANDS, OF_SPORT, feels_of
from kalon.core.sizes import STREET_ROOM_MM, SizeConvertIn, size_convert
from tests.made import FEET, climbing, court, cricket, cycling, football, lifting, skating, spec, vetoed

# Several disciplines


def both(share: float, second: str = "trad") -> dict[str, object]:
    return {"also": [{"discipline": second, "share_pct": share}]}


def test_near_bands_meet_by_share_of_time() -> None:
    plain = spec(climbing("indoor_general")).properties["downturn_deg"]
    trad = spec(climbing("trad")).properties["downturn_deg"]
    found = spec(climbing("indoor_general", **both(50))).properties["downturn_deg"]
    assert found.high == pytest.approx((plain.high + trad.high) / 2, abs=0.5)
    assert {r.rule for r in found.reasons} == {"climbing.terrain.indoor_general", "climbing.terrain.trad"}


@given(a=st.floats(5, 90), b=st.floats(5, 90))
@settings(max_examples=30, deadline=None)
def test_a_larger_share_pulls_further(a: float, b: float) -> None:
    low, high = sorted((a, b))
    less, more = (spec(climbing("indoor_general", **both(s))).properties["bend_n_mm_per_deg"] for s in (low, high))
    assert more.low >= less.low


def test_what_pulls_apart_follows_the_larger_share_and_says_two_pairs() -> None:
    found = spec(lifting("olympic", **both(40, "deadlift")))
    assert found.properties["drop_mm"].low >= 13
    assert spec(lifting("olympic", **both(60, "deadlift"))).properties["drop_mm"].high <= 2
    caution = next(c for c in found.cautions if c.rule == "engine.pulls_apart")
    assert caution.must_acknowledge
    assert "two pairs" in caution.text


def test_every_veto_of_any_of_them_holds() -> None:
    found = spec(football(also=[{"discipline": "training", "share_pct": 30, "surface": "artificial_grass"}]))
    assert "soft_ground" in vetoed(found, "plate")
    assert any(c.rule == "football.same_last" for c in found.cautions)


def test_when_nothing_serves_all_it_says_so() -> None:
    brief = cricket("pace_bowler", "grass", also=[{"discipline": "cricket", "share_pct": 40, "wicket": "sports_hall"}])
    found = spec(brief)
    assert {"spikes_full", "spikes_half", "pimpled"} <= vetoed(found, "sole")
    assert any(c.rule.startswith("engine.") and c.must_acknowledge for c in found.cautions)


def test_shares_leave_time_for_the_first() -> None:
    with pytest.raises(ValidationError, match="95"):
        climbing("trad", also=[{"discipline": "board", "share_pct": 60}, {"discipline": "mileage", "share_pct": 40}])
    with pytest.raises(ValidationError, match="first_shoe"):
        climbing("trad", also=[{"discipline": "ballet", "share_pct": 60}])


# Weights by hand


def test_a_weight_moves_with_its_reason_and_remembers_what_it_was() -> None:
    plain = spec(court())
    moved = spec_for(court(), weights={"mass_g": HandWeight(to=1.5, why="she asked for light")})
    band = moved.properties["mass_g"]
    assert (band.weight, band.low) == (1.5, plain.properties["mass_g"].low)
    assert band.by_hand is not None
    assert (band.by_hand.computed, band.by_hand.why) == (plain.properties["mass_g"].weight, "she asked for light")


def test_what_a_limit_or_veto_holds_goes_only_up() -> None:
    sore = football(history=["ankle", "knee"])
    down, up = (HandWeight(to=t, why="wish") for t in (0, 3))
    low = spec_for(sore, weights={"twist_n_mm_per_deg": down, "plate": down, "cushion": down})
    plain = spec(sore)
    assert low.properties["twist_n_mm_per_deg"].weight == plain.properties["twist_n_mm_per_deg"].weight
    assert low.choice_weights["plate"].weight == plain.choice_weights["plate"].weight
    kept = low.choice_weights["plate"].by_hand
    assert kept is not None
    assert kept.kept is not None
    assert low.properties["cushion"].weight == 0
    assert spec_for(sore, weights={"plate": up}).choice_weights["plate"].weight == 3
    assert low.vetoes == plain.vetoes


def test_a_weight_needs_a_reason() -> None:
    with pytest.raises(ValidationError):
        HandWeight(to=1, why="")


# The house


def test_house_numbers_change_specs_and_only_theirs() -> None:
    house = House(version=4, numbers={"room.football_synthetic.low": 9, "climbing.smear_limit": 150})
    found = spec_for(football(), house=house)
    assert found.fit["toe_room_mm"].low == 9
    assert found.house_version == 4
    assert found.properties == spec(football()).properties
    slab = climbing("sandstone_slab")
    assert (
        spec_for(slab, house=house).properties["bend_n_mm_per_deg"].high
        > spec(slab).properties["bend_n_mm_per_deg"].high
    )


@pytest.mark.parametrize("slug", list(DEFAULTS))
def test_every_house_number_lies_in_its_range_and_is_said(slug: str) -> None:
    found = DEFAULTS[slug]
    assert found.low <= found.value <= found.high
    assert found.text
    assert found.mark in ("CP", "PUB", "MEM", "HD")
    assert House()[slug] == found.value
    assert group(slug) in GROUPS.values()


@pytest.mark.parametrize("slug", list(DEFAULTS))
def test_every_house_number_lies_on_the_scale_it_is_moved_on(slug: str) -> None:
    """By exact tenths and hundredths: a slider that can't stand at a number stands at another."""
    found = DEFAULTS[slug]
    low, value, high, step = (Decimal(str(n)) for n in (found.low, found.value, found.high, found.step))
    assert (value - low) % step == 0
    assert (high - low) % step == 0
    assert (high - low) / step >= 20


MOVES = {
    "squat.lean_high": (lifting(dorsiflexion_deg=28), 30), "squat.olympic_least": (lifting("olympic"), 22),
    "football.heavy_kg": (football(), 70), "pedal.offset_mm": (cycling("road_race", power_w=900), 25),
    "pedal.loss_most_w": (cycling("road_race", power_w=900), 0.5), "court.flare_low": (court(), 1.05),
    "court.flare_high": (court(), 1.18), "ice.boot_per_kg": (skating(), 8), "toes.average": (climbing("trad"), 0.2),
    "climbing.sag_deg": (climbing("trad"), 30), "climbing.one_foot_share": (climbing("trad"), 0.9),
    "climbing.stiffness_span": (climbing("trad"), 0.4), "studs.torque_high": (football(surface="artificial_grass"), 30.5),
    "studs.pressure_most": (football(surface="hard_natural"), 400), "room.ice.high": (skating(), 8),
}  # fmt: skip


@pytest.mark.parametrize("slug", list(MOVES))
def test_a_changed_house_number_is_felt(slug: str) -> None:
    brief, value = MOVES[slug]
    assert changes(spec(brief), spec_for(brief, house=House(numbers={slug: value}))) or slug.startswith("studs")
    if slug.startswith("studs"):
        was, now = (spec_for(brief, house=h).choices["plate"] for h in (House(), House(numbers={slug: value})))
        assert [c.score for c in was] != [c.score for c in now]


@pytest.mark.parametrize(
    ("values", "said"),
    [
        ({"numbers": {"nonsense": 1}}, "nonsense"),
        ({"numbers": {"climbing.sag_deg": 400}}, "outside 5 to 40"),
        ({"numbers": {"room.court.low": 13}}, "below"),
        ({"tax": {"bands": [{"up_to": 6.5, "rate_pct": 0}]}}, "open"),
        ({"tax": {"bands": [{"up_to": 8, "rate_pct": 0}, {"up_to": 6, "rate_pct": 5}, {"rate_pct": 20}]}}, "small"),
    ],
)
def test_a_house_that_makes_no_sense_is_refused(values: dict[str, object], said: str) -> None:
    with pytest.raises(BadInput) as caught:
        read(House, values)
    assert said in caught.value.text


def test_house_schools_hold_until_the_athlete_says_otherwise() -> None:
    house = House(schools={"squat_heel": "flat"})
    brief = lifting(dorsiflexion_deg=25)
    assert spec_for(brief, house=house).properties["drop_mm"].high == 3
    own = brief.model_copy(update={"schools": {"squat_heel": "raised"}})
    assert spec_for(own, house=house).properties["drop_mm"].low == 15
    check_house(house)
    for wrong in ({"nope": "flat"}, {"squat_heel": "sideways"}):
        with pytest.raises(ValueError, match="no"):
            check_house(House(schools=wrong))


def test_tax_goes_by_size() -> None:
    """The bands are made up; that sizes may be taxed apart is common practice, no source."""
    policy = Tax(system="uk", bands=[TaxBand(up_to=6.5, rate_pct=0), TaxBand(rate_pct=20)])

    def at(last: float, included: bool) -> tuple[int, int]:
        label = size_convert(SizeConvertIn(last_mm=last)).labels["eu"]
        found = tax_on(policy.model_copy(update={"price_includes": included}), Money(12000, "EUR"), "eu", label)
        assert found is not None
        return found.tax_minor, found.total_minor

    small, large = 255.0, 290.0
    assert at(small, True) == (0, 12000)
    assert at(large, True) == (2000, 12000)
    assert at(large, False) == (2400, 14400)
    assert tax_on(Tax(), Money(12000, "EUR"), "eu", 43.5) is None


# Schools


@pytest.mark.parametrize("sport", list(SPORTS))
def test_schools_not_taken_say_what_they_would(sport: str) -> None:
    brief = {"football": football(), "climbing": climbing("indoor_boulder"), "lifting": lifting(),
             "cycling": cycling(), "court": court(), "field": cricket("batter"), "ice": skating()}[sport]  # fmt: skip
    said = schools_say(Case(brief, FEET, House()), spec_for(brief, FEET))
    for one in said:
        assert one.moves
        other = brief.model_copy(update={"schools": {one.school: one.side}})
        assert changes(spec_for(brief, FEET), spec_for(other, FEET))[: len(one.moves)] == one.moves
    silent = {"ice"}
    assert bool(said) == (sport not in silent)


def test_the_call_carries_the_schools() -> None:
    found = spec_call(read(SpecIn, lifting().model_dump(mode="json", exclude_defaults=True)))
    assert {s.side for s in found.schools} == {"flat", "raised"}


# Changes


def test_changes_are_said_in_words_and_nothing_is_nothing() -> None:
    dry, knee = spec(football()), spec(football(history=["knee"]))
    assert changes(dry, dry) == []
    assert "Firm ground, blades is out" in changes(dry, knee)
    assert "Firm ground, blades is in again" in changes(knee, dry)
    heavy = changes(dry, spec(football(body_kg=95)))
    assert any(line.startswith("Stiffness in bending: 140 to 320 becomes 180 to 380 N·mm/°") for line in heavy)


# The present shoe


def test_hand_tests_lie_on_the_scales() -> None:
    for hand in HANDS:
        on = PROPERTIES[hand.tells]
        for feel, after in zip(hand.feels, hand.feels[1:], strict=False):
            assert on.low <= feel.low < feel.value < feel.high == after.low < after.high <= on.high
    found = lies(PresentShoe(fold="in_half", drop_mm=9), "football")
    assert found["bend_n_mm_per_deg"].value < 120
    assert found["drop_mm"].value == 9
    assert (
        lies(PresentShoe(fold="in_half", model={"bend_n_mm_per_deg": 300}), "football")[
            "bend_n_mm_per_deg"
        ].give_or_take
        == 0
    )
    assert lies(PresentShoe(), "football") == {}


def test_hand_tests_go_with_the_sport_of_the_shoe() -> None:
    """A race cycling shoe that hardly folds is several times as stiff as a boot that hardly folds."""
    hardly = PresentShoe(fold="hardly")
    boot, race = (lies(hardly, sport)["bend_n_mm_per_deg"] for sport in ("football", "cycling"))
    assert race.value - race.give_or_take > boot.value + boot.give_or_take
    street = lies(PresentShoe(kind="street", fold="hardly"), "cycling")["bend_n_mm_per_deg"]
    assert street == boot
    for sport, name in OF_SPORT:
        hand = next(h for h in HANDS if h.tells == name)
        for feel, after in zip(feels_of(hand, sport), feels_of(hand, sport)[1:], strict=False):
            assert scale(name, sport).low <= feel.low < feel.high == after.low < after.high <= scale(name, sport).high


@pytest.mark.parametrize("sport", list(SPORTS))
def test_bench_brief_and_sentence_mean_the_same_by_a_finding(sport: Sport) -> None:
    """A sole that "hardly bends" was 520, 3,500 or another; now what the bench keeps, what the brief draws and what is
    said of that number are one."""
    at_bench = {t.slug: t for t in by_hand(sport)}
    for hand in HANDS:
        for feel in feels_of(hand, sport):
            assert hand_word(hand.tells, feel.value, feel.value, sport) == feel.said
            if hand.brief:
                seen = lies(PresentShoe.model_validate({hand.brief: feel.slug}), sport)[hand.tells]
                assert (seen.value, seen.give_or_take) == (feel.value, feel.give_or_take)
            if hand.bench in at_bench:
                kept = next(f.value for f in at_bench[hand.bench].findings if f.slug == feel.at_bench)
                assert kept == feel.value


def test_a_flop_tells_of_the_shank_alone_and_street_room_is_one_number() -> None:
    assert next(t for t in by_hand("football") if t.slug == "flop").tells == "shank"
    assert "flop" not in {h.bench for h in HANDS}
    assert sum(RIGHT_MM["street"]) / 2 == STREET_ROOM_MM


# Mechanics as the station draws them


def test_each_sport_draws_its_own_mechanics() -> None:
    drawn = {
        "lifter": lifting(), "on_edge": climbing("trad"), "on_ground": football(), "rider": cycling(),
        "from_behind": court(),
    }  # fmt: skip
    for name, brief in drawn.items():
        found = mechanics(Case(brief, FEET), spec_for(brief, FEET)).model_dump()
        assert [n for n, v in found.items() if v is not None] == [name]
    assert not any(mechanics(Case(skating()), spec(skating())).model_dump().values())


def test_drawings_show_the_numbers_the_rules_used() -> None:
    brief = climbing("trad")
    found = mechanics(Case(brief), spec(brief)).on_edge
    assert found is not None
    band = spec(brief).properties["bend_n_mm_per_deg"]
    assert band.low < found.wanted < band.high
    squat = mechanics(Case(lifting()), spec(lifting())).lifter
    assert squat is not None
    assert squat.found.trunk_lean_deg is not None
    assert squat.flat.trunk_lean_deg is not None
    assert squat.found.trunk_lean_deg < squat.flat.trunk_lean_deg
    rider = mechanics(Case(cycling()), spec(cycling())).rider
    assert rider is not None
    assert rider.soft.loss_w > rider.stiff.loss_w
