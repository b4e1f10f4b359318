"""The pedal stroke: what a sole that bends gives away, where the cleat goes, and what a stack or a click changes.

The sole is a torsion spring at the pedal; of what it stores, half comes back too late. House default.
"""

from __future__ import annotations

import math

from pydantic import Field

from ..contract import Contract, Positive

LOST_SHARE = 0.5
"""Share of the stored energy that is lost. House default."""
MM_PER_CLICK = 1.0
"""Cable a dial takes up a click. Common practice, no source."""
FIRST_HEAD, FIFTH_HEAD = 0.72, 0.62
"""Metatarsal heads from the heel, shares of foot length. From memory."""
SWEEP_N_MM_PER_DEG = (300, 700, 1500, 3000, 4500, 6000)


class PedalIn(Contract):
    """A rider's power and cadence, crank and sole; the rest only for the cleat, the saddle and the dial."""

    power_w: float = Field(gt=0, le=2500)
    cadence_rpm: float = Field(gt=20, le=220)
    crank_mm: float = Field(172.5, ge=100, le=220)
    sole_n_mm_per_deg: float = Field(ge=10, le=50_000)
    offset_mm: float = Field(15, gt=0, le=60)
    foot_mm: float | None = Field(None, ge=120, le=380)
    heel_to_ball_mm: Positive | None = None
    stack_change_mm: float = Field(0, ge=-40, le=40)
    girth_change_mm: float = Field(0, ge=-30, le=30)


class PedalSweep(Contract):
    """The loss with another sole."""

    sole_n_mm_per_deg: float
    loss_w: float


class PedalOut(Contract):
    """Force at the hardest point, what is lost, and the settings that follow."""

    peak_force_n: float
    loss_w: float
    loss_pct: float
    sweep: list[PedalSweep]
    cleat_from_heel_mm: float | None
    saddle_change_mm: float
    dial_clicks: int


def peak_force_n(power_w: float, cadence_rpm: float, crank_mm: float) -> float:
    """Force on one pedal at its hardest, N: twice the mean tangential force."""
    return 2 * power_w / (cadence_rpm * 2 * math.pi / 60) / (crank_mm / 1000)


def loss_w(force_n: float, offset_mm: float, sole_n_mm_per_deg: float, cadence_rpm: float) -> float:
    """Power two legs leave in the sole, W."""
    moment = force_n * offset_mm
    stored_j = 0.5 * moment**2 / sole_n_mm_per_deg * math.pi / 180 / 1000
    return LOST_SHARE * stored_j * 2 * cadence_rpm / 60


def sole_for_loss(force_n: float, offset_mm: float, loss: float, cadence_rpm: float) -> float:
    """The sole, N·mm per degree, that loses just so much."""
    return loss_w(force_n, offset_mm, 1.0, cadence_rpm) / loss


def pedal(given: PedalIn) -> PedalOut:
    """What this sole loses under this rider, and with others; cleat place, saddle height and dial clicks."""
    force = peak_force_n(given.power_w, given.cadence_rpm, given.crank_mm)

    def lost(sole: float) -> float:
        return loss_w(force, given.offset_mm, sole, given.cadence_rpm)

    fifth = None
    first = given.heel_to_ball_mm
    if given.foot_mm:
        first = first or FIRST_HEAD * given.foot_mm
        fifth = FIFTH_HEAD * given.foot_mm
    return PedalOut(
        peak_force_n=force,
        loss_w=lost(given.sole_n_mm_per_deg),
        loss_pct=100 * lost(given.sole_n_mm_per_deg) / given.power_w,
        sweep=[PedalSweep(sole_n_mm_per_deg=k, loss_w=lost(k)) for k in SWEEP_N_MM_PER_DEG],
        cleat_from_heel_mm=(first + fifth) / 2 if first and fifth else None,
        saddle_change_mm=given.stack_change_mm,
        dial_clicks=round(given.girth_change_mm / MM_PER_CLICK),
    )
