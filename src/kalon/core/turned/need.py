"""Why this shoe, in three sentences: what counts most of the spec, each with the reason that is most theirs."""

from __future__ import annotations

import re
from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from ..contract import Contract
from ..rules.aloud import hand_word, said_word
from ..rules.engine import Reason, Spec
from ..shoes.anatomy import FEATURES

TELLS = 3
THEIRS = 1.5
"""What is wanted because of their own feet or body counts so much more here. House default."""
FIGURES = re.compile(r"\s*\([^)]*\d[^)]*\)")
"""Figures in brackets are the fitter's."""
BENCH = re.compile(r"kPa|N·m|N·mm|\d\s*%|of 10\b|\bby body and floor\b")
"""A sentence with a figure of the bench says nothing to somebody in the chair."""
EMPTY = re.compile(r"\beither\b.*\bserves?\b|matter of liking|can serve", re.IGNORECASE)
"""What explains no choice."""
TO_THEM = {"you noted a": "you told us of a", "this lifter needs": "you need", "this climber": "you"}
"""What rules say to the fitter, said to the athlete."""


class Because(Contract):
    """A thing about the shoe, and why."""

    what: str
    why: str


@dataclass(frozen=True)
class _Point:
    weight: float
    what: str
    reasons: Sequence[Reason]


def to_them(text: str) -> str:
    """A reason as the athlete hears it; empty where it says nothing to them."""
    plain = FIGURES.sub("", text)
    for words, theirs in TO_THEM.items():
        plain = plain.replace(words, theirs)
    return "" if BENCH.search(plain) or EMPTY.search(plain) else plain


def _is_theirs(reason: Reason, spec: Spec) -> bool:
    """Whether a rule speaks of this athlete: of their feet, or of what has to be minded of them."""
    return reason.rule.startswith("feet.") or any(c.slug in reason.rule for c in spec.concerns)


def _points(spec: Spec) -> Iterator[_Point]:
    for name, options in spec.choices.items():
        best = options[0] if options else None
        counts = spec.choice_weights.get(name)
        if best and (what := said_word(name, best.value)):
            yield _Point(counts.weight if counts else 1.0, what, best.reasons)
    for name, band in spec.properties.items():
        if what := hand_word(name, band.low, band.high, spec.sport):
            yield _Point(band.weight, what, band.reasons)
    for name, feature in spec.features.items():
        if feature.wish != "avoid":
            yield _Point(feature.weight, FEATURES[name].said, feature.reasons)


def because(spec: Spec) -> list[Because]:
    """What counts most, at most three, each with another reason; what has no reason in plain words is left out."""
    points = []
    for point in _points(spec):
        said = sorted((r for r in point.reasons if to_them(r.text)), key=lambda r: not _is_theirs(r, spec))
        if said:
            points.append((point.weight * (THEIRS if _is_theirs(said[0], spec) else 1.0), point.what, said))
    found: list[Because] = []
    used: set[str] = set()
    for _, what, said in sorted(points, key=lambda p: (-p[0], p[1])):
        why = next((to_them(r.text) for r in said if to_them(r.text) not in used), None)
        if why is None:
            continue
        used.add(why)
        found.append(Because(what=f"{what[:1].upper()}{what[1:]}", why=why))
        if len(found) == TELLS:
            break
    return found
