"""What lists say a shoe is meant for, in six languages: in the sport's own cell, in a column of its own, or as letters
at the end of a football boot's name. Common practice, from memory."""

from __future__ import annotations

from functools import lru_cache

from ..rules.words import Sport
from ..shoes.meant import PURPOSES, of_sport
from ..sports.every import EVERY
from .asked import LEFT_OUT, Asked
from .plain import short
from .words import Answers, has, key_of

MEANT_WORDS: dict[str, tuple[str, ...]] = {
    name: said for facts in EVERY.values() for name, said in facts.meant_words.items()
}
"""What says so, by sport: the same word may mean another thing in another sport's shoe."""
IN_NAMES = ("sg", "fg", "mg", "hg", "ag", "tf", "ic")
"""Letters that close the name of a football boot, where they are written as capitals."""


@lru_cache(maxsize=20_000)
def said_in(text: str, sport: Sport) -> frozenset[str]:
    """What a text says a shoe of this sport is meant for."""
    words = key_of(text)
    if words.replace(" ", "_") in of_sport(sport):
        return frozenset({words.replace(" ", "_")})
    return frozenset(slug for slug in of_sport(sport) if any(has(words, phrase) for phrase in MEANT_WORDS[slug]))


def _of_column(text: str, sport: Sport, said: Answers) -> set[str]:
    """What the column of its own says; several parted by semicolons. Raises `Asked` for what nobody knows."""
    found: set[str] = set()
    for word in (w for w in text.split(";") if w.strip()):
        answer = said.get(key_of(word))
        known = frozenset({answer} & set(PURPOSES)) if answer else said_in(word, sport)
        if not known and answer != LEFT_OUT:
            raise Asked("meant_for", key_of(word), f"“{short(word)}”: what is that meant for")
        found |= known & set(of_sport(sport))
    return found


def meant_for(sport: Sport, sport_text: str, column: str, name: str, said: Answers) -> list[str]:
    """What a line says its shoe is meant for, in the vocabulary's order: its own column first, then the sport's cell,
    then its name. Raises `Asked` where its own column says what nobody knows."""
    found = frozenset(_of_column(column, sport, said)) if column else frozenset[str]()
    found = found or said_in(sport_text, sport)
    if not found and sport == "football":
        ends = [w for w in name.replace("-", " ").split()[1:] if w.isupper() and w.lower() in IN_NAMES]
        found = said_in(" ".join(ends), sport)
    return [slug for slug in PURPOSES if slug in found]
