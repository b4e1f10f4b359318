"""What a model is meant for, by its maker or a list: the discipline or ground that was said, beside "not said".

Finer than a sport and coarser than a brief: a shoe said to be for rugby is a field shoe, and none for a batter. What
was said counts beside what is known of how it is made; where nothing was said, nothing is taken from it.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from typing import Literal

from ..rules.words import SPORTS, Sport

MEANT_WEIGHT = 1.0
"""What it counts for among the bands, where it was said. House default."""
Serves = Literal["yes", "no", "never"]


@dataclass(frozen=True)
class Purpose:
    """One thing a model may be meant for. `serves` and `never` name what briefs ask for (`asked_for`); what neither
    names it is simply not meant for. Common practice, from memory."""

    sport: Sport
    text: str
    serves: frozenset[str] = frozenset()
    never: frozenset[str] = frozenset()


def _of(sport: Sport, text: str, serves: str = "", never: str = "") -> Purpose:
    return Purpose(sport, text, frozenset(serves.split()), frozenset(never.split()))


_GRASS = "soft_natural firm_natural"
_CRICKET = "cricket"
_ROAD = "road_race road_fast triathlon"
PURPOSES: dict[str, Purpose] = {
    "soft_ground": _of("football", "soft ground", "soft_natural", "artificial_grass carpet_turf indoor_hall"),
    "firm_ground": _of("football", "firm ground", "firm_natural hard_natural", "indoor_hall"),
    "artificial_ground": _of("football", "artificial grass", "artificial_grass firm_natural", "indoor_hall"),
    "carpet_turf": _of("football", "carpet turf", "carpet_turf hard_natural", "soft_natural indoor_hall"),
    "hall_football": _of("football", "the hall", "indoor_hall indoor_football", _GRASS),
    "first_climbing": _of("climbing", "a first climbing shoe", "first_shoe indoor_general mileage"),
    "bouldering": _of("climbing", "bouldering", "indoor_boulder outdoor_boulder board steep_sport"),
    "sport_climbing": _of("climbing", "sport climbing", "steep_sport technical_edging indoor_general board mileage"),
    "trad_climbing": _of("climbing", "trad and long routes", "trad multi_pitch mileage gritstone sandstone_slab"),
    "road": _of("cycling", "road", f"{_ROAD} commute winter", "mtb_downhill mtb_trail cyclocross"),
    "mountain": _of("cycling", "mountain", "mtb_xc mtb_trail gravel cyclocross commute winter", "road_race triathlon"),
    "downhill": _of("cycling", "downhill and flat pedals", "mtb_downhill mtb_trail town commute", f"{_ROAD} mtb_xc"),
    "gravel": _of("cycling", "gravel", "gravel cyclocross mtb_xc commute road_fast winter"),
    "triathlon": _of("cycling", "triathlon", "triathlon road_fast", "mtb_downhill mtb_trail mtb_xc cyclocross"),
    "town": _of("cycling", "town", "town commute", _ROAD),
    "tennis": _of("court", "tennis", "tennis"),
    "padel": _of("court", "padel", "padel tennis"),
    "badminton": _of("court", "badminton", "badminton squash volleyball"),
    "squash": _of("court", "squash", "squash badminton"),
    "volleyball": _of("court", "volleyball", "volleyball badminton handball"),
    "basketball": _of("court", "basketball", "basketball netball"),
    "handball": _of("court", "handball", "handball badminton volleyball indoor_football"),
    "hall": _of("court", "the hall", "badminton squash volleyball handball netball indoor_football fencing"),
    "fencing": _of("court", "fencing", "fencing"),
    "dance": _of("court", "dance fitness", "dance_fitness"),
    "weightlifting": _of("lifting", "weightlifting", "olympic powerlifting_squat general_strength", "gym_running"),
    "powerlifting": _of("lifting", "powerlifting", "powerlifting_squat deadlift general_strength", "gym_running"),
    "deadlift": _of("lifting", "deadlifts", "deadlift", "olympic gym_running"),
    "mixed_training": _of("lifting", "mixed training", "mixed_training general_strength machines gym_running"),
    "cricket": _of("field", "cricket", _CRICKET),
    "field_hockey": _of("field", "field hockey", "field_hockey"),
    "rugby": _of("field", "rugby", "rugby", _CRICKET),
    "lacrosse": _of("field", "lacrosse", "lacrosse", _CRICKET),
    "ice_hockey": _of("ice", "ice hockey", "hockey", "figure speed"),
    "figure_skating": _of("ice", "figure skating", "figure", "hockey speed"),
    "speed_skating": _of("ice", "speed skating", "speed", "hockey figure"),
    "leisure_skating": _of("ice", "leisure skating", "leisure"),
}
"""By name. What nobody can ask for yet (padel, rugby, figure skating) is known all the same: lists hold it."""


def of_sport(sport: str) -> dict[str, Purpose]:
    """What a sport's models may be meant for."""
    return {slug: p for slug, p in PURPOSES.items() if p.sport == sport}


def asked_for(sport: str, discipline: str, surface: str | None) -> str:
    """What a brief asks a shoe to be meant for: football's ground, any other sport's discipline; "" where football's
    ground isn't said."""
    return (surface or "") if sport == "football" else discipline


def serves(meant: Iterable[str], asked: Iterable[str]) -> Serves | None:
    """Whether what a model is meant for serves all that is asked for; `never` where all of it rules one of them out;
    none where nothing was said or asked."""
    known = [PURPOSES[m] for m in meant if m in PURPOSES]
    wanted = [a for a in asked if a]
    if not known or not wanted:
        return None
    if any(all(a in p.never for p in known) for a in wanted):
        return "never"
    return "yes" if all(any(a in p.serves for p in known) for a in wanted) else "no"


def in_words(meant: Iterable[str]) -> str:
    """What a model is meant for, said: "firm ground and the hall"."""
    said = [PURPOSES[m].text for m in PURPOSES if m in set(meant)]
    return f"{', '.join(said[:-1])} and {said[-1]}" if len(said) > 1 else "".join(said)


_GROUNDS = {o.value: o.text for a in SPORTS["football"].asks if a.field == "surface" for o in a.options}
_ASKED = _GROUNDS | {d.value: d.text for words in SPORTS.values() for d in words.disciplines}


def asked_word(asked: Iterable[str]) -> str:
    """What was asked for, said, in small letters: "artificial grass"."""
    return " and ".join(text[:1].lower() + text[1:] for a in asked if (text := _ASKED.get(a, "")))
