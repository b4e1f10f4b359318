"""A made-up maker with hidden departures, and trials of its shoes by feet as measured."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from kalon.core.learn.given import LearnFitting, LearnLine, Sighting

MODELS, SIZES = 8, 12
LOW, HIGH = 4.0, 10.0
SMALLEST_MM, STEP_MM = 247.0, 3.33
FOOT_SIGMA_MM, VERDICT_SIGMA_MM = 1.4, 1.5


@dataclass(frozen=True)
class Maker:
    """A maker's sizes, and by line how far each truly departs from its label, mm."""

    lines: list[LearnLine]
    truth: dict[str, float]


def a_maker(rng: np.random.Generator, name: str = "M", models: int = MODELS) -> Maker:
    """Departures drawn with the usual spreads."""
    lines, truth = [], {}
    own = rng.normal(0, 2.5)
    for k in range(models):
        of_model = own + rng.normal(0, 1.5)
        for s in range(SIZES):
            key = f"{name}{k}/{s}"
            lines.append(LearnLine(id=key, maker=name, model=f"{name}{k}", base_mm=SMALLEST_MM + STEP_MM * s))
            truth[key] = of_model + rng.normal(0, 0.8)
    return Maker(lines, truth)


def tried(rng: np.random.Generator, maker: Maker, name: str, pairs: int = 2) -> LearnFitting:
    """A foot, measured, that tries some pairs of the size its measure asks for."""
    foot = rng.uniform(248, 276)
    measured = foot + rng.normal(0, FOOT_SIGMA_MM)
    seen = []
    for k in rng.choice(len(maker.lines) // SIZES, pairs, replace=False):
        size = int(np.clip(round((measured + (LOW + HIGH) / 2 - SMALLEST_MM) / STEP_MM), 0, SIZES - 1))
        line = maker.lines[k * SIZES + size]
        gap = line.base_mm + maker.truth[line.id] - foot + rng.normal(0, VERDICT_SIGMA_MM)
        verdict = "jam" if gap < LOW - 1.5 else "slack" if gap > HIGH + 1.5 else "fine"
        seen.append(Sighting.model_validate({"line": line.id, "verdict": verdict}))
    return LearnFitting(id=name, foot_mm=measured, foot_sigma_mm=FOOT_SIGMA_MM, low_mm=LOW, high_mm=HIGH, seen=seen)
