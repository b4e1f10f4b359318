"""Briefs nobody would write, five thousand of them in the large size: the spec answers every one, and never with an empty band."""

from __future__ import annotations

from random import Random
from typing import Any

from hypothesis import Phase, given, settings
from hypothesis import strategies as st

from kalon.core.rules.brief import Also, Brief
from kalon.core.rules.engine import Case, Spec
from kalon.core.rules.hand import HandWeight
from kalon.core.rules.scales import PROPERTIES
from kalon.core.rules.spec import fit_target, spec_for
from kalon.core.rules.words import SPORTS
from tests.core.law import FEET_OF
from tests.much import much

HISTORY = ["knee", "ankle", "heel_pain", "back", "hip", "achilles", "forefoot", "numbness", "diabetes", "surgery"]
NUMBERS = {
    "body_kg": (15, 250), "stature_mm": (900, 2300), "thigh_mm": (200, 700), "dorsiflexion_deg": (0, 60),
    "edge_mm": (1, 60), "stance_min": (0, 60), "small_edges_pct": (0, 100), "bar_kg": (0, 500),
    "ride_km": (1, 600), "power_w": (20, 2500), "cadence_rpm": (30, 200), "sessions_per_week": (0, 21),
    "budget": (0, 5000),
}  # fmt: skip


def answers(field: str) -> list[str]:
    """Every answer any sport offers to a question."""
    return sorted({o.value for words in SPORTS.values() for a in words.asks if a.field == field for o in a.options})


CHOICES = ("surface", "floor", "lunging", "pedal", "role", "wicket", "level", "toe_strength", "bar", "feel")
OPTIONS = {f: answers(f) for f in CHOICES}
GROUNDS = [f for f in CHOICES if f in Also.model_fields]


def anything(random: Random) -> Brief:
    """A brief with every answer drawn or left out."""
    sport = random.choice(sorted(SPORTS))
    words = SPORTS[sport]
    disciplines = [d.value for d in words.disciplines]
    values: dict[str, Any] = {"sport": sport, "discipline": random.choice(disciplines)}
    for field, options in OPTIONS.items():
        if field in words.needs or random.random() < 0.5:
            values[field] = random.choice(options)
    for field, (low, high) in NUMBERS.items():
        if field == "body_kg" or random.random() < 0.5:
            values[field] = random.choice([low, high, random.uniform(low, high)])
    for field in ("wet", "creased", "growing"):
        values[field] = random.random() < 0.5
    values["history"] = random.sample(HISTORY, random.choice([0, 0, 1, 2, 6]))
    values["schools"] = {s.slug: random.choice(s.options).value for s in words.schools}
    values["present"] = {"kind": random.choice(["running", "street", "this_sport"])}
    others = random.choices(disciplines, k=random.choice([0, 0, 1, 3]))
    values["also"] = [
        {"discipline": other, "share_pct": random.uniform(5, 31)}
        | {f: random.choice(OPTIONS[f]) for f in GROUNDS if f in words.needed(other) or random.random() < 0.5}
        for other in others
    ]
    return Brief.model_validate(values)


def wishes_of(random: Random) -> dict[str, HandWeight]:
    """Weights somebody wants moved."""
    names = random.sample([*PROPERTIES, "plate", "sole", "closure"], 3)
    return {n: HandWeight(to=random.uniform(0, 3), why="tried") for n in names}


def other_underside(choice: str, found: Spec) -> bool:
    """Whether one pair was asked to stand on studs and on a sole, the larger share's is followed, and that is said."""
    other = {"plate": "sole", "sole": "plate"}.get(choice)
    apart = next((c.text for c in found.cautions if c.rule == "engine.pulls_apart"), "")
    return other in found.choices and "what is underneath" in apart


@given(seed=st.integers(0, 2**48), feet=st.sampled_from(sorted(FEET_OF)))
@settings(max_examples=much(400, 5000), deadline=None, phases=[Phase.explicit, Phase.reuse, Phase.generate])
def test_no_brief_breaks_the_spec(seed: int, feet: str) -> None:
    random = Random(seed)
    brief, wishes = anything(random), wishes_of(random)
    found = spec_for(brief, FEET_OF[feet], weights=wishes)
    for name, band in {**found.properties, **found.fit}.items():
        assert band.low < band.high, name
        assert band.reasons, name
    for name, prop in found.properties.items():
        assert 0 <= prop.weight <= 3, name
    scored = set()
    for choice, ranked in found.choices.items():
        scored.add(choice)
        assert ranked[0].score == 1
        assert [c.score for c in ranked] == sorted((c.score for c in ranked), reverse=True)
        assert all(c.reasons for c in ranked)
    for veto in found.vetoes:
        assert veto.value not in {c.value for c in found.choices.get(veto.name, [])}
    for choice in {v.name for v in found.vetoes} - scored:
        said = [c for c in found.cautions if c.rule == f"engine.no_{choice}_left"]
        if other_underside(choice, found):
            continue
        asked = any(spec_for(part).choices.get(choice) for _, part in brief.each())
        assert said or not asked, f"nothing left of {choice}, and nothing said"
        assert all(c.must_acknowledge and "ruled out" in c.text for c in said)
    for upper in ("leather_lined", "synthetic"):
        assert fit_target(found, upper).length.low < fit_target(found, upper).length.high
    if brief.sport == "football" and "knee" in brief.history:
        assert "firm_ground_blade" not in {c.value for c in found.choices.get("plate", [])}
    assert Case(brief, FEET_OF[feet]).foot_mm > 0
