"""What must come of a brief, whichever rules bring it about: the handbook's statements, brief by brief."""

from __future__ import annotations

import random

import pytest

from kalon.core.feet.cautions import cautions_of
from kalon.core.rules.blend import SERVES
from kalon.core.rules.brief import Brief
from kalon.core.rules.engine import Spec
from kalon.core.rules.spec import plain_answers, spec_for
from kalon.core.rules.words import SPORTS
from kalon.core.sports.football import SURFACES
from tests.core.law import case_of, holds
from tests.made import FEET
from tests.much import much


def spec_of(line: str) -> Spec:
    case = case_of(line)
    return spec_for(case.brief, case.feet)


COMES: list[tuple[str, str]] = [
    # Flat pedals: a grippy sole that gives, whatever the ride and the power.
    ("cycling road_race pedal=flat power_w=900", "first sole grip_flat"),
    ("cycling road_race pedal=flat power_w=900", "high bend_n_mm_per_deg <= 1000"),
    ("cycling road_race pedal=flat school.cycling_stiffness=stiffest", "high bend_n_mm_per_deg <= 1000"),
    ("cycling mtb_downhill pedal=two_bolt power_w=900", "high bend_n_mm_per_deg <= 1000"),
    ("cycling town pedal=undecided school.cycling_stiffness=stiffest", "high bend_n_mm_per_deg <= 900"),
    # The stiffest that can be paid: less stiffer on a small budget, none at all below carbon composite.
    ("cycling road_fast pedal=three_bolt school.cycling_stiffness=stiffest", "high bend_n_mm_per_deg >= 5700"),
    ("cycling road_fast pedal=three_bolt school.cycling_stiffness=stiffest budget=120",
     "high bend_n_mm_per_deg <= 5000"),
    ("cycling road_fast pedal=three_bolt school.cycling_stiffness=stiffest budget=60",
     "high bend_n_mm_per_deg <= 4500"),
    ("cycling mtb_downhill pedal=three_bolt", "low bend_n_mm_per_deg >= 900"),
    ("cycling road_fast pedal=three_bolt ride_km=120", "high ball_room_mm >= 7"),
    # Squats: out of reach of any heel, 18 to 22 mm; machines by their own reason.
    ("lifting powerlifting_squat dorsiflexion_deg=12", "band drop_mm 18 to 22"),
    ("lifting olympic dorsiflexion_deg=12", "band drop_mm 18 to 22"),
    ("lifting machines dorsiflexion_deg=12", "band drop_mm 8 to 18"),
    ("lifting machines dorsiflexion_deg=38", "band drop_mm 8 to 18"),
    ("lifting deadlift school.squat_heel=raised", "high drop_mm <= 2"),
    # Climbing: volumes, hooks, feet.
    ("climbing indoor_boulder", "high downturn_deg <= 15"),
    ("climbing indoor_boulder", "score closure slipper <= 0.6"),
    ("climbing gritstone", "weight heel_rubber >= 1.5"),
    ("climbing gritstone", "weight toe_rubber <= 0.3"),
    ("climbing gritstone school.boulder_closure=laces", "first closure laces"),
    ("climbing indoor_boulder feet=odd", "first closure laces"),
    ("climbing outdoor_boulder toe_strength=weak", "first midsole full"),
    ("climbing board body_kg=95", "first midsole full"),
    ("climbing steep_sport level=new", "first midsole full"),
    ("climbing mileage", "first closure slipper"),
    ("climbing steep_sport history=numbness", "high downturn_deg <= 8"),
    ("climbing steep_sport history=numbness", "high toe_room_mm <= 3"),
    ("climbing steep_sport history=numbness", "low toe_room_mm >= 0"),
    ("climbing steep_sport history=surgery", "high toe_room_mm <= 1"),
    ("climbing board growing=yes", "high downturn_deg <= 6"),
    ("climbing board growing=yes", "high asymmetry_deg <= 8"),
    # Football: nubs in training, studs only where the ground takes them, schools that move the room.
    ("football training surface=artificial_grass level=new", "score plate turf >= 0.3"),
    ("football match surface=carpet_turf history=knee", "score plate firm_ground_round <= 0"),
    ("football match surface=indoor_hall history=knee", "score plate firm_ground_round <= 0"),
    ("football match surface=firm_natural school.leather_give=quarter_size", "band toe_room_leather_mm 1.5 to 6.5"),
    ("football match surface=firm_natural school.leather_give=full_size", "band toe_room_leather_mm -1 to 4"),
    # Court: low, cushioned no more than it takes, clay where it is played on.
    ("court badminton", "high drop_mm <= 7.5"),
    ("court tennis body_kg=110 history=heel_pain", "high cushion <= 7.5"),
    ("court volleyball body_kg=110 feet=high_arch", "high cushion <= 7.5"),
    ("court badminton floor=clay", "score sole grip_flat <= 0.5"),
    ("court dance_fitness history=heel_pain body_kg=45", "low cushion >= 3"),
    # Growing room: 2 mm where slack does harm in cutting, none on top of half a size up.
    ("football match surface=firm_natural growing=yes", "high toe_room_mm <= 16"),
    ("court tennis growing=yes", "high toe_room_mm <= 14"),
    ("court badminton growing=yes school.court_size=half_up", "high toe_room_mm <= 16"),
    # What a shoe has: guards, spots, insoles, heels and lasts are wanted, not only told.
    ("court fencing", "want medial_guard 0.9"),
    ("court basketball", "want lateral_guard 0.8"),
    ("court dance_fitness", "want turning_spot 1"),
    ("court dance_fitness", "want low_tread 0.8"),
    ("court dance_fitness history=heel_pain", "want removable_insole 0.8"),
    ("court badminton level=competitive", "need non_marking 1.5"),
    ("court badminton", "low sole_mm >= 3"),
    ("lifting mixed_training", "want rope_guard 0.7"),
    ("lifting mixed_training", "want toe_guard 0.7"),
    ("lifting mixed_training", "want shank 0.5"),
    ("lifting mixed_training", "avoid split_outsole 0.4"),
    ("lifting mixed_training", "low toe_box_mm >= -10"),
    ("lifting olympic", "want tie_down 0.9"),
    ("lifting gym_running feet=high_arch", "weight arch_support >= 1.2"),
    ("field cricket wicket=grass role=pace_bowler", "want toe_guard 1"),
    ("field cricket wicket=grass role=batter", "want spike_sockets 0.4"),
    ("cycling winter pedal=two_bolt", "want membrane 1.2"),
    ("cycling triathlon pedal=three_bolt", "want quick_entry 0.9"),
    ("cycling triathlon pedal=three_bolt", "want drain_holes 0.8"),
    ("cycling commute pedal=two_bolt", "want reflective 0.5"),
    ("cycling cyclocross pedal=two_bolt", "want spike_sockets 0.4"),
    ("climbing gritstone", "avoid token_heel 0.8"),
    ("climbing gritstone", "want wrap_heel 0.4"),
    ("climbing indoor_boulder", "want toe_patch 0.7"),
    ("climbing sandstone_slab", "want edgeless_toe 0.6"),
    ("climbing steep_sport", "want tension_rand 0.5"),
    ("climbing gritstone", "high rubber_shore_a <= 75"),
    ("climbing technical_edging body_kg=95", "low rubber_shore_a >= 75"),
    ("ice hockey", "want heat_mould 0.5"),
    ("football match surface=soft_natural", "want replaceable_studs 0.4"),
    ("football match surface=artificial_grass", "avoid metal_studs 0.8"),
    ("football match surface=firm_natural feet=low_volume", "want central_lacing 0.5"),
    ("football match surface=firm_natural feet=low_volume", "want low_volume_version 0.6"),
    # Arches: high in a low shoe, or the reverse, leads to injury.
    ("football match surface=firm_natural feet=high_arch", "low arch_support >= 5"),
    ("field cricket wicket=grass role=batter feet=flat", "high arch_support <= 4"),
    # Older players are eased; classic unlined leather is sized closer than other leather.
    ("football casual surface=artificial_grass history=older", "high cushion >= 4.8"),
    ("football match surface=firm_natural", "high toe_room_unlined_mm <= 5"),
    # Cricket: body mass, bending, bunion and toe shape count there too.
    ("field cricket wicket=grass role=batter body_kg=105", "high bend_n_mm_per_deg >= 340"),
    ("field cricket wicket=grass role=batter feet=square", "high toe_box_mm >= -3"),
    ("ice hockey feet=square", "high toe_box_mm >= -5"),
    ("cycling road_fast pedal=three_bolt feet=odd", "high toe_box_mm >= -5"),
    # A bigger foot's shoe weighs more.
    ("football match surface=firm_natural feet=long", "high mass_g >= 300"),
]  # fmt: skip


@pytest.mark.parametrize(("line", "said"), COMES)
def test_it_comes(line: str, said: str) -> None:
    assert holds(said, spec_of(line), ""), f"{line}: {said}"


CAUTIONS: list[tuple[str, str, bool]] = [
    ("climbing first_shoe", "lifting.not_safety", False),
    ("lifting gym_running", "lifting.not_safety", False),
    ("lifting deadlift", "lifting.not_safety", True),
    ("cycling road_race pedal=three_bolt", "cycling.laces_tuck", False),
    ("cycling town pedal=undecided", "cycling.cleat_place", False),
    ("cycling road_race pedal=three_bolt", "cycling.cleat_place", True),
    ("football match surface=firm_natural history=knee", "caution.pain", True),
    ("football match surface=firm_natural history=back", "caution.pain", True),
    ("climbing board growing=yes school.climbing_fit=performance_tight", "climbing.tight_refused", True),
    ("climbing board growing=yes school.climbing_fit=performance_tight", "climbing.tight_ack", False),
    ("lifting mixed_training dorsiflexion_deg=25", "lifting.stiff_ankle", True),
    ("lifting mixed_training dorsiflexion_deg=35", "lifting.stiff_ankle", False),
]


@pytest.mark.parametrize(("line", "rule", "there"), CAUTIONS)
def test_cautions_stand_where_they_bear_and_nowhere_else(line: str, rule: str, there: bool) -> None:
    assert any(c.rule == rule for c in spec_of(line).cautions) == there


def test_no_football_boot_is_cautioned_about_downturn() -> None:
    said = " ".join(c.text for c in spec_of("football match surface=firm_natural").cautions)
    assert "downturn" not in said.lower()


@pytest.mark.parametrize("discipline", ["indoor_general", "sandstone_slab", "gritstone", "indoor_boulder"])
def test_body_mass_counts_for_soft_shoes_too(discipline: str) -> None:
    light, heavy = (spec_of(f"climbing {discipline} body_kg={kg}") for kg in (48, 92))
    assert light.properties["bend_n_mm_per_deg"].high < heavy.properties["bend_n_mm_per_deg"].high


def test_steep_rock_is_stiffer_by_its_own_usual_edge() -> None:
    asked = spec_of("climbing steep_sport edge_mm=8").properties["bend_n_mm_per_deg"]
    unasked = spec_of("climbing steep_sport").properties["bend_n_mm_per_deg"]
    assert (asked.low, asked.high) == (unasked.low, unasked.high)


def test_a_high_arch_counts_once_in_court() -> None:
    high = spec_of("court badminton feet=high_arch").properties["cushion"]
    assert len([r for r in high.reasons if "arch" in r.text.lower()]) <= 1


NOTES: list[tuple[str, set[str]]] = [
    ("no pain at all", set()),
    ("No pain, no numbness; likes thin socks.", set()),
    ("old healed sprain, left", set()),
    ("never any blisters", set()),
    ("pain-free since spring", set()),
    ("no pain before, now pain at the heel", {"caution.pain"}),
    ("sore at the ball after matches", {"caution.pain"}),
    ("sprained on Tuesday", {"caution.surgery"}),
    ("old wound, still open", {"caution.wounds"}),
    ("not healed fracture", {"caution.surgery"}),
    ("old operation, 2 months", {"caution.surgery"}),
    ("toes go numb", {"caution.numbness"}),
    ("takes size number 9, likes them roomy", set()),
    ("peripheral neuropathy, both", {"caution.numbness"}),
    ("pins and needles after an hour", {"caution.numbness"}),
    ("never had pins & needles", set()),
    ("has lost all feeling in two toes", {"caution.numbness"}),
    ("no feeling under the left heel", {"caution.numbness"}),
    ("no loss of feeling", set()),
    ("can't feel her little toe", {"caution.numbness"}),
    ("an open sore by the nail", {"caution.wounds"}),
    ("no open sores, not swollen", set()),
    ("feet swollen by the evening", {"caution.swelling"}),
    ("gout, off and on", {"caution.gout"}),
    ("broke a toe in May", {"caution.surgery"}),
    ("broken big toe", {"caution.surgery"}),
    ("healed broken toe", set()),
    ("ingrown nail, right", {"caution.ingrown_nail"}),
    ("in-growing toenail", {"caution.ingrown_nail"}),
    ("torn cruciate 2019", {"caution.cruciate"}),
    ("ACL done last year", {"caution.cruciate"}),
    ("not diabetic", set()),
    ("diabetic neuropathy", {"caution.diabetes", "caution.numbness"}),
    ("poor circulation, no ulcers", {"caution.diabetes"}),
]


@pytest.mark.parametrize(("note", "raised"), NOTES)
def test_a_note_raises_what_it_says_and_nothing_it_denies(note: str, raised: set[str]) -> None:
    assert {c.rule for c in cautions_of(FEET.model_copy(update={"note": note}))} == raised


def _two(rng: random.Random) -> tuple[Brief, list[tuple[float, Spec]]]:
    """A brief with two disciplines of a sport on grounds of their own, and the spec of each alone."""
    sport = rng.choice([s for s, words in SPORTS.items() if len(words.disciplines) > 1])
    words = SPORTS[sport]
    one, two = rng.sample([d.value for d in words.disciplines], 2)
    share = rng.choice((20, 30, 40, 45))
    answers = rng.choice(plain_answers(sport))
    also: dict[str, object] = {"discipline": two, "share_pct": share, **answers}
    if sport == "football":
        also["surface"] = rng.choice([s.value for s in SURFACES])
    histories: list[list[str]] = [[], ["knee"], ["ankle"], ["numbness"], ["heel_pain", "back"]]
    brief = Brief.model_validate(
        {"sport": sport, "discipline": one, "body_kg": rng.uniform(45, 110), "history": rng.choice(histories),
         "level": rng.choice(("new", "club", "competitive")), "also": [also], **answers}
    )  # fmt: skip
    return brief, [(part, spec_for(alone)) for part, alone in brief.each()]


def test_a_thousand_pairs_for_two_have_no_nonsensical_winner() -> None:
    """What leads a pair for two disciplines leads one of them, unless both firsts are ruled out, and serves the larger
    share; where it doesn't serve both, two pairs are named."""
    rng = random.Random(20)
    led = 0
    tried = much(200, 1000)
    for _ in range(tried):
        brief, alone = _two(rng)
        both = spec_for(brief)
        largest = max(alone, key=lambda p: p[0])[1]
        out = {(v.name, v.value) for v in both.vetoes}
        for choice, ranked in both.choices.items():
            winner = ranked[0].value
            assert ranked[0].score == 1
            firsts = {s.choices[choice][0].value for _, s in alone if choice in s.choices}
            open_firsts = {v for v in firsts if (choice, v) not in out}
            of_largest = {c.value: c.score for c in largest.choices.get(choice, [])}
            led += winner in firsts
            said = [c.text for c in both.cautions if c.rule == "engine.pulls_apart"]
            if of_largest and any(of_largest.get(v, 0) >= SERVES for v in open_firsts):
                assert winner in firsts, (brief, choice)
                assert of_largest.get(winner, 0) >= SERVES, (brief, choice)
            for _, s in alone:
                served = {c.value: c.score for c in s.choices.get(choice, [])}
                if served and served.get(winner, 0) < SERVES:
                    assert said and "two pairs" in said[0], (brief, choice)
    assert led > 1.5 * tried


@pytest.mark.parametrize("sport", [s for s in SPORTS if s != "climbing"])
def test_a_prescribed_insole_must_go_in_whatever_the_sport(sport: str) -> None:
    words = SPORTS[sport]  # type: ignore[index]
    brief = Brief.model_validate(
        {"sport": sport, "discipline": words.disciplines[0].value, "body_kg": 70, "history": ["orthosis"],
         **plain_answers(sport)[0]}  # type: ignore[arg-type]
    )  # fmt: skip
    assert spec_for(brief).features["removable_insole"].wish == "need"


HISTORIES: list[list[str]] = [[], ["knee"], ["ankle", "heel_pain"], ["back"], ["forefoot"], ["orthosis"], ["numbness"]]


@pytest.mark.parametrize("history", HISTORIES)
@pytest.mark.parametrize("feet", [None, FEET])
def test_football_in_a_hall_is_one_spec_by_both_doors(history: list[str], feet: object) -> None:
    common = {"body_kg": 82, "history": history, "growing": False, "sessions_per_week": 4}
    by_football = Brief.model_validate({"sport": "football", "discipline": "casual", "surface": "indoor_hall"} | common)
    by_court = Brief.model_validate({"sport": "court", "discipline": "indoor_football"} | common)
    one, other = (spec_for(b, feet) for b in (by_football, by_court))  # type: ignore[arg-type]
    assert one.properties == other.properties
    assert one.fit == other.fit
    assert one.features == other.features
    shared = set(one.choices) - {"plate"}
    assert shared == set(other.choices) - {"sole"}
    assert all(one.choices[name] == other.choices[name] for name in shared)
    told = [[(c.text, c.about) for c in s.cautions] for s in (one, other)]
    assert told[0] == told[1]
    assert (one.choices["plate"][0].value, other.choices["sole"][0].value) == ("indoor", "gum_court")


@pytest.mark.parametrize("feel", ["leather", "synthetic"])
def test_the_touch_asked_for_counts_in_the_hall_too(feel: str) -> None:
    brief = {"sport": "football", "discipline": "casual", "surface": "indoor_hall", "body_kg": 75}
    plain, asked = (spec_for(Brief.model_validate(brief | more)) for more in ({}, {"feel": feel}))
    wanted = "leather_lined" if feel == "leather" else "knit"

    def score(spec: Spec) -> float:
        return next((c.score for c in spec.choices["upper"] if c.value == wanted), 0.0)

    assert score(asked) > score(plain)


@pytest.mark.parametrize("sport", list(SPORTS))
def test_being_older_is_heard_in_every_sport(sport: str) -> None:
    words = SPORTS[sport]  # type: ignore[index]
    answers = plain_answers(sport)[0]  # type: ignore[arg-type]
    usual = {"sport": sport, "discipline": words.disciplines[0].value, "body_kg": 70, **answers}
    young, old = (spec_for(Brief.model_validate(usual | {"history": h})) for h in ([], ["older"]))
    assert old.properties != young.properties or {c.rule for c in old.cautions} - {c.rule for c in young.cautions}
