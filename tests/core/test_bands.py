"""A band after everything that was said of it: no rule's wish is turned round by another's, by a limit or by a scale."""

from __future__ import annotations

import re

import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from kalon.core.house import House
from kalon.core.rules.engine import Band, Limit, Move, Reason, _Draft
from kalon.core.rules.scales import PROPERTIES, scale
from kalon.core.rules.spec import every_plain_brief, spec_for
from kalon.core.rules.words import SPORTS, Sport
from tests.core.law import case_of

WHY = Reason(rule="a.rule", text="A reason.", mark="HD")
SHARE = st.floats(-0.4, 1.4).map(lambda x: round(x, 3))
STEP = st.tuples(st.floats(-0.8, 0.8), st.floats(0, 0.5)).map(lambda by: (by[0], by[0] + by[1]))
"""A rule's move: as a whole, or wider."""


@settings(max_examples=400, deadline=None)
@given(
    name=st.sampled_from(list(PROPERTIES)), sport=st.sampled_from(list(SPORTS)), ends=st.tuples(SHARE, SHARE),
    moves=st.lists(STEP, max_size=4), least=st.none() | SHARE, most=st.none() | SHARE,
    more=st.tuples(st.floats(0, 0.6), st.floats(0, 0.6)).map(sorted),
)  # fmt: skip
def test_a_rule_that_wants_more_never_gets_less(
    name: str, sport: Sport, ends: tuple[float, float], moves: list[tuple[float, float]], least: float | None,
    most: float | None, more: list[float],
) -> None:  # fmt: skip
    """And one that wants less never more: whatever the others said, by shares of the property's scale."""
    assume(abs(ends[0] - ends[1]) > 0.05)
    assume(least is None or most is None or least + 0.05 < most)
    drawn = scale(name, sport)

    def at(share: float) -> float:
        return drawn.low + share * (drawn.high - drawn.low)

    def band(*added: tuple[float, float]) -> tuple[float, float]:
        draft = _Draft(sport)
        low, high = sorted(ends)
        draft.take(Band(name, at(low), at(high), 1), WHY)
        for by_low, by_high in (*moves, *added):
            draft.take(Move(name, by_low * (drawn.high - drawn.low), by_high * (drawn.high - drawn.low)), WHY)
        draft.take(Limit(name, None if least is None else at(least), None if most is None else at(most)), WHY)
        return draft.ends(name)

    now = band()
    assert drawn.low <= now[0] < now[1] <= drawn.high
    up, down = band((more[0], more[1])), band((-more[1], -more[0]))
    assert up[0] >= now[0]
    assert up[1] >= now[1]
    assert down[0] <= now[0]
    assert down[1] <= now[1]


COMPLAINTS = ("knee", "back", "heel_pain", "forefoot")


@pytest.mark.parametrize("sport", [s for s in SPORTS if s in ("court", "field", "lifting")])
def test_who_complains_gets_no_less_cushion(sport: Sport) -> None:
    """At the scale's end too, at every weight: it was a wider band, and so a lower one."""
    for plain in every_plain_brief(sport):
        for kg in (50, 75, 95, 120):
            brief = plain.model_copy(update={"body_kg": kg})
            before = spec_for(brief).properties.get("cushion")
            for complaint in COMPLAINTS:
                after = spec_for(brief.model_copy(update={"history": [complaint]})).properties.get("cushion")
                if before and after and sport != "lifting":
                    assert (after.low, after.high) >= (before.low, before.high), (brief.discipline, kg, complaint)
                    assert after.low >= before.low


def test_who_weighs_more_skates_on_no_softer_boot() -> None:
    stiff = [
        spec_for(case_of(f"ice hockey body_kg={kg}").brief).properties["bend_n_mm_per_deg"] for kg in range(40, 140, 5)
    ]
    assert [b.low for b in stiff] == sorted(b.low for b in stiff)
    assert [b.high for b in stiff] == sorted(b.high for b in stiff)


@pytest.mark.parametrize("least", [8, 15, 22, 25])
def test_a_house_that_wants_a_higher_heel_has_it_and_no_stiff_ankle_a_lower(least: float) -> None:
    house = House(version=1, numbers={"squat.olympic_least": least})
    line = "lifting olympic body_kg=80 stature_mm=1750 dorsiflexion_deg="
    heels = [spec_for(case_of(f"{line}{a}").brief, house=house).properties["drop_mm"] for a in range(45, 10, -1)]
    assert [h.low for h in heels] == sorted(h.low for h in heels)
    assert [h.high for h in heels] == sorted(h.high for h in heels)
    assert all(h.low <= h.high and h.high >= least for h in heels)


@pytest.mark.parametrize("lift", ["olympic", "powerlifting_squat"])
def test_a_stiffer_ankle_gets_no_lower_heel(lift: str) -> None:
    for stature in (1550, 1750, 1950):
        line = f"lifting {lift} body_kg=80 stature_mm={stature} dorsiflexion_deg="
        heels = [spec_for(case_of(f"{line}{ankle}").brief).properties["drop_mm"] for ankle in range(45, 10, -1)]
        assert [h.low for h in heels] == sorted(h.low for h in heels)
        assert [h.high for h in heels] == sorted(h.high for h in heels)
        assert heels[0].high < heels[-1].high


@pytest.mark.parametrize("surface", ["soft_natural", "firm_natural", "hard_natural", "artificial_grass", "carpet_turf"])
@pytest.mark.parametrize("kg", [45, 75, 115])
def test_a_grounds_own_plate_isnt_condemned_by_its_own_reason(surface: str, kg: int) -> None:
    for wet in ("yes", "no"):
        plates = spec_for(case_of(f"football match surface={surface} wet={wet} body_kg={kg}").brief).choices["plate"]
        said = [r.text for r in plates[0].reasons if r.rule.startswith("football.grip.")]
        assert len(said) == 1
        assert "slip" not in said[0]
        assert "press through" not in said[0]
        if "best of all" in said[0]:
            grips = [float(m[1]) for c in plates for r in c.reasons if (m := re.search(r"grip ([\d.]+)", r.text))]
            assert grips[0] == max(grips)


def test_another_plate_is_still_told_what_it_does() -> None:
    plates = spec_for(case_of("football match surface=soft_natural wet=yes body_kg=95").brief).choices["plate"]
    said = {c.value: r.text for c in plates for r in c.reasons if r.rule.startswith("football.grip.")}
    assert "hold best of all, though little" in said["soft_ground"]
    assert "which an insole spreads" in said["soft_ground"]
    assert "slip" in said["firm_ground_round"]
    assert "press through the sole" in said["firm_ground_round"]
