"""What a model is meant for, by its maker or a list: the discipline or ground that was said, beside "not said".

Finer than a sport and coarser than a brief: a shoe said to be for rugby is a field shoe, and none for a batter. What
was said counts beside what is known of how it is made; where nothing was said, nothing is taken from it.
"""

from __future__ import annotations

from collections.abc import Iterable
from typing import Literal

from ..sports.every import EVERY, SPORTS, facts_of
from ..sports.facts import Purpose
from ..sports.words import Sport

MEANT_WEIGHT = 1.0
"""What it counts for among the bands, where it was said. House default."""
Serves = Literal["yes", "no", "never"]


PURPOSES: dict[str, Purpose] = {name: p for facts in EVERY.values() for name, p in facts.purposes.items()}
"""By name, each of its sport. What nobody can ask for yet is known all the same: lists hold it."""
SPORT_ASKED: dict[str, Sport] = {d.value: sport for sport, words in SPORTS.items() for d in words.disciplines}
"""The sport of what is asked for, where that is a discipline."""


def of_sport(sport: str) -> dict[str, Purpose]:
    """What a sport's models may be meant for."""
    return dict(facts_of(sport).purposes)


def asked_for(sport: str, discipline: str, surface: str | None) -> str:
    """What a brief asks a shoe to be meant for: football's ground, any other sport's discipline; "" where football's
    ground isn't said."""
    return (surface or "") if sport == "football" else discipline


def never(purpose: Purpose, asked: str) -> bool:
    """Whether what is meant for a purpose is never for what is asked."""
    return asked in purpose.never or SPORT_ASKED.get(asked) in purpose.never_in


def serves(meant: Iterable[str], asked: Iterable[str]) -> Serves | None:
    """Whether what a model is meant for serves all that is asked for; `never` where all of it rules one of them out;
    none where nothing was said or asked."""
    known = [PURPOSES[m] for m in meant if m in PURPOSES]
    wanted = [a for a in asked if a]
    if not known or not wanted:
        return None
    if any(all(never(p, a) for p in known) for a in wanted):
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
