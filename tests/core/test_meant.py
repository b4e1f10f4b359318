"""What shoes are said to be meant for: how it counts and rules out, and how lists in six languages say it."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import pytest

from kalon.core.house import HOUSE
from kalon.core.match.good_for import good_for
from kalon.core.match.judged import judge, veto_of
from kalon.core.match.shelf import Shoe
from kalon.core.match.substitutes import as_for
from kalon.core.rules.brief import Brief
from kalon.core.rules.spec import spec_for
from kalon.core.rules.words import SPORTS
from kalon.core.sheets.asked import Asked
from kalon.core.sheets.columns import guess
from kalon.core.sheets.lines import Settings, read_lines
from kalon.core.sheets.meant_words import MEANT_WORDS, meant_for
from kalon.core.shoes.meant import PURPOSES, in_words, of_sport, serves

BUILDS = {"climbing": "slip", "football": "plate", "cycling": "plate", "field": "plate"}


def bare(sport: str, *meant: str) -> Shoe:
    """A shoe of which nothing is known but what it is meant for."""
    return Shoe("s", sport, "synthetic", BUILDS.get(sport, "board"), 0.0, {}, {}, meant_for=meant)  # type: ignore[arg-type]


def spec(sport: str, discipline: str, **more: Any) -> Any:
    return spec_for(Brief.model_validate({"sport": sport, "discipline": discipline, "body_kg": 70, **more}))


@pytest.mark.parametrize(
    ("meant", "sport", "discipline", "more"),
    [
        ("figure_skating", "ice", "hockey", {}),
        ("rugby", "field", "cricket", {"role": "batter", "wicket": "grass"}),
        ("downhill", "cycling", "road_race", {"pedal": "three_bolt"}),
        ("soft_ground", "football", "match", {"surface": "artificial_grass"}),
        ("firm_ground", "football", "match", {"surface": "indoor_hall"}),
        ("hall_football", "football", "training", {"surface": "soft_natural"}),
    ],
)
def test_what_is_meant_for_something_that_rules_it_out_is_never_offered(
    meant: str, sport: str, discipline: str, more: dict[str, Any]
) -> None:
    """The pairs a fitter would be ashamed of. Common practice, no source."""
    asked = spec(sport, discipline, **more)
    out = veto_of(bare(sport, meant), asked)
    assert out
    assert PURPOSES[meant].text in out.text
    assert veto_of(bare(sport), asked) is None
    other = next(p for p, of in of_sport(sport).items() if set(asked.asked_for) & of.serves)
    assert veto_of(bare(sport, other), asked) is None
    assert veto_of(bare(sport, meant, other), asked) is None, "one of the things it is meant for is what is asked"


def test_what_is_said_counts_and_what_is_not_said_takes_nothing() -> None:
    asked = spec("cycling", "road_race", pedal="three_bolt")
    known = replace(bare("cycling"), properties={"mass_g": 420.0}, choices={"cleat": "three_bolt"})
    silent, road, gravel = (replace(known, meant_for=m) for m in ((), ("road",), ("gravel",)))
    assert judge(road, asked).share > judge(silent, asked).share > judge(gravel, asked).share  # type: ignore[operator]
    assert judge(silent, asked).known < judge(road, asked).known
    assert "Meant for road, as wanted." in [p.text for p in judge(road, asked).helps]
    assert "Meant for gravel, not for road racing." in [p.text for p in judge(gravel, asked).costs]
    assert not any("eant for" in u for u in judge(silent, asked).unknown)


def test_of_two_grounds_both_have_to_be_served() -> None:
    both = spec("football", "match", surface="firm_natural",
                also=[{"discipline": "training", "surface": "carpet_turf", "share_pct": 40}])  # fmt: skip
    assert both.asked_for == ["firm_natural", "carpet_turf"]
    assert serves(("firm_ground",), both.asked_for) == "no"
    assert serves(("firm_ground", "carpet_turf"), both.asked_for) == "yes"
    assert serves(("soft_ground",), both.asked_for) == "never"


def test_a_hall_is_asked_for_by_football_s_own_name() -> None:
    asked = spec("football", "match", surface="indoor_hall")
    assert asked.asked_for == ["indoor_hall"]
    assert serves(("hall_football",), asked.asked_for) == "yes"


def test_another_sport_asks_nothing_of_what_a_shoe_is_meant_for_in_its_own() -> None:
    assert as_for(bare("cycling", "downhill"), "lifting").meant_for == ()
    assert as_for(bare("cycling", "downhill"), "cycling").meant_for == ("downhill",)


def test_what_a_shoe_is_good_for_follows_what_it_is_meant_for() -> None:
    found = {g.discipline: g for g in good_for(bare("ice", "figure_skating"), HOUSE)}
    assert found["hockey"].verdict == "never"
    assert "figure skating" in found["hockey"].why


def test_every_purpose_can_be_asked_for_or_is_known_not_to_be() -> None:
    """A typing mistake in a name would silently serve nothing."""
    asked = {d.value for words in SPORTS.values() for d in words.disciplines} | {
        o.value for a in SPORTS["football"].asks if a.field == "surface" for o in a.options
    }
    not_yet = {"leisure"}
    assert {s for p in PURPOSES.values() for s in p.serves | p.never} - asked == not_yet
    assert asked - {s for p in PURPOSES.values() for s in p.serves} == {"match", "training", "casual", "goalkeeping"}
    assert set(MEANT_WORDS) == set(PURPOSES)
    assert all(not p.serves & p.never for p in PURPOSES.values())
    assert in_words(["hall_football", "firm_ground"]) == "firm ground and the hall"


@pytest.mark.parametrize(
    ("sport_cell", "column", "name", "sport", "meant"),
    [
        ("Football FG", "", "Plover", "football", ["firm_ground"]),
        ("Football", "", "Plover Elite SG", "football", ["soft_ground"]),
        ("Fußball", "Kunstrasen", "Plover", "football", ["artificial_ground"]),
        ("Football", "", "Plover MG", "football", ["firm_ground", "artificial_ground"]),
        ("Hallenfußball", "", "Plover", "football", ["hall_football"]),
        ("Calcio a 5", "", "Plover", "football", ["hall_football"]),
        ("Fútbol", "césped artificial", "Plover", "football", ["artificial_ground"]),
        ("Football", "", "Ag Plover", "football", []),
        ("Road cycling", "", "Spindle", "cycling", ["road"]),
        ("Vélo de route", "", "Spindle", "cycling", ["road"]),
        ("Cycling", "VTT; Gravel", "Spindle", "cycling", ["mountain", "gravel"]),
        ("MTB flat pedals", "", "Spindle", "cycling", ["mountain", "downhill"]),
        ("Eishockey", "", "Glide", "ice", ["ice_hockey"]),
        ("Patinage artistique", "", "Glide", "ice", ["figure_skating"]),
        ("Kunstschaatsen", "", "Glide", "ice", ["figure_skating"]),
        ("Veldhockey", "", "Stick", "field", ["field_hockey"]),
        ("Rugby", "", "Prop", "field", ["rugby"]),
        ("Bouldern", "", "Slab", "climbing", ["bouldering"]),
        ("Klettern", "Einsteiger", "Slab", "climbing", ["first_climbing"]),
        ("Pallavolo", "", "Spike", "court", ["volleyball"]),
        ("Powerlifting", "", "Rack", "lifting", ["powerlifting"]),
        ("Climbing", "", "Slab", "climbing", []),
        ("", "firm_ground; hall_football", "Plover", "football", ["firm_ground", "hall_football"]),
    ],
)
def test_lists_say_it_in_six_languages(sport_cell: str, column: str, name: str, sport: Any, meant: list[str]) -> None:
    """From memory of how lists are written."""
    assert meant_for(sport, sport_cell, column, name, {}) == meant


def test_a_word_of_its_column_nobody_knows_is_asked_once_and_the_line_comes_in() -> None:
    rows = [["Brindle", "Keel", "cycling", "Randonneur", "42"], ["Brindle", "Keel", "cycling", "Randonneur", "43"]]
    columns = guess(["Brand", "Model", "Sport", "Einsatzbereich", "EU size"], rows)
    assert [c.field for c in columns] == ["maker", "model", "sport", "meant_for", "size"]
    found = list(read_lines(enumerate(rows, 2), columns, Settings()))
    assert {r.verdict for r in found} == {"odd"}
    assert {(a.field, a.word) for r in found for a in r.asks} == {("meant_for", "randonneur")}
    assert "meant_for" not in found[0].body
    for answer, meant in (("road", ["road"]), ("-", None)):
        said = Settings.model_validate({"words": {"meant_for": {"randonneur": answer}}})
        read = next(iter(read_lines(enumerate(rows, 2), columns, said)))
        assert (read.verdict, read.body.get("meant_for")) == ("fine", meant)


def test_an_answer_of_another_sport_says_nothing_of_this_one() -> None:
    assert meant_for("football", "", "Randonneur", "Plover", {"randonneur": "road"}) == []
    with pytest.raises(Asked, match="what is that meant for"):
        meant_for("football", "", "Randonneur", "Plover", {})
    with pytest.raises(ValueError, match="is no answer"):
        Settings.model_validate({"words": {"meant_for": {"randonneur": "rambling"}}})
