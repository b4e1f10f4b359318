"""Every fact is one, whichever door it comes in by: the table of facts and doors, walked."""

from __future__ import annotations

from typing import Any

import pytest

from kalon.core.feet.noted import noted
from kalon.core.rules.engine import Spec
from kalon.core.rules.spec import SpecIn, spec
from tests.core import facts
from tests.core.facts import FACTS, Fact
from tests.core.law import case_of

WALKS = [pytest.param(f, brief, id=f"{f.name}: {brief}") for f in FACTS for brief in f.briefs]


def asked(brief: str, given: dict[str, Any]) -> Spec:
    """The spec of a brief in a few words, with what came in by one door."""
    values = case_of(brief).brief.model_dump(mode="json", exclude_none=True)
    given = dict(given)
    for name in ("note", "wears_now"):
        if values.get(name) and name in given:
            given[name] = f"{values[name]}; {given[name]}"
    return spec(SpecIn.model_validate(values | given))


BESIDE = ("caution.pain", "cycling.saddle")
"""What is said because something was said at all: a word that hurts, and that something is worn now."""


def decided(found: Spec) -> dict[str, Any]:
    """What a spec decides, without the words it says it in."""
    return {
        "bands": {n: (b.low, b.high, b.weight) for n, b in found.properties.items()},
        "rooms": {n: (r.low, r.high) for n, r in found.fit.items()},
        "choices": {n: [(c.value, c.score) for c in ranked] for n, ranked in found.choices.items()},
        "vetoes": sorted({(v.name, v.value) for v in found.vetoes}),
        "features": {n: (f.wish, f.weight) for n, f in found.features.items()},
        "cautions": sorted((c.rule, c.must_acknowledge) for c in found.cautions if c.rule not in BESIDE),
        "unfelt": found.unfelt,
    }


@pytest.mark.parametrize(("fact", "brief"), WALKS)
def test_a_fact_is_one_by_every_door(fact: Fact, brief: str) -> None:
    first, *doors = fact.doors
    usual = decided(asked(brief, fact.doors[first]))
    plain = facts.feet() if "looked at" in first else {}
    if fact.name != "Football in a hall":
        assert usual != decided(asked(brief, plain)), "the fact tells nothing here"
    for door in doors:
        found = decided(asked(brief, fact.doors[door]))
        pains = {("caution.feet_pain", True), ("caution.surgery", True), ("caution.pain", False)}
        if fact.name not in ("An operation",):  # a word that hurts says so beside what it hurts
            for what in (found, usual):
                what["cautions"] = [c for c in what["cautions"] if c not in pains]
        if fact.name == "Football in a hall":
            found, usual = ({k: x[k] for k in ("bands", "rooms", "unfelt")} for x in (found, usual))
        assert found == usual, door


DENIED = (
    "no knee trouble", "never had ankle pain", "not pregnant", "no bunions", "ankle boots, knee-length socks", "no orthotics",
    "high collar, low heel", "rides under 10 miles", "under 12 minutes", "likes a high arch support", "her shoes are 3 years old", "size 11, wide", "under 90 kg", "knee to wall 9 cm", "no flat feet",
)  # fmt: skip


@pytest.mark.parametrize("note", DENIED)
def test_what_isnt_so_isnt_heard(note: str) -> None:
    assert not set(noted(note)) - {"pain"}


@pytest.mark.parametrize(
    ("note", "slug"),
    [
        ("she is 9 years old", "growing"), ("twisted his ankle in June", "ankle"), ("knee brace on the right", "knee"), ("jumper's knee", "knee"),
        ("patellar tendon", "knee"), ("U14 squad", "growing"), ("he is in a growth spurt", "growing"), ("heel spur", "heel_pain"),
        ("fused big toe", "stiff_toe"), ("pes cavus", "high_arch"), ("fallen arches", "low_arch"), ("hallux valgus", "bunion"),
        ("post-partum, 4 months", "pregnancy"), ("amputee, left", "prosthesis"), ("prescribed insoles", "orthosis"),
        ("68 years old", "older"), ("lower back pain", "back"), ("right leg is longer", "leg_length"),
    ],
)  # fmt: skip
def test_what_fitters_write_is_heard(note: str, slug: str) -> None:
    assert slug in noted(note)


def test_a_bunion_looked_at_and_not_there_isnt_made_one_by_a_note() -> None:
    seen = facts.feet(bunion=False) | {"note": "bunion on both feet"}
    assert decided(asked("football match surface=firm_natural", seen)) == decided(
        asked("football match surface=firm_natural", facts.feet(bunion=False))
    )


def test_the_page_of_facts_is_current() -> None:
    """`python -m tests.core.facts` writes it."""
    assert facts.PAGE.read_text() == facts.page()
