"""What is learned from trials: the checks agreed on, order, interval coverage; what follow-ups teach; feet from afar."""

from __future__ import annotations

import math
import random

import numpy as np
import pytest
from pydantic import ValidationError

from kalon.core.errors import BadInput, read
from kalon.core.learn.give import GiveSpread, StretchLearnIn, Worn, stretch_learn
from kalon.core.learn.given import Inside, LearnFitting, LearnIn, LearnLine, Sighting
from kalon.core.learn.offsets import learn
from kalon.core.learn.paired import paired
from kalon.core.learn.worn import RIGHT_MM, FootFromWornIn, Traced, WornShoe, foot_from_worn
from kalon.core.shoes.inner import Offset
from tests.much import much
from tests.season import Maker, a_maker, tried


def simulated(seed: int, fittings: int) -> tuple[LearnIn, Maker]:
    """One maker, eight models of twelve sizes; two pairs tried a fitting."""
    rng = np.random.default_rng(seed)
    maker = a_maker(rng)
    return LearnIn(lines=maker.lines, fittings=[tried(rng, maker, str(n)) for n in range(fittings)]), maker


def error_of(given: LearnIn, maker: Maker) -> tuple[float, float]:
    """Root mean square error of the lines, mm, and the share of their 90 % intervals that hold the truth."""
    found = learn(given)
    off = np.array([found.lines[line.id].mean_mm - maker.truth[line.id] for line in given.lines])
    sd = np.array([found.lines[line.id].sd_mm for line in given.lines])
    return float(np.sqrt(np.mean(off**2))), float(np.mean(np.abs(off) < 1.6449 * sd))


def test_trials_teach_as_much_as_agreed() -> None:
    """Error 3.0 mm at the start, at most 1.5 after 20 fittings and 1.15 after 60; 90 % intervals hold 85–95 %."""
    seeds = range(much(12, 24))
    at = {n: [error_of(*simulated(seed, n)) for seed in seeds] for n in (0, 20, 60)}
    error = {n: float(np.sqrt(np.mean([e**2 for e, _ in found]))) for n, found in at.items()}
    held = {n: float(np.mean([h for _, h in found])) for n, found in at.items()}
    assert error[0] == pytest.approx(3.0, abs=0.5)
    assert error[20] <= 1.5
    assert error[60] <= 1.15
    assert 0.85 <= held[20] <= 0.95
    assert 0.85 <= held[60] <= 0.95


def test_the_order_of_the_evidence_does_not_matter() -> None:
    given, _ = simulated(5, 30)
    shuffled = list(given.fittings)
    random.Random(1).shuffle(shuffled)
    turned = [f.model_copy(update={"seen": f.seen[::-1]}) for f in shuffled]
    one, other = learn(given), learn(given.model_copy(update={"fittings": turned}))
    for name, line in one.lines.items():
        assert other.lines[name].mean_mm == pytest.approx(line.mean_mm, abs=1e-6)
        assert other.lines[name].sd_mm == pytest.approx(line.sd_mm, abs=1e-6)


def test_several_pairs_on_one_foot_share_its_error() -> None:
    """Everything slack on one foot speaks rather for a smaller foot than for five makers running long."""
    lines = [LearnLine(id=m, maker=m, model=f"{m} one", base_mm=275) for m in "ABCDE"]
    seen = [Sighting(line=m, verdict="slack") for m in "ABCDE"]
    fitting = LearnFitting(id="f", foot_mm=265, foot_sigma_mm=2, low_mm=5, high_mm=10, seen=seen)
    found = learn(LearnIn(lines=lines, fittings=[fitting]))
    alone = learn(LearnIn(lines=lines[:1], fittings=[fitting.model_copy(update={"seen": seen[:1]})]))
    assert found.fittings["f"].foot_mm < alone.fittings["f"].foot_mm - 0.5
    assert found.makers["A"].mean_mm < alone.makers["A"].mean_mm


def test_nothing_seen_leaves_what_is_usual() -> None:
    found = learn(LearnIn(lines=[LearnLine(id="a", maker="M", model="K", base_mm=280)]))
    assert (found.makers["M"].mean_mm, found.makers["M"].sd_mm) == (0, pytest.approx(2.5))
    assert found.lines["a"].sd_mm == pytest.approx(math.sqrt(2.5**2 + 1.5**2 + 0.8**2))
    assert learn(LearnIn(lines=[])).lines == {}


def test_a_size_nobody_tried_is_as_unsure_as_its_model_and_sizes_among_themselves() -> None:
    """What is known of a model, and 0.8 mm of its own: also where it was read, which brings it to that reading."""
    given, _ = simulated(3, 30)
    spare = LearnLine(id="spare", maker="M", model="M0", base_mm=300)
    found = learn(given.model_copy(update={"lines": [*given.lines, spare]}))
    habit = found.with_maker["M0"]
    assert found.lines["spare"].sd_mm == pytest.approx(math.hypot(habit.sd_mm, 0.8), rel=1e-6)
    assert found.lines["spare"].mean_mm == pytest.approx(habit.mean_mm, abs=1e-9)
    once = Inside(line="spare", mm=303.0, sigma_mm=0.3)
    read_once = learn(given.model_copy(update={"lines": [*given.lines, spare], "insides": [once]}))
    assert read_once.lines["spare"].sd_mm < 0.3
    assert read_once.lines["spare"].mean_mm == pytest.approx(3.0, abs=0.4)


def test_absurd_verdicts_neither_break_nor_overflow() -> None:
    """A size 30 mm too long called jam, a hundred times: finite, and surer, not absurd."""
    line = LearnLine(id="a", maker="M", model="K", base_mm=300)
    fittings = [
        LearnFitting(
            id=str(n), foot_mm=265, foot_sigma_mm=1, low_mm=5, high_mm=8, seen=[Sighting(line="a", verdict="jam")]
        )
        for n in range(100)
    ]
    found = learn(LearnIn(lines=[line], fittings=fittings))
    assert -40 < found.lines["a"].mean_mm < -10
    assert 0 < found.lines["a"].sd_mm < 3


@pytest.mark.parametrize(
    "wrong",
    [
        {"lines": [{"id": "a", "maker": "M", "model": "K", "base_mm": 280}] * 2},
        {"lines": [{"id": "a", "maker": "M", "model": "K", "base_mm": 280},
                   {"id": "b", "maker": "N", "model": "K", "base_mm": 280}]},
        {"lines": [], "insides": [{"line": "x", "mm": 280, "sigma_mm": 1}]},
        {"lines": [{"id": "a", "maker": "M", "model": "K", "base_mm": 280}],
         "fittings": [{"id": "f", "foot_mm": 265, "foot_sigma_mm": 1, "seen": [{"line": "a"}]}]},
        {"lines": [{"id": "a", "maker": "M", "model": "K", "base_mm": 280}],
         "fittings": [{"id": "f", "foot_mm": 265, "foot_sigma_mm": 1, "low_mm": 9, "high_mm": 3}]},
    ],
)  # fmt: skip
def test_what_cannot_be_is_refused(wrong: dict[str, object]) -> None:
    with pytest.raises(BadInput):
        read(LearnIn, wrong)


def worn_pair(rng: np.random.Generator, kind: str, model: str, factor: float, table: float = 8.5) -> tuple[Worn, float]:
    """A follow-up of a kind that gives `factor` of the table, and the gap it would settle at."""
    new, sigma = rng.uniform(-12, -2), 1.5
    true_new, hours = new + rng.normal(0, sigma), rng.uniform(5, 60)
    capacity = table * factor
    settled = true_new + capacity * (1 - math.exp(true_new / capacity)) if true_new < 0 else true_new
    seen = true_new + (settled - true_new) * (1 - math.exp(-hours / 8)) + rng.normal(0, 1.5)
    return Worn(kind=kind, model=model, c_mm=table, tau_h=8, new_mm=new, new_sigma_mm=sigma, hours=hours, seen_mm=seen,
                seen_sigma_mm=1.5), settled  # fmt: skip


def test_after_thirty_follow_ups_the_next_settled_gap_is_known_as_well_as_said() -> None:
    """90 % intervals of the next settled gap hold 85–95 %, over kinds drawn as the spreads say."""
    held, count = 0, 0
    for seed in range(much(40, 80)):
        rng = np.random.default_rng(seed)
        kind = rng.normal(0, 0.30)
        models = {m: kind + rng.normal(0, 0.25) for m in "abc"}
        names = [str(rng.choice(list("abc"))) for _ in range(30)]
        evidence = [worn_pair(rng, "leather", m, math.exp(models[m]))[0] for m in names]
        found = stretch_learn(StretchLearnIn(evidence=evidence)).models
        for model in "abc":
            _, truth = worn_pair(rng, "leather", model, math.exp(models[model]))
            pair = worn_pair(rng, "leather", model, math.exp(models[model]))[0]
            new = pair.new_mm + rng.normal(0, pair.new_sigma_mm)
            capacity = 8.5 * math.exp(models[model])
            truth = new + capacity * -math.expm1(new / capacity) if new < 0 else new
            draws = 8.5 * np.exp(rng.normal(found[model].log_mean, found[model].log_sd, 4000))
            likely = pair.new_mm + rng.normal(0, pair.new_sigma_mm, 4000)
            settled = np.where(likely < 0, likely + draws * -np.expm1(np.minimum(likely, 0) / draws), likely)
            low, high = np.quantile(settled, [0.05, 0.95])
            held += low <= truth <= high
            count += 1
    assert 0.85 <= held / count <= 0.95


def test_a_kind_that_gives_more_is_found_out_and_shared_by_its_models() -> None:
    rng = np.random.default_rng(2)
    evidence = [worn_pair(rng, "leather", m, 1.6, 4.0)[0] for m in "ab" for _ in range(40)]
    evidence += [worn_pair(rng, "knit", "k", 0.7)[0] for _ in range(20)]
    found = stretch_learn(StretchLearnIn(evidence=evidence))
    assert 1.2 < found.kinds["leather"].factor < 1.8
    assert found.kinds["knit"].factor < 0.95
    assert found.models["a"].log_sd < found.kinds["leather"].log_sd + 0.2
    alone = stretch_learn(StretchLearnIn(evidence=evidence[:5], spread=GiveSpread(kind=0.3, model=0.25)))
    assert alone.kinds["leather"].log_sd > found.kinds["leather"].log_sd
    assert stretch_learn(StretchLearnIn(evidence=[])).kinds == {}


def told(label: float, says: str, maker: str = "", sport: str = "street") -> WornShoe:
    return WornShoe.model_validate({"label": label, "says": says, "maker": maker, "sport": sport})


@pytest.mark.parametrize("sport", [s for s in RIGHT_MM if s != "climbing"])
def test_one_right_shoe_tells_a_foot(sport: str) -> None:
    found = foot_from_worn(FootFromWornIn(worn=[told(42, "right", "A", sport)]))
    assert found.length.sd_mm <= 4.5
    assert found.length.mm < 280
    assert found.conflicts == []


def test_a_worn_shoes_makers_own_step_counts() -> None:
    """A woman's 8 of a maker that runs one ahead is another's 8.5: half a barleycorn, 4.2 mm, longer."""
    found = {
        (label, ahead): foot_from_worn(
            FootFromWornIn(worn=[WornShoe(system="us_women", label=label, runs_ahead=ahead, says="right")])
        ).length.mm
        for label, ahead in ((8, None), (8, 1.0), (8, 1.5), (8.5, None))
    }
    assert found[8, 1.5] == found[8, None]
    assert found[8, 1.0] == pytest.approx(found[8.5, None], abs=0.01)
    assert found[8, 1.0] > found[8, None] + 1.0


def test_more_shoes_that_agree_never_widen_it() -> None:
    """Shoes drawn from one foot as they would be; each more makes the foot as sure or surer."""
    rng = np.random.default_rng(8)
    for _ in range(much(20, 60)):
        foot, shoes, before = rng.normal(265, 10), [], math.inf
        for n in range(6):
            label = round((foot + 13 + rng.normal(0, 6)) / 6.667 * 2) / 2
            gap = label * 6.667 + rng.normal(0, 3) - foot
            says = "tight" if gap < 8.5 else "loose" if gap > 17.5 else "right"
            shoes.append(told(label, says, f"maker {n}"))
            found = foot_from_worn(FootFromWornIn(worn=shoes))
            if found.conflicts:
                break
            assert found.length.sd_mm <= before + 0.02
            before = found.length.sd_mm


def test_contradicting_shoes_are_said() -> None:
    found = foot_from_worn(FootFromWornIn(worn=[told(40, "loose"), told(43, "tight", "B")]))
    assert any("EU 40 is loose" in c for c in found.conflicts)
    assert foot_from_worn(FootFromWornIn(worn=[told(43, "loose"), told(41, "tight", "B")])).conflicts == []


def test_height_a_tracing_and_a_known_maker_each_make_it_surer() -> None:
    nothing = foot_from_worn(FootFromWornIn(worn=[]))
    assert (nothing.length.mm, nothing.length.sd_mm) == (262, 16)
    tall = foot_from_worn(FootFromWornIn(stature_mm=1900, worn=[]))
    assert tall.length.mm == pytest.approx(288.8)
    assert tall.length.sd_mm == 9
    shoe = told(42, "right", "A")
    plain = foot_from_worn(FootFromWornIn(stature_mm=1750, worn=[shoe]))
    learned = shoe.model_copy(update={"learned": Offset(mean_mm=-2, sd_mm=1)})
    surer = foot_from_worn(FootFromWornIn(stature_mm=1750, worn=[learned]))
    assert surer.length.sd_mm < plain.length.sd_mm
    assert surer.length.mm < plain.length.mm
    traced = FootFromWornIn(
        worn=[shoe], tracing={"length_mm": Traced(mm=268, sigma_mm=1.2), "ball_width_mm": Traced(mm=104, sigma_mm=1)}
    )
    found = foot_from_worn(traced)
    assert found.length.sd_mm < 1.3
    assert found.ball_girth.sd_mm < plain.ball_girth.sd_mm
    assert "paper" in plain.next
    assert "paper" not in found.next


def test_a_size_nobody_sells_is_refused() -> None:
    with pytest.raises((BadInput, ValidationError)):
        told(90, "right")


BOYS_A = (13.2, 8.2, 10.9, 14.3, 10.7, 6.6, 9.5, 10.8, 8.8, 13.3)
BOYS_B = (14.0, 8.8, 11.2, 14.2, 11.8, 6.4, 9.8, 11.3, 9.3, 13.6)


def test_the_boys_shoes() -> None:
    """Box, Hunter and Hunter, Statistics for Experimenters (1978), table 4.3: wear of two sole materials, one on each
    foot of ten boys: mean difference 0.41, s 0.387, t 3.35 with nine degrees of freedom."""
    found = paired(BOYS_A, BOYS_B)
    assert found.mean == pytest.approx(0.41)
    assert found.sd == pytest.approx(0.387, abs=5e-4)
    assert found.t == pytest.approx(3.35, abs=5e-3)
    assert found.low is not None
    assert 0 < found.low < 0.41 < (found.high or 0)
    assert paired([1.0], [2.0]).t is None
    with pytest.raises(ValueError, match="nothing"):
        paired([], [])
