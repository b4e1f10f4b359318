"""What is learned against closed forms and brute force: samples of the prior, weighted by what was seen."""

from __future__ import annotations

import math

import numpy as np
import pytest
from scipy.special import ndtr

from kalon.core.learn.give import StretchLearnIn, Worn, stretch_learn
from kalon.core.learn.given import Inside, LearnFitting, LearnIn, LearnLine, Sighting
from kalon.core.learn.offsets import learn

SPREAD = np.array([2.5, 1.5, 0.8])
DRAWS = 2_000_000


def two_makers() -> LearnIn:
    lines = [LearnLine(id=f"{m}{k}{s}", maker=m, model=f"{m}{k}", base_mm=270 + 4 * s)
             for m in "AB" for k in range(2) for s in range(2)]  # fmt: skip
    return LearnIn(
        lines=lines,
        fittings=[
            LearnFitting(id="f", foot_mm=265, foot_sigma_mm=1.4, low_mm=4, high_mm=8, seen=[
                Sighting(line="A00", gap_mm=3.2, sigma_mm=1.5), Sighting(line="B01", gap_mm=11.0, sigma_mm=1.0)]),
            LearnFitting(id="g", foot_mm=270, foot_sigma_mm=2.0, low_mm=4, high_mm=8, seen=[
                Sighting(line="A10", gap_mm=-2.0, sigma_mm=2.0), Sighting(line="A00", gap_mm=1.0, sigma_mm=2.0)]),
        ],
        insides=[Inside(line="A11", mm=276.5, sigma_mm=1.0)],
    )  # fmt: skip


def test_what_was_measured_gives_the_closed_form() -> None:
    """The posterior of a linear model with normal noise (any textbook of least squares), to a millionth."""
    given = two_makers()
    names = ["A", "B", "A0", "A1", "B0", "B1", *(line.id for line in given.lines), "f", "g"]
    at = {n: i for i, n in enumerate(names)}
    sd = np.array([2.5] * 2 + [1.5] * 4 + [0.8] * 8 + [1.4, 2.0])
    precision, push = np.diag(1 / sd**2), np.zeros(len(names))
    by_id = {line.id: line for line in given.lines}

    def site(line: str, foot: str | None, value: float, sigma: float) -> None:
        nonlocal precision, push
        h = np.zeros(len(names))
        h[[at[by_id[line].maker], at[by_id[line].model], at[line]]] = 1
        if foot:
            h[at[foot]] = -1
        precision = precision + np.outer(h, h) / sigma**2
        push = push + h * value / sigma**2

    for f in given.fittings:
        for s in f.seen:
            assert s.gap_mm is not None
            assert s.sigma_mm is not None
            site(s.line, f.id, s.gap_mm - by_id[s.line].base_mm + f.foot_mm, s.sigma_mm)
    site("A11", None, 276.5 - by_id["A11"].base_mm, 1.0)
    cov = np.linalg.inv(precision)
    mean = cov @ push
    found = learn(given)
    for name in ("A", "B"):
        assert found.makers[name].mean_mm == pytest.approx(mean[at[name]], abs=1e-6)
        assert found.makers[name].sd_mm == pytest.approx(cov[at[name], at[name]] ** 0.5, abs=1e-6)
    for name in ("f", "g"):
        assert found.fittings[name].foot_sd_mm == pytest.approx(cov[at[name], at[name]] ** 0.5, abs=1e-6)
    for line in given.lines:
        h = np.zeros(len(names))
        h[[at[line.maker], at[line.model], at[line.id]]] = 1
        assert found.lines[line.id].mean_mm == pytest.approx(h @ mean, abs=1e-6)
        assert found.lines[line.id].sd_mm == pytest.approx(float(h @ cov @ h) ** 0.5, abs=1e-6)


BOTH, JAM, SLACK = ["jam", "slack"], ["jam"], ["slack"]
Case = list[tuple[str, str, list[str]]]
CASES: list[Case] = [
    [("A", "jam", BOTH)], [("A", "slack", BOTH)], [("A", "fine", BOTH)], [("A", "fine", JAM)], [("B", "fine", SLACK)],
    [("A", "jam", BOTH), ("A+", "fine", BOTH)], [("A", "jam", BOTH), ("B", "jam", BOTH)],
    [("A", "slack", BOTH), ("B", "fine", JAM), ("A+", "slack", BOTH)], [("A", "fine", JAM), ("A+", "slack", BOTH)],
]  # fmt: skip
CONTRADICTING: Case = [("A", "fine", JAM), ("A+", "jam", JAM)]
"""Of one fitter's two verdicts one says nothing, and which stays open: two hills, of which a normal is no picture."""


@pytest.mark.parametrize(
    ("case", "known_by"), [*((c, by) for c in CASES for by in ("nobody", "a fitter")), (CONTRADICTING, "nobody")]
)
def test_what_was_said_agrees_with_brute_force(case: Case, known_by: str) -> None:
    """Two million draws of the prior, each weighted by how likely it makes what was said: within 0.1 mm of the mean and
    a tenth of the spread, for maker, line and foot. A verdict is felt with 1.5 mm, one in twenty with 4.5; a fitter's
    band is off by 1 mm, and one in twenty of their verdicts says nothing (of one fitter in seven any share)."""
    lines = [LearnLine(id="A", maker="A", model="A1", base_mm=270), LearnLine(id="A+", maker="A", model="A1", base_mm=274),
             LearnLine(id="B", maker="B", model="B1", base_mm=272)]  # fmt: skip
    low, high, foot = 4.0, 8.0, 265.0
    seen = [
        Sighting.model_validate({"line": line, "verdict": verdict, "sides": sides}) for line, verdict, sides in case
    ]
    fitter = "f" if known_by == "a fitter" else None
    fitting = LearnFitting(id="f", fitter=fitter, foot_mm=foot, foot_sigma_mm=1.4, low_mm=low, high_mm=high, seen=seen)
    found = learn(LearnIn(lines=lines, fittings=[fitting]))
    rng = np.random.default_rng(11)
    maker = {m: rng.normal(0, SPREAD[0], DRAWS) for m in "AB"}
    model = {m: rng.normal(0, SPREAD[1], DRAWS) for m in "AB"}
    line = {n.id: maker[n.maker] + model[n.maker] + rng.normal(0, SPREAD[2], DRAWS) for n in lines}
    off = rng.normal(0, 1.4, DRAWS)
    empty, band = np.zeros(DRAWS), np.zeros(DRAWS)
    rates = {"jam": 0.2, "fine": 0.6, "slack": 0.2}
    if fitter:
        empty = np.where(rng.random(DRAWS) < 0.9 * 0.05 + 0.1, rng.random(DRAWS), rng.beta(1, 19, DRAWS))
        band = rng.normal(0, 1, DRAWS)
    weight = np.ones(DRAWS)
    for s in seen:
        base = next(n.base_mm for n in lines if n.id == s.line)
        felt = base + line[s.line] - foot - off + band
        below, above = (
            0.95 * ndtr((edge - felt) / 1.5) + 0.05 * ndtr((edge - felt) / 4.5) for edge in (low - 1.5, high + 1.5)
        )
        below = below if "jam" in s.sides else 0.0
        above = above if "slack" in s.sides else 1.0
        likely = {"jam": below, "fine": above - below, "slack": 1 - above}[str(s.verdict)]
        weight = weight * ((1 - empty) * likely + empty * rates[str(s.verdict)])
    weight /= weight.sum()

    def compare(values: np.ndarray, mean: float, sd: float) -> None:
        truth = float(weight @ values)
        spread = math.sqrt(float(weight @ (values - truth) ** 2))
        assert mean == pytest.approx(truth, abs=0.1)
        assert sd == pytest.approx(spread, rel=0.1)

    compare(maker["A"], found.makers["A"].mean_mm, found.makers["A"].sd_mm)
    compare(off + foot, found.fittings["f"].foot_mm, found.fittings["f"].foot_sd_mm)
    for name, values in line.items():
        compare(values, found.lines[name].mean_mm, found.lines[name].sd_mm)
    if fitter:
        compare(-band, found.fitters["f"].offset_mm, found.fitters["f"].sd_mm)


@pytest.mark.parametrize("count", [1, 5, 25])
def test_what_follow_ups_teach_agrees_with_importance_sampling(count: int) -> None:
    """Kind and model drawn from their spreads, new gaps from theirs, weighted by what was seen: mean within 0.03, spread
    within 15 %, on the logarithm."""
    rng = np.random.default_rng(count)
    evidence = []
    for _ in range(count):
        new = float(rng.uniform(-10, -2))
        true = new + rng.normal(0, 1.5)
        gives = 8.5 * 1.3
        settled = true + gives * -math.expm1(true / gives) if true < 0 else true
        evidence.append(Worn(kind="k", model="m", c_mm=8.5, tau_h=8, new_mm=new, new_sigma_mm=1.5, hours=20,
                             seen_mm=true + (settled - true) * -math.expm1(-20 / 8) + rng.normal(0, 1.5),
                             seen_sigma_mm=1.5))  # fmt: skip
    found = stretch_learn(StretchLearnIn(evidence=evidence))
    draws = 60_000
    kind = rng.normal(0, 0.30, draws)
    both = kind + rng.normal(0, 0.25, draws)
    log = np.zeros(draws)
    for w in evidence:
        news = w.new_mm + w.new_sigma_mm * rng.normal(0, 1, 200)
        capacity = w.c_mm * np.exp(both)
        total = np.zeros(draws)
        for n in news:
            stretch = capacity * -np.expm1(min(n, 0.0) / capacity)
            expected = n + stretch * -np.expm1(-w.hours / w.tau_h)
            total += np.exp(-0.5 * ((w.seen_mm - expected) / w.seen_sigma_mm) ** 2)
        log += np.log(total)
    weight = np.exp(log - log.max())
    weight /= weight.sum()
    for values, gives_ in ((kind, found.kinds["k"]), (both, found.models["m"])):
        mean = float(weight @ values)
        sd = math.sqrt(float(weight @ (values - mean) ** 2))
        assert gives_.log_mean == pytest.approx(mean, abs=0.03)
        assert gives_.log_sd == pytest.approx(sd, rel=0.15)
