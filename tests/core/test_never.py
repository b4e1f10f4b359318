"""Who never finds anything is named, and who merely met good shoes isn't."""

from __future__ import annotations

import random

import pytest
from scipy.stats import fisher_exact

from kalon.core.learn.never import Verdicts, chance_of_so_few, never_finds, never_told, total


@pytest.mark.parametrize(
    ("own", "others"), [((156, 156), (330, 306)), ((80, 78), (200, 170)), ((60, 60), (60, 60)), ((90, 40), (90, 80))]
)
def test_the_chance_is_that_of_fishers_exact_test(own: tuple[int, int], others: tuple[int, int]) -> None:
    """Held against scipy's."""
    a, b = Verdicts(*own), Verdicts(*others)
    table = [[a.found, a.fine], [b.found, b.fine]]
    assert chance_of_so_few(a, b) == pytest.approx(fisher_exact(table, alternative="less").pvalue, rel=1e-6)


def _season(rng: random.Random, fitters: int, careless: bool) -> list[Verdicts]:
    """A season told without the product: pairs of four zones, felt together (a bad pair is bad in more than one), by
    fitters of whom some have harder athletes; the last may call everything fine."""
    found = []
    for f in range(fitters):
        hard = rng.uniform(0.06, 0.12)
        count = fine = 0
        for _ in range(rng.randint(30, 50)):
            bad = rng.random() < hard
            for _ in range(4):
                count += 1
                fine += (careless and f == fitters - 1) or rng.random() > (0.6 if bad else 0.05)
        found.append(Verdicts(count, fine))
    return found


def _named(season: list[Verdicts]) -> list[bool]:
    return [never_finds(v, total(season[:i] + season[i + 1 :])) for i, v in enumerate(season)]


def test_the_careless_one_is_named_and_hardly_ever_another() -> None:
    """300 seasons with one, 300 without: nine in ten are named, and of the honest not one in a hundred."""
    rng = random.Random(241201)
    with_one = [_named(_season(rng, 3, careless=True)) for _ in range(300)]
    without = [_named(_season(rng, 3, careless=False)) for _ in range(300)]
    assert sum(s[-1] for s in with_one) > 0.9 * 300
    honest = [n for s in with_one for n in s[:-1]] + [n for s in without for n in s]
    assert sum(honest) <= 0.01 * len(honest), f"{sum(honest)} of {len(honest)}"


def test_few_verdicts_name_nobody() -> None:
    assert not never_finds(Verdicts(59, 59), Verdicts(4000, 2000))
    assert not never_finds(Verdicts(400, 400), Verdicts(59, 20))
    assert never_finds(Verdicts(60, 60), Verdicts(4000, 2000))
    assert not never_finds(Verdicts(), Verdicts())


def test_it_is_said_with_the_numbers() -> None:
    told = never_told("Carla Finn", Verdicts(156, 156), Verdicts(330, 306))
    assert told.startswith("Carla Finn found everything fine in 156 verdicts; of the others' 330, 24 weren't.")
    assert never_told("Bo", Verdicts(156, 155), Verdicts(330, 306)).startswith("Bo found 1 not fine in 156 verdicts")
