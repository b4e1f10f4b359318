"""Learning that doesn't grow: begun from where it stood it ends where it ends from nothing; a suspected change is tried
on its model alone; what follow-ups show adds up; half-years without anything seen cost nothing."""

from __future__ import annotations

import math
from datetime import date
from functools import cache

import numpy as np
import pytest

from kalon.core.fit.foot import FIT_ZONES
from kalon.core.learn import linear
from kalon.core.learn.effects import Change
from kalon.core.learn.faster import Faster
from kalon.core.learn.give import GRID, StretchLearnIn, Worn, curve, kind_and_models, of_kind, stretch_learn
from kalon.core.learn.given import Inside, LearnFitting, LearnIn, LearnLine, LearnOut, Sighting
from kalon.core.learn.linear import CORE, NO_EFFECT, NOWHERE, Effects, Seen, System
from kalon.core.learn.observe import Told
from kalon.core.learn.offsets import LearnedZone, learn, learn_zones
from kalon.core.learn.untold import alone, days_of
from kalon.core.learn.zone import FitterSaid, evidence_of, posterior
from tests.core.test_ordinary import evidence
from tests.ordinary import Habits, Untruth, a_season

SEASONS = {
    "as supposed": Untruth(),
    "one says all is fine": Untruth(fitters=(Habits("a", asks=1.0), Habits("b", asks=0.9), Habits("c", all_fine=1.0))),
    "a last 3.5 mm shorter": Untruth(changed_mm=-3.5),
}


@cache
def season(how: str) -> dict[str, LearnIn]:
    shop = a_season(1, SEASONS[how], visits=120)
    return {name: evidence(shop, zone) for zone, name in enumerate(FIT_ZONES)}


def without(given: LearnIn, fittings: int) -> LearnIn:
    return given.model_copy(update={"fittings": given.fittings[:-fittings]})


def farthest(one: LearnOut, other: LearnOut) -> float:
    """By how much two disagree at most, mm."""
    apart = [0.0]
    for of in ("makers", "models", "lines"):
        a, b = getattr(one, of), getattr(other, of)
        assert a.keys() == b.keys()
        apart += [max(abs(a[n].mean_mm - b[n].mean_mm), abs(a[n].sd_mm - b[n].sd_mm)) for n in a]
    return max(apart)


@pytest.mark.parametrize("how", SEASONS)
def test_begun_where_it_stood_it_ends_as_from_nothing(how: str) -> None:
    """The season without its last two fittings, then with them, begun from there: to a millionth of a millimetre as if
    all had been learned at once. What the two fittings say is more than that by far."""
    whole = season(how)
    before: dict[str, LearnedZone] = learn_zones({z: without(g, 2) for z, g in whole.items()}, {})  # type: ignore
    on = learn_zones(whole, {}, {z: of.stood for z, of in before.items()})  # type: ignore
    anew = learn_zones(whole, {})  # type: ignore
    assert max(farthest(on[z].out, anew[z].out) for z in anew) < 1e-6
    assert farthest(before["length"].out, without_new(anew["length"].out, before["length"].out)) > 0.01


def without_new(out: LearnOut, other: LearnOut) -> LearnOut:
    """Only what the other has too."""
    kept = {of: {n: v for n, v in getattr(out, of).items() if n in getattr(other, of)}
            for of in ("makers", "models", "lines")}  # fmt: skip
    return out.model_copy(update=kept)


def test_what_others_say_of_a_fitter_counts_though_begun_where_all_stood_still() -> None:
    """Known everywhere else to say nothing: begun from the posterior that doesn't know it, it is heard all the same."""
    given = season("as supposed")["length"]
    fitter = given.fittings[0].fitter
    assert fitter is not None
    told = [2.0 * n for n in range(84)]  # every share a little likelier than the one below
    careless = {fitter: FitterSaid(0.0, 0.0, told, 50)}
    still, _ = posterior(evidence_of(given), {})
    begun, _ = posterior(evidence_of(given, careless), {}, still.sites)
    anew, _ = posterior(evidence_of(given, careless), {})
    assert np.max(np.abs(begun.mean - anew.mean)) < 1e-5
    assert np.max(np.abs(begun.mean - still.mean)) > 0.01


@pytest.mark.parametrize("how", ["as supposed", "a last 3.5 mm shorter"])
def test_a_change_tried_on_its_model_alone_is_as_likely_as_in_all_there_is(how: str) -> None:
    """By how much likelier a change half-way makes the evidence, reckoned on the model's own sites and on everything
    anew: within a tenth, of a logarithm that goes over more than one, for every model with trials."""
    given = season(how)["length"]
    of = evidence_of(given)
    known, on = posterior(of, {})
    told = []
    for model, days in sorted(days_of(of).items()):
        half = int(np.median(days[1]))
        if days[1].min() < half:
            part = alone(of, known, on, model)
            own = part.likely({model: Change(half, 1.0)}) - part.likely({})
            whole = posterior(of, {model: Change(half, 1.0)}, known.sites)[0].evidence - known.evidence
            told.append((own, whole))
    assert len(told) > 5
    assert max(abs(a - b) for a, b in told) < 0.1
    if how != "as supposed":
        assert max(b for _, b in told) - min(b for _, b in told) > 1


def joint(effects: Effects, foot_sigma: np.ndarray, seen: Seen, tau: np.ndarray, nu: np.ndarray) -> np.ndarray:
    """Mean and covariance of effects and feet as one normal, by inverting all of it: mean first, then the rows."""
    count, feet = len(effects.mean), len(foot_sigma)
    precision = np.zeros((count + feet, count + feet))
    precision[:count, :count] = effects.precision
    precision[range(count, count + feet), range(count, count + feet)] = foot_sigma**-2.0
    push = np.append(effects.precision @ effects.mean, np.zeros(feet))
    for cell, foot, t, n in zip(seen.cell, seen.foot, tau, nu, strict=True):
        h = np.zeros(count + feet)
        h[[p for p in effects.of[cell] if p != NO_EFFECT]] = 1
        if foot != NOWHERE:
            h[count + foot] = -1
        precision += t * np.outer(h, h)
        push += n * h
    cov = np.linalg.inv(precision)
    return np.vstack([cov @ push, cov])


@pytest.mark.parametrize("apart", [False, True])
def test_the_posterior_is_that_of_everything_in_one_matrix(apart: bool, monkeypatch: pytest.MonkeyPatch) -> None:
    """Twelve cells of five effects, three feet with up to six sites, one read in the shoe: as the whole inverted; with
    all in one, and with three of the effects as blocks, of which two of the feet had several on."""
    monkeypatch.setattr(linear, "WORTH", 1.0)
    rng = np.random.default_rng(3)
    of = np.array([[a, b, NO_EFFECT, NO_EFFECT] for a in (0, 1) for b in (2, 3, 4) for _ in range(2)])
    block = np.array([CORE, CORE, 0, 1, 2]) if apart else None
    effects = Effects(of, np.zeros(12), rng.normal(0, 1, 5), np.diag(rng.uniform(0.2, 2, 5)), block)
    foot = np.array([0, 0, 1, 0, 2, NOWHERE, 0, 1, 0, 0, 1])
    cell = rng.integers(0, 12, len(foot))
    none = np.zeros(len(foot))
    told = Told(none, none, none + 1, none, none.astype(int), none.astype(int))
    seen = Seen(cell, foot, none, none + 1, told)
    tau, nu = rng.uniform(0, 2, len(foot)), rng.normal(0, 1, len(foot))
    sigma = np.array([0.8, 1.4, 2.0])
    system = System(effects, sigma, seen)
    found = system.solve(tau, nu)
    mean, *rows = joint(effects, sigma, seen, tau, nu)
    cov = np.array(rows)
    assert found.mean == pytest.approx(mean[:5], abs=1e-9)
    known = [np.array([0, 1, b]) for b in (2, 3, 4)] if apart else [np.arange(5)]
    for places in known:
        assert system.between(found, places[:, None], places[None, :]) == pytest.approx(
            cov[np.ix_(places, places)], abs=1e-9
        )
    assert (len(system.joined) > 0) == apart
    assert found.foot_mean == pytest.approx(mean[5:], abs=1e-9)
    assert found.foot_var == pytest.approx(np.diag(cov)[5:], abs=1e-9)
    mean_of, var_of = system.of_sites(found)
    for k, i in enumerate(np.flatnonzero(foot != NOWHERE)):
        h = np.zeros(8)
        h[of[cell[i]][:2]], h[5 + foot[i]] = 1, -1
        assert mean_of[k] == pytest.approx(h @ mean, abs=1e-9)
        assert var_of[k] == pytest.approx(h @ cov @ h, abs=1e-9)
    whole = np.linalg.inv(cov)
    prior = float(np.sum(np.log(sigma**-2.0)) + np.log(np.diag(effects.precision)).sum())
    likely = 0.5 * (
        mean @ whole @ mean - np.linalg.slogdet(whole)[1] + prior - effects.mean @ effects.precision @ effects.mean
    )
    assert found.log_whole + 0.5 * system.log_prior == pytest.approx(likely + 0.5 * float(
        effects.mean @ effects.precision @ effects.mean), abs=1e-9)  # fmt: skip
    if apart:
        with pytest.raises(ValueError, match="two blocks"):
            system.between(found, np.array([2]), np.array([3]))
    else:
        assert system.state_foot(found, tau) == pytest.approx(cov[:5, 5:], abs=1e-9)


def test_half_years_in_which_nothing_was_seen_are_walked_over_in_one() -> None:
    """Two readings of a model's only size ten years apart: the later one as a walk of 0.5 mm a square-rooted year from
    the earlier leaves it, and no effect for the years between."""
    line = LearnLine(id="a", maker="M", model="m", base_mm=270, last="k")
    days = (date(2015, 3, 1), date(2025, 3, 1))
    insides = [
        Inside(line="a", mm=mm, sigma_mm=0.5, on=day, last="k") for mm, day in zip((271, 274), days, strict=True)
    ]
    tried = LearnFitting(id="f", foot_mm=265, foot_sigma_mm=1, seen=[
        Sighting(line="a", gap_mm=5, sigma_mm=400 / 7, on=days[1], last="k")])  # fmt: skip
    given = LearnIn(lines=[line], fittings=[tried], insides=insides)
    _, on = posterior(evidence_of(given), {})
    assert len(on.effects.mean) == 1 + 2 + 1  # maker, model then and now, the size's own
    years = (days[1] - days[0]).days // 182 * 182 / 365.25
    shared, walk = 2.5**2 + 1.5**2 + 0.8**2, 0.25 * years
    prior = np.array([[shared, shared], [shared, shared + walk]]) + 0.25 * np.eye(2)
    late = np.array([shared, shared + walk]) @ np.linalg.solve(prior, np.array([1.0, 4.0]))
    assert learn(given.model_copy(update={"spread_mm": None})).lines["a"].mean_mm == pytest.approx(late, abs=0.02)


def test_a_point_is_found_in_fewer_rounds_than_plainly() -> None:
    """x = cos(x) ten times over, coupled (the textbook's slow one): to 1e-10 in less than half the plain rounds."""

    def rounds(faster: bool) -> int:
        x, mix = np.linspace(0.6, 0.8, 10), Faster(1.0)
        for n in range(1, 300):
            to = np.cos(0.9 * x + 0.1 * x.mean())
            if np.max(np.abs(to - x)) < 1e-10:
                assert np.cos(x) == pytest.approx(x, abs=1e-6)
                return n
            x = mix.after(x, to - x) if faster else to
        raise AssertionError("not found")

    assert rounds(faster=True) < rounds(faster=False) / 2


def worn(n: int, model: str) -> Worn:
    rng = np.random.default_rng(n)
    given = 3.0 * math.exp(rng.normal(0.3, 0.2)) * (1 - math.exp(-25 / 12))
    return Worn(kind="leather/plate", model=model, c_mm=3.0, tau_h=12, new_mm=-4, new_sigma_mm=0.8, hours=25,
                seen_mm=-4 + given + rng.normal(0, 0.7), seen_sigma_mm=0.7)  # fmt: skip


def test_what_follow_ups_show_adds_up() -> None:
    """Curves of lots added are the curve of all; kind and models from the sums are those from every follow-up."""
    of = {m: [worn(n, m) for n in range(k, k + 9)] for k, m in enumerate(("a", "b", "c"))}
    sums = np.array([curve(w[:4]) + curve(w[4:]) for w in of.values()])
    for model, one in zip(of, sums, strict=True):
        assert one == pytest.approx(curve(of[model]), abs=1e-9)
    kind, models = kind_and_models(sums, of_kind(sums))
    anew = stretch_learn(StretchLearnIn(evidence=[w for lot in of.values() for w in lot]))
    for one, other in zip((kind, *models), (anew.kinds["leather/plate"], *anew.models.values()), strict=True):
        assert (one.log_mean, one.log_sd) == (
            pytest.approx(other.log_mean, abs=1e-9),
            pytest.approx(other.log_sd, abs=1e-9),
        )
    assert kind.log_mean > 0.1
    assert len(GRID) == sums.shape[1]
