"""No spec contradicts itself, alone, blended, or beside a neighbour of which one thing is known better."""

from __future__ import annotations

import pytest

from kalon.core.rules import blend, engine
from kalon.core.rules.engine import Reason, Spec, SpecBand, SpecFeature
from kalon.core.rules.possible import possible
from tests.core.anybrief import any_briefs
from tests.core.contradictions import (
    all_of,
    numbers_beside_their_band,
    sentences_that_deny_each_other,
    spec_for,
    wants_what_it_cannot_have,
)
from tests.made import climbing, cycling, football, lifting, spec
from tests.much import much

SEEDS = range(6)


@pytest.mark.parametrize("seed", SEEDS)
def test_any_brief_is_without_contradictions(seed: int) -> None:
    """A hundred briefs a seed here, three thousand in all in `./kalon bench briefs`."""
    found = [t for given in any_briefs(much(100, 500), 40 + seed) for t in all_of(given)]
    assert not found, "\n".join(found[:10])


def test_what_a_dial_cannot_have_is_not_wanted_of_it(monkeypatch: pytest.MonkeyPatch) -> None:
    """A cover over the laces is wanted off road where laces lead, and not where a dial does; without the table it is."""
    laced, dialled = spec(cycling("mtb_trail", pedal="flat")), spec(cycling("mtb_xc", pedal="two_bolt"))
    assert laced.features["lace_cover"].wish == "want"
    assert "lace_cover" not in dialled.features
    for module in (engine, blend):
        monkeypatch.setattr(module, "possible", lambda features, _: dict(features))
    assert any("lace_cover" in t for t in wants_what_it_cannot_have(spec(cycling("mtb_xc", pedal="two_bolt"))))
    found = [t for g in any_briefs(150, 3) for t in wants_what_it_cannot_have(spec_for(g))]
    assert found


def test_of_opposites_the_weightier_is_wanted() -> None:
    def wish(weight: float) -> SpecFeature:
        return SpecFeature(wish="want", weight=weight, reasons=[])

    assert list(possible({"dark_colour": wish(0.3), "light_colour": wish(0.2)}, {})) == ["dark_colour"]
    assert list(possible({"dark_colour": wish(0.2), "light_colour": wish(0.2)}, {})) == []
    avoided = SpecFeature(wish="avoid", weight=0.8, reasons=[])
    assert list(possible({"token_heel": avoided, "thick_heel": wish(0.5)}, {})) == ["token_heel", "thick_heel"]


def saying(found: Spec, name: str, text: str) -> Spec:
    band = found.properties[name]
    reasons = [*band.reasons, Reason(rule="made.up", text=text, mark="HD")]
    return found.model_copy(
        update={
            "properties": found.properties | {name: SpecBand(low=band.low, high=band.high, weight=1, reasons=reasons)}
        }
    )


def test_the_checks_find_what_they_are_for() -> None:
    plain = spec(football())
    assert not list(numbers_beside_their_band(plain))
    assert list(numbers_beside_their_band(saying(plain, "cushion", "About 9 and no more: about 9 of 10.")))
    assert list(sentences_that_deny_each_other(saying(plain, "cushion", "Nothing presses. Extremely snug.")))
    assert not list(sentences_that_deny_each_other(spec(climbing(history=["numbness"]))))


def test_in_a_blend_a_number_is_said_of_the_discipline_it_is_of() -> None:
    """A deadlift and mixed training in one pair: "about 4 mm" is mixed training's, and the band is neither's."""
    also = [{"discipline": "gym_running", "share_pct": 40}]
    found = spec(lifting("mixed_training", also=also))
    own = spec(lifting("mixed_training"))
    said = [r.text for r in found.properties["drop_mm"].reasons]
    assert found.properties["drop_mm"].low > own.properties["drop_mm"].low
    assert all(t.startswith(("Mixed training:", "Mostly running")) for t in said)
    alone = [c.text for c in found.cautions if c.rule == "lifting.not_safety"]
    assert alone and alone[0].startswith("Mixed training: ")
