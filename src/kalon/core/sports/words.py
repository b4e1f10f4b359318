"""What a sport is asked about: disciplines, questions in the athlete's words, and what practitioners differ on."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

Sport = Literal["climbing", "football", "cycling", "court", "lifting", "field", "ice"]


@dataclass(frozen=True)
class Option:
    """One answer in the athlete's words; `hint` tells how to recognise it."""

    value: str
    text: str
    hint: str = ""
    picture: str = ""
    """What is drawn beside it, where its kind of picture needs more than the answer: a wall's angle and its hold."""


@dataclass(frozen=True)
class Ask:
    """One question of the brief. `disciplines` limits it; empty asks always. `drawn` names the pictures."""

    field: str
    kind: Literal["choice", "many", "number", "yes", "date", "text"]
    text: str
    options: tuple[Option, ...] = ()
    unit: str = ""
    needed: bool = False
    disciplines: tuple[str, ...] = ()
    drawn: str = ""
    why: str = ""
    """What the answer decides, in a few words."""
    short: str = ""
    """The question in a word or two, for the list of answers."""
    screen: Literal["use", "athlete", "pair"] = "use"
    """What it is asked with: the sport's own matters, the athlete, or the pair."""


@dataclass(frozen=True)
class School:
    """A matter on which practitioners differ: the first option is the house's."""

    slug: str
    text: str
    options: tuple[Option, ...]
    spec: bool = True
    """Its sides differ in the spec; the others order the shelves or plan the break-in."""


@dataclass(frozen=True)
class Vocabulary:
    """What a sport is asked about."""

    name: str
    disciplines: tuple[Option, ...]
    asks: tuple[Ask, ...]
    schools: tuple[School, ...]
    needs: tuple[str, ...] = ()
    drawn: str = ""
    """Which pictures the disciplines have."""

    def needed(self, discipline: str | None) -> tuple[str, ...]:
        """What a discipline can't do without; of all where none is said yet."""
        of = {a.field: a.disciplines for a in self.asks}
        return tuple(f for f in self.needs if discipline is None or not of[f] or discipline in of[f])
