"""The state behind every trial: how makers, models and single sizes depart from their labels, and how far each
fitting's foot was mis-measured; all normal, tied together by what was seen.

The inside of line l is base + M + K + E, the true foot of fitting f its measure + F. A gap is their difference. What
was measured (a gap, an inside) is a normal site and exact. What was only said (jam, fine, slack) is an interval the
gap lies in, with noise; such sites are approximated by expectation propagation (Minka 2001): each is replaced by the
normal that leaves the posterior's mean and variance as they would be with it. Their likelihoods are log-concave, so
no site ever takes knowledge away. All sites are updated at once until nothing moves, so their order cannot matter.
"""

from __future__ import annotations

from dataclasses import dataclass, field

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
    """Sites: the line each is of, the fitting (`NOWHERE` for a shoe read by itself), and what was seen.

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
    """The posterior: mean and covariance of makers, models and lines (in this order), and of each fitting's foot; by
    site the log of how likely it was, given all the others."""

    mean: Floats
    cov: Floats
    foot_mean: Floats
    foot_sd: Floats
    likely: Floats
    """Log predictive probability of what was said; not a number for what was measured."""
    line_mean: Floats = field(default_factory=lambda: np.zeros(0))
    line_sd: Floats = field(default_factory=lambda: np.zeros(0))
    line_foot: Floats = field(default_factory=lambda: np.zeros((0, 0)))
    """Covariance of each line's departure with each fitting's foot, mm²."""
    state_foot: Floats = field(default_factory=lambda: np.zeros((0, 0)))
    """The same of makers, models and lines one by one."""


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


class _System:
    """The normal posterior for given sites, solved over lines with the fittings taken out (they meet only in lines)."""

    def __init__(self, lines: Lines, prior: Prior, foot_sigma: Floats, seen: Seen) -> None:
        makers, models, count = len(prior.maker_mean), len(prior.model_mean), len(lines.base)
        self.seen, self.lines = seen, count
        self.of = np.zeros((count, makers + models + count))
        rows = np.arange(count)
        self.of[rows, lines.maker] = 1
        self.of[rows, makers + lines.model] = 1
        self.of[rows, makers + models + rows] = 1
        sd = np.concatenate([prior.maker_sd, prior.model_sd, np.full(count, prior.line_sd)])
        self.prior_mean = np.concatenate([prior.maker_mean, prior.model_mean, np.zeros(count)])
        self.prior_precision = 1 / sd**2
        self.foot_precision = 1 / np.maximum(foot_sigma, 1e-6) ** 2
        self.on_foot = seen.fitting != NOWHERE

    def solve(self, tau: Floats, nu: Floats) -> Known:
        """The posterior with sites of precision `tau` and natural mean `nu`, both (n,)."""
        seen, feet = self.seen, len(self.foot_precision)
        where = self.on_foot
        by_line = np.bincount(seen.line, tau, self.lines)
        pushed = np.bincount(seen.line, nu, self.lines)
        between = np.zeros((self.lines, feet))
        np.add.at(between, (seen.line[where], seen.fitting[where]), tau[where])
        foot_tau = self.foot_precision + np.bincount(seen.fitting[where], tau[where], feet)
        foot_push = -np.bincount(seen.fitting[where], nu[where], feet)
        core = np.diag(by_line) - (between / foot_tau) @ between.T
        precision = np.diag(self.prior_precision) + self.of.T @ core @ self.of
        factor = cho_factor(precision, lower=True)
        cov = cho_solve(factor, np.eye(len(precision)))
        push = self.prior_precision * self.prior_mean + self.of.T @ (pushed + between @ (foot_push / foot_tau))
        mean = cov @ push
        line_cov = self.of @ cov @ self.of.T
        line_mean = self.of @ mean
        state_foot = cov @ self.of.T @ between / foot_tau
        shared = self.of @ state_foot
        foot_mean = (foot_push + between.T @ line_mean) / foot_tau
        foot_var = 1 / foot_tau + np.sum(between * shared, axis=0) / foot_tau
        return Known(
            mean=mean,
            cov=cov,
            foot_mean=foot_mean,
            foot_sd=np.sqrt(foot_var),
            likely=np.full(len(tau), np.nan),
            line_mean=line_mean,
            line_sd=np.sqrt(np.diag(line_cov)),
            line_foot=shared,
            state_foot=state_foot,
        )

    def of_sites(self, known: Known) -> tuple[Floats, Floats]:
        """Mean and variance of what each site is about: the line's departure less its fitting's foot error."""
        line, fitting, where = self.seen.line, self.seen.fitting, self.on_foot
        mean, var = known.line_mean[line], known.line_sd[line] ** 2
        if where.any():
            tried, foot = line[where], fitting[where]
            mean[where] -= known.foot_mean[foot]
            var[where] += known.foot_sd[foot] ** 2 - 2 * known.line_foot[tried, foot]
        return mean, np.maximum(var, 1e-12)


def infer(lines: Lines, prior: Prior, foot: Floats, foot_sigma: Floats, seen: Seen) -> Known:
    """The posterior of everything from everything seen. `foot` and `foot_sigma`, mm, are as measured, by fitting."""
    system = _System(lines, prior, foot_sigma, seen)
    against = lines.base[seen.line].copy()
    against[system.on_foot] -= foot[seen.fitting[system.on_foot]]
    measured = np.isfinite(seen.mm)
    tau = np.where(measured, 1 / seen.sigma**2, 0.0)
    nu = np.where(measured, (np.where(measured, seen.mm, 0.0) - against) * tau, 0.0)
    known = system.solve(tau, nu)
    said = np.flatnonzero(~measured)
    if not len(said):
        return known
    low, high, noise = seen.low[said] - against[said], seen.high[said] - against[said], seen.sigma[said]
    likely = np.full(len(tau), np.nan)
    for _ in range(ROUNDS):
        mean, var = (a[said] for a in system.of_sites(known))
        rest = np.maximum(1 / var - tau[said], LEAST_PRECISION)
        cavity_var = 1 / rest
        cavity_mean = cavity_var * (mean / var - nu[said])
        new_mean, new_var, likely[said] = tilted(cavity_mean, cavity_var, low, high, noise)
        new_tau = np.maximum(1 / new_var - rest, 0.0)
        new_nu = new_mean / new_var - cavity_mean * rest
        change = max(np.max(np.abs(new_tau - tau[said])), np.max(np.abs(new_nu - nu[said])))
        tau[said] += DAMPING * (new_tau - tau[said])
        nu[said] += DAMPING * (new_nu - nu[said])
        known = system.solve(tau, nu)
        if change < STILL:
            break
    return Known(**{**known.__dict__, "likely": likely})
