"""The normal state behind every trial, and how what was only said is taken into it.

The inside of a size is what its label says plus a sum of effects (maker, model, the size's own, see `effects.py`); the
true foot of a measuring its measure plus an error; a fitter moves the band. What is seen is of a *cell*, a sum of
effects, less a foot. What was measured (a gap, an inside) is a normal site and exact. What was only said is taken in by
expectation propagation (Minka 2001): each verdict is replaced by the normal that leaves the posterior's mean and
variance as they would be with it. A verdict that would take knowledge away (it may have said nothing) moves the mean
and leaves the spread. All are updated at once until nothing moves, so their order cannot matter.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace

import numpy as np

from .faster import Faster
from .linear import Effects, Seen, System
from .observe import SHARES, Fitters, Floats, Ints, Told, judged_fitters, listen, usual_fitters

ROUNDS, STILL = 400, 3e-8
"""Most rounds of updating, and the change of a natural parameter or of a share below which they stand still: begun
anywhere, they end within 1e-6 mm."""
DAMPING = 0.9
LEAST_PRECISION = 1e-12
UNSURER = 0.3
"""A verdict that surprises may take away so large a share of what else is known of its gap."""


@dataclass(frozen=True)
class Known:
    """The posterior: mean and covariance of effects and of each foot's error; of every cell its mean and spread; by
    site the log of how likely what was said was, given all the others (not a number for what was measured)."""

    mean: Floats
    between: Callable[[Ints, Ints], Floats]
    """Covariance of effects with others, element-wise, mm²; of no two of different blocks."""
    foot_mean: Floats
    foot_sd: Floats
    likely: Floats
    cell_mean: Floats
    cell_sd: Floats
    cell_thought: Floats
    cell_var: Floats
    """The same without what a cell has of its own, mm and mm²."""
    state_foot: Callable[[], Floats]
    """Covariance of effects with each foot's error, mm², (effects, feet), where all is core."""
    evidence: float
    """Log of how likely all that was seen is, up to what was measured's own constant."""
    sites: Start
    pull: Floats
    """Which way each site pulls what is thought of its gap, mm⁻¹: the slope of its log likelihood."""


@dataclass(frozen=True)
class Start:
    """What the sites stood for in an earlier posterior, to begin another from: precision and natural mean, (n,)."""

    tau: Floats
    nu: Floats
    fitters: Fitters


def part_told(told: Told, at: Ints) -> Told:
    """Some of what was told."""
    return Told(told.low[at], told.high[at], told.sigma[at], told.tail[at], told.fitter[at], told.verdict[at])


def infer(
    effects: Effects, foot_sigma: Floats, seen: Seen, elsewhere: Floats | None = None, start: Start | None = None,
    *, judge: bool = True, still: float = STILL,
) -> Known:  # fmt: skip
    """The posterior of everything from everything seen. `foot_sigma`, mm, is how unsure each measuring of a foot is;
    `elsewhere`, (`SHARES`, fitters), what is known of the fitters' empty verdicts. `start` only saves rounds; where
    nobody is to `judge`, its fitters stay. It ends where nothing moves more than `still`."""
    if elsewhere is None:
        elsewhere = np.zeros((len(SHARES), 0))
    system = System(effects, foot_sigma, seen)
    measured = np.isfinite(seen.mm)
    tau = np.where(measured, 1 / seen.sigma**2, 0.0)
    nu = np.where(measured, np.where(measured, seen.mm, 0.0) * tau, 0.0)
    if start:
        tau, nu = np.where(measured, tau, start.tau), np.where(measured, nu, start.nu)
    found = system.solve(tau, nu)
    likely, log_sites, pull = np.full(len(tau), np.nan), 0.0, np.zeros(len(tau))
    said = np.flatnonzero(~measured)
    of_foot = np.flatnonzero(np.isin(np.flatnonzero(system.on_foot), said))
    told = part_told(seen.told, said)
    who = start.fitters if start else usual_fitters(told, elsewhere)
    faster = Faster(DAMPING)
    for _ in range(ROUNDS if len(said) else 0):
        mean, var = (a[of_foot] for a in system.of_sites(found))
        rest = np.maximum(1 / var - tau[said], LEAST_PRECISION)
        cavity_var = 1 / rest
        cavity_mean = cavity_var * (mean / var - nu[said])
        heard = listen(told, who, cavity_mean, cavity_var)
        likely[said], pull[said] = heard.log_likely, (heard.mean - cavity_mean) * rest
        new_tau = np.maximum(1 / heard.var - rest, 0.0)
        new_nu = np.where(new_tau > 0, heard.mean / heard.var - cavity_mean * rest, (heard.mean - cavity_mean) * rest)
        judged = judged_fitters(told, who, heard.log_shoe, heard.empty, elsewhere) if judge else who
        pushed = cavity_mean * rest + nu[said]
        whole = rest + tau[said]
        at_cavity = np.log(whole / rest) + cavity_mean**2 * rest - pushed**2 / whole
        log_sites = float(np.sum(heard.log_likely + 0.5 * at_cavity))
        stands = np.concatenate([tau[said], nu[said], who.nothing, who.given])
        change = np.concatenate([new_tau, new_nu, judged.nothing, judged.given]) - stands
        if np.max(np.abs(change)) < still:
            who = judged
            break
        guess = faster.after(stands, change).reshape(4, -1)
        tau[said], nu[said] = np.maximum(guess[0], 0.0), guess[1]
        if judge:
            nothing, given = np.clip(guess[2], 0.0, 1.0), np.clip(guess[3], 1e-9, 1.0)
            who = replace(judged, nothing=nothing, given=given)
        found = system.solve(tau, nu)
    cell_mean, cell_sd = system.cells(found, tau, nu)
    felt = np.flatnonzero(measured & system.on_foot)
    pull[felt] = nu[felt] - tau[felt] * (found.cell_mean[seen.cell[felt]] - found.foot_mean[seen.foot[felt]])
    return Known(
        mean=found.mean,
        between=lambda one, other: system.between(found, one, other),
        foot_mean=found.foot_mean,
        foot_sd=np.sqrt(found.foot_var),
        likely=likely,
        cell_mean=cell_mean,
        cell_sd=cell_sd,
        cell_thought=found.cell_mean,
        cell_var=found.cell_var,
        state_foot=lambda: system.state_foot(found, tau),
        evidence=found.log_whole
        + log_sites
        + 0.5 * system.log_prior
        - 0.5 * float(effects.mean @ effects.precision @ effects.mean),
        sites=Start(tau, nu, who),
        pull=pull,
    )
