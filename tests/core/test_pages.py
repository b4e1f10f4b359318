"""The generated pages: statements with what keeps them, and schools by disciplines, whole and current."""

from __future__ import annotations

import json
from pathlib import Path

import pytest

from kalon.core.rules.spec import RULES
from kalon.core.rules.words import SPORTS
from tests.core import interface, schools, statements

ALL_RULES = {r.id for rules in RULES.values() for r in rules}


def test_every_statement_names_rules_and_tests_there_are() -> None:
    tests = statements.known_tests()
    for s in statements.statements():
        assert s.waits or s.rules or s.tests, s.text
        assert set(s.rules) <= ALL_RULES, s.text
        assert set(s.tests) <= tests, s.text


def test_every_rule_keeps_a_statement() -> None:
    assert {r for s in statements.statements() for r in s.rules} == ALL_RULES


def test_the_page_of_statements_is_current() -> None:
    assert statements.PAGE.read_text() == statements.page()


@pytest.mark.parametrize(("sport", "slug"), [(s, k.slug) for s, w in SPORTS.items() for k in w.schools])
def test_every_side_of_every_school_moves_something_or_says_why_not(sport: str, slug: str) -> None:
    words = SPORTS[sport]  # type: ignore[index]
    school = next(k for k in words.schools if k.slug == slug)
    if slug in schools.OTHERWISE:
        assert not school.spec
        return
    for side in school.options[1:]:
        moved = [d.value for d in words.disciplines if schools.moves(sport, d.value, school, side.value)]  # type: ignore[arg-type]
        assert moved, f"{slug} {side.value} moves nothing in {sport}"
        assert len(moved) == len(words.disciplines) or (sport, slug) in schools.WHY_NOT


def test_the_page_of_schools_is_current() -> None:
    assert schools.PAGE.read_text() == schools.page()


@pytest.mark.parametrize("file", interface.WRITTEN, ids=lambda file: file.name)
def test_the_interface_draws_as_the_core_has_it(file: Path) -> None:
    """`python -m tests.core.interface` writes it."""
    assert json.loads(file.read_text()) == json.loads(interface.text(file))
