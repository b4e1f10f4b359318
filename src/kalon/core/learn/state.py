"""The state behind every trial: how makers, models and single sizes depart from their labels, and how far each
fitting's foot was mis-measured; all normal, tied together by what was seen.

The inside of line l is base + M + K + E, the true foot of fitting f its measure + F. A gap is their difference. What
was measured (a gap, an inside) is a normal site and exact. What was only said (jam, fine, slack) is an interval the
gap lies in, with noise; such sites are approximated by expectation propagation (Minka 2001): each is replaced by the
normal that leaves the posterior's mean and variance as they would be with it. Their likelihoods are log-concave, so
no site ever takes knowledge away. All sites are updated at once until nothing moves, so their order cannot matter.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy.linalg import cho_factor, cho_solve
from scipy.special import log_ndtr

Floats = NDArray[np.float64]
Ints = NDArray[np.intp]

NOWHERE = -1
"""The fitting of what was read in the shoe itself."""
ROUNDS, STILL = 400, 1e-8
"""Most rounds of updating, and the change of a natural parameter, relative, below which they stand still."""
DAMPING = 0.9
LEAST_PRECISION = 1e-12


@dataclass(frozen=True)
class Lines:
    """Sizes of shoes: by line its maker, its model (both as numbers from nought), and what its label says, mm."""

    maker: Ints
    model: Ints
    base: Floats


@dataclass(frozen=True)
class Prior:
    """Mean and one standard deviation, mm: by maker, by model, and of any one size; the means of sizes are nought."""

    maker_mean: Floats
    maker_sd: Floats
    model_mean: Floats
    model_sd: Floats
    line_sd: float


@dataclass(frozen=True)
class Seen:
    """Sites: the line each is of, the fitting (`NOWHERE` for a shoe read by itself), and what was seen. A verdict is
    always of a fitting.

    `mm` with `sigma` is a gap or an inside as measured; elsewhere, where `mm` is not a number, the gap lies between
    `low` and `high` (either may be infinite), judged with the noise `sigma`."""

    line: Ints
    fitting: Ints
    mm: Floats
    sigma: Floats
    low: Floats
    high: Floats


@dataclass(frozen=True)
class Known:
    """The posterior: mean and covariance of makers, models and the lines somebody tried on (in this order), and of each
    fitting's foot; by site the log of how likely it was, given all the others; of every line its departure."""

    mean: Floats
    cov: Floats
    foot_mean: Floats
    foot_sd: Floats
    likely: Floats
    """Log predictive probability of what was said; not a number for what was measured."""
    line_mean: Floats
    line_sd: Floats
    state_foot: Floats
    """Covariance of makers, models and tried lines with each fitting's foot, mm²."""


def _log_interval(low: Floats, high: Floats) -> Floats:
    """log(Φ(high) − Φ(low)), element-wise, without losing the tails."""
    flip = low > 0
    a, b = np.where(flip, -high, low), np.where(flip, -low, high)
    upper, lower = log_ndtr(b), log_ndtr(a)
    with np.errstate(divide="ignore"):
        found: Floats = upper + np.log1p(-np.exp(np.minimum(lower - upper, -1e-300)))
    return found


def tilted(mean: Floats, var: Floats, low: Floats, high: Floats, noise: Floats) -> tuple[Floats, Floats, Floats]:
    """Mean and variance of N(mean, var) once it is known that it, with `noise`, lies in low…high; and log of the
    chance of that. Element-wise."""
    total = np.sqrt(var + noise**2)
    a, b = (low - mean) / total, (high - mean) / total
    log_z = _log_interval(a, b)
    with np.errstate(invalid="ignore", over="ignore"):
        at_a = np.where(np.isfinite(a), np.exp(-0.5 * a**2 - 0.9189385332046727 - log_z), 0.0)
        at_b = np.where(np.isfinite(b), np.exp(-0.5 * b**2 - 0.9189385332046727 - log_z), 0.0)
        pull = at_a - at_b
        bend = np.where(np.isfinite(a), a, 0.0) * at_a - np.where(np.isfinite(b), b, 0.0) * at_b
    new_mean = mean + var / total * pull
    new_var = var - var**2 / total**2 * (pull**2 - bend)
    return new_mean, np.clip(new_var, 1e-9 * var, var), log_z


@dataclass(frozen=True)
class _Solved:
    """A posterior for given sites, over the lines of a system."""

    mean: Floats
    cov: Floats
    line_mean: Floats
    line_var: Floats
    foot_mean: Floats
    foot_var: Floats
    shared: Floats
    state_foot: Floats


class _System:
    """The normal posterior for given sites, solved over lines with the fittings taken out (they meet only in lines).

    A size nobody tried on, only read, says nothing but what its model is: its own departure is taken out too, and what
    was read of it stands as a reading of the model, that much less sure."""

    def __init__(self, lines: Lines, prior: Prior, foot_sigma: Floats, seen: Seen) -> None:
        makers, models, count = len(prior.maker_mean), len(prior.model_mean), len(lines.base)
        self.tried = np.unique(seen.line[seen.fitting != NOWHERE])
        self.of = np.zeros((count, makers + models + len(self.tried)))
        rows = np.arange(count)
        self.of[rows, lines.maker] = 1
        self.of[rows, makers + lines.model] = 1
        self.of[self.tried, makers + models + np.arange(len(self.tried))] = 1
        sd = np.concatenate([prior.maker_sd, prior.model_sd, np.full(len(self.tried), prior.line_sd)])
        self.prior_mean = np.concatenate([prior.maker_mean, prior.model_mean, np.zeros(len(self.tried))])
        self.prior_precision = 1 / sd**2
        self.foot_precision = 1 / np.maximum(foot_sigma, 1e-6) ** 2
        self.on_foot = seen.fitting != NOWHERE
        self.own = np.where(np.isin(rows, self.tried), 0.0, prior.line_sd**2)
        self.row = seen.line
        self.foot = seen.fitting[self.on_foot]
        self.at = np.searchsorted(self.tried, seen.line[self.on_foot])

    def solve(self, tau: Floats, nu: Floats) -> _Solved:
        """The posterior with sites of precision `tau` and natural mean `nu`, both (n,)."""
        feet, where = len(self.foot_precision), self.on_foot
        by_line = np.bincount(self.row, tau, len(self.own))
        softened = by_line / (1 + self.own * by_line)
        pushed = np.bincount(self.row, nu, len(self.own)) / (1 + self.own * by_line)
        between = np.zeros((len(self.tried), feet))
        np.add.at(between, (self.at, self.foot), tau[where])
        foot_tau = self.foot_precision + np.bincount(self.foot, tau[where], feet)
        foot_push = -np.bincount(self.foot, nu[where], feet)
        of_tried = self.of[self.tried]
        core = (between / foot_tau) @ between.T
        precision = (self.of.T * softened) @ self.of - of_tried.T @ core @ of_tried
        precision[np.diag_indices_from(precision)] += self.prior_precision
        cov = cho_solve(cho_factor(precision, lower=True), np.eye(len(precision)))
        push = self.prior_precision * self.prior_mean + self.of.T @ pushed
        mean = cov @ (push + of_tried.T @ (between @ (foot_push / foot_tau)))
        state_foot = cov @ of_tried.T @ between / foot_tau
        shared = of_tried @ state_foot
        foot_mean = (foot_push + between.T @ (of_tried @ mean)) / foot_tau
        return _Solved(
            mean=mean,
            cov=cov,
            line_mean=self.of @ mean,
            line_var=np.einsum("ij,jk,ik->i", self.of, cov, self.of, optimize=True),
            foot_mean=foot_mean,
            foot_var=1 / foot_tau + np.sum(between * shared, axis=0) / foot_tau,
            shared=shared,
            state_foot=state_foot,
        )

    def of_sites(self, found: _Solved) -> tuple[Floats, Floats]:
        """Mean and variance of what each site on a foot is about: the line's departure less the foot's error."""
        row = self.row[self.on_foot]
        mean = found.line_mean[row] - found.foot_mean[self.foot]
        var = found.line_var[row] + found.foot_var[self.foot] - 2 * found.shared[self.at, self.foot]
        return mean, np.maximum(var, 1e-12)

    def known(self, found: _Solved, tau: Floats, nu: Floats, likely: Floats) -> Known:
        """The posterior as it is given out, with every line's own departure."""
        by_line = np.bincount(self.row, tau, len(self.own)).astype(float)
        pushed = np.bincount(self.row, nu, len(self.own)).astype(float)
        read = np.divide(pushed, by_line, out=np.zeros_like(by_line), where=by_line > 0)
        gain = self.own * by_line / (1 + self.own * by_line)
        mean = found.line_mean + gain * (read - found.line_mean)
        var = (1 - gain) ** 2 * found.line_var + self.own * (1 - gain)
        return Known(
            mean=found.mean,
            cov=found.cov,
            foot_mean=found.foot_mean,
            foot_sd=np.sqrt(found.foot_var),
            likely=likely,
            line_mean=mean,
            line_sd=np.sqrt(var),
            state_foot=found.state_foot,
        )


def infer(lines: Lines, prior: Prior, foot: Floats, foot_sigma: Floats, seen: Seen) -> Known:
    """The posterior of everything from everything seen. `foot` and `foot_sigma`, mm, are as measured, by fitting."""
    system = _System(lines, prior, foot_sigma, seen)
    against = lines.base[seen.line].copy()
    against[system.on_foot] -= foot[seen.fitting[system.on_foot]]
    measured = np.isfinite(seen.mm)
    tau = np.where(measured, 1 / seen.sigma**2, 0.0)
    nu = np.where(measured, (np.where(measured, seen.mm, 0.0) - against) * tau, 0.0)
    found = system.solve(tau, nu)
    likely = np.full(len(tau), np.nan)
    said = np.flatnonzero(~measured)
    of_foot = np.flatnonzero(np.isin(np.flatnonzero(system.on_foot), said))
    low, high, noise = seen.low[said] - against[said], seen.high[said] - against[said], seen.sigma[said]
    for _ in range(ROUNDS if len(said) else 0):
        mean, var = (a[of_foot] for a in system.of_sites(found))
        rest = np.maximum(1 / var - tau[said], LEAST_PRECISION)
        cavity_var = 1 / rest
        cavity_mean = cavity_var * (mean / var - nu[said])
        new_mean, new_var, likely[said] = tilted(cavity_mean, cavity_var, low, high, noise)
        new_tau = np.maximum(1 / new_var - rest, 0.0)
        new_nu = new_mean / new_var - cavity_mean * rest
        change = max(np.max(np.abs(new_tau - tau[said])), np.max(np.abs(new_nu - nu[said])))
        tau[said] += DAMPING * (new_tau - tau[said])
        nu[said] += DAMPING * (new_nu - nu[said])
        found = system.solve(tau, nu)
        if change < STILL:
            break
    return system.known(found, tau, nu, likely)
