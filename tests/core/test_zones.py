"""Zones learned beside each other: who says nothing in one is doubted in all, and a last is changed in all."""

from __future__ import annotations

from functools import cache

import numpy as np
import pytest

from kalon.core.fit.foot import FIT_ZONES
from kalon.core.learn.given import LearnIn, LearnOut
from kalon.core.learn.offsets import learn, learn_zones
from kalon.core.learn.said import is_careless
from tests.core.test_ordinary import evidence
from tests.ordinary import Habits, Shop, Untruth, a_season

SEEDS = range(4)
CARELESS = Untruth(fitters=(Habits("a", asks=1.0), Habits("b", asks=0.9), Habits("c", all_fine=1.0, asks=0.9)))
SHORTER = Untruth(changed_mm=-3.5)


def zones_of(shop: Shop) -> dict[str, LearnIn]:
    return {name: evidence(shop, zone) for zone, name in enumerate(FIT_ZONES)}


@cache
def beside(how: str, seed: int, visits: int) -> tuple[Shop, dict[str, LearnOut]]:
    """A season, and what is learned of its zones beside each other."""
    shop = a_season(seed, {"careless": CARELESS, "shorter": SHORTER, "as supposed": Untruth()}[how], visits=visits)
    return shop, {zone: of.out for zone, of in learn_zones(zones_of(shop), {}).items()}  # type: ignore[arg-type]


def named(found: LearnOut) -> set[str]:
    return {name for name, known in found.fitters.items() if is_careless(known)}


def test_one_zone_alone_is_as_ever() -> None:
    given = evidence(a_season(2, CARELESS, visits=60), 1)
    assert learn_zones({"ball_girth": given}, {})["ball_girth"][0] == learn(given)


def test_a_careless_fitter_is_named_in_every_zone_from_all_of_them() -> None:
    """A third of a hundred and ten fittings, all fine. Nobody else is named."""
    alone = together = 0
    for seed in SEEDS:
        shop, found = beside("careless", seed, 110)
        together += sum("c" in named(out) for out in found.values())
        alone += sum("c" in named(learn(one)) for one in zones_of(shop).values())
        assert not set().union(*(named(out) for out in found.values())) - {"c"}
        assert not set().union(*(named(out) for out in beside("as supposed", seed, 240)[1].values()))
    assert together >= 3 * len(SEEDS)
    assert alone < together


def test_a_last_changed_untold_is_seen_in_all_zones_together() -> None:
    """3.5 mm shorter half-way, of one model in five, and of none in another season: all zones together think what was
    changed twice as likely as each alone; what wasn't is hardly ever suspected."""
    alone, together, unchanged = [], [], []
    for seed in SEEDS:
        shop, found = beside("shorter", seed, 240)
        chance = {c.model: c.probability for c in found["length"].changed}
        each = [{c.model: c.probability for c in learn(one).changed} for one in zones_of(shop).values()]
        for model in (f"{m}/{k}" for m in range(3) for k in range(5)):
            if model.endswith("/0"):
                together.append(chance.get(model, 0.0))
                alone += [of.get(model, 0.0) for of in each]
            else:
                unchanged.append(chance.get(model, 0.0))
        of_none = {c.model: c.probability for c in beside("as supposed", seed, 240)[1]["length"].changed}
        unchanged += [of_none.get(f"{m}/{k}", 0.0) for m in range(3) for k in range(5)]

    assert np.mean(together) > 2 * np.mean(alone)
    assert np.mean(unchanged) < 0.05  # a tenth of the models of a year is changed, it is supposed
    assert max(unchanged) < 0.8


@pytest.mark.parametrize("how", ["careless", "shorter", "as supposed"])
def test_what_is_learned_beside_each_other_holds(how: str) -> None:
    """90 % intervals of every size that was tried, of all zones."""
    held: list[list[bool]] = [[], [], [], []]
    for seed in SEEDS:
        shop, found = beside(how, seed, 240 if how != "careless" else 110)
        tried = {(m, k, s) for v in shop.visits for m, k, s, _, _ in v.tried}
        for z, zone in enumerate(FIT_ZONES):
            for m, k, s in tried:
                line = found[zone].lines.get(f"{m}/{k}/{s}")
                if line:
                    held[z].append(abs(line.mean_mm - shop.now[m, k, s, z]) <= 1.645 * line.sd_mm)
    shares = [100 * float(np.mean(h)) for h in held]
    assert min(shares) >= (80 if how == "shorter" else 85), shares
    assert max(shares) <= 99, shares
