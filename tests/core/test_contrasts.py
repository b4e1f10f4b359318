"""What the trade says, with and without: one thing is changed, and what follows from it comes, and does not without.

The briefs and the words looked for are a fitter's; numbers are house defaults unless a line names its source.
"""

from __future__ import annotations

from datetime import date, timedelta
from typing import Any

import pytest

from kalon.core.calc import call
from kalon.core.care.again import AgainIn, FootThen, again
from kalon.core.care.breakin import BreakInIn, breakin
from kalon.core.care.followup import FollowUpIn, ZonePrediction, follow_up
from kalon.core.care.seen import WearSeenIn, wear_seen
from kalon.core.errors import BadInput
from kalon.core.feet.gauge import Feet, read_feet
from kalon.core.fit.foot import foot_to_fit
from kalon.core.fit.helps import helps_for, odd_feet
from kalon.core.fit.trial import TESTS, PairTrial, advise
from kalon.core.match.judged import vetoes_of
from kalon.core.match.shelf import Shoe
from kalon.core.match.substitutes import as_for
from kalon.core.mechanics.edge import smear_limit, stiffness_class
from kalon.core.mechanics.sideways import cushion_wanted, floor_word
from kalon.core.rules.aloud import hand_words, sentence
from kalon.core.rules.brief import Brief
from kalon.core.rules.engine import Spec
from kalon.core.rules.spec import fit_target, spec_for
from kalon.core.rules.words import SPORTS
from kalon.core.sheets import labels, words
from kalon.core.shoes.inner import width_step_mm
from kalon.core.sizes import SizeConvertIn, last_of, printed, size_convert
from tests.made import FEET, climbing, court, cricket, cycling, foot, football, lifting, scores, skating, vetoed


def texts(found: Spec, rule: str) -> str:
    """Everything a rule says in a spec."""
    bands = (*found.properties.values(), *found.fit.values(), *found.features.values())
    choices = (c for ranked in found.choices.values() for c in ranked)
    said = {r.text for b in (*bands, *choices) for r in b.reasons if r.rule == rule}
    return " ".join(sorted(said | {c.text for c in found.cautions if c.rule == rule}))


def middle(found: Spec, name: str) -> float:
    band = found.properties[name]
    return (band.low + band.high) / 2


# Feet


@pytest.mark.parametrize(
    ("measure", "mm", "said"),
    [("instep_girth_mm", 260.0, "round the instep"), ("heel_width_mm", 70.0, "heel is 4.0 mm wider")],
)
def test_halves_that_differ_at_heel_or_instep_get_a_remedy(measure: str, mm: float, said: str) -> None:
    odd = Feet(left=foot(**{measure: mm}), right=foot())
    assert any(said in r for r in read_feet(odd).remedies)
    assert not read_feet(Feet(left=foot(), right=foot())).remedies
    assert scores(spec_for(football(), odd), "closure").get("laceless") is None
    assert scores(spec_for(football(), FEET), "closure").get("laceless") is not None


def test_no_insole_is_advised_where_none_fits() -> None:
    """A climbing shoe has none; a court shoe takes one."""
    thin = Feet(left=foot(ball_width_mm=95), right=foot(ball_width_mm=95))
    assert "no insole goes in" in texts(spec_for(climbing(), thin), "feet.long_thin")
    assert "takes up the volume" in texts(spec_for(court(), thin), "feet.long_thin")
    slack = PairTrial(slide="always")
    assert any("insole" in h.text for h in helps_for(slack, "court", True, 8.0))
    assert not any("insole" in h.text for h in helps_for(slack, "climbing", True, 8.0))
    odd = foot_to_fit(Feet(left=foot(length_mm=271), right=foot()))
    on_court, on_rock = odd_feet(odd, None, "court"), odd_feet(odd, None, "climbing")
    assert on_court and on_rock
    assert "insole" in on_court.text
    assert "insole" not in on_rock.text
    seen = {
        "predicted": [ZonePrediction(zone="ball_girth", new_mm=0, settled_mm=2, sigma_mm=2, low_mm=-7, high_mm=4)],
        "tau_h": 5, "hours": 20, "seen_mm": {"ball_girth": 9.0},
    }  # fmt: skip
    assert "insole" in follow_up(FollowUpIn.model_validate(seen | {"sport": "court"})).advice[0]
    assert "insole" not in follow_up(FollowUpIn.model_validate(seen | {"sport": "climbing"})).advice[0]


def test_a_narrow_heel_raises_straps_as_well_as_laces() -> None:
    """ "Laces or a strap: tension where wanted"; common practice, no source."""
    narrow = Feet(left=foot(heel_width_mm=60), right=foot(heel_width_mm=60))
    with_, without = (scores(spec_for(climbing(), f), "closure") for f in (narrow, FEET))
    assert with_["strap_2"] / with_["slipper"] > without["strap_2"] / without["slipper"]
    assert with_["strap_1"] / with_["slipper"] > without["strap_1"] / without["slipper"]


def test_a_high_arch_under_a_bar_gets_no_foam() -> None:
    high = Feet(left=foot(arch="high"), right=foot(arch="high"))
    loaded, running = lifting("deadlift"), lifting("gym_running")
    assert middle(spec_for(loaded, high), "cushion") == middle(spec_for(loaded, FEET), "cushion")
    assert middle(spec_for(running, high), "cushion") > middle(spec_for(running, FEET), "cushion")
    assert "carries it" in texts(spec_for(loaded, high), "feet.high_arch_loaded")


@pytest.mark.parametrize("brief", [lifting("gym_running"), cycling(), court(), football()])
def test_a_low_arch_gets_structure_in_every_sport_that_has_it(brief: Brief) -> None:
    low = Feet(left=foot(arch="low"), right=foot(arch="low"))
    with_, without = spec_for(brief, low), spec_for(brief, FEET)
    assert middle(with_, "twist_n_mm_per_deg") > middle(without, "twist_n_mm_per_deg")
    assert middle(with_, "heel_counter") > middle(without, "heel_counter")


def test_a_low_arch_gets_a_full_midsole_in_climbing() -> None:
    low = Feet(left=foot(arch="low"), right=foot(arch="low"))
    brief = climbing("outdoor_boulder")
    assert scores(spec_for(brief, low), "midsole")["full"] > scores(spec_for(brief, FEET), "midsole")["full"]


def test_growing_feet_are_measured_again_by_their_age() -> None:
    """Half a size is used up sooner at five than at fifteen (usual growth: from memory)."""
    said = {age: texts(spec_for(football(), age_years=age), "growing.measure") for age in (5, 11, 15)}
    assert "in 5 months" in said[5]
    assert "in 6 months" in said[11]
    assert "in 12 months" in said[15] or "in 10 months" in said[15]
    asked = texts(spec_for(football(growing=True)), "growing.measure")
    assert "three months" in asked
    assert "date of birth" in asked
    assert not texts(spec_for(football(), age_years=30), "growing.measure")


def test_a_growing_lifter_gets_a_little_room_under_a_bar_and_more_without() -> None:
    def room(discipline: str, **more: Any) -> float:
        return spec_for(lifting(discipline, **more)).fit["toe_room_mm"].high

    assert room("deadlift", growing=True) - room("deadlift") == 2
    assert room("mixed_training", growing=True) - room("mixed_training") == 4
    assert any(a.field == "growing" for a in SPORTS["lifting"].asks)


# Climbing


def test_in_climbing_closure_counts_before_shape_and_shape_before_the_sole() -> None:
    """Common practice, no source: fit, closure, shape, sole; but five minutes on one edge come before nearly all."""
    for discipline in ("indoor_general", "indoor_boulder", "steep_sport", "technical_edging", "board"):
        found = spec_for(climbing(discipline))
        closure = found.choice_weights["closure"].weight
        shape, sole = found.properties["downturn_deg"].weight, found.properties["bend_n_mm_per_deg"].weight
        assert closure > shape > sole > found.properties["rubber_shore_a"].weight, discipline
    stood = spec_for(climbing("trad", stance_min=8))
    assert stood.properties["bend_n_mm_per_deg"].weight > stood.choice_weights["closure"].weight
    moved = spec_for(climbing("trad", stance_min=1))
    assert moved.properties["bend_n_mm_per_deg"].weight < moved.choice_weights["closure"].weight


def test_the_smallest_edge_is_asked_in_general_climbing_too() -> None:
    ask = next(a for a in SPORTS["climbing"].asks if a.field == "edge_mm")
    assert {"indoor_general", "board", "trad"} <= set(ask.disciplines)
    small, large = (middle(spec_for(climbing(edge_mm=mm)), "bend_n_mm_per_deg") for mm in (5, 25))
    assert small > large


@pytest.mark.parametrize("kg", [50, 70, 95])
@pytest.mark.parametrize("discipline", ["sandstone_slab", "gritstone", "indoor_boulder"])
def test_what_is_smeared_on_is_no_stiffer_than_smears(discipline: str, kg: float) -> None:
    found = spec_for(climbing(discipline, body_kg=kg))
    assert found.properties["bend_n_mm_per_deg"].high <= smear_limit(kg) + 2.5
    edged = spec_for(climbing(discipline, body_kg=kg, small_edges_pct=80, edge_mm=8, stance_min=5))
    assert edged.properties["bend_n_mm_per_deg"].high > smear_limit(kg) + 2.5


def test_tiny_edges_on_steep_ground_want_it_stiff() -> None:
    """ "Steep limestone with tiny edges wants stiff"; common practice, no source."""
    tiny, wide = (middle(spec_for(climbing("steep_sport", edge_mm=mm)), "bend_n_mm_per_deg") for mm in (6, 20))
    assert stiffness_class(tiny) == "stiff"
    assert stiffness_class(wide) in ("soft", "medium")


@pytest.mark.parametrize("upper", ["synthetic", "leather_unlined"])
def test_a_slip_on_is_sized_closer(upper: str) -> None:
    """It loosens most with wear; but nothing is taken closer on toes that don't feel or still grow."""
    found = spec_for(climbing("indoor_boulder"))
    strapped, slipped = (fit_target(found, upper, c).length for c in ("strap_1", "slipper"))
    assert (slipped.low, slipped.high) == (strapped.low - 1.5, strapped.high - 1.5)
    tight = spec_for(climbing("indoor_boulder", schools={"climbing_fit": "performance_tight"}))
    assert fit_target(tight, upper, "slipper").length.low < fit_target(tight, upper, "strap_1").length.low
    for spared in ({"history": ["numbness"]}, {"growing": True}, {"history": ["surgery"]}):
        kept = spec_for(climbing("indoor_boulder", **spared))
        assert fit_target(kept, upper, "slipper").length == fit_target(kept, upper, "strap_1").length


def test_a_first_pair_is_not_said_as_sizes_under() -> None:
    assert "toes flat, neither tight nor loose" in sentence(spec_for(climbing("first_shoe")))
    assert "under your street shoe" in sentence(spec_for(climbing("steep_sport")))


# Football and cycling


def test_blades_turn_less_freely_than_round_studs_and_say_so() -> None:
    found = spec_for(football())
    assert "less freely than round ones" in texts(found, "football.grip.firm_ground_blade")
    assert "less freely" not in texts(found, "football.grip.firm_ground_round")


def test_a_bunion_prefers_lined_leather_to_microfibre() -> None:
    bump = Feet(left=foot(bunion=True), right=foot())
    for brief in (football(), climbing("first_shoe"), climbing("steep_sport")):
        with_, without = scores(spec_for(brief, bump), "upper"), scores(spec_for(brief, FEET), "upper")
        assert with_["leather_lined"] > with_["microfibre"], brief.discipline
        assert with_["leather_lined"] / with_["microfibre"] > without["leather_lined"] / without["microfibre"]


def test_a_sore_ball_on_carpet_gets_more_under_it() -> None:
    sore, sound = (spec_for(football(surface="carpet_turf", history=h)) for h in (["forefoot"], []))
    assert middle(sore, "cushion") > middle(sound, "cushion")
    assert scores(sore, "plate")["indoor"] > scores(sound, "plate")["indoor"]


@pytest.mark.parametrize(
    ("budget", "said"), [(45, "plastic or fibreglass"), (120, "carbon composite"), (220, "full carbon")]
)
@pytest.mark.parametrize("discipline", ["road_race", "gravel", "town", "mtb_downhill"])
def test_every_rider_hears_what_a_budget_buys(discipline: str, budget: float, said: str) -> None:
    """Tiers about 30–50, 90–150, over 150; common practice, no source."""
    assert said in texts(spec_for(cycling(discipline, pedal="two_bolt", budget=budget)), "cycling.tiers")
    assert not texts(spec_for(cycling(discipline, pedal="two_bolt")), "cycling.tiers")


def test_laces_are_tucked_away_where_laces_lead() -> None:
    for brief in (cycling("town", pedal="flat"), cycling("mtb_trail", pedal="flat"), cycling("road_fast", budget=60)):
        assert "tuck the ends away" in texts(spec_for(brief), "cycling.laces_tuck")
    assert not texts(spec_for(cycling("road_race")), "cycling.laces_tuck")


def test_numb_feet_hear_of_a_cleat_only_where_there_is_one() -> None:
    clipped = texts(spec_for(cycling(history=["numbness"])), "cycling.numb")
    flat = texts(spec_for(cycling("mtb_downhill", pedal="flat", history=["numbness"])), "cycling.numb")
    assert "cleat" in clipped
    assert flat
    assert "cleat" not in flat


# Court


def test_wood_with_little_give_is_said_and_cushioned_as_such() -> None:
    assert floor_word("hard_wood") == "floor with a little give"
    springy, wood, hard = (cushion_wanted(70, f, None) for f in ("sprung_wood", "hard_wood", "concrete"))  # type: ignore[arg-type]
    assert springy < wood < hard
    assert wood - springy > 1.2


def test_badminton_counts_support_then_durability_then_grip_then_weight() -> None:
    found = spec_for(court("badminton"))
    support = found.properties["twist_n_mm_per_deg"].weight
    lasts, grip, mass = (
        found.properties["sole_mm"].weight,
        found.choice_weights["sole"].weight,
        found.properties["mass_g"].weight,
    )
    assert support > lasts > grip > mass
    assert spec_for(court("squash")).choice_weights["sole"].weight > grip


@pytest.mark.parametrize("kg", [42, 55, 70, 95])
@pytest.mark.parametrize("game", ["dance_fitness", "volleyball", "basketball"])
def test_jumpers_and_dancers_are_cushioned_however_light(game: str, kg: float) -> None:
    assert hand_words(spec_for(court(game, body_kg=kg)))["cushion"] in ("cushioned", "soft, deep foam")
    assert "hardly any foam" in hand_words(spec_for(court("fencing", body_kg=55)))["cushion"]


def test_clay_puts_its_own_tread_first() -> None:
    clay, hard = (scores(spec_for(court("tennis", floor=f)), "sole") for f in ("clay", "concrete"))
    assert max(clay, key=clay.__getitem__) == "grip_flat"
    assert max(hard, key=hard.__getitem__) == "gum_court"


# Gym


def test_half_an_inch_at_the_toe_is_the_middle_of_what_a_lifter_is_given() -> None:
    """12.7 mm; common practice, no source."""
    room = spec_for(lifting("olympic")).fit["toe_room_mm"]
    assert (room.low + room.high) / 2 == pytest.approx(12.7, abs=0.3)


def test_nothing_is_tightened_for_maximal_loads_on_numb_feet() -> None:
    sound, numb = (
        spec_for(lifting("powerlifting_squat", level="competitive", history=h)).fit["ball_room_mm"]
        for h in ([], ["numbness"])
    )
    assert sound.low < -6
    assert numb.low >= 0


def running_shoe(**more: Any) -> Shoe:
    values: dict[str, Any] = {
        "id": "r", "sport": "lifting", "upper": "synthetic", "build": "slip", "reinforced": 0.0, "properties": {},
        "choices": {"sole": "grip_flat", "upper": "synthetic"}, "meant_for": ("running",),
    }  # fmt: skip
    return Shoe(**values | more)


@pytest.mark.parametrize("game", [o.value for o in SPORTS["court"].disciplines])
def test_a_running_shoe_is_never_a_hall_shoe(game: str) -> None:
    """From memory; and a court sole is out for running."""
    spec = spec_for(court(game))
    assert 0 in vetoes_of([as_for(running_shoe(), "court")], spec)
    assert 0 not in vetoes_of([as_for(running_shoe(meant_for=("mixed_training",)), "court")], spec)
    hall = spec_for(football(surface="indoor_hall"))
    assert 0 in vetoes_of([as_for(running_shoe(), "football")], hall)
    assert "gum_court" in vetoed(spec_for(lifting("gym_running")), "sole")


def test_a_running_sole_is_said_in_running_words() -> None:
    assert "rolls forward" in texts(spec_for(lifting("gym_running")), "lifting.sole.running")
    assert "rope" not in texts(spec_for(lifting("gym_running")), "lifting.sole.mixed")


# Field and ice


def test_thick_cricket_socks_are_minded_before_anything_is_measured() -> None:
    assert "Thick cricket socks" in texts(spec_for(cricket()), "field.socks")
    thick = FEET.model_copy(update={"sock": "thick"})
    assert not texts(spec_for(cricket(), thick), "field.socks")
    assert "in thin socks" in texts(spec_for(cricket(), FEET), "field.socks")


def test_level_and_days_set_a_cricketers_budget() -> None:
    """Once a week, club, representative; three to five times a week: common practice, no source."""
    said = {
        (level, days): texts(spec_for(cricket(level=level, sessions_per_week=days)), "field.budget")
        for level, days in (("new", 1), ("club", 2), ("club", 4), ("competitive", 2))
    }
    assert "a plain pair" in said["new", 1]
    assert "middle of the range" in said["club", 2]
    assert "4 days a week: a better pair" in said["club", 4]
    assert "representative" in said["competitive", 2]


def test_a_creased_boot_says_what_its_creases_mean() -> None:
    creased, whole = (spec_for(skating(creased=c)) for c in (True, False))
    assert "the next one is stiffer" in texts(creased, "ice.creased")
    assert middle(creased, "bend_n_mm_per_deg") > middle(whole, "bend_n_mm_per_deg")
    seen = wear_seen(WearSeenIn(sport="ice", seen={"quarter": "creased"})).advice
    assert any("too soft for this skater, or worn out" in a for a in seen)
    assert not wear_seen(WearSeenIn(sport="ice", seen={"quarter": "smooth"})).advice
    assert not wear_seen(WearSeenIn(sport="court", seen={"quarter": "creased"})).advice


# Trying on, breaking in, buying again


@pytest.mark.parametrize("sport", ["lifting", "cycling", "court", "field", "climbing"])
def test_a_shoe_is_folded_wrung_and_flopped_where_that_tells(sport: str) -> None:
    how = next(t.how for t in TESTS[sport] if t.slug == "bend").lower()
    assert "fold" in how
    assert "wring" in how


@pytest.mark.parametrize(("severity", "step"), [(1, "other_shape"), (2, "other_shape"), (3, "out")])
def test_a_pinch_at_the_heel_is_answered_by_how_hard_it_is(severity: int, step: str) -> None:
    for zone in ("left:heel", "right:heel"):
        found = advise(PairTrial.model_validate({"pinches": {zone: severity}}), "synthetic")
        assert [a.step for a in found] == [step]
        assert "not" in found[0].text


def plan(**more: Any) -> Any:
    values = {"upper": "leather_unlined", "build": "slip", "interference_mm": 6, "inner_mm": 240,
              "start_on": date(2026, 6, 1), "weekdays": [0, 1, 2, 3, 4, 5, 6]}  # fmt: skip
    return breakin(BreakInIn.model_validate(values | more))


def test_nothing_is_worn_in_on_the_day_of_the_event() -> None:
    worn = [w.on for w in plan().wears]
    for day in worn:
        assert day not in [w.on for w in plan(event_on=day).wears]
        assert not plan(event_on=day).in_time


def test_court_shoes_are_worn_at_home_for_a_few_hours_first() -> None:
    at_home = [w for w in plan(sport="court").wears if "at home" in w.how]
    assert sum(w.minutes for w in at_home) >= 180
    assert at_home[0].minutes == 60
    elsewhere = [w for w in plan(sport="football").wears if "at home" in w.how]
    assert sum(w.minutes for w in elsewhere) < 60


TODAY = date(2026, 11, 3)
FOOT = FootThen(on=TODAY - timedelta(days=40), mm={"length": 265.0}, sigma_mm={"length": 1.0})


@pytest.mark.parametrize(
    ("felt", "zone", "said"),
    [
        ("slack", "heel_width", "another heel, not a smaller size"), ("slack", "length", "half a size less"),
        ("tight", "ball_girth", "a wider width"), ("tight", "instep_girth", "a higher volume"),
    ],
)  # fmt: skip
def test_buying_again_goes_by_the_zone_that_was_wrong(felt: str, zone: str, said: str) -> None:
    given = {"name": "Shale", "label": 42, "today": TODAY, "feet_now": FOOT, "bought_feet": FOOT, "sold": "here"}
    out = again(AgainIn.model_validate(given | {"felt": felt, "felt_at": [zone]}))
    point = next(p for p in out.points if p.about == "felt")
    assert said in point.text
    assert ("half a size" in point.text) == (zone == "length")
    assert "something has changed since" not in out.text
    assert ("went slack" if felt == "slack" else "stayed tight") in out.text
    assert again(AgainIn.model_validate(given | {"felt": "as_wanted"})).verdict == "same"


# Sizes


@pytest.mark.parametrize(("system", "exact", "larger"), [("eu", 42.25, 42.5), ("uk", 8.75, 9.0), ("us_men", 9.25, 9.5)])
def test_a_tie_goes_to_the_larger_size(system: Any, exact: float, larger: float) -> None:
    assert printed(system, exact) == larger
    assert printed(system, exact - 0.01) == larger - 0.5


def test_a_makers_own_step_of_womens_sizes() -> None:
    """Most have their women's a size and a half ahead of their men's, some one or two; from memory."""
    usual, one = (size_convert(SizeConvertIn(system="us_women", label=8, women_ahead=a)) for a in (1.5, 1.0))
    assert usual.labels["us_men"] == pytest.approx(6.5)
    assert one.labels["us_men"] == pytest.approx(7.0)
    assert one.last_mm - usual.last_mm == pytest.approx(25.4 / 6)
    assert one.labels["us_women"] == pytest.approx(8)
    assert SizeConvertIn(system="us_women", label=8).women_ahead == 1.5


@pytest.mark.parametrize(
    ("width", "system", "mm"),
    [
        ("M", "us_men", 0), ("W", "us_men", 9), ("N", "us_women", -9), ("XW", "us_men", 18), ("xn", "uk", -18),
        ("F", "uk", 0), ("G", "uk", 6.35), ("H", "uk", 12.7), ("2E", "us_men", 9.52), ("2E", "jp_cm", 0), ("4E", "jp_cm", 9.52),
        ("2E", "uk", 9.52), ("D", "us_women", 9.52),
    ],
)  # fmt: skip
def test_widths_are_what_their_country_and_their_maker_mean_by_them(width: str, system: Any, mm: float) -> None:
    """A letter 3/16 in, a British one a quarter of an inch; all from memory, the words house defaults."""
    assert width_step_mm(width, system) == pytest.approx(mm)


@pytest.mark.parametrize(
    ("text", "kept"),
    [("XW", "extra wide"), ("W", "wide"), ("extra breit", "extra wide"), ("G", "G"), ("xn", "extra narrow")],
)
def test_widths_of_british_lists_are_kept_as_they_are_printed(text: str, kept: str) -> None:
    assert words.width(text, "uk", {}) == kept


def test_a_junior_run_goes_on_in_the_adults_scale() -> None:
    """10, 11, 12, 13, 1, 2 … 6: sizes 1–6 junior, 7–13 adult; common practice, no source."""
    run = [labels.size(f"UK junior {n}", None) for n in (11, 12, 13, 1, 3, 5.5)]
    lasts = [last_of(s.system, s.label) for s in run]
    assert [s.system for s in run] == ["uk_child"] * 3 + ["uk"] * 3
    assert lasts == sorted(lasts)
    assert lasts[3] - lasts[2] == pytest.approx(25.4 / 3)
    assert labels.size("3C", "uk").system == "uk_child"
    assert labels.size("UK 3", None).system == "uk"


OFFERED = {
    "brief": {"sport": "court", "discipline": "badminton", "body_kg": 68, "feet": FEET.model_dump(exclude_none=True)},
    "shoes": [
        {"id": name, "sport": sport, "upper": "synthetic", "build": "board", "choices": {"sole": sole}, "properties": {"mass_g": mass},
         "features": {}, "meant_for": meant,
         "sizes": [{"label": eu, "length_mm": mm, "ball_girth_mm": mm * 0.9, "instep_girth_mm": mm * 0.915, "heel_width_mm": mm * 0.2385}
                   for eu, mm in ((41, 271), (42, 277.5), (43, 284))]}
        for name, sport, sole, mass, meant in (
            ("light", "court", "gum_court", 270, []), ("heavy", "court", "flat_dense", 520, []), ("spiked", "court", "spikes_full", 270, []),
            ("mixed", "lifting", "gum_court", 280, []), ("runner", "lifting", "gum_court", 280, ["running"]),
        )
    ],
}  # fmt: skip


def test_shoes_are_ranked_and_stood_in_for_by_name() -> None:
    """`./kalon calc rank` and `substitutes`: fit first, vetoes with their reason, no running shoe on a court."""
    found = call("rank", OFFERED)
    assert [p["shoe_id"] for p in found["places"]] == ["light", "heavy"]
    assert [v["shoe_id"] for v in found["vetoed"]] == ["spiked"]
    assert found["places"][0]["line_id"] == "light:42"
    others = call("substitutes", OFFERED)["places"]
    assert {p["shoe_id"] for p in others} <= {"mixed"}
    for wrong, said in (
        ({"brief": {**OFFERED["brief"], "feet": None}}, "measure them first"),  # type: ignore[dict-item]
        ({"shoes": [{**OFFERED["shoes"][0], "choices": {"sole": "glue"}}]}, "No sole is called glue"),  # type: ignore[index]
        ({"shoes": [OFFERED["shoes"][0]] * 2}, "named twice"),
    ):  # type: ignore[index]
        with pytest.raises(BadInput, match=said):
            call("rank", OFFERED | wrong)
