"""What the sides of a school come to, laid side by side, is what the spec of each side says."""

from __future__ import annotations

import pytest

from kalon.core.rules.brief import Brief
from kalon.core.rules.scales import scale
from kalon.core.rules.sides import sides_of
from kalon.core.rules.spec import plain_answers, spec_for
from kalon.core.rules.words import SPORTS, Sport

SCHOOLS = [(sport, s.slug) for sport, words in SPORTS.items() for s in words.schools]
DECIDED_ELSEWHERE = {"price", "softening"}
"""Schools of cost and of breaking in: the spec says nothing of theirs."""


@pytest.mark.parametrize(("sport", "slug"), SCHOOLS)
def test_every_school_of_the_spec_parts_somewhere(sport: Sport, slug: str) -> None:
    found = sides_of(sport, slug)
    assert (found is None) == (slug in DECIDED_ELSEWHERE)
    if not found:
        return
    options = {o.value for s in SPORTS[sport].schools if s.slug == slug for o in s.options}
    for drawn in found.drawn:
        assert set(drawn.bands) == options
        assert len(set(drawn.bands.values())) > 1
        assert all(drawn.low <= low <= high <= drawn.high for low, high in drawn.bands.values())
    assert set(found.leads) in (set(), options)
    assert found.drawn or len(set(found.leads.values())) > 1


@pytest.mark.parametrize(("sport", "slug"), [("football", "football_size"), ("lifting", "squat_heel")])
def test_what_is_drawn_is_what_the_spec_says(sport: Sport, slug: str) -> None:
    found = sides_of(sport, slug)
    assert found
    discipline = next(d.value for d in SPORTS[sport].disciplines if found.brief.startswith(d.text))
    for side, (low, high) in found.drawn[0].bands.items():
        brief = Brief.model_validate(
            {"sport": sport, "discipline": discipline, "body_kg": 70, "level": "competitive", "schools": {slug: side}}
            | plain_answers(sport)[0]
        )
        spec = spec_for(brief)
        bands = {scale(n, sport).name: (b.low, b.high) for n, b in spec.properties.items()}
        rooms = [(r.low, r.high) for r in spec.fit.values()]
        assert bands.get(found.drawn[0].name) == (low, high) or (low, high) in rooms
