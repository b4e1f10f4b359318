"""Every sport there is. One that isn't whole is refused at start-up (`check_sports`)."""

from __future__ import annotations

from typing import cast, get_args

from . import climbing, court, cycling, field, football, ice, lifting
from .facts import SportFacts
from .words import School, Sport, Vocabulary

EVERY: dict[Sport, SportFacts] = {
    "football": football.FACTS, "climbing": climbing.FACTS, "cycling": cycling.FACTS, "court": court.FACTS,
    "lifting": lifting.FACTS, "field": field.FACTS, "ice": ice.FACTS,
}  # fmt: skip
SPORTS: dict[Sport, Vocabulary] = {sport: facts.vocabulary for sport, facts in EVERY.items()}
"""What each sport is asked about."""


def facts_of(sport: str) -> SportFacts:
    """What is known of a sport. Raises `KeyError` for one nobody knows."""
    return EVERY[cast(Sport, sport)]


def house_side(sport: Sport, slug: str) -> str:
    """The first side of a school."""
    return next(s.options[0].value for s in SPORTS[sport].schools if s.slug == slug)


def every_school() -> dict[str, School]:
    """All schools of all sports by their slug."""
    return {s.slug: s for words in SPORTS.values() for s in words.schools}


def check_sports() -> None:
    """Raise `ValueError` where a sport is missing, or speaks of a discipline it hasn't."""
    if missing := set(get_args(Sport)) - set(EVERY):
        raise ValueError(f"no facts of {sorted(missing)}")
    for sport, facts in EVERY.items():
        disciplines = {d.value for d in facts.vocabulary.disciplines}
        for ask in facts.vocabulary.asks:
            if unknown := set(ask.disciplines) - disciplines:
                raise ValueError(f"{sport}: {ask.field} is asked in {sorted(unknown)}, which it hasn't")
        if unknown := set(facts.worn_as) - disciplines or set(facts.worn_as.values()) - set(facts.lives_h):
            raise ValueError(f"{sport}: worn as something nobody knows: {sorted(unknown)}")
