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
from scipy.linalg import LinAlgError
from scipy.linalg.lapack import dpotrf, dpotri, dpotrs

from .faster import Faster
from .observe import SHARES, Fitters, Floats, Ints, Told, judged_fitters, listen, usual_fitters

NOWHERE = -1
"""The foot of what was read in the shoe itself."""
ROUNDS, STILL = 400, 3e-8
"""Most rounds of updating, and the change of a natural parameter or of a share below which they stand still: begun
anywhere, they end within 1e-6 mm."""
DAMPING = 0.9
LEAST_PRECISION = 1e-12
UNSURER = 0.3
"""A verdict that surprises may take away so large a share of what else is known of its gap."""


PARTS = 4
"""A cell sums at most so many effects: maker, model, the size's own, fitter."""
NO_EFFECT = -1


@dataclass(frozen=True)
class Effects:
    """What cells are sums of: `of` the places of their effects, (cells, `PARTS`), `NO_EFFECT` where there are fewer;
    what each cell has beside, of its own alone, mm², (cells,), of cells that were only measured; and the prior of the
    effects: mean, mm, and precision, mm⁻²."""

    of: Ints
    own: Floats
    mean: Floats
    precision: Floats


@dataclass(frozen=True)
class Seen:
    """Sites, (n,): the cell each is of, the foot (`NOWHERE` for a shoe read by itself), and what was seen, all against
    label and measured foot, mm. `mm` with `sigma` was measured; where it isn't a number, `told` has the verdict."""

    cell: Ints
    foot: Ints
    mm: Floats
    sigma: Floats
    told: Told
    """Of every site; read where nothing was measured."""


@dataclass(frozen=True)
class Known:
    """The posterior: mean and covariance of effects and of each foot's error; of every cell its mean and spread; by
    site the log of how likely what was said was, given all the others (not a number for what was measured)."""

    mean: Floats
    cov: Floats
    foot_mean: Floats
    foot_sd: Floats
    likely: Floats
    cell_mean: Floats
    cell_sd: Floats
    cell_thought: Floats
    cell_var: Floats
    """The same without what a cell has of its own, mm and mm²."""
    state_foot: Callable[[], Floats]
    """Covariance of effects with each foot's error, mm²; (effects, feet). Worked out when it is asked for."""
    evidence: float
    """Log of how likely all that was seen is, up to what was measured's own constant."""
    sites: Start
    pull: Floats
    """Which way each site pulls what is thought of its gap, mm⁻¹: the slope of its log likelihood."""


@dataclass(frozen=True)
class Solved:
    """A posterior for given sites."""

    mean: Floats
    cov: Floats
    cell_mean: Floats
    cell_var: Floats
    foot_mean: Floats
    foot_var: Floats
    with_foot: Floats
    """Covariance of each site's cell with the error of the foot it is on."""
    log_whole: float
    """Of the covariance only the lower half is filled."""


def _pairs(foot: Ints, feet: int) -> tuple[Ints, Ints]:
    """Every site on a foot with every one on the same foot, itself too: two arrays of places among `foot`."""
    order = np.argsort(foot, kind="stable")
    of_foot = np.bincount(foot, minlength=feet)
    first = np.cumsum(of_foot) - of_foot
    beside = of_foot[foot[order]]
    one = np.repeat(np.arange(len(foot)), beside)
    along = np.arange(len(one)) - np.repeat(np.cumsum(beside) - beside, beside)
    return order[one], order[first[foot[order]][one] + along]


def _factor(precision: Floats) -> Floats:
    """The lower Cholesky factor. Raises `LinAlgError` where there is none."""
    factor, info = dpotrf(precision, lower=True, overwrite_a=False)
    if info:
        raise LinAlgError(f"not positive definite at {info}")
    return np.asarray(factor)


class System:
    """The normal posterior for given sites, solved over effects with the feet taken out (they meet only in cells).

    What couples two effects through a foot is summed over pairs of sites on it; of the covariance only what sites ask
    for is read. So a round costs the cube of the effects, which a catalogue bounds, and else only what was seen."""

    def __init__(self, effects: Effects, foot_sigma: Floats, seen: Seen) -> None:
        self.effects = effects
        self.count, self.feet = len(effects.mean), len(foot_sigma)
        self.foot_precision = 1 / np.maximum(foot_sigma, 1e-6) ** 2
        self.on_foot = seen.foot != NOWHERE
        self.row = seen.cell
        self.foot = seen.foot[self.on_foot]
        self.of = np.where(effects.of == NO_EFFECT, self.count, effects.of)
        self.cross = self._crossed(self.of, self.of)
        self.cross_low = self._crossed(self.of, self.of, low=True)
        self.of_site = self.of[self.row[self.on_foot]]
        self.one, self.other = _pairs(self.foot, self.feet)
        self.pair = self._crossed(self.of_site[self.one], self.of_site[self.other])
        self.pair_low = self._crossed(self.of_site[self.one], self.of_site[self.other], low=True)

    def _crossed(self, one: Ints, other: Ints, *, low: bool = False) -> Ints:
        """Places of each effect with each in a matrix laid flat, (n, parts, parts); with `low`, in its lower half."""
        a, b = one[:, :, None], other[:, None, :]
        if low:
            a, b = np.maximum(a, b), np.minimum(a, b)
        return np.asarray(a * (self.count + 1) + b)

    def _summed(self, by_cell: Floats) -> Floats:
        """Σ of each cell's weight on what it is a sum of, (effects,)."""
        every = np.bincount(self.of.ravel(), np.repeat(by_cell, self.of.shape[1]), self.count + 1)
        return np.asarray(every[: self.count], float)

    def _on_effects(self, weight: Floats) -> Floats:
        """Σ of the weight of each site on a foot on what its cell is a sum of, (effects,)."""
        every = np.bincount(self.of_site.ravel(), np.repeat(weight, self.of_site.shape[1]), self.count + 1)
        return np.asarray(every[: self.count], float)

    def solve(self, tau: Floats, nu: Floats) -> Solved:
        """The posterior with sites of precision `tau` and natural mean `nu`, both (n,). Raises `LinAlgError`."""
        own, count, feet, where = self.effects.own, self.count, self.feet, self.on_foot
        by_cell = np.bincount(self.row, tau, len(own))
        softened = by_cell / (1 + own * by_cell)
        pushed = np.bincount(self.row, nu, len(own)) / (1 + own * by_cell)
        felt = tau[where]
        foot_tau = self.foot_precision + np.bincount(self.foot, felt, feet)
        foot_push = -np.bincount(self.foot, nu[where], feet)
        shared = -felt[self.one] * felt[self.other] / foot_tau[self.foot[self.one]]
        crossed = self._flat(self.cross, softened) + self._flat(self.pair, shared)
        precision = self.effects.precision + crossed.reshape(count + 1, count + 1)[:count, :count]
        factor = _factor(precision)
        push = self.effects.precision @ self.effects.mean + self._summed(pushed)
        push = push + self._on_effects(felt * (foot_push / foot_tau)[self.foot])
        mean, _ = dpotrs(factor, push, lower=True)
        log_whole = 0.5 * float(push @ mean) - float(np.sum(np.log(np.diag(factor))))
        log_whole += 0.5 * float(np.sum(foot_push**2 / foot_tau - np.log(foot_tau / self.foot_precision)))
        cov = np.zeros((count + 1, count + 1))
        cov[:count, :count] = dpotri(factor, lower=True, overwrite_c=True)[0]
        every = np.append(mean, 0.0)
        flat = cov.ravel()
        between = flat[self.pair_low].sum(axis=(1, 2)) * felt[self.other]
        with_foot = np.bincount(self.one, between, len(self.foot)) / foot_tau[self.foot]
        foot_mean = (foot_push + np.bincount(self.foot, felt * every[self.of_site].sum(axis=1), feet)) / foot_tau
        return Solved(
            mean=mean,
            cov=cov[:count, :count],
            cell_mean=every[self.of].sum(axis=1),
            cell_var=flat[self.cross_low].sum(axis=(1, 2)),
            foot_mean=foot_mean,
            foot_var=1 / foot_tau + np.bincount(self.foot, felt * with_foot, feet) / foot_tau,
            with_foot=with_foot,
            log_whole=log_whole,
        )

    def _flat(self, places: Ints, weight: Floats) -> Floats:
        """Σ of weights at places of a matrix laid flat, ((effects + 1)²,)."""
        each = np.repeat(weight, places[0].size if len(places) else 0)
        return np.asarray(np.bincount(places.ravel(), each, (self.count + 1) ** 2), float)

    def of_sites(self, found: Solved) -> tuple[Floats, Floats]:
        """Mean and variance of what each site on a foot is about: the cell's departure less the foot's error."""
        row = self.row[self.on_foot]
        mean = found.cell_mean[row] - found.foot_mean[self.foot]
        var = found.cell_var[row] + found.foot_var[self.foot] - 2 * found.with_foot
        return mean, np.maximum(var, 1e-12)

    def state_foot(self, cov: Floats, tau: Floats) -> Floats:
        """Covariance of effects with each foot's error, mm², (effects, feet), for sites of precision `tau`."""
        felt = tau[self.on_foot]
        parts = self.of_site.shape[1]
        places = self.of_site * max(self.feet, 1) + self.foot[:, None]
        size = (self.count + 1) * max(self.feet, 1)
        between = np.bincount(places.ravel(), np.repeat(felt, parts), size).reshape(self.count + 1, -1)
        foot_tau = self.foot_precision + np.bincount(self.foot, felt, self.feet)
        return np.asarray(cov @ between[: self.count, : self.feet] / foot_tau)

    def cells(self, found: Solved, tau: Floats, nu: Floats) -> tuple[Floats, Floats]:
        """Mean and standard deviation of every cell, with what it has of its own."""
        own = self.effects.own
        by_cell = np.bincount(self.row, tau, len(own)).astype(float)
        pushed = np.bincount(self.row, nu, len(own)).astype(float)
        read = np.divide(pushed, by_cell, out=np.zeros_like(by_cell), where=by_cell > 0)
        gain = own * by_cell / (1 + own * by_cell)
        mean = found.cell_mean + gain * (read - found.cell_mean)
        return mean, np.sqrt((1 - gain) ** 2 * found.cell_var + own * (1 - gain))


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
    *, judge: bool = True,
) -> Known:  # fmt: skip
    """The posterior of everything from everything seen. `foot_sigma`, mm, is how unsure each measuring of a foot is;
    `elsewhere`, (`SHARES`, fitters), what is known of the fitters' empty verdicts. `start` only saves rounds; where
    nobody is to `judge`, its fitters stay."""
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
        if np.max(np.abs(change)) < STILL:
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
    cov = np.tril(found.cov) + np.tril(found.cov, -1).T
    return Known(
        mean=found.mean,
        cov=cov,
        foot_mean=found.foot_mean,
        foot_sd=np.sqrt(found.foot_var),
        likely=likely,
        cell_mean=cell_mean,
        cell_sd=cell_sd,
        cell_thought=found.cell_mean,
        cell_var=found.cell_var,
        state_foot=lambda: system.state_foot(cov, tau),
        evidence=found.log_whole
        + log_sites
        + 0.5 * _log_det(effects.precision)
        - 0.5 * float(effects.mean @ effects.precision @ effects.mean),
        sites=Start(tau, nu, who),
        pull=pull,
    )


def _log_det(precision: Floats) -> float:
    return 2 * float(np.sum(np.log(np.diag(_factor(precision)))))
