"""The spec said aloud: hand words before numbers, and one sentence for the whole shoe."""

from __future__ import annotations

import pytest

from kalon.core.rules.aloud import HAND_WORDS, SAID_IN_SPORT, hand_words, sentence, size_said
from kalon.core.rules.scales import PROPERTIES, scale
from kalon.core.rules.spec import every_plain_brief, spec_for
from kalon.core.rules.words import SPORTS, Sport
from tests.core.law import case_of


@pytest.mark.parametrize("sport", list(SPORTS))
def test_every_plain_spec_is_said_in_one_sentence_without_a_number(sport: Sport) -> None:
    for brief in every_plain_brief(sport):
        said = sentence(spec_for(brief))
        assert said[0].isupper()
        assert said.endswith(".")
        assert "street" in said or "toes flat" in said
        assert "_" not in said
        assert not any(c.isdigit() for c in said)
        assert len(said) < 240


@pytest.mark.parametrize("name", [n for n in PROPERTIES if n != "mass_g"])
def test_a_hand_tells_every_property_and_words_rise_with_it(name: str) -> None:
    """Mass is for the scales, not for the hand."""
    words = HAND_WORDS[name]
    assert [upto for upto, _ in words] == sorted(upto for upto, _ in words)
    assert words[-1][0] >= PROPERTIES[name].high
    assert len({word for _, word in words}) == len(words)


@pytest.mark.parametrize(("sport", "name"), list(SAID_IN_SPORT))
def test_a_sport_of_its_own_scale_has_words_up_to_its_end(sport: str, name: str) -> None:
    assert SAID_IN_SPORT[sport, name][-1][0] >= scale(name, sport).high


def test_what_is_as_good_is_said_beside_it() -> None:
    """Leather and microfibre tie on firm grass: the alphabet doesn't choose, nor the size by another than is named."""
    said = sentence(spec_for(case_of("football match surface=firm_natural").brief))
    assert "microfibre that holds its shape or thin leather" in said
    assert said.endswith("half a UK size under your street shoe, in leather a UK size.")


def test_what_is_said_of_some_shoes() -> None:
    boot = case_of("football match surface=firm_natural feel=leather")
    said = sentence(spec_for(boot.brief))
    assert said.startswith("Round studs, ")
    assert "leather" in said
    assert "laces" in said
    assert said.endswith("a UK size under your street shoe.")
    flat = hand_words(spec_for(case_of("lifting deadlift").brief))
    assert flat["drop_mm"] == "no drop"
    assert flat["cushion"] == "hardly any foam"
    assert "grips" in sentence(spec_for(case_of("cycling town pedal=flat").brief))


@pytest.mark.parametrize(("line", "said"), [
    ("football match surface=firm_natural feel=synthetic", "half a UK size under your street shoe"),
    ("football match surface=firm_natural", "half a UK size under your street shoe, in leather a UK size"),
    ("football match surface=firm_natural feel=leather", "a UK size under your street shoe"),
    ("football match surface=firm_natural school.football_size=street_with_room feel=synthetic",
     "about your street size"),
    ("climbing indoor_general", "two UK sizes under your street shoe"),
])  # fmt: skip
def test_the_size_is_said_against_a_street_shoe(line: str, said: str) -> None:
    assert size_said(spec_for(case_of(line).brief)) == said
