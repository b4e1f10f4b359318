"""What a shoe is good for by the rulebook: for every discipline whether it suits, serves or never does, with the
reason.

Each discipline is asked with the plainest brief it allows and, where a ground or a pedal has to be named, with each;
the
best of them stands. Bounds are house defaults.
"""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any, Literal, cast

from ..contract import Contract
from ..house import House
from ..rules.brief import Brief
from ..rules.spec import plain_answers, spec_for
from ..rules.words import SPORTS, Sport
from ..sports.every import facts_of
from .judged import judge, veto_of
from .shelf import Shoe
from .substitutes import ENOUGH_KNOWN, LEAST_SOLE, as_for

Verdict = Literal["suits", "serves", "poor", "never", "unknown"]
SUITS, SERVES, ENOUGH = 0.82, 0.64, 0.35
"""How well what is known of a shoe meets a spec before it suits, or serves; and how much has to be known."""
ORDER: dict[Verdict, int] = {"suits": 0, "serves": 1, "unknown": 2, "poor": 3, "never": 4}


class GoodFor(Contract):
    """One discipline: the verdict, the reason in words, under which answers, how well what is known meets it, how much
    that is, and what would tell more."""

    sport: Sport
    discipline: str
    name: str
    verdict: Verdict
    why: str
    on: dict[str, str] = {}
    each: dict[str, Verdict] = {}
    """The verdict on every ground or pedal that was asked for, by its value."""
    met: float | None
    known: float
    ask: list[str] = []


def _briefs(sport: Sport, discipline: str) -> Iterator[dict[str, Any]]:
    for answers in plain_answers(sport, discipline):
        yield {"sport": sport, "discipline": discipline, "body_kg": 70, "level": "competitive", **answers}


def _one(shoe: Shoe, brief: dict[str, Any], name: str, house: House) -> GoodFor:
    spec = spec_for(Brief.model_validate(brief), house=house)
    met = judge(shoe, spec, told=2)
    on = {k: str(v) for k, v in brief.items() if k in ("surface", "pedal", "bar") and v}
    found = {"sport": brief["sport"], "discipline": brief["discipline"], "name": name, "on": on, "met": met.share,
             "known": met.known, "ask": met.unknown[:3]}  # fmt: skip
    if ruled := veto_of(shoe, spec):
        return GoodFor(verdict="never", why=ruled.text, **found)
    if met.share is None or met.known < ENOUGH:
        return GoodFor(verdict="unknown", why="Too little is known of it.", **found)
    verdict: Verdict = "suits" if met.share >= SUITS else "serves" if met.share >= SERVES else "poor"
    said = met.helps if verdict == "suits" else met.costs or met.helps
    return GoodFor(verdict=verdict, why=" ".join(p.text for p in said[:2]) or "As wanted.", **found)


def good_for(shoe: Shoe, house: House) -> list[GoodFor]:
    """Every discipline of the shoe's sport, best first."""
    found = []
    for option in SPORTS[cast(Sport, shoe.sport)].disciplines:
        each = [_one(shoe, b, option.text, house) for b in _briefs(cast(Sport, shoe.sport), option.value)]
        on = {next(iter(g.on.values())): g.verdict for g in each if len(g.on) == 1}
        found.append(min(each, key=_rank).model_copy(update={"each": on}))
    return sorted(found, key=_rank)


def good_elsewhere(shoe: Shoe, house: House) -> list[GoodFor]:
    """Disciplines of other sports the shoe may serve, best first: its sole has to be one for that ground, and enough of
    it known, as for a substitute."""
    found = []
    for sport, words in SPORTS.items():
        asked = as_for(shoe, sport)
        kind = facts_of(sport).sole_kind
        if sport == shoe.sport or kind not in asked.choices:
            continue
        for option in words.disciplines:
            each = [
                _one(asked, b, option.text, house)
                for b in _briefs(sport, option.value)
                if any(
                    c.value == asked.choices[kind] and c.score >= LEAST_SOLE
                    for c in spec_for(Brief.model_validate(b), house=house).choices.get(kind, [])
                )
            ]
            if each and (best := min(each, key=_rank)).verdict in ("suits", "serves") and best.known >= ENOUGH_KNOWN:
                found.append(best)
    return sorted(found, key=_rank)


def _rank(found: GoodFor) -> tuple[int, float]:
    return ORDER[found.verdict], -(found.met or 0)
