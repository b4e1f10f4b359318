"""Ranking: fit first, vetoes out with a reason, and every place explained."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from kalon.core.fit.foot import foot_to_fit
from kalon.core.fit.size import ShoeSize, SizeRecommendIn, recommend_for
from kalon.core.match.judged import judge
from kalon.core.match.rank import rank
from kalon.core.match.score import membership, met_shares
from kalon.core.match.shelf import Shelf, Shoe, in_size, nearest_lines, shelf_gaps
from kalon.core.money import Money
from kalon.core.rules.engine import SpecBand
from kalon.core.rules.spec import fit_target
from tests.made import FEET, football, spec

SPEC = spec(football(surface="artificial_grass", history=["knee"]))
FOOT = foot_to_fit(FEET)
GOOD = Shoe(
    "good", "football", "synthetic", "plate", 0.0,
    {"mass_g": 200, "bend_n_mm_per_deg": 220, "heel_counter": 7, "cushion": 2},
    {"plate": "artificial_grass", "closure": "laces", "upper": "synthetic"},
)  # fmt: skip
BLADE = replace(GOOD, id="blade", choices=GOOD.choices | {"plate": "firm_ground_blade"})
HEAVY = replace(GOOD, id="heavy", properties=GOOD.properties | {"mass_g": 330})
LEATHER = replace(GOOD, id="leather", upper="leather_unlined", choices=GOOD.choices | {"upper": "leather_unlined"})


def shelf(shoes: list[Shoe], inner: list[list[float]] | None = None) -> Shelf:
    """Three sizes of every shoe around what these feet want."""
    rows = inner or [[length, length * 0.9, length * 0.915, length * 0.2385] for length in (273, 277, 281)]
    return Shelf(
        shoe=np.repeat(np.arange(len(shoes)), len(rows)),
        label=np.tile(np.array([41.5, 42, 42.5][: len(rows)]), len(shoes)),
        inner=np.array(rows * len(shoes), dtype=float),
        line_ids=[f"{s.id}-{i}" for s in shoes for i in range(len(rows))],
    )


def ranked(shoes: list[Shoe], **more: Any) -> Any:
    return rank(shoes, shelf(shoes, **more), SPEC, FOOT)


def test_one_place_a_shoe_by_its_best_size() -> None:
    found = ranked([GOOD, HEAVY])
    assert [p.shoe_id for p in found.places] == ["good", "heavy"]
    gaps_ = shelf_gaps([GOOD, HEAVY], shelf([GOOD, HEAVY]), SPEC, FOOT)
    assert found.places[0].chance == pytest.approx(gaps_.joint[:3].max(), abs=1e-4)
    assert found.places[0].line_id.startswith("good-")


def test_vetoed_shoes_are_out_with_the_reason() -> None:
    found = ranked([BLADE, GOOD])
    assert [p.shoe_id for p in found.places] == ["good"]
    assert found.vetoed[0].shoe_id == "blade"
    assert "knee" in found.vetoed[0].text.lower()


def test_a_plain_shoe_that_fits_beats_a_fine_one_that_does_not() -> None:
    shoes = [GOOD, HEAVY]
    tight = [[262, 236, 240, 62.5]]
    loose = [[277, 249.3, 253.5, 66.1]]
    both = Shelf(np.array([0, 1]), np.array([40.0, 42.0]), np.array(tight + loose), ["fine", "plain"])
    found = rank(shoes, both, SPEC, FOOT)
    assert found.places[0].shoe_id == "heavy"
    assert found.places[1].costs[0].text.startswith("Fit in this size")


def test_order_on_the_shelf_does_not_matter() -> None:
    one = ranked([GOOD, HEAVY, LEATHER])
    other = ranked([LEATHER, GOOD, HEAVY])
    assert {(p.shoe_id, p.score) for p in one.places} == {(p.shoe_id, p.score) for p in other.places}
    assert [p.shoe_id for p in one.places] == [p.shoe_id for p in other.places]


def test_costs_and_helps_say_the_amount() -> None:
    heavy, good = judge(HEAVY, SPEC), judge(GOOD, SPEC)
    assert heavy.share and good.share and heavy.share < good.share
    assert any("80 g above 160–250" in c.text for c in heavy.costs)
    assert any(h.text == "Plate: many short round studs, as wanted." for h in heavy.helps)


KNOWN = {**GOOD.properties, **GOOD.choices}


@given(st.sets(st.sampled_from(sorted(KNOWN))))
def test_what_is_not_known_leaves_the_total(forgotten: set[str]) -> None:
    """Forgetting what is as wanted never helps nor costs; forgetting what is off never costs."""
    bare = replace(
        GOOD,
        properties={k: v for k, v in GOOD.properties.items() if k not in forgotten},
        choices={k: v for k, v in GOOD.choices.items() if k not in forgotten},
    )
    off = replace(bare, properties=dict.fromkeys(bare.properties, 9999.0))
    met, whole, worst = judge(bare, SPEC), judge(GOOD, SPEC), judge(off, SPEC)
    assert met.known <= whole.known
    assert len(met.unknown) == len(whole.unknown) + len(forgotten)
    assert not any("not known" in c.text for c in met.costs)
    if met.share is None:
        assert met.known == 0
    else:
        assert worst.share is not None and worst.share <= met.share <= 1


def test_nothing_known_is_neither_right_nor_wrong() -> None:
    nothing = replace(GOOD, id="nothing", properties={}, choices={})
    wrong = replace(GOOD, id="wrong", properties=dict.fromkeys(GOOD.properties, 9999.0), choices={"upper": "knit"})
    found = ranked([nothing, wrong, GOOD])
    assert [p.shoe_id for p in found.places] == ["good", "nothing", "wrong"]
    place = found.places[1]
    assert place.spec is None
    assert place.known == 0
    assert place.unknown


def test_a_veto_on_what_is_not_known_asks_for_it() -> None:
    unseen = replace(GOOD, id="unseen", choices={"closure": "laces"})
    found = ranked([unseen, BLADE])
    assert [p.shoe_id for p in found.places] == ["unseen"]
    assert any(a.startswith("Plate not known: look before pulling.") and "blades" in a for a in found.places[0].asks)
    assert ranked([GOOD]).places[0].asks == []


@pytest.mark.parametrize(("value", "part"), [(10, 1), (20, 1), (15, 1), (5, 0.5), (25, 0.5), (0, 0), (40, 0)])
def test_membership_falls_in_a_straight_line(value: float, part: float) -> None:
    band = SpecBand(low=10, high=20, weight=1, reasons=[])
    assert membership(value, band, 10) == pytest.approx(part)


def test_leather_is_judged_by_its_own_band_and_as_the_size_station_does() -> None:
    lines = shelf([GOOD, LEATHER])
    found = shelf_gaps([GOOD, LEATHER], lines, SPEC, FOOT)
    for index, shoe in enumerate([GOOD, LEATHER]):
        sizes = [
            ShoeSize(label=b, length_mm=r[0], ball_girth_mm=r[1], instep_girth_mm=r[2], heel_width_mm=r[3])
            for b, r in zip(lines.label[:3], lines.inner[:3], strict=True)
        ]
        wanted = SizeRecommendIn(
            feet=FEET, target=fit_target(SPEC, shoe.upper), upper=shoe.upper, build="plate", sizes=sizes
        )
        chances = [s.chance for s in recommend_for(FOOT, wanted).sizes]
        assert found.joint[index * 3 : index * 3 + 3] == pytest.approx(chances)


def test_an_empty_shelf_ranks_nothing() -> None:
    nothing = Shelf(np.array([], dtype=np.intp), np.array([]), np.empty((0, 4)), [])
    assert rank([], nothing, SPEC, FOOT).places == []


def test_ties_are_broken_by_name() -> None:
    twin = replace(GOOD, id="a-twin")
    assert [p.shoe_id for p in ranked([GOOD, twin]).places] == ["a-twin", "good"]


@pytest.mark.parametrize("seed", range(6))
def test_weighing_the_nearest_sizes_finds_what_weighing_all_finds(seed: int) -> None:
    """Random runs of thirteen sizes: the best of the three weighed is the best of all, or as good as it."""
    rng = np.random.default_rng(seed)
    uppers = ("synthetic", "leather_unlined", "knit", "leather_lined")
    shoes = [replace(GOOD, id=f"s{i}", upper=uppers[i % 4]) for i in range(120)]
    lengths = np.arange(255, 298, 10 / 3)[:, None]
    inner = np.concatenate(
        [lengths * np.array([1, 0.9, 0.915, 0.2385]) * (1 + rng.normal(size=4) * 0.025) for _ in shoes]
    )
    many = len(lengths)
    lines = Shelf(np.repeat(np.arange(len(shoes)), many), np.tile(np.arange(many, dtype=float), len(shoes)), inner,
                  [str(i) for i in range(len(inner))])  # fmt: skip
    whole = shelf_gaps(shoes, lines, SPEC, FOOT).quality.reshape(len(shoes), many)
    for place in rank(shoes, lines, SPEC, FOOT).places:
        best = whole[int(place.shoe_id[1:])].max()
        assert place.fit == pytest.approx(best, abs=0.01)


@st.composite
def stockrooms(draw: st.DrawFn) -> tuple[list[Shoe], Shelf]:
    """Many shoes, as well known as it comes, in several sizes and colours."""
    count = draw(st.integers(1, 60))
    rng = np.random.default_rng(draw(st.integers(0, 10_000)))
    shoes = []
    for i in range(count):
        upper = ("synthetic", "knit", "leather_unlined")[i % 3]
        properties = {k: float(rng.uniform(0.5, 1.6)) * v for k, v in GOOD.properties.items() if rng.random() < 0.8}
        choices = {"upper": upper} | (
            {"plate": ["artificial_grass", "turf", "firm_ground_blade"][i % 3]} if i % 4 else {}
        )
        meant = ((), (), ("artificial_ground",), ("firm_ground",), ("soft_ground",))[int(rng.integers(0, 5))]
        shoes.append(
            replace(GOOD, id=f"s{i:03}", upper=upper, properties=properties, choices=choices, meant_for=meant,
                    price=None if i % 5 == 0 else Money(int(rng.integers(1, 9)) * 1000, "EUR"))
        )  # fmt: skip
    sizes = rng.integers(1, 9, count)
    length = np.concatenate([np.sort(rng.normal(277, 9, n)) for n in sizes])
    inner = length[:, None] * np.array([1, 0.9, 0.915, 0.2385]) + rng.normal(0, 2, (len(length), 4))
    sigma = rng.choice([0.4, 1.0, 3.0], len(length))[:, None] * np.array([1.0, 2.0, 2.1, 0.6])
    line_ids = [f"l{i}" for i in range(len(length))]
    return shoes, Shelf(np.repeat(np.arange(count), sizes), np.round(length / 10 * 3) / 2, inner, line_ids, sigma)


@given(stockrooms(), st.sampled_from(["usual", "cheapest", "near"]), st.integers(1, 12))
def test_the_few_shown_are_the_first_of_all(room: tuple[list[Shoe], Shelf], how: str, most: int) -> None:
    """The quick estimate leaves out nothing that would stand among the first when every line is weighed in full."""
    shoes, lines = room
    more: dict[str, Any] = {"cheapest": how == "cheapest"}
    if how == "near":
        more["nearness"] = {s.id: (int(s.id[1:]) * 37 % 60) / 60 for s in shoes}
    whole = rank(shoes, lines, SPEC, FOOT, **more)
    few = rank(shoes, lines, SPEC, FOOT, most=most, **more)
    assert few.places == whole.places[:most]
    assert few.vetoed == whole.vetoed[:most]
    assert (few.of, few.vetoed_of) == (len(whole.places), len(whole.vetoed))


@given(stockrooms())
def test_scores_as_arrays_are_the_scores_in_words(room: tuple[list[Shoe], Shelf]) -> None:
    shoes, lines = room
    first = np.unique(lines.shoe, return_index=True)[1]
    met = met_shares([shoes[i] for i in lines.shoe[first]], lines.label[first], SPEC)
    for i, row in enumerate(first):
        said = judge(in_size(shoes[lines.shoe[row]], float(lines.label[row])), SPEC)
        assert met.known[i] == pytest.approx(said.known)
        assert met.share[i] == pytest.approx(np.nan if said.share is None else said.share, nan_ok=True)


def test_a_colour_more_of_one_size_takes_no_place() -> None:
    """Three colours of the best size must not crowd its neighbours out."""
    rows = [[277, 249.3, 253.5, 66.1]] * 3 + [[281, 252.9, 257.1, 67]]
    labels = np.array([42.0, 42.0, 42.0, 42.5])
    colours = Shelf(np.zeros(4, dtype=int), labels, np.array(rows), list("abcd"))
    assert sorted(colours.label[nearest_lines([GOOD], colours, SPEC, FOOT)]) == [42.0, 42.5]


def test_what_is_less_known_promises_less() -> None:
    """Two shoes alike to the millimetre: the one read inside stands before the one known by its label."""
    known, guessed = replace(GOOD, id="known"), replace(GOOD, id="guessed")
    both = Shelf(np.array([0, 1]), np.array([42.0, 42.0]), np.array([[277, 249.3, 253.5, 66.1]] * 2), ["k", "g"],
                 np.array([[1, 2.5, 2.5, 1], [3, 5.7, 6.2, 1.7]]))  # fmt: skip
    found = rank([known, guessed], both, SPEC, FOOT)
    assert [p.shoe_id for p in found.places] == ["known", "guessed"]
    assert found.places[0].fit > found.places[1].fit
